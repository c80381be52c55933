import { type Change, type Control, controlByRole, inSettableOrder } from '#core/display'
import type { Purpose } from '#core/measure'
import { type ColoursMoved, type ControlFault, controlFaults, type Evidence } from '#core/model'
import { scaleOf } from '#core/scale'
import { signalKind } from '#core/signal'
import {
  atRestOf,
  type CaseVerdict,
  changesBefore,
  contextOf,
  type Derived,
  type Findings,
  type GamutOption,
  gatherSweep,
  isMovable,
  judgeCase,
  judgeVerification,
  keyOf,
  knownHdr,
  type LevelError,
  type Limit,
  type More,
  measuringStateOf,
  type Next,
  newestGreys,
  type RouteContext,
  type RouteFacts,
  type RouteReading,
  type Step,
  type StepContext,
  type StepKey,
  type StepPlan,
  type SweepReadings,
  stepsOf,
  type ToneOption,
  type WorseFigure,
} from '#core/steps'
import type { AtStep, RouteStep } from './at-step'
import { controlTrial } from './control-trial'
import { type KnownFaults, newFaults } from './known-faults'
import { type Preference, preferencesWithCost } from './preferences'
import { MOST_FAULTS } from './tuning'
import { unexpectedReading } from './unexpected-reading'
import { stepOf } from './where-steps-are'

/** What is planned for a case: where each step stands, what was found, and the one next thing to do. */
export interface Route extends Findings {
  readonly steps: readonly RouteStep[]
  readonly next: Next
  /** The step that it is of. */
  readonly at: StepKey
  readonly context: RouteContext
  readonly outOfBox?: SweepReadings
  readonly before?: CaseVerdict
  readonly worse: readonly WorseFigure[]
  /** What the policy prefers to the reference, and what that costs. */
  readonly preferences: readonly Preference[]
  readonly tones: readonly ToneOption[]
  readonly gamuts: readonly GamutOption[]
  readonly levelErrors: readonly LevelError[]
  readonly derived: ReadonlyArray<AtStep<Derived>>
  readonly limits: ReadonlyArray<AtStep<Limit>>
  readonly controlFaults: readonly ControlFault[]
  /** What going on at a step that is done would gain, and what it would cost in readings. */
  readonly more: ReadonlyArray<AtStep<More>>
}

/** Whether gains, cuts or level-by-level values stand elsewhere than out of the box. */
const whiteBegunIn = ({ byRole, outOfBox, facts }: RouteContext): boolean =>
  outOfBox !== undefined &&
  [
    ...Object.values(byRole.gain),
    ...Object.values(byRole.cut),
    ...byRole.levelWhite.map((l) => l.control),
  ].some((c) => facts.state[c.key] !== outOfBox.state[c.key])

/**
 * Plans the route from what is known: where each step stands and the one next thing to do.
 * In: facts. Out: route. The same facts give the same route; nothing is remembered but in the memo that they bring with them.
 */
export const planRoute = (given: RouteFacts): Route => {
  const real = withValuesAtRest(withToursApart(withPriorsOfSignal(given)))
  let found: KnownFaults = { refused: {}, rangeLimits: new Map(), byLevel: new Map() }
  let route = planOnce(real, found)
  // A fault of a control is reckoned with, which may bring another one to light.
  for (let round = 0; round < MOST_FAULTS; round++) {
    const more = newFaults(route, found)
    if (more === undefined) break
    found = more
    const first = route
    route = planOnce({ ...real, refused: { ...real.refused, ...found.refused } }, found)
    const kept = first.controlFaults.filter(
      (o) => found.refused[o.control] !== undefined || found.rangeLimits.has(o.control),
    )
    const sentences = new Set(kept.map((o) => o.sentence))
    route = {
      ...route,
      controlFaults: [
        ...kept,
        ...route.controlFaults.filter(
          (o) =>
            !sentences.has(o.sentence) && (o.kind !== 'dropped' || real.refused[o.control] !== undefined),
        ),
      ],
    }
  }
  return withTrial(real, route)
}

/** What controls do is the same in HDR; what stands in for a measurement was measured under another signal. */
const withPriorsOfSignal = (facts: RouteFacts): RouteFacts =>
  scaleOf(facts.signal).choicesTravel || facts.priors.length === 0
    ? facts
    : {
        ...facts,
        priors: facts.memo.about('priors in HDR', facts.priors, () =>
          facts.priors.filter((p) => p.kind === 'effect' || p.kind === 'colour'),
        ),
      }

/** Where controls without a neutral value stand while it is measured, whatever is on trial. */
const withValuesAtRest = (facts: RouteFacts): RouteFacts => {
  const atRest = atRestOf(facts)
  return atRest ? { ...facts, atRest } : facts
}

/** What was read on a tour stands in settings that the case is not left in: nothing but the step that asked for it looks at it. */
const withToursApart = (facts: RouteFacts): RouteFacts => {
  const isTour = (r: RouteReading) => r.purpose === 'tour'
  if (!facts.readings.some(isTour)) return facts
  return {
    ...facts,
    readings: facts.readings.filter((r) => !isTour(r)),
    toured: facts.readings.filter(isTour),
  }
}

/** Controls that have to be tried, or put back, come before the next move. */
const withTrial = (real: RouteFacts, route: Route): Route => {
  if (route.next.kind !== 'adjust' && !(route.next.kind === 'sweep' && route.next.purpose === 'verify'))
    return route
  // What stands for watching by now is no state to try controls in: what is read there tells nothing of the others.
  if (route.context.pending.length || changesBefore(real, real.state, real.baseMode).length) return route
  // What is known to be dead may still be put back.
  const facts = { ...route.context.facts, refused: real.refused }
  const context = { ...route.context, facts, movable: (c: Control | undefined) => isMovable(facts, c) }
  const trial = controlTrial(context, route.controlFaults)
  if (!trial) return route
  return {
    ...route,
    next: { kind: 'adjust', adjustment: trial.adjustment },
    at: trial.key,
    steps: route.steps.map((s) =>
      s.key === trial.key
        ? { ...s, status: 'now' as const }
        : s.status === 'now'
          ? { ...s, status: 'todo' as const }
          : s,
    ),
  }
}

/** Steps of a case, folded: each is planned from the facts and from what those before it found, up to the first that is open. */
interface Folded {
  readonly plans: ReadonlyMap<StepKey, StepPlan>
  readonly limits: ReadonlyArray<AtStep<Limit>>
  readonly found: Findings
  /** The first step that has something to do. */
  readonly open?: { readonly step: Step<StepKey>; readonly next: Next }
}

const fold = (steps: ReadonlyArray<Step<StepKey>>, context: Omit<StepContext, 'found'>): Folded => {
  const plans = new Map<StepKey, StepPlan>()
  const limits: Array<AtStep<Limit>> = []
  let found: Findings = {}
  for (const step of steps) {
    const plan = step.plan({ ...context, found })
    if (!plan) continue
    const before = plans.get(step.key)
    plans.set(step.key, { ...plan, derived: mergedDerived(before?.derived ?? [], plan.derived) })
    limits.push(...plan.limits.map((l) => ({ ...l, step: step.key })))
    found = { ...found, ...foundBy(step, plan) }
    if (plan.status === 'open' && plan.next && !context.facts.skipped[step.key])
      return { plans, limits, found, open: { step, next: plan.next } }
    // Everything after it compares with how the mode was out of the box.
    if (step.key === 'out-of-box' && context.outOfBox === undefined) break
  }
  return { plans, limits, found }
}

/** What a step found of what it says that it finds. */
const foundBy = ({ finds }: Step, { findings = {} }: StepPlan): Findings =>
  Object.fromEntries(finds.flatMap((key) => (findings[key] === undefined ? [] : [[key, findings[key]]])))

/** Values of a step that was looked at twice: what was derived later counts, and rests on both where the value stayed. */
const mergedDerived = (first: readonly Derived[], second: readonly Derived[]): Derived[] => [
  ...first.filter((d) => !second.some((e) => e.control === d.control)),
  ...second.map((d) => {
    const before = first.find((e) => e.control === d.control && e.value === d.value)
    return {
      ...(before ?? d),
      readingIds: [...new Set([...(before?.readingIds ?? []), ...d.readingIds])],
    }
  }),
]

/** Steps that read the display as it is watched. */
const WATCHED: ReadonlySet<StepKey> = new Set(['verify', 'eotf'])

const planOnce = (real: RouteFacts, { rangeLimits, byLevel }: KnownFaults): Route => {
  // What was found while it was measured is held against the settings for measuring, also while those for watching are on.
  const facts = { ...real, state: measuringStateOf(real, real.state) }
  const context = contextOf(facts, byLevel, rangeLimits)
  const watching = { ...context, facts: real, pending: changesBefore(real, real.state, real.baseMode) }
  const steps = stepsOf(facts)
  const { plans, limits, found, open } = fold(steps, {
    ...context,
    watching,
    whiteBegun: whiteBegunIn(context),
    verified: verifiedHere(watching),
  })
  // An earlier verification stays known while something upstream is looked at again.
  const findings = {
    ...found,
    ...(found.verify ? {} : verifiedBefore(watching)),
    ...(found.hdr ? {} : defined(knownHdr(watching))),
  }
  const { key: now, next } = nextOf(context, watching, open)
  const own = new Set(steps.map((s) => s.key))
  return {
    ...findings,
    steps: [...own].map((key) => stepOf(WATCHED.has(key) ? watching : context, key, plans, now)),
    next,
    at: now,
    context,
    worse: findings.worse ?? [],
    tones: findings.tones ?? [],
    gamuts: findings.gamuts ?? [],
    levelErrors: findings.levelErrors ?? [],
    outOfBox: context.outOfBox,
    before: context.outOfBox && judgeCase(context, context.outOfBox),
    derived: [...plans].flatMap(([step, p]) => p.derived.map((d) => ({ ...d, step }))),
    more: [...plans].flatMap(([step, p]) => (p.status === 'done' && p.more ? [{ step, ...p.more }] : [])),
    limits: limits.filter((l, i) => limits.findIndex((m) => m.sentence === l.sentence) === i),
    controlFaults: [
      ...(context.begun && facts.adjustments.length
        ? controlFaults(context.byRole, {
            light: context.light?.curve,
            grey: evidenceOf(context),
            known: byLevel,
            colours: coloursMoved(context, findings.colour),
          })
        : []),
      ...refusals(facts),
    ],
    preferences: preferencesWithCost(context, findings.verify),
  }
}

/** The one next thing: that of the open step, unless a reading or the display itself has to be looked at first. */
const nextOf = (
  context: RouteContext,
  watching: RouteContext,
  open: Folded['open'],
): { key: StepKey; next: Next } => {
  const { moved, prepared } = context.facts
  if (moved && prepared) return { key: 'prepare', next: { kind: 'restore', moved } }
  const strayed = prepared ? leftByTour(watching.facts) : []
  if (strayed.length)
    return { key: 'prepare', next: { kind: 'prepare', reset: false, switchesOff: true, changes: strayed } }
  const unseen = unseenHere(context, watching)
  if (unseen.length) return { key: 'prepare', next: { kind: 'confirm-values', controls: unseen } }
  if (!open) return { key: 'guide', next: { kind: 'compose' } }
  const { step, next } = open
  // Whatever is read next for measuring is read with automatic processing off; out of the box sees to it by itself.
  // Before a mode is chosen nothing stays switched off: each run sees to it, and puts it back.
  const chosen = !context.byRole.mode || context.facts.baseMode !== null
  const on =
    step.measures && context.facts.prepared && chosen && step.key !== 'out-of-box'
      ? watching.pending.filter((c) => c.control !== context.byRole.mode?.key)
      : []
  if (on.length)
    return { key: 'prepare', next: { kind: 'prepare', reset: false, switchesOff: true, changes: on } }
  const unexpected = next.kind === 'adjust' || next.kind === 'sweep' ? unexpectedReading(context) : undefined
  return { key: step.key, next: unexpected ? { kind: 'unexpected-reading', unexpected } : next }
}

/** Values that nobody has seen in the mode that the case is in; none before it is chosen and set. */
const unseenHere = ({ facts, byRole }: RouteContext, watching: RouteContext): readonly string[] => {
  const { assumed = [], prepared, baseMode } = facts
  const isInMode = !byRole.mode || watching.facts.state[byRole.mode.key] === baseMode
  return prepared && isInMode ? assumed : []
}

/** Readings in the settings that a case is being brought to. */
const OF_THE_CASE: readonly Purpose[] = ['out-of-box', 'adjust', 'check', 'verify']

/**
 * What a tour that was cancelled half way left elsewhere: controls that it went round and that stand elsewhere than where the case read last. What
 * shortens latency is chosen by its own step; what was set by hand since is meant so.
 */
const leftByTour = ({
  toured = [],
  readings,
  state,
  sheet,
  signal,
  adjustments,
  baseMode,
}: RouteFacts): Change[] => {
  const mode = controlByRole(sheet, 'picture-mode')
  const last = toured.at(-1)
  // What a survey read stood in other modes, and as they come.
  const of = readings.findLast(
    (r) => OF_THE_CASE.includes(r.purpose) && (!mode || r.state[mode.key] === baseMode),
  )
  if (!last || !of || last.id < of.id) return []
  const tour = toured.filter((r) => r.runId === last.runId)
  const left = sheet.controls.flatMap(({ key, role }): Change[] => {
    const [from, to] = [state[key], of.state[key]]
    const gone = tour.some((r) => r.state[key] !== to)
    const since = adjustments.some((m) => m.runId > last.runId && m.changes.some((c) => c.control === key))
    return role === 'latency' || from === undefined || to === undefined || from === to || !gone || since
      ? []
      : [{ control: key, from, to }]
  })
  return inSettableOrder(sheet, state, left, signalKind(signal))
}

/** What is known of colour management where it was moved. */
const coloursMoved = (context: RouteContext, found: Findings['colour']): ColoursMoved | undefined => {
  const { facts } = context
  const { model, target } = found ?? {}
  return (
    model &&
    target && {
      model,
      target,
      moved: new Set(facts.adjustments.flatMap((m) => m.changes.map((c) => c.control))),
      most: (control) =>
        Math.max(
          ...facts.readings.map((r) =>
            Math.abs(Number(r.state[control.key]) - Number(control.neutral ?? control.default)),
          ),
        ),
    }
  )
}

/** What verdicts on the controls of greys rest on. */
const evidenceOf = (context: RouteContext): Evidence | undefined => {
  const model = context.grey()
  const { facts } = context
  return model && { model, observations: newestGreys(facts, model.reference), precision: facts.precision }
}

/** Controls that the display refused or dropped. */
const refusals = ({ refused, sheet }: RouteFacts): ControlFault[] =>
  Object.entries(refused).flatMap(([control, sentence]) =>
    sheet.controls.some((c) => c.key === control) ? [{ control, kind: 'dropped' as const, sentence }] : [],
  )

/** The newest verification and how it was judged, whatever changed since. */
const verifiedBefore = (context: RouteContext): Pick<Findings, 'verify' | 'after'> => {
  const verify = gatherSweep(context.facts, ['verify'], context.wholeCase)
  if (verify?.missing.length !== 0) return {}
  return { verify, after: judgeVerification(context, verify) }
}

const defined = <T extends object>(value: T): Partial<T> =>
  Object.fromEntries(Object.entries(value).filter(([, v]) => v !== undefined)) as Partial<T>

/** Whether the newest verification was read in the state of now. */
const verifiedHere = ({ facts, wholeCase }: RouteContext): boolean => {
  const newest = facts.readings.findLast((r) => r.purpose === 'verify')
  if (!newest || keyOf(facts, newest.state) !== keyOf(facts, facts.state)) return false
  const own = gatherSweep(facts, ['verify'], wholeCase, facts.state)
  return own?.missing.length === 0
}
