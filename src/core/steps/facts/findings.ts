import { z } from 'zod'
import type { ControlValue } from '#core/display'
import type { HlgVerdict } from '#core/hdr'
import type { ChannelAlone } from '#core/measure'
import type { ColourModel } from '#core/model'
import type { ClicksToTarget, LuminanceChoice, RoomRow } from '#core/solve'
import type { Target } from '#core/target'
import type { CaseVerdict, VisualCheck, WatchValue, WorseFigure } from './asked'
import type { SweepReadings } from './facts'
import { ClampRow, LatencyFindings, RefreshFindings, TradeOffs, UniformityFindings } from './findings-games'
import { HdrFindings, MappingOption } from './findings-hdr'
import { list } from './list'

/** A gamut that was measured. */
export interface GamutOption {
  readonly value: ControlValue
  readonly label: string
  /** Mean chromatic error of its primaries and of colours inside it, ΔE00. */
  readonly error: number
  readonly readingIds: readonly number[]
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

/** What one strength of local dimming, or one value of an iris, measures. */
export interface DimmingOption {
  /** Key of the control. */
  readonly control: string
  readonly value: ControlValue
  readonly label: string
  /** White field over black field of a checkerboard. */
  readonly contrast: number
  /** Black beside a picture, as bars are, cd/m². */
  readonly bar: number
  /** Black inside white against black alone: 1 where nothing spills, cd/m² both. */
  readonly halo: number
  readonly haloing: boolean
  /** A shade against white, as against that without dimming: below 1 shades are crushed. */
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

export interface ProcessingFindings {
  readonly dimming: readonly DimmingOption[]
  readonly dynamic: readonly DynamicOption[]
  readonly watch: readonly WatchValue[]
  readonly questions: readonly VisualCheck[]
}

const its = <T>() => z.custom<T>()

/** All that steps find out, for tables, guides and the steps after them, by name: the one shape of each. */
export const FINDINGS = {
  luminance: its<LuminanceFindings>(),
  blackLevel: its<BlackLevelVerdict>(),
  whiteLevel: its<WhiteLevelVerdict>(),
  gamuts: its<readonly GamutOption[]>(),
  tones: its<readonly ToneOption[]>(),
  white: its<WhiteFindings>(),
  levelErrors: its<readonly LevelError[]>(),
  colour: its<ColourFindings>(),
  processing: its<ProcessingFindings>(),
  verify: its<SweepReadings>(),
  after: its<CaseVerdict>(),
  worse: its<readonly WorseFigure[]>(),
  /** What each value of the tone mapping control does. */
  mappings: list(MappingOption),
  hdr: HdrFindings,
  askedHdr: its<AskedHdr>(),
  latency: LatencyFindings,
  refresh: RefreshFindings,
  clamps: list(ClampRow),
  uniformity: UniformityFindings,
  tradeOffs: list(TradeOffs),
} as const

/** What a step found out; what was not found is missing. */
export type Findings = { readonly [K in keyof typeof FINDINGS]?: z.infer<(typeof FINDINGS)[K]> }
export type FindingKey = keyof typeof FINDINGS
