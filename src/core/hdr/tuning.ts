/** What HDR is judged by. */

/** Share by which a display may lie off PQ and still follow it. */
export const FOLLOWS = 0.03
/** Share by which a step has to change the light so that it is seen as one; and how often its scatter that has to be. */
export const STEP_SEEN = { share: 0.004, sigmas: 3 } as const
/** Greys that tell how bright a display is all over, as shares of its peak; and the share by which it is darker from which it has a scale of its own. */
export const SCALED = { from: 0.02, to: 0.25, by: 0.02 } as const
/** Share of the signal's rise, in logarithms, by which light still rises with it. */
export const STILL_RISES = 0.8
/** The same of the last steps before light ends, where it is cut off. */
export const STEEP = 0.7
/** How far beyond where light falls behind detail may reach where a display clips: steps of a sweep are no closer. */
export const CLIPS_WITHIN = 1.5
/** Change of a middle grey between scenes from which a mapping is dynamic, as a share of its light. */
export const MOVES_WITH_SCENE = 0.04
/** The same in a lit surround. */
export const MOVES_WITH_SURROUND = 0.08
/** Share of its light in a small window that a window has to lose before its limit is that of power. */
export const LIMITED = 0.03
/** Stops by which shadows have to be off on average before they count as lifted or crushed; and luminances that are shadows, cd/m². */
export const SHADOWS = { stops: 0.25, from: 0.05, to: 2 } as const
/** Signal from which white is judged in HDR, 0…1. */
export const WHITE_FROM = 0.15

/** By how much a shade has to be lighter than black so that it is told from it: a share of it, and cd/m². */
export const NOT_BLACK = { share: 0.1, luminance: 0.001 } as const
