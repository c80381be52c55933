import type { XYZ } from '#core/colorimetry'
import { type Control, type NumberControl, type Role, type State, stateKey } from '#core/display'
import { toldApart } from '#core/judge'
import { grey, greyLevel, type Patch } from '#core/measure'
import { type Target, targetOn } from '#core/target'
import type { Adjustment, Change, Expected } from './adjustment'
import { channelShares } from './channel-matrix'
import type { RouteContext } from './context'
import { CHANNELS, placeOf, placesOf, quoted, reachOf, shown, valueAt } from './controls-by-role'
import { affectsGrey } from './expected-response'
import { differsIn, type RouteReading } from './facts'
import { chooseLuminance, type LuminanceChoice, type RoomRow, roomTable } from './luminance'
import { type Derived, done, type Limit, open, type StepPlan } from './plan'
import { RESTS_ON } from './step-keys'

const WHITE = grey(100)
const BLACK = grey(0)
/** A luminance this near to the target needs no further click, as a share of the target. */
const NEAR_ENOUGH = 0.03
/** What a click must bring once more was built on it, as a share of the target. */
const WORTH_AGAIN = 0.02

const changeTo = (control: Control, state: State, place: number): Change => ({
  control: control.key,
  from: state[control.key]!,
  to: valueAt(control, place),
})

/** What the levels step knows, for tables and for the guide. */
export interface LevelsFindings {
  readonly luminance?: {
    readonly control: string
    readonly value: string | number
    /** Read or expected there, cd/m². */
    readonly luminance: number
    /** As it comes: value and luminance, cd/m². */
    readonly factory?: { readonly value: string | number; readonly luminance: number }
    readonly room: readonly RoomRow[]
    readonly outOfReach?: LuminanceChoice['outOfReach']
  }
  readonly black?: BlackLevelVerdict
  readonly whiteLevel?: WhiteLevelVerdict
}

/** Where black ends. Levels are signals, 0…1. */
export interface BlackLevelVerdict {
  readonly value: string | number | undefined
  /** cd/m² */
  readonly black: number
  /** Highest step that cannot be told from black; 0 where the first one can. */
  readonly lastBlack: number
  /** First step that can be told from black; undefined where none of those read can. */
  readonly firstSeen: number | undefined
  /** Signal by which shades near black come too early (above zero) or too late, 0…1. */
  readonly offset: number
  readonly readingIds: readonly number[]
}

/** Whether the last steps below white stay apart, channel by channel. */
export interface WhiteLevelVerdict {
  readonly value: string | number | undefined
  /** Slope of each channel over the last steps against the steps before; 1 is as it should be, 0 is clipped. */
  readonly slopes: readonly [red: number, green: number, blue: number]
  readonly apart: boolean
  readonly readingIds: readonly number[]
}

// ---------------------------------------------------------------- luminance

const luminancePart = (
  context: RouteContext,
  whiteBegun: boolean,
  verified: boolean,
): { plan: StepPlan; findings?: LevelsFindings['luminance'] } => {
  const { facts, byRole, light, factory } = context
  const control = byRole.light
  const target = facts.targets.luminance
  if (!control || !light)
    return {
      plan: done('', {
        limits: control
          ? []
          : [
              {
                step: 'levels',
                sentence: 'The sheet has no control of luminance: white stays as bright as it comes.',
              },
            ],
      }),
    }
  const { curve } = light
  const { min, max, step } = placesOf(control)
  const now = placeOf(control, facts.state[control.key])
  const read = curve.points.find((p) => Math.abs(p.place - now) < 1e-9)
  const choice = chooseLuminance(curve, control, target)
  const factoryWhite = factory?.byPatch.get(WHITE.key)
  const findings: LevelsFindings['luminance'] = {
    control: control.key,
    value: facts.state[control.key]!,
    luminance: read?.luminance ?? curve.at(now),
    ...(factoryWhite
      ? { factory: { value: factoryWhite.state[control.key]!, luminance: factoryWhite.xyz[1] } }
      : {}),
    room: roomTable(curve, control),
    outOfReach: choice.outOfReach,
  }
  const near = read !== undefined && Math.abs(read.luminance - target) <= NEAR_ENOUGH * target
  const gain = read ? Math.abs(read.luminance - target) - Math.abs(choice.expected - target) : 0
  const settled =
    Math.abs(choice.place - now) < 1e-9 || (whiteBegun && near) || (verified && gain <= WORTH_AGAIN * target)
  if (read && settled) {
    const limits: Limit[] = choice.outOfReach
      ? [
          {
            step: 'levels',
            sentence: `${target} cd/m² is out of reach: ${quoted(control)} at its end gives ${read.luminance.toFixed(0)} cd/m².`,
          },
        ]
      : []
    const derived: Derived[] = [
      {
        control: control.key,
        step: 'levels',
        value: facts.state[control.key]!,
        rule: `nearest click to ${target} cd/m²`,
        readingIds: light.readingIds,
      },
    ]
    const note = `${read.luminance.toFixed(1)} cd/m² at ${shown(control, facts.state[control.key])}`
    return {
      plan: done(choice.outOfReach ? `${note}, the nearest it can do` : note, { derived, limits }),
      findings,
    }
  }
  if (!context.movable(control))
    return {
      plan: done(read ? `${read.luminance.toFixed(1)} cd/m²` : '', {
        limits: [
          {
            step: 'levels',
            sentence: `${quoted(control)} cannot be set: white stays as bright as it is.`,
          },
        ],
      }),
      findings,
    }
  // One reading tells a straight line; the second place is not gone to in full, so that the curve is met from both sides.
  const expectedAt = curve.at(choice.place)
  const sigma =
    curve.points.length === 1
      ? Math.min(0.3 * Math.abs(expectedAt - (read?.luminance ?? expectedAt)), 0.35 * expectedAt)
      : 0.5 * Math.abs(curve.at(choice.place + (choice.place + step <= max ? step : -step)) - expectedAt)
  const expected: Expected = {
    quantity: 'luminance',
    before: read?.luminance ?? curve.at(now),
    after: expectedAt,
    sigma,
  }
  const adjustment: Adjustment = {
    step: 'levels',
    changes:
      Math.abs(choice.place - now) < 1e-9
        ? []
        : [changeTo(control, facts.state, Math.min(max, Math.max(min, choice.place)))],
    reads: [WHITE],
    purpose: `Brings white to ${target} cd/m².`,
    expected,
    predictions: [{ patch: WHITE.key, ...expected }],
  }
  return { plan: open({ kind: 'adjust', adjustment }), findings }
}

// ---------------------------------------------------------------- near black

/** Steps that are looked at near black and near white, in percent. */
const NEAR_BLACK = [4, 3, 2, 1] as const
const NEAR_BLACK_AGAIN = [2] as const
const NEAR_WHITE = [98, 96] as const

const ONE_CURVE: readonly Role[] = ['picture-mode', 'dynamic-contrast', 'range']
const ONE_BLACK: readonly Role[] = [...ONE_CURVE, 'tone-curve', 'dimming']
const BUT_WHITE: readonly Role[] = RESTS_ON.levels.filter((role) => role !== 'gain' && role !== 'cut')

const percentOf = (level: number) => `${Number((100 * level).toFixed(1))} %`

/**
 * Readings near an end that belong together: the newest settings, of those that nothing that levels rest on was other than
 * now in, under which all wanted levels were read; else what was read of them in the settings of now.
 */
const nearReadings = (
  context: RouteContext,
  again: boolean,
  own: Control | undefined,
  wanted: readonly Patch[],
): Map<number, RouteReading> => {
  const { facts, byRole } = context
  const roles = again ? RESTS_ON.levels : BUT_WHITE
  const same = [own?.key, byRole.light?.key].filter((k) => k !== undefined)
  const groups = new Map<string, Map<number, RouteReading>>()
  const keyOf = (state: State) =>
    facts.sheet.controls
      .filter((c) => affectsGrey(c))
      .map((c) => state[c.key])
      .join(';')
  for (const r of facts.readings) {
    const level = greyLevel(r.patch)
    if (level === undefined) continue
    if (differsIn(facts.sheet, roles, r.state, facts.state).length > 0) continue
    if (same.some((k) => r.state[k] !== facts.state[k])) continue
    const key = keyOf(r.state)
    const group = groups.get(key) ?? new Map<number, RouteReading>()
    group.set(level, r)
    // The newest group comes last.
    groups.delete(key)
    groups.set(key, group)
  }
  const needed = wanted.filter((p) => !facts.leftOut.includes(p.key)).map((p) => p.signal[0])
  const whole = [...groups.values()].findLast((g) => needed.every((l) => g.has(l)))
  return whole ?? groups.get(keyOf(facts.state)) ?? new Map()
}

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
  far: ReadonlyArray<{ level: number; luminance: number }>,
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
    readingIds: [black.id, ...steps.map(([, r]) => r.id)],
  }
}

/** First step of those that are read which a display of a right black would show. */
const idealFirst = ({ black, luminanceOf }: Target): number => {
  for (const percent of [...NEAR_BLACK].reverse()) {
    if (toldApart(luminanceOf(percent / 100), black)) return percent / 100
  }
  return NEAR_BLACK[0] / 100
}

/** Steps at an end that are read before anything is moved. */
const reading = (reads: readonly Patch[], purpose: string): { plan: StepPlan } => ({
  plan: open({
    kind: 'adjust',
    adjustment: { step: 'levels', changes: [], reads, purpose, predictions: [] },
  }),
})

const blackPart = (context: RouteContext, again: boolean): { plan: StepPlan; findings?: BlackLevelVerdict } => {
  const { facts, byRole } = context
  const control = byRole.black
  if (!again && knownEnd(context, control, 'black', (m) => Math.abs(m[0] ?? 1) < 0.004))
    return { plan: done('black level as in the case before', { derived: keptEnd(context, control) }) }
  const wanted = [BLACK, ...(again ? NEAR_BLACK_AGAIN : NEAR_BLACK).map((p) => grey(p))]
  const near = nearReadings(context, again, control, wanted)
  const missing = wanted.filter((p) => !near.has(p.signal[0]) && !facts.leftOut.includes(p.key))
  if (missing.length)
    return reading(
      missing,
      again
        ? 'Looks again whether white has moved the first steps above black.'
        : 'Looks where black ends and the first shade begins.',
    )
  const white = whiteNow(context)
  const far = farShades(context, white)
  const verdict = verdictOfBlack(near, control, far, white)
  if (!verdict) return { plan: done('') }
  const ideal = idealFirst(targetOn(facts.targets, { white, black: verdict.black }))
  const crushed = (verdict.firstSeen ?? 1) > ideal + 0.0101
  const said = `black ends at ${percentOf(verdict.lastBlack)}, ${verdict.firstSeen === undefined ? 'no step up to 4 % can be seen' : `${percentOf(verdict.firstSeen)} is the first shade`}`
  const finish = (limits: Limit[] = []): { plan: StepPlan; findings: BlackLevelVerdict } => ({
    plan: done(said, {
      limits,
      derived: control
        ? [
            {
              control: control.key,
              step: 'levels',
              value: facts.state[control.key]!,
              rule: `the highest value at which black stays black and shades follow the curve: ${said}`,
              readingIds: verdict.readingIds,
            },
          ]
        : [],
    }),
    findings: verdict,
  })
  if (!control || !context.movable(control))
    return crushed
      ? finish([
          {
            step: 'levels',
            sentence: `Shades below ${percentOf(verdict.firstSeen ?? 0.04)} cannot be told from black, and there is no black level to raise.`,
          },
        ])
      : finish()
  const history = blackHistory(context, control, white)
  const perClick = history.perClick ?? 0.06 / reachOf(control)
  const clicks = Math.round(-verdict.offset / perClick)
  const spent = history.values.length > 3
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
  return {
    plan: open({
      kind: 'adjust',
      adjustment: {
        step: 'levels',
        changes: [{ control: control.key, from, to: Number(goal.toFixed(9)) }],
        reads: [BLACK, grey(2), grey(3)],
        purpose:
          verdict.offset < 0
            ? 'Raises the shades above black, which come too late.'
            : 'Lowers the shades above black, which come too early.',
        predictions: [],
      },
    }),
    findings: verdict,
  }
}

/** Luminance of white as it is now, cd/m². */
const whiteNow = ({ facts, light, byRole }: RouteContext): number => {
  if (light && byRole.light) return light.curve.at(placeOf(byRole.light, facts.state[byRole.light.key]))
  return facts.readings.findLast((r) => r.patch.key === WHITE.key)?.xyz[1] ?? facts.targets.luminance
}

/** Shades well above black, at the present panel light: read now, or read before and scaled. */
const farShades = (context: RouteContext, white: number): Array<{ level: number; luminance: number }> => {
  const { facts, factory, byRole } = context
  const tone = byRole.tone?.key
  const same = (s: State) => !tone || s[tone] === facts.state[tone]
  const whites = new Map<string, number>()
  for (const r of facts.readings) if (r.patch.key === WHITE.key) whites.set(stateKey(r.state), r.xyz[1])
  const out = new Map<number, number>()
  for (const r of [...(factory?.byPatch.values() ?? []), ...facts.readings]) {
    const level = greyLevel(r.patch)
    const own = whites.get(stateKey(r.state))
    if (level === undefined || level < 0.09 || level > 0.41 || !own || !same(r.state)) continue
    if (differsIn(facts.sheet, ONE_CURVE, r.state, facts.state).length) continue
    out.set(level, (r.xyz[1] / own) * white)
  }
  return [...out].map(([level, luminance]) => ({ level, luminance }))
}

/** What other values of the black level showed: offsets by value, and what a click moved. */
const blackHistory = (context: RouteContext, control: NumberControl, white: number) => {
  const { facts } = context
  const groups = new Map<number, Map<number, RouteReading>>()
  const light = context.byRole.light?.key
  for (const r of facts.readings) {
    const level = greyLevel(r.patch)
    if (level === undefined || level > 0.06) continue
    if (light && r.state[light] !== facts.state[light]) continue
    if (differsIn(facts.sheet, ONE_BLACK, r.state, facts.state).length) continue
    const value = Number(r.state[control.key])
    const own = groups.get(value) ?? new Map<number, RouteReading>()
    own.set(level, r)
    groups.set(value, own)
  }
  const far = farShades(context, white)
  const values = [...groups].flatMap(([value, near]) => {
    const verdict = verdictOfBlack(near, control, far, white)
    return verdict && near.size > 1 ? [{ value, offset: verdict.offset }] : []
  })
  const [a, b] = values
  const clicks = a && b ? (b.value - a.value) / control.range.step : 0
  const perClick = a && b && clicks !== 0 ? (b.offset - a.offset) / clicks : undefined
  return { values, perClick: perClick !== undefined && Math.abs(perClick) > 1e-5 ? perClick : undefined }
}

// ---------------------------------------------------------------- near white

/**
 * Slope over the last steps below which a channel counts as clipped, against the steps before; level-by-level values make it uneven.
 */
const CLIPPED = { first: 0.6, again: 0.3 } as const

const whiteEndPart = (
  context: RouteContext,
  again: boolean,
): { plan: StepPlan; findings?: WhiteLevelVerdict } => {
  const { facts, byRole, channelMatrix } = context
  const control = byRole.whiteLevel
  if (!channelMatrix) return { plan: done('') }
  if (!again && knownEnd(context, control, 'white', (m) => m.every((slope) => slope > CLIPPED.first)))
    return { plan: done('white level as in the case before', { derived: keptEnd(context, control) }) }
  const wanted = [WHITE, ...NEAR_WHITE.map((p) => grey(p))]
  const near = nearReadings(context, again, control, wanted)
  const missing = wanted.filter((p) => !near.has(p.signal[0]) && !facts.leftOut.includes(p.key))
  if (missing.length)
    return reading(
      missing,
      again
        ? 'Looks again whether the last steps below white stay apart.'
        : 'Looks whether the last steps below white stay apart in red, green and blue.',
    )
  const readings = [1, 0.98, 0.96].map((l) => near.get(l))
  if (readings.some((r) => r === undefined)) return { plan: done('') }
  const [top, middle, low] = readings as [RouteReading, RouteReading, RouteReading]
  const shares = (xyz: XYZ) => channelShares(channelMatrix, xyz)
  const [a, b, c] = [shares(top.xyz), shares(middle.xyz), shares(low.xyz)]
  const slopes = [0, 1, 2].map((i) => (a[i]! - b[i]!) / Math.max(1e-9, b[i]! - c[i]!)) as [
    number,
    number,
    number,
  ]
  const least = again ? CLIPPED.again : CLIPPED.first
  const apart = slopes.every((s) => s > least)
  const verdict: WhiteLevelVerdict = {
    value: control ? facts.state[control.key] : undefined,
    slopes,
    apart,
    readingIds: readings.map((r) => r!.id),
  }
  const lost = CHANNELS.filter((_, i) => slopes[i]! <= least)
  const said = apart ? 'steps below white stay apart' : `${lost.join(' and ')} clipped below white`
  const finish = (limits: Limit[] = []) => ({
    plan: done(said, {
      limits,
      derived: control
        ? [
            {
              control: control.key,
              step: 'levels' as const,
              value: facts.state[control.key]!,
              rule: apart
                ? 'the last steps below white stay apart in red, green and blue'
                : `the lowest value left the last steps of ${lost.join(' and ')} alike`,
              readingIds: verdict.readingIds,
            },
          ]
        : [],
    }),
    findings: verdict,
  })
  if (apart || !control || !context.movable(control))
    return apart
      ? finish()
      : finish([
          {
            step: 'levels',
            sentence: `The last steps below white are alike in ${lost.join(' and ')}, and there is no white level to lower.`,
          },
        ])
  const { min, step } = control.range
  const from = Number(facts.state[control.key])
  const values = new Set(facts.readings.map((r) => Number(r.state[control.key])))
  const tried = values.size - 1
  const jump = Math.max(1, Math.round((0.02 / (0.08 / reachOf(control))) * (1 + tried)))
  const to = Math.max(min, from - jump * step)
  if (to === from || tried > 4)
    return finish([
      {
        step: 'levels',
        sentence: `The last steps below white are alike in ${lost.join(' and ')} even with ${quoted(control)} at ${shown(control, from)}.`,
      },
    ])
  return {
    plan: open({
      kind: 'adjust',
      adjustment: {
        step: 'levels',
        changes: [{ control: control.key, from, to: Number(to.toFixed(9)) }],
        reads: [WHITE, ...NEAR_WHITE.map((p) => grey(p))],
        purpose: `Lowers white until the last steps of ${lost.join(' and ')} part.`,
        predictions: [],
      },
    }),
    findings: verdict,
  }
}

/** Whether an earlier case of the unit or model found an end right at the value of now: then it is only looked at again after white. */
const knownEnd = (
  { facts }: RouteContext,
  control: NumberControl | undefined,
  which: 'black' | 'white',
  right: (mean: readonly number[]) => boolean,
): boolean =>
  control !== undefined &&
  facts.priors.some(
    (l) =>
      l.kind === 'clipping' &&
      l.control === control.key &&
      l.aspect === which &&
      l.at[0] === Number(facts.state[control.key]) &&
      right(l.mean),
  )
const keptEnd = ({ facts }: RouteContext, control: NumberControl | undefined): Derived[] =>
  control
    ? [
        {
          control: control.key,
          step: 'levels',
          value: facts.state[control.key]!,
          rule: 'right at this value in an earlier case, looked at again after white',
          readingIds: [],
        },
      ]
    : []

// ---------------------------------------------------------------- the step

/**
 * The levels step: luminance of white with its room table, where black ends, whether the last steps below white stay apart.
 * In: context; whether white was begun (luminance is then only touched again where it left the target), whether this
 * state was verified; which part: luminance alone, both ends as well (once the tone curve is chosen), or both ends again after
 * white was moved.
 */
export const levelsStep = (
  context: RouteContext,
  {
    whiteBegun,
    verified,
    part,
  }: { whiteBegun: boolean; verified: boolean; part: 'luminance' | 'ends' | 'again' },
): { plan: StepPlan; findings: LevelsFindings } => {
  const luminance = luminancePart(context, whiteBegun, verified)
  const again = part === 'again'
  const black = luminance.plan.next || part === 'luminance' ? undefined : blackPart(context, again)
  const whiteLevel = !black || black.plan.next ? undefined : whiteEndPart(context, again)
  const parts = [luminance, black, whiteLevel].flatMap((p) => (p ? [p.plan] : []))
  const findings: LevelsFindings = {
    luminance: luminance.findings,
    black: black?.findings,
    whiteLevel: whiteLevel?.findings,
  }
  const next = parts.find((p) => p.next)?.next
  const plan: StepPlan = {
    status: next ? 'open' : 'done',
    note: luminance.plan.note || black?.plan.note || '',
    next,
    derived: parts.flatMap((p) => p.derived),
    limits: parts.flatMap((p) => p.limits),
  }
  return { plan, findings }
}

/** Patches that the levels step reads near both ends. */
export const NEAR_ENDS: readonly Patch[] = [...NEAR_BLACK, ...NEAR_WHITE].map(grey)
