import type { Change } from '#core/display'
import { type ControlValue, controlByRole, whyRefused } from '#core/display'
import type { Patch } from '#core/measure'
import type { Devices } from '#db'
import { bad, good, type Result } from './result'
import type { SessionRecord } from './session-record'

/** A task of a run that is about to begin. */
export type Task =
  | { kind: 'reset' }
  | { kind: 'rest' }
  | { kind: 'set'; control: string; value: ControlValue }
  | { kind: 'latency'; mode: string }
  | { kind: 'settle' | 'read' | 'control'; patch: Patch }

export const readTask = (patch: Patch): Task => ({ kind: 'read', patch })
export const setAll = (changes: readonly Change[]): Task[] =>
  changes.map((c) => ({ kind: 'set', control: c.control, value: c.to }))

/** From this many patches on, a sweep is long enough for the display to drift in it. */
const LONG = 10
/** In longer ones the control patch comes again after so many patches. */
const BETWEEN = 25

/** A sweep with its control patch, which is its first patch, read again on the way and at the end. */
export const sweepTasks = (patches: readonly Patch[], devices: Devices): Task[] => {
  const [control] = patches
  if (!control || patches.length < LONG || devices.meter === 'hand') return patches.map(readTask)
  return patches.flatMap((patch, i): Task[] => {
    const last = i === patches.length - 1
    const due = last || (i > 0 && i % BETWEEN === 0 && patches.length - i > LONG)
    return due ? [readTask(patch), { kind: 'control', patch: control }] : [readTask(patch)]
  })
}

/** A sweep in several picture modes, one after the other, and back to the mode that was chosen before. */
export const sweepInModes = (
  record: Pick<SessionRecord, 'session' | 'sheet' | 'state'>,
  patches: readonly Patch[],
  modes: readonly string[],
): Result<Task[]> => {
  const { devices } = record.session
  if (modes.length === 0) return good(sweepTasks(patches, devices))
  const chooser = controlByRole(record.sheet.document, 'picture-mode')
  if (!chooser) return bad('The sheet of this display has no picture modes. Nothing was started.')
  const refused = modes.map((mode) => whyRefused(chooser, mode)).find(Boolean)
  if (refused) return bad(`${refused} Nothing was started.`)
  const set = (value: ControlValue): Task => ({ kind: 'set', control: chooser.key, value })
  return good([
    ...modes.flatMap((mode) => [set(mode), ...sweepTasks(patches, devices)]),
    set(record.state.values[chooser.key]!),
  ])
}
