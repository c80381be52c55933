import { CsvError, parse } from 'csv-parse/sync'
import { bad, good, type Result } from './result'

/** What a table in a file may be. */
interface CsvLimits {
  readonly rows: number
}
const MOST_COLUMNS = 500
/** A line or a row longer than this is none of readings, characters. */
const LONGEST_ROW = 64 * 1024
const [LINE_FEED, RETURN] = [10, 13]

/** That a text has a line longer than is read, in a sentence; undefined where it has none. */
export const longLine = (text: string): string | undefined => {
  let begun = 0
  let line = 1
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i)
    if (c === LINE_FEED || c === RETURN) {
      begun = i + 1
      if (c === LINE_FEED) line++
    } else if (i - begun > LONGEST_ROW) return `Line ${line}: it is longer than ${LONGEST_ROW / 1024} kB.`
  }
  return undefined
}
const DELIMITERS = [',', ';', '\t', '|'] as const

/** What stands between the cells: of the usual signs the one that the line of names has most of. */
const delimiterOf = (line: string): string =>
  DELIMITERS.toSorted((a, b) => line.split(b).length - line.split(a).length)[0]!

/** The first line that says anything. Nothing after it is looked at. */
const firstLine = (text: string): string => /[^\r\n]+/.exec(text)?.[0].slice(0, LONGEST_ROW) ?? ''

/**
 * Reads a CSV table (RFC 4180; also with semicolons, tabs or bars). In: text, limits. Out: its lines that are not empty, with the number of each; or what is wrong
 * with it, in a sentence. Takes time and memory in proportion to the text, whatever it holds.
 */
export const readCsv = (
  text: string,
  { rows }: CsvLimits,
): Result<ReadonlyArray<{ readonly line: number; readonly cells: readonly string[] }>> => {
  const long = longLine(text)
  if (long) return bad(long)
  const delimiter = delimiterOf(firstLine(text))
  if (firstLine(text).split(delimiter).length > MOST_COLUMNS)
    return bad(`The table has more than ${MOST_COLUMNS} columns.`)
  try {
    const found = parse(text, {
      delimiter,
      record_delimiter: ['\r\n', '\n', '\r'],
      bom: true,
      info: true,
      relax_column_count: true,
      skip_empty_lines: true,
      skip_records_with_empty_values: true,
      max_record_size: LONGEST_ROW,
      // One more than is taken, so that too many are told from just enough.
      to: rows + 2,
    }) as unknown as ReadonlyArray<{ record: string[]; info: { lines: number } }>
    if (found.length > rows + 1)
      return bad(`The file has more than ${rows} rows: at most ${rows} are taken at once.`)
    return good(found.map(({ record, info }) => ({ line: info.lines, cells: record })))
  } catch (error) {
    if (!(error instanceof CsvError)) throw error
    const line = Number((error as { lines?: number }).lines ?? 0)
    return bad(
      error.code === 'CSV_QUOTE_NOT_CLOSED' ||
        error.code === 'CSV_INVALID_CLOSING_QUOTE' ||
        error.code === 'INVALID_OPENING_QUOTE'
        ? `Line ${line}: a quotation mark is not closed, or stands within a value.`
        : error.code === 'CSV_MAX_RECORD_SIZE'
          ? `Line ${line}: the row is longer than ${LONGEST_ROW / 1024} kB.`
          : `Line ${line}: it cannot be read as CSV.`,
    )
  }
}
