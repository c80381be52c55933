import { type Role, rolesWhere } from '#core/display'

/** Roles that change the whole picture: whatever was read before they changed belongs to another display. */
export const EVERYTHING: readonly Role[] = [
  'picture-mode',
  'range',
  'power-saving',
  'ambient-light',
  'panel-care',
  'latency',
]

/** What a mode out of the box rests on. */
export const MODE: readonly Role[] = ['picture-mode', 'range', 'power-saving', 'ambient-light', 'latency']

/** What the light of greys rests on. */
export const LIGHT: readonly Role[] = [
  ...EVERYTHING,
  'dynamic-contrast',
  'dimming',
  'shadow-lift',
  'highlight-lift',
  'black-frames',
  'tone-mapping',
]

/** What both ends of the greys, and luminance, rest on. */
export const ENDS: readonly Role[] = [...LIGHT, 'tone-curve', 'gain', 'cut']

/** What white is balanced on. */
export const CURVE: readonly Role[] = [...LIGHT, 'black-level', 'white-level', 'tone-curve']

/** What the balanced greys rest on. */
export const WHITE: readonly Role[] = [...CURVE, 'white-preset', 'gain', 'cut', 'level-white', 'level-tone']

/** What colours are adjusted on. */
export const COLOUR: readonly Role[] = [...WHITE, 'gamut']

/** What moves colours by themselves. */
export const COLOURS: readonly Role[] = [...rolesWhere((r) => r.ofColour === true)]

/** What the final picture rests on. */
export const PICTURE: readonly Role[] = [...COLOUR, ...COLOURS, 'peak-luminance']

/** What dimming and the like are judged on. */
export const PROCESSING: readonly Role[] = [...EVERYTHING, 'dynamic-contrast']
