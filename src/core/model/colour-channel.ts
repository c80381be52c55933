import type { RGB } from '#core/colorimetry'
import type { ColourObservation, expectedResponse, Triple } from './colour-response'
import { fitGaussian } from './gaussian'
import { COLOUR_MODEL_CLOSED, ONE_TURN } from './tuning'

/** What one channel of all colours is learned from. */
interface OfChannel {
  readonly observations: readonly ColourObservation[]
  /** Place of each reading's patch. */
  readonly at: readonly number[]
  /** Clicks of each way under each reading, counted from now. */
  readonly clicks: ReadonlyArray<readonly number[]>
  readonly measured: readonly Triple[]
  /** Of each way, the place of the other one of the same control; −1 where it has none. */
  readonly twins: readonly number[]
  /** What is expected of a click of each way in each patch. */
  readonly responses: ReadonlyArray<ReadonlyArray<ReturnType<typeof expectedResponse>>>
  /** Value of a patch before anything was read of it. */
  readonly usual: readonly RGB[]
  readonly baseCovariance: (a: number, b: number, c: 0 | 1 | 2) => number
  /** Standard error of a reading in this channel. */
  readonly noiseOf: (o: ColourObservation) => number
  readonly into: { readonly base: Triple[]; readonly baseSigma: Triple[]; readonly learned: Triple[][] }
}

/** Covariance of the readings in a channel, what they differ by from what was expected, and how sure each is. */
const readingsIn = (
  c: 0 | 1 | 2,
  { observations, at, clicks, twins, measured, responses, usual, baseCovariance, noiseOf }: OfChannel,
) => {
  const ways = responses[0]?.length ?? 0
  const n = observations.length
  const kernel = new Float64Array(n * n)
  const residual: number[] = []
  const sigma: number[] = []
  for (let i = 0; i < n; i++) {
    const a = at[i]!
    for (let j = 0; j <= i; j++) {
      const b = at[j]!
      let k = baseCovariance(a, b, c)
      for (let q = 0; q < ways; q++) {
        if (clicks[i]![q] === 0) continue
        const twin = twins[q]!
        if (twin >= 0 && clicks[j]![twin] !== 0)
          k +=
            ONE_TURN *
            clicks[i]![q]! *
            clicks[j]![twin]! *
            (responses[a]![q]!.sigma[c]! * responses[b]![twin]!.sigma[c]!)
        const product = clicks[i]![q]! * clicks[j]![q]!
        if (product === 0) continue
        k += product * responses[a]![q]!.sigma[c]! * responses[b]![q]!.sigma[c]!
        if (a === b) k += product * responses[a]![q]!.own[c]! ** 2
      }
      kernel[i * n + j] = k
    }
    let mean = usual[a]![c]!
    let away = 0
    for (let q = 0; q < ways; q++) {
      mean += clicks[i]![q]! * responses[a]![q]!.mean[c]!
      away += Math.abs(clicks[i]![q]! * (Math.abs(responses[a]![q]!.mean[c]!) + responses[a]![q]!.sigma[c]!))
    }
    residual.push(measured[i]![c]! - mean)
    const o = observations[i]!
    const own = noiseOf(o)
    // A channel that is closed cannot be seen to close further.
    const shut = usual[a]![c]! < COLOUR_MODEL_CLOSED && measured[i]![c]! < COLOUR_MODEL_CLOSED && away > 0
    sigma.push(
      Math.hypot(
        shut ? 3 * away : 0,
        own,
        o.brought ? 0.012 * (measured[i]![c]! + 0.02) : 0,
        0.06 * away,
        2e-4,
      ),
    )
  }
  return { n, kernel, residual, sigma }
}

/** Learns one channel of all colours. */
export const fitChannel = (c: 0 | 1 | 2, of: OfChannel): void => {
  const { at, clicks, twins, responses, usual, baseCovariance } = of
  const { base, baseSigma, learned } = of.into
  const ways = responses[0]?.length ?? 0
  const { n, kernel, residual, sigma } = readingsIn(c, of)
  const fit = n > 0 ? fitGaussian(kernel, residual, sigma) : undefined
  const m = usual.length
  const cross = Float64Array.from({ length: n * m }, (_, i) =>
    baseCovariance(i % m, at[Math.floor(i / m)]!, c),
  )
  const known = fit ? fit.solve(cross, m) : cross
  for (const [p] of usual.entries()) {
    let value = usual[p]![c]!
    let variance = baseCovariance(p, p, c)
    for (let j = 0; j < n; j++) {
      value += cross[j * m + p]! * fit!.weights[j]!
      variance -= cross[j * m + p]! * known[j * m + p]!
    }
    base[p]![c] = value
    baseSigma[p]![c] = Math.sqrt(Math.max(0, variance))
    for (let q = 0; q < ways; q++) {
      let effect = responses[p]![q]!.mean[c]!
      for (let j = 0; j < n; j++) {
        const twin = twins[q]!
        if (twin >= 0 && clicks[j]![twin] !== 0)
          effect +=
            ONE_TURN *
            clicks[j]![twin]! *
            responses[p]![q]!.sigma[c]! *
            (responses[at[j]!]![twin]!.sigma[c]! * fit!.weights[j]!)
        const m = clicks[j]![q]!
        if (m === 0) continue
        let k = m * responses[p]![q]!.sigma[c]! * responses[at[j]!]![q]!.sigma[c]!
        if (at[j] === p) k += m * responses[p]![q]!.own[c]! ** 2
        effect += k * fit!.weights[j]!
      }
      learned[p]![q]![c] = effect
    }
  }
}
