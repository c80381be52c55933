import { CholeskyDecomposition, Matrix } from 'ml-matrix'
import { type Chromaticity, multiply, type RGB, type XYZ, xyToXyz } from '#core/colorimetry'
import { type MeterPrecision, readingSigma } from '#core/measure'
import { type ChannelBasis, channelShares, lightOfShares } from './channels'

/** The two channels that move against green, which stays where it is. */
export const MOVED = ['red', 'blue'] as const
export type MovedChannel = (typeof MOVED)[number]
const INDEX: Readonly<Record<MovedChannel, 0 | 2>> = { red: 0, blue: 2 }

/** Clicks of gain and cut of each moved channel, counted from where the reference sweep was read. */
export interface TwoPoint {
  readonly red: { readonly gain: number; readonly cut: number }
  readonly blue: { readonly gain: number; readonly cut: number }
}

/** A grey reading with the two-point clicks under which it was taken. */
export interface GreyObservation {
  /** Signal, 0…1, one of the reference sweep's levels. */
  readonly level: number
  /** Absolute XYZ, cd/m². */
  readonly xyz: XYZ
  readonly clicks: TwoPoint
}

/** What a click is expected to do before anything was tried, from the size of its range. */
export interface ResponsePrior {
  /** Drive per click of gain at white: mean and standard deviation. */
  readonly gain: readonly [mean: number, sigma: number]
  /** Drive per click of cut at black: mean and standard deviation. */
  readonly cut: readonly [mean: number, sigma: number]
}

/**
 * The usual reach of two-point controls: over half of its range a gain moves the drive of white by about 15 %, a cut that
 * of black by about 4 %; both may well be half or double that.
 * In: clicks between neutral and the nearer end of the range. Out: prior.
 */
export const usualResponse = (gainReach: number, cutReach: number): ResponsePrior => ({
  gain: [0.15 / gainReach, 0.1 / gainReach],
  cut: [0.04 / cutReach, 0.03 / cutReach],
})

interface ChannelFit {
  /** Drive at each level without clicks, then slope of gain (constant, with level), then of cut (the same). */
  readonly mean: Float64Array
  /** Lower Cholesky factor of the covariance: one principal direction of what is uncertain in each column. */
  readonly spread: Matrix
}

export interface GreyModel {
  readonly basis: ChannelBasis
  readonly levels: readonly number[]
  readonly target: Chromaticity
  /** Green amount at each level in the reference sweep. */
  readonly green: readonly number[]
  /** Amount of red and blue for each amount of green that makes the target white. */
  readonly ratio: Readonly<Record<MovedChannel, number>>
  readonly exponent: number
  readonly fits: Readonly<Record<MovedChannel, ChannelFit>>
}

const NO_CLICKS: TwoPoint = { red: { gain: 0, cut: 0 }, blue: { gain: 0, cut: 0 } }

/** Share of a change of drive that the straight-line model may get wrong. */
const MODEL_ERROR = 0.01

/**
 * How drives of the levels deviate from the levels before anything was read: a share of the level common to all, a share
 * that changes smoothly along the scale, an offset that fades towards white, and a trace at each level of its own.
 * It lets neighbouring readings steady one another. Squared-exponential kernel: C. E. Rasmussen, C. K. I. Williams,
 * Gaussian Processes for Machine Learning, 2006, 4.2.
 */
const DEVIATION = { common: 0.3, smooth: 0.03, length: 0.25, offset: 0.03, own: 0.0005 } as const
const driveCovariance = (levels: readonly number[]): Matrix => {
  const { common, smooth, length, offset, own } = DEVIATION
  const between = (a: number, b: number) =>
    a * b * (common ** 2 + smooth ** 2 * Math.exp(-((a - b) ** 2) / (2 * length ** 2))) +
    (1 - a) * (1 - b) * offset ** 2 +
    (a === b ? (a * own) ** 2 : 0)
  return new Matrix(levels.map((a) => levels.map((b) => between(a, b))))
}

const row = (levelCount: number, at: number, level: number, gain: number, cut: number): Float64Array => {
  const out = new Float64Array(levelCount + 4)
  out[at] = 1
  out[levelCount] = gain
  out[levelCount + 1] = gain * level
  out[levelCount + 2] = cut
  out[levelCount + 3] = cut * level
  return out
}

/**
 * Learns how the clicks of two-point controls move red and blue against green, from readings.
 *
 * Each grey reading is split into its channels (`channelShares`). The amount of red or blue against green is turned into
 * a *drive*, level · (amount / wanted amount)^(1/exponent): at the target white the drive equals the level. A click of
 * gain or cut moves that drive by a straight line in the level, whose two numbers are fitted, together with the drive
 * at each level, by generalised least squares with a prior (A. Tarantola, Inverse Problem Theory, 2005, 3.2).
 *
 * In: basis; readings of the reference sweep (level above 0, all in one state) and all later ones; target white; scatter
 * of the meter; prior; clicks where the display stands now (readings taken far from there count for less).
 * Out: model, or undefined where the target white lies outside the display's channels.
 */
export const learnGrey = (input: {
  basis: ChannelBasis
  reference: ReadonlyArray<{ level: number; xyz: XYZ }>
  later: readonly GreyObservation[]
  target: Chromaticity
  precision: MeterPrecision
  prior: ResponsePrior
  now?: TwoPoint
}): GreyModel | undefined => {
  const { basis, target, precision, prior, now = NO_CLICKS } = input
  const wanted = multiply(basis.inverse, xyToXyz(target, 1))
  if (wanted.some((amount) => amount <= 0)) return undefined
  const ratio = { red: wanted[0] / wanted[1], blue: wanted[2] / wanted[1] }

  const reference = [...input.reference].sort((a, b) => a.level - b.level)
  const levels = reference.map((r) => r.level)
  const green = reference.map((r) => channelShares(basis, r.xyz)[1])
  const exponent = greenExponent(levels, green)

  const observations: Array<GreyObservation & { at: number }> = [
    ...reference.map((r, at) => ({ ...r, clicks: NO_CLICKS, at })),
    ...input.later.map((o) => ({ ...o, at: levels.indexOf(o.level) })),
  ].filter((o) => o.at >= 0)

  const learn = (channel: MovedChannel): ChannelFit => {
    const size = levels.length + 4
    const i = INDEX[channel]
    const information = Matrix.zeros(size, size)
    const weighted = new Float64Array(size)
    const add = (r: Float64Array, value: number, sigma: number) => {
      const weight = 1 / sigma ** 2
      for (let a = 0; a < size; a++) {
        if (r[a] === 0) continue
        weighted[a] = weighted[a]! + weight * r[a]! * value
        for (let b = 0; b < size; b++)
          if (r[b] !== 0) information.set(a, b, information.get(a, b) + weight * (r[a]! * r[b]!))
      }
    }
    const unit = (at: number, value: number, sigma: number) => {
      const r = new Float64Array(size)
      r[at] = 1
      add(r, value, sigma)
    }
    const n = levels.length
    // Towards the levels themselves, deviating smoothly.
    const smooth = new CholeskyDecomposition(driveCovariance(levels)).solve(Matrix.eye(n))
    const pull = smooth.mmul(Matrix.columnVector([...levels]))
    for (let a = 0; a < n; a++) {
      weighted[a] = weighted[a]! + pull.get(a, 0)
      for (let b = 0; b < n; b++)
        information.set(a, b, information.get(a, b) + (smooth.get(a, b) + smooth.get(b, a)) / 2)
    }
    // A gain grows with the level; a cut fades towards white. Each may have a little of the other's shape.
    unit(n, 0, prior.gain[1] / 6)
    unit(n + 1, prior.gain[0], prior.gain[1])
    unit(n + 2, prior.cut[0], prior.cut[1])
    const fading = new Float64Array(size)
    fading[n + 2] = 1
    fading[n + 3] = 1
    add(fading, 0, prior.cut[1])

    for (const o of observations) {
      const scale = panelScale(basis, o.xyz, green[o.at]!)
      const shares = channelShares(basis, o.xyz, scale)
      if (!(shares[i] > 0 && shares[1] > 0)) continue
      const drive = o.level * (shares[i] / shares[1] / ratio[channel]) ** (1 / exponent)
      const gradient = basis.inverse[i].map((m, j) => m / shares[i] - basis.inverse[1][j]! / shares[1])
      const relative = Math.hypot(...gradient.map((g, j) => g * readingSigma(o.xyz[j]!, precision)))
      const gain = o.clicks[channel].gain
      const cut = o.clicks[channel].cut
      const away =
        Math.abs(gain - now[channel].gain) * prior.gain[0] * o.level +
        Math.abs(cut - now[channel].cut) * prior.cut[0] * (1 - o.level)
      add(
        row(n, o.at, o.level, gain, cut),
        drive,
        Math.hypot((drive * relative) / exponent, MODEL_ERROR * away, 1e-6),
      )
    }
    const cholesky = new CholeskyDecomposition(information)
    const mean = cholesky.solve(Matrix.columnVector([...weighted])).to1DArray()
    const covariance = cholesky.solve(Matrix.eye(size))
    // Rounding leaves the halves a trace apart.
    const even = Matrix.add(covariance, covariance.transpose()).mul(0.5)
    return { mean: Float64Array.from(mean), spread: new CholeskyDecomposition(even).lowerTriangularMatrix }
  }
  return { basis, levels, target, green, ratio, exponent, fits: { red: learn('red'), blue: learn('blue') } }
}

/** Panel light against the reference sweep, from green alone, which no move touches. */
const panelScale = (basis: ChannelBasis, xyz: XYZ, greenThen: number): number => {
  let scale = 1
  for (let i = 0; i < 3; i++) scale = channelShares(basis, xyz, scale)[1] / greenThen
  return Number.isFinite(scale) && scale > 0 ? scale : 1
}

/** Exponent that green follows, by least squares over the levels between black and white in log–log. */
const greenExponent = (levels: readonly number[], green: readonly number[]): number => {
  let xy = 0
  let xx = 0
  levels.forEach((level, i) => {
    const amount = green[i]!
    if (level >= 1 || amount <= 0) return
    const white = green[levels.length - 1]!
    xy += Math.log(level) * Math.log(amount / white)
    xx += Math.log(level) ** 2
  })
  const exponent = xx > 0 ? xy / xx : 2.2
  return exponent > 1 && exponent < 4 ? exponent : 2.2
}

const driveAt = (model: GreyModel, mean: Float64Array, at: number, gain: number, cut: number): number => {
  const n = model.levels.length
  const level = model.levels[at]!
  return mean[at]! + gain * (mean[n]! + mean[n + 1]! * level) + cut * (mean[n + 2]! + mean[n + 3]! * level)
}

/**
 * Light of each level that the model expects under some clicks, at the reference sweep's panel light.
 * In: model, clicks; optionally other parameters of one channel. Out: absolute XYZ in cd/m² for each level, rising.
 */
export const predictGrey = (
  model: GreyModel,
  clicks: TwoPoint,
  means: Readonly<Record<MovedChannel, Float64Array>> = {
    red: model.fits.red.mean,
    blue: model.fits.blue.mean,
  },
): XYZ[] =>
  model.levels.map((level, at) => {
    const amount = (channel: MovedChannel) => {
      const drive = driveAt(model, means[channel], at, clicks[channel].gain, clicks[channel].cut)
      return model.green[at]! * model.ratio[channel] * Math.max(1e-6, drive / level) ** model.exponent
    }
    const shares: RGB = [amount('red'), model.green[at]!, amount('blue')]
    return lightOfShares(model.basis, shares)
  })

/** Clicks of the control that moves a level most, between the level and the target. */
export interface ClicksAway {
  /** Signal, 0…1. */
  readonly level: number
  /** The pair of controls that moves this level most. */
  readonly by: 'gain' | 'cut'
  /** Signed clicks to go. */
  readonly red: number
  readonly green: number
  readonly blue: number
}

/** Clicks that each level is away from the target, for the bars of evidence. In: model, clicks now. */
export const clicksAway = (model: GreyModel, now: TwoPoint): ClicksAway[] =>
  model.levels.map((level, at) => {
    const n = model.levels.length
    const slopes = (channel: MovedChannel) => {
      const { mean } = model.fits[channel]
      return { gain: mean[n]! + mean[n + 1]! * level, cut: mean[n + 2]! + mean[n + 3]! * level }
    }
    const red = slopes('red')
    const blue = slopes('blue')
    const by =
      Math.abs(red.gain) + Math.abs(blue.gain) >= Math.abs(red.cut) + Math.abs(blue.cut) ? 'gain' : 'cut'
    const togo = (channel: MovedChannel, perClick: number) => {
      const drive = driveAt(model, model.fits[channel].mean, at, now[channel].gain, now[channel].cut)
      return Math.abs(perClick) > 1e-9 ? (level - drive) / perClick : 0
    }
    return { level, by, red: togo('red', red[by]), green: 0, blue: togo('blue', blue[by]) }
  })

/**
 * Standard deviation of a quantity that follows from the model, by one step along each principal direction of what is
 * uncertain. In: model, function of the channels' parameters. Out: standard deviation in the function's unit.
 */
export const modelSigma = (
  model: GreyModel,
  quantity: (means: Record<MovedChannel, Float64Array>) => number,
): number => {
  const means = { red: model.fits.red.mean, blue: model.fits.blue.mean }
  const centre = quantity(means)
  let variance = 0
  for (const channel of MOVED) {
    const { mean, spread } = model.fits[channel]
    for (let column = 0; column < mean.length; column++) {
      const moved = Float64Array.from(mean, (v, a) => v + spread.get(a, column))
      variance += (quantity({ ...means, [channel]: moved }) - centre) ** 2
    }
  }
  return Math.sqrt(variance)
}
