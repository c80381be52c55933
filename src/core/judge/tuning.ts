/** What judgement decides by. */

// feed check
/** Exponents that displays are set to, the one that is usual, and how far they stray. */
export const USUAL_TONE = {
  exponents: [1.9, 2, 2.1, 2.2, 2.3, 2.4, 2.5, 2.6],
  mean: 2.25,
  scatter: 0.2,
} as const
/**
 * The same where the display's own page says that the range arrives as sent: a light or a deep tone curve out of the box looks much like a
 * wrong range, and is far more frequent then.
 */
export const ANY_TONE = {
  exponents: [1.5, 1.6, 1.7, 1.8, 1.9, 2, 2.1, 2.2, 2.3, 2.4, 2.5, 2.6, 2.7, 2.8, 2.9],
  mean: 2.25,
  scatter: 0.4,
} as const
/** Black that displays usually have, as a share of white. */
export const USUAL_FLOOR = 0.0008
/** Peaks of displays that tone-map PQ, cd/m². */
export const PEAKS = [120, 250, 500, 900, 1800] as const
/** Blacks of displays that any hypothesis may meet, as shares of white. */
export const FLOORS = [0, 0.0001, 0.0003, 0.0005, 0.0008, 0.0011, 0.0015] as const
/** How far off a display may be without anything being wrong with the feed: shares, and Δu′v′. */
export const SCATTER = { black: 0.2, dark: 0.13, bright: 0.02, colour: 0.1, chromaticity: 0.007 } as const
/** How much better another explanation has to be before it is believed (differences of squared deviations). */
export const CLEARLY = 8
/** HDR: peaks and exponents of displays that any hypothesis may meet, and how far off one may be without anything being wrong. */
export const HDR_FEED = {
  peaks: [150, 300, 500, 800, 1200, 2000, 4000],
  exponents: [2, 2.2, 2.4],
  scatter: 0.1,
  scale: 0.25,
  anyScale: 1,
  black: 1,
  chromaticity: 0.012,
} as const
/** Light of single pixels in turn, as a share of white; and how far from it they are no longer shown one by one. */
export const PIXEL_SHARE = 0.5
export const PIXEL_MARGIN = 0.1

// grey scale
/** A greyscale ΔE up to this is hard to see even side by side, ΔE00. */
export const VISIBLE = 1

/** Signal below which shades count as near black, and how many have to be read for a figure. */
export const NEAR_BLACK = 0.06
export const NEAR_BLACK_LEAST = 2

// mode verdict
/** Luminance steps of one code value of a 10-bit PQ signal are about what can just be told apart. ITU-R BT.2390-11, 5.1. */
export const JUST_SEEN = 1 / 1023

/** Below this share of white 8 % of signal is darker than gamma 2.4 makes it: shades may be gone, or the tone is only deep. */
export const DARK_SHADE = 0.003
/** Below this share of white, above black, 20 % of signal is darker than gamma 3.2 makes it, which no picture mode means. */
export const SHADOW_SHADE = 0.0058
/** Above this share of white 95 % of signal is as bright as white: the picture ends before it. */
export const ENDS_EARLY = 0.96
