import { controlOf, greyedOut } from '#core/display'
import { isDynamic, isHdr } from '#core/judge'
import { unknownNeutral } from '#core/model'
import { defineStep, done, everyCase, type Limit, type StepPlan } from '../contract'
import type { RouteContext, StepContext } from '../facts/context'
import type { RouteFacts } from '../facts/facts'
import { lockedByDynamic, neutralUnknown, sharedWithFilm } from './say'

/**
 * Whether a reset would take values that finished cases keep. A bench resets HDR apart from SDR, or does not reset it; whoever resets a mode with the
 * remote may take both. What a case of dynamic metadata begins with is what HDR film left.
 */
const wouldLose = ({ occupied, viewingCase, hand }: RouteFacts): boolean => {
  if (isDynamic(viewingCase)) return true
  return isHdr(viewingCase) && hand === undefined
    ? occupied.some((o) => isHdr(o.viewingCase))
    : occupied.length > 0
}

/** What a case of dynamic metadata cannot set, and what it keeps in one place with HDR film. Out: limits; none for other cases. */
const inherited = ({ sheet, state, viewingCase }: RouteFacts): Limit[] => {
  if (!isDynamic(viewingCase)) return []
  const locked = sheet.controls.filter(
    (c) => greyedOut(sheet, c, state, 'pq-dynamic') && !greyedOut(sheet, c, state, 'pq'),
  )
  const shared = sheet.controls.filter(
    (c) =>
      c.memory.length > 0 &&
      !c.memory.includes('metadata') &&
      c.role !== 'picture-mode' &&
      !greyedOut(sheet, c, state, 'pq-dynamic'),
  )
  return [
    ...(locked.length ? [lockedByDynamic({ controls: locked })] : []),
    ...(shared.length ? [sharedWithFilm({ controls: shared })] : []),
  ]
}

/** Automatic picture processing is switched off before anything; in the base mode once it is chosen. */
const planPreparing = (context: StepContext): StepPlan => {
  const { facts, byRole, outOfBox } = context
  const { pending } = context.watching
  const limits: Limit[] = unknownNeutral(facts.sheet).map((control) => neutralUnknown({ control }))
  limits.push(...inherited(facts))
  // In a mode that nobody has chosen, other cases may keep values: signal check and survey switch off what they need, and put it back.
  const switchesOff = (reset: boolean) => reset || facts.prepared || facts.baseMode !== null || !byRole.mode
  const open = (reset: boolean, changes: RouteContext['pending']): StepPlan => ({
    status: 'open',
    note: changes.map((c) => `“${controlOf(facts.sheet, c.control).label}”`).join(', '),
    next: { kind: 'prepare', reset, switchesOff: switchesOff(reset), changes },
    derived: [],
    limits,
  })
  if (!facts.prepared) return open(!wouldLose(facts), pending)
  // Another picture mode than the one that was read: back to it, before anything is judged.
  const mode = pending.filter((c) => c.control === byRole.mode?.key)
  if (mode.length && outOfBox?.missing.length === 0) return open(false, mode)
  return done('', { limits })
}

export const prepare = defineStep({
  key: 'prepare',
  title: 'Prepare',
  restsOn: [],
  cases: everyCase,
  finds: [],
  measures: false,
  plan: planPreparing,
})
