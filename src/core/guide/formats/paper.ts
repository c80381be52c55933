import {
  type Block,
  groupsToSet,
  plainProse,
  type SettingRow,
  type TableRow,
  TRANSFER_LABEL,
  type ValueGroup,
} from '#core/guide/document'
import { sayGroupShared } from './outline'

/** A part of a guide on paper: dense, so that all of it fits two sheets. What stays at its default is left out of the settings. */
export type PaperPart =
  | { readonly kind: 'settings'; readonly key: string; readonly groups: readonly ValueGroup[] }
  /** A paragraph with its heading in the same line. */
  | {
      readonly kind: 'said'
      readonly key: string
      readonly head: string
      readonly text: string
    }
  | {
      readonly kind: 'table'
      readonly key: string
      readonly title: string
      readonly head: readonly string[]
      readonly rows: ReadonlyArray<{ readonly label: string; readonly cells: readonly string[] }>
    }
  | Extract<Block, { kind: 'chart'; chart: 'greys' }>

const noted = (text: string, note: string | undefined) => (note ? `${text} (${note})` : text)
const cellsOf = ({ cells }: TableRow) => cells.map((c) => noted(c.text, c.note))
const labelOf = ({ label, note }: TableRow) => noted(label, note)

/** A sentence, with its full stop. */
const sentence = (text: string) => (/[.!?]$/.test(text) ? text : `${text}.`)

/** What is added to settings that are listed: by the display's memory, by an editor. */
const notesOf = (rows: readonly SettingRow[], groups: readonly ValueGroup[]): string => {
  const rowsOf = (g: ValueGroup) => rows.filter((r) => g.values.includes(r.value))
  const notesOfRow = ({ value: { label, words = '', transferReason = '' }, shared }: SettingRow) => {
    const notes = [plainProse(words), transferReason, shared].filter(Boolean)
    return notes.length ? [`“${label}”: ${notes.map(sentence).join(' ')}`] : []
  }
  return groups
    .flatMap((g) => {
      if (!g.pages) return rowsOf(g).flatMap(notesOfRow)
      const shared = sayGroupShared(rowsOf(g))
      return [
        ...(shared ? [`${g.pages}: ${shared}`] : []),
        ...rowsOf(g).flatMap((r) => notesOfRow({ ...r, shared: '' })),
      ]
    })
    .join(' ')
}

/** A block for paper. Out: its parts; none for pictures that paper does not show. */
export const paperParts = (block: Block): PaperPart[] => {
  const { key, title } = block
  const said = (text: string, head = title): PaperPart[] => (text ? [{ kind: 'said', key, head, text }] : [])
  switch (block.kind) {
    case 'settings': {
      const groups = groupsToSet(block.rows.map((r) => r.value))
      return [
        ...(groups.length ? [{ kind: 'settings' as const, key, groups }] : []),
        ...said(notesOf(block.rows, groups), ''),
      ]
    }
    case 'facts':
      return said(`${block.rows.map(([name, text]) => `${name}: ${text}`).join('; ')}.`)
    case 'table': {
      const [, ...columns] = block.head
      if (columns.length > 2)
        return [
          {
            kind: 'table',
            key,
            title,
            head: block.head,
            rows: block.rows.map((r) => ({ label: labelOf(r), cells: cellsOf(r) })),
          },
        ]
      const first = block.head[0] ? `${block.head[0]}: ` : ''
      return said(
        `${block.rows.map((r) => `${labelOf(r)} ${cellsOf(r).join(' → ')}`).join(' · ')}.`,
        `${title} (${first}${columns.join(' → ')})`,
      )
    }
    case 'sentences':
      return said(block.sentences.map(sentence).join(' '))
    case 'pairs':
      return said(block.pairs.map(([term, text]) => `${sentence(term)} ${sentence(text)}`).join(' '))
    case 'prose':
      return said(plainProse(block.text))
    case 'chart':
      return block.chart === 'greys' ? [block] : []
  }
}

/** Pages of a menu that are labelled alike, as one table: a row for each page, a column for each label. */
export const pagesTable = ({
  pages = '',
  values,
}: ValueGroup): Omit<Extract<PaperPart, { kind: 'table' }>, 'kind' | 'key'> => {
  const labels = [...new Set(values.map((v) => v.label))]
  const { transfer } = values.find((v) => v.changed) ?? values[0]!
  return {
    title: `${pages}, ${TRANSFER_LABEL[transfer].toLowerCase()}`,
    head: ['', ...labels],
    rows: [...new Set(values.map((v) => v.path.at(-1) ?? ''))].map((page) => ({
      label: page,
      cells: labels.map(
        (label) => values.find((v) => v.path.at(-1) === page && v.label === label)?.shown ?? '',
      ),
    })),
  }
}
