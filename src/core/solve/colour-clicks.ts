import { deltaE2000, xyToXyz, xyzToLab } from '#core/colorimetry'
import { colourError } from '#core/judge'
import { isMemoryColour, type Patch } from '#core/measure'
import { addClicks, type ColourControl, type ColourModel, channelsUnder, reachOf } from '#core/model'
import type { Target } from '#core/target'
import { AT_ONCE, COLOUR_CLICKS_NEAR, COLOUR_CLICKS_PER_CLICK, FIRST_TIME, TAKEN_BACK } from './tuning'

/** Weights of patches in what colour management is judged by: skin counts most, full colours less than things. */
const weightOf = (patch: Patch): number =>
  patch.key.includes('natural-skin') ? 1.4 : isMemoryColour(patch.key) ? 1 : 0.5

export const errorsUnder = (model: ColourModel, target: Target, clicks: readonly number[]): number[] =>
  model.patches.map(
    (patch, p) =>
      colourError(model.toXyz(channelsUnder(model, p, clicks)), target.xyzOf(patch.signal), target).deltaE,
  )

export const weightedMean = (patches: readonly Patch[], errors: readonly number[]): number => {
  const weights = patches.map(weightOf)
  const total = weights.reduce((a, b) => a + b, 0)
  return errors.reduce((s, e, i) => s + e * weights[i]!, 0) / total
}

/** Whether a control moves a patch at all. */
const isMoved = (model: ColourModel, patch: number, control: number): boolean => {
  const { up, down } = model.response[patch]![control]!
  return [...up, ...down].some((v) => Math.abs(v) > 1e-7)
}

/**
 * Whole clicks of colour management with the least weighted error over all patches.
 * In: model, target, controls that may be moved, and whether it was seen what each does: if not, it goes a short way. Out: clicks from now, and the error.
 */
export const solveColours = (
  model: ColourModel,
  target: Target,
  allowed: readonly ColourControl[],
  isKnown: (control: ColourControl) => boolean = () => true,
): { clicks: number[]; error: number } => {
  const { controls, patches } = model
  const ranges = controls.map((c, q) => {
    if (!allowed.includes(c)) return { low: 0, high: 0 }
    const { min, max, step } = c.control.range
    const neutral = Number(c.control.neutral ?? c.control.default)
    // Not further at once than what was read can answer for.
    const most = Math.max(3, Math.round(reachOf(c.control) * (isKnown(c) ? AT_ONCE : FIRST_TIME)))
    return {
      low: Math.max(-most, Math.ceil((min - neutral) / step) - model.clicks[q]!),
      high: Math.min(most, Math.floor((max - neutral) / step) - model.clicks[q]!),
    }
  })
  const clicks = controls.map(() => 0)
  const channels = patches.map((_, p) => channelsUnder(model, p, clicks))
  const wanted = patches.map((p) => target.xyzOf(p.signal))
  const weights = patches.map(weightOf)
  const total = weights.reduce((a, b) => a + b, 0)
  const point = xyToXyz(target.whitePoint, target.white)
  const wantedLab = wanted.map((xyz) => xyzToLab(xyz, point))
  const errorAt = (p: number) => deltaE2000(wantedLab[p]!, xyzToLab(model.toXyz(channels[p]!), point))
  const errors = patches.map((_, p) => errorAt(p))
  const perClick = controls.map((c) => COLOUR_CLICKS_PER_CLICK / Math.sqrt(reachOf(c.control)))
  let sum = errors.reduce((s, e, p) => s + e * weights[p]!, 0)
  let away = 0
  let best = sum / total
  const touched = controls.map((_, q) => patches.flatMap((_p, p) => (isMoved(model, p, q) ? [p] : [])))
  /** Adds clicks of a control, and reckons anew what it moves. */
  const shift = (q: number, n: number) => {
    away += perClick[q]! * (Math.abs(clicks[q]! + n) - Math.abs(clicks[q]!))
    const from = clicks[q]!
    clicks[q] = from + n
    for (const p of touched[q]!) addClicks(model, { patch: p, control: q, from, to: from + n }, channels[p]!)
  }
  const reckon = (list: readonly number[]) => {
    for (const p of list) {
      const error = errorAt(p)
      sum += weights[p]! * (error - errors[p]!)
      errors[p] = error
    }
  }
  const fits = (q: number, n: number) => clicks[q]! + n >= ranges[q]!.low && clicks[q]! + n <= ranges[q]!.high
  const attempt = (q: number, n: number, r = -1, m = 0): boolean => {
    if (!fits(q, n) || (r >= 0 && !fits(r, m))) return false
    const affected = r < 0 ? touched[q]! : touched[q]!.length > touched[r]!.length ? touched[q]! : touched[r]!
    const saved = affected.map((p) => errors[p]!)
    const before = sum
    shift(q, n)
    if (r >= 0) shift(r, m)
    reckon(affected)
    if (sum / total + away < best - 1e-6) {
      best = sum / total + away
      return true
    }
    shift(q, -n)
    if (r >= 0) shift(r, -m)
    affected.forEach((p, i) => {
      errors[p] = saved[i]!
    })
    sum = before
    return false
  }
  for (let round = 0; round < 10; round++) {
    let improved = false
    for (let q = 0; q < controls.length; q++)
      for (let n = 1; n <= COLOUR_CLICKS_NEAR; n++) {
        while (attempt(q, n)) improved = true
        while (attempt(q, -n)) improved = true
      }
    // Two controls of one colour against each other.
    for (let q = 0; q < controls.length; q++)
      for (let r = q + 1; r < controls.length; r++) {
        if (controls[q]!.colour !== controls[r]!.colour) continue
        for (const n of [-1, 1]) for (const m of [-1, 1]) while (attempt(q, n, r, m)) improved = true
      }
    if (!improved) break
  }
  // What brings less than anybody sees is taken back.
  for (const [q, n] of [...clicks.entries()].sort((a, b) => Math.abs(a[1]) - Math.abs(b[1]))) {
    if (n === 0) continue
    const before = sum / total
    shift(q, -n)
    reckon(touched[q]!)
    if (sum / total <= before + TAKEN_BACK) continue
    shift(q, n)
    reckon(touched[q]!)
  }
  return { clicks, error: weightedMean(patches, errors) }
}
