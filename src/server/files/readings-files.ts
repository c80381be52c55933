import Papa from 'papaparse'
import type { Transaction } from 'sequelize'
import { z } from 'zod'
import { believeState, State, stateProblems } from '#core/display'
import {
  COLUMN_MEANING,
  type ColumnMap,
  type ColumnRole,
  guessColumns,
  parseCgats,
  type RowProblem,
  readTable,
  SIGNAL_SCALE,
  type SignalScale,
  type TextTable,
  writeCgats,
} from '#core/formats'
import { ASSUMED_PRECISION, standardErrors } from '#core/measure'
import {
  believeShown,
  inTransaction,
  memoryOf,
  openRun,
  type ReadingRow,
  readingColumns,
  touchSession,
} from '#db'
import type { Context } from '../base/context'
import { longLine, readCsv } from '../base/csv'
import { bad, good, type Result } from '../base/result'
import { readJson } from '../model/sheets'
import { loadSession, loadStates } from '../session/record'

/** Largest file of readings, bytes, and most readings in one. */
export const LARGEST_FILE = 8 * 1024 * 1024
const MOST_ROWS = 50_000
const CHUNK = 1_000
const SHOWN_PROBLEMS = 200

/** Text of a file, or why it is none: UTF-8, or UTF-16 where it says so; an older encoding is named and taken. */
export const decode = (bytes: Uint8Array): Result<{ text: string; note: string }> => {
  if (bytes.length === 0) return bad('The file is empty.')
  if (bytes.length > LARGEST_FILE) return bad(`The file is larger than ${LARGEST_FILE / 1024 / 1024} MB.`)
  const utf16 =
    bytes[0] === 0xff && bytes[1] === 0xfe
      ? 'utf-16le'
      : bytes[0] === 0xfe && bytes[1] === 0xff
        ? 'utf-16be'
        : ''
  if (utf16)
    return good({ text: new TextDecoder(utf16).decode(bytes), note: 'The file is written in UTF-16.' })
  if (bytes.includes(0))
    return bad('The file holds zero bytes: it is not text. Save it as CSV or as CGATS.17 text.')
  try {
    return good({ text: new TextDecoder('utf-8', { fatal: true }).decode(bytes), note: '' })
  } catch {
    // Spreadsheets still write it; every byte of it has a meaning.
    return good({
      text: new TextDecoder('windows-1252').decode(bytes),
      note: 'The file is not UTF-8; it was read as Windows-1252. Look whether the names are right.',
    })
  }
}

/** How far into a file it is looked for what tells CGATS.17 from CSV, characters. */
const HEAD = 20_000

const tableOf = (text: string): Result<{ table: TextTable; kind: 'CSV' | 'CGATS.17' }> => {
  const head = text.slice(0, HEAD)
  if (head.trimStart().startsWith('CGATS') || /^[ \t]*BEGIN_DATA_FORMAT\b/m.test(head)) {
    const long = longLine(text)
    if (long) return bad(long)
    const parsed = parseCgats(text)
    return parsed.ok ? good({ table: parsed.table, kind: 'CGATS.17' }) : bad(parsed.why)
  }
  const read = readCsv(text, { rows: MOST_ROWS })
  if (!read.ok) return read
  const [names, ...rows] = read.value
  if (!names || names.cells.length < 2 || rows.length === 0)
    return bad('The file has no table: a line of names and then a line for each reading are needed.')
  return good({ table: { columns: names.cells.map((c) => c.trim()), rows }, kind: 'CSV' })
}

const Roles = Object.keys(COLUMN_MEANING) as [ColumnRole, ...ColumnRole[]]
/** What a person says about the columns of a file. */
export const ImportChoice = z.object({
  columns: z.partialRecord(z.enum(Roles), z.number().int().min(0).max(500)),
  scale: z.enum(Object.keys(SIGNAL_SCALE) as [SignalScale, ...SignalScale[]]),
  meterName: z.string().trim().max(120),
})
export type ImportChoice = z.infer<typeof ImportChoice>

export interface ImportReport {
  readonly kind: 'CSV' | 'CGATS.17'
  readonly note: string
  readonly columns: readonly string[]
  readonly choice: { readonly columns: ColumnMap; readonly scale: SignalScale }
  /** Rows of the file, rows that can be imported. */
  readonly rows: number
  readonly usable: number
  /** The first of them. */
  readonly problems: readonly RowProblem[]
  readonly problemCount: number
  readonly preview: ReadonlyArray<{
    /** Line of the file. */
    readonly row: number
    readonly patch: string
    readonly xyz: readonly [number, number, number]
  }>
  /** Run that they were stored in, where they were. */
  readonly runId?: number
}

/** Keeps imported readings as tasks of a run that were done, many at once. */
const keepImported = async (
  db: Context['db'],
  runId: number,
  stateId: number,
  state: State,
  readings: ReturnType<typeof readTable>['readings'],
  meter: string,
  now: Date,
  transaction: Transaction,
): Promise<void> => {
  for (let from = 0; from < readings.length; from += CHUNK) {
    const chunk = readings.slice(from, from + CHUNK)
    await db.tasks.bulkCreate(
      chunk.map((r, i) => ({
        runId: runId,
        ordinal: from + i,
        kind: 'read' as const,
        control: null,
        value: null,
        patch: r.patch,
        probe: null,
        outcome: 'done' as const,
        finishedAt: now,
      })),
      { transaction },
    )
    await db.readings.bulkCreate(
      chunk.map((r, i) => ({
        runId: runId,
        attempt: 0,
        stateId: stateId,
        ...readingColumns({
          task: from + i,
          kind: 'read',
          origin: 'imported',
          patch: r.patch,
          state,
          pattern: null,
          seen: null,
          xyz: [...r.xyz],
          sigma: [...standardErrors(r.xyz, ASSUMED_PRECISION, 1)],
          uncorrected: null,
          samples: 1,
          seconds: 0,
          clock: from + i,
          exposure: null,
          onFor: null,
          meter,
          meterSlot: null,
          correctionId: null,
          drift: null,
          flags: [],
          fault: null,
          raw: r.taken ? `taken: ${r.taken}` : null,
          takenAt: now.toISOString(),
        }),
      })),
      { transaction },
    )
  }
}

/**
 * Imports readings into a session, all of them or none.
 * In: bytes of the file; what the columns mean (guessed where it is left out); whether to store. Out: a report row by row;
 * stored only where no row has a problem. The readings belong to the settings that the session stands in now.
 */
export const importReadings = async (
  ctx: Context,
  sessionId: number,
  bytes: Uint8Array,
  choice: ImportChoice | undefined,
  store: boolean,
): Promise<Result<ImportReport>> => {
  const text = decode(bytes)
  if (!text.ok) return bad(`${text.error} Nothing was stored.`)
  const read = tableOf(text.value.text)
  if (!read.ok) return bad(`${read.error} Nothing was stored.`)
  const { table, kind } = read.value
  if (table.rows.length > MOST_ROWS)
    return bad(
      `The file has ${table.rows.length} rows; at most ${MOST_ROWS} are taken at once. Nothing was stored.`,
    )
  const columns: ColumnMap = choice?.columns ?? guessColumns(table.columns)
  const scale: SignalScale = choice?.scale ?? 'percent'
  const { readings, problems } = readTable(table, columns, scale)
  const report: ImportReport = {
    kind,
    note: text.value.note,
    columns: table.columns,
    choice: { columns, scale },
    rows: table.rows.length,
    usable: readings.length,
    problems: problems.slice(0, SHOWN_PROBLEMS),
    problemCount: problems.length,
    preview: readings.slice(0, 8).map((r) => ({ row: r.row, patch: r.patch.label, xyz: r.xyz })),
  }
  if (!store || problems.length > 0 || readings.length === 0) return good(report)
  const meter = choice?.meterName || 'unknown meter'
  return inTransaction(ctx.db, async (transaction): Promise<Result<ImportReport>> => {
    const { db } = ctx
    const session = await db.sessions.findByPk(sessionId, { transaction, lock: true })
    if (!session) return bad('There is no such session. Nothing was stored.')
    if (await openRun(db, sessionId, transaction))
      return bad('A run is going on. Let it end, or cancel it first. Nothing was stored.')
    const now = new Date()
    const run = await db.runs.create(
      {
        sessionId,
        benchId: session.benchId,
        purpose: 'import',
        title: `Imported from ${kind}`,
        status: 'done',
        readingCount: readings.length,
        ask: null,
        runnerToken: null,
        meter: null,
        finishedAt: now,
      },
      { transaction },
    )
    const state = (await loadStates(db, [session.stateId], transaction)).get(session.stateId)!.values
    await keepImported(db, run.id, session.stateId, state, readings, meter, now, transaction)
    await touchSession(db, sessionId, transaction)
    return good({ ...report, runId: run.id })
  })
}

const NAMES = [
  'reading',
  'run',
  'run title',
  'patch',
  'red signal, %',
  'green signal, %',
  'blue signal, %',
  'window, % of the screen',
  'X, cd/m²',
  'Y, cd/m²',
  'Z, cd/m²',
  'standard error of Y, cd/m²',
  'samples',
  'bad because',
  'origin',
  'meter',
  'taken',
  'settings',
] as const

const sorted = (readings: readonly ReadingRow[]) => [...readings].sort((a, b) => a.id - b.id)
const percent = (signal: number) => Number((100 * signal).toFixed(4))

/** All readings of a session as CSV, bad ones included; a spreadsheet takes nothing in it for a formula. */
export const readingsCsv = async (ctx: Context, sessionId: number): Promise<string | undefined> => {
  const record = await loadSession(ctx, sessionId)
  if (!record) return undefined
  const titles = new Map(record.runs.map((r) => [r.id, r.title || r.purpose]))
  const rows = sorted(record.readings).map((r) => [
    r.id,
    r.runId,
    titles.get(r.runId) ?? '',
    r.patch.label,
    ...r.patch.signal.map(percent),
    100 * (r.patch.window ?? 0.1),
    r.x ?? '',
    r.y ?? '',
    r.z ?? '',
    r.sigma?.[1] ?? '',
    r.samples,
    r.fault ?? '',
    r.origin,
    r.meter,
    r.takenAt.toISOString(),
    JSON.stringify(record.states.get(r.stateId)?.values ?? {}),
  ])
  return `\uFEFF${Papa.unparse({ fields: [...NAMES], data: rows }, { escapeFormulae: true })}\r\n`
}

/** The usable readings of a session as CGATS.17 text. */
export const readingsCgats = async (ctx: Context, sessionId: number): Promise<string | undefined> => {
  const record = await loadSession(ctx, sessionId)
  if (!record) return undefined
  const { model, variant, unit, session } = record
  return writeCgats(
    {
      originator: 'Wexmar',
      created: session.createdAt.toISOString().slice(0, 10),
      descriptor: `${model.maker} ${model.name} ${variant.sizeInch}, ${unit.serial}`,
    },
    sorted(record.readings)
      .filter((r) => r.fault === null)
      .map((r) => ({
        id: String(r.id),
        name: r.patch.label,
        signal: r.patch.signal,
        xyz: [r.x!, r.y!, r.z!] as const,
      })),
  )
}

/** A state as a file: the sheet's name and one value for each control. */
const StateFile = z.object({
  format: z.literal('wexmar-state/1'),
  maker: z.string(),
  model: z.string(),
  state: State,
})

/** The settings that a session stands in, as JSON; and its control sheet. */
export const stateJson = async (ctx: Context, sessionId: number): Promise<string | undefined> => {
  const record = await loadSession(ctx, sessionId)
  if (!record) return undefined
  const { maker, model } = record.sheet.document
  const file = { format: 'wexmar-state/1', maker, model, state: record.state.values }
  return `${JSON.stringify(file, null, 2)}\n`
}
export const sheetJson = async (ctx: Context, sessionId: number): Promise<string | undefined> => {
  const record = await loadSession(ctx, sessionId)
  return record && `${JSON.stringify(record.sheet.document, null, 2)}\n`
}

/**
 * Takes a state from a file as the settings that a session stands in: for displays that a person sets, and for readings
 * that were taken elsewhere. Out: nothing, or every problem with it; then nothing was changed.
 */
export const importState = async (ctx: Context, sessionId: number, text: string): Promise<Result<null>> => {
  const json = readJson(text)
  if (!json.ok) return bad(`${json.error} Nothing was changed.`)
  const file = StateFile.safeParse(json.value)
  if (!file.success)
    return bad(
      `The file is not a state: ${file.error.issues[0]?.path.join('.')}: ${file.error.issues[0]?.message}. Nothing was changed.`,
    )
  return inTransaction(ctx.db, async (transaction) => {
    const { db } = ctx
    const session = await db.sessions.findByPk(sessionId, { transaction, lock: true })
    if (!session) return bad('There is no such session.')
    if (session.devices.display === 'bench')
      return bad('The bench sets this display: its settings come from there. Nothing was changed.')
    if (await openRun(db, sessionId, transaction)) return bad('A run is going on. Nothing was changed.')
    const sheet = (await db.sheets.findByPk(session.sheetId, { transaction }))!.document
    if (sheet.maker !== file.data.maker || sheet.model !== file.data.model)
      return bad(`The state is that of ${file.data.maker} ${file.data.model}. Nothing was changed.`)
    const problems = stateProblems(sheet, file.data.state)
    if (problems.length) return bad(`${problems.slice(0, 4).join(' ')} Nothing was changed.`)
    const { memory, kind } = await memoryOf(db, session, transaction)
    await believeShown(
      db,
      session,
      believeState(sheet, memory, kind, file.data.state, 'confirmed'),
      transaction,
    )
    await touchSession(db, sessionId, transaction)
    return good(null)
  })
}
