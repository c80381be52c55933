import { CHANNELS, channelShares, reachOf } from '#core/model'
import { adjust, defineStep, done, type Limit, type StepPlan, sdrCases } from '../contract'
import type { RouteContext } from '../facts/context'
import type { RouteReading } from '../facts/facts'
import type { WhiteLevelVerdict } from '../facts/findings'
import { ENDS } from '../rests-on'
import { CLIPPED, NEAR_WHITE } from '../tuning'
import { keptEnd, knownEnd, nearReadings, readFirst } from './near-ends'
import { whiteClips, whiteClipsAtEnd } from './say'

/** Slope of each channel over the last steps below white against the steps before. In: shares of the channels at white and at two steps below it. */
const slopesOf = (
  top: readonly number[],
  middle: readonly number[],
  low: readonly number[],
): [number, number, number] => {
  const slope = (i: number) => (top[i]! - middle[i]!) / Math.max(1e-9, middle[i]! - low[i]!)
  return [slope(0), slope(1), slope(2)]
}

/** The white level as it is set now. */
const finish = (
  { facts, byRole }: RouteContext,
  verdict: WhiteLevelVerdict,
  lost: string,
  limit?: Limit,
): StepPlan => {
  const control = byRole.whiteLevel
  return done(verdict.apart ? 'no clipping below white' : `${lost} clipped below white`, {
    findings: { whiteLevel: verdict },
    limits: limit ? [limit] : [],
    derived: control
      ? [
          {
            control: control.key,
            value: facts.state[control.key]!,
            rule: verdict.apart
              ? 'no clipping just below white in red, green and blue'
              : `the lowest value still clips ${lost}`,
            readingIds: verdict.readingIds,
          },
        ]
      : [],
  })
}

const planWhiteLevel = (context: RouteContext): StepPlan => {
  const { facts, byRole, channelMatrix, patches } = context
  const control = byRole.whiteLevel
  if (!channelMatrix) return done('')
  if (knownEnd(context, control, 'white', (m) => m.every((slope) => slope > CLIPPED)))
    return done('as in the previous case', { derived: keptEnd(context, control) })
  const wanted = [patches.white, ...NEAR_WHITE.map(patches.grey)]
  const near = nearReadings(context, false, control, wanted)
  const missing = wanted.filter((p) => !near.has(p.signal[0]) && !facts.leftOut.includes(p.key))
  if (missing.length) return readFirst(missing, 'Checks red, green and blue for clipping just below white.')
  const [top, middle, low] = [1, 0.98, 0.96].map((l) => near.get(l))
  if (!top || !middle || !low) return done('')
  const shares = ({ xyz }: RouteReading) => channelShares(channelMatrix, xyz)
  const slopes = slopesOf(shares(top), shares(middle), shares(low))
  const verdict: WhiteLevelVerdict = {
    value: control ? facts.state[control.key] : undefined,
    slopes,
    apart: slopes.every((s) => s > CLIPPED),
    readingIds: [top.id, middle.id, low.id, ...context.matrixIds],
  }
  const lost = CHANNELS.filter((_, i) => slopes[i]! <= CLIPPED).join(' and ')
  if (verdict.apart) return finish(context, verdict, lost)
  if (!control || !context.movable(control)) return finish(context, verdict, lost, whiteClips({ lost }))
  const { min, step } = control.range
  const from = Number(facts.state[control.key])
  const tried = new Set(facts.readings.map((r) => Number(r.state[control.key]))).size - 1
  const jump = Math.max(1, Math.round((0.02 / (0.08 / reachOf(control))) * (1 + tried)))
  const to = Math.max(min, from - jump * step)
  if (to === from || tried > 4)
    return finish(context, verdict, lost, whiteClipsAtEnd({ lost, control, value: from }))
  return adjust(
    {
      changes: [{ control: control.key, from, to: Number(to.toFixed(9)) }],
      reads: wanted,
      purpose: `Lowers the white level until ${lost} no longer clips.`,
    },
    '',
    { findings: { whiteLevel: verdict } },
  )
}

export const whiteLevel = defineStep({
  key: 'white-level',
  title: 'White level',
  restsOn: ENDS,
  cases: sdrCases,
  finds: ['whiteLevel'],
  measures: true,
  plan: planWhiteLevel,
})
