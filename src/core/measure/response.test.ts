import { describe, expect, it } from 'vitest'
import { normal } from '#core/random'
import { edgesOf, readTrace, responseByPair, thinned } from './response'

/** Light of a panel that follows exponentially, with some overshoot, and noise of its sensor. */
const traceOf = (
  changes: ReadonlyArray<readonly [at: number, to: number]>,
  { tau = 2, over = 0, noise = 0, step = 0.05, length = 60, start = 10 } = {},
) => {
  const deviate = normal(7)
  const times = Array.from({ length: Math.round(length / step) }, (_, i) => i * step)
  const light = times.map((t) => {
    let [from, value] = [start, start]
    for (const [at, to] of changes) {
      if (t < at) break
      const since = t - at
      value =
        to +
        (from - to) * Math.exp(-since / tau) +
        over * (to - from) * (since / tau) * Math.exp(1 - since / tau)
      from = to
    }
    return value + noise * deviate()
  })
  return { times, light }
}
const edges = (trace: ReturnType<typeof traceOf>) => {
  const found = edgesOf(trace)
  if (!found.ok) throw new Error(found.error)
  return found.value
}

describe('response times', () => {
  it('of an exponential are ln 9 of its time constant, up and down', () => {
    const [rise, fall] = edges(
      traceOf([
        [15, 100],
        [40, 10],
      ]),
    )
    for (const [edge, way] of [
      [rise, 'rise'],
      [fall, 'fall'],
    ] as const) {
      expect(edge!.way).toBe(way)
      expect(edge!.time).toBeCloseTo(2 * Math.log(9), 1)
      expect(edge!.overshoot).toBe(0)
    }
    expect(rise!.at).toBeCloseTo(15 + 2 * Math.LN2, 1)
  })

  it.each([0.5, 1, 3, 5])('are within the sensor’s scatter of the truth, time constant %d ms', (tau) => {
    const [edge] = edges(traceOf([[20, 100]], { tau, noise: 1.5 }))
    expect(Math.abs(edge!.time - tau * Math.log(9))).toBeLessThan(0.15 + 0.1 * tau)
  })

  it('tell how far light goes beyond where it settles, and nothing where that is noise', () => {
    // The greatest height of the overshooting term is over · (to − from), a time constant after the change, less what is not there yet.
    const over = 0.6
    const trace = traceOf([[20, 100]], { tau: 2, over, noise: 0.5 })
    const peak = Math.max(...traceOf([[20, 100]], { tau: 2, over }).light)
    expect(edges(trace)[0]!.overshoot).toBeCloseTo((peak - 100) / 90, 1)
    expect(edges(traceOf([[20, 100]], { noise: 2 }))[0]!.overshoot).toBe(0)
  })

  it('follow every change of a square wave', () => {
    const found = edges(
      traceOf(
        [
          [10, 80],
          [30, 10],
          [50, 80],
          [70, 10],
        ],
        { length: 90, tau: 1 },
      ),
    )
    expect(found.map((e) => e.way)).toEqual(['rise', 'fall', 'rise', 'fall'])
    for (const e of found) expect(e.time).toBeCloseTo(Math.log(9), 1)
  })

  it('keep their peak where a chart draws a few of their samples', () => {
    const trace = traceOf([[20, 100]], { tau: 0.5, over: 1, step: 0.02 })
    const few = thinned(trace, 100)
    expect(few.times.length).toBeLessThanOrEqual(100)
    expect(Math.max(...few.light)).toBe(Math.max(...trace.light))
    expect([...few.times].sort((a, b) => a - b)).toEqual(few.times)
  })

  it('are gathered by pair of greys, whichever way a trace goes', () => {
    const edge = { time: 4, overshoot: 0.1, at: 1 }
    expect(
      responseByPair([
        { from: 50, to: 0, edges: [{ ...edge, way: 'fall' }] },
        {
          from: 0,
          to: 50,
          edges: [
            { ...edge, way: 'rise' },
            { ...edge, time: 6, way: 'rise' },
          ],
        },
      ]),
    ).toEqual([{ from: 0, to: 50, rise: 5, fall: 4, riseOvershoot: 0.1, fallOvershoot: 0.1 }])
  })

  it('are not told of light that does not change, that begins in the middle of it, or that noise hides', () => {
    const error = (trace: ReturnType<typeof traceOf>) => {
      const found = edgesOf(trace)
      return found.ok ? 'none' : found.error
    }
    expect(error(traceOf([]))).toMatch(/does not change/)
    expect(error(traceOf([[59.5, 100]]))).toMatch(/change|begins or ends/)
    expect(error(traceOf([[20, 40]], { noise: 30 }))).toMatch(/Noise|No change|begins/)
  })
})

describe('a trace from a file', () => {
  const rows = (count: number, step: number, light = (i: number) => i) =>
    Array.from({ length: count }, (_, i) => [String(i * step), String(light(i))])

  it.each([
    ['time_ms', 0.1],
    ['Time (s)', 0.0001],
    ['time [µs]', 100],
    ['t, ms', 0.1],
  ])('is read in its own unit of time: %s', (name, step) => {
    const read = readTrace([name, 'light'], rows(50, step))
    expect(read).toMatchObject({ ok: true })
    if (read.ok) expect(read.value.times.at(-1)).toBeCloseTo(4.9, 6)
  })

  it.each([
    [['time', 'light'], rows(50, 0.1), /unit of time/],
    [['a', 'b'], rows(50, 0.1), /name two columns/],
    [['time_ms', 'light'], rows(10, 0.1), /10 samples/],
    [['time_ms', 'light'], rows(50, 5), /too far/],
    [['time_ms', 'light'], [...rows(50, 0.1), ['60', '1']], /gap of 55\.1 ms/],
    [['time_ms', 'light'], [...rows(50, 0.1), ['1', '1']], /goes back in time/],
    [['time_ms', 'light'], [...rows(50, 0.1), ['9', 'x']], /Line 52 has no number for light/],
  ])('is refused with a sentence: %s', (names, table, sentence) => {
    expect(readTrace(names, table)).toMatchObject({ ok: false, error: expect.stringMatching(sentence) })
  })
})
