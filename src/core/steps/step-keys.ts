import type { Role } from '#core/display'

/** The steps of the route, in practitioners' order. */
export const STEP_KEYS = [
  'prepare',
  'signal',
  'survey',
  'latency',
  'out-of-box',
  'luminance',
  'gamut',
  'tone',
  'black-level',
  'white-level',
  'tone-mapping',
  'white',
  'level-white',
  'colour',
  'helpers',
  'processing',
  'verify',
  'eotf',
  'refresh',
  'clamps',
  'uniformity',
  'guide',
] as const
export type StepKey = (typeof STEP_KEYS)[number]

export const STEP_TITLE: Readonly<Record<StepKey, string>> = {
  prepare: 'Prepare',
  signal: 'Signal check',
  survey: 'Mode survey',
  latency: 'Latency',
  'out-of-box': 'Out of the box',
  luminance: 'Luminance',
  gamut: 'Gamut',
  tone: 'Gamma',
  'black-level': 'Black level',
  'white-level': 'White level',
  'tone-mapping': 'Tone mapping',
  white: 'Two-point white balance',
  'level-white': 'Multi-point white balance',
  colour: 'Colour management',
  helpers: 'Options and trade-offs',
  processing: 'Processing and motion',
  verify: 'Final verification',
  eotf: 'EOTF tracking and peak',
  refresh: 'Variable refresh',
  clamps: 'Gamut clamps',
  uniformity: 'Uniformity',
  guide: 'Guide',
}

/** Roles that change the whole picture: whatever was read before they changed belongs to another display. */
const EVERYTHING: readonly Role[] = [
  'picture-mode',
  'range',
  'power-saving',
  'ambient-light',
  'panel-care',
  'latency',
]
const LIGHT: readonly Role[] = [
  ...EVERYTHING,
  'dynamic-contrast',
  'dimming',
  'shadow-lift',
  'highlight-lift',
  'black-frames',
  'tone-mapping',
]
const CURVE: readonly Role[] = [...LIGHT, 'black-level', 'white-level', 'tone-curve']
const WHITE: readonly Role[] = [...CURVE, 'white-preset', 'gain', 'cut', 'level-white', 'level-tone']

/**
 * On which controls the findings of a step rest. When one of them changes afterwards, what was found is stale: it is
 * looked at again with the fewest readings that tell. A step does not rest on the controls that it moves itself.
 */
export const RESTS_ON: Readonly<Record<StepKey, readonly Role[]>> = {
  prepare: [],
  signal: ['range'],
  survey: ['range', 'power-saving', 'ambient-light'],
  latency: ['picture-mode'],
  'out-of-box': ['picture-mode', 'range', 'power-saving', 'ambient-light', 'latency'],
  luminance: [...LIGHT, 'tone-curve', 'gain', 'cut'],
  gamut: ['picture-mode', 'range', 'saturation', 'hue', 'colour-amount', 'colour-luminance'],
  // A few clicks at the ends hardly move what lies between: curves are not measured again for them.
  tone: LIGHT,
  'black-level': [...LIGHT, 'tone-curve', 'gain', 'cut'],
  'white-level': [...LIGHT, 'tone-curve', 'gain', 'cut'],
  'tone-mapping': [...EVERYTHING, 'peak-luminance'],
  white: CURVE,
  'level-white': [...CURVE, 'white-preset', 'gain', 'cut'],
  colour: [...WHITE, 'gamut'],
  helpers: [...CURVE, 'peak-luminance'],
  processing: [...EVERYTHING, 'dynamic-contrast'],
  verify: [...WHITE, 'peak-luminance', 'gamut', 'hue', 'saturation', 'colour-luminance', 'colour-amount'],
  eotf: [...WHITE, 'peak-luminance', 'gamut', 'hue', 'saturation', 'colour-luminance', 'colour-amount'],
  refresh: [...WHITE, 'peak-luminance', 'variable-refresh'],
  clamps: [...WHITE, 'peak-luminance', 'hue', 'saturation', 'colour-luminance', 'colour-amount'],
  uniformity: [...EVERYTHING, 'dimming'],
  guide: [],
}

export type StepStatus = 'done' | 'now' | 'todo' | 'stale' | 'skipped' | 'impossible'

export interface RouteStep {
  readonly key: StepKey
  readonly status: StepStatus
  /** What is known or why, in a few words; empty where there is nothing to say. */
  readonly note: string
}
