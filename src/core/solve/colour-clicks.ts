import { colourError } from '#core/judge'
import { isMemoryColour, isMuted, type Patch } from '#core/measure'
import { addClicks, type ColourControl, type ColourModel, channelsUnder, reachOf } from '#core/model'
import { scaleOf } from '#core/scale'
import type { Target } from '#core/target'
import { AT_ONCE, COLOUR_CLICKS_NEAR, COLOUR_CLICKS_PER_CLICK, FIRST_TIME, TAKEN_BACK } from './tuning'

/** What patches are judged for. */
interface Judged {
  /** Where light is absolute full colours end where the panel does: they hardly count against those within. */
  readonly absolute: boolean
  /** Keys of patches that were read: the others are taken for right, and say nothing of what a move gains or costs. All, where it is left out. */
  readonly observed?: ReadonlySet<string>
}

/** Weights of patches in what colour management is judged by: skin counts most, full colours less than things. */
const weightOf = (patch: Patch, { absolute, observed }: Judged): number => {
  if (observed && !observed.has(patch.key)) return 0
  if (isMemoryColour(patch.key)) return patch.key.includes('natural-skin') ? 1.4 : 1
  return absolute && !isMuted(patch) ? 0.25 : 0.5
}

export const errorsUnder = (model: ColourModel, target: Target, clicks: readonly number[]): number[] =>
  model.patches.map(
    (patch, p) =>
      colourError(model.toXyz(channelsUnder(model, p, clicks)), target.xyzOf(patch.signal), target).deltaE,
  )

/** Average of errors by what patches count. In: patches; their errors; what they are judged for. */
export const weightedMean = (
  patches: readonly Patch[],
  errors: readonly number[],
  judged: Judged = { absolute: false },
): number => {
  const weights = patches.map((p) => weightOf(p, judged))
  const total = weights.reduce((a, b) => a + b, 0)
  return total > 0 ? errors.reduce((s, e, i) => s + e * weights[i]!, 0) / total : 0
}

/** What the patches of a model are judged for against a target. */
export const judgedIn = ({ observed }: ColourModel, target: Target): Judged => {
  const { absolute } = scaleOf(target.curve)
  return absolute ? { absolute, observed } : { absolute }
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
  const judged = judgedIn(model, target)
  const weights = patches.map((p) => weightOf(p, judged))
  const total = weights.reduce((a, b) => a + b, 0)
  const errorAt = (p: number) => target.difference(wanted[p]!, model.toXyz(channels[p]!))
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
  return { clicks, error: weightedMean(patches, errors, judged) }
}
