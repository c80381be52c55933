import { describe, expect, it } from 'vitest'
import { ControlSheet } from '#core/display'
import type { CaseDocument, GuideDocument, GuideValue } from '#core/guide/document'
import { CASE_RULES } from './case-rules'
import type { CheckedCase } from './published-values'
import { checkGuide, GUIDE_RULES } from './rules'

const place = { path: ['Menu'], memory: ['mode'] }
const number = { ...place, kind: 'number', range: { min: -20, max: 20, step: 1 }, default: 0, neutral: 0 }
const sheet = ControlSheet.parse({
  format: 'wexmar-control-sheet/2',
  maker: 'Test',
  model: 'Ruled',
  controls: [
    {
      ...{ ...place, kind: 'choice', key: 'mode', label: 'Mode', role: 'picture-mode', default: 'film' },
      choices: [
        { value: 'film', label: 'Film' },
        { value: 'game', label: 'Game' },
      ],
    },
    {
      ...number,
      key: 'light',
      label: 'Light',
      role: 'peak-luminance',
      range: { min: 0, max: 50, step: 1 },
      default: 50,
    },
    {
      ...{ ...place, kind: 'choice', key: 'range', label: 'Range', role: 'range', default: 'auto' },
      choices: [
        { value: 'auto', label: 'Automatic' },
        { value: 'limited', label: 'Limited' },
      ],
    },
    { ...number, key: 'red', label: 'Gain red', role: 'gain', channel: 'red' },
    {
      ...number,
      key: 'blue',
      label: 'Gain blue',
      role: 'gain',
      channel: 'blue',
      needs: [{ control: 'mode', is: ['film'] }],
    },
  ],
})
const row = (control: string, value: number | string, more: Partial<GuideValue> = {}): GuideValue => {
  const of = sheet.controls.find((c) => c.key === control)!
  return {
    ...{ control, path: [...of.path], label: of.label, role: of.role, value, shown: String(value) },
    ...{
      comesAs: '',
      changed: true,
      transfer: 'copy',
      origin: 'derived',
      why: '',
      rule: 'least ΔE',
      readings: [1],
    },
    ...more,
  }
}
const VALUES = [
  row('mode', 'film', { readings: [] }),
  row('light', 50, { changed: false }),
  row('range', 'auto', { changed: false }),
  row('red', -3),
  row('blue', -7),
]
const DOCUMENT = {
  ...{ viewingCase: { key: 'sdr-dark', label: 'SDR, dark room' }, panelKind: 'self-emissive' },
  ...{ display: { firmware: '2.1' }, method: { desk: 'a desk' }, values: VALUES, after: {}, worse: [] },
  ...{ ending: { sentences: ['Every step of the case was gone through.'] }, policy: {}, cautions: [] },
} as unknown as CaseDocument
const CLEAN: CheckedCase = {
  ...{ document: DOCUMENT, sheet, kind: 'sdr', outdated: false, signalProblems: [], newestFirmware: '2.1' },
  ...{
    verified: { mode: 'film', light: 50, range: 'auto', red: -3, blue: -7 },
    couldGain: 0,
    unseen: [],
    strayed: [],
  },
}
const written = (more: Partial<CaseDocument>): CheckedCase => ({
  ...CLEAN,
  document: { ...DOCUMENT, ...more },
})
const valued = (control: string, more: Partial<GuideValue>): CheckedCase =>
  written({ values: VALUES.map((v) => (v.control === control ? { ...v, ...more } : v)) })
const foundIn = (of: CheckedCase): string[] =>
  CASE_RULES.filter((r) => r.find(of).length > 0).map((r) => r.id)

/** For each rule a case that breaks it, and what else is broken with it. */
const BROKEN: Readonly<Record<string, readonly [CheckedCase, ...string[]]>> = {
  'row-missing': [written({ values: VALUES.filter((v) => v.control !== 'red') })],
  'value-impossible': [valued('red', { value: 21 }), 'verified-otherwise'],
  'control-twice': [written({ values: [...VALUES, row('red', -3)] })],
  'greyed-out': [{ ...valued('mode', { value: 'game' }), verified: { ...CLEAN.verified, mode: 'game' } }],
  'order-impossible': [
    {
      ...written({ values: VALUES }),
      sheet: {
        ...sheet,
        controls: sheet.controls.map((c) =>
          c.key === 'red' ? { ...c, needs: [{ control: 'blue', is: [-7] }] } : c,
        ) as ControlSheet['controls'],
      },
    },
  ],
  'not-verified': [{ ...CLEAN, verified: undefined }],
  'verified-otherwise': [{ ...CLEAN, verified: { ...CLEAN.verified, red: -4 } }],
  'session-went-on': [{ ...CLEAN, outdated: true }],
  'value-unseen': [{ ...CLEAN, unseen: ['red'] }],
  strayed: [{ ...CLEAN, strayed: [{ control: 'red', from: 0, to: -3 }] }],
  'no-reading': [valued('red', { readings: [], origin: 'set-by-hand' })],
  'by-eye': [written({ after: undefined })],
  'measuring-only': [
    {
      ...valued('range', { value: 'limited', changed: true }),
      verified: { ...CLEAN.verified, range: 'limited' },
    },
  ],
  'hdr-dimmed': [
    { ...valued('light', { value: 40 }), kind: 'pq', verified: { ...CLEAN.verified, light: 40 } },
  ],
  'signal-mismatch': [{ ...CLEAN, signalProblems: ['Another range arrived.'] }],
  'could-be-nearer': [{ ...CLEAN, couldGain: 0.6 }],
  'firmware-old': [{ ...CLEAN, newestFirmware: '2.2' }],
  'end-not-said': [written({ ending: undefined })],
  'preference-not-named': [written({ policy: undefined })],
  'caution-missing': [{ ...written({ cautions: undefined }), kind: 'pq' }],
  worse: [written({ worse: ['Contrast fell.'] })],
}

describe('rules of a case', () => {
  it('find nothing in a clean case', () => {
    expect(foundIn(CLEAN)).toEqual([])
    // What is kept back, not measured, or stands for a group is no missing row.
    expect(foundIn(valued('red', { withheld: true }))).toEqual([])
    // What another case has set where both keep it was set by nobody's hand.
    expect(foundIn(valued('red', { readings: [], origin: 'inherited', from: 'sdr-bright' }))).toEqual([])
    expect(foundIn(valued('blue', { origin: 'not-measured', changed: false }))).not.toContain('control-twice')
  })
  it('are each broken by one fact, and by no other', () => {
    expect(Object.keys(BROKEN).sort()).toEqual(CASE_RULES.map((r) => r.id).sort())
    for (const [id, [of, ...with_]] of Object.entries(BROKEN))
      expect([id, foundIn(of).sort()]).toEqual([id, [id, ...with_].sort()])
  })
  it('begin where it is worth it: half a ΔE00 of white, the full range of HDR, another firmware', () => {
    expect(foundIn({ ...CLEAN, couldGain: 0.5 })).toEqual([])
    expect(foundIn({ ...CLEAN, kind: 'pq' })).toEqual([])
    expect(foundIn({ ...CLEAN, newestFirmware: '' })).toEqual([])
    // Light below its end is right in SDR.
    expect(
      foundIn({ ...valued('light', { value: 40 }), verified: { ...CLEAN.verified, light: 40 } }),
    ).toEqual([])
    // A projector needs its cautions in SDR too.
    const bare = written({ cautions: undefined })
    expect(foundIn(bare)).toEqual([])
    expect(foundIn({ ...bare, document: { ...bare.document, panelKind: 'projector' } })).toEqual([
      'caution-missing',
    ])
  })
  it('take a table from the top down: what a row waits for may be set above it', () => {
    const waiting = (values: CaseDocument['values']): CheckedCase => ({
      ...written({ values }),
      sheet: {
        ...sheet,
        controls: sheet.controls.map((c) =>
          c.key === 'blue' ? { ...c, needs: [{ control: 'red', is: [-3] }] } : c,
        ) as ControlSheet['controls'],
      },
    })
    expect(foundIn(waiting(VALUES))).toEqual([])
    expect(foundIn(waiting(VALUES.toReversed()))).toEqual(['order-impossible'])
  })
  it('name what they found, and three of many', () => {
    const textOf = (id: string, of: CheckedCase) => CASE_RULES.find((r) => r.id === id)!.find(of)[0]!.text
    expect(textOf('no-reading', BROKEN['no-reading']![0])).toMatch(/^“Gain red” rests on no reading/)
    expect(textOf('value-unseen', { ...CLEAN, unseen: ['mode', 'light', 'red', 'blue'] })).toMatch(
      /^“Mode”, “Light”, “Gain red” and 1 more were never set or checked/,
    )
    expect(textOf('verified-otherwise', BROKEN['verified-otherwise']![0])).toMatch(
      /“Gain red” was .4 when it was verified, the guide says .3\./,
    )
  })
})

const GUIDE = {
  ...{ title: 'Test Ruled 55 settings', summary: 'Measured.', words: '', cases: [DOCUMENT], overwritten: [] },
  otherSizes: [],
} as unknown as GuideDocument
const ofGuide = (more: Partial<GuideDocument>): string[] => {
  const guide = { ...GUIDE, ...more }
  return GUIDE_RULES.filter((r) => r.find(guide).length > 0).map((r) => r.id)
}

describe('rules of a guide', () => {
  it('find nothing in a clean one, and each what breaks it', () => {
    expect(ofGuide({})).toEqual([])
    expect(ofGuide({ summary: ' ' })).toEqual(['words-missing'])
    expect(ofGuide({ summary: 'Fits the 65 inch too.', otherSizes: [65] })).toEqual([
      'size-claimed',
      'other-sizes',
    ])
    expect(ofGuide({ summary: 'See the 65 pages.', otherSizes: [65] })).toEqual(['other-sizes'])
    expect(ofGuide({ summary: 'White is at 733 cd/m².' })).toEqual(['figure-differs'])
    expect(
      ofGuide({
        overwritten: [
          { control: 'red', label: 'Gain red', cases: [{ key: 'sdr-dark', label: 'SDR', shown: '-3' }] },
        ],
      } as unknown as Partial<GuideDocument>),
    ).toEqual(['one-memory'])
  })
  it('are told with errors first, each with one action', () => {
    const found = checkGuide({ ...GUIDE, summary: '' }, [{ ...CLEAN, couldGain: 2, outdated: true }], {
      gone: [],
      imported: ['sdr-dark'],
      reviewed: false,
    })
    expect(found.map((f) => [f.rule, f.level])).toEqual([
      ['session-went-on', 'error'],
      ['words-missing', 'error'],
      ['could-be-nearer', 'warning'],
      ['not-reviewed', 'warning'],
      ['measured-elsewhere', 'note'],
    ])
    expect(found.map((f) => f.mend.kind)).toEqual(['compose', 'write', 'bench', 'review', 'write'])
    expect(checkGuide(GUIDE, [CLEAN])).toEqual([])
  })
})
