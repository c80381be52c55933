import { xyzToXy } from '#core/colorimetry'
import { sharers } from '#core/display'
import { expectedColour, greyLevel, type Patch, type ReadGrey, type Sense } from '#core/measure'
import type { RouteFacts, RouteReading } from '#core/steps'
import type { RunRow } from '#db'
import type { SessionRecord } from '../session/record'

/** Readings of one patch, for the same white, differ by less than this factor; a decimal point in the wrong place does not. */
const FACTOR = 3
/** What neighbours may lie apart by the meter's own scatter, as a share. */
const SLACK = 0.03
/** Share by which a prediction may be missed. */
const MISSED = 0.3

const say = (value: number): string => (value >= 100 ? value.toFixed(0) : value.toPrecision(3))
/**
 * What readings that are asked for should lie between: greys between their neighbours in the same state, others near what they were
 * before, white near what an adjustment should have led to. In: record; facts; the run; patches that are asked for. Out: one for each patch.
 */
export const sensesFor = (
  record: SessionRecord,
  facts: RouteFacts,
  run: RunRow,
  patches: readonly Patch[],
): Sense[] => {
  const { readings } = facts
  const adjustment = record.adjustments.find((a) => a.runId === run.id)
  const greys = readings.flatMap((r) => {
    const level = greyLevel(r.patch)
    return level === undefined ? [] : [{ level, r }]
  })
  // Another mode or preset has another white.
  const choosers = facts.sheet.controls.filter(
    (c) => sharers(facts.sheet, c).length > 0 || c.role === 'white-preset',
  )
  const likeNow = (r: RouteReading) => choosers.every((c) => r.state[c.key] === facts.state[c.key])
  const tinted: ReadGrey[] = greys.flatMap(({ level, r }) =>
    level >= 0.1 && r.xyz[1] > 1 && likeNow(r) ? [{ level, xy: xyzToXy(r.xyz) }] : [],
  )
  const whites = greys.filter(({ level }) => level === 1)
  const whiteNow = whites.findLast(({ r }) => likeNow(r))?.r.xyz[1]
  // Of the state that is on now; a grey that was read again counts as it was read last.
  const here = new Map(
    greys.flatMap(({ level, r }) =>
      r.state === facts.state || same(r.state, facts.state) ? [[level, r] as const] : [],
    ),
  )
  return patches.map((patch): Sense => {
    const level = greyLevel(patch)
    const predicted = adjustment?.predictions.find((p) => p.quantity === 'luminance' && p.patch === patch.key)
    const before = readings.findLast((r) => r.patch.key === patch.key)
    const limits: { low?: number; high?: number; lowFrom?: string; highFrom?: string } = {}
    const atLeast = (low: number, from: string) => {
      if (low > (limits.low ?? Number.NEGATIVE_INFINITY)) Object.assign(limits, { low, lowFrom: from })
    }
    const atMost = (high: number, from: string) => {
      if (high < (limits.high ?? Number.POSITIVE_INFINITY)) Object.assign(limits, { high, highFrom: from })
    }
    // What was read before, brought to the white of now.
    const whiteThen = before && whites.findLast(({ r }) => same(r.state, before.state))?.r.xyz[1]
    if (before && before.xyz[1] > 0.5 && whiteNow && whiteThen && whiteNow > 1 && whiteThen > 1) {
      const from = `${before.patch.label} read ${say(before.xyz[1])} before, with white at ${say(whiteThen)}`
      const expected = before.xyz[1] * (whiteNow / whiteThen)
      if (level !== 1) {
        atLeast(expected / FACTOR, from)
        atMost(expected * FACTOR, from)
      }
    }
    if (predicted && predicted.after > 0.5) {
      const off = MISSED * predicted.after + 6 * predicted.sigma
      atLeast(predicted.after - off, `${say(predicted.after)} is expected here`)
      atMost(predicted.after + off, `${say(predicted.after)} is expected here`)
    }
    if (level !== undefined)
      for (const [other, r] of here) {
        const from = `${r.patch.label} reads ${say(r.xyz[1])}`
        if (other < level) atLeast(r.xyz[1] * (1 - SLACK) - 0.02, from)
        if (other > level) atMost(r.xyz[1] * (1 + SLACK) + 0.02, from)
      }
    return {
      patch: patch.label,
      ...limits,
      ...(level !== undefined && level >= 0.1 ? expectedColour(level, tinted) : {}),
    }
  })
}

const same = (a: Readonly<Record<string, unknown>>, b: Readonly<Record<string, unknown>>): boolean => {
  for (const key in b) if (a[key] !== b[key]) return false
  return true
}
