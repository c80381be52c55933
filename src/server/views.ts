import type { ControlValue } from '#core/display'
import type { Equipment, RowKept, TraceDocument } from '#core/entry'
import type { GuidePlay } from '#core/guide'
import type { Mapping } from '#core/hdr'
import type { GreyVerdict, ViewingCase } from '#core/judge'
import type { ProbePosition, Purpose, Sense, SweepAbout } from '#core/measure'
import type { Ending, StepStatus } from '#core/plan'
import type {
  Arrival,
  DisplayInputs,
  GivenUp,
  LinkKey,
  LinkRow,
  LinkUse,
  Range,
  SeenSignal,
  Socket,
  SourceDevice,
  Wish,
} from '#core/signal'
import type { ClicksToTarget } from '#core/solve'
import type { AskedHdr, Cost, Depth, Expected, Quantity, StepKey } from '#core/steps'
import type { RunStatus } from '#db'
import type { TroubleView } from './troubles'

/** What pages show: plain data, ready to be sent. */

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

/** A picture mode in the survey, as the matrix shows it. */
export interface ModeRow {
  readonly mode: string
  readonly label: string
  /** What it is like, in plain words. */
  readonly sentence: string
  readonly reasons: readonly string[]
  /** Why it is not to be recommended; empty where it may be taken. */
  readonly against: string
  /** Place in the ranking, 1 first. */
  readonly rank: number
  /** cd/m² */
  readonly white: number
  readonly contrast?: number
  /** Average chromatic ΔE00 over the levels read. */
  readonly whiteError: number
  /** kelvin */
  readonly cct: number
  readonly gamma?: number
  readonly wantedGamma?: number
  /** Average ΔE00 of the colours read. */
  readonly colourError?: number
  /** Strength of the primaries against the target, 1 is right. */
  readonly saturation?: number
  readonly crushed: boolean
  readonly clipped: boolean
  /** ms at 60 pictures a second */
  readonly latency?: number
  readonly chosen: boolean
  /** In a case of HDR: peak in cd/m², stops that greys are too bright by, ΔE ITP of white and of colours. */
  readonly hdr?: {
    readonly peak?: number
    readonly stops: number
    readonly white: number
    readonly colour?: number
  }
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

/** Figures of luminance and of both ends of the signal. */
export interface LevelsView {
  readonly control: string
  readonly luminance: {
    readonly value: string
    /** cd/m² */
    readonly luminance: number
    readonly factory: { readonly value: string; readonly luminance: number } | null
    readonly outOfReach: '' | 'too-dark' | 'too-bright'
    readonly room: ReadonlyArray<{
      readonly target: number
      readonly value: string
      readonly expected: number
      readonly between: boolean
    }>
  } | null
  readonly black: {
    readonly value: string
    /** cd/m² */
    readonly black: number
    /** Percent of signal. */
    readonly lastBlack: number
    readonly firstSeen: number | null
  } | null
  readonly whiteLevel: {
    readonly value: string
    readonly slopes: readonly [number, number, number]
    readonly apart: boolean
  } | null
}

export interface OptionRow {
  readonly label: string
  readonly chosen: boolean
  readonly measured: boolean
  readonly figures: readonly number[]
}

/** One level of white level by level, with the values that stand there. */
export interface LevelRow {
  /** Percent of signal, of HDR of the scale of greys. */
  readonly level: number
  /** The same as it is named: in HDR by its luminance. */
  readonly label: string
  readonly error: number
  /** Light off the tone target, percent. */
  readonly tone: number
  readonly values: ReadonlyArray<{
    readonly channel: string
    readonly shown: string
    readonly changed: boolean
  }>
}

export interface ColourRow {
  readonly key: string
  readonly label: string
  readonly swatch: readonly [number, number, number]
  readonly natural: boolean
  readonly factory?: number
  readonly now?: number
}

export interface SpreadView {
  readonly average: number
  readonly worst: number
  readonly worstAt: string
}

/** A school of tone mapping as a display offers it: its curve and its price. */
export interface MappingRow {
  readonly value: ControlValue
  readonly label: string
  readonly mapping: Mapping
  readonly sentence: string
  readonly chosen: boolean
  /** Luminance in the signal and on the screen, cd/m², with the reading. */
  readonly curve: ReadonlyArray<{ readonly target: number; readonly luminance: number; readonly id: number }>
}
export interface MappingsView {
  readonly control: string
  readonly options: readonly MappingRow[]
}

/** HDR in the final state. Luminances in cd/m², errors in ΔE ITP. */
export interface HdrView {
  readonly masteringPeak: number | null
  readonly mapping: Mapping
  readonly knee: number | null
  readonly detailEnds: number | null
  /** How far a grey moves with the scene, as a share; null where it was not read. */
  readonly moves: number | null
  readonly rows: ReadonlyArray<{
    readonly target: number
    readonly luminance: number
    readonly stops: number
    readonly deltaE: number
    readonly whiteError: number
    readonly id: number
  }>
  /** What the reference tone mapping of BT.2390 would show on a panel of this peak. */
  readonly reference: ReadonlyArray<{ readonly target: number; readonly luminance: number }>
  readonly windows: ReadonlyArray<{
    readonly window: number
    readonly first: number
    readonly sustained: number
  }>
  readonly tracking: { readonly average: number; readonly worst: number } | null
  readonly white: { readonly average: number; readonly worst: number } | null
  readonly coverage: { readonly p3: number; readonly bt2020: number } | null
  readonly shadows: { readonly stops: number; readonly verdict: string } | null
  /** What it comes to, in sentences. */
  readonly sentences: readonly string[]
  /** Of sweeps that were asked for: colours at several luminances, and greys of HLG; null where none was read in this state. */
  readonly asked: (Pick<AskedHdr, 'colours'> & { readonly hlg: AskedHdr['hlg'] | null }) | null
}

/** What the steps found, each for its own panel; null where nothing is known yet. */
export interface FindingsView {
  readonly survey: readonly ModeRow[]
  readonly levels: LevelsView | null
  readonly tones: {
    readonly control: string
    readonly wanted: number | null
    readonly options: readonly OptionRow[]
  } | null
  readonly presets: { readonly control: string; readonly options: readonly OptionRow[] } | null
  /** What each value of the tone mapping control does; null where there is nothing to choose. */
  readonly mappings: MappingsView | null
  readonly hdr: HdrView | null
  /** Of games and the desktop. */
  readonly play: GuidePlay | null
  readonly byLevel: readonly LevelRow[]
  readonly colour: {
    readonly rows: readonly ColourRow[]
    readonly gamuts: readonly OptionRow[]
    /** Weighted average ΔE00 that is expected now, and after the best further clicks. */
    readonly error: number
    readonly best: number
  } | null
  /** In HDR with black beside a highlight and the peak, in SDR with a checkerboard. */
  readonly dimming: {
    readonly control: string
    readonly hdr: boolean
    readonly options: readonly OptionRow[]
  } | null
  readonly dynamic: { readonly control: string; readonly options: readonly OptionRow[] } | null
  /** The list for watching where it differs from the one for measuring, and the list for measuring. */
  readonly watching: ReadonlyArray<{
    readonly label: string
    readonly path: readonly string[]
    readonly shown: string
    readonly rule: string
  }>
  readonly measuring: ReadonlyArray<{
    readonly label: string
    readonly path: readonly string[]
    readonly shown: string
    readonly from: string
  }>
  readonly eye: ReadonlyArray<{
    readonly title: string
    readonly answer: string
    readonly wrong: string
    readonly conditions: string
    readonly pattern: string
  }>
  readonly derived: ReadonlyArray<{
    readonly label: string
    readonly path: readonly string[]
    readonly shown: string
    readonly step: string
    readonly rule: string
    readonly readings: number
  }>
  /** Where it stopped: what a further move would gain there, average ΔE00, and cost. */
  readonly more: ReadonlyArray<{ readonly step: string; readonly gain: number; readonly readings: number }>
  /** What each adjustment bought: average greyscale ΔE00 after it, from out of the box to the verification. */
  readonly bought: ReadonlyArray<{ readonly step: string; readonly error: number }>
  readonly limits: readonly string[]
  readonly preferences: readonly string[]
  readonly odd: readonly string[]
  /** Controls that were left out. */
  readonly refused: ReadonlyArray<{ readonly control: string; readonly label: string; readonly why: string }>
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
  /** Everything else that stood around it, as name and words. */
  readonly circumstances: ReadonlyArray<{
    readonly name: string
    readonly text: string
    readonly warn?: boolean
  }>
}

export type { UnitCard } from './catalog'
export type { Paged } from './list-pages'

/** A source by its number. */
export interface SourceView {
  readonly id: number
  readonly source: SourceDevice
}

/** What a model takes, and the values of its menu that sockets may hang on. */
export interface InputsView {
  readonly maker: string
  readonly name: string
  readonly slug: string
  readonly inputs: DisplayInputs | null
  readonly unlocks: ReadonlyArray<{ readonly value: string; readonly label: string }>
  readonly labels: ReadonlyArray<{ readonly value: string; readonly label: string }>
}

/** What is asked of the planner. */
export interface PlannerWish {
  readonly model: string
  readonly socket: string
  readonly source: number | undefined
  readonly cable: LinkKey
  readonly use: LinkUse
  readonly range: Range
  readonly unlocked: boolean
  readonly labelled: boolean
  /** One cell of the table, to see its reckoning. */
  readonly cell?: Pick<Wish, 'width' | 'height' | 'rate' | 'bitDepth' | 'chroma'>
}

/** A range that was sent and how displays of a model took it, by the checks of the signal. */
export interface RangeSeen {
  readonly sent: Range
  readonly taken: Range
  readonly checks: number
  /** When it was seen last. */
  readonly last: string
}

export interface PlannerView {
  readonly models: ReadonlyArray<{ readonly slug: string; readonly name: string }>
  readonly sources: readonly SourceView[]
  readonly sockets: readonly Socket[]
  /** What was taken of the wish. */
  readonly chosen: { readonly model: string; readonly socket: string; readonly source: number | null }
  readonly socket: Socket | null
  /** In words: what has to be set in the display’s menu. */
  readonly settings: readonly string[]
  readonly rows: readonly LinkRow[]
  readonly cell: {
    readonly wish: Wish
    readonly arrives: Arrival | null
    readonly troubles: readonly string[]
    readonly steps: ReadonlyArray<{ readonly what: string; readonly how: string; readonly value: string }>
    readonly giveUp: readonly GivenUp[]
  } | null
}

/** What a person entered of a case beside its readings. */
export interface EnteredView {
  readonly viewingCase: ViewingCase
  /** Controls that claim to shorten latency, with where they stand; choices are null where a number is typed. */
  readonly controls: ReadonlyArray<{
    readonly key: string
    readonly label: string
    readonly path: readonly string[]
    readonly value: string
    readonly choices: ReadonlyArray<{ readonly value: string; readonly label: string }> | null
    /** Why it is greyed out now; empty where it is not. */
    readonly greyed: string
  }>
  readonly latencies: ReadonlyArray<{
    readonly id: number
    /** Hz */
    readonly rate: number
    readonly position: ProbePosition
    /** Where the controls stood, in words. */
    readonly settings: string
    /** ms */
    readonly mean: number
    readonly spread: number
    readonly count: number
  }>
  readonly rows: ReadonlyArray<{ readonly id: number } & RowKept>
  readonly traces: ReadonlyArray<{ readonly id: number } & TraceDocument>
}
