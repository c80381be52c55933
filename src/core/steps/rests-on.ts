import { ROLES, type Role, rolesWhere, STRENGTHS } from '#core/display'

/** What acts by itself on the whole picture. Dynamic contrast counts with light alone: it is compared. */
const BY_ITSELF: readonly Role[] = [
  ...rolesWhere((r) => r.measuring === 'automatic' && r !== ROLES['dynamic-contrast']),
]

/** Roles that change the whole picture: whatever was read before they changed belongs to another display. */
export const EVERYTHING: readonly Role[] = ['picture-mode', 'range', 'latency', ...BY_ITSELF]

/** What a mode out of the box rests on: what protects the panel comes back on beside it. */
export const MODE: readonly Role[] = [
  'picture-mode',
  'range',
  'latency',
  ...BY_ITSELF.filter((role) => ROLES[role].watching !== 'as-it-comes'),
]

/** What the light of greys rests on. */
export const LIGHT: readonly Role[] = [
  ...EVERYTHING,
  'dynamic-contrast',
  ...STRENGTHS,
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

/** What processing is judged on. */
export const PROCESSING: readonly Role[] = [...EVERYTHING, 'dynamic-contrast']

/** What strengths of dimming are compared on: the others at rest. */
export const COMPARED: readonly Role[] = [...PROCESSING, ...STRENGTHS]
