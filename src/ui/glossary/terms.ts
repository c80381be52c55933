/** Terms of the trade as Wexmar uses them: shown where they stand, and listed on the glossary page. */
export const TERMS = {
  luminance: {
    term: 'Luminance',
    says: 'Light that a screen gives towards the viewer, in candela per square metre (cd/m²).',
  },
  'peak-white': {
    term: 'White level',
    says: 'Luminance of full white, and the setting that decides where highlights clip.',
  },
  'black-level': {
    term: 'Black level',
    says: 'Luminance of black, and the setting that decides where shadows clip.',
  },
  contrast: { term: 'Contrast', says: 'Luminance of white divided by luminance of black.' },
  gamma: {
    term: 'Gamma',
    says: 'Exponent that relates signal and light, with black subtracted, averaged over 20 to 90 % of signal. For HDR, EOTF tracking takes its place.',
  },
  bt1886: {
    term: 'BT.1886',
    says: 'Reference gamma for SDR: 2.4 with the black of the display lifted into it (ITU-R BT.1886).',
  },
  greyscale: {
    term: 'Greyscale ΔE',
    says: 'ΔE00 between a grey and the target white at the same luminance, averaged over 10 to 100 % of signal. Luminance is not included: it is what white balance can correct.',
  },
  'greyscale-luminance': {
    term: 'Greyscale ΔE including luminance',
    says: 'The same with the luminance that the target gamma asks for: a grey that is too bright or too dark counts as well.',
  },
  de00: {
    term: 'ΔE00',
    says: 'Colour difference CIEDE2000. Below 1 it is hard to see even side by side.',
  },
  'white-point': {
    term: 'White point',
    says: 'Chromaticity of white. The reference is D65, x 0.3127, y 0.3290.',
  },
  cct: {
    term: 'CCT and Duv',
    says: 'Colour temperature of white in kelvin, and its distance from the black-body line: positive is greenish, negative is pinkish. D65 is 6,504 K and 0.0032.',
  },
  'memory-colours': {
    term: 'Memory colours',
    says: 'Colours whose look people know: skin, foliage, sky and others. Average ΔE00 over eighteen of them.',
  },
  primaries: {
    term: 'Primaries and secondaries',
    says: 'Red, green, blue, cyan, magenta and yellow at full signal.',
  },
  gamut: { term: 'Gamut', says: 'The colours that a display can show, spanned by its primaries.' },
  'two-point': {
    term: 'Two-point white balance',
    says: 'Gains change bright greys, cuts change dark greys, for red, green and blue.',
  },
  'multi-point': {
    term: 'Multi-point white balance',
    says: 'Red, green and blue adjusted at single grey levels, usually in steps of 5 or 10 %.',
  },
  clicks: {
    term: 'Clicks to target',
    says: 'How many clicks of the display’s own control a channel still is from the target.',
  },
  dimming: {
    term: 'Local dimming',
    says: 'Zones of the backlight that dim automatically where the picture is dark.',
  },
  'out-of-box': {
    term: 'Out of the box',
    says: 'The picture mode with its factory defaults, automatic picture processing turned off.',
  },
  source: {
    term: 'Source of a value',
    says: 'Measured, interpolated between readings, or extrapolated beyond them.',
  },
  stale: {
    term: 'Stale',
    says: 'Something that a result rests on has been changed since it was measured.',
  },
  latency: {
    term: 'Latency',
    says: 'Time from the moment at which a source sends a picture until it shows in the place that is looked at, in milliseconds or frames.',
  },
  'variable-refresh': {
    term: 'Variable refresh rate',
    says: 'The display shows each frame when it arrives, instead of at a fixed rate.',
  },
  'response-time': {
    term: 'Response time',
    says: 'Time in which light goes from 10 to 90 % of a change between two greys.',
  },
  overshoot: {
    term: 'Overshoot',
    says: 'How far light goes beyond where it settles after a change, as a share of the change.',
  },
  'black-frames': {
    term: 'Black frame insertion',
    says: 'The screen goes dark between frames, for sharper motion. It takes light, and flickers.',
  },
  chroma: {
    term: 'Chroma subsampling',
    says: '4:4:4 sends colour for every pixel, 4:2:2 for every second, 4:2:0 for every fourth. Coloured text shows the difference.',
  },
  'on-off': {
    term: 'On/off contrast',
    says: 'White and black of the whole screen, one after the other. A checkerboard has both at once, and gives less.',
  },
  'screen-gain': {
    term: 'Gain of a screen',
    says: 'Light that a projection screen gives back towards the viewer, against a matt white surface.',
  },
  'throw-ratio': {
    term: 'Throw ratio',
    says: 'Distance from lens to screen, divided by the width of the picture.',
  },
} as const
export type TermKey = keyof typeof TERMS
