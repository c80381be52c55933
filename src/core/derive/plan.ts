import type { ControlValue } from '#core/display'
import type { FeedFinding } from '#core/judge'
import type { Patch } from '#core/measure'
import type { Doubt } from './doubt'
import type { EyeQuestion } from './eye'
import type { Change, Move } from './move'
import type { StationKey } from './stations'
import type { ModeProposal } from './survey'
import type { WorseFigure } from './verify'

/** A sweep of one picture mode of the survey. */
export interface ModeSweep {
  readonly mode: string
  readonly changes: readonly Change[]
  readonly patches: readonly Patch[]
}

/** The one thing to do next. */
export type Next =
  | { readonly kind: 'prepare'; readonly reset: boolean; readonly changes: readonly Change[] }
  | {
      readonly kind: 'sweep'
      readonly purpose: 'feed-check' | 'factory' | 'verify'
      /** Settings that come first. */
      readonly changes: readonly Change[]
      readonly patches: readonly Patch[]
    }
  | { readonly kind: 'survey'; readonly modes: readonly ModeSweep[]; readonly latency: boolean }
  | { readonly kind: 'choose-mode'; readonly proposals: readonly ModeProposal[] }
  | { readonly kind: 'feed-fault'; readonly findings: readonly FeedFinding[] }
  | { readonly kind: 'move'; readonly move: Move }
  | { readonly kind: 'doubt'; readonly doubt: Doubt }
  | { readonly kind: 'look'; readonly question: EyeQuestion }
  | { readonly kind: 'worse'; readonly worse: readonly WorseFigure[] }
  | { readonly kind: 'compose' }

/** A value that came out of the route, with the rule that chose it and the readings it rests on. */
export interface Derived {
  readonly control: string
  readonly station: StationKey
  readonly value: ControlValue
  readonly rule: string
  readonly basis: readonly number[]
}

/** Something that could not be done or reached, and why. */
export interface Limit {
  readonly station: StationKey
  readonly sentence: string
}

/** What going on at a station would gain, and what it would cost. */
export interface More {
  /** In the station's own quantity. */
  readonly gain: number
  readonly readings: number
}

/** Where a station stands. */
export interface StationPlan {
  readonly status: 'open' | 'done' | 'impossible'
  readonly note: string
  /** The next thing to do at it; missing where it is done. */
  readonly next?: Next
  readonly derived: readonly Derived[]
  readonly limits: readonly Limit[]
  readonly more?: More
}

export const done = (note: string, rest: Partial<StationPlan> = {}): StationPlan => ({
  status: 'done',
  note,
  derived: [],
  limits: [],
  ...rest,
})
export const impossible = (station: StationKey, sentence: string): StationPlan => ({
  status: 'impossible',
  note: sentence,
  derived: [],
  limits: [{ station, sentence }],
})
export const open = (next: Next, note = '', rest: Partial<StationPlan> = {}): StationPlan => ({
  status: 'open',
  note,
  next,
  derived: [],
  limits: [],
  ...rest,
})
