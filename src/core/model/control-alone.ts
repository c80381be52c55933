import type { Control, NumberControl } from '#core/display'
import { type MeterPrecision, readingSigma } from '#core/measure'
import type { Aspect } from './aspect'
import { channelShares } from './channel-matrix'
import type { GreyModel } from './grey-model'
import { drivesOfShares, type GreyObservation } from './grey-readings'
import { ALONE } from './tuning'

/** What a control did by itself: two readings of one level with everything else equal that moves the channel. */
export interface MovedAlone {
  /** Signal, 0…1. */
  readonly level: number
  readonly from: number
  readonly to: number
  /** Whole clicks, signed. */
  readonly clicks: number
  /** Change of drive as a share of the level, and its standard deviation. */
  readonly moved: number
  readonly sigma: number
}

/** A reading as the drive of one aspect, a share of its level. */
interface Shown {
  readonly value: number
  readonly drive: number
  readonly sigma: number
}

/** Readings that verdicts on controls rest on: all greys, with what the model says of channels and light. */
export interface Evidence {
  readonly model: GreyModel
  readonly observations: readonly GreyObservation[]
  readonly precision: MeterPrecision
}

const shownIn = ({ model, precision }: Evidence, o: GreyObservation, aspect: Aspect): Shown | undefined => {
  const { channelMatrix, wanted, exponent, white, ceiling } = model
  const light = model.lightOf(o.state)
  const shares = channelShares(channelMatrix, o.xyz, light)
  if (!(light > 0) || shares.some((s) => !(s > 0))) return undefined
  // Where a channel has run out of drive nothing is told.
  const full = shares.map((s, i) => s / light / wanted[i]! / white / ceiling[i]!)
  if (full.some((f) => f > ALONE.nearCeiling)) return undefined
  const drive = drivesOfShares(o.level, shares, { wanted, exponent, white: light * white })[aspect] / o.level
  const noise = o.sigma ?? o.xyz.map((v) => readingSigma(v, precision))
  // Relative scatter of a channel is about that of its own tristimulus value, twice for a ratio of two.
  const relative = Math.hypot(...noise.map((s, i) => s / Math.max(1e-9, o.xyz[i]!)))
  return { value: 0, drive, sigma: (drive * Math.hypot(1.5 * relative, ALONE.scatter)) / exponent }
}

/** Readings of one level with nothing else different that moves a channel, by the value of a control. */
export const seriesAlone = (
  evidence: Evidence,
  control: NumberControl,
  aspect: Aspect,
  among: (level: number) => boolean = () => true,
): Array<{ readonly level: number; readonly shown: readonly Shown[] }> => {
  const { model, observations } = evidence
  const touches = (c: Control) =>
    c !== control && (c.channel === undefined || c.channel === aspect || c.channel === 'green')
  const others = model.features.map((f) => f.control).filter(touches)
  const groups = new Map<string, { level: number; shown: Shown[] }>()
  for (const o of observations) {
    if (!among(o.level)) continue
    const shown = shownIn(evidence, o, aspect)
    if (!shown) continue
    const key = [o.level, ...others.map((c) => o.state[c.key])].join()
    const own = groups.get(key) ?? { level: o.level, shown: [] }
    own.shown.push({ ...shown, value: Number(o.state[control.key]) })
    groups.set(key, own)
  }
  return [...groups.values()]
}

/** Pairs of readings that differ in a control alone. */
export const pairsAlone = (
  evidence: Evidence,
  control: NumberControl,
  aspect: Aspect,
  among?: (level: number) => boolean,
): MovedAlone[] =>
  seriesAlone(evidence, control, aspect, among).flatMap(({ level, shown }) =>
    shown.flatMap((a, i) =>
      shown.slice(i + 1).flatMap((b): MovedAlone[] => {
        const [from, to] = a.value < b.value ? [a, b] : [b, a]
        const clicks = (to.value - from.value) / control.range.step
        if (clicks === 0) return []
        return [
          {
            level,
            from: from.value,
            to: to.value,
            clicks,
            moved: to.drive - from.drive,
            sigma: Math.hypot(from.sigma, to.sigma),
          },
        ]
      }),
    ),
  )

export type AloneVerdict = 'works' | 'dead' | 'backwards'

/**
 * What readings say of a control that was moved by itself.
 * In: pairs of readings; what a click of such a control usually moves at a level (signed, share of the level). Out: verdict with the pair that
 * tells most and its share of the usual effect; undefined where no pair could tell: too few clicks, or too much scatter.
 */
export const verdictAlone = (
  pairs: readonly MovedAlone[],
  usual: (level: number) => number,
): { readonly verdict: AloneVerdict; readonly pair: MovedAlone; readonly share: number } | undefined => {
  const told = pairs.flatMap((pair) => {
    const expected = usual(pair.level) * pair.clicks
    if (Math.abs(pair.clicks) < ALONE.clicks || expected === 0) return []
    const [share, sigma] = [pair.moved / expected, Math.abs(pair.sigma / expected)]
    return sigma <= ALONE.tells ? [{ pair, share, sigma }] : []
  })
  const best = told.sort((a, b) => a.sigma - b.sigma)[0]
  if (!best) return undefined
  const { pair, share, sigma } = best
  if (share - 2 * sigma > ALONE.dead) return { verdict: 'works', pair, share }
  if (share + 3 * sigma < -ALONE.dead) return { verdict: 'backwards', pair, share }
  // A little is not nothing: the control may lie elsewhere than its label says.
  if (Math.abs(share) + 2 * sigma < ALONE.dead && Math.abs(share) < 2.5 * sigma)
    return { verdict: 'dead', pair, share }
  return undefined
}
