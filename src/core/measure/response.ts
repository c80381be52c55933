import { z } from 'zod'

/** Light over time, as a sensor on the screen gave it. */
export const ResponseTrace = z.object({
  /** Greys between which the screen changes, percent of the signal: where the trace begins, and where it goes. */
  from: z.number().min(0).max(100),
  to: z.number().min(0).max(100),
  /** ms, rising, from 0. */
  times: z.array(z.number()),
  /** In whatever unit the sensor gives. */
  light: z.array(z.number()),
})
export type ResponseTrace = z.infer<typeof ResponseTrace>

/** One change of a trace. */
export const ResponseEdge = z.object({
  way: z.enum(['rise', 'fall']),
  /** From 10 to 90 % of the change of light, ms. */
  time: z.number(),
  /** How far light goes beyond where it settles, as a share of the change; 0 where that is less than noise. */
  overshoot: z.number(),
  /** When it is half way, ms from the beginning of the trace. */
  at: z.number(),
})
export type ResponseEdge = z.infer<typeof ResponseEdge>

/** Fewest and most samples of a trace; widest distance between two, ms: response times are a few milliseconds. */
const SAMPLES = { least: 40, most: 200_000 } as const
/** Samples of a trace that are kept, so that its chart shows everything that a screen can. */
export const MOST_SAMPLES = 4_000
const COARSEST = 0.5
/** A gap is this many times the usual distance. */
const GAP = 8
/** Overshoot that is no more than ripple, as a share of the change, and noise of a plateau that hides every response. */
const SEEN = { overshoot: 0.02, noise: 0.2 } as const

const UNITS: ReadonlyArray<readonly [RegExp, number]> = [
  [/(^|[^a-z])(ms|milliseconds?)([^a-z]|$)/i, 1],
  [/(^|[^a-z])([µμu]s|microseconds?)([^a-z]|$)/i, 0.001],
  [/(^|[^a-z])(s|sec|seconds?)([^a-z]|$)/i, 1000],
]

type Read<T> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly error: string }
const no = (error: string): { ok: false; error: string } => ({ ok: false, error })

/**
 * Reads a trace from the rows of a table.
 * In: names of the columns; rows as text; a decimal comma is taken. Out: times in ms from 0 and light; or a sentence: without a unit of time, with
 * times that go back, gaps, too few samples or such as are too far apart.
 */
export const readTrace = (
  names: readonly string[],
  rows: ReadonlyArray<readonly string[]>,
): Read<Pick<ResponseTrace, 'times' | 'light'>> => {
  const at = names.findIndex((n) => /time|^\s*t\b/i.test(n))
  const lightAt = names.findIndex(
    (n, i) => i !== at && /light|lum|volt|level|intens|cd|sensor|value/i.test(n),
  )
  if (at < 0 || lightAt < 0)
    return no('The first line has to name two columns: time with its unit, as in “time_ms”, and light.')
  const unit = UNITS.find(([name]) => name.test(names[at]!.replaceAll('_', ' ')))?.[1]
  if (unit === undefined)
    return no(`Say the unit of time in the heading: “${names[at]}” may be seconds or milliseconds.`)
  if (rows.length < SAMPLES.least)
    return no(`The trace has ${rows.length} samples; at least ${SAMPLES.least} tell something.`)
  if (rows.length > SAMPLES.most)
    return no(`The trace has ${rows.length} samples; at most ${SAMPLES.most} are taken.`)
  const times: number[] = []
  const light: number[] = []
  for (const [i, row] of rows.entries()) {
    const [t, l] = [row[at], row[lightAt]].map((text) =>
      text?.trim() ? Number(text.trim().replace(',', '.')) : Number.NaN,
    )
    if (!Number.isFinite(t) || !Number.isFinite(l))
      return no(`Line ${i + 2} has no number for ${Number.isFinite(t) ? 'light' : 'time'}.`)
    const time = t! * unit
    if (times.length && time <= times.at(-1)!)
      return no(`Line ${i + 2} goes back in time: each has to be later than the one before.`)
    times.push(time)
    light.push(l!)
  }
  const usual = median(times.slice(1).map((t, i) => t - times[i]!))
  if (usual > COARSEST)
    return no(
      `Samples are ${usual.toFixed(usual < 10 ? 1 : 0)} ms apart, too far for response times: at most ${COARSEST} ms. Check the unit of time.`,
    )
  const gap = times.findIndex((t, i) => i > 0 && t - times[i - 1]! > GAP * usual)
  if (gap > 0)
    return no(
      `The trace has a gap of ${(times[gap]! - times[gap - 1]!).toFixed(1)} ms after line ${gap + 1}: what happened in it is not known.`,
    )
  const first = times[0]!
  return { ok: true, value: { times: times.map((t) => t - first), light } }
}

const median = (list: readonly number[]): number => {
  const sorted = [...list].sort((a, b) => a - b)
  return sorted[Math.floor(sorted.length / 2)] ?? Number.NaN
}
const spreadOf = (list: readonly number[]): number => {
  const middle = median(list)
  return 1.4826 * median(list.map((v) => Math.abs(v - middle)))
}

/** Light with noise taken out: the median of neighbours, which leaves edges where they are. */
const smoothed = (light: readonly number[], half: number): number[] =>
  light.map((_, i) => median(light.slice(Math.max(0, i - half), i + half + 1)))

/** When light crosses a height between two samples, ms. */
const crossing = (times: readonly number[], light: readonly number[], i: number, height: number): number => {
  const [a, b] = [light[i - 1]!, light[i]!]
  const part = a === b ? 1 : (height - a) / (b - a)
  return times[i - 1]! + part * (times[i]! - times[i - 1]!)
}

/**
 * Changes of a trace between its two plateaus, each from 10 to 90 % of the change of light, which is how panels are compared.
 * In: a trace of one change or several. Out: its edges in order; or a sentence where there is none, or where noise hides them.
 */
export const edgesOf = ({ times, light }: Pick<ResponseTrace, 'times' | 'light'>): Read<ResponseEdge[]> => {
  const n = times.length
  const clean = smoothed(light, Math.min(3, Math.floor(n / 80)))
  const sorted = [...clean].sort((a, b) => a - b)
  // Overshoot is brief: what lies in the outer tenths is a plateau, not a peak.
  const [low, high] = [sorted[Math.floor(0.08 * n)]!, sorted[Math.floor(0.92 * n)]!]
  const span = high - low
  if (!(span > 0)) return no('Light does not change in this trace.')
  const [down, up] = [low + 0.3 * span, low + 0.7 * span]
  // With hysteresis, so that ripple about the middle is no change.
  let isUp = clean[0]! > (low + high) / 2
  const turns: Array<{ at: number; way: 'rise' | 'fall' }> = []
  clean.forEach((l, i) => {
    if (isUp ? l < down : l > up) {
      isUp = !isUp
      turns.push({ at: i, way: isUp ? 'rise' : 'fall' })
    }
  })
  if (turns.length === 0) return no('No change of light is seen in this trace.')
  const edges: ResponseEdge[] = []
  for (const [k, { at, way }] of turns.entries()) {
    const begin = turns[k - 1]?.at ?? 0
    const end = turns[k + 1]?.at ?? n
    // Where it comes from, and where it settles.
    const before = clean.slice(begin + Math.floor(0.5 * (at - begin)), Math.max(begin + 1, at - 1))
    const after = clean.slice(
      at + Math.floor(0.6 * (end - at)),
      Math.max(at + 1, end - (k + 1 < turns.length ? Math.ceil(0.1 * (end - at)) : 0)),
    )
    const settledFrom = edgeFree(before, way === 'rise' ? 'low' : 'high')
    const settled = median(after)
    const change = settled - settledFrom
    if (Math.abs(change) < 0.3 * span || Math.sign(change) !== (way === 'rise' ? 1 : -1)) continue
    if (spreadOf(after) > SEEN.noise * Math.abs(change))
      return no(
        'Noise is as large as the change of light: hold the sensor against the screen, and try again.',
      )
    const share = (i: number) => (clean[i]! - settledFrom) / change
    let i10 = at
    while (i10 > begin + 1 && share(i10 - 1) > 0.1) i10--
    let i90 = i10
    while (i90 < end - 1 && share(i90) < 0.9) i90++
    let i50 = i10
    while (i50 < i90 && share(i50) < 0.5) i50++
    if (i10 < 1 || i90 >= n - 1) continue
    const heightOf = (part: number) => settledFrom + part * change
    const peak = Math.max(...clean.slice(i90, end).map((_, j) => share(i90 + j)))
    const noise = (3 * spreadOf(after)) / Math.abs(change)
    edges.push({
      way,
      time: crossing(times, clean, i90, heightOf(0.9)) - crossing(times, clean, i10, heightOf(0.1)),
      overshoot: peak - 1 > Math.max(SEEN.overshoot, noise) ? peak - 1 : 0,
      at: crossing(times, clean, Math.max(1, i50), heightOf(0.5)),
    })
  }
  return edges.length
    ? { ok: true, value: edges }
    : no('The trace begins or ends within the change: record a moment of each grey before and after it.')
}

/** The plateau that an edge leaves: the half of its samples that is further from where it goes. */
const edgeFree = (before: readonly number[], end: 'low' | 'high'): number => {
  const sorted = [...before].sort((a, b) => a - b)
  const half = Math.max(1, Math.floor(sorted.length / 2))
  return median(end === 'low' ? sorted.slice(0, half) : sorted.slice(-half))
}

/** A trace with no more samples than `most`: of each stretch its lowest and its highest, in their order, so that no peak is lost. */
export const thinned = (
  { times, light }: { readonly times: readonly number[]; readonly light: readonly number[] },
  most = MOST_SAMPLES,
): { readonly times: readonly number[]; readonly light: readonly number[] } => {
  const n = times.length
  if (n <= most) return { times, light }
  const stretches = most / 2
  const kept = Array.from({ length: stretches }, (_, k) => {
    const [from, to] = [Math.floor((k * n) / stretches), Math.floor(((k + 1) * n) / stretches)]
    let [low, high] = [from, from]
    for (let i = from; i < to; i++) {
      if (light[i]! < light[low]!) low = i
      if (light[i]! > light[high]!) high = i
    }
    return low < high ? [low, high] : high < low ? [high, low] : [low]
  }).flat()
  return { times: kept.map((i) => times[i]!), light: kept.map((i) => light[i]!) }
}

/** Response of a pair of greys: mean of the edges of each way. */
export interface PairResponse {
  /** Percent of the signal, the darker first. */
  readonly from: number
  readonly to: number
  /** ms; undefined where no trace has such a change. */
  readonly rise?: number
  readonly fall?: number
  readonly riseOvershoot?: number
  readonly fallOvershoot?: number
}

/** Response by pair of greys, the darkest pair first. In: greys of each trace with its edges. */
export const responseByPair = (
  traces: ReadonlyArray<Pick<ResponseTrace, 'from' | 'to'> & { readonly edges: readonly ResponseEdge[] }>,
): PairResponse[] => {
  const pairs = new Map<string, { from: number; to: number; edges: ResponseEdge[] }>()
  for (const { from, to, edges } of traces) {
    const [a, b] = from < to ? [from, to] : [to, from]
    const pair = pairs.get(`${a} ${b}`) ?? { from: a, to: b, edges: [] }
    pair.edges.push(...edges)
    pairs.set(`${a} ${b}`, pair)
  }
  const mean = (list: readonly number[]) =>
    list.length ? list.reduce((sum, v) => sum + v, 0) / list.length : undefined
  return [...pairs.values()]
    .sort((x, y) => x.from - y.from || x.to - y.to)
    .map(({ from, to, edges }) => {
      const of = (way: ResponseEdge['way'], key: 'time' | 'overshoot') =>
        mean(edges.filter((e) => e.way === way).map((e) => e[key]))
      return {
        from,
        to,
        rise: of('rise', 'time'),
        fall: of('fall', 'time'),
        riseOvershoot: of('rise', 'overshoot'),
        fallOvershoot: of('fall', 'overshoot'),
      }
    })
}
