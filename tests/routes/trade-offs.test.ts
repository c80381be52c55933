import { describe, expect, it } from 'vitest'
import { calibrationResult } from '#bench/unattended'
import { planRoute } from '#core/plan'
import { LANTERN, PELT, SORREL } from '#core/simulation'
import { FINDINGS } from '#core/steps'
import { rehearse } from '#tests/rehearsal'

/** Rows of a control in a result. */
const rowsOf = (result: ReturnType<typeof calibrationResult>, control: string) =>
  result.helpers!.filter((r) => r.control === control)

describe('helpers of a game case', () => {
  it('are measured at each of their values, and left neutral', async () => {
    const { outcome } = await rehearse(PELT, 3, { viewingCase: 'sdr-game', baseMode: 'own' })
    const result = calibrationResult(outcome)
    expect([result.verified, result.stopped]).toEqual([true, null])
    const shadows = rowsOf(result, 'shadows')
    expect(shadows.map((r) => r.value)).toEqual([0, 1, 5, 10])
    // Each step up shows no fewer of the first steps and makes what is dark brighter; the middle hardly moves.
    for (const [i, row] of shadows.entries()) {
      if (i === 0) continue
      expect(row.steps).toBeGreaterThanOrEqual(shadows[i - 1]!.steps!)
      expect(row.near!).toBeGreaterThan(shadows[i - 1]!.near!)
      expect(row.middle! / shadows[0]!.middle!).toBeGreaterThan(0.99)
    }
    expect(FINDINGS.tradeOffs.safeParse(outcome.route!.tradeOffs).success).toBe(true)
    const said = outcome.route!.tradeOffs!.find((h) => h.control === 'shadows')!.sentences.at(-1)!
    const more = Math.round(100 * (shadows.at(-1)!.near! / shadows[0]!.near! - 1))
    expect(said).toContain(`5 % becomes ${more} % brighter`)
    const strobe = rowsOf(result, 'strobe')
    expect(strobe.map((r) => r.value).sort()).toEqual(['off', 'on'])
    const [off, on] = ['off', 'on'].map((v) => strobe.find((r) => r.value === v)!)
    expect(on!.luminance / off!.luminance).toBeCloseTo(0.45, 2)
    // What only draws frames takes no light.
    const drive = rowsOf(result, 'drive')
    expect(drive.map((r) => r.value).sort()).toEqual(['max', 'mid', 'off'])
    expect(outcome.route!.tradeOffs!.find((h) => h.control === 'drive')!.sentences.join()).toMatch(
      /takes none of the light/,
    )
    expect(result.finalState).toMatchObject({ shadows: 0, strobe: 'off' })
    const { tradeOffs } = outcome.route!
    expect(tradeOffs!.find((h) => h.control === 'strobe')!.sentences.join()).toMatch(
      /takes 5[45] % of the light/,
    )
    expect(tradeOffs!.find((h) => h.control === 'strobe')!.sentences.at(-1)).toMatch(/photosensitive/)
    // What was read with a helper on counts for nothing else.
    for (const value of result.values)
      for (const id of value.readings)
        expect(tradeOffs!.some((h) => h.rows.some((r) => !r.rest && r.readingIds.includes(id)))).toBe(false)
  }, 120_000)
})

describe('options that a display does not keep, or that a person reads', () => {
  it('are not asked of a case that was verified before anybody asked', async () => {
    const { facts } = await rehearse(PELT, 3, { viewingCase: 'sdr-game', baseMode: 'own' })
    const { at, limits } = planRoute({ ...facts, toured: undefined })
    expect(at).not.toBe('helpers')
    expect(limits.map((l) => l.sentence).join()).toMatch(/was not measured in this case/)
  }, 120_000)
  it('are not gone round for ever', async () => {
    const { facts: all, outcome } = await rehearse(PELT, 3, { viewingCase: 'sdr-game', baseMode: 'own' })
    const readings = all.readings.filter((r) => r.purpose !== 'verify')
    const facts = { ...all, readings, state: readings.findLast((r) => r.purpose === 'adjust')!.state }
    // Whatever is set, the display says that it stands where it stood.
    const stays = facts.toured!.map((r) => ({ ...r, state: { ...r.state, strobe: 'off' } }))
    const again = planRoute({ ...facts, toured: undefined, readings: [...facts.readings, ...stays] })
    expect(again).toMatchObject({ at: 'helpers', next: { kind: 'tour' } })
    const many = Array.from({ length: 12 }, () => stays).flat()
    const given = planRoute({ ...facts, toured: undefined, readings: [...facts.readings, ...many] })
    expect(given.at).not.toBe('helpers')
    expect(given.limits.map((l) => l.sentence).join()).toMatch(/does not stay where it is set/)
    expect(outcome.verified).toBe(true)
  }, 120_000)
  it('take a few readings where each is typed', async () => {
    const { facts } = await rehearse(PELT, 3, { viewingCase: 'sdr-game', baseMode: 'own' })
    const readings = facts.readings.filter((r) => r.purpose !== 'verify')
    const { next } = planRoute({ ...facts, readings, toured: undefined, typed: true })
    if (next.kind !== 'tour') throw new Error(next.kind)
    const shadows = next.stops.filter(
      (s) => s.changes.some((c) => c.control === 'shadows') || s.changes.length === 0,
    )
    for (const stop of shadows) expect(stop.reads.length).toBeLessThanOrEqual(3)
  }, 120_000)
})

describe('care for still pictures on a desktop', () => {
  it('has its price measured where it stands still, and is back on in the end', async () => {
    const { outcome } = await rehearse(SORREL, 2, { viewingCase: 'desktop' })
    const result = calibrationResult(outcome)
    expect([result.verified, result.stopped]).toEqual([true, null])
    const care = rowsOf(result, 'still-care')
    const [off, on] = ['off', 'on'].map((v) => care.find((r) => r.value === v)!)
    expect(on!.luminance / off!.luminance).toBeLessThan(0.95)
    expect(result.finalState['still-care']).toBe('on')
  }, 120_000)
})

describe('a projector', () => {
  it('has luminance and both contrasts measured by iris and light level, and stays as it was chosen', async () => {
    const { outcome } = await rehearse(LANTERN, 2, { viewingCase: 'sdr-dark' })
    const result = calibrationResult(outcome)
    expect([result.verified, result.stopped]).toEqual([true, null])
    // Every option has its term: what has none could not be published.
    expect(FINDINGS.tradeOffs.safeParse(outcome.route!.tradeOffs).error).toBeUndefined()
    expect(outcome.route!.tradeOffs!.length).toBeGreaterThanOrEqual(3)
    const modes = rowsOf(result, 'programme')
    expect(modes.map((r) => r.value).sort()).toEqual(['cinema', 'living', 'stage'])
    for (const row of modes) expect(row.onOff).toBeGreaterThan(500)
    const laser = rowsOf(result, 'laser')
    expect(laser.length).toBeGreaterThanOrEqual(3)
    for (const row of [...laser, ...rowsOf(result, 'iris')]) {
      // Nothing lights a checkerboard's black less than a black screen.
      expect(row.board!).toBeLessThanOrEqual(row.onOff! * 1.02)
      expect(row.onOff).toBeGreaterThan(500)
    }
    const light = (value: number) => laser.find((r) => r.value === value)!.luminance
    expect(light(100)).toBeGreaterThan(light(50) * 1.5)
    const iris = rowsOf(result, 'iris')
    expect(iris.map((r) => r.value).sort()).toEqual(['half', 'moving', 'open'])
    const onOff = (value: string) => iris.find((r) => r.value === value)!.onOff!
    expect(onOff('moving')).toBeGreaterThan(onOff('open') * 1.5)
  }, 120_000)
})
