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
}

/** So far from its neighbours in x, y numbers may be in another order; half as far is believed of them then. */
const FAR = 0.035
/** So far from its neighbours a grey is something else, whatever gains were moved between. */
const UNLIKE = 0.1
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
  const { near, low, high, lowFrom, highFrom } = sense
  const Y = xyz[1]
  if (near && Y > BRIGHT) {
    const away = (v: XYZ) => {
      const [x, y] = xyzToXy(v)
      return Math.hypot(x - near[0], y - near[1])
    }
    const own = away(xyz)
    if (own > FAR && typed.form === 'XYZ') {
      const other = ORDERS.find(([, o]) => away([xyz[o[0]], xyz[o[1]], xyz[o[2]]]) < FAR / 2)
      if (other)
        return `In the order ${other[0]} these numbers would be like their neighbours: are two of them swapped?`
    }
    if (own > UNLIKE)
      return `Its colour is unlike that of its neighbours (x ${near[0].toFixed(3)}, y ${near[1].toFixed(3)}).`
  }
  if (low !== undefined && Y < low) return `${show(Y)} cd/m² is less than it can be: ${lowFrom}.`
  if (high !== undefined && Y > high) return `${show(Y)} cd/m² is more than it can be: ${highFrom}.`
  return undefined
}
