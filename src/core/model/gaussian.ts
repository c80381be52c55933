import { cholesky, solveCholesky } from './cholesky'

/** A regression that was fitted: weights of its observations, and what is needed for uncertainty. */
export interface GaussianFit {
  /** (K + noise)⁻¹ · residual, one for each observation. */
  readonly weights: Float64Array
  /** Logarithm of the likelihood of the observations, up to a constant. */
  readonly evidence: number
  /** Solves (K + noise) · X = B. In: B row by row, number of its columns. Out: X, shaped as B. */
  readonly solve: (b: ArrayLike<number>, columns: number) => Float64Array
  /** (K + noise)⁻¹, n × n; reckoned when it is first asked for. */
  readonly inverse: () => Float64Array
  /** (K + noise)⁻¹ · v; the same vector is multiplied once. */
  readonly timesInverse: (v: Float64Array) => Float64Array
}

/**
 * Regression with a Gaussian process prior whose kernel is given as numbers.
 * In: covariance of the observations with each other (n × n row by row, noise-free, of which the lower triangle counts), observed minus
 * expected, standard deviation of each observation. Out: fit. C. E. Rasmussen, C. K. I. Williams, Gaussian Processes for Machine
 * Learning, 2006, algorithm 2.1.
 */
export const fitGaussian = (
  kernel: Float64Array,
  residual: ArrayLike<number>,
  sigma: ArrayLike<number>,
): GaussianFit => {
  const n = residual.length
  const noisy = Float64Array.from(kernel)
  for (let i = 0; i < n; i++) noisy[i * n + i] = noisy[i * n + i]! + (sigma[i] ?? 0) ** 2 + 1e-14
  const lower = cholesky(noisy, n)
  const weights = solveCholesky(lower, n, residual, 1)
  let evidence = 0
  for (let i = 0; i < n; i++)
    evidence -= 0.5 * residual[i]! * weights[i]! + Math.log(Math.max(1e-300, lower[i * n + i]!))
  let inverse: Float64Array | undefined
  const products = new WeakMap<Float64Array, Float64Array>()
  return {
    weights,
    evidence,
    solve: (right, columns) => solveCholesky(lower, n, right, columns),
    inverse: () => {
      inverse ??= solveCholesky(
        lower,
        n,
        Float64Array.from({ length: n * n }, (_, i) => (i % (n + 1) === 0 ? 1 : 0)),
        n,
      )
      return inverse
    },
    timesInverse: (v) => {
      const known = products.get(v)
      if (known) return known
      const found = solveCholesky(lower, n, v, 1)
      products.set(v, found)
      return found
    },
  }
}
