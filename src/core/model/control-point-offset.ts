import type { ControlsByRole } from './controls-by-role'
import { type Aspect, type EffectPrior, expectedEffect } from './expected-response'
import { fitGaussian } from './gaussian'
import { COARSE, CONTROL_POINT_OFFSET_USUAL, FINE } from './tuning'

/** A change of drive at a level that clicks of level-by-level controls made, as two readings tell it. */
export interface LevelChange {
  /** Signal, 0…1. */
  readonly level: number
  /** Clicks by control key. */
  readonly clicks: ReadonlyMap<string, number>
  /** Drive after minus drive before. */
  readonly change: number
  readonly sigma: number
}

/**
 * Where the controls of one channel lie against the signal: a display whose level controls sit behind its gains moves
 * 50 % with the control for 45 % once a gain was lowered.
 * In: controls, aspect, changes that were read. Out: factor by which a signal level is to be multiplied; 1 without evidence.
 */
export const controlPointOffsetOf = (
  byRole: ControlsByRole,
  aspect: Aspect,
  changes: readonly LevelChange[],
  learned: (control: string) => EffectPrior | undefined,
): number => {
  if (changes.length < 3) return 1
  const controls = byRole.levelWhite.filter((c) => changes.some((o) => o.clicks.get(c.control.key)))
  const n = changes.length
  const scoreOf = (factor: number): number => {
    const kernel = new Float64Array(n * n)
    const expected = new Float64Array(n)
    const groups = new Map<string, Float64Array>()
    const add = (v: Float64Array) => {
      for (let i = 0; i < n; i++) {
        if (v[i] === 0) continue
        for (let j = 0; j <= i; j++) kernel[i * n + j] = kernel[i * n + j]! + v[i]! * v[j]!
      }
    }
    for (const { control } of controls) {
      const effect = expectedEffect(byRole, control, aspect, factor, learned(control.key))
      const clicks = changes.map((o) => o.clicks.get(control.key) ?? 0)
      for (let i = 0; i < n; i++)
        if (clicks[i] !== 0) expected[i] = expected[i]! + clicks[i]! * effect.mean(changes[i]!.level)
      for (const term of effect.terms) {
        const v = term.group ? (groups.get(term.group) ?? new Float64Array(n)) : new Float64Array(n)
        for (let i = 0; i < n; i++)
          if (clicks[i] !== 0) v[i] = v[i]! + clicks[i]! * term.sigma * term.shape(changes[i]!.level)
        if (term.group) groups.set(term.group, v)
        else add(v)
      }
    }
    for (const v of groups.values()) add(v)
    const { evidence } = fitGaussian(
      kernel,
      changes.map((o, i) => o.change - expected[i]!),
      changes.map((o) => o.sigma),
    )
    return evidence - ((factor - 1) / CONTROL_POINT_OFFSET_USUAL) ** 2 / 2
  }
  const coarse = bestOf(COARSE, scoreOf)
  return bestOf([coarse - FINE, coarse, coarse + FINE], scoreOf)
}

const bestOf = (candidates: readonly number[], scoreOf: (factor: number) => number): number => {
  const scores = candidates.map(scoreOf)
  return candidates[scores.indexOf(Math.max(...scores))]!
}
