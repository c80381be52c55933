import { gammaAt } from '#core/colorimetry'
import { type Control, type ControlValue, type Role, type State, sameBut } from '#core/display'
import { greyLevel, type PatchSet } from '#core/measure'
import { placeOf, predictGrey, quoted, shown } from '#core/model'
import { curveOf, sayTone } from '#core/target'
import { adjust, defineStep, done, type StepPlan, sdrCases } from '../contract'
import type { RouteContext, StepContext } from '../facts/context'
import { changeTo } from '../facts/each-value'
import { differsIn, type RouteReading } from '../facts/facts'
import type { ToneOption } from '../facts/findings'
import { LIGHT } from '../rests-on'
import { MOST_CHOICES, NAMES_AGREE, NEAR_IN_TONE, TONE_LEVELS, TONE_WORTH, TONE_WORTH_AGAIN } from '../tuning'
import { noToneControl, toneLocked, toneOutOfReach } from './say'
import { guessOptions } from './tone-guess'

/** What was read of one value of the tone control while nothing else was moved, by level. */
interface Group {
  /** Everything else that bends a curve or moves white, as it stood. */
  readonly under: string
  readonly levels: ReadonlyMap<number, RouteReading>
}

/** Roles that move white or the lower end of a curve: curves are compared while these stand alike. */
const BENDING: readonly Role[] = ['gain', 'cut', 'white-preset', 'black-level']

/**
 * Readings by value of the tone control, the newest of each level, taken while nothing that tone rests on was other than now: those that belong
 * together in groups, the newest group last.
 */
const measuredValues = (context: RouteContext, control: Control): Map<ControlValue, Group[]> => {
  const { facts } = context
  const bending = facts.sheet.controls.filter((c) => BENDING.includes(c.role))
  const all = new Map<ControlValue, Map<string, Map<number, RouteReading>>>()
  for (const r of facts.readings) {
    const level = greyLevel(r.patch)
    const value = r.state[control.key]
    if (level === undefined || level < 0.19 || level > 0.91 || value === undefined) continue
    if (differsIn(facts, LIGHT, r.state, facts.state).length > 0) continue
    // Levels that were moved one by one say nothing of the curve itself.
    if (movedByLevel(context, r.state)) continue
    const under = bending.map((c) => r.state[c.key]).join()
    const own = all.get(value) ?? new Map<string, Map<number, RouteReading>>()
    const levels = own.get(under) ?? new Map<number, RouteReading>()
    levels.set(level, r)
    own.delete(under)
    own.set(under, levels)
    all.set(value, own)
  }
  return new Map(
    [...all].map(([value, own]) => [value, [...own].map(([under, levels]) => ({ under, levels }))]),
  )
}

const complete = ({ levels }: Group) => TONE_LEVELS.filter((p) => levels.has(p / 100)).length
/** The group that was read most completely, the newest of those. */
const fullest = (groups: readonly Group[]): Group =>
  groups.reduce((a, b) => (complete(b) >= complete(a) ? b : a))
const isKnown = (groups: readonly Group[] | undefined): groups is readonly Group[] =>
  groups !== undefined && fullest(groups).levels.size >= 2

/** Whether level-by-level values stand elsewhere than at neutral in a state. */
export const movedByLevel = ({ byRole }: RouteContext, state: State): boolean =>
  [...byRole.levelWhite, ...byRole.levelTone].some(
    ({ control }) => state[control.key] !== (control.neutral ?? control.default),
  )

/** The newest reading of white in the same settings, the tone curve aside. */
const whiteReadAt = ({ byRole, facts, patches }: RouteContext, state: State): RouteReading | undefined => {
  const but = byRole.tone ? [byRole.tone.key] : []
  return facts.readings.findLast((r) => r.patch.key === patches.white.key && sameBut(r.state, state, but))
}

/**
 * White and black that belong to a reading, cd/m²: white as it was read in the same settings, the tone curve aside, or as
 * the luminance control tells it.
 */
const whiteAndBlackAt = (
  context: RouteContext,
  state: State,
): { white: number; black: number; readingIds: readonly number[] } => {
  const { light, byRole, facts, outOfBox, patches } = context
  const curve = (s: State) =>
    light && byRole.light ? light.curve.at(placeOf(byRole.light, s[byRole.light.key])) : undefined
  const read = whiteReadAt(context, state)
  const white = read?.xyz[1] ?? curve(state) ?? facts.targets.luminance
  const dark = outOfBox?.byPatch.get(patches.black.key)
  const bright = outOfBox?.byPatch.get(patches.white.key)
  const black = dark && bright ? Math.max(0, dark.xyz[1]) * (white / bright.xyz[1]) : 0
  const whites = read ? [read.id] : curve(state) === undefined ? [] : (light?.readingIds ?? [])
  return { white, black, readingIds: [...whites, ...(dark && bright ? [dark.id, bright.id] : [])] }
}

/** Exponent by level, with the readings that it comes from. */
type Exponents = ReadonlyMap<number, { readonly exponent: number; readonly readingIds: readonly number[] }>

const exponentsOf = (context: RouteContext, { levels }: Group): Exponents => {
  const whole = TONE_LEVELS.every((p) => levels.has(p / 100))
  return new Map(
    [...levels].flatMap(([level, r]) => {
      // Values are compared at the same levels.
      if (whole && !TONE_LEVELS.some((p) => p / 100 === level)) return []
      const ends = whiteAndBlackAt(context, r.state)
      const exponent = gammaAt(level, r.xyz[1], ends)
      return Number.isFinite(exponent)
        ? [[level, { exponent, readingIds: [r.id, ...ends.readingIds] }] as const]
        : []
    }),
  )
}

/**
 * The present value as it is now: once white or black were moved after it was read, as the model of greys brings it over. Out: exponents; those
 * that were read where there is no model.
 */
const exponentsNow = (context: RouteContext, groups: readonly Group[]): Exponents => {
  const { facts } = context
  const read = exponentsOf(context, fullest(groups))
  const model = differsIn(facts, BENDING, fullest(groups).levels.values().next().value!.state, facts.state)
    .length
    ? context.grey()
    : undefined
  const light = model && predictGrey(model, facts.state)
  if (!model || !light) return read
  const at = (level: number) => light[model.levels.indexOf(level)]?.[1]
  const [white, { black }] = [at(1), whiteAndBlackAt(context, facts.state)]
  if (white === undefined) return read
  const ids = [...read.values()].flatMap((e) => e.readingIds)
  return new Map(
    TONE_LEVELS.flatMap((p) => {
      const exponent = gammaAt(p / 100, at(p / 100) ?? Number.NaN, { white, black })
      return Number.isFinite(exponent) ? [[p / 100, { exponent, readingIds: ids }] as const] : []
    }),
  )
}

/**
 * A value of the tone control against the target. A value that stands no longer is brought over to now by how far it lay from the present one
 * while all else stood alike. In: context, control, value, groups of readings by value. Out: undefined where it was not read.
 */
const optionOf = (
  context: RouteContext,
  control: Control,
  value: ControlValue,
  measured: ReadonlyMap<ControlValue, readonly Group[]>,
): ToneOption | undefined => {
  const { facts } = context
  const now = facts.state[control.key]!
  const groups = measured.get(value)
  if (!groups) return undefined
  const present = measured.get(now)
  const exponents = new Map(
    value === now ? exponentsNow(context, groups) : exponentsOf(context, fullest(groups)),
  )
  const beside = present?.find((g) => g.under === fullest(groups).under && g.levels.size >= 2)
  if (value !== now && present && beside) {
    const [then, current] = [exponentsOf(context, beside), exponentsNow(context, present)]
    for (const [level, own] of exponents) {
      const [a, b] = [then.get(level), current.get(level)]
      if (!a || !b) exponents.delete(level)
      else
        exponents.set(level, {
          exponent: own.exponent - a.exponent + b.exponent,
          readingIds: [...own.readingIds, ...a.readingIds, ...b.readingIds],
        })
    }
  }
  if (exponents.size === 0) return undefined
  const ends = whiteAndBlackAt(context, facts.state)
  const all = [...exponents]
  const mean = (of: (level: number, exponent: number) => number) =>
    all.reduce((sum, [level, { exponent }]) => sum + of(level, exponent), 0) / all.length
  return {
    value,
    label: shown(control, value),
    exponent: mean((_, exponent) => exponent),
    off: Math.sqrt(
      mean(
        (level, exponent) =>
          (exponent - gammaAt(level, curveOf(facts.targets.tone).luminanceOf(level, ends), ends)) ** 2,
      ),
    ),
    measured: true,
    readingIds: [...new Set(all.flatMap(([, { readingIds }]) => readingIds))],
  }
}

const readsAt = (
  { grey }: PatchSet,
  levels: readonly number[],
  have: ReadonlyMap<number, unknown> | undefined,
) => levels.filter((p) => !have?.has(p / 100)).map(grey)

/** Mean exponent that the target asks for over the middle levels. */
const wantedExponent = (context: RouteContext): number => {
  const ends = whiteAndBlackAt(context, context.facts.state)
  const all = TONE_LEVELS.map((p) =>
    gammaAt(p / 100, curveOf(context.facts.targets.tone).luminanceOf(p / 100, ends), ends),
  )
  return all.reduce((a, b) => a + b, 0) / all.length
}

/** Where no value of the control can be set: what is said of it. */
const planWithout = ({ facts, byRole, begun }: StepContext, byLevel: boolean): StepPlan => {
  const control = byRole.tone
  const limit = control ? toneLocked({ control, why: facts.refused[control.key] }) : noToneControl
  return done(control ? 'locked' : 'no control for it', {
    limits: byLevel || !begun ? [] : [limit],
  })
}

/** Sets a value and reads its curve. */
const measureTone = (
  context: StepContext,
  control: Control,
  measured: ReadonlyMap<ControlValue, readonly Group[]>,
  to: ControlValue,
  purpose: string,
): StepPlan => {
  const { facts, patches } = context
  const known =
    to === facts.state[control.key] && !isKnown(measured.get(to)) ? measured.get(to)?.at(-1) : undefined
  // Gamma is counted from white, which another preset or white level has made another one.
  const reads = [
    ...(whiteReadAt(context, facts.state) ? [] : [patches.white]),
    ...readsAt(patches, TONE_LEVELS, known?.levels),
  ]
  return adjust({
    changes: changeTo(facts.state, control, to),
    reads: reads.length ? reads : [patches.grey(50)],
    purpose,
  })
}

/**
 * The tone step: what each value of the tone control measures, and the one nearest to the target. What earlier cases
 * told of the values makes it enough to measure the best of them.
 */
const planTone = (context: StepContext): { plan: StepPlan; options: readonly ToneOption[] } => {
  const { facts, byRole } = context
  const control = byRole.tone
  const byLevel = [...byRole.levelTone, ...byRole.levelWhite].some((c) => context.movable(c.control))
  if (!control || !context.movable(control)) return { plan: planWithout(context, byLevel), options: [] }
  const measured = measuredValues(context, control)
  const options = [...measured.keys()].flatMap((value) => optionOf(context, control, value, measured) ?? [])
  if (movedByLevel(context, facts.state))
    // Single levels were moved on top of the curve: it is not reopened under them.
    return {
      plan: done('kept under multi-point values', { derived: keptCurve(context, control, options) }),
      options,
    }
  return { plan: chooseTone(context, control, measured, options, byLevel), options }
}

/** Measures what is missing, then takes the value closest to the target. */
const chooseTone = (
  context: StepContext,
  control: Control,
  measured: ReadonlyMap<ControlValue, readonly Group[]>,
  options: readonly ToneOption[],
  byLevel: boolean,
): StepPlan => {
  const { facts, whiteBegun } = context
  const aim = `target ${sayTone(facts.targets.tone)}`
  const now = facts.state[control.key]!
  const measure = (to: ControlValue, purpose: string) => measureTone(context, control, measured, to, purpose)
  if (!isKnown(measured.get(now))) return measure(now, 'Measures this gamma setting.')
  const guessed = guessOptions(context, control, options, wantedExponent(context))
  // What is only guessed has to promise something to be measured.
  const best = [...options, ...guessed].reduce((a, b) =>
    b.off < a.off - (b.measured ? 1e-9 : TONE_WORTH) ? b : a,
  )
  const unknown = valuesToMeasure(control, measured, guessed, best)
  if (unknown !== undefined)
    return measure(unknown, `Measures ${quoted(control)} ${shown(control, unknown)}.`)
  const own = options.find((o) => o.value === now)!
  if (best.value !== now && own.off - best.off > (whiteBegun ? TONE_WORTH_AGAIN : TONE_WORTH))
    return measure(
      best.value,
      `Chooses the setting closest to the ${aim}: gamma ${best.exponent.toFixed(2)}.`,
    )
  return done(`gamma ${own.exponent.toFixed(2)}, ${aim}`, {
    derived: [
      {
        control: control.key,
        value: now,
        rule: `closest to the ${aim}: measures as ${own.exponent.toFixed(2)}`,
        readingIds: options.flatMap((o) => o.readingIds),
      },
    ],
    limits: own.off > 0.1 && !byLevel ? [toneOutOfReach({ control, aim, exponent: own.exponent })] : [],
  })
}

const keptCurve = ({ facts }: RouteContext, control: Control, options: readonly ToneOption[]) => [
  {
    control: control.key,
    value: facts.state[control.key]!,
    rule: `the setting closest to the target ${sayTone(facts.targets.tone)}, the rest by multi-point controls`,
    readingIds: options.flatMap((o) => o.readingIds),
  },
]

/** The next value that has to be measured before one can be chosen, or undefined. */
const valuesToMeasure = (
  control: Control,
  measured: ReadonlyMap<ControlValue, readonly Group[]>,
  guessed: readonly ToneOption[],
  best: ToneOption,
): ControlValue | undefined => {
  if (guessed.length && !best.measured) return best.value
  if (guessed.length && (control.kind === 'number' || best.off <= NEAR_IN_TONE)) return undefined
  if (control.kind === 'choice')
    return (
      control.choices
        .slice(0, MOST_CHOICES)
        .filter((c) => !isKnown(measured.get(c.value)))
        .map(({ value }) => ({ value, off: guessed.find((g) => g.value === value)?.off ?? 0 }))
        // One that is expected further away than a guess may be wrong is not looked at.
        .filter(({ off }) => off < best.off + NAMES_AGREE - TONE_WORTH)
        .sort((a, b) => a.off - b.off)[0]?.value
    )
  // A number: a second place tells which way it goes.
  const { min, max, step } = control.range
  const quarter = Math.max(1, Math.round((max - min) / step / 4)) * step
  const from = Number([...measured.keys()][0])
  const to = from + quarter <= max ? from + quarter : from - quarter
  return measured.size < 2 ? Number(Math.max(min, to).toFixed(9)) : undefined
}

export const tone = defineStep({
  key: 'tone',
  title: 'Gamma',
  restsOn: LIGHT,
  cases: sdrCases,
  finds: ['tones'],
  measures: true,
  plan: (context) => {
    const { plan, options } = planTone(context)
    return { ...plan, findings: { tones: options } }
  },
})
