import type { XYZ } from '#core/colorimetry'
import {
  type Change,
  type Control,
  type ControlSheet,
  type ControlValue,
  greyedOut,
  type Role,
  type State,
  stateKey,
} from '#core/display'
import type { Policy, ViewingCase } from '#core/judge'
import {
  greyLevel,
  type Measurement,
  type MeterPrecision,
  type Offers,
  type Patch,
  type ProbePosition,
  type Purpose,
  type Reading,
  type ResponseEdge,
} from '#core/measure'
import type { Memo } from '#core/memo'
import { type AtRest, measuringState, prepareChanges, type ResponsePrior } from '#core/model'
import type { PanelKind } from '#core/protocol'
import { type MetadataFlags, type SeenSignal, type SignalFormat, signalKind } from '#core/signal'
import type { Targets } from '#core/target'
import type { Prediction } from './adjustment'
import type { HandPace } from './cost'

/** The part of a measurement that the route is planned from. */
export interface RouteReading extends Reading, Pick<Measurement, 'purpose'> {
  readonly exposure?: Measurement['exposure']
  /** Standard errors of X, Y and Z, cd/m²; from the meter's precision where they are not known. */
  readonly sigma?: XYZ | null
}

/** An adjustment that was made, with what it should have done. */
export interface MadeAdjustment {
  readonly runId: number
  readonly kind: 'proposed' | 'by-hand' | 'put-back'
  /** Key of the step that asked for it. */
  readonly step: string
  readonly changes: readonly Change[]
  readonly predictions: readonly Prediction[]
}

/** What a person saw on a pattern. */
export interface VisualVerdict {
  /** Key of the question. */
  readonly question: string
  readonly control: string | null
  /** Value that was judged right; null where the question has none to set. */
  readonly value: ControlValue | null
  readonly answer: string
}

/** Latency of a mode, as the probe measured it. */
export interface MeasuredLatency {
  readonly mode: string
  /** Pictures a second. */
  readonly rate: number
  readonly milliseconds: number
  readonly position?: ProbePosition
  /** Single delays, ms. */
  readonly times?: readonly number[]
  /** State of the display as it was looked at; left out where it was measured in another session. */
  readonly state?: State
  /** The state of the control that shortens it, where the sheet has one. */
  readonly setting: ControlValue | null
}

/** A place of the display's memory that holds a value of another viewing case. */
export interface OccupiedSlot {
  readonly slot: string
  readonly control: string
  readonly value: ControlValue
  readonly viewingCase: ViewingCase
}

/** What another viewing case moved, or was found otherwise when it was read back, and what has to be set so that the display stands again where this case left it. */
export interface MovedByOther {
  readonly viewingCase?: ViewingCase
  readonly changes: readonly Change[]
}

/** What the bench can do, as far as the route depends on it. */
interface BenchAbility extends Offers {
  readonly probe: boolean
  readonly probePositions?: readonly ProbePosition[]
  /** Pictures that the source sends, with their rates. */
  readonly links?: ReadonlyArray<{ readonly width: number; readonly height: number; readonly rate: number }>
  /** A person is there to look. */
  readonly eye: boolean
}

/** All that the route is planned from. Readings are the usable ones, oldest first. */
export interface RouteFacts {
  /** What was reckoned in earlier plans of the same display. */
  readonly memo: Memo
  readonly sheet: ControlSheet
  readonly viewingCase: ViewingCase
  /** What kind of display it is, where that is known. */
  readonly panelKind?: PanelKind
  /** Value of the picture mode control that the case is calibrated in; null until it is chosen. */
  readonly baseMode: string | null
  readonly policy: Policy
  readonly targets: Targets
  readonly precision: MeterPrecision
  /** The signal that is measured with, and what the display's own page said of it last. */
  readonly signal: SignalFormat
  readonly seen: SeenSignal | null
  /** What the source said last that it flagged, where it tells. */
  readonly flagged?: MetadataFlags | null
  /** State of the display now. */
  readonly state: State
  readonly readings: readonly RouteReading[]
  /** Readings of tours: they stand in settings that nothing else rests on. */
  readonly toured?: readonly RouteReading[]
  /** Moves of this session, oldest first. */
  readonly adjustments: readonly MadeAdjustment[]
  /** Where controls stand while it is measured whose values are compared and none of which is neutral: a value on trial is not how the display stands. */
  readonly atRest?: AtRest
  /** The display was reset and automatic picture processing switched off. */
  readonly prepared: boolean
  /** Keys of patches that the reviewer left out of a sweep. */
  readonly leftOut: readonly string[]
  /** Steps that the reviewer left as they are, with the reason. */
  readonly skipped: Readonly<Partial<Record<string, string>>>
  /** Controls that could not be set, with the display's own reason. */
  readonly refused: Readonly<Record<string, string>>
  /** What the reviewer agreed to: keys of figures that got worse, and answers as `question=answer`. */
  readonly accepted: readonly string[]
  readonly verdicts: readonly VisualVerdict[]
  readonly latencies: readonly MeasuredLatency[]
  /** Traces of a light sensor, by their edges. */
  readonly traces?: ReadonlyArray<{
    readonly from: number
    readonly to: number
    readonly edges: readonly ResponseEdge[]
  }>
  /** Response priors from earlier modes, cases and units of the model. */
  readonly priors: readonly ResponsePrior[]
  readonly occupied: readonly OccupiedSlot[]
  /** What another case of the unit moved since this one set it last; undefined where nothing is known to differ. */
  readonly moved?: MovedByOther
  /** Controls whose value nobody has seen where the display shows it now; only where a person sets it. */
  readonly assumed?: readonly string[]
  readonly bench: BenchAbility
  /** How long a person takes with the remote; undefined where a bench sets the display. */
  readonly hand?: HandPace
  /** A person reads the meter and types what it shows: patches that stand for others are enough. */
  readonly typed?: boolean
}

/** What tells which steps a case has. */
export type CaseOf = Pick<RouteFacts, 'viewingCase' | 'panelKind' | 'sheet'>

/** Why a control cannot be moved now, as a sentence, or undefined where it can. */
export const whyNotMovable = (facts: RouteFacts, control: Control, state = facts.state): string | undefined =>
  facts.refused[control.key] ?? greyedOut(facts.sheet, control, state, signalKind(facts.signal))

export const isMovable = (facts: RouteFacts, control: Control | undefined, state = facts.state): boolean =>
  control !== undefined && whyNotMovable(facts, control, state) === undefined

/** What comparing states needs of the facts. */
type Comparing = Pick<RouteFacts, 'sheet' | 'memo'>

/** Keys of the controls with some roles in which two states differ. In: facts; roles, a list that is never made on the spot. */
export const differsIn = (
  { sheet, memo }: Comparing,
  roles: readonly Role[],
  a: State,
  b: State,
  except?: ReadonlySet<string>,
): string[] => {
  if (a === b) return []
  const controls = memo.between('controls of roles', sheet, roles, () =>
    sheet.controls.filter((c) => roles.includes(c.role)),
  )
  const out: string[] = []
  for (const c of controls) if (a[c.key] !== b[c.key] && !except?.has(c.key)) out.push(c.key)
  return out
}

/** A state as one line of text, made once for each. */
export const keyOf = ({ memo }: Pick<RouteFacts, 'memo'>, state: State): string =>
  memo.about('key', state, () => stateKey(state))

type Resting = Pick<RouteFacts, 'memo' | 'sheet' | 'signal' | 'atRest'>
const restKey = ({ atRest }: Resting) => (atRest ? JSON.stringify(atRest) : '')

/** What has to be set before anything is measured in a mode (null: the one that is on), looked for once for each state. */
export const changesBefore = (facts: Resting, state: State, baseMode: string | null): readonly Change[] =>
  facts.memo.about(`changes before ${baseMode} ${restKey(facts)}`, state, () =>
    prepareChanges(facts.sheet, state, baseMode, signalKind(facts.signal), facts.atRest),
  )

/** The state for measuring that belongs to a state for watching, made once for each. */
export const measuringStateOf = (facts: Resting, state: State): State =>
  facts.memo.about(`measuring state ${restKey(facts)}`, state, () =>
    measuringState(facts.sheet, state, signalKind(facts.signal), facts.atRest),
  )

/** Readings that findings may still rest on: no control of the roles that they rest on has changed since. */
export const freshFor = (facts: RouteFacts, restsOn: readonly Role[]): RouteReading[] =>
  facts.readings.filter((r) => differsIn(facts, restsOn, r.state, facts.state).length === 0)

/** The newest usable reading of each patch of a sweep, all in one state. */
export interface SweepReadings {
  readonly state: State
  readonly byPatch: ReadonlyMap<string, RouteReading>
  readonly missing: readonly Patch[]
}

/**
 * Gathers a sweep from readings of some purposes: the newest of each patch, in the state of the newest reading.
 * In: facts, purposes, patches wanted; `state` to insist on. Out: sweep with what is still missing, or undefined where
 * there is no reading yet.
 */
export const gatherSweep = (
  facts: Pick<RouteFacts, 'readings' | 'memo'>,
  purposes: readonly Purpose[],
  patches: readonly Patch[],
  state?: State,
): SweepReadings | undefined => {
  const own = facts.readings.filter((r) => purposes.includes(r.purpose))
  const at = state ?? own.at(-1)?.state
  if (!at) return undefined
  const key = keyOf(facts, at)
  const byPatch = new Map<string, RouteReading>()
  for (const reading of own) if (keyOf(facts, reading.state) === key) byPatch.set(reading.patch.key, reading)
  if (byPatch.size === 0) return undefined
  return { state: at, byPatch, missing: patches.filter((p) => !byPatch.has(p.key)) }
}

/** Grey levels of a sweep, black included, rising. Out: level 0…1, absolute XYZ, id of the reading. */
export const greysOf = (sweep: SweepReadings): Array<{ level: number; xyz: XYZ; id: number }> =>
  [...sweep.byPatch.values()]
    .flatMap(({ patch, xyz, id }) => {
      const level = greyLevel(patch)
      return level === undefined ? [] : [{ level, xyz, id }]
    })
    .sort((a, b) => a.level - b.level)

/** Light of a patch of a sweep; undefined where it was not read. */
export const xyzOf = (sweep: SweepReadings | undefined, key: string): XYZ | undefined =>
  sweep?.byPatch.get(key)?.xyz
