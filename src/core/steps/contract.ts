import type { Change, ControlValue, Role } from '#core/display'
import { type FeedFinding, isHdr } from '#core/judge'
import type { Patch, Probe } from '#core/measure'
import type { Adjustment } from './facts/adjustment'
import type { ModeProposal, UnexpectedReading, VisualCheck, WorseFigure } from './facts/asked'
import type { StepContext } from './facts/context'
import type { Depth, DepthOption } from './facts/depth'
import type { CaseOf, MovedByOther } from './facts/facts'
import type { FindingKey, Findings } from './facts/findings'
import type { MappingOption } from './facts/findings-hdr'
import type { Limit } from './saying'

/** A sweep of one picture mode of the survey. */
export interface ModeSweep {
  readonly mode: string
  /** What is switched off there for measuring goes back afterwards: another case may keep values there. */
  readonly andBack: boolean
  readonly changes: readonly Change[]
  readonly patches: readonly Patch[]
}

/** A place of a tour: settings, then what is read there and looked at with the latency probe. */
export interface TourStop {
  readonly changes: readonly Change[]
  readonly reads: readonly Patch[]
  readonly probes: readonly Probe[]
}

/** The one thing to do next. */
export type Next =
  | {
      readonly kind: 'prepare'
      readonly reset: boolean
      /** Whether what is automatic is switched off by it; else whatever reads in the mode does so, and puts it back. */
      readonly switchesOff: boolean
      readonly changes: readonly Change[]
    }
  /** Another case moved the display: it is brought back before anything is read, judged or published. */
  | { readonly kind: 'restore'; readonly moved: MovedByOther }
  /** Nobody has seen these values where they are stored: a person looks at them before anything rests on them. */
  | { readonly kind: 'confirm-values'; readonly controls: readonly string[] }
  | {
      readonly kind: 'sweep'
      readonly purpose: 'feed-check' | 'out-of-box' | 'verify'
      /** Settings that come first. */
      readonly changes: readonly Change[]
      readonly patches: readonly Patch[]
    }
  /** Settings are gone round in one go, something is looked at in each, and what was moved goes back. */
  | {
      readonly kind: 'tour'
      readonly title: string
      readonly stops: readonly TourStop[]
      readonly back: readonly Change[]
    }
  /** The latency probe makes the screen flash, which can hurt: the person says first whether it may. */
  | { readonly kind: 'choose-flashes' }
  | { readonly kind: 'survey'; readonly modes: readonly ModeSweep[]; readonly latency: boolean }
  | { readonly kind: 'choose-mode'; readonly proposals: readonly ModeProposal[] }
  /** How far multi-point white balance goes, where each value costs a person minutes. */
  | { readonly kind: 'choose-depth'; readonly options: readonly DepthOption[]; readonly proposed: Depth }
  /** Green would have to move against the policy: what is left without it, and what it costs. */
  | {
      readonly kind: 'choose-green'
      /** Whether red or blue cannot go any further up, or have done what they can. */
      readonly reason: 'ran-out' | 'best'
      /** ΔE00 with green left alone and with green moved: of the worst level where a channel ran out, else on average. */
      readonly without: number
      readonly with: number
      /** Share of the light of white that is lost. */
      readonly light: number
    }
  /** Values of the tone mapping control and what each costs: the reviewer picks the school. */
  | {
      readonly kind: 'choose-mapping'
      readonly options: readonly MappingOption[]
      readonly proposed: ControlValue
    }
  | { readonly kind: 'feed-fault'; readonly findings: readonly FeedFinding[] }
  | { readonly kind: 'adjust'; readonly adjustment: Adjustment }
  | { readonly kind: 'unexpected-reading'; readonly unexpected: UnexpectedReading }
  | { readonly kind: 'visual-check'; readonly question: VisualCheck }
  | { readonly kind: 'worse'; readonly worse: readonly WorseFigure[] }
  | { readonly kind: 'compose' }

/** A value that came out of the route, with the rule that chose it and the readings it rests on. */
export interface Derived {
  readonly control: string
  readonly value: ControlValue
  readonly rule: string
  readonly readingIds: readonly number[]
}

export type { Limit }

/** What going on at a step would gain, and what it would cost. */
export interface More {
  /** In the step's own quantity. */
  readonly gain: number
  /** 0 where going on is no choice any more. */
  readonly readings: number
  /** Why the step stopped. */
  readonly sentence: string
}

/** Where a step stands. */
export interface StepPlan {
  readonly status: 'open' | 'done' | 'impossible'
  readonly note: string
  /** The next thing to do at it; missing where it is done. */
  readonly next?: Next
  readonly derived: readonly Derived[]
  readonly limits: readonly Limit[]
  readonly more?: More
  readonly findings?: Findings
}

/**
 * One step of the route, whole: what it is called, what it rests on, which cases have it, and how it is planned. The same key may stand twice in the
 * registry, where SDR and HDR go about it in different ways, or where it is looked at again after what came between.
 */
export interface Step<Key extends string = string, Found extends FindingKey = FindingKey> {
  readonly key: Key
  readonly title: string
  /**
   * Roles on which its findings rest. When a control of one changes afterwards, what was found is stale: it is looked at again with the fewest readings
   * that tell. A step does not rest on the controls that it moves itself.
   */
  readonly restsOn: readonly Role[]
  /** Whether a case has it. */
  readonly cases: (of: CaseOf) => boolean
  /** What it finds, by the names of `FINDINGS`: nothing else of its plan is passed on. */
  readonly finds: readonly Found[]
  /** Whether it reads with automatic processing off; else in the state for watching. */
  readonly measures: boolean
  /** In: what is known, and what the steps before found. Out: where it stands; undefined where there is nothing to look at here. */
  readonly plan: (context: StepContext) => StepPlan | undefined
}

/** A step as it stands in the registry, its key and the names of what it finds kept as types. */
export const defineStep = <const Key extends string, const Found extends FindingKey = never>(
  of: Step<Key, Found>,
): Step<Key, Found> => of

export const everyCase = (): boolean => true
export const hdrCases = ({ viewingCase }: CaseOf): boolean => isHdr(viewingCase)
export const sdrCases = ({ viewingCase }: CaseOf): boolean => !isHdr(viewingCase)
export const gameCases = ({ viewingCase }: CaseOf): boolean => viewingCase.endsWith('-game')
export const desktopOnly = ({ viewingCase }: CaseOf): boolean => viewingCase === 'desktop'

export const done = (note: string, rest: Partial<StepPlan> = {}): StepPlan => ({
  status: 'done',
  note,
  derived: [],
  limits: [],
  ...rest,
})
export const impossible = (limit: Limit): StepPlan => ({
  status: 'impossible',
  note: limit.sentence,
  derived: [],
  limits: [limit],
})
export const open = (next: Next, note = '', rest: Partial<StepPlan> = {}): StepPlan => ({
  status: 'open',
  note,
  next,
  derived: [],
  limits: [],
  ...rest,
})

/** An adjustment as the next thing to do; one that is made to learn predicts nothing. */
export const adjust = (
  of: Omit<Adjustment, 'predictions'> & Partial<Pick<Adjustment, 'predictions'>>,
  note = '',
  rest: Partial<StepPlan> = {},
): StepPlan => open({ kind: 'adjust', adjustment: { predictions: [], ...of } }, note, rest)

/**
 * What going on at a step of white balance would gain, average ΔE00, and why it stopped: its readings ran out, adjustments brought less than they should, or less
 * is to be gained than an adjustment is proposed for.
 */
export const moreAt = (
  title: string,
  {
    gain,
    readings,
    spent,
    stuck = false,
    worth,
  }: { gain: number; readings: number; spent: boolean; stuck?: boolean; worth: number },
): More => ({
  gain: Math.max(0, gain),
  readings,
  sentence: spent
    ? `${title} stopped where its readings ran out: about ${readings} more would gain up to ΔE00 ${gain.toFixed(1)}.`
    : stuck
      ? `${title} stopped after adjustments that brought less than was expected of them: another one might gain up to ΔE00 ${gain.toFixed(1)}, and might not.`
      : `${title} stopped where another adjustment might gain ΔE00 ${gain.toFixed(1)}; one is proposed from ΔE00 ${worth.toFixed(1)}.`,
})
