import {
  BT709_PRIMARIES,
  BT2020_PRIMARIES,
  D65,
  hlgInverseEotf,
  invert,
  type Lab,
  labToXyz,
  type Matrix3,
  multiply,
  type Primaries,
  pqInverseEotf,
  type RGB,
  rgbToXyzMatrix,
  xyToXyz,
} from '#core/colorimetry'
import type { Transfer } from '#core/signal'
import { keyFor, type Patch } from './patch'
import { HLG_DISPLAY, REFERENCE_WHITE, WRITTEN } from './tuning'

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

const linearFrom = (primaries: Primaries): Matrix3 => invert(rgbToXyzMatrix(primaries, xyToXyz(D65, 1))!)!
const each = (light: RGB, of: (share: number) => number): RGB => [of(light[0]), of(light[1]), of(light[2])]

/** How light is written in a kind of signal: its primaries, and the signals of channels that give shares of reference white. */
interface Writing {
  readonly toLinear: Matrix3
  readonly signalsOf: (shares: RGB) => RGB
}
const WRITING: Readonly<Record<Transfer, Writing>> = {
  sdr: {
    toLinear: linearFrom(BT709_PRIMARIES),
    signalsOf: (shares) => each(shares, (share) => share ** (1 / WRITTEN)),
  },
  pq: {
    toLinear: linearFrom(BT2020_PRIMARIES),
    signalsOf: (shares) => each(shares, (share) => pqInverseEotf(REFERENCE_WHITE * share)),
  },
  hlg: {
    toLinear: linearFrom(BT2020_PRIMARIES),
    signalsOf: (shares) =>
      hlgInverseEotf(
        each(shares, (share) => REFERENCE_WHITE * share),
        HLG_DISPLAY,
      ),
  },
}

/** The memory colours as patches of a kind of signal: SDR for a display of exponent 2.4, HDR at reference white. */
/** Whether a patch of a key is a memory colour, of whatever signal. */
export const isMemoryColour = (key: string): boolean => /(^|-)natural-/.test(key)

export const memoryColours = (transfer: Transfer): readonly Patch[] => {
  const { toLinear, signalsOf } = WRITING[transfer]
  return MEMORY_COLOURS_LAB.map(([key, label, lab]) => {
    const light = each(multiply(toLinear, labToXyz(lab, xyToXyz(D65, 1))), (l) => Math.max(0, l))
    const [r, g, b] = each(signalsOf(light), (s) => Math.round(1e4 * s) / 1e4)
    return { key: keyFor(transfer, `natural-${key}`), label, signal: [r, g, b] }
  })
}
