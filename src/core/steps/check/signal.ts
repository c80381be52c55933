import { controlByRole } from '#core/display'
import {
  FEED_PATCHES,
  type FeedReadings,
  feedCheck,
  feedReadings,
  HDR_FEED_PATCHES,
  type HdrFeedReadings,
  judgeFeed,
  judgeHdrFeed,
  looksLikeWrongRange,
  mayLackShadows,
} from '#core/judge'
import { isOffered } from '#core/measure'
import type { SeenSignal } from '#core/signal'
import { defineStep, done, everyCase, open, type StepPlan } from '../contract'
import type { RouteContext, StepContext } from '../facts/context'
import type { RouteFacts, RouteReading } from '../facts/facts'
import { likeWrongRange, pixelsNotChecked } from './say'

/** The newest reading of each patch of the check. */
const readingsOf = ({ readings }: Pick<RouteFacts, 'readings'>): FeedReadings =>
  feedReadings(readings.filter((r) => r.purpose === 'feed-check'))

/**
 * What the display's own page says, as far as it is believed: it tells what arrives, and a range that was set in the menu decides what is made
 * of it.
 */
export const believedPage = ({
  sheet,
  state,
  seen,
}: Pick<RouteFacts, 'sheet' | 'state' | 'seen'>): SeenSignal | null => {
  const range = controlByRole(sheet, 'range')
  const forced = range !== undefined && state[range.key] !== range.default
  return seen && forced ? { ...seen, range: null } : seen
}

/** The check is over; what was not checked or stays unsure is said. */
const checked = (facts: RouteFacts): StepPlan => {
  const limits = [
    ...(isOffered(FEED_PATCHES.pixels, facts.bench) ? [] : [pixelsNotChecked]),
    ...(looksLikeWrongRange(readingsOf(facts), facts.signal, believedPage(facts)) ? [likeWrongRange] : []),
  ]
  return done('signal checked', { limits })
}

/**
 * The signal step: five patches that tell a wrong feed from a right one, asked before anything else is read.
 *
 * Colours that are far too strong may also come from a mode whose gamut is open. Where the display's own signal page says
 * that the colour space arrives as sent, the feed is right; where it says nothing, another gamut is tried.
 */
const checkSignal = (context: RouteContext): StepPlan => {
  const { facts, byRole, movable } = context
  if (context.scale.absolute) return checkHdrSignal(context)
  const own = facts.readings.filter((r) => r.purpose === 'feed-check')
  const missing = feedCheck(facts.bench.layouts).filter(
    (p) => !own.some((r) => r.patch.key === p.key) && !facts.leftOut.includes(p.key),
  )
  if (missing.length) return open({ kind: 'sweep', purpose: 'feed-check', changes: [], patches: missing })
  const { black, shadow } = FEED_PATCHES
  const unread = [black, shadow].filter(
    (p) => !own.some((r) => r.patch.key === p.key) && !facts.leftOut.includes(p.key),
  )
  if (mayLackShadows(readingsOf(facts)) && unread.some((p) => p.key === shadow.key))
    return open({ kind: 'sweep', purpose: 'feed-check', changes: [], patches: unread })
  const findings = judgeFeed(readingsOf(facts), facts.signal, believedPage(facts))
  if (findings.length === 0) return checked(facts)
  // A light tone curve looks like a wrong range, but for black.
  const asked = own.some((r) => r.patch.key === black.key) || facts.leftOut.includes(black.key)
  const pageTells = believedPage(facts)?.range != null
  if (!asked && !pageTells && facts.signal.range === 'limited' && findings.some((f) => f.fault === 'range'))
    return open({ kind: 'sweep', purpose: 'feed-check', changes: [], patches: [black] })
  const { gamut } = byRole
  if (findings.every((f) => f.fault === 'encoding') && gamut && movable(gamut)) {
    const tried = new Set(
      own.filter((r) => r.patch.key === FEED_PATCHES.colour.key).map((r) => r.state[gamut.key]),
    )
    const other = gamut.choices.find((c) => !tried.has(c.value))
    if (other)
      return open({
        kind: 'sweep',
        purpose: 'feed-check',
        changes: [{ control: gamut.key, from: facts.state[gamut.key]!, to: other.value }],
        patches: [FEED_PATCHES.white, FEED_PATCHES.colour],
      })
  }
  return open({ kind: 'feed-fault', findings }, findings[0]!.sentence)
}

/** The check of an HDR feed: nothing that is read of a picture that is not HDR counts. */
const checkHdrSignal = ({ facts }: RouteContext): StepPlan => {
  const newest = new Map<string, RouteReading>()
  for (const r of facts.readings) if (r.purpose === 'feed-check') newest.set(r.patch.key, r)
  const missing = Object.values(HDR_FEED_PATCHES).filter(
    (p) => !newest.has(p.key) && !facts.leftOut.includes(p.key),
  )
  if (missing.length) return open({ kind: 'sweep', purpose: 'feed-check', changes: [], patches: missing })
  const readings: HdrFeedReadings = Object.fromEntries(
    Object.entries(HDR_FEED_PATCHES).flatMap(([name, { key }]) => {
      const reading = newest.get(key)
      return reading ? [[name, reading.xyz]] : []
    }),
  )
  const findings = judgeHdrFeed(readings, facts.signal, believedPage(facts), facts.flagged)
  return findings.length
    ? open({ kind: 'feed-fault', findings }, findings[0]!.sentence)
    : done('signal checked')
}

/** Asked before the first sweep of a case; later only where it was asked again. */
const planSignal = (context: StepContext): StepPlan => {
  const { facts, scale } = context
  const newest = (purpose: 'feed-check' | 'survey' | 'out-of-box') =>
    facts.readings.findLast((r) => r.purpose === purpose)?.id ?? 0
  const check = newest('feed-check')
  const begun = newest('out-of-box') > 0 || facts.adjustments.length > 0
  if (check > Math.max(newest('survey'), newest('out-of-box')) || (check === 0 && !begun))
    return checkSignal(context)
  return check > 0 && scale.feedCheckedAgain ? checked(facts) : done('')
}

export const signal = defineStep({
  key: 'signal',
  title: 'Signal check',
  restsOn: ['range'],
  cases: everyCase,
  finds: [],
  measures: true,
  plan: planSignal,
})
