import { controlOf, type Role, type State, stateKey } from '#core/display'
import { sayTone } from '#core/target'
import { type ColourFindings, colourStep, gamutPart } from './colour'
import { contextOf, type RouteContext } from './context'
import { type ControlFault, controlFaults, refusalFaults } from './control-faults'
import { differsIn, gatherSweep, type RouteFacts, type SweepReadings } from './facts'
import type { FaultKind } from './grey'
import { type LevelError, levelWhiteStep } from './level-white'
import { type LevelsFindings, levelsStep } from './levels'
import { type Derived, done, type Limit, type More, type Next, type StepPlan } from './plan'
import { type Preference, preferencesWithCost } from './preferences'
import { measuringState, prepareChanges, unknownNeutral } from './prepare'
import { type ProcessingFindings, processingStep } from './processing'
import { signalStep } from './signal'
import { RESTS_ON, type RouteStep, STEP_KEYS, type StepKey } from './step-keys'
import { surveyStep } from './survey'
import { type ToneOption, toneStep } from './tone'
import { unexpectedReading } from './unexpected-reading'
import { type CaseVerdict, judgeCase, verifyStep, type WorseFigure } from './verify'
import { type WhiteFindings, whiteStep } from './white'

export interface Route {
  readonly steps: readonly RouteStep[]
  readonly next: Next
  readonly context: RouteContext
  readonly factory?: SweepReadings
  readonly verify?: SweepReadings
  readonly before?: CaseVerdict
  readonly after?: CaseVerdict
  readonly worse: readonly WorseFigure[]
  /** What the policy prefers to the reference, and what that costs. */
  readonly preferences: readonly Preference[]
  readonly levels?: LevelsFindings
  readonly tones: readonly ToneOption[]
  readonly white?: WhiteFindings
  readonly levelErrors: readonly LevelError[]
  readonly colour?: ColourFindings
  readonly processing?: ProcessingFindings
  readonly derived: readonly Derived[]
  readonly limits: readonly Limit[]
  readonly odd: readonly ControlFault[]
  /** What going on at a step that is done would gain, and what it would cost in readings. */
  readonly more: ReadonlyArray<More & { readonly step: StepKey }>
}

/** Whether gains, cuts or level-by-level values stand elsewhere than in the factory sweep. */
const whiteBegunIn = (context: RouteContext): boolean => {
  const { byRole, factory, facts } = context
  if (!factory) return false
  const controls = [
    ...Object.values(byRole.gain),
    ...Object.values(byRole.cut),
    ...byRole.levelWhite.map((l) => l.control),
  ]
  return controls.some((c) => facts.state[c.key] !== factory.state[c.key])
}

const TWO_POINT: readonly Role[] = ['gain', 'cut']

/** Whether white was moved after both ends were looked at, or they were taken from an earlier case. */
const endsLookedAtBefore = (context: RouteContext): boolean => {
  const { facts } = context
  const near = facts.readings.findLast((r) => r.patch.key === 'grey-98' || r.patch.key === 'grey-2')
  return near === undefined || differsIn(facts.sheet, TWO_POINT, near.state, facts.state).length > 0
}

/**
 * Plans the route from what is known: where each step stands and the one next thing to do.
 * In: facts. Out: route. The same facts give the same route; nothing is remembered elsewhere.
 */
export const planRoute = (real: RouteFacts): Route => {
  let found: KnownFaults = { refused: {}, ends: new Map(), known: new Map() }
  let route = planOnce(real, found)
  // An odd control is reckoned with, which may bring another one to light.
  for (let round = 0; round < MOST_FAULTS; round++) {
    const more = newFaults(route, found)
    if (more === undefined) break
    found = more
    const first = route
    route = planOnce({ ...real, refused: { ...real.refused, ...found.refused } }, found)
    const kept = first.odd.filter((o) => found.refused[o.control] !== undefined || found.ends.has(o.control))
    const sentences = new Set(kept.map((o) => o.sentence))
    route = {
      ...route,
      odd: [
        ...kept,
        ...route.odd.filter(
          (o) =>
            !sentences.has(o.sentence) && (o.kind !== 'dropped' || real.refused[o.control] !== undefined),
        ),
      ],
    }
  }
  return route
}

/** Odd controls that are looked for one after the other. */
const MOST_FAULTS = 3

/** What is odd about controls and reckoned with: dead ones are left alone, others go up to an end or work the other way round. */
interface KnownFaults {
  readonly refused: Readonly<Record<string, string>>
  readonly ends: ReadonlyMap<string, number>
  readonly known: ReadonlyMap<string, FaultKind>
}

/** What a plan found that was not reckoned with yet; undefined where there is nothing new. */
const newFaults = ({ odd, context }: Route, found: KnownFaults): KnownFaults | undefined => {
  const fresh = odd.filter((o) => {
    if (o.kind === 'nothing') return context.facts.refused[o.control] === undefined
    if (o.kind === 'backwards') return o.byLevel === true && !found.known.has(o.control)
    return o.at !== undefined && found.ends.get(o.control) !== o.at
  })
  if (fresh.length === 0) return undefined
  const of = (kind: string) => fresh.filter((o) => o.kind === kind)
  return {
    refused: { ...found.refused, ...Object.fromEntries(of('nothing').map((o) => [o.control, o.sentence])) },
    ends: new Map([
      ...found.ends,
      ...fresh.flatMap((o) => (o.at === undefined ? [] : [[o.control, o.at] as const])),
    ]),
    known: new Map([
      ...found.known,
      ...of('nothing').flatMap((o) => (o.byLevel ? [[o.control, 'dead'] as const] : [])),
      ...of('backwards').map((o) => [o.control, 'turned'] as const),
    ]),
  }
}

const planOnce = (real: RouteFacts, { ends, known }: KnownFaults): Route => {
  // What was found while it was measured is held against the settings for measuring, also while those for watching are on.
  const facts = { ...real, state: measuringState(real.sheet, real.state) }
  const context = { ...contextOf(facts, known), ends }
  const watching = { ...context, facts: real, pending: prepareChanges(real.sheet, real.state, real.baseMode) }
  const plans = new Map<StepKey, StepPlan>()
  const limits: Limit[] = []
  const later: { -readonly [K in keyof Omit<Route, 'steps' | 'next' | 'context' | 'more'>]?: Route[K] } = {}
  let found: { key: StepKey; next: Next } | undefined
  /** Takes down how a step stands. Out: whether the route may go on to the next. */
  const at = (key: StepKey, plan: StepPlan): boolean => {
    const known = plans.get(key)
    plans.set(key, known ? { ...plan, derived: [...known.derived, ...plan.derived] } : plan)
    limits.push(...plan.limits)
    if (facts.left[key]) return true
    if (plan.status === 'open' && plan.next) {
      found ??= { key, next: plan.next }
      return false
    }
    return true
  }
  walk()
  // An earlier verification stays known while something upstream is looked at again.
  if (!later.verify) Object.assign(later, verifiedBefore(watching))
  const unexpected =
    found?.next.kind === 'adjust' || found?.next.kind === 'sweep' ? unexpectedReading(context) : undefined
  if (unexpected && found) found = { key: found.key, next: { kind: 'unexpected-reading', unexpected } }
  // Whatever is read next for measuring is read with all at rest that moves by itself.
  if (found && MEASURING.has(found.key) && facts.prepared && found.key !== 'out-of-box') {
    const awake = watching.pending.filter((c) => c.control !== context.byRole.mode?.key)
    if (awake.length) found = { key: 'prepare', next: { kind: 'prepare', reset: false, changes: awake } }
  }
  const next: Next = found?.next ?? { kind: 'compose' }
  const now: StepKey = found?.key ?? 'guide'
  return {
    steps: STEP_KEYS.map((key) => stepOf(key === 'verify' ? watching : context, key, plans, now)),
    next,
    context,
    worse: [],
    tones: [],
    levelErrors: [],
    ...later,
    factory: context.factory,
    before: context.factory && judgeCase(context, context.factory),
    derived: [...plans.values()].flatMap((p) => p.derived),
    more: [...plans].flatMap(([step, p]) => (p.status === 'done' && p.more ? [{ step, ...p.more }] : [])),
    limits: limits.filter((l, i) => limits.findIndex((m) => m.sentence === l.sentence) === i),
    odd: [
      ...(context.begun && facts.adjustments.length
        ? controlFaults(context, {
            grey: context.grey(),
            known,
            colour: later.colour,
          })
        : []),
      ...refusalFaults(context),
    ],
    preferences: preferencesWithCost(context, later.verify),
  }

  function walk(): void {
    if (!at('prepare', prepareStep(context, watching.pending))) return
    // Asked before the first sweep of a case; later only where it was asked again.
    const newest = (purpose: 'feed-check' | 'survey' | 'out-of-box') =>
      facts.readings.findLast((r) => r.purpose === purpose)?.id ?? 0
    const feed = newest('feed-check')
    const begunHere = newest('out-of-box') > 0 || facts.adjustments.length > 0
    if (feed > Math.max(newest('survey'), newest('out-of-box')) || (feed === 0 && !begunHere)) {
      if (!at('signal', signalStep(context))) return
    } else at('signal', done(feed > 0 ? 'feed checked' : ''))
    if (!at('survey', surveyStep(context))) return
    if (!at('out-of-box', factoryStep(context))) return
    if (context.factory === undefined) return
    const begun = whiteBegunIn(context)
    const verified =
      facts.readings.findLast((r) => r.purpose === 'verify') !== undefined && verifiedHere(watching)
    const levels = levelsStep(context, { whiteBegun: begun, verified, part: 'luminance' })
    later.levels = levels.findings
    if (!at('levels', levels.plan)) return
    const gamut = facts.left.colour ? undefined : gamutPart(context)
    if (gamut?.plan.next && !at('colour', gamut.plan)) return
    const tone = toneStep(context)
    later.tones = tone.options
    if (!at('tone', tone.plan)) return
    // Both ends are looked at in the curve that was chosen.
    const ends = levelsStep(context, { whiteBegun: begun, verified, part: 'ends' })
    later.levels = ends.findings
    if (!at('levels', ends.plan)) return
    const levelFollows =
      !facts.left['level-white'] &&
      facts.policy.levelWhite !== 'two-point' &&
      context.byRole.levelWhite.some((l) => context.movable(l.control))
    const white = whiteStep(context, { verified, levelFollows })
    later.white = white.findings
    if (!at('white', white.plan)) return
    const byLevel = levelWhiteStep(context, verified)
    later.levelErrors = byLevel.levels
    if (!at('level-white', byLevel.plan)) return
    if (begun && endsLookedAtBefore(context)) {
      const again = levelsStep(context, { whiteBegun: true, verified, part: 'again' })
      later.levels = { ...ends.findings, ...defined(again.findings) }
      if (!at('levels', again.plan)) return
    }
    const colour = colourStep(context, verified)
    later.colour = colour.findings
    if (!at('colour', colour.plan)) return
    const processing = processingStep(watching)
    later.processing = processing.findings
    if (!at('processing', processing.plan)) return
    const verify = verifyStep(watching, processing.findings.watch, white.findings?.noise ?? 0.1)
    later.verify = verify.sweep
    later.after = verify.after
    later.worse = verify.worse
    at('verify', verify.plan)
  }
}

/** The newest verification and how it was judged, whatever changed since. */
const verifiedBefore = (context: RouteContext): Pick<Route, 'verify' | 'after'> => {
  const verify = gatherSweep(context.facts.readings, ['verify'], context.wholeCase)
  if (verify?.missing.length !== 0) return {}
  return {
    verify,
    after: judgeCase(context, verify),
  }
}

const defined = <T extends object>(value: T): Partial<T> =>
  Object.fromEntries(Object.entries(value).filter(([, v]) => v !== undefined)) as Partial<T>

/** Whether the newest verification was read in the state of now. */
const verifiedHere = ({ facts, wholeCase }: RouteContext): boolean => {
  const newest = facts.readings.findLast((r) => r.purpose === 'verify')
  if (!newest || stateKey(newest.state) !== stateKey(facts.state)) return false
  const own = new Set(
    facts.readings
      .filter((r) => r.purpose === 'verify' && stateKey(r.state) === stateKey(facts.state))
      .map((r) => r.patch.key),
  )
  return wholeCase.every((p) => own.has(p.key))
}

/** Steps that read with everything at rest that moves by itself. */
const MEASURING: ReadonlySet<StepKey> = new Set<StepKey>([
  'signal',
  'out-of-box',
  'levels',
  'tone',
  'white',
  'level-white',
  'colour',
])

/** What moves by itself is switched off before anything; in the base mode once it is chosen. */
const prepareStep = (context: RouteContext, pending: RouteContext['pending']): StepPlan => {
  const { facts, byRole, factory } = context
  const limits: Limit[] = unknownNeutral(facts.sheet).map((c) => ({
    step: 'prepare',
    sentence: `The sheet does not say where “${c.label}” does nothing: look that it does not move the picture.`,
  }))
  const open = (reset: boolean, changes: RouteContext['pending']): StepPlan => ({
    status: 'open',
    note: changes.map((c) => `“${controlOf(facts.sheet, c.control).label}”`).join(', '),
    next: { kind: 'prepare', reset, changes },
    derived: [],
    limits,
  })
  if (!facts.prepared) return open(facts.occupied.length === 0, pending)
  // Another picture mode than the one that was read: back to it, before anything is judged.
  const mode = pending.filter((c) => c.control === byRole.mode?.key)
  if (mode.length && factory?.missing.length === 0) return open(false, mode)
  return done('', { limits })
}

/** The base mode as it comes: what the survey read of it already is not read twice. */
const factoryStep = (context: RouteContext): StepPlan => {
  const { factory, wholeCase, pending } = context
  if (factory && factory.missing.length === 0) return done(`${factory.byPatch.size} readings`)
  const changes = factory ? differenceTo(context, factory.state) : pending
  return {
    status: 'open',
    note: '',
    next: {
      kind: 'sweep',
      purpose: 'out-of-box',
      changes,
      patches: factory ? factory.missing : wholeCase,
    },
    derived: [],
    limits: [],
  }
}

/** Changes that bring the display back to a state: the mode first, since it brings the rest with it. */
const differenceTo = (
  context: RouteContext,
  to: State,
): Array<{ control: string; from: string | number; to: string | number }> => {
  const { facts, byRole } = context
  const mode = byRole.mode
  if (mode && facts.state[mode.key] !== to[mode.key])
    return [{ control: mode.key, from: facts.state[mode.key]!, to: to[mode.key]! }]
  return facts.sheet.controls.flatMap((c) => {
    const [a, b] = [facts.state[c.key], to[c.key]]
    return a === undefined || b === undefined || a === b ? [] : [{ control: c.key, from: a, to: b }]
  })
}

/** How a step stands in words, with what made it stale where something did. */
const stepOf = (
  context: RouteContext,
  key: StepKey,
  plans: ReadonlyMap<StepKey, StepPlan>,
  now: StepKey,
): RouteStep => {
  const { facts } = context
  const plan = plans.get(key)
  const why = facts.left[key]
  if (why && plan?.status !== 'done') return { key, status: 'left', note: why }
  if (!plan) {
    // Not reached in this plan: what was done there before may rest on what has changed since.
    const stale = key === now ? '' : staleBy(context, key)
    return stale
      ? { key, status: 'stale', note: stale }
      : { key, status: key === now ? 'now' : 'todo', note: '' }
  }
  if (plan.status === 'impossible') return { key, status: 'impossible', note: plan.note }
  const stale = plan.status === 'open' ? staleBy(context, key) : ''
  if (stale) return { key, status: 'stale', note: stale }
  if (plan.status === 'open') return { key, status: key === now ? 'now' : 'todo', note: plan.note }
  return { key, status: 'done', note: plan.note }
}

/** What made a step stale: controls that it rests on and that were changed since it was read. */
const staleBy = (context: RouteContext, key: StepKey): string => {
  const { facts } = context
  const made = facts.adjustments.findLast((m) => m.step === key)
  const own =
    key === 'verify'
      ? facts.readings.findLast((r) => r.purpose === 'verify')
      : key === 'out-of-box'
        ? facts.readings.findLast((r) => r.purpose === 'out-of-box')
        : made && facts.readings.findLast((r) => r.runId === made.runId)
  if (!own) return ''
  const changed = differsIn(facts.sheet, RESTS_ON[key], own.state, facts.state)
  if (changed.length === 0) return ''
  const names = changed.slice(0, 2).map((k) => `“${controlOf(facts.sheet, k).label}”`)
  const more = changed.length > 2 ? ` and ${changed.length - 2} more` : ''
  return `${names.join(', ')}${more} changed since`
}

/** One line on what a case aims at: "100 cd/m², BT.1886, D65". */
export const sayTargets = ({ targets, policy }: Pick<RouteFacts, 'targets' | 'policy'>): string =>
  `${targets.luminance} cd/m², ${sayTone(targets.tone)}, ${policy.white.name}`
