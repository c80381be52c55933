import fc from 'fast-check'
import { CholeskyDecomposition, Matrix } from 'ml-matrix'
import { describe, expect, it } from 'vitest'
import { cholesky, solveCholesky } from './cholesky'
import { fitGaussian } from './gaussian'

/** A symmetric positive definite matrix from any numbers: A·Aᵀ with something on the diagonal. */
const definite = (n: number, numbers: readonly number[]): Float64Array => {
  const out = new Float64Array(n * n)
  for (let i = 0; i < n; i++)
    for (let j = 0; j < n; j++) {
      let sum = i === j ? 0.5 : 0
      for (let k = 0; k < n; k++) sum += numbers[i * n + k]! * numbers[j * n + k]!
      out[i * n + j] = sum
    }
  return out
}
const anyMatrix = fc.integer({ min: 1, max: 7 }).chain((n) =>
  fc.record({
    n: fc.constant(n),
    numbers: fc.array(fc.double({ min: -2, max: 2, noNaN: true }), { minLength: n * n, maxLength: n * n }),
    right: fc.array(fc.double({ min: -5, max: 5, noNaN: true }), { minLength: 2 * n, maxLength: 2 * n }),
  }),
)

describe('the factor of a matrix', () => {
  it('multiplied with itself is the matrix again, and as a library has it', () => {
    fc.assert(
      fc.property(anyMatrix, ({ n, numbers }) => {
        const a = definite(n, numbers)
        const lower = cholesky(a, n)
        const theirs = new CholeskyDecomposition(
          new Matrix(Array.from({ length: n }, (_, i) => [...a.slice(i * n, (i + 1) * n)])),
        ).lowerTriangularMatrix
        for (let i = 0; i < n; i++)
          for (let j = 0; j < n; j++) {
            let sum = 0
            for (let k = 0; k < n; k++) sum += lower[i * n + k]! * lower[j * n + k]!
            expect(sum).toBeCloseTo(a[i * n + j]!, 8)
            expect(lower[i * n + j]).toBeCloseTo(theirs.get(i, j), 8)
          }
      }),
    )
  })
  it('solves for several right sides at once', () => {
    fc.assert(
      fc.property(anyMatrix, ({ n, numbers, right }) => {
        const a = definite(n, numbers)
        const x = solveCholesky(cholesky(a, n), n, right, 2)
        for (let i = 0; i < n; i++)
          for (let c = 0; c < 2; c++) {
            let sum = 0
            for (let k = 0; k < n; k++) sum += a[i * n + k]! * x[k * 2 + c]!
            expect(sum).toBeCloseTo(right[i * 2 + c]!, 6)
          }
      }),
    )
  })
})

describe('a regression', () => {
  const near = (a: number, b: number) => Math.exp(-((a - b) ** 2) / 0.5)
  const kernel = (at: readonly number[]) =>
    Float64Array.from({ length: at.length ** 2 }, (_, i) =>
      near(at[Math.floor(i / at.length)]!, at[i % at.length]!),
    )
  const at = [0, 0.3, 0.9, 1.4]
  const predict = (x: number, fit: ReturnType<typeof fitGaussian>) =>
    at.reduce((sum, a, i) => sum + near(x, a) * fit.weights[i]!, 0)

  it('passes through what was read surely, and near what was not', () => {
    const sure = fitGaussian(kernel(at), [1, 2, 0, -1], [1e-4, 1e-4, 1e-4, 1e-4])
    for (const [i, y] of [1, 2, 0, -1].entries()) expect(predict(at[i]!, sure)).toBeCloseTo(y, 3)
    const unsure = fitGaussian(kernel(at), [1, 2, 0, -1], [1, 1, 1, 1])
    expect(Math.abs(predict(0.3, unsure))).toBeLessThan(2)
  })
  it('finds what fits its expectations likelier than what does not', () => {
    const smooth = fitGaussian(kernel(at), [1, 1.1, 0.7, 0.3], [0.1, 0.1, 0.1, 0.1])
    const jumping = fitGaussian(kernel(at), [1, -1.1, 1.7, -1.3], [0.1, 0.1, 0.1, 0.1])
    expect(smooth.evidence).toBeGreaterThan(jumping.evidence)
  })
  it('has an inverse that solves what it solves', () => {
    const fit = fitGaussian(kernel(at), [1, 2, 0, -1], [0.1, 0.2, 0.1, 0.3])
    const v = Float64Array.from([1, -2, 3, 0.5])
    const solved = fit.solve(v, 1)
    const inverse = fit.inverse()
    for (let i = 0; i < 4; i++) {
      let sum = 0
      for (let j = 0; j < 4; j++) sum += inverse[i * 4 + j]! * v[j]!
      expect(sum).toBeCloseTo(solved[i]!, 8)
    }
    expect([...fit.timesInverse(v)]).toEqual([...solved])
    expect(fit.timesInverse(v)).toBe(fit.timesInverse(v))
  })
})
