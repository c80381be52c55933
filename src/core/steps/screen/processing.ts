import { type Change, type Control, type ControlValue, factoryValue, ROLES, rolesWhere } from '#core/display'
import { signalKind } from '#core/signal'
import {
  type Derived,
  defineStep,
  done,
  everyCase,
  gameCases,
  type Limit,
  open,
  type StepPlan,
} from '../contract'
import type { WatchValue } from '../facts/asked'
import type { RouteContext } from '../facts/context'
import type { RouteFacts } from '../facts/facts'
import type { DimmingOption, ProcessingFindings } from '../facts/findings'
import { watchedPart, watchedShare } from '../light/watched'
import { PROCESSING } from '../rests-on'
import type { Compared } from './compared'
import { dimmingPart } from './dimming'
import { dynamicPart } from './dynamic-contrast'
import { savingPart } from './saving'
import { checksSkipped, notSeen, seenWrong } from './say'
import { answerTo, visualChecks } from './visual-checks'

const NEUTRAL_FOR_WATCHING = rolesWhere((r) => r.watching === 'neutral')

/** The value of a switch that is not off; undefined where it has none, or several. */
const switchedOn = (control: Control): ControlValue | undefined => {
  if (control.kind !== 'choice') return undefined
  const on = control.choices.filter((c) => !/^(off|no|none|disabled?)$/i.test(c.label.trim()))
  return on.length === 1 && control.choices.length === 2 ? on[0]!.value : undefined
}

/**
 * The second list: what stands for watching where that differs from measuring. What moves the picture stays off, what protects
 * the panel comes back, and where eyes decided their answer stands.
 */
const watchValues = (
  context: RouteContext,
  {
    strengths,
    dynamic,
  }: { readonly strengths: ReadonlyMap<Control, ControlValue | undefined>; readonly dynamic?: ControlValue },
): { values: WatchValue[]; limits: Limit[] } => {
  const { facts, byRole } = context
  const values: WatchValue[] = []
  const limits: Limit[] = []
  for (const control of facts.sheet.controls) {
    const set = (value: ControlValue | undefined, rule: string) => {
      if (value !== undefined) values.push({ control, value, rule })
    }
    if (strengths.has(control)) {
      set(strengths.get(control), 'chosen by measurement')
      continue
    }
    if (control === byRole.dynamic && dynamic !== undefined) {
      set(dynamic, 'it buys black, by measurement')
      continue
    }
    const judged = facts.verdicts.findLast((v) => v.control === control.key && v.value !== null)
    if (judged) {
      set(judged.value!, `visual check: ${judged.answer}`)
      continue
    }
    if (control.role === 'variable-refresh' && facts.bench.variableRefresh && gameCases(facts)) {
      const on = switchedOn(control)
      if (on !== undefined && context.movable(control))
        set(on, 'on: without it games whose frame rate varies tear or stutter')
      continue
    }
    if (ROLES[control.role].watching === 'as-it-comes') {
      const own = factoryValue(control, facts.baseMode ?? undefined, signalKind(facts.signal))
      set(own, 'back on: it protects the panel from still pictures')
      continue
    }
    if (!NEUTRAL_FOR_WATCHING.has(control.role) || control.neutral === undefined) continue
    if (!context.movable(control)) continue
    set(
      control.neutral,
      control.role === 'sharpness' ? 'neutral: no outlines' : 'off, for watching as for measuring',
    )
    if (!facts.bench.eye && (control.role === 'sharpness' || control.role === 'motion'))
      limits.push(notSeen({ control, value: control.neutral }))
  }
  return { values, limits }
}

/** Settings that turn the measured state into the one for watching. */
export const watchChanges = (facts: RouteFacts, values: readonly WatchValue[]): Change[] =>
  values.flatMap(({ control, value }) => {
    const from = facts.state[control.key]
    return from === undefined || from === value ? [] : [{ control: control.key, from, to: value }]
  })

/** The reason of a value for watching, with what it takes of white where that was read and nothing else stays on beside it. */
const costInWhite = (
  context: RouteContext,
  values: readonly WatchValue[],
  { control, rule }: WatchValue,
): Pick<Derived, 'rule' | 'readingIds'> => {
  const kept = ROLES[control.role].watching === 'as-it-comes' ? watchedShare(context) : undefined
  if (!kept) return { rule, readingIds: [] }
  const { measured, watched } = kept
  const others = values.some(
    (v) => v.control !== control && watched.state[v.control.key] !== measured.state[v.control.key],
  )
  if (others || watched.state[control.key] === measured.state[control.key]) return { rule, readingIds: [] }
  const cost = Math.round(100 * (1 - kept.share))
  const light = `${Math.round(measured.xyz[1])} → ${Math.round(watched.xyz[1])} cd/m²`
  return {
    rule: `${rule}, and takes ${cost < 1 ? 'nothing' : `${cost} %`} of white as it comes on (${light})`,
    readingIds: [measured.id, watched.id],
  }
}

/**
 * The processing step: strengths of dimming by measurement, the rest by eye on the application's own patterns, and the list of values
 * for watching.
 */
const planProcessing = (context: RouteContext): { plan: StepPlan; findings: ProcessingFindings } => {
  const { facts } = context
  // Each by itself, the others at rest: the next begins when one is decided.
  const compared: Array<readonly [Control, Compared<DimmingOption>]> = []
  for (const control of context.byRole.strengths) {
    compared.push([control, dimmingPart(context, control)])
    if (compared.at(-1)![1].plan.next) break
  }
  const strengths = new Map(compared.map(([control, { choice }]) => [control, choice]))
  const dimming = compared.map(([, { plan }]) => plan)
  const dynamic = dimming.some((p) => p.next) ? undefined : dynamicPart(context)
  const questions = visualChecks(facts, (c) => context.movable(c))
  const { values, limits } = watchValues(context, { strengths, dynamic: dynamic?.choice })
  const findings: ProcessingFindings = {
    dimming: compared.flatMap(([, { options }]) => options),
    dynamic: dynamic?.options ?? [],
    watch: values,
    questions,
  }
  for (const plan of [...dimming, ...(dynamic ? [dynamic.plan] : [])])
    if (plan.next) return { plan, findings }
  const saving = savingPart(context)
  if (saving.plan) return { plan: saving.plan, findings }
  const seen = watchedPart(context, values)
  if (seen) return { plan: seen, findings }
  const asked = facts.bench.eye ? questions.find((q) => !answerTo(facts, q.key)) : undefined
  if (asked) return { plan: open({ kind: 'visual-check', question: asked }), findings }
  const wrong = questions.flatMap((q): Limit[] => {
    const answer = answerTo(facts, q.key)
    const bad = q.answers.find((a) => a.key === answer?.answer)?.wrong
    return bad ? [seenWrong({ wrong: bad })] : []
  })
  const unseen: Limit[] = facts.bench.eye
    ? []
    : [checksSkipped({ titles: questions.filter((q) => !q.control).map((q) => q.title) })]
  const derived: Derived[] = [
    ...dimming.flatMap((p) => p.derived),
    ...(dynamic?.plan.derived ?? []),
    ...saving.derived,
    ...values
      .filter(
        (v) =>
          !strengths.has(v.control) &&
          !saving.derived.some((d) => d.control === v.control.key) &&
          !dynamic?.plan.derived.some((d) => d.control === v.control.key),
      )
      .map(
        (v): Derived => ({
          control: v.control.key,
          value: v.value,
          ...costInWhite(context, values, v),
        }),
      ),
  ]
  return {
    plan: done(
      dimming
        .map((p) => p.note)
        .filter(Boolean)
        .join(', '),
      {
        derived,
        limits: [...dimming.flatMap((p) => p.limits), ...limits, ...wrong, ...unseen],
      },
    ),
    findings,
  }
}

export const processing = defineStep({
  key: 'processing',
  title: 'Processing and motion',
  restsOn: PROCESSING,
  cases: everyCase,
  finds: ['processing'],
  measures: false,
  plan: ({ watching }) => {
    const { plan, findings } = planProcessing(watching)
    return { ...plan, findings: { processing: findings } }
  },
})
