import type { ControlValue } from '#core/display'
import type { GamesAndDesktop } from '#core/guide/document'
import type { Mapping } from '#core/hdr'
import type { AskedHdr, HdrFindings } from '#core/steps'

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

/** HDR in the final state. */
export interface HdrView extends HdrFindings {
  /** What the reference tone mapping of BT.2390 would show on a panel of this peak. */
  readonly reference: ReadonlyArray<{ readonly target: number; readonly luminance: number }>
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
  readonly play: GamesAndDesktop | null
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
  readonly visualChecks: ReadonlyArray<{
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
  /** Where it stopped: what a further adjustment would gain there, average ΔE00, and cost. */
  readonly more: ReadonlyArray<{ readonly step: string; readonly gain: number; readonly readings: number }>
  /** What each adjustment bought: average greyscale ΔE00 after it, from out of the box to the verification. */
  readonly bought: ReadonlyArray<{ readonly step: string; readonly error: number }>
  readonly limits: readonly string[]
  readonly preferences: readonly string[]
  readonly controlFaults: readonly string[]
  /** Controls that were left out. */
  readonly refused: ReadonlyArray<{ readonly control: string; readonly label: string; readonly why: string }>
}
