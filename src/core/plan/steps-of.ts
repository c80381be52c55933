import type { ViewingCase } from '#core/judge'
import {
  blackLevel,
  blackLevelAgain,
  colour,
  eotf,
  gamut,
  hdrBlackLevel,
  hdrLuminance,
  hdrWhiteLevel,
  levelWhite,
  luminance,
  luminanceAgain,
  outOfBox,
  prepare,
  processing,
  type Step,
  signal,
  survey,
  tone,
  toneMapping,
  verify,
  white,
  whiteLevel,
} from '#core/steps'

/**
 * The steps of SDR, in practitioners' order. Both ends are looked at in the curve that was chosen, black and luminance again once white was
 * balanced.
 */
const SDR: readonly Step[] = [
  prepare,
  signal,
  survey,
  outOfBox,
  luminance,
  gamut,
  tone,
  blackLevel,
  whiteLevel,
  white,
  blackLevelAgain,
  levelWhite,
  luminanceAgain,
  colour,
  processing,
  verify,
]

/**
 * The steps of HDR film. Luminance stands at its maximum and tone mapping by policy before anything else is read; white is balanced below where
 * tones are mapped; black level by shades near black, white level only where highlights gain by it.
 */
const HDR: readonly Step[] = [
  prepare,
  signal,
  survey,
  hdrLuminance,
  toneMapping,
  hdrWhiteLevel,
  outOfBox,
  gamut,
  white,
  hdrBlackLevel,
  levelWhite,
  colour,
  processing,
  verify,
  eotf,
]

/** Steps of the viewing cases that can be derived by now. */
const STEPS: Readonly<Partial<Record<ViewingCase, readonly Step[]>>> = {
  'sdr-dark': SDR,
  'sdr-bright': SDR,
  'sdr-game': SDR,
  'hdr-film': HDR,
  'hdr-film-dynamic': HDR,
}

/** The steps of a viewing case, in order; none where it cannot be derived yet. */
export const stepsOf = (viewingCase: ViewingCase): readonly Step[] => STEPS[viewingCase] ?? []
