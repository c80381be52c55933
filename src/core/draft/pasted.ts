import { type DraftField, type DraftRow, emptyRow, freshId } from './row'
import { same } from './values'

/** Fields in the order of the table, with the heads they may have in a spreadsheet. */
const HEADS: ReadonlyArray<readonly [DraftField, readonly string[]]> = [
  ['menu', ['menu', 'menu page', 'page', 'path']],
  ['label', ['label', 'control', 'setting', 'name']],
  ['each', ['for each', 'for each (groups)', 'each', 'group']],
  ['values', ['values', 'range', 'options', 'choices']],
  ['factory', ['factory default', 'default', 'factory']],
  ['does', ['what it does', 'does', 'role', 'function']],
  ['stored', ['stored with', 'stored', 'memory']],
  ['neutral', ['neutral', 'off at', 'neutral or off', 'off or neutral at']],
  ['needs', ['greyed out unless', 'needs', 'available when']],
  ['caution', ['caution', 'caution, where the label misleads', 'note', 'notes', 'remark']],
]
/** Fields of the table from left to right. */
export const COLUMNS: readonly DraftField[] = HEADS.map(([field]) => field)

const fieldOf = (head: string): DraftField | undefined =>
  HEADS.find(([, heads]) => heads.some((h) => same(h, head)))?.[0]

/**
 * Rows from cells of a spreadsheet. In: cells by line; rows that are there; the field that the first cell goes to where no line of heads
 * says so. Out: new rows; cells beyond the last field are left out.
 */
export const rowsPasted = (
  cells: ReadonlyArray<readonly string[]>,
  rows: readonly DraftRow[],
  from: DraftField,
): DraftRow[] => {
  const [first] = cells
  const heads = first?.map(fieldOf) ?? []
  const headed = heads.filter(Boolean).length >= 2
  const fields = headed ? heads : COLUMNS.slice(COLUMNS.indexOf(from))
  const made: DraftRow[] = []
  for (const line of headed ? cells.slice(1) : cells) {
    if (line.every((c) => c.trim() === '')) continue
    const before = made.at(-1) ?? rows.at(-1)
    const typed = Object.fromEntries(
      line.flatMap((cell, i) => (fields[i] && cell.trim() ? [[fields[i], cell.trim()]] : [])),
    )
    made.push({ ...emptyRow(freshId([...rows, ...made]), before), ...typed })
  }
  return made
}
