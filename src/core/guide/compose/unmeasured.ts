import type { ControlSheet } from '#core/display'
import { type RowKept, UNMEASURED, type UnmeasuredKind } from '#core/entry'
import type { GuideValue } from '#core/guide/document'
import { slugOf } from './compose'

const OF_SOUND: ReadonlySet<UnmeasuredKind> = new Set(['sound-output', 'sound-format', 'automatic-volume'])

/** The control of a sheet that a row names by its label and path. */
export const controlOfRow = (sheet: ControlSheet, { path, label }: Pick<RowKept, 'path' | 'label'>) => {
  const plain = (words: readonly string[]) => words.join('›').toLowerCase()
  return sheet.controls.find((c) => plain([...c.path, c.label]) === plain([...path, label]))
}

/** Rows of a case that nobody measured, as values of its guide: marked so, each with its reason. In: rows; the sheet that they stand in. */
export const unmeasuredValues = (sheet: ControlSheet, rows: readonly RowKept[]): GuideValue[] =>
  rows.map((row): GuideValue => {
    const sound = OF_SOUND.has(row.kind)
    return {
      control: controlOfRow(sheet, row)?.key ?? `row-${slugOf([...row.path, row.label].join(' '))}`,
      path: [...row.path],
      label: row.label,
      role: sound ? 'sound' : 'other',
      term: UNMEASURED[row.kind],
      value: row.value,
      shown: row.value,
      comesAs: row.comesAs || 'not noted',
      changed: row.value !== row.comesAs,
      transfer: 'copy',
      origin: 'not-measured',
      why: `Not measured. ${row.reason}`,
      rule: '',
      readings: [],
    }
  })
