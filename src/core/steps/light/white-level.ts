import type { XYZ } from '#core/colorimetry'
import { CHANNELS, channelShares, quoted, reachOf, shown } from '#core/model'
import { defineStep, done, type Limit, open, type StepPlan, sdrCases } from '../contract'
import type { RouteContext } from '../facts/context'
import type { RouteReading } from '../facts/facts'
import type { WhiteLevelVerdict } from '../facts/findings'
import { ENDS } from '../rests-on'
import { CLIPPED, NEAR_WHITE } from '../tuning'
import { keptEnd, knownEnd, nearReadings, readFirst } from './near-ends'

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
  const readings = [1, 0.98, 0.96].map((l) => near.get(l))
  if (readings.some((r) => r === undefined)) return done('')
  const [top, middle, low] = readings as [RouteReading, RouteReading, RouteReading]
  const shares = (xyz: XYZ) => channelShares(channelMatrix, xyz)
  const [a, b, c] = [shares(top.xyz), shares(middle.xyz), shares(low.xyz)]
  const slopes = [0, 1, 2].map((i) => (a[i]! - b[i]!) / Math.max(1e-9, b[i]! - c[i]!)) as [
    number,
    number,
    number,
  ]
  const least = CLIPPED
  const apart = slopes.every((s) => s > least)
  const verdict: WhiteLevelVerdict = {
    value: control ? facts.state[control.key] : undefined,
    slopes,
    apart,
    readingIds: [...readings.map((r) => r!.id), ...context.matrixIds],
  }
  const lost = CHANNELS.filter((_, i) => slopes[i]! <= least)
  const said = apart ? 'no clipping below white' : `${lost.join(' and ')} clipped below white`
  const finish = (limits: Limit[] = []): StepPlan =>
    done(said, {
      findings: { whiteLevel: verdict },
      limits,
      derived: control
        ? [
            {
              control: control.key,
              value: facts.state[control.key]!,
              rule: apart
                ? 'no clipping just below white in red, green and blue'
                : `the lowest value still clips ${lost.join(' and ')}`,
              readingIds: verdict.readingIds,
            },
          ]
        : [],
    })
  if (apart || !control || !context.movable(control))
    return apart
      ? finish()
      : finish([
          {
            sentence: `${lost.join(' and ')} clipped just below white, and there is no white level control to lower.`,
          },
        ])
  const { min, step } = control.range
  const from = Number(facts.state[control.key])
  const values = new Set(facts.readings.map((r) => Number(r.state[control.key])))
  const tried = values.size - 1
  const jump = Math.max(1, Math.round((0.02 / (0.08 / reachOf(control))) * (1 + tried)))
  const to = Math.max(min, from - jump * step)
  if (to === from || tried > 4)
    return finish([
      {
        sentence: `${lost.join(' and ')} clipped just below white even with ${quoted(control)} at ${shown(control, from)}.`,
      },
    ])
  return open(
    {
      kind: 'adjust',
      adjustment: {
        changes: [{ control: control.key, from, to: Number(to.toFixed(9)) }],
        reads: [patches.white, ...NEAR_WHITE.map(patches.grey)],
        purpose: `Lowers the white level until ${lost.join(' and ')} no longer clips.`,
        predictions: [],
      },
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
  measures: true,
  plan: planWhiteLevel,
})
