import { type ControlValue, changesBetween, greyedOut, type State } from '#core/display'
import { colourError } from '#core/judge'
import { type Patch, type Probe, ProbePosition } from '#core/measure'
import { quoted, shown } from '#core/model'
import { signalKind } from '#core/signal'
import { targetOn } from '#core/target'
import { type Derived, defineStep, done, gameCases, open, type StepPlan, type TourStop } from '../contract'
import type { StepContext } from '../facts/context'
import type { RouteFacts, RouteReading } from '../facts/facts'
import type { LatencyFindings, LatencyOption, LatencyRow } from '../facts/findings-games'
import { LOOKS_AGAIN } from '../tuning'

import {
  type Assignment,
  type Candidate,
  candidatesOf,
  controlsOf,
  keyOf,
  type Look,
  lookOf,
  probeOf,
  readWith,
  savedBy,
  stateWith,
  typedRates,
  unread,
} from './latency-look'
import { latencyNotMeasured } from './say'

/** Options with what is looked at in each. */
interface LookIn {
  readonly on: Assignment
  readonly probes: readonly Probe[]
  readonly reads?: readonly Patch[]
}

const tourOf = ({ context: { facts } }: Look, title: string, stops: readonly LookIn[]): StepPlan => {
  let stands: State = facts.state
  const going = stops.map(({ on, probes, reads = [] }): TourStop => {
    const to = stateWith(facts, on)
    const changes = changesBetween(facts.sheet, stands, to, signalKind(facts.signal))
    stands = to
    return { changes, reads, probes }
  })
  return open({ kind: 'tour', title, stops: going, back: [] })
}

/** Everything off, then each option by itself, in the middle of the screen, at each rate: what of it was not looked at yet. */
const firstLooks = (look: Look, middle: ProbePosition): LookIn[] =>
  [{}, ...look.candidates.flatMap((c) => [c.against, c.assignment])]
    .filter((a, i, all) => all.findIndex((b) => keyOf(b) === keyOf(a)) === i)
    .flatMap((on: Assignment, i) => {
      const probes = look.links
        .filter((l) => !look.table.of(on, l.rate, middle))
        .map((l) => probeOf(l, middle))
      const reads = i === 0 && look.candidates.length ? unread(look, on) : []
      return probes.length ? [{ on, probes, reads }] : []
    })

/** Where chance may still have had its hand in it, more flashes tell. */
const looksAgain = ({ candidates, links, table, most }: Look, middle: ProbePosition): LookIn[] => {
  const again = new Map<string | null, { on: Assignment; probes: Probe[] }>()
  for (const { assignment, against } of candidates)
    for (const link of links) {
      const [base, own] = [table.of(against, link.rate, middle), table.of(assignment, link.rate, middle)]
      if (!base || !own || savedBy(base, own, most).tells) continue
      for (const on of [against, assignment]) {
        const stop = again.get(keyOf(on)) ?? { on, probes: [] }
        if (!stop.probes.some((p) => p.rate === link.rate))
          stop.probes.push(...Array.from({ length: LOOKS_AGAIN }, () => probeOf(link, middle)))
        again.set(keyOf(on), stop)
      }
    }
  return [...again.values()]
}

/** Rates that anything is known of: what was typed stands beside what the probe read. */
const ratesKnown = ({ links, context: { facts } }: Look): number[] =>
  [...new Set([...links.map((l) => Math.round(l.rate)), ...typedRates(facts)])]
    .sort((a, b) => a - b)
    .map((rate) => links.find((l) => Math.round(l.rate) === rate)?.rate ?? rate)

/** What each option saves at each rate. */
const optionsOf = ({ candidates, table, middle, most }: Look, rates: readonly number[]): LatencyOption[] =>
  candidates.map((c) => {
    const told = rates.flatMap((rate) => {
      const [base, own] = [
        table.of(c.against, rate, middle ?? 'middle'),
        table.of(c.assignment, rate, middle ?? 'middle'),
      ]
      return base && own ? [{ rate, ...savedBy(base, own, most) }] : []
    })
    return {
      key: keyOf(c.assignment)!,
      control: c.control.key,
      value: c.value,
      label: `${quoted(c.control)} ${shown(c.control, c.value)}`,
      rates: told.map(({ rate, saves, helps }) => ({ rate, saves, helps })),
    }
  })

/** Every delay that is known: of each option, and of what is left on, by rate and place. */
const rowsOf = (
  { candidates, table, context: { facts } }: Look,
  options: readonly LatencyOption[],
  chosen: Assignment,
  rates: readonly number[],
): LatencyRow[] =>
  [
    { on: {} as Assignment, label: null },
    ...candidates.map((c, i) => ({
      on: c.assignment,
      // With what has to be on for it.
      label: Object.keys(c.against).length ? sayOn(facts, c.assignment) : options[i]!.label,
    })),
    { on: chosen, label: sayOn(facts, chosen) },
  ]
    .filter((o, i, all) => all.findIndex((p) => keyOf(p.on) === keyOf(o.on)) === i)
    .flatMap(({ on, label }) =>
      rates.flatMap((rate) =>
        ProbePosition.options.flatMap((position): LatencyRow[] => {
          const figures = table.of(on, rate, position)
          return figures
            ? [{ option: keyOf(on), label, chosen: keyOf(on) === keyOf(chosen), rate, position, ...figures }]
            : []
        }),
      ),
    )

/** Goes on to what is left on: over the screen, then for good. Undefined where it stands and was looked at. */
const setChosen = (look: Look, chosen: Assignment): StepPlan | undefined => {
  const { context, links, positions, table, measures } = look
  const { facts } = context
  const reads = keyOf(chosen) === null || !measures ? [] : unread(look, chosen)
  if (measures) {
    const unseen = links.flatMap((l) =>
      positions.filter((p) => !table.of(chosen, l.rate, p)).map((p) => probeOf(l, p)),
    )
    if (unseen.length) return tourOf(look, 'Latency over the screen', [{ on: chosen, probes: unseen, reads }])
  }
  const changes = changesBetween(facts.sheet, facts.state, stateWith(facts, chosen), signalKind(facts.signal))
  if (changes.length === 0 && reads.length === 0) return undefined
  const { pending } = context.watching
  if (pending.length) return open({ kind: 'prepare', reset: false, switchesOff: true, changes: pending })
  return open({
    kind: 'adjust',
    adjustment: {
      changes,
      reads,
      purpose: measures
        ? 'Sets what shortens the delay, and shows what the picture pays for it.'
        : 'Turns low latency on, as games are played.',
      predictions: [],
    },
  })
}

/** The latency step of games: what each option does at each rate, what is left on, and what the picture pays for it. */
const planLatency = (context: StepContext): StepPlan => {
  const { facts } = context
  const { candidates, limits } = candidatesOf(facts)
  const look = lookOf(context, candidates)
  const { links, middle, measures, price } = look
  const answered = facts.accepted.find((a) => a.startsWith('flashes='))
  if (facts.bench.probe && facts.bench.eye && !answered && middle && links.length)
    return open({ kind: 'choose-flashes' })
  if (measures && middle) {
    const first = firstLooks(look, middle)
    const { pending } = context.watching
    if (first.length && pending.length)
      return open({ kind: 'prepare', reset: false, switchesOff: true, changes: pending })
    if (first.length) return tourOf(look, 'Latency by rate and option', first)
    const again = looksAgain(look, middle)
    if (again.length) return tourOf(look, 'Latency once more, where it is not sure', again)
  }
  const rates = ratesKnown(look)
  const options = optionsOf(look, rates)
  // What nobody looked at stands as the sheet says; what was looked at, as it helps.
  const looked = new Set(options.flatMap((o) => (o.rates.length ? [o.control] : [])))
  const chosen = {
    ...(measures ? {} : bySheet(candidates.filter((c) => !looked.has(c.control.key)))),
    ...bestOf(candidates, options),
  }
  const going = setChosen(look, chosen)
  if (going) return going
  const rows = rowsOf(look, options, chosen, rates)
  const findings: LatencyFindings = {
    rows,
    options,
    chosen: keyOf(chosen),
    ...(keyOf(chosen) === null
      ? {}
      : { price: priceOf(context, price, {}, chosen, (on, patch) => readWith(look, on, patch)) }),
  }
  return done(noteOf(findings), {
    findings: { latency: findings },
    derived: derivedOf(look, options, chosen, looked),
    limits: [
      ...limits,
      ...(rows.length
        ? []
        : [latencyNotMeasured({ probe: facts.bench.probe !== undefined && facts.bench.probe !== null })]),
    ],
  })
}

const derivedOf = (
  { controls, measures, context: { facts } }: Look,
  options: readonly LatencyOption[],
  chosen: Assignment,
  looked: ReadonlySet<string>,
): Derived[] =>
  controls.flatMap(({ control, off }) => {
    const value = chosen[control.key] ?? off
    const own = options.filter((o) => o.control === control.key)
    if (facts.state[control.key] === undefined || own.length === 0) return []
    const rule = ruleOf(own, value, measures || looked.has(control.key))
    return [{ control: control.key, value, rule, readingIds: [] }]
  })

/** Of each control the value that saves most over the rates at which it helps; off where it helps nowhere. */
const bestOf = (candidates: readonly Candidate[], options: readonly LatencyOption[]): Assignment => {
  const gain = (o: LatencyOption) => o.rates.reduce((s, r) => s + (r.helps ? r.saves : 0), 0)
  const best = new Map<string, number>()
  options.forEach((o, i) => {
    const known = best.get(o.control)
    if (gain(o) > 0 && (known === undefined || gain(o) > gain(options[known]!))) best.set(o.control, i)
  })
  return Object.assign({}, ...[...best.values()].map((i) => candidates[i]!.assignment)) as Assignment
}

/** Where nothing was measured: of each control its first value that is not off. */
const bySheet = (candidates: readonly Candidate[]): Assignment => {
  const out: Record<string, ControlValue> = {}
  for (const { control, value, assignment } of candidates)
    if (control.neutral !== undefined && out[control.key] === undefined)
      Object.assign(out, assignment, { [control.key]: value })
  return out
}

const sayOn = (facts: RouteFacts, on: Assignment): string | null =>
  controlsOf(facts)
    .filter(({ control }) => on[control.key] !== undefined)
    .map(({ control }) => `${quoted(control)} ${shown(control, on[control.key])}`)
    .join(' with ') || null

const sayRates = (rates: readonly number[]) =>
  `${rates.map((r) => Math.round(r)).join(rates.length === 2 ? ' and ' : ', ')} Hz`

/** Why a latency control stands where it does. */
const ruleOf = (own: readonly LatencyOption[], value: ControlValue, measured: boolean): string => {
  const taken = own.find((o) => o.value === value)
  if (!measured) return taken ? 'on: it shortens the delay' : 'off: the sheet does not say that it helps'
  if (!taken) return 'off: measured, it helps at no rate'
  const helps = taken.rates.filter((r) => r.helps)
  if (helps.length === 0) return 'on: what shortens the delay cannot be set without it'
  const most = helps.reduce((a, b) => (b.saves > a.saves ? b : a))
  return `saves ${most.saves.toFixed(0)} ms at ${Math.round(most.rate)} Hz${helps.length < taken.rates.length ? `, helps at ${sayRates(helps.map((r) => r.rate))} only` : ''}`
}

const noteOf = ({ rows }: LatencyFindings): string => {
  if (rows.length === 0) return 'not measured'
  const own = rows.filter((r) => r.chosen && r.position === 'middle')
  const shortest = own.length ? own.reduce((a, b) => (b.mean < a.mean ? b : a)) : undefined
  return shortest ? `${shortest.mean.toFixed(0)} ms at ${Math.round(shortest.rate)} Hz` : ''
}

/** What the picture pays for an option: how far it moves, in ΔE00 and as a share of light, and what is greyed out by it. */
const priceOf = (
  context: StepContext,
  patches: readonly Patch[],
  off: Assignment,
  on: Assignment,
  readIn: (on: Assignment, patch: Patch) => RouteReading | undefined,
): LatencyFindings['price'] => {
  const { facts } = context
  const [before, after] = [stateWith(facts, off), stateWith(facts, on)]
  const kind = signalKind(facts.signal)
  const locked = facts.sheet.controls
    .filter((c) => !greyedOut(facts.sheet, c, before, kind) && greyedOut(facts.sheet, c, after, kind))
    .map((c) => c.label)
  const pairs = patches.flatMap((p) => {
    const [a, b] = [readIn(off, p), readIn(on, p)]
    return a && b ? [{ patch: p, a, b }] : []
  })
  const white = pairs.find((p) => p.patch === patches[0])
  if (!white) return { locked }
  const target = targetOn(facts.targets, { white: white.a.xyz[1], black: 0 })
  const moved = pairs.map(({ a, b }) => colourError(b.xyz, a.xyz, target).deltaE)
  return {
    locked,
    moves: moved.reduce((s, d) => s + d, 0) / moved.length,
    light: white.b.xyz[1] / white.a.xyz[1] - 1,
    readingIds: pairs.flatMap(({ a, b }) => [a.id, b.id]),
  }
}

export const latency = defineStep({
  key: 'latency',
  title: 'Latency',
  restsOn: ['picture-mode'],
  cases: gameCases,
  // It sees to automatic processing by itself, since the survey has left the display in another mode.
  finds: ['latency'],
  measures: false,
  plan: planLatency,
})
