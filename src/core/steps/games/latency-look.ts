import { type Control, type ControlValue, factoryValue, greyedOut, type State } from '#core/display'
import {
  type LatencyFigures,
  latencyFigures,
  type Patch,
  type Probe,
  type ProbePosition,
} from '#core/measure'
import { signalKind } from '#core/signal'
import type { Limit } from '../contract'
import type { StepContext } from '../facts/context'
import type { RouteFacts, RouteReading } from '../facts/facts'
import {
  FEW_TIMES,
  LATENCY_FLASHES,
  LATENCY_HELPS,
  MOST_FLASHES,
  MOST_LATENCY_OPTIONS,
  MOST_RATES,
} from '../tuning'
import { optionNotTried } from './say'

/** Values of the controls that claim to shorten latency, by key; those that are not named stand off. */
export type Assignment = Readonly<Record<string, ControlValue>>

export const keyOf = (assignment: Assignment): string | null =>
  Object.entries(assignment)
    .map(([control, value]) => `${control}=${value}`)
    .sort()
    .join('+') || null

/** Controls that claim to shorten latency, and their value when they do not. */
export const controlsOf = ({ sheet, baseMode, signal }: RouteFacts) =>
  sheet.controls
    .filter((c) => c.role === 'latency')
    .map((control) => ({
      control,
      off: control.neutral ?? factoryValue(control, baseMode ?? undefined, signalKind(signal)),
    }))

export const valuesOf = (control: Control): ControlValue[] =>
  control.kind === 'choice' ? control.choices.map((c) => c.value) : [control.range.min, control.range.max]

/** The state of now with the latency controls of an assignment, the others off. */
export const stateWith = (facts: RouteFacts, assignment: Assignment): State => ({
  ...facts.state,
  ...Object.fromEntries(
    controlsOf(facts).map(({ control, off }) => [control.key, assignment[control.key] ?? off]),
  ),
})

/** An option of its own: one control at one value, with what has to be on so that it is not greyed out. */
export interface Candidate {
  readonly assignment: Assignment
  /** What it is compared with: the same without its own control. */
  readonly against: Assignment
  readonly control: Control
  readonly value: ControlValue
}

export const candidatesOf = (facts: RouteFacts): { candidates: Candidate[]; limits: Limit[] } => {
  const all = controlsOf(facts)
  const limits: Array<ReturnType<typeof optionNotTried>> = []
  const candidates = all.flatMap(({ control, off }) =>
    valuesOf(control).flatMap((value): Candidate[] => {
      if (value === off) return []
      // Another latency control that it hangs on is switched on for it.
      const against: Record<string, ControlValue> = {}
      for (const need of control.needs ?? []) {
        if (!('control' in need)) continue
        const other = all.find((o) => o.control.key === need.control)
        if (other && !need.is.includes(other.off)) against[need.control] = need.is[0]!
      }
      const assignment = { ...against, [control.key]: value }
      const why =
        facts.refused[control.key] ??
        greyedOut(facts.sheet, control, stateWith(facts, assignment), signalKind(facts.signal))
      if (why) {
        if (!limits.some((l) => l.facts.control.key === control.key))
          limits.push(optionNotTried({ control, why }))
        return []
      }
      return [{ assignment, against, control, value }]
    }),
  )
  return { candidates: candidates.slice(0, MOST_LATENCY_OPTIONS), limits }
}

/** Links that latency is looked at on: each rate once, in the largest picture that has it. */
export const latencyLinks = (
  links: NonNullable<RouteFacts['bench']['links']>,
): ReadonlyArray<{ readonly width: number; readonly height: number; readonly rate: number }> => {
  const byRate = new Map<number, (typeof links)[number]>()
  for (const link of links) {
    const rate = Math.round(link.rate)
    // Films have slower rates; games do not.
    if (rate < 48) continue
    const known = byRate.get(rate)
    if (!known || link.width * link.height > known.width * known.height) byRate.set(rate, link)
  }
  const sorted = [...byRate.values()].sort((a, b) => a.rate - b.rate)
  if (sorted.length <= MOST_RATES) return sorted
  // The usual one and the fastest stay; those next to another go first.
  const kept = sorted.filter((l, i) => Math.round(l.rate) === 60 || i === sorted.length - 1)
  for (const link of sorted.toReversed())
    if (kept.length < MOST_RATES && !kept.includes(link)) kept.push(link)
  return kept.sort((a, b) => a.rate - b.rate)
}

/** Patches that tell what the picture pays for an option. */
const pricePatches = ({ scale, patches: own, facts }: StepContext): readonly Patch[] => {
  const patches = scale.priced(own)
  const greys = patches.wholeCase.filter(
    (p) => p.level !== null && p.signal[0] === p.signal[1] && p.signal[1] === p.signal[2],
  )
  const middle = greys.toSorted(
    (a, b) => Math.abs((a.level ?? a.signal[0]) - 0.5) - Math.abs((b.level ?? b.signal[0]) - 0.5),
  )[0]
  return [patches.white, ...(middle ? [middle] : []), ...patches.primaries].filter(
    (p, i, list) => list.findIndex((q) => q.key === p.key) === i && !facts.leftOut.includes(p.key),
  )
}

/** Rates at which somebody typed what another instrument showed, Hz. */
export const typedRates = ({ latencies, baseMode }: RouteFacts): number[] => [
  ...new Set(
    latencies.flatMap(({ state, mode, rate }) =>
      state && (baseMode === null || mode === baseMode) ? [Math.round(rate)] : [],
    ),
  ),
]

/** Whether the person agreed to flashes; where nobody is there, nobody has to. */
export const flashesAllowed = ({ bench, accepted }: Pick<RouteFacts, 'bench' | 'accepted'>): boolean =>
  bench.probe && (!bench.eye || accepted.includes('flashes=yes'))

/** Times that were measured in the base mode, by assignment, rate and place. */
export class Table {
  private readonly times = new Map<string, number[]>()
  constructor(facts: RouteFacts) {
    const controls = controlsOf(facts)
    for (const { mode, rate, position = 'middle', times, state } of facts.latencies) {
      if (!state || !times || (facts.baseMode !== null && mode !== facts.baseMode)) continue
      const on: Record<string, ControlValue> = {}
      for (const { control, off } of controls) {
        const value = state[control.key]
        if (value !== undefined && value !== off) on[control.key] = value
      }
      const key = Table.key(on, rate, position)
      this.times.set(key, [...(this.times.get(key) ?? []), ...times])
    }
  }
  private static key = (on: Assignment, rate: number, position: ProbePosition) =>
    `${keyOf(on)}|${Math.round(rate)}|${position}`
  of(on: Assignment, rate: number, position: ProbePosition): LatencyFigures | undefined {
    const own = this.times.get(Table.key(on, rate, position))
    return own?.length ? latencyFigures(own) : undefined
  }
}

/** What an option saves at a rate, ms; whether that is more than chance; whether more flashes would tell. */
export const savedBy = (base: LatencyFigures, own: LatencyFigures, most: number) => {
  const saves = base.mean - own.mean
  // A single time that was typed says nothing of its scatter.
  const errorOf = ({ error, count }: LatencyFigures) => (count < FEW_TIMES.count ? FEW_TIMES.error : error)
  const error = Math.hypot(errorOf(base), errorOf(own))
  const { least, errors, early, surelyNot, sure } = LATENCY_HELPS
  const helps = saves > least && saves > errors * error
  const tells =
    (helps && saves > early * error) ||
    saves + surelyNot * error < least ||
    error < sure ||
    Math.min(base.count, own.count) >= most
  return { saves, helps, tells }
}

/** What delays are looked at with, and what is known of them. */
export interface Look {
  readonly context: StepContext
  readonly controls: ReturnType<typeof controlsOf>
  readonly candidates: readonly Candidate[]
  readonly links: ReturnType<typeof latencyLinks>
  readonly positions: readonly ProbePosition[]
  /** Where options are compared: the middle of the screen where the probe stands there. */
  readonly middle: ProbePosition | undefined
  readonly table: Table
  /** Flashes at most. */
  readonly most: number
  /** Whether the probe may be used, and can. */
  readonly measures: boolean
  /** What the picture pays is read on. */
  readonly price: readonly Patch[]
}

export const lookOf = (context: StepContext, candidates: readonly Candidate[]): Look => {
  const { facts } = context
  const links = facts.bench.links ? latencyLinks(facts.bench.links) : []
  const positions = facts.bench.probePositions ?? []
  const middle: ProbePosition | undefined = positions.includes('middle') ? 'middle' : positions[0]
  return {
    context,
    controls: controlsOf(facts),
    candidates,
    links,
    positions,
    middle,
    table: new Table(facts),
    most: facts.bench.eye ? MOST_FLASHES.person : MOST_FLASHES.nobody,
    measures: flashesAllowed(facts) && middle !== undefined && links.length > 0,
    price: pricePatches(context),
  }
}

export const probeOf = (link: Look['links'][number], position: ProbePosition): Probe => ({
  position,
  rate: link.rate,
  width: link.width,
  height: link.height,
  flashes: LATENCY_FLASHES,
})

/** A reading of a patch with options on; undefined where there is none. */
export const readWith = (
  { context, controls }: Look,
  on: Assignment,
  patch: Patch,
): RouteReading | undefined => {
  const { facts } = context
  const wanted = stateWith(facts, on)
  // What a survey read stood in other settings: a price compares nothing but the option.
  return (facts.toured ?? []).findLast(
    (r) =>
      r.patch.key === patch.key &&
      controls.every(({ control: { key } }) => r.state[key] === wanted[key]) &&
      (!context.byRole.mode || r.state[context.byRole.mode.key] === facts.baseMode) &&
      r.purpose !== 'feed-check',
  )
}
export const unread = (look: Look, on: Assignment) => look.price.filter((p) => !readWith(look, on, p))
