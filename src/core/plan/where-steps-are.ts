import { controlOf } from '#core/display'
import { differsIn, RESTS_ON, type RouteContext, type StepKey, type StepPlan } from '#core/steps'
import type { RouteStep } from './at-step'

/** How a step stands in words, with what made it stale where something did. */
export const stepOf = (
  context: RouteContext,
  key: StepKey,
  plans: ReadonlyMap<StepKey, StepPlan>,
  now: StepKey,
): RouteStep => {
  const { facts } = context
  const plan = plans.get(key)
  const why = facts.skipped[key]
  if (why && plan?.status !== 'done') return { key, status: 'skipped', note: why }
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
  const changed = differsIn(facts, RESTS_ON[key], own.state, facts.state)
  if (changed.length === 0) return ''
  const names = changed.slice(0, 2).map((k) => `“${controlOf(facts.sheet, k).label}”`)
  const more = changed.length > 2 ? ` and ${changed.length - 2} more` : ''
  return `${names.join(', ')}${more} changed since`
}
