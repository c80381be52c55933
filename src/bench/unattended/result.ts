import { controlOf, type State, showValue } from '#core/display'
import { measureOf } from '#core/guide/compose'
import type { GuideMeasure } from '#core/guide/document'
import { CASE_LABEL, isHdr, type Policy, type ViewingCase } from '#core/judge'
import { inFrames, type Measurement, USUAL_WINDOW } from '#core/measure'
import { boughtBy, endingOf } from '#core/plan'
import type { BenchDescription, MeterDescription } from '#core/protocol'
import type { HdrFindings, LatencyFindings, TradeOffRow } from '#core/steps'
import type { Targets } from '#core/target'
import type { Outcome } from './outcome'

/** What came of an unattended calibration, complete in itself; `docs/calibrate.md` says what each part holds. */
export interface CalibrationResult {
  readonly format: 'wexmar-result/1'
  readonly verified: boolean
  /** Why it ended before its end; null where it did not. */
  readonly stopped: string | null
  readonly identity: NonNullable<BenchDescription['display']>
  readonly meter: MeterDescription
  readonly case: ViewingCase
  readonly caseLabel: string
  readonly policy: Policy
  readonly targets: Targets
  readonly baseMode: string | null
  /** Value of every control of the sheet, as the display was left. */
  readonly finalState: State
  /** The same as the menu shows them, those aside that stand as they came. */
  readonly changed: ReadonlyArray<{
    readonly control: string
    readonly path: readonly string[]
    readonly shown: string
  }>
  readonly before: GuideMeasure | null
  readonly after: GuideMeasure | null
  /** Of HDR cases: how the display follows PQ in its final state; null where that was not read. */
  readonly hdr?: HdrFindings | null
  /** Of games: delays by option, rate and place; light near black and in the middle at several rates; what to enter on the source's HDR screens. */
  readonly latency?: ReadonlyArray<{
    readonly rate: number
    readonly position: string
    /** `control=value`, joined by plus signs; null: everything that claims to help is off. */
    readonly option: string | null
    readonly label: string | null
    readonly mean: number
    readonly spread: number
    readonly frames: number
    readonly flashes: number
  }>
  /** What each option saves at each rate, ms, and whether that is more than chance. */
  readonly latencyOptions?: LatencyFindings['options']
  readonly latencyChosen?: string | null
  readonly refresh?: ReadonlyArray<{
    readonly rate: number
    readonly level: number
    readonly luminance: number
  }>
  readonly sourceScreens?: HdrFindings['sourceScreens'] | null
  /** Of the desktop: standard content in each gamut; places of the screen against its middle. */
  readonly gamuts?: ReadonlyArray<{
    readonly value: string
    readonly natural: number
    readonly gamma: number | null
  }>
  readonly uniformity?: ReadonlyArray<{
    readonly x: number
    readonly y: number
    readonly luminance: number
    readonly deltaUv: number
  }>
  /** Of games, desktops and projectors: what each value of a helper, an iris or a light source does; cd/m². */
  readonly helpers?: ReadonlyArray<{ readonly control: string } & Omit<TradeOffRow, 'readingIds'>>
  /** Shades near black in the final state, ΔE00 with luminance; null where they were not read. */
  readonly nearBlack: { readonly average: number; readonly worst: number } | null
  /** What each adjustment bought: average greyscale ΔE00 after it. */
  readonly bought: ReadonlyArray<{ readonly step: string; readonly error: number }>
  /** Figures that got worse, in sentences. */
  readonly worse: readonly string[]
  /** Why it ended where it did, the weightiest reason first. */
  readonly ending: readonly string[]
  /** Measurements, those aside that only told whether the display had settled; single readings of the meter, all of them. */
  readonly readings: number
  readonly meterReadings: number
  /** How many of the measurements the survey of modes and those that cannot be used are. */
  readonly surveyReadings: number
  readonly unusableReadings: number
  readonly benchSeconds: number
  readonly values: ReadonlyArray<{
    readonly control: string
    readonly value: string | number
    readonly rule: string
    /** Numbers of the readings that it rests on. */
    readonly readings: readonly number[]
  }>
  /** What could not be done or reached, and why. */
  readonly notDone: ReadonlyArray<{ readonly what: string; readonly why: string }>
  /** What else was noticed on the way. */
  readonly notes: readonly string[]
}

const gameResult = (route: Outcome['route']): Partial<CalibrationResult> => ({
  latency: (route?.latency?.rows ?? []).map(({ rate, position, option, label, mean, spread, count }) => ({
    rate,
    position,
    option,
    label,
    mean,
    spread,
    frames: inFrames(mean, rate),
    flashes: count,
  })),
  latencyOptions: route?.latency?.options ?? [],
  latencyChosen: route?.latency?.chosen ?? null,
  refresh: (route?.refresh?.rows ?? []).map(({ rate, level, luminance }) => ({ rate, level, luminance })),
})

const desktopResult = (route: Outcome['route']): Partial<CalibrationResult> => ({
  gamuts: (route?.clamps ?? []).map(({ value, natural, gamma }) => ({
    value: String(value),
    natural,
    gamma: gamma ?? null,
  })),
  ...(route?.uniformity
    ? {
        uniformity: route.uniformity.rows.map(({ x, y, luminance, deltaUv }) => ({
          x,
          y,
          luminance,
          deltaUv,
        })),
      }
    : {}),
})

/** Puts together what came of a calibration. In: outcome, state in which the base mode came. */
export const calibrationResult = (outcome: Outcome): CalibrationResult => {
  const { sheet, state, route } = outcome
  const factory = route?.outOfBox?.state
  return {
    format: 'wexmar-result/1',
    verified: outcome.verified,
    stopped: outcome.stopped ?? null,
    identity: outcome.identity,
    meter: outcome.meter,
    case: outcome.viewingCase,
    caseLabel: CASE_LABEL[outcome.viewingCase],
    policy: outcome.policy,
    targets: outcome.targets,
    baseMode: outcome.baseMode,
    finalState: state,
    changed: sheet.controls.flatMap((c) => {
      const value = state[c.key]
      return value === undefined || !factory || value === factory[c.key]
        ? []
        : [{ control: c.key, path: [...c.path, c.label], shown: showValue(c, value) }]
    }),
    before: outcome.before ? measureOf(outcome.before) : null,
    after: outcome.after ? measureOf(outcome.after) : null,
    ...(isHdr(outcome.viewingCase) ? { hdr: route?.hdr ?? null } : {}),
    ...(outcome.viewingCase.endsWith('-game') ? gameResult(route) : {}),
    ...(outcome.viewingCase === 'hdr-game' ? { sourceScreens: route?.hdr?.sourceScreens ?? null } : {}),
    ...(outcome.viewingCase === 'desktop' ? desktopResult(route) : {}),
    helpers: (route?.tradeOffs ?? []).flatMap(({ control, rows }) =>
      rows.map(({ readingIds: _, ...row }) => ({ control, ...row })),
    ),
    nearBlack: outcome.after?.grey.nearBlack
      ? { average: outcome.after.grey.nearBlack.average, worst: outcome.after.grey.nearBlack.worst }
      : null,
    bought: route ? boughtBy(route) : [],
    worse: outcome.worse.map((w) => w.sentence),
    ending: route ? endingOf(route, outcome.skipped).sentences : [],
    readings: outcome.readings + outcome.surveyReadings,
    meterReadings: outcome.kept.reduce((sum, m) => sum + m.samples, 0),
    surveyReadings: outcome.surveyReadings,
    unusableReadings: outcome.kept.filter((r) => r.fault && r.kind !== 'settle').length,
    benchSeconds: outcome.benchSeconds,
    values: onceEach(outcome.derived).map(({ control, value, rule, readingIds }) => ({
      control,
      value,
      rule,
      readings: readingIds,
    })),
    notDone: [
      ...(outcome.stopped ? [{ what: 'the rest of the route', why: outcome.stopped }] : []),
      ...Object.entries(outcome.skipped).map(([what, why]) => ({ what, why })),
      ...outcome.limits.map((l) => ({ what: l.step, why: l.sentence })),
      ...outcome.controlFaults.map((o) => ({ what: controlOf(sheet, o.control).label, why: o.sentence })),
    ],
    notes: outcome.notes,
  }
}

/** Values, each control once: what was derived last counts. */
const onceEach = (derived: Outcome['derived']): Outcome['derived'] => [
  ...new Map(derived.map((d) => [d.control, d])).values(),
]

/** Columns of the readings that a calibration took. */
const COLUMNS = [
  'Reading',
  'Run',
  'Purpose',
  'Kind',
  'Patch',
  'Red, %',
  'Green, %',
  'Blue, %',
  'Window, %',
  'X',
  'Y',
  'Z',
  'Standard error of Y',
  'Averaged',
  'Fault',
  'Seconds',
  'Bench clock, s',
  'State',
] as const

/** Readings as a table: names of the columns, and one row for each reading, bad ones included. */
export const readingsTable = (
  kept: readonly Measurement[],
): { fields: readonly string[]; data: ReadonlyArray<ReadonlyArray<string | number>> } => {
  const percent = (signal: number) => Math.round(signal * 1e4) / 100
  return {
    fields: COLUMNS,
    data: kept.map((r) => [
      r.id,
      r.runId,
      r.purpose,
      r.kind,
      r.patch.label,
      ...r.patch.signal.map(percent),
      percent(r.patch.window ?? USUAL_WINDOW),
      ...(r.xyz ?? ['', '', '']),
      r.sigma?.[1] ?? '',
      r.samples,
      r.fault ?? '',
      r.seconds,
      r.clock,
      JSON.stringify(r.state),
    ]),
  }
}
