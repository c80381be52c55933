import { type ControlValue, controlByRole, whyRefused } from '#core/display'
import type { Patch } from '#core/measure'
import { type PlannedTask, setTask, sweepTasks } from '#core/plan'
import { bad, good, type Result } from '../base/result'
import type { SessionRecord } from './record'

/** A sweep in several picture modes, one after the other, and back to the mode that was chosen before. */
export const sweepInModes = (
  record: Pick<SessionRecord, 'session' | 'sheet' | 'state'>,
  patches: readonly Patch[],
  modes: readonly string[],
): Result<PlannedTask[]> => {
  const { devices } = record.session
  if (modes.length === 0) return good(sweepTasks(patches, devices))
  const chooser = controlByRole(record.sheet.document, 'picture-mode')
  if (!chooser) return bad('The sheet of this display has no picture modes. Nothing was started.')
  const refused = modes.map((mode) => whyRefused(chooser, mode)).find(Boolean)
  if (refused) return bad(`${refused} Nothing was started.`)
  const set = (value: ControlValue) => setTask(chooser.key, value)
  return good([
    ...modes.flatMap((mode) => [set(mode), ...sweepTasks(patches, devices)]),
    set(record.state.values[chooser.key]!),
  ])
}
