import type { z } from 'zod'
import {
  type Control,
  ControlSheet,
  type ControlValue,
  factoryState,
  greyedOut,
  type State,
  sharers,
  stateProblems,
} from '#core/display'
import { grey, type Patch, patternOf, readingFault } from '#core/measure'
import {
  BenchDescription,
  BenchError,
  DisplayState,
  type ErrorCode,
  FlashTimes,
  MeterAnswer,
  SetControl,
  Shown,
  SignalPage,
  Waited,
} from '#core/protocol'
import type { SignalFormat } from '#core/signal'

/** What became of one promise of the protocol. */
export interface Finding {
  readonly promise: string
  readonly verdict: 'kept' | 'broken' | 'not-tried'
  /** What was wrong, or why it was not tried; empty where it was kept. */
  readonly detail: string
}

type Reply = { status: number; type: string; json: unknown; text: string }

const PATIENCE_MS = 60_000

/**
 * Goes through every message of the protocol on a bench and says which promises it keeps.
 *
 * In: address; whether the display's settings may be touched (they are put back); whether it may be reset, which forgets what other modes keep. Out: findings, one after the other, as
 * they come. Nothing is thrown: a bench that does not answer is a finding.
 */
export async function* checkBench(base: string, mayTouch = true, mayReset = false): AsyncGenerator<Finding> {
  const root = base.endsWith('/') ? base : `${base}/`
  const ask = async (method: string, path: string, body?: string): Promise<Reply> => {
    const response = await fetch(new URL(path, root), {
      method,
      signal: AbortSignal.timeout(PATIENCE_MS),
      ...(body === undefined ? {} : { body, headers: { 'content-type': 'application/json' } }),
    })
    const text = await response.text()
    return {
      status: response.status,
      type: response.headers.get('content-type') ?? '',
      json: parse(text),
      text,
    }
  }
  const kept = (promise: string): Finding => ({ promise, verdict: 'kept', detail: '' })
  const broken = (promise: string, detail: string): Finding => ({ promise, verdict: 'broken', detail })
  const skipped = (promise: string, detail: string): Finding => ({ promise, verdict: 'not-tried', detail })

  /** Asks, holds the answer against its schema, and against what else was promised of it. */
  const expectOf = async <S extends z.ZodType>(
    promise: string,
    schema: S,
    [method, path, body]: readonly [string, string, unknown?],
    also: (value: z.infer<S>) => string | undefined = () => undefined,
  ): Promise<{ finding: Finding; value?: z.infer<S> }> => {
    try {
      const reply = await ask(method, path, body === undefined ? undefined : JSON.stringify(body))
      if (reply.status !== 200)
        return { finding: broken(promise, `${method} ${path} answered ${reply.status}: ${said(reply)}`) }
      if (!reply.type.startsWith('application/json'))
        return { finding: broken(promise, `The content-type is “${reply.type}”, not application/json.`) }
      const result = schema.safeParse(reply.json)
      if (!result.success) {
        const issues = result.error.issues.slice(0, 4)
        const detail = issues.map((i) => `${i.path.join('.') || 'body'}: ${i.message}`).join('; ')
        return { finding: broken(promise, detail) }
      }
      const wrong = also(result.data)
      return { finding: wrong ? broken(promise, wrong) : kept(promise), value: result.data }
    } catch (error) {
      return { finding: broken(promise, `${method} ${path}: ${(error as Error).message}`) }
    }
  }
  const refuses = async (
    promise: string,
    code: ErrorCode,
    [method, path, body]: readonly [string, string, string?],
  ): Promise<Finding> => {
    try {
      const reply = await ask(method, path, body)
      const told = BenchError.safeParse(reply.json)
      if (reply.status < 400) return broken(promise, `${method} ${path} was accepted with ${reply.status}.`)
      if (!told.success) return broken(promise, `The answer ${reply.status} says no code and no message.`)
      const want = STATUS[code]
      if (told.data.error.code !== code || reply.status !== want)
        return broken(
          promise,
          `${method} ${path} answered ${reply.status} “${told.data.error.code}”, promised is ${want} “${code}”.`,
        )
      return kept(promise)
    } catch (error) {
      return broken(promise, `${method} ${path}: ${(error as Error).message}`)
    }
  }

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
  } else yield* checkDisplay(mayTouch)
  if (!bench.pattern) {
    const body = JSON.stringify(patternOf(grey(50), plainSignal(undefined)))
    yield await refuses('a pattern source that is missing is no-device', 'no-device', [
      'PUT',
      'v2/pattern',
      body,
    ])
  } else yield* checkPattern(bench.pattern)
  if (!bench.meter) {
    yield await refuses('a meter that is missing is no-device', 'no-device', [
      'POST',
      'v2/meter/readings',
      '{}',
    ])
  } else yield* checkMeter(bench.meter, bench.pattern)
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
    yield (
      await expectOf(
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
    ).finding
  }
  const again = await expectOf('the clock never runs backwards', BenchDescription, ['GET', 'v2'], (b) =>
    b.seconds < bench.seconds ? `It went from ${bench.seconds} to ${b.seconds}.` : undefined,
  )
  yield again.finding

  async function* checkDisplay(touch: boolean): AsyncGenerator<Finding> {
    const sheetFound = await expectOf('the control sheet keeps to its schema', ControlSheet, [
      'GET',
      'v2/display/sheet',
    ])
    yield sheetFound.finding
    const sheet = sheetFound.value
    const stateFound = await expectOf(
      'the state has a permitted value for every control of the sheet',
      DisplayState,
      ['GET', 'v2/display/state'],
      ({ state }) => (sheet ? stateProblems(sheet, state).slice(0, 4).join(' ') || undefined : undefined),
    )
    yield stateFound.finding
    yield (await expectOf('the signal page keeps to its schema', SignalPage, ['GET', 'v2/display/signal']))
      .finding
    yield await refuses('a control that does not exist is not-found', 'not-found', [
      'PUT',
      'v2/display/controls/no-such-control',
      '{"value":1}',
    ])
    if (!sheet || !stateFound.value) return
    if (!touch) {
      yield skipped('controls are set, refused and put back', 'The display was not to be touched.')
      return
    }
    yield* checkControls(sheet, stateFound.value.state)
    yield* checkMemories(sheet, stateFound.value.state)
    yield* checkResets(sheet, stateFound.value.state, described.value?.resets)
  }

  /** Sets every control that stands elsewhere than it did, what chooses among memories first. */
  async function putBack(sheet: ControlSheet, wanted: State): Promise<void> {
    const order = [...sheet.controls].sort((a, b) => sharers(sheet, b).length - sharers(sheet, a).length)
    for (const control of order) {
      const reply = DisplayState.safeParse((await ask('GET', 'v2/display/state')).json)
      const now = reply.success ? reply.data.state : {}
      if (now[control.key] === wanted[control.key] || greyedOut(sheet, control, now, 'sdr')) continue
      await ask('PUT', `v2/display/controls/${control.key}`, JSON.stringify({ value: wanted[control.key] }))
    }
  }

  async function* checkMemories(sheet: ControlSheet, state: State): AsyncGenerator<Finding> {
    const promise = 'a value that is stored with the picture mode is there again after another mode'
    const mode = sheet.controls.find((c) => c.role === 'picture-mode')
    const other = mode?.kind === 'choice' ? mode.choices.find((c) => c.value !== state[mode.key]) : undefined
    const control = sheet.controls.find(
      (c) => c.kind === 'number' && c.memory.includes('mode') && !greyedOut(sheet, c, state, 'sdr'),
    )
    if (!mode || !other || control?.kind !== 'number') {
      yield skipped(promise, 'Nothing is stored with a picture mode.')
      return
    }
    const { min, step } = control.range
    const value = state[control.key] === min ? min + step : min
    const set = (key: string, to: ControlValue) =>
      expectOf(promise, SetControl, ['PUT', `v2/display/controls/${key}`, { value: to }])
    for (const [key, to] of [
      [control.key, value],
      [mode.key, other.value],
      [mode.key, state[mode.key]!],
    ] as const) {
      const { finding } = await set(key, to)
      if (finding.verdict === 'broken') {
        yield finding
        await putBack(sheet, state)
        return
      }
    }
    yield (
      await expectOf(promise, DisplayState, ['GET', 'v2/display/state'], ({ state: now }) =>
        now[control.key] === value
          ? undefined
          : `“${control.key}” was set to ${value}; after another mode and back it is ${now[control.key]}.`,
      )
    ).finding
    await putBack(sheet, state)
  }

  async function* checkResets(
    sheet: ControlSheet,
    state: State,
    resets: z.infer<typeof BenchDescription>['resets'],
  ): AsyncGenerator<Finding> {
    const mode = sheet.controls.find((c) => c.role === 'picture-mode')
    if (mode)
      yield await refuses('a reset of a mode that does not exist is refused', 'refused', [
        'POST',
        'v2/display/reset',
        '{"mode":"no-such-mode"}',
      ])
    if (!mayReset) {
      yield skipped(
        'the display is reset, whole and by mode',
        'A reset forgets what other modes keep: allow it with --reset.',
      )
      return
    }
    const whole = ({ state: now }: { state: State }) =>
      stateProblems(sheet, now).slice(0, 4).join(' ') || undefined
    if (mode)
      yield (
        await expectOf(
          'a reset of a mode answers with the state',
          DisplayState,
          ['POST', 'v2/display/reset', { mode: state[mode.key] }],
          whole,
        )
      ).finding
    const own = sheet.controls.find(
      (c) => c.kind === 'number' && c.memory.includes('signal') && !greyedOut(sheet, c, state, 'sdr'),
    )
    if (resets?.includes('signal') && own?.kind === 'number') {
      const { min, step } = own.range
      const value = state[own.key] === min ? min + step : min
      await ask('PUT', `v2/display/controls/${own.key}`, JSON.stringify({ value }))
      yield (
        await expectOf(
          'a reset of HDR leaves what is stored with SDR',
          DisplayState,
          ['POST', 'v2/display/reset', { signal: 'hdr' }],
          ({ state: now }) =>
            now[own.key] === value
              ? whole({ state: now })
              : `“${own.key}” was set to ${value} in SDR; after a reset of HDR it is ${now[own.key]}.`,
        )
      ).finding
    }
    yield (
      await expectOf(
        'a reset brings back every default',
        DisplayState,
        ['POST', 'v2/display/reset', {}],
        ({ state: now }) => {
          const factory = factoryState(sheet)
          const off = sheet.controls.filter((c) => now[c.key] !== factory[c.key])
          return (
            whole({ state: now }) ??
            (off.length
              ? off
                  .slice(0, 3)
                  .map((c) => `“${c.key}” is ${now[c.key]}, its default ${factory[c.key]}.`)
                  .join(' ')
              : undefined)
          )
        },
      )
    ).finding
    await putBack(sheet, state)
  }

  async function* checkControls(sheet: ControlSheet, state: State): AsyncGenerator<Finding> {
    const put = (control: Control, value: unknown) =>
      ['PUT', `v2/display/controls/${control.key}`, { value }] as const
    const free = sheet.controls.filter(
      (c) => !greyedOut(sheet, c, state, 'sdr') && sharers(sheet, c).length === 0,
    )
    const control = free.find((c) => c.kind === 'number') ?? free[0]
    if (!control) {
      yield skipped('controls are set, refused and put back', 'No control can be set now.')
      return
    }
    const before = state[control.key]!
    const other: ControlValue =
      control.kind === 'number'
        ? before === control.range.min
          ? control.range.min + control.range.step
          : control.range.min
        : (control.choices.find((c) => c.value !== before)?.value ?? before)
    const outside = control.kind === 'number' ? control.range.max + control.range.step : 'no-such-choice'
    const same = (value: ControlValue) => (answer: { value: ControlValue }) =>
      answer.value === value ? undefined : `Asked for ${value}, it answered ${answer.value}.`
    yield (
      await expectOf('a control is set to the value asked for', SetControl, put(control, other), same(other))
    ).finding
    yield (
      await expectOf(
        'the state shows what was set',
        DisplayState,
        ['GET', 'v2/display/state'],
        ({ state: now }) =>
          now[control.key] === other
            ? undefined
            : `“${control.key}” is ${now[control.key]}, set was ${other}.`,
      )
    ).finding
    yield (
      await expectOf('setting a control twice does no harm', SetControl, put(control, other), same(other))
    ).finding
    yield await refuses('a value outside the range is refused', 'refused', [
      'PUT',
      `v2/display/controls/${control.key}`,
      JSON.stringify({ value: outside }),
    ])
    const choice = free.find((c) => c.kind === 'choice')
    if (choice)
      yield await refuses('a choice that the sheet does not have is refused', 'refused', [
        'PUT',
        `v2/display/controls/${choice.key}`,
        '{"value":"no-such-choice"}',
      ])
    yield await refuses('a body that is not the message is bad-request', 'bad-request', [
      'PUT',
      `v2/display/controls/${control.key}`,
      '{"value":',
    ])
    const grey = sheet.controls.find((c) => greyedOut(sheet, c, { ...state, [control.key]: other }, 'sdr'))
    if (grey)
      yield await refuses('a control that is greyed out is refused', 'refused', [
        'PUT',
        `v2/display/controls/${grey.key}`,
        JSON.stringify({ value: grey.default }),
      ])
    else yield skipped('a control that is greyed out is refused', 'None is greyed out now.')
    yield (await expectOf('the control is put back', SetControl, put(control, before), same(before))).finding
  }

  async function* checkPattern(
    pattern: NonNullable<z.infer<typeof BenchDescription>['pattern']>,
  ): AsyncGenerator<Finding> {
    for (const transfer of pattern.transfers) {
      const signal = plainSignal(pattern, transfer)
      yield (
        await expectOf(
          `a patch is shown, and what was flagged is said (${transfer})`,
          Shown,
          ['PUT', 'v2/pattern', patternOf(grey(50), signal)],
          ({ flagged }) =>
            flagged.transfer !== null && flagged.transfer !== transfer
              ? `Asked to flag ${transfer}, it flagged ${flagged.transfer}.`
              : undefined,
        )
      ).finding
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
      yield (
        await expectOf(`the layout “${layout}” is shown`, Shown, [
          'PUT',
          'v2/pattern',
          patternOf(patch, plainSignal(pattern)),
        ])
      ).finding
    }
    const varies = pattern.variableRefresh
    const signal = plainSignal(pattern)
    if (varies)
      yield (
        await expectOf('a patch is shown at a rate that varies', Shown, [
          'PUT',
          'v2/pattern',
          patternOf({ ...grey(50), variableRate: Math.max(varies.slowest, signal.rate / 2) }, signal),
        ])
      ).finding
    yield await refuses('a pattern without codes is bad-request', 'bad-request', [
      'PUT',
      'v2/pattern',
      '{"layout":"window"}',
    ])
  }

  async function* checkMeter(
    meter: NonNullable<z.infer<typeof BenchDescription>['meter']>,
    pattern: z.infer<typeof BenchDescription>['pattern'],
  ): AsyncGenerator<Finding> {
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
      yield (
        await expectOf(
          'the meter averages as many readings as asked',
          MeterAnswer,
          ['POST', 'v2/meter/readings', { samples: 2 }],
          (a) =>
            usable(a) ?? (a.samples === 2 ? undefined : `Asked for 2 samples, it averaged ${a.samples}.`),
        )
      ).finding
    if (meter.positions)
      yield (
        await expectOf(
          'the meter reads at another place of the screen',
          MeterAnswer,
          ['POST', 'v2/meter/readings', { position: { x: 0.45, y: 0.55 } }],
          usable,
        )
      ).finding
    for (const { slot } of meter.slots ?? [])
      yield (
        await expectOf(
          `the meter reads with the slot “${slot}”`,
          MeterAnswer,
          ['POST', 'v2/meter/readings', { slot }],
          usable,
        )
      ).finding
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
}

const STATUS: Readonly<Record<ErrorCode, number>> = {
  'bad-request': 400,
  'not-found': 404,
  refused: 409,
  'no-device': 503,
  timeout: 504,
  failed: 500,
}

const parse = (text: string): unknown => {
  try {
    return JSON.parse(text)
  } catch {
    // Not JSON: the schema that it is held against says so.
    return undefined
  }
}

const said = (reply: Reply): string => {
  const told = BenchError.safeParse(reply.json)
  return told.success ? `${told.data.error.code}, ${told.data.error.message}` : reply.text.slice(0, 120)
}

/** The first signal of each kind that a source offers. */
const plainSignal = (
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
