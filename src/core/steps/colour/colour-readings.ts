import { multiply, type RGB, type XYZ, xyToXyz } from '#core/colorimetry'
import type { Role, State } from '#core/display'
import { greyLevel } from '#core/measure'
import {
  amountsOf,
  type ChannelMatrix,
  type ColourObservation,
  channelMatrixOf,
  channelShares,
  drivesAt,
  type GreyModel,
  lightOfShares,
} from '#core/model'
import { scaleOf } from '#core/scale'
import { type Target, targetOn } from '#core/target'
import type { RouteContext } from '../facts/context'
import { differsIn, keyOf, type RouteReading } from '../facts/facts'
import { COLOUR } from '../rests-on'

/** Target of colours at the present white. */
export const colourTarget = (context: RouteContext, white: number): Target => {
  const { facts, scale: measured, outOfBox, patches } = context
  const w = outOfBox?.byPatch.get(patches.white.key)?.xyz[1]
  const b = outOfBox?.byPatch.get(patches.black.key)?.xyz[1]
  const target = targetOn(facts.targets, { white, black: w && b ? (Math.max(0, b) / w) * white : 0 })
  const asked = measured.lightOf(patches.white, facts.signal)
  if (asked === undefined) return target
  // What is too bright all over is no fault of colours, and nothing that their controls could mend.
  const scale = white / asked
  return {
    ...target,
    xyzOf: (signal) => {
      const [x, y, z] = target.xyzOf(signal)
      return [scale * x, scale * y, scale * z]
    },
  }
}

/**
 * A target of HDR as far as the panel reaches: what its channels cannot mix is aimed at as near as they come, and how much of each of the six
 * colours is in a patch is counted in the panel's own channels, where colour management acts. BT.2020 is wider than any panel.
 * In: target; channels of the panel. Out: target; that of SDR as it is.
 */
export const withinReach = (target: Target, { channelMatrix }: { channelMatrix: ChannelMatrix }): Target => {
  if (!scaleOf(target.curve).absolute) return target
  const white = multiply(channelMatrix.inverse, xyToXyz(target.whitePoint, target.white))
  const sharesOf = (signal: RGB) =>
    multiply(channelMatrix.inverse, target.xyzOf(signal)).map((s) => Math.max(0, s)) as unknown as RGB
  const channelsOf = (signal: RGB): RGB => {
    const shares = sharesOf(signal)
    const of = (i: 0 | 1 | 2) => target.black + (target.white * shares[i]) / white[i]
    return [of(0), of(1), of(2)]
  }
  return {
    ...target,
    curve: { ...target.curve, channelsOf },
    xyzOf: (signal) => multiply(channelMatrix.matrix, sharesOf(signal)),
  }
}

/** Luminance of white in a state, cd/m²; undefined where the state does not belong to the model of greys. */
export const whiteOf = (context: RouteContext, state: State): number | undefined => {
  const model = context.grey()
  if (!model) return undefined
  return model.memo.recall('white-in-state', model, keyOf(context.facts, state), () => {
    const amounts = amountsOf(model, state)
    if (!amounts) return undefined
    const at = model.levels.length - 1
    return model.white * model.lightOf(state) * drivesAt(model, at, amounts).tone ** model.exponent
  })
}

type Curves = ReadonlyArray<ReadonlyArray<readonly [number, number]>>
/** Light of each channel of grey by level in a state, white being 1, for bringing a colour over from one white to another. */
const channelCurves = (model: GreyModel, state: State): Curves | undefined =>
  model.memo.recall('channel-curves', model, keyOf(model, state), () => curvesIn(model, state))

const curvesIn = (model: GreyModel, state: State): Curves | undefined => {
  const amounts = amountsOf(model, state)
  if (!amounts) return undefined
  const drives = model.levels.map((_, at) => drivesAt(model, at, amounts))
  const top = drives.at(-1)!
  const g = (d: typeof top) => Math.max(1e-9, d.tone / top.tone) ** model.exponent
  const ratio = (drive: number, level: number) => Math.max(1e-9, drive / level) ** model.exponent
  const curve = (of: (d: typeof top, level: number) => number) =>
    model.levels.map((level, at) => [level, of(drives[at]!, level)] as const)
  return [
    curve((d, l) => g(d) * ratio(d.red, l)),
    curve((d) => g(d)),
    curve((d, l) => g(d) * ratio(d.blue, l)),
  ]
}

/** Level at which a rising curve has a value, and its value at a level; on log scales, held in proportion beyond the ends. */
const levelAt = (
  curve: ReadonlyArray<readonly [number, number]>,
  value: number,
  exponent: number,
): number => {
  const [l0, v0] = curve[0]!
  if (value <= v0) return l0 * (Math.max(1e-12, value) / v0) ** (1 / exponent)
  for (let i = 1; i < curve.length; i++) {
    const [a, va] = curve[i - 1]!
    const [b, vb] = curve[i]!
    if (value <= vb) return a * (b / a) ** (Math.log(value / va) / Math.log(vb / va))
  }
  const [l1, v1] = curve.at(-1)!
  return l1 * (value / v1) ** (1 / exponent)
}
const valueAtLevel = (
  curve: ReadonlyArray<readonly [number, number]>,
  level: number,
  exponent: number,
): number => {
  const [l0, v0] = curve[0]!
  if (level <= l0) return v0 * (level / l0) ** exponent
  for (let i = 1; i < curve.length; i++) {
    const [a, va] = curve[i - 1]!
    const [b, vb] = curve[i]!
    if (level <= b) return va * (vb / va) ** (Math.log(level / a) / Math.log(b / a))
  }
  const [l1, v1] = curve.at(-1)!
  return v1 * (level / l1) ** exponent
}

/** A colour reading as it would read in the present white and tone: channel by channel along the grey curves. */
const broughtOver = (context: RouteContext, model: GreyModel, reading: RouteReading): XYZ | undefined => {
  const { facts, channelMatrix } = context
  if (!channelMatrix) return undefined
  const then = channelCurves(model, reading.state)
  const here = channelCurves(model, facts.state)
  const [whiteThen, whiteNow] = [whiteOf(context, reading.state), whiteOf(context, facts.state)]
  if (!then || !here || !whiteThen || !whiteNow) return undefined
  const shares = channelShares(channelMatrix, reading.xyz, model.lightOf(reading.state))
  const moved = shares.map((share, c) => {
    const value = share / (model.wanted[c]! * whiteThen)
    if (value <= 0) return share * (whiteNow / whiteThen)
    const level = levelAt(then[c]!, value, model.exponent)
    return valueAtLevel(here[c]!, level, model.exponent) * model.wanted[c]! * whiteNow
  }) as [number, number, number]
  return lightOfShares(channelMatrix, moved, model.lightOf(facts.state))
}

/** Roles that set readings of colours apart altogether, and those that make white another one. */
const APART: readonly Role[] = ['picture-mode', 'gamut', 'range', 'dynamic-contrast']
const ONE_WHITE: readonly Role[] = [...COLOUR, 'peak-luminance']

/**
 * Readings of colours: those in the present white as they are; the others, the newest of each patch in each state of colour management, brought over: what a
 * click does is not forgotten with the next click of luminance.
 */
export const coloursOf = (context: RouteContext, model: GreyModel | undefined): ColourObservation[] => {
  const { facts } = context
  const fresh = new Map<string, ColourObservation>()
  const other = new Map<string, RouteReading>()
  for (const r of facts.readings) {
    if (
      greyLevel(r.patch) !== undefined ||
      r.patch.layout ||
      r.patch.window ||
      r.patch.key.startsWith('feed-')
    )
      continue
    if (differsIn(facts, APART, r.state, facts.state).length) continue
    const same = differsIn(facts, ONE_WHITE, r.state, facts.state).length === 0
    const key = `${r.patch.key} ${colourKey(context, r.state)}`
    if (same) {
      fresh.set(key, {
        id: r.id,
        patch: r.patch,
        xyz: r.xyz,
        sigma: r.sigma ?? undefined,
        state: r.state,
        brought: false,
      })
    } else other.set(key, r)
  }
  const out = [...fresh.values()]
  for (const [key, r] of other) {
    if (fresh.has(key)) continue
    const xyz = model && broughtOver(context, model, r)
    if (xyz) out.push({ id: r.id, patch: r.patch, xyz, state: r.state, brought: true })
  }
  return out
}

export const colourKey = ({ byRole }: RouteContext, state: State): string =>
  byRole.colours.map((c) => state[c.control.key]).join(';')

/**
 * What colours are made of under the gamut that is on, and the light of the panel then: the factory's primaries, or those that were read
 * under another gamut. A colour that was not read yet is expected to be mixed of them.
 */
export const matrixOfGamut = (
  context: RouteContext,
  model: GreyModel | undefined,
): { channelMatrix: ChannelMatrix; light: number; readingIds: readonly number[] } | undefined => {
  const { byRole, facts, outOfBox, channelMatrix } = context
  if (!channelMatrix || !outOfBox) return undefined
  const lightOf = (state: State) => model?.lightOf(state) ?? 1
  const readingIds = context.matrixIds
  const now = lightOf(facts.state)
  const { gamut } = byRole
  if (!gamut || outOfBox.state[gamut.key] === facts.state[gamut.key])
    return { channelMatrix, light: now, readingIds }
  const atRest = (state: State) =>
    byRole.colours.every((c) => state[c.control.key] === (c.control.neutral ?? c.control.default))
  const [red, green, blue] = context.patches.primaries.map(({ key }) =>
    facts.readings.findLast(
      (r) =>
        r.patch.key === key && differsIn(facts, APART, r.state, facts.state).length === 0 && atRest(r.state),
    ),
  )
  if (!red || !green || !blue) return { channelMatrix, light: now, readingIds }
  const then = lightOf(red.state)
  const black = channelMatrix.black.map((v) => v * then) as unknown as XYZ
  const own = channelMatrixOf(red.xyz, green.xyz, blue.xyz, black)
  return own
    ? { channelMatrix: own, light: now / then, readingIds: [red.id, green.id, blue.id, ...readingIds] }
    : { channelMatrix, light: now, readingIds }
}
