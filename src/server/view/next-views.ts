import type { ControlValue } from '#core/display'
import type { Mapping } from '#core/hdr'
import type { Purpose, Sense, SweepAbout } from '#core/measure'
import type { Cost, Depth, Expected, Quantity, StepKey } from '#core/steps'
import type { RunStatus } from '#db'

export interface ChangeView {
  readonly control: string
  readonly path: readonly string[]
  readonly label: string
  /** The label, after its page where others are labelled alike. */
  readonly name: string
  /** As the menu shows them. */
  readonly from: string
  readonly to: string
  /** Signed whole clicks; undefined for a choice. */
  readonly clicks?: number
  readonly caution?: string
  /** What else shares this value, in words; empty where nothing does. */
  readonly memory: string
  /** The trade's term for what it does. */
  readonly term: string
  readonly meaning: string
  /** Place among the controls on its page of the menu, for columns in the menu's order. */
  readonly place: number
}

export interface OutcomeView {
  readonly patch: string
  readonly quantity: Quantity
  readonly before: number
  readonly expected: number
  readonly sigma: number
  readonly measured?: number
  readonly asExpected?: boolean
}

export interface LastAdjustmentView {
  readonly kind: 'proposed' | 'by-hand' | 'put-back'
  readonly step: StepKey
  readonly changes: readonly ChangeView[]
  readonly purpose: string
  readonly outcomes: readonly OutcomeView[]
  /** It may be put back: nothing else was changed since. */
  readonly canPutBack: boolean
}

/** A question that only eyes can answer. */
export interface VisualCheckView {
  readonly question: string
  readonly title: string
  readonly pattern: string
  readonly ask: string
  readonly caution: string
  /** What the policy says of it; empty where it says nothing. */
  readonly policy: string
  readonly answers: ReadonlyArray<{ readonly key: string; readonly text: string }>
  /** The control that the answer sets; null where an answer is a word. */
  readonly control: ControlView | null
  /** Value to begin with. */
  readonly begin: ControlValue | null
}

export type NextView =
  | {
      readonly kind: 'prepare'
      readonly reset: boolean
      readonly switchesOff: boolean
      /** Nothing of the case was read yet. */
      readonly first: boolean
      readonly changes: readonly ChangeView[]
      /** The mode that is prepared; empty before one was chosen. */
      readonly baseMode: string
    }
  /** Another case moved the display: what has to be set again. */
  /** What another case moved; null where it was only found so. */
  | { readonly kind: 'restore'; readonly movedBy: string | null; readonly changes: readonly ChangeView[] }
  /** Values that nobody has seen where the display shows them now, in menu order. */
  | { readonly kind: 'confirm-values'; readonly rows: readonly ControlView[]; readonly baseMode: string }
  | {
      readonly kind: 'sweep'
      readonly purpose: 'feed-check' | 'out-of-box' | 'verify'
      readonly changes: readonly ChangeView[]
      readonly patches: number
      /** What a sweep tells beside those of every case. */
      readonly about: SweepAbout | null
      /** Only what is missing of a sweep that was begun. */
      readonly rest: boolean
      /** Seconds that it will take; undefined before the first reading told how fast the meter is. */
      readonly seconds?: number
    }
  | {
      readonly kind: 'survey'
      readonly modes: readonly string[]
      readonly patches: number
      readonly latency: boolean
      readonly seconds?: number
    }
  | {
      readonly kind: 'tour'
      readonly title: string
      readonly step: StepKey
      /** Settings that are gone round, patches that are read, and looks of the latency probe. */
      readonly settings: number
      readonly patches: number
      readonly probes: number
      readonly seconds?: number
    }
  | { readonly kind: 'choose-flashes' }
  | { readonly kind: 'choose-mode' }
  | {
      readonly kind: 'choose-depth'
      readonly options: ReadonlyArray<{
        readonly depth: Depth
        readonly error: number
        readonly cost: Cost
      }>
      readonly proposed: Depth
      /** What a minute has to gain by the policy, ΔE00; null where no person sets the display. */
      readonly worth: number | null
    }
  | {
      readonly kind: 'choose-mapping'
      /** The school that the policy asks for. */
      readonly wanted: Mapping
      readonly control: string
      readonly proposed: ControlValue
      /** Name of the policy. */
      readonly policy: string
    }
  | {
      readonly kind: 'choose-green'
      readonly reason: 'ran-out' | 'best'
      readonly without: number
      readonly with: number
      /** Share of light that is lost. */
      readonly light: number
      /** Name of the policy. */
      readonly policy: string
    }
  | {
      readonly kind: 'adjust'
      readonly step: StepKey
      readonly changes: readonly ChangeView[]
      readonly reads: readonly string[]
      readonly purpose: string
      readonly expected: Expected | null
      /** What else changes with it, or would be overwritten. */
      readonly shared: readonly string[]
      /** What going on here costs, in readings. */
      readonly seconds?: number
      /** What it costs on the remote. */
      readonly cost: Cost
      /** The depth was chosen and may be chosen anew. */
      readonly canChooseDepth: boolean
    }
  | {
      readonly kind: 'unexpected-reading'
      readonly sentence: string
      readonly patch: string
      readonly changes: readonly ChangeView[]
    }
  | { readonly kind: 'visual-check'; readonly look: VisualCheckView }
  | {
      readonly kind: 'worse'
      readonly worse: ReadonlyArray<{ readonly key: string; readonly sentence: string }>
      /** Why colour stands as it does, where colours are among them; and whether anything else is. */
      readonly colour: string | null
      readonly others: boolean
      /** What putting back would undo; null where nothing would. */
      readonly putBack: { readonly step: string; readonly controls: number } | null
    }
  | { readonly kind: 'feed-fault'; readonly findings: readonly string[] }
  | { readonly kind: 'compose' }

/** What a person is asked to do in the place of a device. */
export type AskView =
  | { readonly kind: 'reset'; readonly run: number; readonly task: number; readonly baseMode: string }
  | {
      readonly kind: 'set'
      readonly run: number
      readonly task: number
      /** All that is set in one walk through the menu, in its order. */
      readonly changes: readonly ChangeView[]
      /** Presses of the remote from row to row, clicks apart. */
      readonly walk: number
      readonly cost: Cost
    }
  | {
      readonly kind: 'show' | 'read'
      readonly run: number
      readonly task: number
      readonly patch: string
      /** Code values of red, green and blue, in the signal's own depth and range. */
      readonly codes: readonly [number, number, number]
      readonly swatch: readonly [number, number, number]
      /** How it lies on the screen: "window of 10 % on black". */
      readonly lies: string
      /** Black before it and how long it stands before it is read, as an instruction; empty where it does not matter. */
      readonly rests: string
      /** Of HDR: address of the patch as a picture for a player; empty elsewhere. */
      readonly picture: string
      /** A person also has to bring it up. */
      readonly byHand: boolean
      /** The page that shows patches; null where none is used. */
      readonly page: {
        /** Where it is opened. */
        readonly address: string
        /** Other devices can reach that address. */
        readonly reachable: boolean
        /** This patch stands on it. */
        readonly stands: boolean
        /** What the page says of itself; empty where none is open. */
        readonly account: string
      } | null
      /** The readings that are asked for in a row, before a setting changes: what each should lie between. */
      readonly row: readonly Sense[]
      /** A reading was typed before in this run, which could be taken back. */
      readonly canTakeBack: boolean
    }

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
  readonly ask: AskView | null
  /** It waits for the display to settle. */
  readonly settling: boolean
  /** What it stopped at may be left out: a patch, or a control. */
  readonly leaveOut: 'patch' | 'control' | null
  /** Note of it. */
  readonly notes: readonly string[]
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
