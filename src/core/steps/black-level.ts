import type { NumberControl, State } from '#core/display'
import { toldApart } from '#core/judge'
import { greyLevel } from '#core/measure'
import { placeOf, reachOf } from '#core/model'
import { type Target, targetOn } from '#core/target'
import type { RouteContext } from './context'
import { differsIn, keyOf, patchesOf, type RouteReading } from './facts'
import type { BlackLevelVerdict } from './findings'
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
import { done, type Limit, open, type Step, type StepPlan } from './step'
import { RESTS_ON, STEP_TITLE } from './step-keys'
import { movedByLevel } from './tone'
import { NEAR_BLACK, NEAR_BLACK_AGAIN } from './tuning'

/**
 * Signal by which shades near black come too early or too late: the shift that makes them lie on the power curve of the shades
 * above them. In: readings by level, black and white in cd/m². Out: signal, 0…1; undefined where too little was read.
 */
export const blackOffset = (
  readings: ReadonlyArray<{ readonly level: number; readonly luminance: number }>,
  black: number,
  white: number,
): number | undefined => {
  const near = readings.filter((r) => r.level > 0.015 && r.level < 0.045)
  const far = readings.filter((r) => r.level >= 0.09 && r.level <= 0.41)
  if (near.length === 0 || far.length === 0) return undefined
  const share = (l: number) => Math.max(1e-9, (l - black) / (white - black))
  let best = { offset: 0, misfit: Number.POSITIVE_INFINITY }
  for (let i = -60; i <= 60; i++) {
    const offset = i * 0.0005
    // The exponent that the shades above would have with this shift.
    let [xy, xx] = [0, 0]
    for (const r of far) {
      const x = Math.log(Math.max(1e-6, (r.level + offset) / (1 + offset)))
      xy += x * Math.log(share(r.luminance))
      xx += x * x
    }
    const exponent = xy / xx
    let misfit = (offset / 0.02) ** 2 * 0.02
    for (const r of near) {
      const signal = Math.max(1e-5, (r.level + offset) / (1 + offset))
      misfit += (Math.log(share(r.luminance)) - exponent * Math.log(signal)) ** 2
    }
    if (misfit < best.misfit) best = { offset, misfit }
  }
  return best.offset
}

const verdictOfBlack = (
  near: ReadonlyMap<number, RouteReading>,
  control: NumberControl | undefined,
  far: readonly FarShade[],
  white: number,
): BlackLevelVerdict | undefined => {
  const black = near.get(0)
  if (!black) return undefined
  const steps = [...near].filter(([l]) => l > 0 && l < 0.06).sort((a, b) => a[0] - b[0])
  const seen = steps.find(([, r]) => toldApart(r.xyz[1], black.xyz[1]))
  const last = steps.filter(([l]) => seen === undefined || l < seen[0]).at(-1)
  const offset = blackOffset(
    [...steps.map(([level, r]) => ({ level, luminance: r.xyz[1] })), ...far],
    Math.max(0, black.xyz[1]),
    white,
  )
  return {
    value: control ? black.state[control.key] : undefined,
    black: Math.max(0, black.xyz[1]),
    lastBlack: last?.[0] ?? 0,
    firstSeen: seen?.[0],
    offset: offset ?? 0,
    readingIds: [black.id, ...steps.map(([, r]) => r.id), ...far.flatMap((r) => [r.id, r.whiteId])],
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
  if (!again && knownEnd(context, control, 'black', (m) => Math.abs(m[0] ?? 1) < 0.004))
    return done('as in the previous case', { derived: keptEnd(context, 'black-level', control) })
  const wanted = [patches.black, ...(again ? NEAR_BLACK_AGAIN : NEAR_BLACK).map(patches.grey)]
  const near = nearReadings(context, again, control, wanted)
  const missing = wanted.filter((p) => !near.has(p.signal[0]) && !facts.leftOut.includes(p.key))
  if (missing.length)
    return readFirst(
      'black-level',
      missing,
      again ? 'Checks whether white balance has changed shadow detail.' : 'Checks shadow detail near black.',
    )
  const white = whiteAt(context, near.get(0)?.state ?? facts.state)
  const verdict = verdictOfBlack(near, control, farShades(context, white), white)
  if (!verdict) return done('')
  const ideal = idealFirst(targetOn(facts.targets, { white, black: verdict.black }))
  const crushed = (verdict.firstSeen ?? 1) > ideal + 0.0101
  const said = `clipped up to ${percentOf(verdict.lastBlack)}, ${verdict.firstSeen === undefined ? 'nothing up to 4 % is visible' : `${percentOf(verdict.firstSeen)} is the first visible step`}`
  const finish = (limits: Limit[] = []): StepPlan =>
    done(said, {
      findings: { blackLevel: verdict },
      limits,
      derived: control
        ? [
            {
              control: control.key,
              step: 'black-level',
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
            step: 'black-level',
            sentence: `Shadows below ${percentOf(verdict.firstSeen ?? 0.04)} are clipped to black, and there is no black level control to raise.`,
          },
        ])
      : finish()
  const history = blackHistory(context, control)
  const perClick = history.perClick ?? 0.06 / reachOf(control)
  const clicks = Math.round(-verdict.offset / perClick)
  // After white was balanced one move is enough: what it leaves is small, and chasing it moves white again.
  const spent = history.values.length > 3 || (again && movedSinceWhite(context, control))
  // A shift that nobody can see, or smaller than half a click, is left; so is one that was tried already.
  const small = Math.abs(verdict.offset) < Math.max(0.5 * Math.abs(perClick), 0.004)
  if ((small && !crushed) || clicks === 0 || spent) return finish()
  const { min, max, step } = control.range
  const from = Number(facts.state[control.key])
  const to = Math.min(max, Math.max(min, from + clicks * step))
  const best = history.values.reduce((a, b) => (Math.abs(b.offset) < Math.abs(a.offset) ? b : a), {
    value: from,
    offset: verdict.offset,
  })
  const tried = history.values.some((v) => v.value === to)
  const goal = tried ? best.value : to
  if (goal === from) return finish()
  return open(
    {
      kind: 'adjust',
      adjustment: {
        step: 'black-level',
        changes: [{ control: control.key, from, to: Number(goal.toFixed(9)) }],
        reads: [patches.black, patches.grey(2), patches.grey(3)],
        purpose:
          verdict.offset < 0
            ? 'Raises shadow detail, which is too dark.'
            : 'Lowers shadow detail, which is too bright.',
        predictions: [],
      },
    },
    '',
    { findings: { blackLevel: verdict } },
  )
}

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
  const white = whiteAt(context, near.get(0)?.state ?? facts.state)
  const verdict = verdictOfBlack(near, control, farShades(context, white), white)
  return done(note, {
    ...(verdict ? { findings: { blackLevel: verdict } } : {}),
    derived: control
      ? [
          {
            control: control.key,
            step: 'black-level',
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

/** What other values of the black level showed: offsets by value, and what a click moved. */
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
  const byValue = new Map<number, number>()
  for (const { value, state, near } of groups.values()) {
    const white = whiteAt(context, state)
    const verdict = verdictOfBlack(near, control, farShades(context, white), white)
    if (verdict && near.size > 1) byValue.set(value, verdict.offset)
  }
  const values = [...byValue].map(([value, offset]) => ({ value, offset }))
  const [a, b] = values
  const clicks = a && b ? (b.value - a.value) / control.range.step : 0
  const perClick = a && b && clicks !== 0 ? (b.offset - a.offset) / clicks : undefined
  return { values, perClick: perClick !== undefined && Math.abs(perClick) > 1e-5 ? perClick : undefined }
}

export const blackLevel: Step = {
  key: 'black-level',
  title: STEP_TITLE['black-level'],
  restsOn: RESTS_ON['black-level'],
  measures: true,
  plan: (context) =>
    // Once white was begun it is looked at afterwards only, so that the two do not chase each other.
    context.whiteBegun && readBefore(context)
      ? kept(context, 'as found before white balance')
      : planBlackLevel(context, false),
}

/** Looked at again once white was balanced. */
export const blackLevelAgain: Step = {
  ...blackLevel,
  plan: (context) =>
    context.whiteBegun && whiteMovedSince(context) ? planBlackLevel(context, true) : undefined,
}
