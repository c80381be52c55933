import { z } from 'zod'

/** Where on the screen the latency probe sits: a picture is drawn from top to bottom. */
export const ProbePosition = z.enum(['top', 'middle', 'bottom'])
export type ProbePosition = z.infer<typeof ProbePosition>

/** One look of the latency probe: where, and on which link. */
export const Probe = z.object({
  position: ProbePosition,
  /** Pictures a second. */
  rate: z.number().positive().max(1000),
  /** Pixels. */
  width: z.number().int().positive().max(16384),
  height: z.number().int().positive().max(16384),
  flashes: z.number().int().min(1).max(200),
})
export type Probe = z.infer<typeof Probe>

/** Delays of one kind of look, ms. */
export interface LatencyFigures {
  readonly mean: number
  /** Standard deviation of a single flash. */
  readonly spread: number
  readonly count: number
  /** Standard error of the mean. */
  readonly error: number
}

/** Mean and spread of delays. In: at least one, ms. Out: figures; a single one has no spread. */
export const latencyFigures = (times: readonly number[]): LatencyFigures => {
  const count = times.length
  const mean = times.reduce((s, t) => s + t, 0) / count
  const spread = count > 1 ? Math.sqrt(times.reduce((s, t) => s + (t - mean) ** 2, 0) / (count - 1)) : 0
  return { mean, spread, count, error: spread / Math.sqrt(count) }
}

/** A delay in pictures of a rate. */
export const inFrames = (milliseconds: number, rate: number): number => (milliseconds * rate) / 1000
