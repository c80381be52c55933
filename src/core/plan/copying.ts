import type { Control, State } from '#core/display'
import { JUDGED_LEVELS } from '#core/measure'
import { amountsOf, type Drives, drivesAt, type GreyModel } from '#core/model'
import { normal } from '#core/random'
import { errorOfDrives, type GreyAim } from '#core/solve'
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
}

/** Assumed where no units were compared: what makers of panels state as their own tolerance of white, about Δu′v′ 0.003. */
export const USUAL_SPREAD: UnitSpread = { channels: 0.02, exponents: 0.02, levels: 0.004 }

/** What copying a block of white values does to other units of the model. Errors: average greyscale ΔE00, luminance excluded. */
export interface Copying {
  readonly block: 'two-point' | 'levels'
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

/** How another unit differs from the measured one, as factors of its drives at each level. */
type Deviation = ReadonlyArray<{ readonly red: number; readonly blue: number }>

const drawUnit = (model: GreyModel, spread: UnitSpread, deviate: () => number): Deviation => {
  const channel = () => ({ light: spread.channels * deviate(), exponent: spread.exponents * deviate() })
  const [red, green, blue] = [channel(), channel(), channel()]
  const factor = (of: typeof red, level: number): number => {
    // Light of a channel against green's: a share all over, a curve of its own, and what the level strays.
    const log = of.light - green.light + (of.exponent - green.exponent) * Math.log(Math.max(0.01, level))
    return Math.exp((log + spread.levels * deviate()) / model.exponent)
  }
  return model.levels.map((level) => ({ red: factor(red, level), blue: factor(blue, level) }))
}

const onUnit = (drives: readonly Drives[], unit: Deviation): Drives[] =>
  drives.map((d, at) => ({ ...d, red: d.red * unit[at]!.red, blue: d.blue * unit[at]!.blue }))

/** Errors of states on drawn units. In: model; what is judged; drives of each state; units, how they differ, seed. Out: by unit, one for each state. */
const errorsOnUnits = (
  model: GreyModel,
  aim: GreyAim,
  states: ReadonlyArray<readonly Drives[]>,
  { units, spread, seed }: { units: number; spread: UnitSpread; seed: number },
): number[][] => {
  const deviate = normal(seed)
  return Array.from({ length: units }, () => {
    const unit = drawUnit(model, spread, deviate)
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

/**
 * What copying the white values of a case does to other units of the model: each block is judged on top of those before it, the two-point values on
 * the preset, single levels on both. In: route; how many units are drawn, how they differ, seed. Out: blocks that were moved; none where white is not known.
 */
export const copyingOf = (
  { context }: Route,
  { units = 10_000, spread = USUAL_SPREAD, seed = 1 } = {},
): Copying[] => {
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
