/** Greys near black and near the end that are told apart or not: percent of the signal in SDR, luminance in PQ, cd/m². */
export const NEAR_ENDS = {
  first: { percent: [1, 2, 3, 4, 5, 7.5], luminance: [0.02, 0.05, 0.1, 0.2, 0.5, 1] },
  last: { percent: [80, 85, 90, 95, 100], luminance: [100, 203, 400, 700, 1000, 2000, 4000] },
} as const
/** Greys that are compared at several rates: percent of the signal in SDR, luminance in PQ, cd/m²; near black and in the middle. */
export const RATE_GREYS = { percent: [10, 50], luminance: [1, 50] } as const
/**
 * Gain from which single levels are moved, and moved again in SDR, average ΔE00; and colour management in HDR, ΔE ITP, where less is not worth its
 * readings.
 */
export const WORTH = { levels: 0.05, levelsAgain: 0.1, colourInHdr: 1 } as const
/** Readings that single levels may take in one round where nothing was learned of them. */
export const LEVEL_READINGS = { sdr: 45, pq: 30 } as const

/** Steps of ΔE ITP that count as one of ΔE00, for errors of one size. */
export const ITP_STEPS = 4
