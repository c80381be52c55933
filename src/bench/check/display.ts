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
import { type BenchDescription, DisplayState, SetControl, SignalPage } from '#core/protocol'

import { type Asker, type Finding, skipped } from './asker'

export async function* checkDisplay(
  of: Asker,
  may: { readonly touch: boolean; readonly reset: boolean },
  resets: z.infer<typeof BenchDescription>['resets'],
): AsyncGenerator<Finding> {
  const { expectOf, finds, refuses } = of
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
  yield await finds('the signal page keeps to its schema', SignalPage, ['GET', 'v2/display/signal'])
  yield await refuses('a control that does not exist is not-found', 'not-found', [
    'PUT',
    'v2/display/controls/no-such-control',
    '{"value":1}',
  ])
  if (!sheet || !stateFound.value) return
  if (!may.touch) {
    yield skipped('controls are set, refused and put back', 'The display was not to be touched.')
    return
  }
  yield* checkControls(of, sheet, stateFound.value.state)
  yield* checkMemories(of, sheet, stateFound.value.state)
  yield* checkResets(of, sheet, stateFound.value.state, resets, may.reset)
}

/** Sets every control that stands elsewhere than it did, what chooses among memories first. */
async function putBack(of: Asker, sheet: ControlSheet, wanted: State): Promise<void> {
  const { ask } = of
  const order = [...sheet.controls].sort((a, b) => sharers(sheet, b).length - sharers(sheet, a).length)
  for (const control of order) {
    const reply = DisplayState.safeParse((await ask('GET', 'v2/display/state')).json)
    const now = reply.success ? reply.data.state : {}
    if (now[control.key] === wanted[control.key] || greyedOut(sheet, control, now, 'sdr')) continue
    await ask('PUT', `v2/display/controls/${control.key}`, JSON.stringify({ value: wanted[control.key] }))
  }
}

async function* checkMemories(of: Asker, sheet: ControlSheet, state: State): AsyncGenerator<Finding> {
  const { expectOf, finds } = of
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
      await putBack(of, sheet, state)
      return
    }
  }
  yield await finds(promise, DisplayState, ['GET', 'v2/display/state'], ({ state: now }) =>
    now[control.key] === value
      ? undefined
      : `“${control.key}” was set to ${value}; after another mode and back it is ${now[control.key]}.`,
  )
  await putBack(of, sheet, state)
}

async function* checkResets(
  of: Asker,
  sheet: ControlSheet,
  state: State,
  resets: z.infer<typeof BenchDescription>['resets'],
  mayReset: boolean,
): AsyncGenerator<Finding> {
  const { ask, finds, refuses } = of
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
    yield await finds(
      'a reset of a mode answers with the state',
      DisplayState,
      ['POST', 'v2/display/reset', { mode: state[mode.key] }],
      whole,
    )
  const own = sheet.controls.find(
    (c) => c.kind === 'number' && c.memory.includes('signal') && !greyedOut(sheet, c, state, 'sdr'),
  )
  if (resets?.includes('signal') && own?.kind === 'number') {
    const { min, step } = own.range
    const value = state[own.key] === min ? min + step : min
    await ask('PUT', `v2/display/controls/${own.key}`, JSON.stringify({ value }))
    yield await finds(
      'a reset of HDR leaves what is stored with SDR',
      DisplayState,
      ['POST', 'v2/display/reset', { signal: 'hdr' }],
      ({ state: now }) =>
        now[own.key] === value
          ? whole({ state: now })
          : `“${own.key}” was set to ${value} in SDR; after a reset of HDR it is ${now[own.key]}.`,
    )
  }
  yield await finds(
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
  await putBack(of, sheet, state)
}

async function* checkControls(of: Asker, sheet: ControlSheet, state: State): AsyncGenerator<Finding> {
  const { finds, refuses } = of
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
  yield await finds('a control is set to the value asked for', SetControl, put(control, other), same(other))
  yield await finds(
    'the state shows what was set',
    DisplayState,
    ['GET', 'v2/display/state'],
    ({ state: now }) =>
      now[control.key] === other ? undefined : `“${control.key}” is ${now[control.key]}, set was ${other}.`,
  )
  yield await finds('setting a control twice does no harm', SetControl, put(control, other), same(other))
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
  yield await finds('the control is put back', SetControl, put(control, before), same(before))
}
