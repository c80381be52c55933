import { describe, expect, it } from 'vitest'
import {
  checkGuide,
  composeValues,
  GuideDocument,
  guideMarkdown,
  measureOf,
  proposeSummary,
  slugOf,
  transferClassOf,
} from '#core/guide'
import type { Policy } from '#core/judge'
import { MAREN } from '#core/simulation'
import { worseFigures } from '#core/steps'
import { rehearse } from '#tests/rehearsal'

const { outcome, route, facts } = await rehearse(MAREN, 2, { baseMode: 'studio' })
const before = measureOf(outcome.before!)
const after = measureOf(outcome.after!)
const compose = (publish: Policy['publish']) =>
  composeValues(facts.sheet, facts.state, route.derived, { luminance: after.luminance, publish })
const values = compose('all')
const guide: GuideDocument = {
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
}

describe('a composed guide', () => {
  it('keeps to its own format', () => {
    expect(GuideDocument.parse(JSON.parse(JSON.stringify(guide)))).toEqual(guide)
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
    expect(checkGuide(guide, facts.sheet, facts.state).filter((f) => f.weight === 'stop')).toEqual([])
  })
  it('stop a guide that was not verified', () => {
    expect(checkGuide(guide, facts.sheet, undefined)[0]).toMatchObject({
      weight: 'stop',
      text: expect.stringMatching(/not verified/),
    })
  })
  it('stop a value that differs from the verified one and a value outside its range', () => {
    const wrong = {
      ...guide,
      values: values.map((v) => (v.control === 'gain-blue' ? { ...v, value: 99, shown: '+99' } : v)),
    }
    const text = checkGuide(wrong, facts.sheet, facts.state)
      .filter((f) => f.weight === 'stop')
      .map((f) => f.text)
      .join(' ')
    expect(text).toMatch(/goes from -30 to 30/)
    expect(text).toMatch(/the guide says \+99/)
  })
  it('ask to look at a value that rests on no reading', () => {
    const byHand = { ...guide, values: values.map((v) => ({ ...v, readings: [] })) }
    expect(
      checkGuide(byHand, facts.sheet, facts.state)
        .map((f) => f.text)
        .join(),
    ).toMatch(/rests on no reading/)
  })
})

describe('white values that a policy keeps to the unit', () => {
  it('are in one row that says so, and are not checked against what was verified', () => {
    const two = compose('two-point')
    const kept = two.filter((v) => v.withheld)
    expect(kept).toMatchObject([{ shown: 'not published', role: 'level-white', changed: false }])
    expect(two.some((v) => v.role === 'level-white' && v.changed)).toBe(false)
    expect(two.some((v) => v.role === 'gain' && v.changed)).toBe(true)
    const findings = checkGuide({ ...guide, values: two }, facts.sheet, facts.state)
    expect(findings.filter((f) => f.weight === 'stop')).toEqual([])
  })
  it('are all of them where nothing of white is published', () => {
    const none = compose('none')
    expect(none.filter((v) => v.withheld).length).toBeGreaterThan(1)
    expect(none.some((v) => v.changed && (v.role === 'gain' || v.role === 'cut'))).toBe(false)
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
    const text = guideMarkdown(guide, 1, '2026-11-24')
    expect(text.split('\n').filter((l) => l.startsWith('| Picture') || l.startsWith('| House'))).toHaveLength(
      values.length,
    )
    expect(text).toMatch(/To go back: reset/)
  })
  it('keeps words from being read as markup', () => {
    const hostile = { ...guide, title: 'A | b <script> *c*' }
    const all = JSON.parse(
      JSON.stringify(guide, (key, value) =>
        typeof value === 'string' && !['format', 'transfer', 'control', 'key'].includes(key)
          ? '# <b>x</b> | [y](z) `q`\n* n'
          : value,
      ),
    ) as GuideDocument
    const written = guideMarkdown(all, 1, '2026-11-24')
    // Every field, whichever it is, stands there as text.
    expect(written).not.toMatch(/[^\\][<>[\]`]/)
    expect(written.match(/^\* /m)).toBeNull()
    expect(written.split('\n').filter((l) => l.startsWith('#'))).toHaveLength(3)
    const first = { ...guide, viewingCase: { ...guide.viewingCase, label: '1. x' }, summary: '- x' }
    expect(guideMarkdown(first, 1, '2026-11-24')).toMatch(/^## 1\\\. x$/m)
    expect(guideMarkdown(first, 1, '2026-11-24')).toMatch(/^\\- x$/m)
    expect(guideMarkdown(hostile, 1, '2026-11-24').split('\n')[0]).toBe('# A \\| b \\<script\\> \\*c\\*')
  })
  it('has an address of plain letters', () => {
    expect(slugOf('Ostrel Märén 55, SDR')).toBe('ostrel-maren-55-sdr')
    expect(slugOf('…')).toBe('guide')
  })
})
