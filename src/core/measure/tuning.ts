/** What measuring decides by. */

// memory colours
/** Exponent with which SDR is written: BT.1886 with a black of nothing. */
export const WRITTEN = 2.4
/** Luminance of reference white in HDR, cd/m². ITU-R BT.2408-7, 2.1. */
export const REFERENCE_WHITE = 203
/** The display for which HLG levels are quoted, cd/m². ITU-R BT.2100-2, table 5. */
export const HLG_DISPLAY = { white: 1000, black: 0 } as const

// patch set
/** Signals of the six colours muted: three quarters, and the closed channels half opened. */
export const MUTED = { open: 0.75, closed: 0.375 } as const
/** Memory colours that stand for the others where there is little time. */
export const FEW_MEMORY_COLOURS = ['skin-tan', 'foliage']
/** Memory colours of a case that a person reads: skin light and dark, and one of each part of the colour circle. */
export const MEMORY_COLOURS_BY_HAND = ['skin-pale', 'skin-tan', 'skin-dark', 'foliage', 'sky', 'orange']
/** Memory colours between the six, one on each side of the colour circle and skin. */
export const MIXTURES = ['skin-tan', 'foliage', 'sky', 'orange']
/** Grey levels of the short sweep, %: with a step near each end, and those that tell a tone curve. */
export const SURVEY_LEVELS = [100, 97, 80, 50, 20, 3, 0]

/** The same of a mode in PQ, % of the scale. */
export const PQ_SURVEY_LEVELS = [100, 50, 20, 0]

/** The darkest place of the scale of PQ that white is balanced at, %: about a cd/m². */
export const PQ_DARK_LEVEL = 6

/** Shades near black that a verification reads, %. */
export const NEAR_BLACK_LEVELS = [5, 3, 2]

// sweep
/** Windows of the sweep of windows, % of the screen. */
export const WINDOWS = [1, 2, 5, 10, 18, 25, 50, 75, 100] as const
/** Seconds for putting a patch up. */
export const PATCH_SECONDS = 0.5

// reading
/** Share of the largest value by which another may come out below zero on a pure colour, corrections being what they are. */
export const BELOW_ZERO = 0.02

// drift
/** Beyond this, readings before and after do not belong together: 1 % of luminance, Δu′v′ 0.001. */
export const DRIFT_LIMIT = { luminance: 0.01, chromaticity: 0.001 } as const
/** Bench seconds after which a display of any kind has usually settled. */
export const USUAL_WARM_UP = 45 * 60
/** Bench seconds between two looks at a display that warms up, and the longest that a run waits. */
export const SETTLE = { cold: 30, warm: 20, longest: 60 * 60 } as const
/** Drift under which a display counts as settled, per look. */
export const STILL = { luminance: 0.0012, chromaticity: 0.0003 } as const

/** Standard deviations of a reading that light has to go up or down by, to count as wavering. */
export const WAVERS = 6

/** Readings from which on a trend is told, the newest that count, and bench seconds of a sweep that it must not spoil. */
export const TREND = { least: 6, most: 16, span: 120 } as const

// averaging
/**
 * Standard error that the decision on a patch can live with, as a share: contrast to two digits, tone to 0.01, colours to half a ΔE00, and a
 * grey to a sixth of one, where X, Y and Z scatter each by themselves: its white is set click by click.
 */
export const NEED = { black: 0.02, dark: 0.005, colour: 0.003, grey: 0.001 } as const
/** Single readings from which on the scatter that they show counts beside the one that the meter states. */
export const SHOWN_SCATTER_FROM = 3
/** Most single readings that are averaged, however quick the meter. */
export const MOST_SAMPLES = 64
/** Degrees of freedom that the meter's own statement counts as against what its readings show. */
export const STATED_WEIGHT = 8
/** Below this share of white nothing is told apart, however dark the room: a contrast of a million to one. */
export const INVISIBLE = 1e-6

// HDR sweeps
/** Luminances of the sweep of PQ, cd/m²: near black, where eyes live, and up to what the signal ends at. */
export const EOTF_LUMINANCES = [
  0.005, 0.02, 0.05, 0.2, 0.5, 1, 2, 5, 10, 25, 50, 100, 150, 203, 300, 400, 500, 600, 750, 900, 1100, 1400,
  1800, 2500, 4000, 10_000,
] as const
/** Shares of a display's peak at which greys are read under other mastering peaks. */
export const MASTERED_PLACES = [0.5, 0.85, 1.7] as const
/** Seconds of black before each of them. */
export const MASTERED_REST = 10
/** Greys between two steps of it. */
export const DENSE_STEPS = 4
/** Seconds for which a still picture stands before what panel care takes of it is read. */
export const STANDS_STILL = 150
/** Near black in PQ, cd/m²; white of the colours that are read at two luminances, cd/m², and their saturations. */
export const PQ_NEAR_BLACK = [0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1] as const
export const HDR_COLOUR_LUMINANCES = [20, 203] as const
export const HDR_SATURATIONS = [0.25, 0.5, 0.75, 1] as const
/** Luminances of white whose channels are read alone, cd/m²; and signals of HLG, 0…1. */
export const CHANNEL_LUMINANCES = [100, 203, 400, 600, 800, 1100, 1600, 2500, 4000, 10_000] as const
export const HLG_SIGNALS = [0, 0.05, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.75, 0.8, 0.9, 1] as const
/** Windows that games ask for: their screens show a small window and a full screen. */
export const GAME_WINDOWS = [0.02, 0.1, 1] as const
/** Windows in which the peak is read, shares of the screen. */
export const HDR_WINDOWS = [0.01, 0.02, 0.05, 0.1, 0.18, 0.25, 0.5, 1] as const
/** Greys that are read alone and beside a highlight, cd/m²; the highlight: some 1,000 cd/m² in a small window. */
export const SCENE_LUMINANCES = [20, 80] as const
export const HIGHLIGHT = { signal: [0.75, 0.75, 0.75], window: 0.02 } as const
/** Share of the screen's height that the ramp of a scene takes: enough to be seen by what maps tones, too little to load the panel. */
export const RAMP_HEIGHT = 0.1
/** Luminance from which power may limit a small window, cd/m², and seconds after which it has. */
export const SUSTAINED = { from: 100, seconds: 15 } as const
