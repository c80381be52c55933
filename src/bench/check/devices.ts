import type { z } from 'zod'
import { grey, type Patch, patternOf, readingFault } from '#core/measure'
import { type BenchDescription, MeterAnswer, Shown } from '#core/protocol'
import type { SignalFormat } from '#core/signal'

import { type Asker, broken, type Finding, kept, skipped } from './asker'

export async function* checkPattern(
  of: Asker,
  pattern: NonNullable<z.infer<typeof BenchDescription>['pattern']>,
): AsyncGenerator<Finding> {
  const { finds, refuses } = of
  for (const transfer of pattern.transfers) {
    const signal = plainSignal(pattern, transfer)
    yield await finds(
      `a patch is shown, and what was flagged is said (${transfer})`,
      Shown,
      ['PUT', 'v2/pattern', patternOf(grey(50), signal)],
      ({ flagged }) =>
        flagged.transfer !== null && flagged.transfer !== transfer
          ? `Asked to flag ${transfer}, it flagged ${flagged.transfer}.`
          : undefined,
    )
  }
  for (const layout of pattern.layouts) {
    const patch: Patch = {
      ...grey(100),
      surround: [0, 0, 0],
      ...(layout === 'highlight'
        ? { highlight: { signal: [1, 1, 1], window: 0.02 } }
        : layout === 'ramp'
          ? { ramp: { signal: [1, 1, 1], height: 0.1 } }
          : { layout }),
    }
    yield await finds(`the layout “${layout}” is shown`, Shown, [
      'PUT',
      'v2/pattern',
      patternOf(patch, plainSignal(pattern)),
    ])
  }
  const varies = pattern.variableRefresh
  const signal = plainSignal(pattern)
  if (varies)
    yield await finds('a patch is shown at a rate that varies', Shown, [
      'PUT',
      'v2/pattern',
      patternOf({ ...grey(50), variableRate: Math.max(varies.slowest, signal.rate / 2) }, signal),
    ])
  yield await refuses('a pattern without codes is bad-request', 'bad-request', [
    'PUT',
    'v2/pattern',
    '{"layout":"window"}',
  ])
}

export async function* checkMeter(
  of: Asker,
  meter: NonNullable<z.infer<typeof BenchDescription>['meter']>,
  pattern: z.infer<typeof BenchDescription>['pattern'],
): AsyncGenerator<Finding> {
  const { ask, expectOf, finds, refuses } = of
  const usable = (a: MeterAnswer) => {
    const fault = readingFault(Array.isArray(a.xyz) ? a.xyz : undefined, {
      saturatesAt: meter.saturatesAt,
      dark: meter.precision?.dark,
    })
    return fault ? `The reading cannot be used: ${fault}.` : undefined
  }
  if (pattern)
    await ask('PUT', 'v2/pattern', JSON.stringify(patternOf(grey(100), plainSignal(pattern)))).catch(
      () => undefined,
    )
  const read = ['POST', 'v2/meter/readings', {}] as const
  const first = await expectOf('the meter reads three numbers in cd/m²', MeterAnswer, read, usable)
  yield first.finding
  const second = await expectOf('a second reading has a later clock', MeterAnswer, read, (a) =>
    first.value && a.clock < first.value.clock
      ? `The clock went from ${first.value.clock} to ${a.clock}.`
      : undefined,
  )
  yield second.finding
  const late = second.value
  if (late?.sinceShown !== undefined && first.value?.sinceShown !== undefined)
    yield late.sinceShown >= first.value.sinceShown
      ? kept('a patch that stands longer has stood longer when it is read')
      : broken(
          'a patch that stands longer has stood longer when it is read',
          `It went from ${first.value.sinceShown} to ${late.sinceShown} s.`,
        )
  if ((meter.mostSamples ?? 1) > 1)
    yield await finds(
      'the meter averages as many readings as asked',
      MeterAnswer,
      ['POST', 'v2/meter/readings', { samples: 2 }],
      (a) => usable(a) ?? (a.samples === 2 ? undefined : `Asked for 2 samples, it averaged ${a.samples}.`),
    )
  if (meter.positions)
    yield await finds(
      'the meter reads at another place of the screen',
      MeterAnswer,
      ['POST', 'v2/meter/readings', { position: { x: 0.45, y: 0.55 } }],
      usable,
    )
  for (const { slot } of meter.slots ?? [])
    yield await finds(
      `the meter reads with the slot “${slot}”`,
      MeterAnswer,
      ['POST', 'v2/meter/readings', { slot }],
      usable,
    )
  yield await refuses('a slot that does not exist is not-found', 'not-found', [
    'POST',
    'v2/meter/readings',
    '{"slot":"no-such-slot"}',
  ])
  yield skipped(
    'the meter calibrates its zero',
    meter.darkCalibration ? 'It needs a hand on the cap: try it from Wexmar.' : 'This meter does not.',
  )
}

/** The first signal of each kind that a source offers. */
export const plainSignal = (
  pattern: z.infer<typeof BenchDescription>['pattern'] | undefined,
  transfer: SignalFormat['transfer'] = 'sdr',
): SignalFormat => {
  const format = pattern?.formats[0]
  const wide = transfer !== 'sdr' && pattern?.encodings.includes('bt2020')
  return {
    bitDepth: pattern?.bitDepths.at(-1) ?? 8,
    range: pattern?.ranges[0] ?? 'limited',
    encoding: wide ? 'bt2020' : (pattern?.encodings[0] ?? 'bt709'),
    transfer,
    width: format?.width ?? 1920,
    height: format?.height ?? 1080,
    rate: format?.rates[0] ?? 60,
    chroma: pattern?.chroma[0] ?? '4:4:4',
  }
}
