import type { NumberControl, Role } from '#core/display'
import { greyLevel, JUDGED_LEVELS, type Patch } from '#core/measure'
import { drivesAt, type GreyModel, type GreySpread, RUNS_OUT } from '#core/model'
import { expectedError, toneOfWhite } from '#core/solve'
import type { RouteContext } from '../facts/context'
import { differsIn, freshFor, type RouteFacts } from '../facts/facts'
import type { LevelError } from '../facts/findings'
import { COLOUR, CURVE } from '../rests-on'
import {
  FAR_MOVED,
  LEVEL_WHITE_DARK,
  LEVEL_WHITE_FROM,
  ONCE_BEGUN,
  SCATTER_OF_LEVEL,
  TONE_OFF_DARK,
  UNSURE,
} from '../tuning'
import { aimOf, greyPredictions, inDeltaE2000 } from './grey-adjustments'

/** What single levels are moved on. */
export const TWO_POINT: readonly Role[] = [...CURVE, 'white-preset', 'gain', 'cut']

/** A level as the menu counts it, percent of the signal. */
export const percent = (level: number) => Math.round(level * 1000) / 10

/** Whether tone is off at a level: by a share of the drive, below a fifth of the signal by what is seen of light there. */
export const isToneOff = ({ level, tone }: LevelError, from: number): boolean =>
  Math.abs(tone) > (level < 0.19 ? Math.max(from, TONE_OFF_DARK) : from)

/** How much tone counts at a level against colour: eyes that have adapted see the share of light, which ΔE00 makes little of near black. */
export const toneShareAt = (level: number): number => (level < 0.06 ? 4 : level < 0.15 ? 2 : 1)

/** Readings that the step has taken since what it rests on changed last. */
export const readingsSpent = (facts: RouteFacts): number => {
  const own = new Set(facts.adjustments.filter((m) => m.step === 'level-white').map((m) => m.runId))
  return freshFor(facts, TWO_POINT).filter((r) => r.purpose === 'adjust' && own.has(r.runId)).length
}

/** Signals of greys that were read in the settings of now. */
export const readSince = (facts: RouteFacts, unmoved: boolean): ReadonlySet<number> =>
  new Set(
    unmoved
      ? facts.readings.flatMap((r) =>
          differsIn(facts, COLOUR, r.state, facts.state).length === 0 ? [greyLevel(r.patch) ?? -1] : [],
        )
      : [],
  )

/**
 * The levels at which a reading tells most of what is not known of white after a change, brightest first.
 * In: amounts before and after; what may be read; levels that were read already; how many at most, and at least. Out: patches; none where all is known well enough.
 */
export const unsureLevels = (
  context: RouteContext,
  model: GreyModel,
  { now, after }: { now: Float64Array; after: Float64Array },
  spread: GreySpread,
  among: { readable: readonly number[]; fresh: ReadonlySet<number>; most: number; least: number },
): Patch[] => {
  const { patches, facts } = context
  const open = among.readable.filter(
    (l) =>
      l >= LEVEL_WHITE_DARK && !among.fresh.has(l) && !facts.leftOut.includes(patches.grey(percent(l)).key),
  )
  const aim = aimOf(context, model, open, 0)
  const told = greyPredictions(context, model, aim, now, after, open, spread)
  // The judged levels first: between them neighbours tell. What moves far is believed when it is seen.
  const ranked = open
    .map((level, i) => ({
      level,
      sigma:
        Math.hypot(told[i]!.sigma, FAR_MOVED * (told[i]!.after - told[i]!.before)) *
        (JUDGED_LEVELS.includes(level) ? 1 : 0.6),
    }))
    .sort((a, b) => b.sigma - a.sigma)
  return ranked
    .filter(({ sigma }, i) => i < among.most && (i < among.least || sigma > UNSURE))
    .sort((a, b) => b.level - a.level)
    .map(({ level }) => patches.grey(percent(level)))
}

/** Errors of single levels as the model expects them. */
export const errorsOf = (
  context: RouteContext,
  model: GreyModel,
  amounts: Float64Array,
  levels: readonly number[],
): LevelError[] => {
  const aim = aimOf(context, model, levels, 0)
  return levels.map((level): LevelError => {
    const at = model.levels.indexOf(level)
    const wanted = aim.curve.luminanceOf(level, { white: 1, black: aim.black }) - aim.black
    const top = toneOfWhite(model, aim, amounts)
    const tone =
      drivesAt(model, at, amounts).tone /
      top /
      Math.max(1e-9, wanted / (1 - aim.black)) ** (1 / model.exponent)
    return {
      level,
      error: expectedError(model, { ...inDeltaE2000(aim), levels: [{ at, weight: 1 }] }, amounts),
      tone: tone - 1,
    }
  })
}

/** Levels whose error is no more than what is not known of it: moving them would follow the scatter of reading, to and fro. */
export const withinScatter = (
  context: RouteContext,
  model: GreyModel,
  now: Float64Array,
  levels: readonly LevelError[],
): ReadonlySet<number> => {
  const at = levels.map((l) => l.level)
  const told = greyPredictions(context, model, aimOf(context, model, at, 0), now, now, at)
  return new Set(levels.flatMap((l, i) => (l.error < SCATTER_OF_LEVEL * told[i]!.sigma ? [l.level] : [])))
}

/** Levels that a change takes from above the threshold to well below where they are. */
export const correctedLevels = (
  context: RouteContext,
  model: GreyModel,
  now: Float64Array,
  after: Float64Array,
  levels: readonly number[],
  from: number,
): number[] => {
  const [a, b] = [errorsOf(context, model, now, levels), errorsOf(context, model, after, levels)]
  return levels.filter((l, i) => l >= 0.09 && a[i]!.error > from && a[i]!.error - b[i]!.error > 0.2)
}

/** Error from which a policy corrects a level, chromatic ΔE00. In: policy, whether other levels were corrected already. */
export const correctedFrom = (policy: keyof typeof LEVEL_WHITE_FROM, begun: boolean): number =>
  // Where the page is open already, the last clicks are worth more than their price.
  LEVEL_WHITE_FROM[policy] * (begun ? ONCE_BEGUN : 1)

/** Why a value of a single level was set, for the guide. */
export const ruleOf = (
  { role, channel, level = 0 }: NumberControl,
  policy: keyof typeof LEVEL_WHITE_FROM,
  greenFree: boolean,
): string => {
  if (role === 'level-tone') return 'luminance of this level brought to the target tone'
  if (channel === 'green' && !greenFree && level > RUNS_OUT)
    return 'green adjusted because another channel cannot go any further up'
  if (channel === 'green' && !greenFree)
    return 'moved with red and blue, for the luminance of this level: white balance leaves green alone'
  return policy === 'every' ? 'every level corrected' : 'levels above the visible threshold corrected'
}
