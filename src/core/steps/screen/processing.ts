import { type Change, type ControlValue, factoryValue, rolesWhere } from '#core/display'
import { signalKind } from '#core/signal'
import { type Derived, defineStep, done, everyCase, type Limit, open, type StepPlan } from '../contract'
import type { WatchValue } from '../facts/asked'
import type { RouteContext } from '../facts/context'
import type { RouteFacts } from '../facts/facts'
import type { ProcessingFindings } from '../facts/findings'
import { PROCESSING } from '../rests-on'
import { dimmingPart } from './dimming'
import { dynamicPart } from './dynamic-contrast'
import { savingPart } from './saving'
import { checksSkipped, notSeen, seenWrong } from './say'
import { answerTo, visualChecks } from './visual-checks'

const NEUTRAL_FOR_WATCHING = rolesWhere((r) => r.watching === 'neutral')

/**
 * The second list: what stands for watching where that differs from measuring. What moves the picture stays off, what protects
 * the panel comes back, and where eyes decided their answer stands.
 */
const watchValues = (
  context: RouteContext,
  { dimming, dynamic }: { readonly dimming?: ControlValue; readonly dynamic?: ControlValue },
): { values: WatchValue[]; limits: Limit[] } => {
  const { facts, byRole } = context
  const values: WatchValue[] = []
  const limits: Limit[] = []
  for (const control of facts.sheet.controls) {
    const set = (value: ControlValue | undefined, rule: string) => {
      if (value !== undefined) values.push({ control, value, rule })
    }
    if (control === byRole.dimming) {
      set(dimming, 'chosen by measurement')
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
    if (control.role === 'panel-care') {
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

/**
 * The processing step: strengths of dimming by measurement, the rest by eye on the application's own patterns, and the list of values
 * for watching.
 */
const planProcessing = (context: RouteContext): { plan: StepPlan; findings: ProcessingFindings } => {
  const { facts } = context
  const dimming = dimmingPart(context)
  const dynamic = dimming.plan.next ? undefined : dynamicPart(context)
  const questions = visualChecks(facts, (c) => context.movable(c))
  const { values, limits } = watchValues(context, { dimming: dimming.choice, dynamic: dynamic?.choice })
  const findings: ProcessingFindings = {
    dimming: dimming.options,
    dynamic: dynamic?.options ?? [],
    watch: values,
    questions,
  }
  for (const { plan } of [dimming, ...(dynamic ? [dynamic] : [])]) if (plan.next) return { plan, findings }
  const saving = savingPart(context)
  if (saving.plan) return { plan: saving.plan, findings }
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
    ...dimming.plan.derived,
    ...(dynamic?.plan.derived ?? []),
    ...saving.derived,
    ...values
      .filter(
        (v) =>
          v.control !== context.byRole.dimming &&
          !saving.derived.some((d) => d.control === v.control.key) &&
          !dynamic?.plan.derived.some((d) => d.control === v.control.key),
      )
      .map(
        (v): Derived => ({
          control: v.control.key,
          value: v.value,
          rule: v.rule,
          readingIds: [],
        }),
      ),
  ]
  return {
    plan: done(dimming.plan.note, {
      derived,
      limits: [...dimming.plan.limits, ...limits, ...wrong, ...unseen],
    }),
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
