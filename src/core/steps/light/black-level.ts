import type { NumberControl, State } from '#core/display'
import { toldApart } from '#core/judge'
import { greyLevel, readingSigma } from '#core/measure'
import { placeOf, quoted, reachOf } from '#core/model'
import { type Target, targetOn } from '#core/target'
import { defineStep, done, type Limit, open, type StepPlan, sdrCases } from '../contract'
import type { RouteContext } from '../facts/context'
import { differsIn, keyOf, type RouteReading } from '../facts/facts'
import type { BlackLevelVerdict } from '../facts/findings'
import { patchesOf } from '../facts/hdr-reference'
import { ENDS } from '../rests-on'
import {
  BLACK_MAY_RISE,
  HELD_BACK,
  KNOWN_RIGHT,
  NEAR_BLACK,
  NEAR_BLACK_AGAIN,
  NEAR_BLACK_MOVED,
  NO_LIGHT,
  OFFSET_OWN,
  SHIFT_PROBED,
  SHIFT_SEEN,
  STAYS_DARK,
  TRUST,
} from '../tuning'
import {
  keptEnd,
  knownEnd,
  nearReadings,
  ONE_BLACK,
  ONE_CURVE,
  percentOf,
  readFirst,
  whiteMovedSince,
} from './near-ends'
import { movedByLevel } from './tone'

/** A shade as it was read. */
interface Shade {
  /** Signal, 0…1. */
  readonly level: number
  /** cd/m² */
  readonly luminance: number
  /** Standard error, cd/m². */
  readonly sigma?: number
}

interface Ends {
  /** cd/m² */
  readonly black: number
  readonly white: number
}

/**
 * Signal at which a display gives a share of the light between its black and its white: power laws from shade to shade, the lowest going on
 * towards black. Out: undefined where fewer than two shades show light of their own.
 */
const signalByShare = (
  shades: readonly Shade[],
  { black, white }: Ends,
): ((share: number) => number) | undefined => {
  const points: Array<readonly [signal: number, share: number]> = []
  // From the brightest down, which are the surest: what is no darker than the shade above it is scatter.
  for (const { level, luminance } of [...shades].sort((a, b) => b.level - a.level)) {
    const share = (luminance - black) / (white - black)
    if (level > 0 && share > NO_LIGHT && share < (points[0]?.[1] ?? 1)) points.unshift([level, share])
  }
  if (points.length < 2) return undefined
  return (share) => {
    const above = points.findIndex(([, own]) => own >= share)
    const i = Math.max(1, above < 0 ? points.length - 1 : above)
    const [[x, a], [y, b]] = [points[i - 1]!, points[i]!]
    const along = Math.log(Math.max(NO_LIGHT, share) / a) / Math.log(b / a)
    return x * (y / x) ** along
  }
}

/**
 * Signal by which shades near black come too early (above zero) or too late (below): how far from each shade's own signal the one lies at
 * which the display gives the light that is wanted of it, the surest shades counting most.
 * In: readings; black and white; luminance that the target asks for at a signal, cd/m². Out: signal with its standard error, 0…1; undefined
 * where too little was read.
 */
export const blackOffset = (
  readings: readonly Shade[],
  ends: Ends,
  wantedAt: (level: number) => number,
): { readonly offset: number; readonly sigma: number } | undefined => {
  const near = readings.filter((r) => r.level > 0.015 && r.level < 0.045)
  const far = readings.filter((r) => r.level >= 0.09 && r.level <= 0.41)
  const signalOf = near.length && far.length ? signalByShare([...near, ...far], ends) : undefined
  if (!signalOf) return undefined
  let [sum, weights] = [0, 0]
  for (const { level, sigma = 0 } of near) {
    const wanted = Math.max(NO_LIGHT, (wantedAt(level) - ends.black) / (ends.white - ends.black))
    const error = sigma / (ends.white - ends.black)
    // Scatter of the light as one of the signal.
    const scatter = Math.min(level, signalOf(wanted + error) - signalOf(wanted))
    const weight = 1 / (OFFSET_OWN ** 2 + scatter ** 2)
    sum += weight * (level - signalOf(wanted))
    weights += weight
  }
  return { offset: sum / weights, sigma: 1 / Math.sqrt(weights) }
}

/**
 * Signal by which the lowest shades look shifted against the power law of those above them: where black is lifted by its control, and where a
 * display was made for BT.1886. In: as `blackOffset`. Out: signal, 0…1; 0 where too little was read.
 */
const ownShift = (readings: readonly Shade[], { black, white }: Ends): number => {
  const share = (l: number) => Math.max(NO_LIGHT, (l - black) / (white - black))
  const far = readings.filter((r) => r.level >= 0.09 && r.level <= 0.41)
  const near = readings.filter((r) => r.level > 0.015 && r.level < 0.045)
  if (near.length === 0 || far.length === 0) return 0
  let best = { shift: 0, misfit: Number.POSITIVE_INFINITY }
  for (let shift = 0; shift <= 0.03; shift += 0.0005) {
    const at = (level: number) => Math.log((level + shift) / (1 + shift))
    const xx = far.reduce((sum, r) => sum + at(r.level) ** 2, 0)
    const exponent = far.reduce((sum, r) => sum + at(r.level) * Math.log(share(r.luminance)), 0) / xx
    const misfit = near.reduce(
      (sum, r) => sum + (Math.log(share(r.luminance)) - exponent * at(r.level)) ** 2,
      0,
    )
    if (misfit < best.misfit) best = { shift, misfit }
  }
  return best.shift
}

/** Luminance that black may have without being called lifted, cd/m². In: the lowest that was read under one light. */
const mostBlack = (lowest: number): number =>
  lowest + Math.max(BLACK_MAY_RISE.share * lowest, BLACK_MAY_RISE.luminance)

/** What shades near black tell, the white that they were read under, and at which signal the display gives a luminance above black. */
interface Judged {
  readonly verdict: BlackLevelVerdict
  readonly white: number
  readonly signalOf: (luminance: number) => number
  /** Signal by which the shades look shifted by themselves. */
  readonly ownShift: number
}

const judge = (
  context: RouteContext,
  near: ReadonlyMap<number, RouteReading>,
  control: NumberControl | undefined,
): Judged | undefined => {
  const { facts } = context
  const black = near.get(0)
  if (!black) return undefined
  const white = whiteAt(context, black.state)
  const far = farShades(context, white)
  const steps = [...near].filter(([l]) => l > 0 && l < 0.06).sort((a, b) => a[0] - b[0])
  const seen = steps.find(([, r]) => toldApart(r.xyz[1], black.xyz[1]))
  const last = steps.filter(([l]) => seen === undefined || l < seen[0]).at(-1)
  const ends = { black: Math.max(0, black.xyz[1]), white }
  const sigmaOf = (r: RouteReading) => r.sigma?.[1] ?? readingSigma(r.xyz[1], facts.precision)
  const shades = [...steps.map(([level, r]) => ({ level, luminance: r.xyz[1], sigma: sigmaOf(r) })), ...far]
  const told = blackOffset(shades, ends, targetOn(facts.targets, ends).luminanceOf)
  const signalOf = signalByShare(shades, ends)
  return {
    verdict: {
      value: control ? black.state[control.key] : undefined,
      black: ends.black,
      lastBlack: last?.[0] ?? 0,
      firstSeen: seen?.[0],
      offset: told?.offset ?? 0,
      sigma: told?.sigma ?? 0,
      readingIds: [black.id, ...steps.map(([, r]) => r.id), ...far.flatMap((r) => [r.id, r.whiteId])],
    },
    white,
    ownShift: ownShift(shades, ends),
    signalOf: (luminance) => (luminance > 0 ? (signalOf?.(luminance / (white - ends.black)) ?? 0) : 0),
  }
}

/** First step of those that are read which a display of a right black would show. */
const idealFirst = ({ black, luminanceOf }: Target): number => {
  for (const percent of [...NEAR_BLACK].reverse()) {
    if (toldApart(luminanceOf(percent / 100), black)) return percent / 100
  }
  return NEAR_BLACK[0] / 100
}

const planBlackLevel = (context: RouteContext, again: boolean): StepPlan => {
  const { facts, byRole, patches } = context
  const control = byRole.black
  // Single levels near black were moved on top of it: it is not reopened under them.
  if (movedByLevel(context, facts.state)) return kept(context, 'kept under multi-point values')
  if (!again && knownEnd(context, control, 'black', (m) => Math.abs(m[0] ?? 1) < KNOWN_RIGHT))
    return done('as in the previous case', { derived: keptEnd(context, control) })
  // The first look tells what is clipped; after a move the shades that are seen are enough.
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
  if (!judged) return done('')
  const { verdict, white } = judged
  const ideal = idealFirst(targetOn(facts.targets, { white, black: verdict.black }))
  const crushed = (verdict.firstSeen ?? 1) > ideal + 0.0101
  const said =
    verdict.firstSeen === undefined
      ? 'no step up to 4 % is visible'
      : `first visible step above black: ${percentOf(verdict.firstSeen)}`
  const finish = (limits: Limit[] = []): StepPlan =>
    done(said, {
      findings: { blackLevel: withLeft(context, control, verdict) },
      limits: limits.length ? limits : darkLimits(context, control, verdict),
      derived: control
        ? [
            {
              control: control.key,
              value: facts.state[control.key]!,
              rule: `the highest value that keeps black and tracks the target near it: ${said}`,
              readingIds: [...verdict.readingIds, ...(context.light?.readingIds ?? [])],
            },
          ]
        : [],
    })
  if (!control || !context.movable(control))
    return crushed
      ? finish([
          {
            sentence: `Shadows below ${percentOf(verdict.firstSeen ?? 0.04)} are clipped to black, and there is no black level control to raise.`,
          },
        ])
      : finish()
  const history = blackHistory(context, control)
  const perClick = history.perClick ?? 0.06 / reachOf(control)
  const { offset } = verdict
  const raise = raiseLeft(verdict, history.values)
  const darkest = darkestOf(history.values)
  const unlifted = history.values.filter((v) => darkest && !isLifted(v, darkest))
  const lifted =
    history.values.some((v) => v.value === verdict.value) && !unlifted.some((v) => v.value === verdict.value)
  // As long as nobody knows what a click does here, the first move is held back.
  const exact = ((history.perClick === undefined ? HELD_BACK : 1) * raise) / perClick
  const clicks = raise > 0 ? Math.trunc(exact) : Math.round(exact)
  // After white was balanced one move is enough: what it leaves is small, and chasing it moves white again.
  const spent = history.values.length > 2 || (again && movedSinceWhite(context, control))
  // A shift that nobody can see, that readings cannot tell or smaller than half a click, is left; so is one that was tried already.
  const small = Math.abs(raise) < Math.max(0.5 * Math.abs(perClick), SHIFT_SEEN, 2 * verdict.sigma)
  const { min, max, step } = control.range
  const from = Number(facts.state[control.key])
  // What a click does was told by few: no move goes far beyond those that were made.
  const farthest = Math.max(0, ...history.values.map((v) => Math.abs(v.value - from) / step))
  const far =
    history.perClick === undefined
      ? Number.POSITIVE_INFINITY
      : Math.ceil(TRUST.share * farthest) + TRUST.clicks
  const to = Math.min(max, Math.max(min, from + Math.max(-far, Math.min(far, clicks)) * step))
  const best = unlifted.reduce((a, b) => (Math.abs(b.offset) < Math.abs(a.offset) ? b : a), {
    value: from,
    offset: lifted ? 1 : offset,
  })
  // Shades that look shifted may be so because black is lifted: lower, it would be darker.
  const probe = history.values.length === 1 && !again && judged.ownShift > SHIFT_PROBED && offset < SHIFT_SEEN
  if (!lifted && !probe && ((small && !crushed) || clicks === 0)) return finish()
  const tried = history.values.some((v) => v.value === to)
  const lower = Math.max(min, from - Math.max(1, Math.round(judged.ownShift / Math.abs(perClick))) * step)
  const goal = probe ? lower : tried || spent || lifted ? best.value : to
  if (goal === from) return finish()
  return open(
    {
      kind: 'adjust',
      adjustment: {
        changes: [{ control: control.key, from, to: Number(goal.toFixed(9)) }],
        reads: [patches.black, ...NEAR_BLACK_MOVED.map(patches.grey)],
        purpose: probe
          ? 'Looks whether black is darker with a lower value.'
          : goal > from === perClick > 0
            ? 'Raises shadow detail, which is too dark.'
            : 'Lowers shadow detail, which is too bright.',
        predictions: [],
      },
    },
    '',
    { findings: { blackLevel: verdict } },
  )
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
  const why = movable(control)
    ? `more of ${quoted(control!)} would make black itself lighter`
    : 'nothing on this display raises them without black'
  return [
    {
      sentence: `Shades near black stay darker than the target asks: ${why}.`,
    },
  ]
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

/** A shade well above black, at the present luminance of white. */
interface FarShade {
  readonly id: number
  /** The reading of white that it was scaled by. */
  readonly whiteId: number
  /** Signal, 0…1. */
  readonly level: number
  /** cd/m² */
  readonly luminance: number
}

/** Luminance of white under the panel light of a state, cd/m². */
const whiteAt = ({ facts, light, byRole }: RouteContext, state: State): number => {
  if (light && byRole.light) return light.curve.at(placeOf(byRole.light, state[byRole.light.key]))
  return (
    facts.readings.findLast((r) => r.patch.key === patchesOf(facts).white.key)?.xyz[1] ??
    facts.targets.luminance
  )
}

/** Shades well above black, at the present panel light: read now, or read before and scaled. */
const farShades = (context: RouteContext, white: number): FarShade[] => {
  const { facts, outOfBox, byRole } = context
  const tone = byRole.tone?.key
  const same = (s: State) => !tone || s[tone] === facts.state[tone]
  const whites = new Map<string, RouteReading>()
  for (const r of facts.readings)
    if (r.patch.key === patchesOf(facts).white.key) whites.set(keyOf(facts, r.state), r)
  const out = new Map<number, FarShade>()
  for (const r of [...(outOfBox?.byPatch.values() ?? []), ...facts.readings]) {
    const level = greyLevel(r.patch)
    const own = whites.get(keyOf(facts, r.state))
    if (level === undefined || level < 0.09 || level > 0.41 || !own || !same(r.state)) continue
    if (differsIn(facts, ONE_CURVE, r.state, facts.state).length) continue
    out.set(level, { id: r.id, level, whiteId: own.id, luminance: (r.xyz[1] / own.xyz[1]) * white })
  }
  return [...out.values()]
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
