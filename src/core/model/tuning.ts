/** What the models of a display take for usual, and how sure they are of it. */

// colour model
/** How far a colour may be off by itself, as a share of its light: muted and natural ones, and full ones; and with others of its hue. */
export const COLOUR_MODEL_OWN = 0.05
export const FULL_OWN = 0.15
export const COLOUR_MODEL_SHARED = 0.12
/** How much of what a click of hue does upwards it is expected to do downwards as well, before it was seen: on many displays all of it, on some nothing. */
export const ONE_TURN = 0.6
/** Light of a channel below nothing that may be scatter, white being 1. */
export const SCATTERED = 0.01
/** Light of a channel below which it counts as closed, white being 1. */
export const COLOUR_MODEL_CLOSED = 0.015

// control alone
/**
 * A control moved by itself: clicks from which on it tells, standard deviation up to which it does and share of the usual effect below which it is
 * dead; scatter of light that no conclusion is drawn from, and share of a ceiling from which on nothing is told.
 */
export const ALONE = { clicks: 5, tells: 0.07, dead: 0.15, scatter: 0.0015, nearCeiling: 0.97 } as const

// control faults
/** Share of the usual effect below which a control counts as doing nothing. */
export const NOTHING = 0.08
/** How far from its label, in steps to the neighbour, a channel may be driven so that a level's control is judged by its own signal. */
export const IN_PLACE = 0.35
/** Usual effect of a gain at white and of a cut at 10 %, over half the range, in drive. */
export const CONTROL_FAULTS_USUAL = { gain: 0.18, cut: 0.036 } as const
/** Levels that tell of a gain and of a cut. */
export const TELLING_LEVEL = { gain: 0.8, cut: 0.1 } as const
/** Change of drive, as a share of the level, that trying a control by itself aims at. */
export const TELLING_CHANGE = 0.07
/** How near to its level a reading tells of a level-by-level control, as a share of the signal. */
export const AT_ITS_LEVEL = 0.03
/** Share of what it does to its own channel that another one may follow, and standard deviations from which that is said. */
export const COUPLED = { share: 0.35, sure: 5 } as const
/** Share of the usual effect below which a control that works may stop on its way. */
export const HALF_WAY = 0.65
/** Standard deviations that are missing where a control stops. */
export const STOPS = 6
/** Logarithm of how much likelier readings have to be with a faulty control than without, so that it is tried by itself. */
export const FAR_LIKELIER = 12
/** Standard deviations from which a reading is surprising enough to ask why. */
export const SURPRISING = 4
/** Signal above which a channel may have run out: readings there tell nothing certain of clicks, and no control is judged by them. */
export const RUNS_OUT = 0.94
/** Signal from which a level is bright enough for such a verdict. */
export const BRIGHT_ENOUGH = 0.14

// ceilings
/**
 * Levels that can run out; by how much a reading has to fall short, in the logarithm of light, beyond what is not known of it; the same in the
 * reference state, told by its own levels; share of a ceiling from which on it counts as met; share of the most that a channel was seen to
 * give below which a ceiling is not believed, panel light being known to a few percent; drive by which the channel has to have been raised.
 */
export const CEILING = {
  from: 0.95,
  short: 0.02,
  shortOwn: 0.03,
  met: 0.985,
  seen: 0.95,
  raised: 0.008,
} as const

/** Signal from which on a level's control moves white as well. */
export const TOP_LEVEL = 0.95

// level shape
/** Usual form of level-by-level controls: what is expected, how far displays differ, and what is beyond belief. */
export const LEVEL_SHAPE = {
  scale: { mean: 1, sigma: 0.05, least: 0.85, most: 1.18 },
  follows: { mean: 0.5, sigma: 0.5, least: 0, most: 1 },
  bend: { mean: 1, sigma: 0.07, least: 0.78, most: 1.25 },
  shift: { mean: 0, sigma: 0.01, least: -0.03, most: 0.03 },
  growth: { mean: 0.8, sigma: 0.4, least: -0.4, most: 1.6 },
  width: { mean: 1, sigma: 0.2, least: 0.7, most: 2 },
  round: { mean: 0.4, sigma: 0.4, least: 0, most: 1 },
} as const
/** Usual reach of a page: from neutral to the end of its range a control moves the drive of white by a fourteenth. */
export const LEVEL_STRENGTH = { mean: 0.07, sigma: 0.05 } as const
/** Signal between a level and a control that moves nothing of it. */
export const FAR_AWAY = 0.45
/** How far the pages of the three channels differ from each other, as a share. */
export const ALIKE = 0.15
/** How far one control differs from its page: by itself, on its flanks, and so where nothing was read yet. */
export const LEVEL_OWN = { own: 0.12, flank: 0.12, unseen: 0.15 } as const

// expected response
/** Usual reach of a gain: from neutral to the nearer end of its range it moves the drive of white by about a fifth. */
export const EXPECTED_RESPONSE_GAIN = { mean: 0.18, sigma: 0.15 } as const
/** Usual reach of a cut: the drive near black moves by about a twenty-fifth. */
export const EXPECTED_RESPONSE_CUT = { mean: 0.04, sigma: 0.03 } as const
export const EXPECTED_RESPONSE_BLACK = { mean: 0.06, sigma: 0.05 } as const
export const WHITE_END = { mean: 0.08, sigma: 0.06 } as const

// grey model
/** Share of a change of drive that a straight line may get wrong, for readings that were taken far from here. */
export const MODEL_ERROR = 0.012
/**
 * How drives deviate from the levels before anything was read: a share common to all levels, a share that changes smoothly
 * along the scale, an offset that fades towards white, a trace at each level of its own. It lets neighbouring readings steady
 * one another.
 */
export const DEVIATION = { common: 0.3, smooth: 0.035, length: 0.22, offset: 0.03, own: 0.0006 } as const

// luminance curve
/** Share of white that usual panels keep with the luminance control at its lowest. */
export const USUAL_FLOOR = 0.06

// response prior
/** Least share by which the same control is taken to differ: in another mode, on another unit, under another firmware. */
export const NEVER_SURER = { unit: 0.04, model: 0.08, firmware: 0.25 } as const
