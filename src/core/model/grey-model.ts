import { type Chromaticity, multiply, type RGB, type XYZ, xyToXyz } from '#core/colorimetry'
import type { Channel, Control, ControlSheet, State } from '#core/display'
import type { MeterPrecision } from '#core/measure'
import type { Memo } from '#core/memo'
import { ASPECTS, type Aspect } from './aspect'
import { ceilingsOf, type Expectation } from './ceilings'
import { type ChannelMatrix, lightOfShares } from './channel-matrix'
import { cholesky } from './cholesky'
import { controlsByRole } from './controls-by-role'
import { affectsGrey, type EffectPrior, expectedEffect } from './expected-response'
import type { FaultKind } from './fault'
import { type Feature, fitAspect, type Prepared, table, under } from './grey-aspect'
import {
  type Difference,
  type Drives,
  differenceIn,
  featureList,
  type GreyObservation,
  preparedFrom,
  splitReadings,
} from './grey-readings'
import type { LevelShape } from './level-pages'
import { levelShapeOf } from './level-shape'
import { TOP_LEVEL } from './tuning'

export interface GreyModel {
  /** What was reckoned from it before. */
  readonly memo: Memo
  readonly sheet: ControlSheet
  readonly reference: State
  readonly channelMatrix: ChannelMatrix
  readonly target: Chromaticity
  /** Shares of the channels that make one cd/m² of the target white. */
  readonly wanted: RGB
  /** Exponent between drive and light. */
  readonly exponent: number
  /** Luminance of white in the reference state as green alone tells it, cd/m². */
  readonly white: number
  /** Levels that can be predicted, rising. */
  readonly levels: readonly number[]
  readonly features: readonly Feature[]
  /** Drive at each level in the reference state. */
  readonly base: Readonly<Record<Aspect, Float64Array>>
  /** Drive that one click of each feature adds at each level. */
  readonly effect: Readonly<Record<Aspect, readonly Float64Array[]>>
  /**
   * How much better the readings are explained if one of the features is faulty: logarithm of the ratio of likelihoods. In: aspect, place of
   * the feature, what is supposed of it.
   */
  readonly betterIf: (aspect: Aspect, feature: number, fault: FaultKind) => number
  /**
   * How surprising the readings are that a feature had a part in, each against what all others say of it: the largest, in standard
   * deviations. In: aspect, place of the feature.
   */
  readonly surprise: (aspect: Aspect, feature: number) => number
  /** Covariance of the drives at all levels under some amounts of the features, row by row. */
  readonly covariance: (aspect: Aspect, amounts: Float64Array) => Float64Array
  /**
   * Highest light of each channel, against what it gives to the reference's white were that at the target; infinite where none was met. It
   * holds under the preset and the tone curve of now.
   */
  readonly ceiling: RGB
  /** How its level-by-level controls act. */
  readonly levelShape: LevelShape
  /** Readings that it rests on, and the drives that they showed. */
  readonly observations: readonly GreyObservation[]
  readonly drives: readonly Drives[]
  /** Panel light of a state against the reference's. */
  readonly lightOf: (state: State) => number
}

const isLevel = (control: Control): boolean => control.role === 'level-white' || control.role === 'level-tone'

/** Channels that an aspect is read from, as places. */
const CHANNELS_OF: Readonly<Record<Aspect, readonly number[]>> = { red: [0, 1], blue: [2, 1], tone: [1] }

/**
 * Whether a state has the choices of now: another preset or tone curve moves what its channels can give at most. In: in what the state and the
 * present one differ from the reference.
 */
const sameChoices = (difference: NonNullable<Difference>, now: NonNullable<Difference>): boolean => {
  const chosen = (d: NonNullable<Difference>) => d.flatMap(([f]) => (f.choice === undefined ? [] : [f.key]))
  const [a, b] = [chosen(difference), new Set(chosen(now))]
  return a.length === b.size && a.every((key) => b.has(key))
}

/** Drives that fits expect of a reading, with their standard deviations. */
const expectationAt = (
  fits: Readonly<Record<Aspect, ReturnType<typeof fitAspect>>>,
  amounts: Prepared['features'],
  features: readonly Feature[],
  at: number,
): Expectation => {
  const whole = new Float64Array(features.length)
  for (const [f, n] of amounts) whole[f] = n
  const of = (aspect: Aspect) => {
    const { base, effect, covariance } = fits[aspect]
    const mean = amounts.reduce((sum, [f, n]) => sum + n * effect[f]![at]!, base[at]!)
    const size = base.length
    return { mean, sigma: Math.sqrt(Math.max(0, covariance(whole)[at * size + at]!)) }
  }
  const raised = (['red', 'tone', 'blue'] as const).map((aspect) => {
    const channel = aspect === 'tone' ? 'green' : aspect
    return amounts.reduce(
      (sum, [f, n]) => (raises(features[f]!, channel) ? sum + n * fits[aspect].effect[f]![at]! : sum),
      0,
    )
  }) as unknown as RGB
  return { red: of('red'), blue: of('blue'), tone: of('tone'), raised }
}

/** Whether a feature moves a channel as a whole, white included. */
const raises = ({ control, choice }: Feature, channel: Channel): boolean =>
  // Presets turn red and blue about green.
  (choice !== undefined && channel !== 'green') ||
  (isLevel(control)
    ? control.channel === channel && (control.level ?? 0) >= TOP_LEVEL
    : control.channel === channel)

/**
 * Learns how greys answer to the controls of a display, from readings in any number of states.
 *
 * A grey is split into its channels. Red and blue are looked at against green, as *drives*: level · (amount / wanted amount of
 * green)^(1/exponent), so that at the target white a drive equals its level and panel light cancels out; green's own
 * drive is the tone. Each drive is a Gaussian process over the level plus, for each click, an effect that is one itself, with
 * the usual size and shape for what the control is for (`expected-response.ts`). Everything that was read steadies everything else.
 *
 * In: sheet; reference state; channel matrix; target white; exponent; readings (level above 0, reference state included); levels to predict;
 * controls that may be moved next; panel light of a state against the reference; how level-by-level controls act; what was
 * learned elsewhere; controls of which is known that they are dead or turned around; the state to be right at. Out: model, or undefined where the target lies outside the channels or the
 * reference white was not read.
 */
export const fitGreyModel = (input: {
  memo: Memo
  sheet: ControlSheet
  reference: State
  channelMatrix: ChannelMatrix
  target: Chromaticity
  exponent: number
  observations: readonly GreyObservation[]
  levels: readonly number[]
  movable: readonly Control[]
  precision: MeterPrecision
  lightOf: (state: State) => number
  levelShape?: LevelShape
  learned?: (control: string, aspect: Aspect) => EffectPrior | undefined
  faults?: ReadonlyMap<string, FaultKind>
  now: State
}): GreyModel | undefined => {
  const { memo, sheet, reference, channelMatrix, target, exponent, precision, lightOf, now } = input
  const byRole = controlsByRole(sheet)
  const share = multiply(channelMatrix.inverse, xyToXyz(target, 1))
  if (share.some((s) => !(s > 0))) return undefined
  const wanted: RGB = share

  const { features, place } = featureList()
  for (const control of input.movable)
    if (control.kind === 'number' && affectsGrey(control)) place({ key: control.key, control })

  const split = splitReadings(input)
  const whites = split.filter((s) => s.o.level === 1 && s.difference.length === 0)
  const white = whites.length
    ? whites.reduce((sum, s) => sum + s.shares[1] / wanted[1] / s.light, 0) / whites.length
    : undefined
  if (white === undefined) return undefined

  const differenceNow = differenceIn(memo, sheet, reference, now) ?? []
  const here = new Map(differenceNow.map(([f, n]) => [f.key, n]))
  const prepared = split.map((one) =>
    preparedFrom(one, { channelMatrix, wanted, exponent, white, precision }, place),
  )
  const levels = [...new Set([...input.levels, ...prepared.map((p) => p.level)])].sort((a, b) => a - b)
  const levelShape = input.levelShape ?? levelShapeOf(byRole, { red: [], blue: [], tone: [] })
  const shapeKey = JSON.stringify(levelShape)
  const grid = levels.join()
  const learn = (aspect: Aspect, from: readonly Prepared[]) =>
    fitAspect(aspect, from, features, levels, here, ({ control, choice }) => {
      const learned = choice === undefined ? input.learned?.(control.key, aspect) : undefined
      const prior = learned ? `${learned.sigma} ${learned.mean.join()}` : ''
      const fault = input.faults?.get(control.key)
      // What is expected of a control does not change from plan to plan.
      return memo.recall(
        'effect-table',
        sheet,
        `${control.key} ${choice ?? ''} ${aspect} ${isLevel(control) ? shapeKey : ''} ${grid} ${fault} ${prior}`,
        () => {
          const usual = table(expectedEffect(byRole, control, aspect, levelShape, learned), levels)
          return fault ? under(fault, usual) : usual
        },
      )
    })
  const fitAll = (of: (aspect: Aspect) => readonly Prepared[]) => ({
    red: learn('red', of('red')),
    blue: learn('blue', of('blue')),
    tone: learn('tone', of('tone')),
  })
  const readings = split.map(({ o, difference, light, shares }, i) => ({
    level: o.level,
    amounts: prepared[i]!.features,
    likeNow: sameChoices(difference, differenceNow),
    inReference: difference.length === 0,
    relative: [0, 1, 2].map((c) => shares[c]! / light / wanted[c]! / white) as unknown as RGB,
    drives: prepared[i]!.y,
  }))
  const { ceiling, clipped } = ceilingsOf(readings, exponent, (rest) => {
    const fits = fitAll(() => prepared.filter((_, i) => rest(i)))
    return (i) => expectationAt(fits, readings[i]!.amounts, features, levels.indexOf(readings[i]!.level))
  })
  const fits = fitAll((aspect) =>
    prepared.filter((_, i) => !CHANNELS_OF[aspect].some((c) => clipped[i]!.has(c))),
  )
  return {
    memo,
    sheet,
    reference,
    channelMatrix,
    target,
    wanted,
    exponent,
    white,
    levels,
    features,
    base: { red: fits.red.base, blue: fits.blue.base, tone: fits.tone.base },
    effect: { red: fits.red.effect, blue: fits.blue.effect, tone: fits.tone.effect },
    betterIf: (aspect, feature, fault) => fits[aspect].betterIf(feature, fault),
    surprise: (aspect, feature) => fits[aspect].surprise(feature),
    covariance: (aspect, amounts) => fits[aspect].covariance(amounts),
    levelShape,
    ceiling,
    observations: split.map((s) => s.o),
    drives: prepared.map((p) => p.y),
    lightOf,
  }
}

/** Amounts of the model's features in a state; undefined where the state does not belong to the model. */
export const amountsOf = (model: GreyModel, state: State): Float64Array | undefined => {
  const difference = differenceIn(model.memo, model.sheet, model.reference, state)
  if (!difference) return undefined
  const out = new Float64Array(model.features.length)
  for (const [feature, amount] of difference) {
    const i = model.features.findIndex((f) => f.key === feature.key)
    if (i >= 0) out[i] = amount
  }
  return out
}

/** Drives that are expected at a level under some amounts. In: model, place of the level in the model's, amounts. */
export const drivesAt = (model: GreyModel, at: number, amounts: Float64Array): Drives => {
  const of = (aspect: Aspect): number => {
    let sum = model.base[aspect][at]!
    const effects = model.effect[aspect]
    for (let f = 0; f < amounts.length; f++) {
      const amount = amounts[f]!
      if (amount !== 0) sum += amount * effects[f]![at]!
    }
    return sum
  }
  return { red: of('red'), blue: of('blue'), tone: of('tone') }
}

/** Light of drives at a level. In: model, level 0…1, drives, panel light against the reference. Out: absolute XYZ, cd/m². */
export const lightOfDrives = (
  model: Pick<GreyModel, 'exponent' | 'wanted' | 'channelMatrix' | 'white' | 'ceiling'>,
  level: number,
  drives: Drives,
  light: number,
): XYZ => {
  const { exponent, wanted, channelMatrix, white, ceiling } = model
  const unit = light * white
  const green = Math.max(0, drives.tone) ** exponent
  const part = (drive: number) => green * Math.max(0, drive / level) ** exponent
  const held = (relative: number, c: 0 | 1 | 2) => unit * Math.min(relative, ceiling[c]) * wanted[c]
  const shares: RGB = [held(part(drives.red), 0), held(green, 1), held(part(drives.blue), 2)]
  return lightOfShares(channelMatrix, shares, light)
}

/** Light that is expected at each of the model's levels in a state. Out: absolute XYZ, cd/m², rising; undefined as `amountsOf`. */
export const predictGrey = (model: GreyModel, state: State): XYZ[] | undefined => {
  const amounts = amountsOf(model, state)
  if (!amounts) return undefined
  const light = model.lightOf(state)
  return model.levels.map((level, at) => lightOfDrives(model, level, drivesAt(model, at, amounts), light))
}

/** The drives at all levels under some amounts, with what is not known of them. */
export interface GreySpread {
  readonly drives: readonly Drives[]
  /** Principal directions of what is uncertain, one standard deviation each: by aspect, one column after the other. */
  readonly columns: Readonly<Record<Aspect, readonly Float64Array[]>>
}

/** What the model expects under some amounts and how sure it is. */
export const spreadUnder = (model: GreyModel, amounts: Float64Array): GreySpread => {
  const of = (aspect: Aspect): Float64Array[] => {
    const covariance = model.covariance(aspect, amounts)
    const n = model.levels.length
    for (let i = 0; i < n; i++) covariance[i * n + i] = covariance[i * n + i]! + 1e-12
    const lower = cholesky(covariance, n)
    return model.levels.map((_, column) => Float64Array.from(model.levels, (__, i) => lower[i * n + column]!))
  }
  return {
    drives: model.levels.map((_, at) => drivesAt(model, at, amounts)),
    columns: { red: of('red'), blue: of('blue'), tone: of('tone') },
  }
}

/**
 * Standard deviation of a quantity of the drives at all levels, by one step along each principal direction of what is
 * uncertain. In: spread, quantity. Out: in the quantity's unit.
 */
export const sigmaOf = (
  { drives, columns }: GreySpread,
  quantity: (drives: readonly Drives[]) => number,
): number => {
  const value = quantity(drives)
  let variance = 0
  for (const aspect of ASPECTS)
    for (const column of columns[aspect]) {
      const moved = drives.map((d, at) => ({ ...d, [aspect]: d[aspect] + column[at]! }))
      const change = quantity(moved) - value
      if (Number.isFinite(change)) variance += change ** 2
    }
  return Math.sqrt(variance)
}

/** Standard deviation of one aspect at one level. */
export const sigmaAt = ({ columns }: GreySpread, aspect: Aspect, at: number): number =>
  Math.hypot(...columns[aspect].map((column) => column[at]!))

/** Whether red or blue were seen to run out of drive near white. */
export const runsOut = ({ ceiling }: GreyModel): boolean =>
  Number.isFinite(ceiling[0]) || Number.isFinite(ceiling[2])

/** Index of a control's clicks among the model's features, or -1. */
export const featureOf = (model: GreyModel, control: string): number =>
  model.features.findIndex((f) => f.choice === undefined && f.key === control)
