import { describe, expect, it } from 'vitest'
import { BT709_PRIMARIES, D65, multiply, rgbToXyzMatrix, xyToXyz, xyzToXy } from '#core/colorimetry'
import type { State } from '#core/display'
import { composeValues, measureOf, proposeSummary, slugOf } from '#core/guide/compose'
import {
  CaseDocument,
  composeGuideDocument,
  type GuideDocument,
  sayCopying,
  transferClassOf,
} from '#core/guide/document'
import { guideMarkdown, guideOutline } from '#core/guide/formats'
import { CASE_RULES, type CheckedCase, checkGuide, GUIDE_RULES } from '#core/guide/rules'
import type { Policy } from '#core/judge'
import { copyingOf, spreadOfUnits, USUAL_SPREAD } from '#core/plan'
import { normal } from '#core/random'
import { MAREN } from '#core/simulation'
import { worseFigures } from '#core/steps'
import { rehearse } from '#tests/rehearsal'

const { outcome, route, facts } = await rehearse(MAREN, 2, { baseMode: 'studio' })
const before = measureOf(outcome.before!)
const after = measureOf(outcome.after!)
const compose = (publish: Policy['publish']) =>
  composeValues(facts.sheet, facts.state, route.derived, { luminance: after.luminance, publish })
const values = compose('all')
const guide: CaseDocument = {
  format: 'wexmar-guide/1',
  title: 'Ostrel Maren 55 settings',
  summary: proposeSummary({
    baseMode: 'Studio',
    sizeInch: 55,
    caseLabel: 'SDR, dark room',
    before,
    after,
    values,
  }),
  display: {
    maker: 'Ostrel',
    model: 'Maren',
    sizeInch: 55,
    region: 'Europe',
    unit: 'unit 1',
    serial: 'X',
    origin: 'bought',
    firmware: '4.02.1',
  },
  viewingCase: { key: 'sdr-dark', label: 'SDR, dark room' },
  baseMode: 'Studio',
  targets: { luminance: 100, white: 'D65', tone: 'BT.1886' },
  method: {
    heading: 'Calibrated with a meter',
    meter: 'Ferrand Lux One',
    patternSource: 'Simulated pattern source',
    readings: outcome.readings,
    measuredOn: '2026-11-24',
    desk: 'The Pelmar Bench',
  },
  values,
  before,
  after,
  worse: [],
  otherSizes: [65],
  policy: { name: 'Strict reference', preferences: [] },
  ending: ['Every step reached its target.'],
  cautions: [],
}
const whole = (of: CaseDocument, words: { title?: string; summary?: string } = {}): GuideDocument =>
  composeGuideDocument([[of]], words)!
const caseOf = (document: CaseDocument, more: Partial<CheckedCase> = {}): CheckedCase => ({
  document,
  sheet: facts.sheet,
  kind: 'sdr',
  verified: facts.state,
  outdated: false,
  signalProblems: [],
  newestFirmware: '4.02.1',
  couldGain: 0,
  unseen: [],
  strayed: [],
  ...more,
})
const found = (document: CaseDocument, more: Partial<CheckedCase> = {}, words = {}) =>
  checkGuide(whole(document, words), [caseOf(document, more)])
const errorsIn = (document: CaseDocument, verified: State | undefined = facts.state) =>
  found(document, { verified }).filter((f) => f.level === 'error')

describe('a composed guide', () => {
  it('keeps to its own format', () => {
    expect(CaseDocument.parse(JSON.parse(JSON.stringify(guide)))).toEqual(guide)
  })
  it('lists every control in menu order, the changed ones with their default beside them', () => {
    const named = values.flatMap((v) => v.covers ?? [v.control])
    const keys = facts.sheet.controls.map((c) => c.key)
    expect(named.sort((a, b) => keys.indexOf(a) - keys.indexOf(b))).toEqual(keys)
    expect(values.filter((v) => v.role === 'level-white' && v.changed).length).toBeGreaterThan(5)
    for (const v of values.filter((one) => one.covers)) expect(v).toMatchObject({ changed: false })
    const light = values.find((v) => v.role === 'peak-luminance')!
    expect(light).toMatchObject({ changed: true, comesAs: '84', transfer: 'start-here', origin: 'derived' })
    expect(light.why).toMatch(/light behind the panel/)
    expect(light.readings.length).toBeGreaterThan(1)
  })
  it('gives a reason for green, which stays, and for what was switched off', () => {
    expect(values.find((v) => v.control === 'gain-green')?.why).toMatch(/Left alone on purpose/)
    expect(values.find((v) => v.control === 'room-eye')).toMatchObject({ shown: 'Off', transfer: 'copy' })
  })
  it('never says that fine white may be copied', () => {
    expect(transferClassOf('level-white')).toBe('this-unit-only')
    expect(transferClassOf('gain')).toBe('start-here')
    expect(transferClassOf('motion')).toBe('copy')
  })
})

describe('the checks', () => {
  it('find nothing that stops a guide which was verified in its own state', () => {
    expect(errorsIn(guide)).toEqual([])
  })
  it('name each rule once, with one thing that mends what it finds', () => {
    const ids = [...CASE_RULES, ...GUIDE_RULES].map((r) => r.id)
    expect(new Set(ids).size).toBe(ids.length)
    for (const f of found(guide, { verified: undefined })) expect(f.mend.label).not.toBe('')
  })
  it('stop a guide that was not verified, and one whose session went on', () => {
    const first = found(guide, { verified: undefined })[0]
    expect(first).toMatchObject({
      rule: 'not-verified',
      level: 'error',
      text: expect.stringMatching(/not verified/),
      mend: { kind: 'measure-again', case: 'sdr-dark' },
    })
    expect(found(guide, { outdated: true })[0]).toMatchObject({
      rule: 'session-went-on',
      mend: { kind: 'compose' },
    })
  })
  it('stop a value that differs from the verified one, one outside its range, one off its step', () => {
    const withBlue = (value: number) => ({
      ...guide,
      values: values.map((v) => (v.control === 'gain-blue' ? { ...v, value, shown: `+${value}` } : v)),
    })
    const text = errorsIn(withBlue(99))
      .map((f) => f.text)
      .join(' ')
    expect(text).toMatch(/goes from -30 to 30/)
    expect(text).toMatch(/the guide says \+99/)
    expect(errorsIn(withBlue(1.5)).map((f) => f.rule)).toContain('value-impossible')
  })
  it('stop a row that is missing, and one that stands there twice', () => {
    const gone = { ...guide, values: values.filter((v) => v.control !== 'gain-blue') }
    expect(errorsIn(gone)).toMatchObject([{ rule: 'row-missing', control: 'gain-blue' }])
    const twice = { ...guide, values: [...values, values.find((v) => v.control === 'gain-blue')!] }
    expect(errorsIn(twice)).toMatchObject([{ rule: 'control-twice', control: 'gain-blue' }])
  })
  it('stop a value that readers find greyed out', () => {
    const control = facts.sheet.controls.find((c) => c.key === 'gain-blue')!
    const sheet = {
      ...facts.sheet,
      controls: facts.sheet.controls.map((c) =>
        c === control ? { ...c, needs: [{ control: 'warmth', is: ['never'] }] } : c,
      ),
    }
    expect(found(guide, { sheet }).filter((f) => f.rule === 'greyed-out')).toMatchObject([
      { level: 'error', control: 'gain-blue' },
    ])
  })
  it('leave a control alone that only interlaced signals have: no guide has a row for it', () => {
    const sheet = {
      ...facts.sheet,
      controls: facts.sheet.controls.map((c) =>
        c.key === 'gain-blue' ? { ...c, needs: [{ scan: ['interlaced' as const] }] } : c,
      ),
    }
    const shown = composeValues(sheet, facts.state, route.derived, {
      luminance: after.luminance,
      publish: 'all',
    })
    expect(shown.some((v) => v.control === 'gain-blue')).toBe(false)
    expect(found({ ...guide, values: shown }, { sheet }).filter((f) => f.level === 'error')).toEqual([])
  })
  it('warn of a value that rests on no reading', () => {
    const byHand = {
      ...guide,
      values: values.map((v) => ({
        ...v,
        readings: [],
        origin: v.changed ? ('set-by-hand' as const) : v.origin,
      })),
    }
    const rules = found(byHand).filter((f) => f.rule === 'no-reading')
    // One sentence of many values, not as many warnings.
    expect(rules).toHaveLength(1)
    expect(rules[0]).toMatchObject({
      level: 'warning',
      text: expect.stringMatching(/ and \d+ more rest on no reading/),
    })
  })
  it('stop a guide with values that nobody has seen where the case uses them', () => {
    const [first] = values.filter((v) => v.role === 'gain')
    const stopped = found(guide, { unseen: [first!.control] }).filter((f) => f.level === 'error')
    expect(stopped).toHaveLength(1)
    expect(stopped[0]!.text).toMatch(/was never set or checked where this case uses it/)
    const rows = values.slice(2, 8).map((v) => v.control)
    expect(found(guide, { unseen: rows }).find((f) => f.rule === 'value-unseen')!.text).toMatch(
      /^“[^“]+”, “[^“]+”, “[^“]+” and 3 more were never set or checked/,
    )
  })
  it('warn of an older firmware, a signal that arrived otherwise, and white that could be nearer', () => {
    const rules = found(guide, {
      newestFirmware: '4.10.0',
      signalProblems: ['The display sees range full, sent is limited range.'],
      couldGain: 0.8,
    }).map((f) => f.rule)
    expect(rules).toEqual(expect.arrayContaining(['firmware-old', 'signal-mismatch', 'could-be-nearer']))
    expect(found(guide).map((f) => f.level)).not.toContain('warning')
  })
  it('stop a guide that does not say why it ended, or which policy it follows', () => {
    const { ending: _, policy: __, ...silent } = guide
    expect(errorsIn(silent).map((f) => f.rule)).toEqual(['end-not-said', 'preference-not-named'])
  })
  it('warn of figures in the words that nothing comes to, and of sizes that nobody measured', () => {
    const white = after.luminance.toFixed(0)
    const said = (summary: string) => found(guide, {}, { summary }).map((f) => f.rule)
    expect(said(`White is at ${white} cd/m², on 55 inch.`)).not.toContain('figure-differs')
    expect(said('White is at 7,412 cd/m².')).toContain('figure-differs')
    expect(said('Greyscale ΔE00 is 37.5 now.')).toContain('figure-differs')
    expect(said('The same holds for the 65-inch one.')).toContain('size-claimed')
    // Numbers without a unit are nobody's claim.
    expect(said('We watched 3 films over 12 evenings.')).not.toContain('figure-differs')
  })
  it('warn of HDR with less than all of its light', () => {
    const hdr = { ...guide, viewingCase: { key: 'hdr-film', label: 'HDR film' } }
    expect(found(hdr, { kind: 'pq' }).map((f) => f.rule)).toContain('hdr-dimmed')
    expect(found(guide).map((f) => f.rule)).not.toContain('hdr-dimmed')
  })
})

describe('white values that a policy keeps to the unit', () => {
  it('are in one row that says so, and are not checked against what was verified', () => {
    const two = compose('two-point')
    const kept = two.filter((v) => v.withheld)
    expect(kept).toMatchObject([{ shown: 'not published', role: 'level-white', changed: false }])
    expect(two.some((v) => v.role === 'level-white' && v.changed)).toBe(false)
    expect(two.some((v) => v.role === 'gain' && v.changed)).toBe(true)
    expect(errorsIn({ ...guide, values: two })).toEqual([])
  })
  it('are all of them where nothing of white is published', () => {
    const none = compose('none')
    expect(none.filter((v) => v.withheld).length).toBeGreaterThan(1)
    expect(none.some((v) => v.changed && (v.role === 'gain' || v.role === 'cut'))).toBe(false)
  })
})

describe('what copying does to other units', () => {
  const none = { channels: 0, exponents: 0, levels: 0, primaries: 0 }
  it('is on a like unit what it is on this one', () => {
    const [two, levels] = copyingOf(route, { units: 20, spread: none })
    expect(two).toMatchObject({ block: 'two-point', better: 1, worse: 0 })
    expect(levels!.alone).toBeCloseTo(two!.copied, 9)
    // What the model expects of the end is what was verified.
    expect(levels!.copied).toBeLessThan(after.whiteError.average + 0.4)
    expect(two!.alone).toBeGreaterThan(two!.copied)
  })
  it('helps less and harms more, the more units differ, single levels first', () => {
    const of = (channels: number) =>
      copyingOf(route, {
        units: 2_000,
        spread: { channels, exponents: channels, levels: channels / 5, primaries: channels / 10 },
      })
    const [near, far] = [of(0.005), of(0.06)]
    for (const i of [0, 1]) {
      expect(far[i]!.worse).toBeGreaterThan(near[i]!.worse)
      expect(far[i]!.copied).toBeGreaterThan(near[i]!.copied)
    }
    expect(far[1]!.better).toBeLessThan(far[0]!.better)
  })
  it('rests on how units really differ, the more of them the more', () => {
    const deviate = normal(3)
    // Light of the channels of units, as shares that stray.
    const whites = (n: number, sd: number) =>
      Array.from({ length: n }, () => {
        const matrix = rgbToXyzMatrix(BT709_PRIMARIES, xyToXyz(D65, 1))!
        const [r, g, b] = [0, 1, 2].map(() => Math.exp(sd * deviate()))
        return xyzToXy(multiply(matrix, [r!, g!, b!]))
      })
    expect(spreadOfUnits([])).toEqual(USUAL_SPREAD)
    expect(spreadOfUnits(whites(1, 0.1))).toEqual(USUAL_SPREAD)
    expect(spreadOfUnits(whites(400, 0.05)).channels).toBeCloseTo(0.05, 2)
    expect(spreadOfUnits(whites(400, 0.005)).channels).toBeCloseTo(0.005, 2)
    // Two units say little: most of it is still what is usual.
    const two = spreadOfUnits([D65, D65]).channels
    expect(two).toBeLessThan(USUAL_SPREAD.channels)
    expect(two).toBeGreaterThan(0.7 * USUAL_SPREAD.channels)
  })
  it('is the same for the same seed, and hardly another one for another', () => {
    const [a, b, c] = [1, 1, 2].map((seed) => copyingOf(route, { units: 3_000, seed })[0]!)
    expect(b).toEqual(a)
    expect(Math.abs(c!.better - a!.better)).toBeLessThan(0.03)
  })
  it('decides how its values travel, in a sentence with its figures', () => {
    const block = {
      block: 'levels' as const,
      units: 10_000,
      better: 0.61,
      worse: 0.3,
      alone: 1.5,
      copied: 1.4,
    }
    expect(transferClassOf('level-white', [block])).toBe('this-unit-only')
    expect(transferClassOf('level-white', [{ ...block, better: 0.97, worse: 0, copied: 0.6 }])).toBe(
      'start-here',
    )
    expect(transferClassOf('gain', [{ ...block, block: 'two-point' }])).toBe('this-unit-only')
    expect(transferClassOf('gain', [block])).toBe('start-here')
    expect(sayCopying(block)).toMatch(
      /Single levels, copied to 10,000 simulated units: better on 61 %, worse on 30 %/,
    )
  })
})

describe('before and after', () => {
  const wholeBefore = outcome.before!
  it('finds nothing worse where nothing is', () => {
    expect(worseFigures(wholeBefore, wholeBefore, 0.05)).toEqual([])
  })
  it('names what got worse beyond the noise, the gravest first', () => {
    const { grey } = wholeBefore
    const text = worseFigures(
      wholeBefore,
      {
        ...wholeBefore,
        grey: {
          ...grey,
          whiteError: {
            ...grey.whiteError,
            average: grey.whiteError.average + 1,
            worst: grey.whiteError.worst + 3,
          },
          contrast: 0.5 * grey.contrast!,
        },
        natural: { ...wholeBefore.natural!, average: wholeBefore.natural!.average + 0.5 },
      },
      0.05,
    ).map((w) => w.sentence)
    expect(text[0]).toMatch(/Worst greyscale ΔE rose/)
    expect(text.join(' ')).toMatch(/Average greyscale ΔE rose/)
    expect(text.join(' ')).toMatch(/Contrast fell/)
    expect(text.join(' ')).toMatch(/Average ΔE of memory colours rose/)
  })
  it('takes a change within the scatter of reading for none', () => {
    const { grey } = wholeBefore
    const little = { ...grey.whiteError, average: grey.whiteError.average + 0.05 }
    expect(
      worseFigures(wholeBefore, { ...wholeBefore, grey: { ...grey, whiteError: little } }, 0.05),
    ).toEqual([])
  })
})

describe('as text', () => {
  it('has one row a control and the way back', () => {
    const text = guideMarkdown(whole(guide), 1, '2026-11-24')
    expect(text.split('\n').filter((l) => l.startsWith('| Picture') || l.startsWith('| House'))).toHaveLength(
      values.length,
    )
    expect(text).toMatch(/To go back\n\nReset/)
  })
  it('keeps words from being read as markup', () => {
    const all = JSON.parse(
      JSON.stringify(whole(guide), (key, value) =>
        typeof value === 'string' && !['format', 'transfer', 'control', 'key', 'role'].includes(key)
          ? '# <b>x</b> | [y](z) `q`\n* n'
          : value,
      ),
    ) as GuideDocument
    const written = guideMarkdown(all, 1, '2026-11-24')
    // Every field, whichever it is, stands there as text.
    expect(written).not.toMatch(/[^\\][<>[\]`]/)
    expect(written.match(/^\* /m)).toBeNull()
    const { head, cases, foot } = guideOutline(all, { revision: 1, publishedAt: '2026-11-24' })
    const titled = [...head, ...cases.flatMap((c) => c.blocks), ...foot].filter(
      (b) => b.title && b.kind !== 'chart',
    )
    expect(written.split('\n').filter((l) => l.startsWith('#'))).toHaveLength(
      1 + cases.length + titled.length,
    )
    const first = { ...guide, viewingCase: { ...guide.viewingCase, label: '1. x' }, summary: '- x' }
    expect(guideMarkdown(whole(first), 1, '2026-11-24')).toMatch(/^## 1\\. x$/m)
    expect(guideMarkdown(whole(first), 1, '2026-11-24')).toMatch(/^\\- x$/m)
    const hostile = whole(guide, { title: 'A | b <script> *c*' })
    expect(guideMarkdown(hostile, 1, '2026-11-24').split('\n')[0]).toBe('# A \\| b \\<script\\> \\*c\\*')
  })
  it('has an address of plain letters', () => {
    expect(slugOf('Ostrel Märén 55, SDR')).toBe('ostrel-maren-55-sdr')
    expect(slugOf('…')).toBe('guide')
  })
})
