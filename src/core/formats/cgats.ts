/** A table of text: names of the columns, and rows of cells. `line` of a row is its line in the file. */
export interface TextTable {
  readonly columns: readonly string[]
  readonly rows: ReadonlyArray<{ readonly line: number; readonly cells: readonly string[] }>
}

/** Words of a line; what stands in quotes is one word. */
const wordsOf = (line: string): string[] =>
  [...line.matchAll(/"((?:[^"]|"")*)"|(\S+)/g)].map((m) =>
    m[1] === undefined ? m[2]! : m[1].replaceAll('""', '"'),
  )

/**
 * Reads the first table of a CGATS.17 text.
 * In: text. Out: its columns and rows, or what is wrong with it. ANSI CGATS.17-2009, 5: keywords, then the data format and
 * the data, each between BEGIN and END; comments begin with #.
 */
export const parseCgats = (text: string): { ok: true; table: TextTable } | { ok: false; why: string } => {
  const lines = text.split(/\r\n|\r|\n/)
  const columns: string[] = []
  const rows: Array<{ line: number; cells: string[] }> = []
  let within: 'head' | 'format' | 'data' | 'end' = 'head'
  let cells: string[] = []
  let first = 0
  for (const [i, raw] of lines.entries()) {
    // A comment sign within quotes is text.
    const line = raw.replace(/^((?:[^"#]|"[^"]*")*)#.*$/, '$1').trim()
    if (line === '' || within === 'end') continue
    if (line === 'BEGIN_DATA_FORMAT') within = 'format'
    else if (line === 'END_DATA_FORMAT') within = 'head'
    else if (line === 'BEGIN_DATA') {
      if (columns.length === 0)
        return { ok: false, why: `Line ${i + 1}: the data begin before their format is told.` }
      within = 'data'
    } else if (line === 'END_DATA') within = 'end'
    else if (within === 'format') columns.push(...wordsOf(line).map((w) => w.toUpperCase()))
    else if (within === 'data') {
      if (cells.length === 0) first = i + 1
      cells.push(...wordsOf(line))
      // A set may run over several lines.
      if (cells.length >= columns.length) {
        rows.push({ line: first, cells })
        cells = []
      }
    }
  }
  if (columns.length === 0)
    return { ok: false, why: 'The file has no BEGIN_DATA_FORMAT: it is no CGATS.17 text.' }
  if (within !== 'end') return { ok: false, why: 'The file ends before END_DATA: it was cut short.' }
  if (cells.length)
    return { ok: false, why: `Line ${first}: the last set has ${cells.length} of ${columns.length} values.` }
  return { ok: true, table: { columns, rows } }
}

const CGATS_FIELDS = [
  'SAMPLE_ID',
  'SAMPLE_NAME',
  'RGB_R',
  'RGB_G',
  'RGB_B',
  'XYZ_X',
  'XYZ_Y',
  'XYZ_Z',
] as const

const quoted = (text: string) => `"${text.replaceAll('"', "'").replace(/[\r\n\t]+/g, ' ')}"`

/**
 * Writes readings as CGATS.17 text. In: what describes them; readings with signals in percent and absolute XYZ in cd/m².
 */
export const writeCgats = (
  about: { readonly originator: string; readonly created: string; readonly descriptor: string },
  readings: ReadonlyArray<{
    id: string
    name: string
    signal: readonly [number, number, number]
    xyz: readonly [number, number, number]
  }>,
): string =>
  [
    'CGATS.17',
    `ORIGINATOR ${quoted(about.originator)}`,
    `CREATED ${quoted(about.created)}`,
    `DESCRIPTOR ${quoted(about.descriptor)}`,
    'KEYWORD "LUMINANCE_UNIT"',
    'LUMINANCE_UNIT "cd/m2"',
    `NUMBER_OF_FIELDS ${CGATS_FIELDS.length}`,
    'BEGIN_DATA_FORMAT',
    CGATS_FIELDS.join(' '),
    'END_DATA_FORMAT',
    `NUMBER_OF_SETS ${readings.length}`,
    'BEGIN_DATA',
    ...readings.map(({ id, name, signal, xyz }) =>
      [
        quoted(id),
        quoted(name),
        ...signal.map((s) => Number((100 * s).toFixed(4))),
        ...xyz.map((v) => Number(v.toPrecision(9))),
      ].join(' '),
    ),
    'END_DATA',
    '',
  ].join('\n')
