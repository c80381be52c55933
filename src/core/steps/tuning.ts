/** What the steps of the route decide by. Luminance in cd/m², errors in ΔE00, levels as signal 0…1 where nothing else is said. */

// black level
/** How much lighter black may become for the sake of the shades above it: a share of it, or cd/m². */
export const BLACK_MAY_RISE = { share: 0.04, luminance: 0.0002 } as const
/** How much lighter one cut alone may make black, since it adds to it on most displays: a share of it, or of white where black is darker than can be seen. */
export const CUT_MAY_LIFT = { ofBlack: 0.03, ofWhite: 1e-6 } as const
/** Signal by which a shade may lie off its curve without saying anything of the black level, 0…1. */
export const OFFSET_OWN = 0.001
/** Shift of the signal near black that is seen, a tenth of the light at 3 %. */
export const SHIFT_SEEN = 0.0013
/** Shift of the lowest shades against those above them from which it is looked whether black itself is lifted. */
export const SHIFT_PROBED = 0.008
/** Signal that an earlier case may have left, where raising it further would have been a click or two. */
export const KNOWN_RIGHT = 0.01
/** Signal by which shades near black may come too late without being spoken of: a quarter of the light at 4 %. */
export const STAYS_DARK = 0.005
/** Share of light above black that counts as none. */
export const NO_LIGHT = 1e-7

// colour
/** Smallest gain in weighted average ΔE00 that is worth touching colour management at all, and worth another move. */
export const WORTH_BEGINNING = 0.25
export const WORTH_GOING_ON = 0.12
/** The same where it has to be learned first what hue, saturation and luminance of each colour do here, in several moves. */
export const WORTH_LEARNING = 0.5
/** Share of the error of colours that controls of hue, saturation and luminance of each of them mend, or of three channels: measured on displays drawn at random. */
export const FREEDOM_MENDS = 0.55
export const COLOUR_WORTH_AGAIN = 0.25
export const COLOUR_MOST_ADJUSTMENTS = 5
/** By how much an earlier state has to have measured better so that it is gone back to in the end, average ΔE00. */
export const COLOUR_BETTER = 0.1
/** Average error of memory colours from which it is said that nothing could be done about it, ΔE00. */
export const COLOUR_FAR = 1.5
/** Share by which all colours may be too strong or too weak together before the control for all of them is used first. */
export const STRENGTH_OFF = 0.05
/** Most moves of it. */
export const MOST_FOR_ALL = 2

// cost
/** Seconds that a person usually takes with a remote: to find a value, and for a click. */
export const HAND_PACE = { perValue: 5, perClick: 0.4 } as const
/** What is usual counts as this many values and clicks; the shares of it from which a person is believed, and beyond which it was a pause. */
export const HAND_PACE_WEIGHT = { values: 6, clicks: 40, least: 0.2, pause: 6 } as const

// depth
/** Levels that are corrected where the reviewer wants few. */
export const FEW_LEVELS = 5

// dimming
export const DIMMING_LIGHT = [1, 1, 1] as const
export const DIMMING_DARK = [0, 0, 0] as const
/** Share of its light that a dark shade must keep, or shades count as crushed. */
export const CRUSHED = 0.8

// HDR
/** Luminances up to which white is balanced in HDR, cd/m²; shares of the peak, and of the highest grey that follows PQ, that they stay below. */
export const BALANCE_REFERENCES = [
  50, 75, 100, 150, 200, 250, 300, 400, 500, 600, 800, 1000, 1500, 2000,
] as const
export const BALANCED_SHARE = { peak: 0.6, follows: 0.9 } as const

/** Distance of two greys about the knee, as a factor, that is close enough; and most greys that are read beside the sweep. */
export const CLOSE_ENOUGH = 1.12
export const MOST_CLOSER = 8
/** Luminance from which tracking counts, cd/m²: below it lies what panels call black. */
export const TRACKED_FROM = 0.05
/** Share by which whole codes may set a grey beside the luminance that it is named by. */
export const ROUNDED = 0.05

/** Shares of the peak at which a value of tone mapping is looked at: far below it, in the middle, just below it, beyond, and far beyond. */
export const MAPPING_PLACES = [0.2, 0.5, 0.85, 1.7, 3.4] as const
/** Shares by which a grey below the peak may be off and still be exact, and by which light may rise beyond and still be flat. */
export const MAPPING_FOLLOWS = 0.05
export const MAPPING_FLAT = 0.02
/** Share by which all greys may be off PQ where a mapping is called exact; and stops by which a value is further off than another before no school is worth it. */
export const LIGHT_EXACT = 0.05
export const STOPS_WORSE = 0.25

// single levels in HDR
/**
 * Trial of where they act: darkest place that it is read at, share of its reach by which a level is moved, and change of light that tells, as a share;
 * darkest place on the scale of greys that is corrected.
 */
export const TRIAL = { from: 0.18, share: 0.5, least: 0.006, darkest: 0.04 } as const

// gamut
/** Error of the primaries from which another gamut is looked at, ΔE00 with luminance aside. */
export const GAMUT_FROM = 2.2
/** Difference of error that two gamuts are told apart by, ΔE00. */
export const GAMUT_APART = 0.05

// grey of readings
/** Level at which it is told by how much gains raise a channel: bright, and nothing has run out yet. */
export const DRIVEN_AT = 0.7
/** Changes by level-by-level clicks that tell where the controls lie; older ones add nothing. */
export const MOST_CHANGES = 45
/** Of each level the newest readings under one setting of everything else than level-by-level controls. */
export const MOST_OF_A_LEVEL = 4

// level white
/** Error of a single level from which it is corrected, chromatic ΔE00, by policy. */
export const LEVEL_WHITE_FROM = { visible: 0.5, every: 0.15 } as const
/** Standard deviations of a level's error within which it is not moved again. */
export const SCATTER_OF_LEVEL = 2
/** Share of it from which a level is corrected once others were. */
export const ONCE_BEGUN = 0.5
/** Tone off by this much in drive, at any level between 20 and 90 %, is corrected level by level too. */
export const TONE_OFF = 0.015
export const TONE_OFF_AGAIN = 0.025
/** How many times as much where a person has to set green at each level for it. */
export const TONE_OFF_BY_HAND = 2
/** The same below 20 %: 15 % of the light. */
export const TONE_OFF_DARK = 0.065
export const TONE_WEIGHT = 0.6
/** What correcting tone with single levels may cost of their colour, average ΔE00; it is counted less where it costs more. */
export const TONE_PRICE = 0.05
export const TONE_WEIGHTS = [TONE_WEIGHT, TONE_WEIGHT / 4] as const
/** Levels below this are too dark for their colour to be seen; they are corrected, but count little. */
export const LEVEL_WHITE_DARK = 0.049
export const LEVEL_WHITE_MOST_ADJUSTMENTS = 5
/** Readings that multi-point white balance is worth where the clicks were learned in an earlier case. */
export const READINGS_WITH_PRIORS = 22
/** What moving one level's control by its whole reach has to gain, average ΔE00: neighbours do not jump against each other for nothing. */
export const LEVEL_REACH_WORTH = 0.02
/** Standard deviation of what a click of a page does, as a share, up to which it counts as known. */
export const SURE_OF_PAGE = 0.15
/** Levels that have to have been read in a state so that it is gone back to. */
export const KNOWN_BY = 3
/** By how much an earlier state has to have been better so that it is gone back to, average ΔE00. */
export const BETTER_BEFORE = 0.15
/** Average error from which a page is nearly right, ΔE00, and the clicks that a control then moves at most. */
export const NEARLY_RIGHT = 0.6
export const LAST_CLICKS = 8
/** What a value may bring and is left all the same, average ΔE00; all together as a share of the error from which a level is corrected. */
export const PRUNED = { each: 0.004, share: 0.06 } as const
/** The same where a person has to set each of them, average ΔE00. */
export const PRUNED_BY_HAND = { each: 0.01, all: 0.1 } as const
/** Levels read after one move. */
export const MOST_AT_ONCE = 11
/** Standard deviation of a level's error from which it is read, ΔE00. */
export const UNSURE = 0.2
/** Share of the change of a level's error that counts as not known until it is read. */
export const FAR_MOVED = 0.2
/** Share of the wanted clicks that is made at first, as long as nobody knows what a click does here. */
export const HELD_BACK = 0.75
/** Error of a level that is seen side by side, ΔE00. */
export const SEEN_FOR_SURE = 1.2
// luminance
/** A luminance this near to the target needs no further click, as a share of the target. */
export const NEAR_ENOUGH = 0.03
/** The same before the case is verified, where a click costs nothing but a reading. */
export const NEAR_AT_LAST = 0.012
/** What a click must bring once more was built on it, as a share of the target. */
export const LUMINANCE_WORTH_AGAIN = 0.02

// near ends
/** Steps that are looked at near black and near white, in percent. */
export const NEAR_BLACK = [4, 3, 2, 1] as const
export const NEAR_BLACK_MOVED = [3, 2] as const
export const NEAR_BLACK_AGAIN = [2] as const
export const NEAR_WHITE = [98, 96] as const

// survey
/** What a stop of error of greys, and a stop of peak that another mode has more, count as where modes are compared, ΔE00. */
export const STOP_COUNTS = 4
export const PEAK_COUNTS = 1.5
/** Latency from which a game feels behind, ms. */
export const SURVEY_LAG = 30

// tone
/** Levels at which a value of the tone control is looked at, in percent. */
export const TONE_LEVELS = [80, 50, 20] as const
/** Exponents that names and readings may be apart, between values, so that names are believed. */
export const NAMES_AGREE = 0.08
/** A tone this near to its target needs no value measured of which nothing is known. */
export const NEAR_IN_TONE = 0.12
/** A difference of exponent that is worth another value of the control. */
export const TONE_WORTH = 0.02
/** The same once white was balanced under it, and would have to be again. */
export const TONE_WORTH_AGAIN = 0.05
/** Most choices of which each is measured. */
export const MOST_CHOICES = 8

// verify
/** Scatter of an average ΔE00 over some twenty patches, and of a single one, that is not called worse. */
export const VERIFY_SCATTER = { average: 0.12, worst: 0.45 } as const
/** Scatter of an average greyscale ΔE where the model of greys says nothing, ΔE00. */
export const USUAL_NOISE = 0.1

// white level
/** Slope over the last steps below which a channel counts as clipped, against the steps before. */
export const CLIPPED = 0.6

// white
/** Smallest gain in average ΔE00 that is worth an adjustment; nobody sees less. */
export const WORTH_AN_ADJUSTMENT = 0.08
/** The same once the state was verified and would have to be verified again. */
export const WORTH_ANOTHER_SWEEP = 0.3
export const WHITE_MOST_ADJUSTMENTS = 5
/** What green moved by its whole reach has to gain, average ΔE00. */
export const GREEN_COST = 0.5
/** What green's gain and cut have to gain beside red and blue, once these have done what they can, average ΔE00. */
export const GREEN_GAINS = 0.3
/** Error of a level from which green is moved against the policy, where nothing else mends it, ΔE00. */
export const GREEN_EXCEPTION = 1.5
/** Level at which presets are compared, in percent: bright, and not yet near clipping. */
export const PRESET_LEVEL = 80
/** Exponent of the weight of dark levels where single levels follow. */
export const DARK_FIRST = 0.5
/** How much light that is off PQ counts there against colour. */
export const HDR_LIGHT = 0.5
/** Weight of a level below the lowest that has controls of its own, against 1 of one that has. */
export const BELOW_LEVELS = 3
/** How far beyond what was tried of a control the next move goes: a share of it, and clicks. */
export const TRUST = { share: 1.5, clicks: 3 } as const
/** The same of a page of which it is known well what a click does. */
export const SURE_TRUST = { share: 5, clicks: 3 } as const
/** By how much an earlier state of gains and cuts has to have been better so that it is gone back to, ΔE00. */
export const BETTER_BY_FAR = 0.4
/** Weight of white where a channel runs out there, against 1 without. */
export const RUN_OUT_WEIGHT = 5
/** Levels that are read after the first clicks: one that gains move and at which no channel runs out, one that cuts move. */
export const TRIAL_LEVELS = [80, 10] as const

// both ends in HDR
/** White level at its maximum: share of the peak that it has to bring, and by which greys below may leave PQ for it. */
export const HDR_WHITE = { brighter: 0.015, off: 0.03 } as const
/**
 * Shades near black, cd/m², counted where they are some times as bright as the panel's black; average ΔE ITP that is good, and gain that is
 * worth another value; most values that are tried; signal that the control's whole reach usually moves shades by, and share of its reach that a move may
 * take; how often brighter black may become, and by how much it has to, cd/m² and standard errors, before a value counts as lifting
 * it.
 */
export const HDR_BLACK = {
  luminances: [0.2, 0.5, 1.5],
  above: 1,
  good: 3,
  better: 0.4,
  most: 3,
  usual: 0.06,
  lifted: 1.25,
  least: 0.003,
  sigmas: 5,
  atOnce: 0.3,
} as const

/** Share of the peak that a strength of dimming may cost in HDR, and of a shade that it has to leave: a fifth of a stop is off PQ by more than is seen. */
export const PEAK_LOST = 0.05
export const SHADES_KEPT = 0.94

/** Seconds after which a reading is no longer of the first second of a patch. */
export const FIRST_SECOND = 1.5
/** Share of full white that a ramp over all of PQ loads a panel of some 1,000 cd/m² with: a quarter of it is as bright as white, most of the rest dark. */
export const RAMP_LOAD = 0.33

// latency
/** Flashes of one look of the probe, six seconds of flashing; looks that are taken once more where it is not sure; most flashes for one row where a person sits by, and where nobody does. */
export const LATENCY_FLASHES = 12
export const LOOKS_AGAIN = 4
export const MOST_FLASHES = { person: 108, nobody: 720 } as const
/**
 * An option helps where it saves at least so much, ms, and so many standard errors. It is told early where it saves many, or surely less than that; else
 * flashes go on until the error is so small, ms.
 */
export const LATENCY_HELPS = { least: 0.5, errors: 2.6, early: 4.5, surelyNot: 3, sure: 0.14 } as const
/** So few times say nothing of their scatter: the error that the mean of them is taken to have, ms. */
export const FEW_TIMES = { count: 3, error: 1 } as const
/** Most options and rates that are looked at. */
export const MOST_LATENCY_OPTIONS = 12
export const MOST_RATES = 6

// desktop
/** Greys that tell the curve of a clamp, 0…1. */
export const CLAMP_LEVELS = [0.2, 0.4, 0.6, 0.8] as const
/** ΔE00 by which a clamp has to be nearer than another to be taken instead; and what a gamma of 1 off is worth: some ΔE00 for a tenth, as middle greys show. */
export const CLAMP_APART = 0.3
export const PER_GAMMA = 10

// helpers
/** Readings of tours after which a display that does not stay where it is set is asked no more. */
export const MOST_TOURED = 400
/** Share of light that a motion option takes from which on it inserts black between frames. */
export const INSERTS_BLACK = 0.05
/** Most values of a choice that are tried beside where it does nothing. */
export const MOST_HELPER_VALUES = 5

// variable refresh
/** Change of light between rates that is seen as flicker: as a share of it, and never below so many cd/m². */
export const FLICKER_SEEN = { share: 0.02, luminance: 0.01 } as const
/** What two readings of the same light may differ by, in standard deviations of one. */
export const KNOWN_WITHIN = 3
