import type { ViewingCase } from '#core/judge'
import {
  blackLevel,
  blackLevelAgain,
  type CaseOf,
  clamps,
  colour,
  eotf,
  gamut,
  hdrBlackLevel,
  hdrLuminance,
  hdrWhiteLevel,
  helpers,
  latency,
  levelWhite,
  luminance,
  luminanceAgain,
  outOfBox,
  prepare,
  processing,
  refresh,
  type Step,
  signal,
  survey,
  tone,
  toneMapping,
  uniformity,
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
  helpers,
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
  helpers,
  processing,
  verify,
  eotf,
]

/** The steps with something put behind one of them. */
const withAfter = (steps: readonly Step[], after: Step, ...more: readonly Step[]): readonly Step[] =>
  steps.flatMap((step) => (step === after ? [step, ...more] : [step]))

/** Games: what shortens the delay is on before anything of the picture rests on it; variable refresh is looked at in the final state. */
const forGames = (steps: readonly Step[]): readonly Step[] => [...withAfter(steps, survey, latency), refresh]

/** Computers: standard content in each gamut once colours are right, and the evenness of the screen. */
const DESKTOP: readonly Step[] = [...withAfter(SDR, colour, clamps), uniformity]

/** The steps of every viewing case. */
const STEPS_OF_CASE: Readonly<Record<ViewingCase, readonly Step[]>> = {
  'sdr-dark': SDR,
  'sdr-bright': SDR,
  'sdr-game': forGames(SDR),
  'hdr-film': HDR,
  'hdr-film-dynamic': HDR,
  'hdr-game': forGames(HDR),
  desktop: DESKTOP,
}

/** The steps of a viewing case on a display, in order. */
export const stepsOf = (of: CaseOf): readonly Step[] =>
  STEPS_OF_CASE[of.viewingCase].filter((step) => step.belongs?.(of) ?? true)
