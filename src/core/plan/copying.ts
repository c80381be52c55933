import {
  BT709_PRIMARIES,
  type Chromaticity,
  columns,
  D65,
  deltaE2000,
  invert,
  multiply,
  rgbToXyzMatrix,
  uvToXy,
  type XYZ,
  xyToXyz,
  xyzToLab,
  xyzToUv,
} from '#core/colorimetry'
import type { Control, State } from '#core/display'
import { isMemoryColour, JUDGED_LEVELS } from '#core/measure'
import { amountsOf, channelsUnder, type Drives, drivesAt, type GreyModel } from '#core/model'
import { normal } from '#core/random'
import { errorOfDrives, type GreyAim, weightedMean } from '#core/solve'
import { aimOf } from '#core/steps'
import type { Route } from './route'

/** How units of one model differ, one standard deviation each. */
export interface UnitSpread {
  /** Light of each channel against the others, as a share. */
  readonly channels: number
  /** Exponent of each channel's curve. */
  readonly exponents: number
  /** What single levels stray besides, as a share of light. */
  readonly levels: number
  /** Chromaticity of each primary, in each of u′ and v′. */
  readonly primaries: number
}

/** Assumed where no units were compared: what makers of panels state as their own tolerance of white and primaries, about Δu′v′ 0.003. */
export const USUAL_SPREAD: UnitSpread = { channels: 0.02, exponents: 0.02, levels: 0.004, primaries: 0.002 }

/** How many units the usual spread counts for beside units that were measured. */
const USUAL_COUNTS_FOR = 4

/**
 * How units differ, from white out of the box of those that were measured, with the usual spread standing in as long as they are few: an estimate of
 * variance with a prior of so many degrees of freedom (scaled inverse chi-square; Gelman et al., Bayesian Data Analysis, 3.3). In: chromaticities of white
 * of each unit in one picture mode. Out: spread; exponents and levels stay in proportion to channels.
 */
export const spreadOfUnits = (whites: readonly Chromaticity[]): UnitSpread => {
  const matrix = invert(rgbToXyzMatrix(BT709_PRIMARIES, xyToXyz(D65, 1))!)!
  const ratios = whites.map((xy) => {
    const [r, g, b] = multiply(matrix, xyToXyz(xy, 1))
    return [Math.log(r / g), Math.log(b / g)] as const
  })
  if (ratios.length < 2 || ratios.flat().some((v) => !Number.isFinite(v))) return USUAL_SPREAD
  const squares = ([0, 1] as const).map((i) => {
    const mean = ratios.reduce((sum, own) => sum + own[i], 0) / ratios.length
    return ratios.reduce((sum, own) => sum + (own[i] - mean) ** 2, 0)
  })
  // A ratio of two channels varies by both.
  const sum = (squares[0]! + squares[1]!) / 2
  const freedom = 2 * (ratios.length - 1)
  const channels = Math.sqrt(
    (USUAL_COUNTS_FOR * USUAL_SPREAD.channels ** 2 + sum) / (USUAL_COUNTS_FOR + freedom),
  )
  const k = channels / USUAL_SPREAD.channels
  return { ...USUAL_SPREAD, channels, exponents: k * USUAL_SPREAD.exponents, levels: k * USUAL_SPREAD.levels }
}

/** What copying a block of values does to other units of the model. Errors: average ΔE00, luminance excluded, of greys; of colours for colour management. */
export interface Copying {
  readonly block: 'two-point' | 'levels' | 'colour'
  readonly units: number
  /** Share of the units that it makes better, and worse, by more than a twentieth of ΔE00. */
  readonly better: number
  readonly worse: number
  /** Average error with the block left alone, and with it copied. */
  readonly alone: number
  readonly copied: number
}

/** ΔE00 by which a unit has to change to count as better or worse. */
const MATTERS = 0.05

/** How another unit differs from the measured one, as factors of its drives at some levels, by their place. */
type Deviation = ReadonlyArray<{ readonly at: number; readonly red: number; readonly blue: number }>

const drawUnit = (
  model: GreyModel,
  places: readonly number[],
  spread: UnitSpread,
  deviate: () => number,
): Deviation => {
  const channel = () => ({ light: spread.channels * deviate(), exponent: spread.exponents * deviate() })
  const [red, green, blue] = [channel(), channel(), channel()]
  const factor = (of: typeof red, level: number): number => {
    // Light of a channel against green's: a share all over, a curve of its own, and what the level strays.
    const log = of.light - green.light + (of.exponent - green.exponent) * Math.log(Math.max(0.01, level))
    return Math.exp((log + spread.levels * deviate()) / model.exponent)
  }
  return places.map((at) => ({
    at,
    red: factor(red, model.levels[at]!),
    blue: factor(blue, model.levels[at]!),
  }))
}

/** Drives on another unit, at the levels that count; the others are not looked at. */
const onUnit = (drives: readonly Drives[], unit: Deviation): Drives[] => {
  const out = drives.slice()
  for (const { at, red, blue } of unit) {
    const own = drives[at]!
    out[at] = { ...own, red: own.red * red, blue: own.blue * blue }
  }
  return out
}

/** Errors of states on drawn units. In: model; what is judged; drives of each state; units, how they differ, seed. Out: by unit, one for each state. */
const errorsOnUnits = (
  model: GreyModel,
  aim: GreyAim,
  states: ReadonlyArray<readonly Drives[]>,
  { units, spread, seed }: Drawing,
): number[][] => {
  const deviate = normal(seed)
  // White is what luminance is told against.
  const places = [...new Set([...aim.levels.map((l) => l.at), model.levels.length - 1])]
  return Array.from({ length: units }, () => {
    const unit = drawUnit(model, places, spread, deviate)
    return states.map((drives) => errorOfDrives(model, aim, onUnit(drives, unit)))
  })
}

/** What a block does that leads from one state to the next. In: errors by unit; places of the states. */
const comparedOn = (errors: readonly number[][], from: number, to: number): Omit<Copying, 'block'> => {
  const mean = (of: (own: readonly number[]) => number) =>
    errors.reduce((sum, own) => sum + of(own), 0) / Math.max(1, errors.length)
  return {
    units: errors.length,
    better: mean((own) => (own[to]! < own[from]! - MATTERS ? 1 : 0)),
    worse: mean((own) => (own[to]! > own[from]! + MATTERS ? 1 : 0)),
    alone: mean((own) => own[from]!),
    copied: mean((own) => own[to]!),
  }
}

/** What copying white values does: each block is judged on top of those before it, the two-point values on the preset, single levels on both. */
const copyingOfWhite = ({ context }: Route, { units, spread, seed }: Drawing): Copying[] => {
  const model = context.greyByLevel()
  if (!model) return []
  const { facts, byRole } = context
  const aim = { ...aimOf(context, model, JUDGED_LEVELS, 0), light: model.lightOf(facts.state) }
  const neutral = (controls: readonly Control[]): State =>
    Object.fromEntries(
      controls.map((c) => [c.key, (c.kind === 'number' ? c.neutral : undefined) ?? c.default]),
    )
  const gains = [...Object.values(byRole.gain), ...Object.values(byRole.cut)]
  const levels = byRole.levelWhite.map((l) => l.control)
  const twoPoint = { ...facts.state, ...neutral(levels) }
  const preset = { ...twoPoint, ...neutral(gains) }
  const states = [preset, twoPoint, facts.state].map((state) => {
    const amounts = amountsOf(model, state)
    return amounts && model.levels.map((_, at) => drivesAt(model, at, amounts))
  })
  const known = states.filter((s) => s !== undefined)
  if (known.length < states.length) return []
  const errors = errorsOnUnits(model, aim, known, { units, spread, seed })
  const moved = (a: State, b: State, controls: readonly Control[]) =>
    controls.some((c) => a[c.key] !== b[c.key])
  return [
    ...(moved(preset, twoPoint, gains) ? [{ block: 'two-point' as const, ...comparedOn(errors, 0, 1) }] : []),
    ...(moved(twoPoint, facts.state, levels)
      ? [{ block: 'levels' as const, ...comparedOn(errors, 1, 2) }]
      : []),
  ]
}

/** How units are drawn: how many, how they differ, seed. */
interface Drawing {
  readonly units: number
  readonly spread: UnitSpread
  readonly seed: number
}

/** Light of the three channels of a unit at their full, its white being that of the model: another unit's primaries lie elsewhere, its white was set like this one's. */
const drawPrimaries = (
  own: readonly XYZ[],
  white: XYZ,
  spread: UnitSpread,
  deviate: () => number,
): readonly XYZ[] | undefined => {
  const moved = own.map((xyz): XYZ => {
    const [u, v] = xyzToUv(xyz)
    return xyToXyz(uvToXy([u + spread.primaries * deviate(), v + spread.primaries * deviate()]), 1)
  })
  const inverse = invert(columns(moved[0]!, moved[1]!, moved[2]!))
  const shares = inverse && multiply(inverse, white)
  return shares && moved.map((xyz, i) => xyz.map((v) => v * shares[i]!) as unknown as XYZ)
}

/** What copying colour management does: error of memory colours, primaries and secondaries with its values as they come, and copied. */
const copyingOfColour = ({ context, colour }: Route, { units, spread, seed }: Drawing): Copying[] => {
  const { model, target } = colour ?? {}
  if (!model || !target || model.clicks.every((n) => n === 0)) return []
  const copied = model.clicks.map(() => 0)
  const alone = model.clicks.map((n) => -n)
  const judged = model.patches.flatMap((patch, p) =>
    isMemoryColour(patch.key) || context.patches.six.some((one) => one.key === patch.key)
      ? [{ patch, p }]
      : [],
  )
  const patches = judged.map((j) => j.patch)
  const point = xyToXyz(target.whitePoint, target.white)
  const wanted = patches.map((patch) => xyzToLab(target.xyzOf(patch.signal), point))
  const states = [alone, copied].map((clicks) => judged.map(({ p }) => channelsUnder(model, p, clicks)))
  const black = model.toXyz([0, 0, 0])
  const above = (channels: readonly [number, number, number]): XYZ => {
    const xyz = model.toXyz(channels)
    return [xyz[0] - black[0], xyz[1] - black[1], xyz[2] - black[2]]
  }
  const own = [above([1, 0, 0]), above([0, 1, 0]), above([0, 0, 1])]
  const white = above([1, 1, 1])
  const deviate = normal(seed)
  const errors = Array.from({ length: units }, () => {
    const [r, g, b] = drawPrimaries(own, white, spread, deviate) ?? own
    return states.map((channels) =>
      weightedMean(
        patches,
        channels.map(([cr, cg, cb], i) => {
          const at = (k: 0 | 1 | 2) => black[k] + cr * r![k] + cg * g![k] + cb * b![k]
          return deltaE2000(wanted[i]!, xyzToLab([at(0), at(1), at(2)], point))
        }),
      ),
    )
  })
  return [{ block: 'colour', ...comparedOn(errors, 0, 1) }]
}

/**
 * What copying the values of a case does to other units of the model, block by block. In: route; how many units are drawn, how they differ, seed.
 * Out: blocks that were moved; none where white, or colour, is not known.
 */
export const copyingOf = (
  route: Route,
  { units = 10_000, spread = USUAL_SPREAD, seed = 1 }: Partial<Drawing> = {},
): Copying[] => [
  ...copyingOfWhite(route, { units, spread, seed }),
  ...copyingOfColour(route, { units, spread, seed }),
]
