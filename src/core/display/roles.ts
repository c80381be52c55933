import { z } from 'zod'

/** What a control does, whatever its label says. */
export const Role = z.enum([
  'picture-mode',
  'peak-luminance',
  'white-level',
  'black-level',
  'tone-curve',
  'white-preset',
  'gain',
  'cut',
  'level-white',
  'level-tone',
  'hue',
  'saturation',
  'colour-luminance',
  'colour-amount',
  'shadow-lift',
  'sharpness',
  'noise-reduction',
  'motion',
  'dimming',
  'dynamic-contrast',
  'ambient-light',
  'tone-mapping',
  'range',
  'gamut',
  'latency',
  'power-saving',
  'panel-care',
  'sound',
  'copy',
  'other',
])
export type Role = z.infer<typeof Role>

/** The trade's own term for a role, whatever the maker's label says. */
export const ROLE_TERM: Readonly<Record<Role, string>> = {
  'picture-mode': 'Picture mode',
  'peak-luminance': 'Luminance of the panel',
  'white-level': 'White level (contrast)',
  'black-level': 'Black level (brightness)',
  'tone-curve': 'Gamma',
  'white-preset': 'Colour temperature preset',
  gain: 'White balance gain',
  cut: 'White balance cut',
  'level-white': 'Multi-point white balance',
  'level-tone': 'Multi-point gamma',
  hue: 'Hue',
  saturation: 'Saturation',
  'colour-luminance': 'Colour luminance',
  'colour-amount': 'Channel of a colour',
  'shadow-lift': 'Shadow lift',
  sharpness: 'Sharpness',
  'noise-reduction': 'Noise reduction',
  motion: 'Motion interpolation',
  dimming: 'Local dimming',
  'dynamic-contrast': 'Dynamic contrast',
  'ambient-light': 'Ambient light sensor',
  'tone-mapping': 'HDR tone mapping',
  range: 'Signal range',
  gamut: 'Colour gamut',
  latency: 'Low latency',
  'power-saving': 'Power saving',
  'panel-care': 'Panel care',
  sound: 'Sound',
  copy: 'Copy settings to other inputs',
  other: 'Something else',
}

/** What a role means, in words a reader understands. */
export const ROLE_MEANING: Readonly<Record<Role, string>> = {
  'picture-mode': 'chooses the picture mode',
  'peak-luminance': 'sets how much light the panel gives',
  'white-level': 'sets the level at which highlights clip',
  'black-level': 'sets the level at which shadows clip',
  'tone-curve': 'sets gamma: how bright mid-tones are',
  'white-preset': 'chooses the white point',
  gain: 'changes one channel, mostly in bright greys',
  cut: 'changes one channel, mostly in dark greys',
  'level-white': 'changes one channel at one grey level',
  'level-tone': 'changes the luminance of one grey level',
  hue: 'turns a colour towards its neighbours',
  saturation: 'sets how strong a colour is',
  'colour-luminance': 'sets how bright a colour is',
  'colour-amount': 'sets how much of one channel is in a colour',
  'shadow-lift': 'makes shadows lighter',
  sharpness: 'adds outlines to edges',
  'noise-reduction': 'smooths noise, and detail with it',
  motion: 'adds frames between frames',
  dimming: 'dims zones of the panel',
  'dynamic-contrast': 'changes gamma with the picture',
  'ambient-light': 'changes the picture with the light in the room',
  'tone-mapping': 'fits HDR highlights to the panel',
  range: 'sets which code values are black and white',
  gamut: 'chooses how far colours reach',
  latency: 'shortens the delay, and drops processing',
  'power-saving': 'dims the picture to save power',
  'panel-care': 'protects the panel from still pictures',
  sound: 'sound',
  copy: 'copies values to other inputs or sources',
  other: 'leaves the picture alone',
}

/** Roles that change the picture by themselves. */
export const AUTOMATIC_PROCESSING: ReadonlySet<Role> = new Set<Role>([
  'power-saving',
  'ambient-light',
  'dynamic-contrast',
  // It dims still pictures, and every patch is one.
  'panel-care',
])

/**
 * Roles that stand at neutral while it is measured: automatic picture processing, and what makes light and shadow depend on the rest of
 * the picture. Some come back on for watching.
 */
export const MEASURED_AT_NEUTRAL: ReadonlySet<Role> = new Set<Role>([
  ...AUTOMATIC_PROCESSING,
  'dimming',
  'shadow-lift',
])
