/** What the search for whole clicks weighs. */

// colour clicks
export const COLOUR_CLICKS_PER_CLICK = 0.0008
/** Average error that a control has to bring so that it is moved at all, ΔE00. */
export const TAKEN_BACK = 0.007
/** Share of a control's reach that it is moved by at most in one move. */
export const AT_ONCE = 0.35
/** The same of a control of which nobody has seen yet what it does. */
export const FIRST_TIME = 0.12
export const COLOUR_CLICKS_NEAR = 3

// grey clicks
/** A small cost of each click away from the start, so that of two equal answers the nearer one is taken. */
export const GREY_CLICKS_PER_CLICK = 2e-5
/** Controls up to which a second search begins where the display stands. */
export const FEW = 8
/** How strongly clicks are held where they are, against what the readings tell of them. */
export const GREY_CLICKS_PULL = 1e-3
export const COSTLY = 0.3
/** How strongly clicks of neighbouring levels are kept from jumping, against what the readings tell of them. */
export const GREY_CLICKS_STIFF = 0.02
/** Whole clicks tried on both sides of the best place found so far. */
export const GREY_CLICKS_NEAR = 3

// luminance
/** Targets of a room table, cd/m². */
export const ROOM_LEVELS = [40, 60, 80, 100, 120, 150, 200, 250, 300, 400, 500] as const
