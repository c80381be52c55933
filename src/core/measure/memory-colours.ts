import {
  BT709_PRIMARIES,
  D65,
  invert,
  type Lab,
  labToXyz,
  multiply,
  rgbToXyzMatrix,
  xyToXyz,
} from '#core/colorimetry'
import type { Patch } from './patch'

/**
 * Wexmar's memory colours: things that people know the look of, written as CIE L*a*b* against D65. They are our own
 * round figures for such things, not measurements of any chart; all lie within BT.709. See docs/sweeps.md.
 */
export const MEMORY_COLOURS_LAB: ReadonlyArray<readonly [key: string, label: string, lab: Lab]> = [
  ['skin-pale', 'Pale skin', [78, 12, 16]],
  ['skin-tan', 'Tanned skin', [64, 17, 24]],
  ['skin-brown', 'Brown skin', [48, 16, 23]],
  ['skin-dark', 'Dark skin', [32, 12, 15]],
  ['lips', 'Lips', [50, 38, 16]],
  ['foliage', 'Foliage', [46, -24, 30]],
  ['grass', 'Grass', [56, -32, 42]],
  ['conifer', 'Conifer', [30, -14, 12]],
  ['sky', 'Sky', [66, -8, -32]],
  ['dusk', 'Sky at dusk', [40, 8, -38]],
  ['sea', 'Sea', [44, -16, -20]],
  ['sand', 'Sand', [76, 4, 22]],
  ['soil', 'Soil', [38, 12, 20]],
  ['brick', 'Brick', [44, 34, 28]],
  ['orange', 'Orange', [66, 36, 60]],
  ['lemon', 'Lemon', [86, -4, 68]],
  ['tomato', 'Tomato', [46, 56, 38]],
  ['lavender', 'Lavender', [62, 18, -26]],
]

/** Exponent with which the colours are written: BT.1886 with a black of nothing. */
const WRITTEN = 2.4

const toLinear = invert(rgbToXyzMatrix(BT709_PRIMARIES, xyToXyz(D65, 1))!)!

/** The memory colours as patches: BT.709 signals for a display of exponent 2.4. */
export const MEMORY_COLOURS: readonly Patch[] = MEMORY_COLOURS_LAB.map(([key, label, lab]) => {
  const linear = multiply(toLinear, labToXyz(lab, xyToXyz(D65, 1)))
  const [r, g, b] = linear.map((l) => Math.round(1e4 * Math.max(0, l) ** (1 / WRITTEN)) / 1e4)
  return { key: `natural-${key}`, label, signal: [r!, g!, b!] }
})
