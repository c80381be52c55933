import type { Channel } from '#core/display'
import { JUDGED_LEVELS } from '#core/measure'
import type { GreyModel } from '#core/model'
import { greyReadingIds, type RouteContext, type StepContext } from '../facts/context'
import { timesGoneOn } from '../facts/depth'
import type { LevelError } from '../facts/findings'
import {
  LEVEL_WHITE_DARK,
  type LEVEL_WHITE_FROM,
  READINGS_WITH_PRIORS,
  TONE_OFF,
  TONE_OFF_AGAIN,
  TONE_OFF_BY_HAND,
} from '../tuning'
import { correctedFrom, errorsOf, isToneOff, readingsSpent, withinScatter } from './level-errors'

/** Everything that multi-point white balance decides from. Errors in chromatic ΔE00, levels are signals, 0…1. */
export interface Look {
  readonly context: StepContext
  readonly model: GreyModel
  /** Amounts of the controls as they are set now. */
  readonly now: Float64Array
  readonly controls: { readonly white: readonly AtLevel[]; readonly tone: readonly AtLevel[] }
  /** Levels that have a control or are judged, the darkest first; and their errors. */
  readonly readable: readonly number[]
  readonly levels: readonly LevelError[]
  /** Those of them that are bright enough to be judged. */
  readonly seen: readonly LevelError[]
  /** Levels whose error is within the scatter of reading. */
  readonly settled: ReadonlySet<number>
  readonly mean: number
  readonly worst: LevelError
  /** Adjustments of single levels that were made. */
  readonly made: number
  readonly hasPriors: boolean
  /** What the policy says of single levels. */
  readonly policy: keyof typeof LEVEL_WHITE_FROM
  /** Error from which a level is corrected; whether tone is corrected with it. */
  readonly from: number
  readonly toneOff: boolean
  /** How often it may go through its readings, and how many of them are left. */
  readonly rounds: number
  readonly budget: number
  readonly readingIds: readonly number[]
}
type AtLevel = RouteContext['byRole']['levelTone'][number] & { readonly channel?: Channel }

/** In HDR the next level beyond the scale of greys only tells how far the highest reaches. */
export const isUsable = (context: StepContext, { level, control }: AtLevel): boolean =>
  level <= 1 && context.movable(control)

export const lookOf = (context: StepContext, model: GreyModel, now: Float64Array): Look => {
  const { facts, scale, byRole } = context
  const white = byRole.levelWhite.filter((l) => isUsable(context, l))
  const tone = byRole.levelTone.filter((l) => isUsable(context, l))
  const own = [...new Set([...white, ...tone].map((l) => l.level))]
  // What is judged counts as well as what has a control.
  const readable = [...new Set([...own, ...JUDGED_LEVELS])]
    .filter((l) => l >= 0.019 && model.levels.includes(l))
    .sort((a, b) => a - b)
  const keys = new Set([...white, ...tone].map((l) => l.control.key))
  const hasPriors = facts.priors.some((l) => keys.has(l.control))
  const made = facts.adjustments.filter(
    (m) => m.step === 'level-white' && m.changes.length > 1 && m.changes.some((c) => keys.has(c.control)),
  ).length
  const levels = errorsOf(context, model, now, readable)
  const seen = levels.filter((l) => l.level >= LEVEL_WHITE_DARK)
  // Once single levels were moved, another click of light is no reason to move them all again.
  const toneFrom = (made > 1 ? TONE_OFF_AGAIN : TONE_OFF) * (facts.hand ? TONE_OFF_BY_HAND : 1)
  const rounds = 1 + timesGoneOn(facts)
  // A policy that stops at two-point does not come here.
  const policy = facts.policy.levelWhite as Look['policy']
  return {
    context,
    model,
    now,
    controls: { white, tone },
    readable,
    levels,
    seen,
    settled: made > 0 && scale.levelsSettle ? withinScatter(context, model, now, levels) : new Set(),
    mean: seen.reduce((s, l) => s + l.error, 0) / Math.max(1, seen.length),
    worst: seen.reduce((a, b) => (b.error > a.error ? b : a), seen[0] ?? { level: 1, error: 0, tone: 0 }),
    made,
    hasPriors,
    policy,
    from: correctedFrom(policy, made > 0),
    toneOff:
      (tone.length > 0 || white.some((l) => l.channel === 'green')) &&
      seen.some((l) => isToneOff(l, toneFrom) && l.level < 0.91),
    rounds,
    budget: rounds * (hasPriors ? READINGS_WITH_PRIORS : scale.levelReadings) - readingsSpent(facts),
    readingIds: greyReadingIds(context, model),
  }
}
