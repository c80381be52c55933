/**
 * Lower triangle L with L·Lᵀ = A of a symmetric positive definite matrix, row by row, in plain arrays: the route is planned between two
 * readings, and most of that time goes here. G. H. Golub, C. F. Van Loan, Matrix Computations, 4th ed. 2013, algorithm 4.2.2 by rows.
 * In: n × n numbers, of which the lower triangle counts; n. Out: n × n, zero above the diagonal. A pivot that rounding has pushed below
 * zero is taken as next to nothing.
 */
export const cholesky = (a: Float64Array, n: number): Float64Array => {
  const lower = new Float64Array(n * n)
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      let sum = a[i * n + j]!
      for (let k = 0; k < j; k++) sum -= lower[i * n + k]! * lower[j * n + k]!
      lower[i * n + j] = i === j ? Math.sqrt(Math.max(sum, 1e-30)) : sum / lower[j * n + j]!
    }
  return lower
}

/**
 * Solves L·Lᵀ·X = B for several right sides at once.
 * In: L (n × n), n, B (n × columns, row by row), number of columns. Out: X, shaped as B.
 */
export const solveCholesky = (
  lower: Float64Array,
  n: number,
  right: ArrayLike<number>,
  columns: number,
): Float64Array => {
  const x = Float64Array.from(right)
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < i; k++) {
      const l = lower[i * n + k]!
      if (l !== 0)
        for (let c = 0; c < columns; c++) x[i * columns + c] = x[i * columns + c]! - l * x[k * columns + c]!
    }
    const pivot = lower[i * n + i]!
    for (let c = 0; c < columns; c++) x[i * columns + c] = x[i * columns + c]! / pivot
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) {
      const l = lower[k * n + i]!
      if (l !== 0)
        for (let c = 0; c < columns; c++) x[i * columns + c] = x[i * columns + c]! - l * x[k * columns + c]!
    }
    const pivot = lower[i * n + i]!
    for (let c = 0; c < columns; c++) x[i * columns + c] = x[i * columns + c]! / pivot
  }
  return x
}
