import {
  bt1886Eotf,
  bt1886InverseEotf,
  hlgEotf,
  hlgInverseEotf,
  pqEotf,
  pqInverseEotf,
  type RGB,
  srgbEotf,
  srgbInverseEotf,
} from '#core/colorimetry'
import type { Transfer } from '#core/signal'

/** Luminance of a display's white and black, cd/m². */
export interface WhiteAndBlack {
  readonly white: number
  readonly black: number
}

/** How a viewing case wants signals to become light, on a display of some white and black. */
export interface Curve {
  /** Tells curves apart: "bt1886", "power-2.2", "srgb", "pq", "hlg". */
  readonly key: string
  /** What people call it: "BT.1886", "2.20", "PQ". */
  readonly name: string
  /** How a link has to flag a signal that is meant for it. */
  readonly transfer: Transfer
  /** In: signal 0…1. Out: luminance of that grey, cd/m². */
  readonly luminanceOf: (level: number, display: WhiteAndBlack) => number
  /** In: luminance, cd/m². Out: signal 0…1 of the grey that has it, held at the ends. */
  readonly levelOf: (luminance: number, display: WhiteAndBlack) => number
  /** In: signals of red, green and blue. Out: light of each channel in cd/m², such that equal channels give that luminance. */
  readonly channelsOf: (rgb: RGB, display: WhiteAndBlack) => RGB
  /** Exponents between which a display that is made for it answers to drive, and the usual one. */
  readonly response: { readonly least: number; readonly most: number; readonly usual: number }
}

/** Exponent of the scale over which white is balanced in PQ. */
export const BALANCE_EXPONENT = 2.2

/** Displays for SDR lie about here; a fit outside is one of something else. */
const POWER_RESPONSE = { least: 1, most: 4, usual: 2.2 } as const

const held = (value: number) => Math.min(1, Math.max(0, value))

/** A curve in which each channel is by itself what a grey of its signal is. */
const separable = (
  about: Pick<Curve, 'key' | 'name' | 'transfer'>,
  luminanceOf: Curve['luminanceOf'],
  levelOf: Curve['levelOf'],
): Curve => ({
  ...about,
  luminanceOf,
  levelOf,
  channelsOf: ([r, g, b], display) => [
    luminanceOf(r, display),
    luminanceOf(g, display),
    luminanceOf(b, display),
  ],
  response: POWER_RESPONSE,
})

/**
 * A power law with the display's black below it: L = (Lw − Lb)·V^γ + Lb, for greys and for each channel alike, so that a grey of a
 * colour target is the grey of the tone target. In: exponent.
 */
export const powerCurve = (exponent: number): Curve =>
  separable(
    { key: `power-${exponent}`, name: exponent.toFixed(2), transfer: 'sdr' },
    (level, { white, black }) => (white - black) * level ** exponent + black,
    (luminance, { white, black }) => held((luminance - black) / (white - black)) ** (1 / exponent),
  )

/** ITU-R BT.1886, annex 1. */
export const BT1886_CURVE: Curve = separable(
  { key: 'bt1886', name: 'BT.1886', transfer: 'sdr' },
  bt1886Eotf,
  (luminance, display) => held(bt1886InverseEotf(luminance, display)),
)

/** IEC 61966-2-1, the display's black below it. */
export const SRGB_CURVE: Curve = separable(
  { key: 'srgb', name: 'sRGB', transfer: 'sdr' },
  (level, { white, black }) => (white - black) * srgbEotf(level) + black,
  (luminance, { white, black }) => srgbInverseEotf(held((luminance - black) / (white - black))),
)

/** ITU-R BT.2100 PQ: absolute light, as far as the display's white and black reach. */
export const PQ_CURVE: Curve = separable(
  { key: 'pq', name: 'PQ', transfer: 'pq' },
  (level, { white, black }) => Math.min(white, Math.max(black, pqEotf(level))),
  (luminance) => pqInverseEotf(luminance),
)

/**
 * PQ as white is balanced in it: colours are absolute light, and greys stand on a scale of their own, whose places are as bright as a power law
 * from the display's brightest balanced grey (`Patch.level`). So gains, cuts and single levels are solved as in SDR, below the knee.
 */
export const PQ_BALANCE_CURVE: Curve = {
  ...PQ_CURVE,
  key: 'pq-balance',
  luminanceOf: (level, { white }) => white * level ** BALANCE_EXPONENT,
  levelOf: (luminance, { white }) => held(luminance / white) ** (1 / BALANCE_EXPONENT),
  channelsOf: ([r, g, b]) => [pqEotf(r), pqEotf(g), pqEotf(b)],
}

/** ITU-R BT.2100 HLG with the system gamma of the display's white; its channels depend on one another. */
export const HLG_CURVE: Curve = {
  key: 'hlg',
  name: 'HLG',
  transfer: 'hlg',
  luminanceOf: (level, display) => hlgEotf([level, level, level], display)[1],
  levelOf: (luminance, display) => held(hlgInverseEotf([luminance, luminance, luminance], display)[0]),
  channelsOf: (rgb, display) => hlgEotf(rgb, display),
  response: POWER_RESPONSE,
}
