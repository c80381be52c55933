import type { Change, Control, ControlValue } from '#core/display'
import type { HlgVerdict, Mapping, MappingVerdict, SourceScreens, Tracked, WindowPeak } from '#core/hdr'
import type { GreyVerdict, HdrModeVerdict, ModeVerdict } from '#core/judge'
import type { ChannelAlone, LatencyFigures, Patch, ProbePosition } from '#core/measure'
import type { ColourModel } from '#core/model'
import type { ClicksToTarget, LuminanceChoice, RoomRow } from '#core/solve'
import type { Target } from '#core/target'
import type { Prediction } from './adjustment'
import type { SweepReadings } from './facts'

/** A gamut that was measured. */
export interface GamutOption {
  readonly value: ControlValue
  readonly label: string
  /** Mean chromatic error of its primaries and of colours inside it, ΔE00. */
  readonly error: number
  readonly readingIds: readonly number[]
}

/** What one value of the tone mapping control does. */
export interface MappingOption {
  readonly value: ControlValue
  readonly label: string
  readonly mapping: Mapping
  /** How dim greys become in the middle, at half the peak, and just below the peak, as a share of what they should be: 0 is exact. */
  readonly middle: number
  readonly dims: number
  /** Light beyond everything that it shows, cd/m²: the peak to give to a source where it clips. */
  readonly peak: number
  /** Luminance in the signal up to which steps were seen to differ, cd/m². */
  readonly detailTo: number
  /** What was read: luminance in the signal and on the screen, cd/m², the darkest first. */
  readonly curve: ReadonlyArray<{ readonly target: number; readonly luminance: number; readonly id: number }>
  /** How far greys move beside a highlight, as a share of their light; undefined where the source shows none. */
  readonly moves: number | undefined
  readonly readingIds: readonly number[]
}

/** A delay that was measured: with which option, at which rate, where on the screen. */
export interface LatencyRow extends LatencyFigures {
  /** Controls that are on, as `control=value`, joined by plus signs; null: all that claim to help are off. */
  readonly option: string | null
  readonly label: string | null
  /** It is how the case is left. */
  readonly chosen: boolean
  /** Pictures a second. */
  readonly rate: number
  readonly position: ProbePosition
}

/** A value of a control that claims to shorten latency. */
export interface LatencyOption {
  readonly key: string
  readonly control: string
  readonly value: ControlValue
  readonly label: string
  /** What it saves at each rate, ms, and whether that is more than chance. */
  readonly rates: ReadonlyArray<{ readonly rate: number; readonly saves: number; readonly helps: boolean }>
}

/** What is known of the latency of a case. */
export interface LatencyFindings {
  readonly rows: readonly LatencyRow[]
  readonly options: readonly LatencyOption[]
  readonly chosen: string | null
  /** What the picture pays for it: labels that are greyed out by it, how far patches move (mean ΔE00), change of white's light as a share. */
  readonly price?: {
    readonly locked: readonly string[]
    readonly moves?: number
    readonly light?: number
    readonly readingIds?: readonly number[]
  }
}

/** Light at a rate of variable refresh. */
export interface RefreshRow {
  /** Pictures a second that are really sent. */
  readonly rate: number
  /** Signal, 0…1. */
  readonly level: number
  /** cd/m² */
  readonly luminance: number
  readonly id: number
}
export interface RefreshFindings {
  readonly rows: readonly RefreshRow[]
  /** Of each level: widest change between rates as a share of its light, and whether it is seen as flicker. */
  readonly levels: ReadonlyArray<{
    readonly level: number
    readonly label: string
    readonly change: number
    readonly seen: boolean
  }>
}

/** Standard content in a value of the gamut control, in the final state. */
export interface ClampRow {
  readonly value: ControlValue
  readonly label: string
  /** Memory colours, average ΔE00. */
  readonly natural: number
  readonly gamma: number | undefined
  readonly readingIds: readonly number[]
}

/** A place of the screen against its middle. */
export interface UniformityRow {
  readonly x: number
  readonly y: number
  /** cd/m² */
  readonly luminance: number
  /** Distance in u′v′ from the middle. */
  readonly deltaUv: number
  readonly id: number
}
export interface UniformityFindings {
  readonly rows: readonly UniformityRow[]
  /** Darkest place as a share of the brightest; widest distance of colour from the middle. */
  readonly evenness: number
  readonly worstUv: number
}

/** What a value of a helper does: luminance in cd/m². */
export interface HelperRow {
  readonly value: ControlValue
  readonly label: string
  /** It is where the control does nothing, or where it was left. */
  readonly rest: boolean
  /** Of white, or of a picture that stood still. */
  readonly luminance: number
  readonly black?: number
  /** Steps near the end that differ visibly from the one before. */
  readonly steps?: number
  readonly middle?: number
  /** Of a step that stands for those near the end. */
  readonly near?: number
  /** White against black one after the other, and side by side. */
  readonly onOff?: number
  readonly board?: number
  readonly readingIds: readonly number[]
}
/** What a helper does at each of its values. */
export interface HelperFindings {
  readonly control: string
  readonly label: string
  readonly term: string
  readonly rows: readonly HelperRow[]
  /** How many steps could be told apart at most; 0 where steps were not looked at. */
  readonly steps: number
  /** The step that stands for those near the end, in words. */
  readonly near?: string
  readonly sentences: readonly string[]
}

/** HDR in the final state, judged. */
export interface HdrVerdict extends MappingVerdict {
  /** Peak of the mastering display that was flagged, cd/m². */
  readonly masteringPeak: number | null
  readonly windows: readonly WindowPeak[]
  /** What greys about the peak become under each mastering peak that was flagged, cd/m²; none where that was not read. */
  readonly mastered: ReadonlyArray<{
    readonly peak: number
    readonly greys: ReadonlyArray<{ readonly target: number; readonly luminance: number }>
  }>
  readonly rows: readonly Tracked[]
  /** ΔE ITP up to the knee, luminance included; and white at its own luminance from 15 % of the signal up to the knee. */
  readonly tracking: { readonly average: number; readonly worst: number } | undefined
  readonly white: { readonly average: number; readonly worst: number } | undefined
  /** Shares of P3 and BT.2020 that the primaries cover, in u′v′. */
  readonly coverage: { readonly p3: number; readonly bt2020: number } | undefined
  /** The same in x, y; and of their volumes in ITP, up to the peak in a small window. */
  readonly coverageXy: { readonly p3: number; readonly bt2020: number } | undefined
  readonly volume: { readonly p3: number; readonly bt2020: number } | undefined
  readonly shadows: { readonly stops: number; readonly verdict: 'right' | 'lifted' | 'crushed' } | undefined
  /** What to enter on the HDR screens of a game source. */
  readonly sourceScreens?: SourceScreens
}

/** What is known of luminance. */
export interface LuminanceFindings {
  readonly control: string
  readonly value: string | number
  /** Read or expected there, cd/m². */
  readonly luminance: number
  /** Out of the box: value and luminance, cd/m². */
  readonly outOfBox?: { readonly value: string | number; readonly luminance: number }
  readonly room: readonly RoomRow[]
  readonly outOfReach?: LuminanceChoice['outOfReach']
}

/** Where black ends. Levels are signals, 0…1. */
export interface BlackLevelVerdict {
  readonly value: string | number | undefined
  /** cd/m² */
  readonly black: number
  /** Highest step that cannot be told from black; 0 where the first one can. */
  readonly lastBlack: number
  /** First step that can be told from black; undefined where none of those read can. */
  readonly firstSeen: number | undefined
  /** Signal by which shades near black come too early (above zero) or too late, 0…1. */
  readonly offset: number
  /** Its standard error. */
  readonly sigma: number
  /** Signal by which its control would still raise (below zero: lower) them, without lifting black; undefined without a control. */
  readonly left?: number
  readonly readingIds: readonly number[]
}

/** Whether the last steps below white stay apart, channel by channel. */
export interface WhiteLevelVerdict {
  readonly value: string | number | undefined
  /** Slope of each channel over the last steps against the steps before; 1 is as it should be, 0 is clipped. */
  readonly slopes: readonly [red: number, green: number, blue: number]
  readonly apart: boolean
  readonly readingIds: readonly number[]
}

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

/** What one value of the tone control measures. */
export interface ToneOption {
  readonly value: ControlValue
  readonly label: string
  /** Mean exponent over the levels read between 20 and 90 %. */
  readonly exponent: number
  /** Root mean square of how far the exponents are off the target's. */
  readonly off: number
  readonly measured: boolean
  readonly readingIds: readonly number[]
}

/** What the white steps know besides their plan. */
export interface WhiteFindings {
  readonly away: readonly ClicksToTarget[]
  /** Average chromatic ΔE00 over 10 to 100 % that reading again would scatter by. */
  readonly noise: number
  /** Average chromatic ΔE00 that the model expects now, and what the best further clicks would make of it. */
  readonly error: number
  readonly best: number
  readonly readingIds: readonly number[]
  readonly presets: readonly PresetOption[]
}

/** A white preset, measured. */
export interface PresetOption {
  readonly value: ControlValue
  readonly label: string
  /** Δu′v′ to the target white. */
  readonly away: number
  /** What is expected to be left of it once gains have done what they can, Δu′v′. */
  readonly residual: number
  /** Red and blue against green, as logarithms against the target's. */
  readonly ratios: readonly [red: number, blue: number]
  /** Readings that it rests on; none where it is a prior from an earlier case. */
  readonly readingIds: readonly number[]
}

/** What a level is off by, as the model expects it. */
export interface LevelError {
  /** Signal, 0…1. */
  readonly level: number
  /** Chromatic ΔE00. */
  readonly error: number
  /** Drive of the tone off its target, as a share. */
  readonly tone: number
}

export interface ColourFindings {
  readonly model?: ColourModel
  /** What colours are brought to; in HDR as far as the panel reaches. */
  readonly target?: Target
  /** Weighted average ΔE00 of six and memory colours as the model expects it now, and after the best further clicks. */
  readonly error: number
  readonly best: number
  readonly errors: ReadonlyArray<{ readonly patch: string; readonly label: string; readonly error: number }>
  /** Why colour stands as it does, once the step is done: `sayColourLeft`. */
  readonly account?: string
}

/** A colour of a sweep at one of several luminances, and where it should be. */
export interface ColourAtLuminance {
  readonly label: string
  /** Luminance of the white that it is part of, cd/m². */
  readonly white: number
  /** u′v′. */
  readonly wanted: readonly [number, number]
  readonly is: readonly [number, number]
  /** ΔE ITP, luminance included. */
  readonly deltaE: number
  readonly id: number
}

/** What sweeps tell that a reviewer asked for beside the case, in the state of now. */
export interface AskedHdr {
  /** Colours by luminance; none where they were not read. */
  readonly colours: readonly ColourAtLuminance[]
  /** Luminance of white up to which steps of a channel alone still differ, cd/m². */
  readonly channelEnds: Readonly<Partial<Record<ChannelAlone, number>>>
  readonly hlg: HlgVerdict | undefined
}

/** What one strength of local dimming measures. */
export interface DimmingOption {
  readonly value: ControlValue
  readonly label: string
  /** White field over black field of a checkerboard. */
  readonly contrast: number
  /** Black beside a picture, as bars are, cd/m². */
  readonly bar: number
  /** Black inside white against black alone: 1 where nothing spills, cd/m² both. */
  readonly halo: number
  readonly haloing: boolean
  /** A shade against its light without dimming: below 1 shades are crushed. */
  readonly shade: number
  /** Of HDR: peak in a small window, and what the shade gives above black, cd/m². */
  readonly peak?: number
  readonly shadeLight?: number
  readonly readingIds: readonly number[]
}

/** What one value of dynamic contrast measures. */
export interface DynamicOption {
  readonly value: ControlValue
  readonly label: string
  /** cd/m² */
  readonly black: number
  /** Light of a dark shade, and of middle grey, against that with dynamic contrast at rest. */
  readonly shade: number
  readonly middle: number
  readonly readingIds: readonly number[]
}

/** A value for watching, with why it is not the one for measuring. */
export interface WatchValue {
  readonly control: Control
  readonly value: ControlValue
  readonly rule: string
}

export interface ProcessingFindings {
  readonly dimming: readonly DimmingOption[]
  readonly dynamic: readonly DynamicOption[]
  readonly watch: readonly WatchValue[]
  readonly questions: readonly VisualCheck[]
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

/** What a step found out, for tables, guides and the steps after it. */
export interface Findings {
  readonly luminance?: LuminanceFindings
  readonly blackLevel?: BlackLevelVerdict
  readonly whiteLevel?: WhiteLevelVerdict
  readonly gamuts?: readonly GamutOption[]
  readonly tones?: readonly ToneOption[]
  readonly white?: WhiteFindings
  readonly levelErrors?: readonly LevelError[]
  readonly colour?: ColourFindings
  readonly processing?: ProcessingFindings
  readonly verify?: SweepReadings
  /** What each value of the tone mapping control does. */
  readonly mappings?: readonly MappingOption[]
  readonly hdr?: HdrVerdict
  readonly latency?: LatencyFindings
  readonly refresh?: RefreshFindings
  readonly clamps?: readonly ClampRow[]
  readonly uniformity?: UniformityFindings
  readonly helpers?: readonly HelperFindings[]
  readonly askedHdr?: AskedHdr
  readonly after?: CaseVerdict
  readonly worse?: readonly WorseFigure[]
}
