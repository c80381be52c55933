import { LuDecomposition, Matrix } from 'ml-matrix'
import { type Chromaticity, multiply, type RGB, type XYZ, xyToXyz } from '#core/colorimetry'
import type { Control, ControlSheet, ControlValue, State } from '#core/display'
import { type MeterPrecision, readingSigma } from '#core/measure'
import type { Memo } from '#core/memo'
import { type ChannelMatrix, channelShares, lightOfShares } from './channel-matrix'
import { cholesky } from './cholesky'
import { controlsByRole } from './controls-by-role'
import {
  ASPECTS,
  type Aspect,
  affectsGrey,
  BREAKS_GREY,
  type Effect,
  type EffectPrior,
  expectedEffect,
} from './expected-response'
import { fitGaussian, type GaussianFit } from './gaussian'
import { DEVIATION, MODEL_ERROR } from './tuning'

/** A grey reading with the settings under which it was taken. */
export interface GreyObservation {
  readonly id: number
  /** Signal, 0…1. */
  readonly level: number
  /** Absolute XYZ and its standard errors, cd/m². */
  readonly xyz: XYZ
  readonly sigma?: XYZ
  readonly state: State
}

/**
 * One way in which a state can differ from the reference: clicks of a numeric control, or another choice of a control
 * (then its amount is 1).
 */
interface Feature {
  readonly key: string
  readonly control: Control
  readonly choice?: ControlValue
}

/** A control that does nothing, and one that does the opposite of what its label says. */
export type FaultKind = 'dead' | 'reversed'
const FAULT_SIGN: Readonly<Record<FaultKind, number>> = { dead: 0, reversed: -1 }

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
  /** Readings that it rests on, and the drives that they showed. */
  readonly observations: readonly GreyObservation[]
  readonly drives: readonly Drives[]
  /** Panel light of a state against the reference's. */
  readonly lightOf: (state: State) => number
}

const baseCovariance = (a: number, b: number): number => {
  const { common, smooth, length, offset, own } = DEVIATION
  return (
    a * b * (common ** 2 + smooth ** 2 * Math.exp(-((a - b) ** 2) / (2 * length ** 2))) +
    (1 - a) * (1 - b) * offset ** 2 +
    (a === b ? (a * own) ** 2 : 0)
  )
}

/** In what a state differs from another, as amounts of features; undefined where readings in it do not belong together. */
type Difference = ReadonlyArray<readonly [Feature, number]> | undefined

/** In what a state differs from another; looked for once for each pair, since states are never changed in place. */
export const differenceIn = (memo: Memo, sheet: ControlSheet, reference: State, state: State): Difference =>
  memo.between('grey-difference', reference, state, () => lookFor(sheet, reference, state))

const lookFor = (sheet: ControlSheet, reference: State, state: State): Difference => {
  const out: Array<readonly [Feature, number]> = []
  for (const control of sheet.controls) {
    const from = reference[control.key]
    const to = state[control.key]
    if (from === to || to === undefined || from === undefined) continue
    if (BREAKS_GREY.has(control.role)) return undefined
    if (!affectsGrey(control)) continue
    if (control.kind === 'number')
      out.push([
        { key: control.key, control },
        Math.round(((Number(to) - Number(from)) / control.range.step) * 1e6) / 1e6,
      ])
    else out.push([{ key: `${control.key}=${to}`, control, choice: to }, 1])
  }
  return out
}

interface Prepared {
  readonly level: number
  readonly features: ReadonlyArray<readonly [index: number, amount: number]>
  readonly y: Readonly<Record<Aspect, number>>
  readonly sigma: Readonly<Record<Aspect, number>>
}

/**
 * Learns how greys answer to the controls of a display, from readings in any number of states.
 *
 * A grey is split into its channels. Red and blue are looked at against green, as *drives*: level · (amount / wanted amount of
 * green)^(1/exponent), so that at the target white a drive equals its level and panel light cancels out; green's own
 * drive is the tone. Each drive is a Gaussian process over the level plus, for each click, an effect that is one itself, with
 * the usual size and shape for what the control is for (`expected-response.ts`). Everything that was read steadies everything else.
 *
 * In: sheet; reference state; channel matrix; target white; exponent; readings (level above 0, reference state included); levels to predict;
 * controls that may be moved next; panel light of a state against the reference; where level-by-level controls lie; what was
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
  controlPointOffset?: Readonly<Record<Aspect, number>>
  learned?: (control: string, aspect: Aspect) => EffectPrior | undefined
  faults?: ReadonlyMap<string, FaultKind>
  now: State
}): GreyModel | undefined => {
  const { memo, sheet, reference, channelMatrix, target, exponent, precision, lightOf, now } = input
  const byRole = controlsByRole(sheet)
  const share = multiply(channelMatrix.inverse, xyToXyz(target, 1))
  if (share.some((s) => !(s > 0))) return undefined
  const wanted: RGB = share

  const features: Feature[] = []
  const places = new Map<string, number>()
  const place = (feature: Feature): number => {
    const known = places.get(feature.key)
    if (known !== undefined) return known
    features.push(feature)
    places.set(feature.key, features.length - 1)
    return features.length - 1
  }
  for (const control of input.movable)
    if (control.kind === 'number' && affectsGrey(control)) place({ key: control.key, control })

  const kept: GreyObservation[] = []
  const split = input.observations.flatMap((o) => {
    if (!(o.level > 0)) return []
    const difference = differenceIn(memo, sheet, reference, o.state)
    if (!difference) return []
    const light = lightOf(o.state)
    const shares = channelShares(channelMatrix, o.xyz, light)
    if (!(light > 0) || shares.some((s) => !(s > 0))) return []
    kept.push(o)
    return [{ o, difference, light, shares }]
  })
  const amountOfGreen = (s: RGB) => s[1] / wanted[1]
  const whites = split.filter((s) => s.o.level === 1 && s.difference.length === 0)
  const white = whites.length
    ? whites.reduce((sum, s) => sum + amountOfGreen(s.shares) / s.light, 0) / whites.length
    : undefined
  if (white === undefined) return undefined

  const here = new Map(differenceIn(memo, sheet, reference, now)?.map(([f, n]) => [f.key, n]) ?? [])
  const prepared = split.map(({ o, difference, light, shares }): Prepared => {
    const noise = o.sigma ?? (o.xyz.map((v) => readingSigma(v, precision)) as unknown as XYZ)
    const relative = (row: number, against?: number) => {
      const gradient = channelMatrix.inverse[row]!.map(
        (m, j) =>
          m / shares[row]! -
          (against === undefined ? 0 : channelMatrix.inverse[against]![j]! / shares[against]!),
      )
      return Math.hypot(...gradient.map((g, j) => g * noise[j]!)) / exponent
    }
    const y = drivesOfShares(o.level, shares, { wanted, exponent, white: light * white })
    return {
      level: o.level,
      features: difference.map(([f, n]) => [place(f), n] as const),
      y,
      sigma: {
        red: y.red * relative(0, 1),
        blue: y.blue * relative(2, 1),
        tone: y.tone * Math.hypot(relative(1), 0.0015),
      },
    }
  })
  const levels = [...new Set([...input.levels, ...prepared.map((p) => p.level)])].sort((a, b) => a - b)
  const controlPointOffset = input.controlPointOffset ?? { red: 1, blue: 1, tone: 1 }
  const grid = levels.join()
  const learn = (aspect: Aspect) =>
    fitAspect(aspect, prepared, features, levels, here, ({ control, choice }) => {
      const learned = choice === undefined ? input.learned?.(control.key, aspect) : undefined
      const prior = learned ? `${learned.sigma} ${learned.mean.join()}` : ''
      const fault = input.faults?.get(control.key)
      // What is expected of a control does not change from plan to plan.
      return memo.recall(
        'effect-table',
        sheet,
        `${control.key} ${choice ?? ''} ${aspect} ${controlPointOffset[aspect]} ${grid} ${fault} ${prior}`,
        () => {
          const usual = table(
            expectedEffect(byRole, control, aspect, controlPointOffset[aspect], learned),
            levels,
          )
          return fault ? under(fault, usual) : usual
        },
      )
    })
  const fits = { red: learn('red'), blue: learn('blue'), tone: learn('tone') }
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
    observations: kept,
    drives: prepared.map((p) => p.y),
    lightOf,
  }
}

/** Values of an effect's terms at the levels, with which the covariance of any two readings is put together. */
interface Tabled {
  readonly mean: Float64Array
  /** Covariance between levels of what is this control's alone; undefined where there is nothing. */
  readonly own: Float64Array | undefined
  readonly groups: ReadonlyArray<readonly [group: string, shape: Float64Array]>
  /** Usual size at each level, for what a straight line may get wrong. */
  readonly size: Float64Array
}

const table = (effect: Effect, levels: readonly number[]): Tabled => {
  const n = levels.length
  const mean = Float64Array.from(levels, effect.mean)
  const groups = new Map<string, Float64Array>()
  let own: Float64Array | undefined
  const size = Float64Array.from(mean, Math.abs)
  for (const term of effect.terms) {
    const shape = Float64Array.from(levels, (l) => term.sigma * term.shape(l))
    shape.forEach((s, i) => {
      size[i] = Math.max(size[i]!, Math.abs(s))
    })
    if (term.group) {
      groups.set(term.group, shape)
      continue
    }
    own ??= new Float64Array(n * n)
    for (let a = 0; a < n; a++) {
      if (shape[a] === 0) continue
      for (let b = 0; b < n; b++) {
        if (shape[b] === 0) continue
        const bend =
          term.length === undefined
            ? 1
            : Math.exp(-((Math.log(levels[a]! / levels[b]!) / term.length) ** 2) / 2)
        own[a * n + b] = own[a * n + b]! + shape[a]! * shape[b]! * bend
      }
    }
  }
  return { mean, own, groups: [...groups], size }
}

/** What is expected of a control that is faulty: what is its alone stays as uncertain as it was. */
const under = (fault: FaultKind, { mean, own, groups, size }: Tabled): Tabled => ({
  mean: mean.map((v) => FAULT_SIGN[fault] * v),
  own,
  groups: groups.map(([group, shape]) => [group, shape.map((v) => FAULT_SIGN[fault] * v)] as const),
  size,
})

/** Readings that a feature or a group had a part in, with how much of it, so that nothing is summed up that is zero. */
interface Share {
  readonly reading: Int32Array
  readonly amount: Float64Array
}
const shareOf = (pairs: ReadonlyArray<readonly [reading: number, amount: number]>): Share => ({
  reading: Int32Array.from(pairs, (p) => p[0]),
  amount: Float64Array.from(pairs, (p) => p[1]),
})

const fitAspect = (
  aspect: Aspect,
  observations: readonly Prepared[],
  features: readonly Feature[],
  levels: readonly number[],
  here: ReadonlyMap<string, number>,
  tableOf: (feature: Feature) => Tabled,
) => {
  const n = observations.length
  const size = levels.length
  const at = new Map(levels.map((l, i) => [l, i]))
  const tabled = features.map(tableOf)
  const base = new Float64Array(size * size)
  for (let a = 0; a < size; a++)
    for (let b = 0; b < size; b++) base[a * size + b] = baseCovariance(levels[a]!, levels[b]!)
  const level = Int32Array.from(observations, (o) => at.get(o.level)!)

  const inFeature: Array<Array<readonly [number, number]>> = features.map(() => [])
  const inGroup = new Map<string, Float64Array>()
  for (const [i, o] of observations.entries())
    for (const [f, amount] of o.features) {
      if (tabled[f]!.own) inFeature[f]!.push([i, amount])
      for (const [group, shape] of tabled[f]!.groups) {
        const held = inGroup.get(group) ?? new Float64Array(n)
        held[i] = held[i]! + amount * shape[level[i]!]!
        inGroup.set(group, held)
      }
    }
  const shares = inFeature.map(shareOf)

  const flat = new Float64Array(n * n)
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) flat[i * n + j] = base[level[i]! * size + level[j]!]!
  for (const [f, { reading, amount }] of shares.entries()) {
    const own = tabled[f]!.own
    if (!own) continue
    for (let x = 0; x < reading.length; x++) {
      const i = reading[x]!
      const row = level[i]! * size
      for (let y = 0; y <= x; y++) {
        const k = own[row + level[reading[y]!]!]!
        if (k !== 0) flat[i * n + reading[y]!] = flat[i * n + reading[y]!]! + amount[x]! * amount[y]! * k
      }
    }
  }
  for (const held of inGroup.values())
    for (let i = 0; i < n; i++) {
      if (held[i] === 0) continue
      for (let j = 0; j <= i; j++) flat[i * n + j] = flat[i * n + j]! + held[i]! * held[j]!
    }
  const hereIn = features.map((f) => here.get(f.key) ?? 0)
  const residual = new Float64Array(n)
  const sigma = new Float64Array(n)
  for (const [i, o] of observations.entries()) {
    let mean = o.level
    let away = 0
    for (let f = 0; f < features.length; f++)
      if (hereIn[f] !== 0) away += Math.abs(hereIn[f]!) * tabled[f]!.size[level[i]!]!
    for (const [f, amount] of o.features) {
      const { mean: own, size: usual } = tabled[f]!
      mean += amount * own[level[i]!]!
      away += (Math.abs(amount - hereIn[f]!) - Math.abs(hereIn[f]!)) * usual[level[i]!]!
    }
    residual[i] = o.y[aspect] - mean
    sigma[i] = Math.hypot(o.sigma[aspect], MODEL_ERROR * away, 1e-6)
  }
  const fit = fitGaussian(flat, residual, sigma)

  const meanBase = Float64Array.from(levels, (l, a) => {
    let sum = l
    for (let j = 0; j < n; j++) sum += base[a * size + level[j]!]! * fit.weights[j]!
    return sum
  })
  const groupWeight = new Map(
    [...inGroup].map(([group, held]) => [group, held.reduce((s, h, j) => s + h * fit.weights[j]!, 0)]),
  )
  const effect = features.map((_, f) => {
    const { mean, own, groups } = tabled[f]!
    const out = Float64Array.from(mean)
    const { reading, amount } = shares[f]!
    if (own)
      for (let x = 0; x < reading.length; x++) {
        const weight = amount[x]! * fit.weights[reading[x]!]!
        const column = level[reading[x]!]!
        for (let a = 0; a < size; a++) out[a] = out[a]! + weight * own[a * size + column]!
      }
    for (const [group, shape] of groups) {
      const weight = groupWeight.get(group) ?? 0
      if (weight !== 0) for (let a = 0; a < size; a++) out[a] = out[a]! + weight * shape[a]!
    }
    return out
  })
  return {
    base: meanBase,
    effect,
    // Rasmussen and Williams, as above, 5.12: left out one by one.
    surprise: (f: number): number => {
      const inverse = fit.inverse()
      let most = 0
      for (const [i, o] of observations.entries())
        if (o.features.some(([g]) => g === f))
          most = Math.max(most, Math.abs(fit.weights[i]!) / Math.sqrt(inverse[i * n + i]!))
      return most
    },
    betterIf: (f: number, fault: FaultKind): number => {
      const change = FAULT_SIGN[fault] - 1
      const { mean, groups } = tabled[f]!
      const { reading, amount } = shareOf(
        observations.flatMap((o, i) => {
          const own = o.features.find(([g]) => g === f)?.[1]
          return own === undefined ? [] : [[i, own] as const]
        }),
      )
      const moved = (shape: Float64Array) => amount.map((n, x) => change * n * shape[level[reading[x]!]!]!)
      return gainOf(
        fit,
        { reading, amount: moved(mean) },
        // Of the kernel only what the feature shares with others changes: h·hᵀ becomes h'·h'ᵀ for each group.
        groups.flatMap(([group, shape]) => {
          const held = inGroup.get(group)
          return held ? [{ held, more: { reading, amount: moved(shape) } }] : []
        }),
      )
    },
    covariance: (amounts: Float64Array): Float64Array =>
      predictiveCovariance({ n, level, inGroup, shares, tabled, base, size, fit }, amounts),
  }
}

/**
 * Gain in log-likelihood when expectations change at a few readings and, for some groups, one outer product of the kernel is replaced by
 * another: h·hᵀ by (h + more)·(h + more)ᵀ. By the matrix determinant lemma and the Woodbury identity, so that nothing is factored anew.
 */
const gainOf = (
  fit: GaussianFit,
  expected: Share,
  groups: ReadonlyArray<{ readonly held: Float64Array; readonly more: Share }>,
): number => {
  const inverse = fit.inverse()
  const n = fit.weights.length
  /** The inverse times something that is zero but for a few readings. */
  const times = ({ reading, amount }: Share): Float64Array => {
    const out = new Float64Array(n)
    for (let x = 0; x < reading.length; x++) {
      const row = reading[x]! * n
      for (let i = 0; i < n; i++) out[i] = out[i]! + amount[x]! * inverse[row + i]!
    }
    return out
  }
  const along = ({ reading, amount }: Share, v: Float64Array): number => {
    let sum = 0
    for (let x = 0; x < reading.length; x++) sum += amount[x]! * v[reading[x]!]!
    return sum
  }
  const dot = (a: Float64Array, b: Float64Array) => {
    let sum = 0
    for (let i = 0; i < n; i++) sum += a[i]! * b[i]!
    return sum
  }
  const less = times(expected)
  const weights = fit.weights.map((w, i) => w - less[i]!)
  let quadratic = -2 * along(expected, fit.weights) + along(expected, less)
  let determinant = 0
  if (groups.length) {
    // Two columns for each group: as it was, and as it would be.
    const columns = groups.flatMap(({ held, more }) => {
      const next = Float64Array.from(held)
      for (const [x, i] of more.reading.entries()) next[i] = next[i]! + more.amount[x]!
      const solved = fit.timesInverse(held)
      const further = times(more)
      return [
        { column: held, solved },
        { column: next, solved: solved.map((v, i) => v + further[i]!) },
      ]
    })
    const inner = new Matrix(columns.map((u) => columns.map((v) => dot(u.column, v.solved))))
    // The signs of the outer products, and their own inverse.
    const signs = Matrix.diag(columns.map((_, i) => (i % 2 === 0 ? -1 : 1)))
    const share = Matrix.columnVector(columns.map((u) => dot(u.column, weights)))
    const small = new LuDecomposition(Matrix.add(signs, inner))
    quadratic -= share.transpose().mmul(small.solve(share)).get(0, 0)
    determinant = Math.log(
      Math.abs(new LuDecomposition(Matrix.add(Matrix.eye(columns.length), signs.mmul(inner))).determinant),
    )
  }
  return -0.5 * (quadratic + determinant)
}

/** What is not known of the drives at all levels under some amounts of the features. */
const predictiveCovariance = (
  parts: {
    n: number
    level: Int32Array
    inGroup: ReadonlyMap<string, Float64Array>
    shares: readonly Share[]
    tabled: readonly Tabled[]
    base: Float64Array
    size: number
    fit: GaussianFit
  },
  amounts: Float64Array,
): Float64Array => {
  const { n, level, inGroup, shares, tabled, base, size, fit } = parts
  const groups = new Map<string, Float64Array>()
  const prior = Float64Array.from(base)
  const cross = new Float64Array(n * size)
  for (let j = 0; j < n; j++) for (let a = 0; a < size; a++) cross[j * size + a] = base[a * size + level[j]!]!
  for (let f = 0; f < amounts.length; f++) {
    const amount = amounts[f]!
    if (amount === 0) continue
    const { own, groups: shared } = tabled[f]!
    if (own) {
      for (let k = 0; k < own.length; k++) if (own[k] !== 0) prior[k] = prior[k]! + amount * amount * own[k]!
      const { reading, amount: held } = shares[f]!
      for (let x = 0; x < reading.length; x++) {
        const j = reading[x]!
        const column = level[j]!
        const weight = amount * held[x]!
        for (let a = 0; a < size; a++) {
          const k = own[a * size + column]!
          if (k !== 0) cross[j * size + a] = cross[j * size + a]! + weight * k
        }
      }
    }
    for (const [group, shape] of shared) {
      const sum = groups.get(group) ?? new Float64Array(size)
      for (let a = 0; a < size; a++) sum[a] = sum[a]! + amount * shape[a]!
      groups.set(group, sum)
    }
  }
  for (const [group, sum] of groups) {
    for (let a = 0; a < size; a++)
      for (let b = 0; b < size; b++) prior[a * size + b] = prior[a * size + b]! + sum[a]! * sum[b]!
    const held = inGroup.get(group)
    if (!held) continue
    for (let j = 0; j < n; j++) {
      if (held[j] === 0) continue
      for (let a = 0; a < size; a++) cross[j * size + a] = cross[j * size + a]! + held[j]! * sum[a]!
    }
  }
  if (n === 0) return prior
  const known = fit.solve(cross, size)
  for (let j = 0; j < n; j++)
    for (let a = 0; a < size; a++) {
      const c = cross[j * size + a]!
      if (c === 0) continue
      for (let b = 0; b <= a; b++) prior[a * size + b] = prior[a * size + b]! - c * known[j * size + b]!
    }
  for (let a = 0; a < size; a++) for (let b = 0; b < a; b++) prior[b * size + a] = prior[a * size + b]!
  return prior
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

/** Drives of one level: red and blue against green, and green's own. */
export type Drives = Readonly<Record<Aspect, number>>

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

/**
 * The drives that channel amounts show: the inverse of `lightOfDrives`.
 * In: level 0…1; channel amounts; amounts of the target white at 1 cd/m², exponent, luminance of white that green is measured
 * against, cd/m². Out: drives; red and blue equal the level where the light has the target's chromaticity.
 */
export const drivesOfShares = (
  level: number,
  shares: RGB,
  { wanted, exponent, white }: { wanted: RGB; exponent: number; white: number },
): Drives => {
  const green = shares[1] / wanted[1]
  const drive = (i: 0 | 2) => level * (shares[i] / wanted[i] / green) ** (1 / exponent)
  return { red: drive(0), blue: drive(2), tone: (green / white) ** (1 / exponent) }
}

/** Light of drives at a level. In: model, level 0…1, drives, panel light against the reference. Out: absolute XYZ, cd/m². */
export const lightOfDrives = (
  model: Pick<GreyModel, 'exponent' | 'wanted' | 'channelMatrix' | 'white'>,
  level: number,
  drives: Drives,
  light: number,
): XYZ => {
  const { exponent, wanted, channelMatrix, white } = model
  const green = light * white * Math.max(0, drives.tone) ** exponent
  const part = (drive: number) => Math.max(0, drive / level) ** exponent
  const shares: RGB = [
    green * part(drives.red) * wanted[0],
    green * wanted[1],
    green * part(drives.blue) * wanted[2],
  ]
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

/** Index of a control's clicks among the model's features, or -1. */
export const featureOf = (model: GreyModel, control: string): number =>
  model.features.findIndex((f) => f.choice === undefined && f.key === control)
