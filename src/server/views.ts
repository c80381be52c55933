import type { ClicksAway, Move, Purpose, StationKey, StationStatus } from '#core/derive'
import type { ControlValue } from '#core/display'
import type { GreyVerdict } from '#core/judge'
import type { RunStatus } from '#db'

/** What pages show: plain data, ready to be sent. */

export interface ChangeView {
  readonly control: string
  readonly path: readonly string[]
  readonly label: string
  /** As the menu shows them. */
  readonly from: string
  readonly to: string
  /** Signed whole clicks; undefined for a choice. */
  readonly clicks?: number
  readonly caution?: string
  /** What else shares this value, in words; empty where nothing does. */
  readonly memory: string
  readonly meaning: string
}

export interface OutcomeView {
  readonly patch: string
  readonly quantity: 'white-error' | 'luminance'
  readonly before: number
  readonly expected: number
  readonly sigma: number
  readonly measured?: number
  readonly asExpected?: boolean
}

export interface LastMoveView {
  readonly kind: 'proposed' | 'by-hand' | 'put-back'
  readonly station: StationKey
  readonly changes: readonly ChangeView[]
  readonly outcomes: readonly OutcomeView[]
  /** It may be put back: nothing else was changed since. */
  readonly canPutBack: boolean
}

export type NextView =
  | { readonly kind: 'prepare'; readonly changes: readonly ChangeView[]; readonly baseMode: string }
  | {
      readonly kind: 'sweep'
      readonly purpose: 'factory' | 'verify'
      readonly patches: number
      /** Seconds that it will take; undefined before the first reading told how fast the meter is. */
      readonly seconds?: number
    }
  | {
      readonly kind: 'move'
      readonly station: 'luminance' | 'white'
      readonly changes: readonly ChangeView[]
      readonly reads: readonly string[]
      readonly purpose: string
      readonly expected: Move['expected']
    }
  | { readonly kind: 'compose' }

export interface RunView {
  readonly id: number
  readonly purpose: Purpose
  readonly title: string
  readonly status: RunStatus
  readonly reason: string
  readonly done: number
  readonly total: number
  /** Label of the patch that is being read; empty while controls are set. */
  readonly current: string
  readonly dark: boolean
  readonly secondsLeft?: number
}

export type TapeEntry =
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
      readonly takenAt: string
    }

export interface StationView {
  readonly key: StationKey
  readonly title: string
  readonly status: StationStatus
  readonly note: string
}

export interface PlateView {
  readonly display: string
  readonly unit: string
  readonly firmware: string
  readonly viewingCase: string
  readonly baseMode: string
  readonly signal: string
  readonly warmUp: { readonly text: string; readonly warn: boolean }
  readonly meter: { readonly text: string; readonly warn: boolean }
  /** Sentences on what is wrong with the bench now; empty where all is well. */
  readonly warnings: readonly string[]
  /** Serial of the session's unit, where a simulated bench could put it on the stand. */
  readonly placeUnit?: string
  readonly simulated: boolean
}

export interface SessionView {
  readonly id: number
  readonly revision: number
  readonly unitId: number
  readonly plate: PlateView
  readonly targets: { readonly luminance: number; readonly tone: string }
  readonly stations: readonly StationView[]
  readonly next: NextView
  readonly run: RunView | null
  readonly lastMove: LastMoveView | null
  readonly tape: readonly TapeEntry[]
  readonly readings: number
  readonly factory: { readonly verdict: GreyVerdict; readonly sentences: readonly string[] } | null
  /** The newest grey scale that can be shown while things move: levels as last read, in the present state where it was. */
  readonly current: { readonly verdict: GreyVerdict } | null
  readonly after: {
    readonly verdict: GreyVerdict
    readonly worse: readonly string[]
    readonly stale: boolean
  } | null
  readonly away: readonly ClicksAway[]
  /** Average chromatic ΔE00 that reading again would scatter by. */
  readonly noise?: number
  /** Controls that a reviewer may set by hand here. */
  readonly controls: readonly ControlView[]
  readonly guide: { readonly id: number; readonly slug: string; readonly published: boolean } | null
}

export interface ControlView {
  readonly key: string
  readonly label: string
  readonly path: readonly string[]
  readonly value: ControlValue
  readonly shown: string
  readonly kind: 'number' | 'choice'
  readonly min?: number
  readonly max?: number
  readonly step?: number
  readonly choices?: ReadonlyArray<{ readonly value: string; readonly label: string }>
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
}
