import { grey, patternOf } from '#core/measure'
import { BenchDescription, FlashTimes, Waited } from '#core/protocol'

import { type Asker, askerOf, type Finding } from './asker'
import { checkMeter, checkPattern, plainSignal } from './devices'
import { checkDisplay } from './display'

export type { Finding } from './asker'

/**
 * Goes through every message of the protocol on a bench and says which promises it keeps.
 *
 * In: address; whether the display's settings may be touched (they are put back); whether it may be reset, which forgets what other modes keep. Out: findings, one after the other, as
 * they come. Nothing is thrown: a bench that does not answer is a finding.
 */
export async function* checkBench(base: string, mayTouch = true, mayReset = false): AsyncGenerator<Finding> {
  const of = askerOf(base)
  const { expectOf, refuses } = of
  const described = await expectOf('GET /v2 says what is on the bench', BenchDescription, ['GET', 'v2'])
  yield described.finding
  const bench = described.value
  if (!bench) return
  yield await refuses('a path that does not exist is not-found', 'not-found', ['GET', 'v2/no-such-path'])
  const waited = await expectOf(
    'POST /v2/wait lets time pass',
    Waited,
    ['POST', 'v2/wait', { seconds: 1 }],
    (w) =>
      w.seconds >= bench.seconds + 0.99
        ? undefined
        : `After 1 s of waiting the clock went from ${bench.seconds} to ${w.seconds}.`,
  )
  yield waited.finding

  if (!bench.display) {
    yield await refuses('a display that is missing is no-device', 'no-device', ['GET', 'v2/display/state'])
  } else yield* checkDisplay(of, { touch: mayTouch, reset: mayReset }, bench.resets)
  if (!bench.pattern) {
    const body = JSON.stringify(patternOf(grey(50), plainSignal(undefined)))
    yield await refuses('a pattern source that is missing is no-device', 'no-device', [
      'PUT',
      'v2/pattern',
      body,
    ])
  } else yield* checkPattern(of, bench.pattern)
  if (!bench.meter) {
    yield await refuses('a meter that is missing is no-device', 'no-device', [
      'POST',
      'v2/meter/readings',
      '{}',
    ])
  } else yield* checkMeter(of, bench.meter, bench.pattern)
  yield* checkProbe(of, bench)
  const again = await expectOf('the clock never runs backwards', BenchDescription, ['GET', 'v2'], (b) =>
    b.seconds < bench.seconds ? `It went from ${bench.seconds} to ${b.seconds}.` : undefined,
  )
  yield again.finding
}

async function* checkProbe({ finds, refuses }: Asker, bench: BenchDescription): AsyncGenerator<Finding> {
  if (!bench.probe) {
    const body = JSON.stringify({ rate: 60, position: 'middle', flashes: 1 })
    yield await refuses('a probe that is missing is no-device', 'no-device', [
      'POST',
      'v2/probe/flashes',
      body,
    ])
  } else {
    const position = bench.probe.positions[0]!
    const signal = { ...plainSignal(bench.pattern ?? undefined), rate: 60 }
    const { flags } = patternOf(grey(100), signal)
    const body = { rate: 60, position, flashes: 3, window: 0.1, signal, flags }
    yield await finds(
      'the probe times as many flashes as asked',
      FlashTimes,
      ['POST', 'v2/probe/flashes', body],
      (t) =>
        t.milliseconds.length + (t.missed ?? 0) !== 3
          ? `Asked for 3 flashes, got ${t.milliseconds.length} times and ${t.missed ?? 0} missed.`
          : t.milliseconds.some((ms) => !(ms > 0))
            ? 'A time is not above zero.'
            : undefined,
    )
  }
}
