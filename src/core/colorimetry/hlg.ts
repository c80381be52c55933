import type { RGB } from './types'

/** Constants of the HLG OETF. ITU-R BT.2100-2, table 5. */
const A = 0.17883277
const B = 1 - 4 * A
const C = 0.5 - A * Math.log(4 * A)
/** Weights of BT.2020 red, green and blue in luminance. ITU-R BT.2100-2, table 5. */
const WEIGHTS: RGB = [0.2627, 0.678, 0.0593]

/** Scene light of an HLG signal, both 0…1. ITU-R BT.2100-2, table 5, inverse OETF. */
const inverseOetf = (signal: number): number =>
  signal <= 0.5 ? signal ** 2 / 3 : (Math.exp((signal - C) / A) + B) / 12

/**
 * Exponent of the HLG system for a display.
 * In: luminance of its white, cd/m². Out: exponent, 1.2 at 1000 cd/m². ITU-R BT.2100-2, table 5, note 5f between 400 and
 * 2000 cd/m²; beyond them the extended formula of note 5g.
 */
export const hlgSystemGamma = (white: number): number =>
  white >= 400 && white <= 2000
    ? 1.2 + 0.42 * Math.log10(white / 1000)
    : 1.2 * 1.111 ** Math.log2(white / 1000)

/**
 * Light of a display that shows an HLG signal.
 * In: red, green and blue signal 0…1; luminance of the display's white and black in cd/m². Out: linear display light of each
 * channel in cd/m², such that equal channels give that luminance. ITU-R BT.2100-2, table 5: EOTF with black lift and OOTF.
 */
export const hlgEotf = ([r, g, b]: RGB, { white, black }: { white: number; black: number }): RGB => {
  const gamma = hlgSystemGamma(white)
  const lift = Math.sqrt(3 * (black / white) ** (1 / gamma))
  const scene = (signal: number) => inverseOetf(Math.max(0, (1 - lift) * signal + lift))
  const [R, G, B_] = [scene(r), scene(g), scene(b)]
  const luminance = WEIGHTS[0] * R + WEIGHTS[1] * G + WEIGHTS[2] * B_
  const scale = luminance > 0 ? white * luminance ** (gamma - 1) : 0
  return [scale * R, scale * G, scale * B_]
}

/**
 * HLG signal of light on a display: the inverse of `hlgEotf`.
 * In: linear display light of red, green and blue, cd/m²; luminance of the display's white and black, cd/m². Out: signals, 0 at black or
 * below.
 */
export const hlgInverseEotf = ([r, g, b]: RGB, { white, black }: { white: number; black: number }): RGB => {
  const gamma = hlgSystemGamma(white)
  const lift = Math.sqrt(3 * (black / white) ** (1 / gamma))
  const light = WEIGHTS[0] * r + WEIGHTS[1] * g + WEIGHTS[2] * b
  // The OOTF's factor for the scene's luminance, which is the root of the display's.
  const scale = light > 0 ? white * (light / white) ** ((gamma - 1) / gamma) : white
  const signal = (channel: number) => {
    const scene = Math.max(0, channel) / scale
    const coded = scene <= 1 / 12 ? Math.sqrt(3 * scene) : A * Math.log(12 * scene - B) + C
    return Math.max(0, (coded - lift) / (1 - lift))
  }
  return [signal(r), signal(g), signal(b)]
}
