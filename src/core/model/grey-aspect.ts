import { LuDecomposition, Matrix } from 'ml-matrix'
import type { Control, ControlValue } from '#core/display'
import type { Aspect } from './aspect'
import type { Effect } from './expected-response'
import { FAULT_SIGN, type FaultKind } from './fault'
import { fitGaussian, type GaussianFit } from './gaussian'
import { DEVIATION, MODEL_ERROR } from './tuning'

/**
 * One way in which a state can differ from the reference: clicks of a numeric control, or another choice of a control
 * (then its amount is 1).
 */
export interface Feature {
  readonly key: string
  readonly control: Control
  readonly choice?: ControlValue
}

/** A grey reading as its drives, with the features that its state differs from the reference in. */
export interface Prepared {
  readonly level: number
  readonly features: ReadonlyArray<readonly [index: number, amount: number]>
  readonly y: Readonly<Record<Aspect, number>>
  readonly sigma: Readonly<Record<Aspect, number>>
}

const baseCovariance = (a: number, b: number): number => {
  const { common, smooth, length, offset, own } = DEVIATION
  return (
    a * b * (common ** 2 + smooth ** 2 * Math.exp(-((a - b) ** 2) / (2 * length ** 2))) +
    (1 - a) * (1 - b) * offset ** 2 +
    (a === b ? (a * own) ** 2 : 0)
  )
}

/** Values of an effect's terms at the levels, with which the covariance of any two readings is put together. */
export interface Tabled {
  readonly mean: Float64Array
  /** Covariance between levels of what is this control's alone; undefined where there is nothing. */
  readonly own: Float64Array | undefined
  readonly groups: ReadonlyArray<readonly [group: string, shape: Float64Array]>
  /** Usual size at each level, for what a straight line may get wrong. */
  readonly size: Float64Array
}

export const table = (effect: Effect, levels: readonly number[]): Tabled => {
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
export const under = (fault: FaultKind, { mean, own, groups, size }: Tabled): Tabled => ({
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

/** Readings of an aspect as they are put together: places of their levels, what features and groups had a part in them. */
interface Parts {
  readonly n: number
  /** Place of each reading's level. */
  readonly level: Int32Array
  /** Covariance of the levels without any control. */
  readonly base: Float64Array
  readonly size: number
  readonly shares: readonly Share[]
  readonly tabled: readonly Tabled[]
  readonly inGroup: ReadonlyMap<string, Float64Array>
}

/** Covariance of the readings, its lower half. */
const covarianceOf = ({ n, level, base, size, shares, tabled, inGroup }: Parts): Float64Array => {
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
  return flat
}

/** What a click of each feature does at each level, once the readings are known. */
const effectsOf = ({
  fit,
  level,
  size,
  shares,
  tabled,
  inGroup,
}: Omit<Parts, 'n' | 'base'> & { readonly fit: GaussianFit }): Float64Array[] => {
  const groupWeight = new Map(
    [...inGroup].map(([group, held]) => [group, held.reduce((s, h, j) => s + h * fit.weights[j]!, 0)]),
  )
  return tabled.map(({ mean, own, groups }, f) => {
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
}

/** One aspect of grey as a Gaussian process over level and clicks. In: aspect; readings; features; levels to predict; amounts of the features now; what is expected of a feature. */
export const fitAspect = (
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

  const flat = covarianceOf({ n, level, base, size, shares, tabled, inGroup })
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
  const effect = effectsOf({ fit, level, size, shares, tabled, inGroup })
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
