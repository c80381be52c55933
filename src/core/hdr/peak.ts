import { LIMITED } from './tuning'

/** Luminance of full white in a window, cd/m²: in its first second, and once it holds. */
export interface WindowPeak {
  /** Share of the screen, 0…1. */
  readonly window: number
  readonly first: number
  readonly sustained: number
  /** Seconds after which the first reading was really taken, where the meter tells that it was later than a second. */
  readonly firstAt?: number
}

/** What power does to the peak. */
export interface PeakVerdict {
  /** The brightest window that holds. */
  readonly best: WindowPeak
  /** Largest window that holds as much as the brightest, within 3 %; beyond it power is limited. */
  readonly holdsTo: number
  /** Share of its first second that the window loses most of; 0 where all hold. */
  readonly falls: number
}

/**
 * Tells how power limits the peak. In: windows, in any order. Out: verdict; undefined where none was read.
 * Information Display Measurements Standard 1.03, 5.4 (loading).
 */
export const peakOf = (windows: readonly WindowPeak[]): PeakVerdict | undefined => {
  if (windows.length === 0) return undefined
  const best = windows.reduce((a, b) => (b.sustained > a.sustained ? b : a))
  const holds = windows.filter((w) => w.sustained >= (1 - LIMITED) * best.sustained)
  return {
    best,
    holdsTo: Math.max(...holds.map((w) => w.window)),
    falls: Math.max(0, ...windows.map((w) => (w.first > 0 ? 1 - w.sustained / w.first : 0))),
  }
}

/**
 * What limiting of power leaves of a picture, as a share of its light, from windows of white. In: windows; share of the screen's full white that
 * the picture has on average, 0…1. Out: share, between windows by a straight line.
 */
export const leftByPower = (windows: readonly WindowPeak[], load: number): number => {
  const verdict = peakOf(windows)
  if (!verdict) return 1
  const rows = [...windows].sort((a, b) => a.window - b.window)
  const of = (w: WindowPeak) => Math.min(1, w.sustained / verdict.best.sustained)
  const above = rows.findIndex((w) => w.window >= load)
  // Below the smallest window and beside small dim ones nothing is limited.
  if (above <= 0) return above < 0 ? of(rows.at(-1)!) : 1
  const [a, b] = [rows[above - 1]!, rows[above]!]
  return of(a) + ((of(b) - of(a)) * (load - a.window)) / (b.window - a.window)
}
