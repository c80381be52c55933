import type { RGB } from '#core/colorimetry'
import type { Aspect } from './aspect'
import { CEILING } from './tuning'

/** A grey reading, as far as it tells where a channel runs out. */
export interface TopReading {
  /** Signal, 0…1. */
  readonly level: number
  /** Taken under the preset and the tone curve of now. */
  readonly likeNow: boolean
  readonly inReference: boolean
  /** Light of each channel against what it gives to the reference's white were that at the target. */
  readonly relative: RGB
}

/** What is expected of a reading's drives. */
export interface Expectation
  extends Readonly<Record<Aspect, { readonly mean: number; readonly sigma: number }>> {
  /** Of that, what comes of settings that move the whole channel up, against the reference: gains, presets, the highest levels. */
  readonly raised: RGB
}

interface Ceilings {
  /** Infinite where no channel ran out. */
  readonly ceiling: RGB
  /** Of each reading the channels that had run out. */
  readonly clipped: ReadonlyArray<ReadonlySet<number>>
}

/** By how much a channel's light near white, in logarithms, falls short of what the two levels below lead to. */
const shortfall = (levels: ReadonlyMap<number, RGB>, channel: 0 | 1 | 2): number => {
  const [far, near, top] = [0.8, 0.9, 1].map((l) => levels.get(l)?.[channel])
  if (!far || !near || !top) return 0
  const exponent = Math.log(near / far) / Math.log(0.9 / 0.8)
  return exponent * Math.log(1 / 0.9) - Math.log(top / near)
}

/**
 * Where channels run out of drive: a reading near white falls short of what the levels below it and the same clicks elsewhere lead to.
 * A channel that ran out answers to nothing any more; such readings say nothing of the clicks that were made.
 *
 * In: readings; exponent between drive and light; a fit to some of the readings that tells what to expect of the others. Out: ceilings,
 * and which readings met them.
 */
export const ceilingsOf = (
  readings: readonly TopReading[],
  exponent: number,
  fitTo: (rest: (reading: number) => boolean) => (reading: number) => Expectation,
): Ceilings => {
  const found: [number[], number[], number[]] = [[], [], []]
  const reference = new Map(
    readings.flatMap((r) => (r.inReference && r.likeNow ? [[r.level, r.relative] as const] : [])),
  )
  for (const c of [0, 1, 2] as const)
    if (reference.has(1) && shortfall(reference, c) > CEILING.shortOwn) found[c].push(reference.get(1)![c])
  const shortInReference = found.some((f) => f.length > 0)
  const isTop = (i: number) => readings[i]!.level >= CEILING.from
  const open = readings.flatMap((r, i) => (isTop(i) && r.likeNow && !r.inReference ? [i] : []))
  if (open.length) {
    const expected = fitTo((i) => !isTop(i) || (readings[i]!.inReference && !shortInReference))
    for (const i of open) {
      const { level, relative } = readings[i]!
      const { red, blue, tone, raised } = expected(i)
      const short = (measured: number, drive: Expectation[Aspect], full: number) => {
        if (!(drive.mean > 0)) return undefined
        const off = Math.log(measured) - exponent * Math.log(drive.mean / full)
        return { off, limit: CEILING.short + 3 * exponent * (drive.sigma / drive.mean) }
      }
      const r = short(relative[0] / relative[1], red, level)
      const b = short(relative[2] / relative[1], blue, level)
      const g = short(relative[1], tone, 1)
      if (!r || !b || !g) continue
      // Green that ran out shows in red and blue as well, which then seem to be too much.
      // What was not driven up has not run out: then the expectation is wrong.
      if (g.off < -g.limit && r.off > 0 && b.off > 0) {
        if (raised[1] > CEILING.raised) found[1].push(relative[1])
      } else {
        if (r.off < -r.limit && raised[0] > CEILING.raised) found[0].push(relative[0])
        if (b.off < -b.limit && raised[2] > CEILING.raised) found[2].push(relative[2])
      }
    }
  }
  // What a channel was seen to give it can give: anything less was a wrong expectation.
  const seen = [0, 1, 2].map((c) =>
    Math.max(0, ...readings.flatMap((r) => (r.likeNow ? [r.relative[c]!] : []))),
  )
  const ceiling = found.map((all, c) => {
    const values = all.filter((v) => v > CEILING.seen * seen[c]!)
    return values.length ? values.reduce((a, v) => a + v, 0) / values.length : Number.POSITIVE_INFINITY
  }) as unknown as RGB
  return {
    ceiling,
    clipped: readings.map(
      (r) => new Set(r.likeNow ? [0, 1, 2].filter((c) => r.relative[c]! > CEILING.met * ceiling[c]!) : []),
    ),
  }
}
