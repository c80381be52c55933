import type { BenchFailure, BenchResult } from '#bench/client'
import type { XYZ } from '#core/colorimetry'
import {
  greyLevel,
  type MeterPrecision,
  neededError,
  type Patch,
  pooled,
  type ReadingFault,
  readingFault,
  samplesNeeded,
  shownPrecision,
  standardErrors,
} from '#core/measure'
import type { MeterAnswer, MeterDescription } from '#core/protocol'
import { PATCH_BUDGET } from './tuning'

/** What came of reading a patch: averaged as far as what waits for it needs. */
interface AveragedReading {
  readonly fault: ReadingFault | undefined
  /** Absolute XYZ and its standard errors, cd/m²; undefined where no three numbers came. */
  readonly xyz: XYZ | undefined
  readonly sigma: XYZ | undefined
  readonly samples: number
  /** Bench seconds that it took, and the bench's clock at its end. */
  readonly duration: number
  readonly clock: number
  readonly flags: readonly string[]
  /** What the meter said first: of a patch that has just been put up. */
  readonly first: MeterAnswer | undefined
  /** What the meter said last, for readings that cannot be used. */
  readonly answer: MeterAnswer | undefined
}

const listOf = (xyz: unknown): readonly unknown[] | undefined => (Array.isArray(xyz) ? xyz : undefined)
const numbersOf = (answer: MeterAnswer | undefined): XYZ | undefined => {
  const list = listOf(answer?.xyz)
  return list?.length === 3 && list.every((v) => typeof v === 'number' && Number.isFinite(v))
    ? (list as unknown as XYZ)
    : undefined
}

/**
 * Reads a patch once or until its standard error is small enough for the decision that waits for it, or the time budget ends.
 * In: how to read some samples (undefined: the reader was told to leave); meter and its precision; patch; luminance of white,
 * cd/m²; `once`: a single reading will do. Out: reading; a failure that is no time-out as it came; undefined where the
 * reader left.
 */
export const averagedReading = async (
  read: (samples?: number) => Promise<BenchResult<MeterAnswer> | undefined>,
  meter: MeterDescription,
  precision: MeterPrecision,
  patch: Patch,
  white: number,
  once = false,
): Promise<AveragedReading | { readonly failure: BenchFailure } | undefined> => {
  const before = Date.now()
  const first = await read()
  if (!first) return undefined
  if (!first.ok && first.failure.kind !== 'timeout') return { failure: first.failure }
  const judge = (a: MeterAnswer | undefined): ReadingFault | undefined => {
    if (!a) return 'timeout'
    if (a.flags.includes('saturated')) return 'saturated'
    // Light that power takes away while it is read is what is asked for where a patch is timed.
    if (a.flags.includes('unstable') && !patch.timing) return 'unstable'
    return readingFault(listOf(a.xyz), { saturatesAt: meter.saturatesAt, dark: precision.dark })
  }
  let answer = first.ok ? first.value : undefined
  const fault = judge(answer)
  let duration = answer?.seconds ?? (Date.now() - before) / 1000
  let xyz = numbersOf(answer)
  const singles: XYZ[] = answer?.samples === 1 && xyz ? [xyz] : []
  while (answer && xyz && !fault && !once) {
    const needed = neededError(xyz[1], white, greyLevel(patch))
    const each = duration / answer.samples
    const shown = shownPrecision(singles, precision)
    const missing = samplesNeeded(xyz, shown, needed, { each, budget: PATCH_BUDGET }) - answer.samples
    if (missing <= 0) break
    const more = await read(Math.min(missing, meter.mostSamples ?? 1))
    if (!more) return undefined
    const value: MeterAnswer | undefined = more.ok ? more.value : undefined
    const next = numbersOf(value)
    // A bad one among good ones is left aside; the good ones are enough for a value.
    if (!value || !next || judge(value)) break
    if (value.samples === 1) singles.push(next)
    xyz = pooled(xyz, answer.samples, next, value.samples)
    duration += value.seconds
    answer = { ...value, samples: answer.samples + value.samples, flags: [...answer.flags, ...value.flags] }
  }
  const samples = answer?.samples ?? 1
  return {
    fault,
    xyz,
    sigma: xyz && !fault ? standardErrors(xyz, shownPrecision(singles, precision), samples) : undefined,
    samples,
    duration,
    clock: answer?.clock ?? 0,
    flags: [...new Set(answer?.flags ?? [])],
    first: first.ok ? first.value : undefined,
    answer,
  }
}
