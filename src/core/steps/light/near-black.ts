import type { NumberControl, State } from '#core/display'
import { toldApart } from '#core/judge'
import { greyLevel, readingSigma } from '#core/measure'
import { placeOf } from '#core/model'
import { targetOn } from '#core/target'
import type { RouteContext } from '../facts/context'
import { differsIn, keyOf, type RouteReading } from '../facts/facts'
import type { BlackLevelVerdict } from '../facts/findings'
import { patchesOf } from '../facts/hdr-reference'
import { BLACK_MAY_RISE, NO_LIGHT, OFFSET_OWN } from '../tuning'
import { ONE_CURVE } from './near-ends'

/** A shade as it was read. */
interface Shade {
  /** Signal, 0…1. */
  readonly level: number
  /** cd/m² */
  readonly luminance: number
  /** Standard error, cd/m². */
  readonly sigma?: number
}

interface Ends {
  /** cd/m² */
  readonly black: number
  readonly white: number
}

/**
 * Signal at which a display gives a share of the light between its black and its white: power laws from shade to shade, the lowest going on
 * towards black. Out: undefined where fewer than two shades show light of their own.
 */
const signalByShare = (
  shades: readonly Shade[],
  { black, white }: Ends,
): ((share: number) => number) | undefined => {
  const points: Array<readonly [signal: number, share: number]> = []
  // From the brightest down, which are the surest: what is no darker than the shade above it is scatter.
  for (const { level, luminance } of [...shades].sort((a, b) => b.level - a.level)) {
    const share = (luminance - black) / (white - black)
    if (level > 0 && share > NO_LIGHT && share < (points[0]?.[1] ?? 1)) points.unshift([level, share])
  }
  if (points.length < 2) return undefined
  return (share) => {
    const above = points.findIndex(([, own]) => own >= share)
    const i = Math.max(1, above < 0 ? points.length - 1 : above)
    const [[x, a], [y, b]] = [points[i - 1]!, points[i]!]
    const along = Math.log(Math.max(NO_LIGHT, share) / a) / Math.log(b / a)
    return x * (y / x) ** along
  }
}

/**
 * Signal by which shades near black come too early (above zero) or too late (below): how far from each shade's own signal the one lies at
 * which the display gives the light that is wanted of it, the surest shades counting most.
 * In: readings; black and white; luminance that the target asks for at a signal, cd/m². Out: signal with its standard error, 0…1; undefined
 * where too little was read.
 */
export const blackOffset = (
  readings: readonly Shade[],
  ends: Ends,
  wantedAt: (level: number) => number,
): { readonly offset: number; readonly sigma: number } | undefined => {
  const near = readings.filter((r) => r.level > 0.015 && r.level < 0.045)
  const far = readings.filter((r) => r.level >= 0.09 && r.level <= 0.41)
  const signalOf = near.length && far.length ? signalByShare([...near, ...far], ends) : undefined
  if (!signalOf) return undefined
  let [sum, weights] = [0, 0]
  for (const { level, sigma = 0 } of near) {
    const wanted = Math.max(NO_LIGHT, (wantedAt(level) - ends.black) / (ends.white - ends.black))
    const error = sigma / (ends.white - ends.black)
    // Scatter of the light as one of the signal.
    const scatter = Math.min(level, signalOf(wanted + error) - signalOf(wanted))
    const weight = 1 / (OFFSET_OWN ** 2 + scatter ** 2)
    sum += weight * (level - signalOf(wanted))
    weights += weight
  }
  return { offset: sum / weights, sigma: 1 / Math.sqrt(weights) }
}

/**
 * Signal by which the lowest shades look shifted against the power law of those above them: where black is lifted by its control, and where a
 * display was made for BT.1886. In: as `blackOffset`. Out: signal, 0…1; 0 where too little was read.
 */
const ownShift = (readings: readonly Shade[], { black, white }: Ends): number => {
  const share = (l: number) => Math.max(NO_LIGHT, (l - black) / (white - black))
  const far = readings.filter((r) => r.level >= 0.09 && r.level <= 0.41)
  const near = readings.filter((r) => r.level > 0.015 && r.level < 0.045)
  if (near.length === 0 || far.length === 0) return 0
  let best = { shift: 0, misfit: Number.POSITIVE_INFINITY }
  for (let shift = 0; shift <= 0.03; shift += 0.0005) {
    const at = (level: number) => Math.log((level + shift) / (1 + shift))
    const xx = far.reduce((sum, r) => sum + at(r.level) ** 2, 0)
    const exponent = far.reduce((sum, r) => sum + at(r.level) * Math.log(share(r.luminance)), 0) / xx
    const misfit = near.reduce(
      (sum, r) => sum + (Math.log(share(r.luminance)) - exponent * at(r.level)) ** 2,
      0,
    )
    if (misfit < best.misfit) best = { shift, misfit }
  }
  return best.shift
}

/** Luminance that black may have without being called lifted, cd/m². In: the lowest that was read under one light. */
export const mostBlack = (lowest: number): number =>
  lowest + Math.max(BLACK_MAY_RISE.share * lowest, BLACK_MAY_RISE.luminance)

/** What shades near black tell, the white that they were read under, and at which signal the display gives a luminance above black. */
export interface Judged {
  readonly verdict: BlackLevelVerdict
  readonly white: number
  readonly signalOf: (luminance: number) => number
  /** Signal by which the shades look shifted by themselves. */
  readonly ownShift: number
}

export const judge = (
  context: RouteContext,
  near: ReadonlyMap<number, RouteReading>,
  control: NumberControl | undefined,
): Judged | undefined => {
  const { facts } = context
  const black = near.get(0)
  if (!black) return undefined
  const white = whiteAt(context, black.state)
  const far = farShades(context, white)
  const steps = [...near].filter(([l]) => l > 0 && l < 0.06).sort((a, b) => a[0] - b[0])
  const seen = steps.find(([, r]) => toldApart(r.xyz[1], black.xyz[1]))
  const last = steps.filter(([l]) => seen === undefined || l < seen[0]).at(-1)
  const ends = { black: Math.max(0, black.xyz[1]), white }
  const sigmaOf = (r: RouteReading) => r.sigma?.[1] ?? readingSigma(r.xyz[1], facts.precision)
  const shades = [...steps.map(([level, r]) => ({ level, luminance: r.xyz[1], sigma: sigmaOf(r) })), ...far]
  const told = blackOffset(shades, ends, targetOn(facts.targets, ends).luminanceOf)
  const signalOf = signalByShare(shades, ends)
  return {
    verdict: {
      value: control ? black.state[control.key] : undefined,
      black: ends.black,
      lastBlack: last?.[0] ?? 0,
      firstSeen: seen?.[0],
      offset: told?.offset ?? 0,
      sigma: told?.sigma ?? 0,
      readingIds: [black.id, ...steps.map(([, r]) => r.id), ...far.flatMap((r) => [r.id, r.whiteId])],
    },
    white,
    ownShift: ownShift(shades, ends),
    signalOf: (luminance) => (luminance > 0 ? (signalOf?.(luminance / (white - ends.black)) ?? 0) : 0),
  }
}

/** A shade well above black, at the present luminance of white. */
interface FarShade {
  readonly id: number
  /** The reading of white that it was scaled by. */
  readonly whiteId: number
  /** Signal, 0…1. */
  readonly level: number
  /** cd/m² */
  readonly luminance: number
}

/** Luminance of white under the panel light of a state, cd/m². */
const whiteAt = ({ facts, light, byRole }: RouteContext, state: State): number => {
  if (light && byRole.light) return light.curve.at(placeOf(byRole.light, state[byRole.light.key]))
  return (
    facts.readings.findLast((r) => r.patch.key === patchesOf(facts).white.key)?.xyz[1] ??
    facts.targets.luminance
  )
}

/** Shades well above black, at the present panel light: read now, or read before and scaled. */
const farShades = (context: RouteContext, white: number): FarShade[] => {
  const { facts, outOfBox, byRole } = context
  const tone = byRole.tone?.key
  const same = (s: State) => !tone || s[tone] === facts.state[tone]
  const whites = new Map<string, RouteReading>()
  for (const r of facts.readings)
    if (r.patch.key === patchesOf(facts).white.key) whites.set(keyOf(facts, r.state), r)
  const out = new Map<number, FarShade>()
  for (const r of [...(outOfBox?.byPatch.values() ?? []), ...facts.readings]) {
    const level = greyLevel(r.patch)
    const own = whites.get(keyOf(facts, r.state))
    if (level === undefined || level < 0.09 || level > 0.41 || !own || !same(r.state)) continue
    if (differsIn(facts, ONE_CURVE, r.state, facts.state).length) continue
    out.set(level, { id: r.id, level, whiteId: own.id, luminance: (r.xyz[1] / own.xyz[1]) * white })
  }
  return [...out.values()]
}
