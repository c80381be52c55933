import Papa from 'papaparse'
import { ControlSheet } from '#core/display'
import { type DraftRow, rowsOf, rowsPasted } from '#core/draft'
import { COLUMNS, FIELD_LABEL, MORE } from './sheet-row'

export type RowsAnswer =
  | { readonly ok: true; readonly rows: DraftRow[] }
  | { readonly ok: false; readonly error: string }

const FIELDS = [...COLUMNS, ...MORE].map(([field]) => field)

/** Rows as a table for a spreadsheet. */
export const asTable = (rows: readonly DraftRow[]): string =>
  Papa.unparse({
    fields: FIELDS.map((f) => FIELD_LABEL[f]),
    data: rows.map((r) => FIELDS.map((f) => r[f])),
  })

/** Rows from a file: a control sheet in JSON, or a table. */
export const importedRows = (text: string): RowsAnswer => {
  if (text.trimStart().startsWith('{')) {
    let json: unknown
    try {
      json = JSON.parse(text)
    } catch (error) {
      return { ok: false, error: `The file is not JSON: ${(error as Error).message}.` }
    }
    const sheet = ControlSheet.safeParse(json)
    if (sheet.success) return { ok: true, rows: rowsOf(sheet.data) }
    const { issues } = sheet.error
    const said = issues.slice(0, 20).map((i) => `${i.path.join('.') || 'the sheet'}: ${i.message}`)
    return {
      ok: false,
      error: `The file is not a control sheet: ${said.join('; ')}${issues.length > 20 ? `; and ${issues.length - 20} more` : ''}.`,
    }
  }
  const { data } = Papa.parse<string[]>(text, { skipEmptyLines: true })
  const rows = rowsPasted(data, [], 'menu')
  return rows.length ? { ok: true, rows } : { ok: false, error: 'The file has no rows.' }
}

export const download = (name: string, text: string, type: string) => {
  const url = URL.createObjectURL(new Blob([text], { type }))
  const link = document.createElement('a')
  link.href = url
  link.download = name
  link.click()
  setTimeout(() => URL.revokeObjectURL(url), 10_000)
}
