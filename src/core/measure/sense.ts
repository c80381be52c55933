import { type XYZ, xyzToXy } from '#core/colorimetry'

/** What a reading is expected to lie between before it is typed: from its neighbours, from what was read before, from what was predicted. */
export interface Sense {
  /** Label of the patch. */
  readonly patch: string
  /** Luminance, cd/m²; left out where nothing is known. */
  readonly low?: number
  readonly high?: number
  /** What the lower and the upper limit come from, in words: “90 % reads 80.1”. */
  readonly lowFrom?: string
  readonly highFrom?: string
  /** Chromaticity that its neighbours have; left out where nothing is known. */
  readonly near?: readonly [number, number]
  /** How much further than usual it may lie from that: 1 for white beside white; more towards black, and away from what was read. */
  readonly wide?: number
}

/** So far from its neighbours in x, y numbers may be in another order; half as far is believed of them then. */
const FAR = 0.035
/** So far from its neighbours a grey is something else, whatever gains were moved between. */
const UNLIKE = 0.1
/** By how much tints may grow towards black, and with each tenth of the signal between two levels. */
const TOWARDS_BLACK = 4
const EACH_TENTH = 0.5

/** A grey that was read, with its chromaticity. */
export interface ReadGrey {
  /** Signal level, 0…1. */
  readonly level: number
  readonly xy: readonly [number, number]
}

/**
 * The chromaticity that a grey should have about, and how sure that is: of the level that was read nearest to it, its own first. In: level, 0…1; greys that were
 * read under the same white, the newest last. Out: undefined where none was.
 */
export const expectedColour = (
  level: number,
  greys: readonly ReadGrey[],
): { readonly near: readonly [number, number]; readonly wide: number } | undefined => {
  const nearest = greys
    .toReversed()
    .toSorted((a, b) => Math.abs(a.level - level) - Math.abs(b.level - level))[0]
  if (!nearest) return undefined
  const apart = 10 * Math.abs(nearest.level - level)
  // A level that was read before, and confirmed if it was doubted, is its own measure.
  const towardsBlack = apart < 0.1 ? 1 : 1 + TOWARDS_BLACK * (1 - level) ** 2
  return { near: nearest.xy, wide: towardsBlack + EACH_TENTH * apart }
}
/** Below this light chromaticities scatter too much to tell anything, cd/m². */
const BRIGHT = 0.5

const ORDERS: ReadonlyArray<readonly [string, readonly [0 | 1 | 2, 0 | 1 | 2, 0 | 1 | 2]]> = [
  ['Z Y X', [2, 1, 0]],
  ['Y X Z', [1, 0, 2]],
  ['X Z Y', [0, 2, 1]],
  ['Y Z X', [1, 2, 0]],
  ['Z X Y', [2, 0, 1]],
]

const show = (value: number): string =>
  value >= 100 ? value.toFixed(0) : value >= 1 ? value.toFixed(2) : value.toPrecision(2)

/**
 * What makes a typed reading doubtful, as a sentence; undefined where it makes sense. It may be right all the same: whoever typed it decides.
 * In: XYZ, cd/m², as it was understood; the numbers as they were typed and how they were meant; what it should lie between.
 */
export const whyDoubtful = (
  xyz: XYZ,
  typed: { readonly form: 'XYZ' | 'Yxy'; readonly numbers: readonly [number, number, number] },
  sense: Sense,
): string | undefined => {
  const [a, b, c] = typed.numbers
  if (typed.form === 'XYZ' && a > 3 && b > 0 && c > 0 && b + c < 1.01 && b < 0.8 && c < 0.9)
    return `${a} ${b} ${c} looks like Y, x, y, and X, Y, Z is chosen.`
  const { near, wide = 1, low, high, lowFrom, highFrom } = sense
  const Y = xyz[1]
  const tooLow = (light: number) => low !== undefined && light < low
  const tooHigh = (light: number) => high !== undefined && light > high
  const fits = !tooLow(Y) && !tooHigh(Y)
  const away = (v: XYZ) => {
    const [x, y] = xyzToXy(v)
    return near ? Math.hypot(x - near[0], y - near[1]) : 0
  }
  // Numbers in another order are believed where that makes more sense of their light as well.
  if (near && Y > BRIGHT && typed.form === 'XYZ' && (!fits || away(xyz) > FAR * wide)) {
    const other = ORDERS.find(([, o]) => {
      const turned: XYZ = [xyz[o[0]], xyz[o[1]], xyz[o[2]]]
      return !tooLow(turned[1]) && !tooHigh(turned[1]) && away(turned) < FAR / 2
    })
    if (other && away(xyz) > FAR)
      return `In the order ${other[0]} these numbers would be like their neighbours: are two of them swapped?`
  }
  if (tooLow(Y)) return `${show(Y)} cd/m² is less than it can be: ${lowFrom}.`
  if (tooHigh(Y)) return `${show(Y)} cd/m² is more than it can be: ${highFrom}.`
  if (near && Y > BRIGHT && away(xyz) > UNLIKE * wide)
    return `Its colour is unlike that of its neighbours (x ${near[0].toFixed(3)}, y ${near[1].toFixed(3)}).`
  return undefined
}
