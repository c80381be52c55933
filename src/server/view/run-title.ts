import {
  type ControlSheet,
  clicksBetween,
  controlOf,
  distinctLabel,
  ROLE_MEANING,
  ROLE_TERM,
  sayMemory,
  showValue,
} from '#core/display'
import type { AdjustmentRow, RunRow } from '#db'
import type { SessionRecord } from '../session/record'
import type { ChangeView } from './next-views'

/** A change of a control as pages show it. */
export const changeView = (
  sheet: ControlSheet,
  change: { control: string; from: string | number; to: string | number },
): ChangeView => {
  const control = controlOf(sheet, change.control)
  return {
    control: control.key,
    path: control.path,
    label: control.label,
    name: distinctLabel(sheet, control),
    from: showValue(control, change.from),
    to: showValue(control, change.to),
    clicks: clicksBetween(control, change.from, change.to),
    caution: control.caution,
    memory: sayMemory(control),
    term: ROLE_TERM[control.role],
    meaning: ROLE_MEANING[control.role],
    place: sheet.controls.filter((c) => c.path.join() === control.path.join()).indexOf(control),
  }
}

/** A run in a few words. */
export const runTitle = (record: SessionRecord, run: RunRow): string => {
  if (run.title) return run.title
  const reads = `${run.readingCount} readings`
  if (run.purpose === 'feed-check') return `Signal check, ${reads}`
  if (run.purpose === 'import') return `Imported, ${reads}`
  if (run.purpose === 'prepare') return 'Reset the mode, turn off automatic processing'
  if (run.purpose === 'out-of-box') return `Out of the box, ${reads}`
  if (run.purpose === 'verify') return `Verification sweep, ${reads}`
  const adjustment = record.adjustments.find((m) => m.runId === run.id)
  return adjustment ? adjustmentTitle(record, adjustment) : 'Sweep'
}

const adjustmentTitle = (record: SessionRecord, adjustment: AdjustmentRow): string => {
  const text = adjustment.changes
    .map((c) => {
      const view = changeView(record.sheet.document, c)
      return `${view.label} ${view.from} → ${view.to}`
    })
    .join(', ')
  return adjustment.kind === 'put-back'
    ? `${text}, put back`
    : adjustment.kind === 'by-hand'
      ? `${text}, by hand`
      : text
}
