import type { NumberControl, State } from '#core/display'
import { toldApart } from '#core/judge'
import { greyLevel } from '#core/measure'
import { reachOf } from '#core/model'
import { type Target, targetOn } from '#core/target'
import { adjust, defineStep, done, type Limit, type StepPlan, sdrCases } from '../contract'
import type { RouteContext } from '../facts/context'
import { differsIn, type RouteReading } from '../facts/facts'
import type { BlackLevelVerdict } from '../facts/findings'
import { ENDS } from '../rests-on'
import {
  HELD_BACK,
  KNOWN_RIGHT,
  NEAR_BLACK,
  NEAR_BLACK_AGAIN,
  NEAR_BLACK_MOVED,
  SHIFT_PROBED,
  SHIFT_SEEN,
  STAYS_DARK,
  TRUST,
} from '../tuning'
import { type Judged, judge, mostBlack } from './near-black'
import {
  keptEnd,
  knownEnd,
  nearReadings,
  ONE_BLACK,
  percentOf,
  readFirst,
  whiteMovedSince,
} from './near-ends'
import { shadesStayDark, shadowsClip } from './say'
import { movedByLevel } from './tone'

/** First step of those that are read which a display of a right black would show. */
const idealFirst = ({ black, luminanceOf }: Target): number => {
  for (const percent of [...NEAR_BLACK].reverse()) {
    if (toldApart(luminanceOf(percent / 100), black)) return percent / 100
  }
  return NEAR_BLACK[0] / 100
}

/** How far shades are read, and what the readings say. */
const planBlackLevel = (context: RouteContext, again: boolean): StepPlan => {
  const { facts, byRole, patches } = context
  const control = byRole.black
  // Single levels near black were moved on top of it: it is not reopened under them.
  if (movedByLevel(context, facts.state)) return kept(context, 'kept under multi-point values')
  if (!again && knownEnd(context, control, 'black', (m) => Math.abs(m[0] ?? 1) < KNOWN_RIGHT))
    return done('as in the previous case', { derived: keptEnd(context, control) })
  // The first look tells what is clipped; after an adjustment the shades that are seen are enough.
  const moved = facts.adjustments.some((m) => control && m.changes.some((c) => c.control === control.key))
  const levels = again ? NEAR_BLACK_AGAIN : moved ? NEAR_BLACK_MOVED : NEAR_BLACK
  const wanted = [patches.black, ...levels.map(patches.grey)]
  const near = nearReadings(context, again, control, wanted)
  const missing = wanted.filter((p) => !near.has(p.signal[0]) && !facts.leftOut.includes(p.key))
  if (missing.length)
    return readFirst(
      missing,
      again ? 'Checks whether white balance has changed shadow detail.' : 'Checks shadow detail near black.',
    )
  const judged = judge(context, near, control)
  return judged ? planJudged(context, judged, again) : done('')
}

const sayFirstSeen = ({ firstSeen }: BlackLevelVerdict): string =>
  firstSeen === undefined
    ? 'no step up to 4 % is visible'
    : `first visible step above black: ${percentOf(firstSeen)}`

/** The black level as it is set now. */
const finish = (
  context: RouteContext,
  verdict: BlackLevelVerdict,
  limits: readonly Limit[] = darkLimits(context, context.byRole.black, verdict),
): StepPlan => {
  const control = context.byRole.black
  return done(sayFirstSeen(verdict), {
    findings: { blackLevel: withLeft(context, control, verdict) },
    limits,
    derived: control
      ? [
          {
            control: control.key,
            value: context.facts.state[control.key]!,
            rule: `the highest value that keeps black and tracks the target near it: ${sayFirstSeen(verdict)}`,
            readingIds: [...verdict.readingIds, ...(context.light?.readingIds ?? [])],
          },
        ]
      : [],
  })
}

/** Shades were read: whether its control is moved for them. */
const planJudged = (context: RouteContext, judged: Judged, again: boolean): StepPlan => {
  const { patches, byRole, facts } = context
  const control = byRole.black
  const { verdict, white } = judged
  const ideal = idealFirst(targetOn(facts.targets, { white, black: verdict.black }))
  const crushed = (verdict.firstSeen ?? 1) > ideal + 0.0101
  if (!control || !context.movable(control))
    return crushed
      ? finish(context, verdict, [shadowsClip({ below: percentOf(verdict.firstSeen ?? 0.04) })])
      : finish(context, verdict)
  const goal = goalOf(context, control, judged, { crushed, again })
  const from = Number(facts.state[control.key])
  if (!goal || goal.to === from) return finish(context, verdict)
  const raises = goal.to > from === goal.perClick > 0
  return adjust(
    {
      changes: [{ control: control.key, from, to: Number(goal.to.toFixed(9)) }],
      reads: [patches.black, ...NEAR_BLACK_MOVED.map(patches.grey)],
      purpose: goal.probe
        ? 'Looks whether black is darker with a lower value.'
        : raises
          ? 'Raises shadow detail, which is too dark.'
          : 'Lowers shadow detail, which is too bright.',
    },
    '',
    { findings: { blackLevel: verdict } },
  )
}

/** The value that the black level is set to next; undefined where it is right as it is, or nothing more is to be had. */
const goalOf = (
  context: RouteContext,
  control: NumberControl,
  { verdict, ownShift: shift }: Judged,
  { crushed, again }: { readonly crushed: boolean; readonly again: boolean },
): { readonly to: number; readonly probe: boolean; readonly perClick: number } | undefined => {
  const { values, perClick: known } = blackHistory(context, control)
  const perClick = known ?? 0.06 / reachOf(control)
  const { offset } = verdict
  const raise = raiseLeft(verdict, values)
  const darkest = darkestOf(values)
  const unlifted = values.filter((v) => darkest && !isLifted(v, darkest))
  const isHere = (v: Tried) => v.value === verdict.value
  const lifted = values.some(isHere) && !unlifted.some(isHere)
  // As long as nobody knows what a click does here, the first adjustment is held back.
  const exact = ((known === undefined ? HELD_BACK : 1) * raise) / perClick
  const clicks = raise > 0 ? Math.trunc(exact) : Math.round(exact)
  // A shift that nobody can see, that readings cannot tell or smaller than half a click, is left; so is one that was tried already.
  const small = Math.abs(raise) < Math.max(0.5 * Math.abs(perClick), SHIFT_SEEN, 2 * verdict.sigma)
  // Shades that look shifted may be so because black is lifted: lower, it would be darker.
  const probe = values.length === 1 && !again && shift > SHIFT_PROBED && offset < SHIFT_SEEN
  if (!lifted && !probe && ((small && !crushed) || clicks === 0)) return undefined
  const { min, max, step } = control.range
  const from = Number(context.facts.state[control.key])
  if (probe) {
    const lower = from - Math.max(1, Math.round(shift / Math.abs(perClick))) * step
    return { to: Math.max(min, lower), probe, perClick }
  }
  // What a click does was told by few: no adjustment goes far beyond those that were made.
  const farthest = Math.max(0, ...values.map((v) => Math.abs(v.value - from) / step))
  const far =
    known === undefined ? Number.POSITIVE_INFINITY : Math.ceil(TRUST.share * farthest) + TRUST.clicks
  const to = Math.min(max, Math.max(min, from + Math.max(-far, Math.min(far, clicks)) * step))
  // After white was balanced one adjustment is enough: what it leaves is small, and chasing it moves white again.
  const spent = values.length > 2 || (again && movedSinceWhite(context, control))
  const tried = values.some((v) => v.value === to)
  const best = unlifted.reduce((a, b) => (Math.abs(b.offset) < Math.abs(a.offset) ? b : a), {
    value: from,
    offset: lifted ? 1 : offset,
  })
  return { to: tried || spent || lifted ? best.value : to, probe, perClick }
}

/** The value under which black is darkest. */
const darkestOf = (tried: readonly Tried[]): Tried | undefined =>
  tried.reduce<Tried | undefined>((a, b) => (a && a.black <= b.black ? a : b), undefined)

/** Whether black is lighter under a value than it need be. In: what it showed, what the one showed under which black is darkest. */
const isLifted = ({ black, white }: Tried, darkest: Tried): boolean =>
  (black - darkest.black) * white > 2 * (mostBlack(darkest.black * white) - darkest.black * white)

/**
 * Signal by which shades are still to be raised (below zero: lowered): as far as the target asks, and as black itself is not lifted for it. In:
 * verdict on the value of now; what values showed.
 */
const raiseLeft = ({ offset, value }: BlackLevelVerdict, tried: readonly Tried[]): number => {
  // What may be raised is counted from where the display stood at first, or where that lifts black, from the value that shows it darkest.
  const darkest = darkestOf(tried)
  const [begun] = tried
  const first = begun && darkest && isLifted(begun, darkest) ? darkest : begun
  const here = tried.find((v) => v.value === value)
  const room = first && here ? first.room - (here === first ? 0 : shiftBetween(first, here)) : 0
  return Math.min(-offset, Math.max(0, room))
}

/** Where shades near black stay later than the target asks, and nothing brings them: why. */
const darkLimits = (
  context: RouteContext,
  control: NumberControl | undefined,
  { offset }: BlackLevelVerdict,
): Limit[] => {
  const { byRole, movable } = context
  const byLevel = [...byRole.levelTone, ...byRole.levelWhite].some(
    (l) => l.level < 0.15 && movable(l.control),
  )
  if (-offset < STAYS_DARK || byLevel) return []
  return [shadesStayDark({ control: movable(control) ? control : undefined })]
}

const withLeft = (
  context: RouteContext,
  control: NumberControl | undefined,
  verdict: BlackLevelVerdict,
): BlackLevelVerdict =>
  control ? { ...verdict, left: raiseLeft(verdict, blackHistory(context, control).values) } : verdict

/** Whether shades near black were read at all. */
const readBefore = ({ facts }: RouteContext): boolean =>
  facts.readings.some((r) => r.purpose === 'adjust' && (greyLevel(r.patch) ?? 1) < 0.045)

/** Whether the black level was moved after gains or cuts were. */
const movedSinceWhite = ({ facts }: RouteContext, control: NumberControl): boolean => {
  const first = facts.adjustments.findIndex((m) => m.step === 'white')
  return (
    first >= 0 && facts.adjustments.slice(first).some((m) => m.changes.some((c) => c.control === control.key))
  )
}

/** The value that was found before, with what was read of it then. */
const kept = (context: RouteContext, note: string): StepPlan => {
  const { facts, byRole, light } = context
  const control = byRole.black
  const near = new Map<number, RouteReading>()
  for (const r of facts.readings) {
    const level = greyLevel(r.patch)
    if (level === undefined || level > 0.045 || movedByLevel(context, r.state)) continue
    if (control && r.state[control.key] !== facts.state[control.key]) continue
    if (differsIn(facts, ONE_BLACK, r.state, facts.state).length === 0) near.set(level, r)
  }
  const judged = judge(context, near, control)?.verdict
  const verdict = judged && withLeft(context, control, judged)
  return done(note, {
    ...(verdict ? { findings: { blackLevel: verdict } } : {}),
    derived: control
      ? [
          {
            control: control.key,
            value: facts.state[control.key]!,
            rule: 'the highest value that keeps black and tracks the target near it',
            readingIds: [...(verdict?.readingIds ?? []), ...(light?.readingIds ?? [])],
          },
        ]
      : [],
  })
}

/** What a value of the black level showed. */
interface Tried {
  readonly value: number
  /** Signal by which shades come too early (above zero) or too late. */
  readonly offset: number
  /** Black as a share of white, and white, cd/m². */
  readonly black: number
  readonly white: number
  /** Signal by which shades may be raised from here before black itself is lifted. */
  readonly room: number
  /** Light above black of each shade, a share of white; and the signal at which light is that. */
  readonly shades: ReadonlyMap<number, number>
  readonly signalOf: (share: number) => number
}

/** Signal by which shades come earlier under one value than under another, whatever the target. */
const shiftBetween = (from: Tried, to: Tried): number => {
  const common = [...to.shades].filter(([level]) => from.shades.has(level) && level > 0.015)
  const shifts = common.map(([level, share]) => from.signalOf(share + to.black - from.black) - level)
  return shifts.reduce((a, b) => a + b, 0) / Math.max(1, shifts.length)
}

/** What values of the black level showed, the one that was read first at the head, and what a click moved. */
const blackHistory = (context: RouteContext, control: NumberControl) => {
  const { facts } = context
  const light = context.byRole.light?.key
  // Shades of one value that were read under different panel light are not compared with each other.
  const groups = new Map<string, { value: number; state: State; near: Map<number, RouteReading> }>()
  for (const r of facts.readings) {
    const level = greyLevel(r.patch)
    if (level === undefined || level > 0.06) continue
    if (differsIn(facts, ONE_BLACK, r.state, facts.state).length) continue
    const value = Number(r.state[control.key])
    const key = `${value} ${light && r.state[light]}`
    const own = groups.get(key) ?? { value, state: r.state, near: new Map<number, RouteReading>() }
    own.near.set(level, r)
    groups.set(key, own)
  }
  const byValue = new Map<number, Tried>()
  for (const { value, near } of groups.values()) {
    const judged = near.size > 1 ? judge(context, near, control) : undefined
    if (!judged) continue
    const { verdict, white, signalOf } = judged
    byValue.set(value, {
      value,
      offset: verdict.offset,
      black: verdict.black / white,
      white,
      room: signalOf(mostBlack(verdict.black) - verdict.black),
      shades: new Map(
        [...near].flatMap(([level, r]) => (level > 0 ? [[level, (r.xyz[1] - verdict.black) / white]] : [])),
      ),
      signalOf: (share) => signalOf(share * white),
    })
  }
  const values = [...byValue.values()]
  const sorted = [...values].sort((a, b) => a.value - b.value)
  // The two that lie farthest apart tell best what a click does.
  const [a, b] = [sorted[0], sorted.at(-1)]
  const clicks = a && b ? (b.value - a.value) / control.range.step : 0
  const perClick = a && b && clicks !== 0 ? shiftBetween(a, b) / clicks : undefined
  return { values, perClick: perClick !== undefined && Math.abs(perClick) > 1e-5 ? perClick : undefined }
}

export const blackLevel = defineStep({
  key: 'black-level',
  title: 'Black level',
  restsOn: ENDS,
  cases: sdrCases,
  finds: ['blackLevel'],
  measures: true,
  plan: (context) =>
    // Once white was begun it is looked at afterwards only, so that the two do not chase each other.
    context.whiteBegun && readBefore(context)
      ? kept(context, 'as found before white balance')
      : planBlackLevel(context, false),
})

/** Looked at again once white was balanced. */
export const blackLevelAgain = defineStep({
  ...blackLevel,
  plan: (context) =>
    context.whiteBegun && whiteMovedSince(context) ? planBlackLevel(context, true) : undefined,
})
