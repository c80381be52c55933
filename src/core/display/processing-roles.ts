import type { RoleEntries } from './role-entry'

/** Roles of what works on the picture, by itself or all the time. */
export const PROCESSING_ROLES = {
  sharpness: {
    term: 'Sharpness',
    means: 'adds outlines to edges',
    words: { turn: 31, pattern: /sharp|edge|outline|clarity|detail/i },
    watching: 'neutral',
    hasNeutral: true,
    step: 'processing',
    transfer: 'copy',
    weight: 55,
  },
  'noise-reduction': {
    term: 'Noise reduction',
    means: 'smooths noise, and detail with it',
    words: { turn: 32, pattern: /noise|grain|compression|artefact|artifact|gradation|banding|deblock/i },
    watching: 'neutral',
    hasNeutral: true,
    step: 'processing',
    transfer: 'copy',
    weight: 45,
  },
  motion: {
    term: 'Motion interpolation',
    means: 'adds frames between frames',
    words: { turn: 33, pattern: /motion|judder|blur|film|cinema|interpol|frame|smooth/i },
    watching: 'neutral',
    hasNeutral: true,
    step: 'processing',
    transfer: 'copy',
    weight: 60,
    tried: 'games',
    flickers: true,
  },
  'black-frames': {
    term: 'Black frame insertion',
    means: 'darkens the screen between frames, for sharper motion',
    words: { turn: 15, pattern: /black.?frame|strob|frame insertion|back ?light (scan|flash)|scanning/i },
    // Its flicker dims every patch.
    measuring: 'neutral',
    watching: 'neutral',
    step: 'prepare',
    transfer: 'copy',
    tried: 'games',
    flickers: true,
  },
  dimming: {
    term: 'Local dimming',
    means: 'dims zones of the panel',
    words: { turn: 21, pattern: /local (dim|zone|back)|edge dim|dimming|zones?\b/i },
    measuring: 'neutral',
    step: 'processing',
    transfer: 'copy',
    weight: 40,
  },
  iris: {
    term: 'Iris or moving light source',
    means: 'opens and closes the light with the picture',
    words: {
      turn: 16,
      pattern: /\biris\b|aperture|(dynamic|auto(matic)?|adaptive|moving) (light source|lamp|laser)/i,
    },
    measuring: 'neutral',
    step: 'processing',
    transfer: 'copy',
    weight: 40,
  },
  'global-dimming': {
    term: 'Global dimming',
    means: 'dims the whole screen with the picture',
    words: {
      turn: 11,
      pattern:
        /(global|whole.?screen|full.?screen|frame|picture|scene) dim|dim(s|ming)?( of)? (the )?(whole|entire)|(brightness|luminance) limit/i,
    },
    measuring: 'automatic',
    watching: 'neutral',
    step: 'prepare',
    transfer: 'copy',
    weight: 42,
  },
  'still-dimming': {
    term: 'Dimming of still pictures',
    means: 'dims what stands still, to protect the panel',
    words: {
      turn: 10,
      pattern:
        /(logo|still|static|idle|inactiv)[^|]*(dim|luminance|bright)|dim[^|]*(logo|still|static|idle)/i,
    },
    measuring: 'automatic',
    watching: 'as-it-comes',
    step: 'prepare',
    transfer: 'copy',
    weight: 35,
  },
  'auto-mode': {
    term: 'Automatic mode switching',
    means: 'changes the picture mode by what is played',
    words: {
      turn: 1,
      pattern:
        /^(?!.*(latency|lag|hdr|sdr)).*(\bauto(matic)?\b|\bby (content|source|genre)|switch)[^|]*(mode|genre|scene)|^(?!.*(latency|lag|hdr|sdr)).*mode[^|]*(\bauto(matic)?\b|switch|\bby (content|source))|(film|cinema|movie)[^|]*(auto(matic)? ?start|detect)/i,
    },
    measuring: 'automatic',
    watching: 'neutral',
    step: 'prepare',
    transfer: 'copy',
    weight: 72,
  },
  'content-detection': {
    term: 'Content detection',
    means: 'changes the picture by what it takes to be shown',
    words: {
      turn: 7,
      pattern:
        /content[^|]*(detect|recogn|optimi|analy|type|aware)|(scene|object|face|genre) (detect|recogn|analy|optimi)/i,
    },
    measuring: 'automatic',
    watching: 'neutral',
    step: 'prepare',
    transfer: 'copy',
    weight: 71,
  },
  'eye-comfort': {
    term: 'Eye comfort',
    means: 'takes blue out of the picture',
    words: {
      turn: 8,
      pattern:
        /eye (comfort|care|saver|ease|protect|strain)|(low|less|reduce[ds]?)? ?blue.?light|night (light|shift|warmth|tone|colou?r)|evening|circadian|reading mode/i,
    },
    measuring: 'automatic',
    watching: 'neutral',
    step: 'prepare',
    transfer: 'copy',
    weight: 73,
  },
  'forced-signal': {
    term: 'Forced kind of signal',
    means: 'takes the signal for another kind than it says it is',
    words: {
      turn: 9,
      pattern:
        /(input|source|signal)[^|]*(colou?r (space|gamut)|colorimetry|primaries|eotf|transfer)|hdr (mode|input|signal|detection|auto|on)|^(auto(matic)? )?hdr$|force[^|]*(hdr|sdr)|sdr (to|as|into) hdr|(kind|type) of signal|(signal|dynamic range) (kind|type)/i,
    },
    measuring: 'automatic',
    watching: 'neutral',
    step: 'prepare',
    transfer: 'copy',
    weight: 69,
  },
  'colour-enhancement': {
    term: 'Colour enhancement',
    means: 'changes colours with the picture',
    words: {
      turn: 12,
      pattern:
        /(dynamic|active|adaptive) colou?r|colou?r (enhance|boost|expan|vibran|intensif)|(skin|flesh).?tones?\b/i,
    },
    measuring: 'automatic',
    watching: 'neutral',
    step: 'prepare',
    transfer: 'copy',
    weight: 67,
  },
  'resolution-enhancement': {
    term: 'Resolution enhancement',
    means: 'adds detail that the signal does not have',
    words: {
      turn: 13,
      pattern: /super.?resolution|resolution|up.?scal|(detail|texture) (creat|enhanc|boost|recover|restor)/i,
    },
    watching: 'neutral',
    hasNeutral: true,
    step: 'processing',
    transfer: 'copy',
    weight: 54,
  },
  'response-acceleration': {
    term: 'Response acceleration',
    means: 'speeds up the pixels, and overshoots where it is too strong',
    words: {
      turn: 14,
      pattern: /over.?drive|(?<!instant )response( time)?|pixel (speed|response)|acceleration/i,
    },
    step: 'prepare',
    transfer: 'copy',
  },
  'dynamic-contrast': {
    term: 'Dynamic contrast',
    means: 'changes gamma with the picture',
    words: {
      turn: 24,
      pattern:
        /dynamic (contrast|range|gamma)|adaptive (contrast|gamma|tone)|(auto(matic)?|active) contrast|^contrast$/i,
    },
    measuring: 'automatic',
    watching: 'neutral',
    step: 'prepare',
    transfer: 'copy',
    weight: 70,
  },
  'ambient-light': {
    term: 'Ambient light sensor',
    means: 'changes the picture with the light in the room',
    words: {
      turn: 17,
      pattern:
        /ambient|sensor|room light|(auto(matic)?|adaptive) (bright|luminance|light)|(brightness|luminance) (auto|by room)/i,
    },
    measuring: 'automatic',
    watching: 'neutral',
    step: 'prepare',
    transfer: 'copy',
    weight: 75,
  },
  'power-saving': {
    term: 'Power saving',
    means: 'dims the picture to save power',
    words: { turn: 22, pattern: /(?<!screen )sav(e|ing)|\beco\b|energy|economy/i },
    measuring: 'automatic',
    watching: 'neutral',
    step: 'prepare',
    transfer: 'copy',
    weight: 74,
  },
  'panel-care': {
    term: 'Panel care',
    means: 'protects the panel from still pictures',
    // It dims still pictures, and every patch is one.
    words: {
      turn: 23,
      pattern:
        /panel care|(screen|panel) (saver|protect|care)|pixel (shift|orbit|refresh|clean)|logo|burn|retention/i,
    },
    measuring: 'automatic',
    watching: 'as-it-comes',
    step: 'prepare',
    transfer: 'copy',
    tried: 'desktop',
  },
} as const satisfies RoleEntries
