import type { Change, Control, ControlValue } from '#core/display'
import type { GreyVerdict, HdrModeVerdict, ModeVerdict } from '#core/judge'
import type { Patch } from '#core/measure'
import type { Prediction } from './adjustment'

/** A picture mode, judged for a viewing case. */
export interface ModeProposal {
  readonly mode: string
  readonly label: string
  readonly verdict: ModeVerdict
  /** What it does with HDR, in a case of HDR. */
  readonly hdr?: HdrModeVerdict
  /** What it is like, in plain words. */
  readonly sentence: string
  /** Latency at 60 pictures a second where it was measured, ms. */
  readonly latency?: number
  /** What is expected to be left of its errors once it is adjusted, the smaller the better. */
  readonly cost: number
  /** Why it stands where it stands. */
  readonly reasons: readonly string[]
  /** Not to be recommended, and why. */
  readonly against?: string
}

/** A value for watching, with why it is not the one for measuring. */
export interface WatchValue {
  readonly control: Control
  readonly value: ControlValue
  readonly rule: string
}

/** Average and worst of an error. */
export interface Spread {
  readonly average: number
  readonly worst: number
  readonly worstAt: string
}

/** All that a case is judged by, of one sweep. */
export interface CaseVerdict {
  readonly grey: GreyVerdict
  readonly natural: Spread | undefined
  readonly six: Spread | undefined
  readonly colours: ReadonlyArray<{
    readonly patch: string
    readonly label: string
    readonly deltaE: number
    readonly id: number
  }>
}

/** A figure that got worse beyond the scatter of reading. */
export interface WorseFigure {
  readonly key: string
  readonly sentence: string
}

/** A reading that does not fit what was predicted of it. */
export interface UnexpectedReading {
  readonly runId: number
  readonly changes: readonly Change[]
  /** The patch that fits least; it is read again before anything is built on it. */
  readonly patch: Patch
  readonly prediction: Prediction
  readonly measured: number
  /** What happened, and what to look at. */
  readonly sentence: string
}

/** Something that no meter reads: a pattern, a question, and what follows from the answer. */
export interface VisualCheck {
  readonly key: string
  /** Pattern of the application's own that it is judged on. */
  readonly pattern: string
  readonly title: string
  readonly ask: string
  /** The control that is set by it, and the value to begin with. */
  readonly control?: string
  readonly begin?: ControlValue
  /** Fixed answers; none where a value of the control is the answer. */
  readonly answers: readonly { readonly key: string; readonly text: string; readonly wrong?: string }[]
  readonly caution?: string
  /** What the policy says of it; empty where it says nothing. */
  readonly policy: string
}
