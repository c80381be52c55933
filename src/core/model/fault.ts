/** A control that does nothing, and one that does the opposite of what its label says. */
export type FaultKind = 'dead' | 'reversed'

/** What is left of a control's effect under a fault. */
export const FAULT_SIGN: Readonly<Record<FaultKind, number>> = { dead: 0, reversed: -1 }
