/** Constants of SMPTE ST 2084:2014, 5.3. */
const M1 = 2610 / 16384
const M2 = (2523 / 4096) * 128
const C1 = 3424 / 4096
const C2 = (2413 / 4096) * 32
const C3 = (2392 / 4096) * 32
/** Luminance of a PQ signal of 1, cd/m². */
const PEAK = 10_000

/**
 * Luminance of a PQ signal.
 * In: signal 0…1 (held at the ends beyond). Out: cd/m², 0 to 10 000. SMPTE ST 2084:2014, 5.1; ITU-R BT.2100-2, table 4.
 */
export const pqEotf = (signal: number): number => {
  const e = Math.min(1, Math.max(0, signal)) ** (1 / M2)
  return PEAK * (Math.max(0, e - C1) / (C2 - C3 * e)) ** (1 / M1)
}

/**
 * PQ signal of a luminance.
 * In: cd/m² (held between 0 and 10 000). Out: signal 0…1. SMPTE ST 2084:2014, 5.2.
 */
export const pqInverseEotf = (luminance: number): number => {
  const y = (Math.min(PEAK, Math.max(0, luminance)) / PEAK) ** M1
  return ((C1 + C2 * y) / (1 + C3 * y)) ** M2
}
