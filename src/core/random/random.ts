/** A repeatable source of uniform numbers 0…1 from a seed (mulberry32). */
export const uniform = (seed: number): (() => number) => {
  let a = seed >>> 0
  return () => {
    a = (a + 0x6d2b79f5) >>> 0
    let t = Math.imul(a ^ (a >>> 15), 1 | a)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
}

/** A repeatable source of normal deviates, mean 0 and standard deviation 1 (Box–Muller). */
export const normal = (seed: number): (() => number) => {
  const next = uniform(seed)
  return () => Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next())
}
