import type { Equipment } from '#core/entry'
import type { GreyVerdict } from '#core/judge'
import type { Ending, StepStatus } from '#core/plan'
import type { SeenSignal } from '#core/signal'
import type { ClicksToTarget } from '#core/solve'
import type { StepKey } from '#core/steps'
import type { TroubleView } from '../base/troubles'
import type { FindingsView } from './findings-views'
import type { ChangeView, ControlView, LastAdjustmentView, NextView, RunView } from './next-views'

/** What pages show: plain data, ready to be sent. */

/** A sweep that can be asked for, with the time that it takes on this meter. */
export interface SweepChoice {
  readonly key: string
  readonly title: string
  readonly tells: string
  readonly patches: number
  /** Bench seconds. */
  readonly seconds: number
}

export type LogEntry =
  | { readonly kind: 'mark'; readonly id: string; readonly text: string }
  | {
      readonly kind: 'reading'
      readonly id: number
      readonly patch: string
      /** Signal of the patch as 8-bit channel values, for its swatch. */
      readonly swatch: readonly [number, number, number]
      /** cd/m² */
      readonly luminance?: number
      /** Chromatic ΔE00; only for greys above black. */
      readonly whiteError?: number
      readonly fault?: string
      /** Readings that were averaged. */
      readonly samples: number
      /** Standard error of the luminance, cd/m². */
      readonly sigma?: number
      /** What else is to be said of it: typed, imported, read for drift. */
      readonly marks: readonly string[]
      readonly takenAt: string
    }

export interface StepView {
  readonly key: StepKey
  readonly title: string
  readonly status: StepStatus
  readonly note: string
}

export interface SessionHeaderView {
  readonly display: string
  readonly unit: string
  readonly unitId: number
  readonly firmware: string
  readonly viewingCase: string
  readonly baseMode: string
  /** False while the mode that is on is only the one that happens to be on. */
  readonly modeChosen: boolean
  readonly signal: string
  /** `since`: when a person said that it was switched on; the page counts on. */
  readonly warmUp: { readonly text: string; readonly warn: boolean; readonly since?: string }
  readonly meter: { readonly text: string; readonly warn: boolean }
  /** How the display moved in the newest sweep. */
  readonly drift: { readonly text: string; readonly warn: boolean }
  /** Sentences on what is wrong with the bench now; empty where all is well. */
  readonly warnings: readonly string[]
  /** Serial of the session's unit, where a simulated bench could put it on the stand. */
  readonly placeUnit?: string
  readonly simulated: boolean
}

export interface SpreadView {
  readonly average: number
  readonly worst: number
  readonly worstAt: string
}

export interface SessionView {
  /** Why the case is at its end; null before. */
  readonly ending: Ending | null
  /**
   * Cases of this unit that are in a guide: what the display holds otherwise in their places by now, since when nobody has looked whether it does (null: never looked
   * since), and how many values a person has still to look at; only at the end of a case that has others beside it.
   */
  readonly cases: ReadonlyArray<{
    readonly session: number
    readonly label: string
    readonly changes: readonly ChangeView[]
    readonly reading: boolean
    readonly readBackAt: string | null
    readonly unseen: number
  }>
  /** What to copy to other inputs now; empty where the menu has nothing for it, or the case is not at its end. */
  readonly copy: string
  /** How often the reviewer went on where a budget was spent. */
  readonly timesGoneOn: number
  /** What a person saw on the display's own signal page. */
  readonly seenSignal: SeenSignal | null
  readonly id: number
  readonly revision: number
  /** Equal only where all of the view is. */
  readonly mark: string
  readonly unitId: number
  readonly header: SessionHeaderView
  readonly targets: { readonly luminance: number; readonly tone: string; readonly white: string }
  /** Luminance is absolute and errors of colours are ΔE ITP. */
  readonly hdr: boolean
  readonly policy: { readonly key: string; readonly name: string }
  readonly policies: ReadonlyArray<{ readonly key: string; readonly name: string }>
  readonly unattended: boolean
  /** Why it stands still though nobody is asked; empty where it goes on. */
  readonly standstill: string
  /** What background work failed at here; null where nothing does. */
  readonly trouble: TroubleView | null
  /** When this was worked out, where the session was left since and is shown as it was then (ISO 8601). */
  readonly asLeft?: string
  /** Unattended work is possible: the bench does all of it. */
  readonly canBeUnattended: boolean
  readonly steps: readonly StepView[]
  readonly next: NextView
  /** What to beware of at what is next. */
  readonly cautions: readonly string[]
  readonly run: RunView | null
  readonly lastAdjustment: LastAdjustmentView | null
  readonly log: readonly LogEntry[]
  readonly readings: number
  readonly factory: { readonly verdict: GreyVerdict; readonly sentences: readonly string[] } | null
  /** The newest grey scale that can be shown while things move: levels as last read, in the present state where it was. */
  readonly current: { readonly verdict: GreyVerdict } | null
  readonly after: {
    readonly verdict: GreyVerdict
    readonly worse: readonly string[]
    readonly stale: boolean
  } | null
  /** Errors of colours before and after, where both were read. */
  readonly colours: {
    readonly before: { readonly natural: SpreadView | null; readonly six: SpreadView | null }
    readonly after: { readonly natural: SpreadView | null; readonly six: SpreadView | null } | null
  } | null
  readonly findings: FindingsView
  readonly away: readonly ClicksToTarget[]
  /** Average chromatic ΔE00 that reading again would scatter by. */
  readonly noise?: number
  /** Controls that a reviewer may set by hand here. */
  readonly controls: readonly ControlView[]
  readonly guide: { readonly id: number; readonly slug: string; readonly published: boolean } | null
  /** Who does each device's part. */
  readonly equipment: Equipment
  readonly hasBench: boolean
  readonly slots: ReadonlyArray<{ readonly slot: string; readonly name: string }>
  readonly corrections: ReadonlyArray<{ readonly id: number; readonly name: string }>
  readonly sweeps: readonly SweepChoice[]
  readonly modes: ReadonlyArray<{ readonly value: string; readonly label: string }>
}

/** Everything about one reading. */
export interface ReadingView {
  readonly id: number
  readonly patch: string
  readonly codes: readonly number[]
  readonly xyz: readonly [number, number, number] | null
  readonly sigma: number | null
  readonly xy: readonly [number, number] | null
  readonly uv: readonly [number, number] | null
  readonly fault: string | null
  readonly raw: string | null
  readonly takenAt: string
  readonly duration: number
  readonly attempt: number
  readonly run: string
  readonly meter: string
  readonly state: ReadonlyArray<{ readonly label: string; readonly shown: string; readonly changed: boolean }>
  /** Everything else that stood around it, as name and words. */
  readonly circumstances: ReadonlyArray<{
    readonly name: string
    readonly text: string
    readonly warn?: boolean
  }>
}
