import type { Transaction } from 'sequelize'
import { controlByRole, greyedOut, type State, showValue, stateProblems } from '#core/display'
import {
  type LatencyEntry,
  numberTyped,
  type RowEntry,
  RowKept,
  TraceDocument,
  type TraceEntry,
} from '#core/entry'
import { controlOfRow } from '#core/guide/compose'
import type { ViewingCase } from '#core/judge'
import { edgesOf, latencyFigures, type ProbePosition, readTrace, thinned } from '#core/measure'
import { SDR_SIGNAL, signalKind } from '#core/signal'
import {
  type Database,
  inTransaction,
  keepState,
  openRun,
  readable,
  type SessionRow,
  touchSession,
} from '#db'
import type { Context } from '../base/context'
import { readCsv } from '../base/csv'
import { bad, good, type Result } from '../base/result'
import { decode } from '../files/readings-files'
import { loadSession } from '../session/record'

/** What a person entered of a case beside its readings. */
export interface EnteredView {
  readonly viewingCase: ViewingCase
  /** Controls that claim to shorten latency, with where they stand; choices are null where a number is typed. */
  readonly controls: ReadonlyArray<{
    readonly key: string
    readonly label: string
    readonly path: readonly string[]
    readonly value: string
    readonly choices: ReadonlyArray<{ readonly value: string; readonly label: string }> | null
    /** Why it is greyed out now; empty where it is not. */
    readonly greyed: string
  }>
  readonly latencies: ReadonlyArray<{
    readonly id: number
    /** Hz */
    readonly rate: number
    readonly position: ProbePosition
    /** Where the controls stood, in words. */
    readonly settings: string
    /** ms */
    readonly mean: number
    readonly spread: number
    readonly count: number
  }>
  readonly rows: ReadonlyArray<{ readonly id: number } & RowKept>
  readonly traces: ReadonlyArray<{ readonly id: number } & TraceDocument>
}

const NO_SESSION = 'There is no such session. Nothing was saved.'
const RUN_GOES_ON = 'A run is going on. Let it end, or cancel it first. Nothing was saved.'
/** Most rows and traces of a case, so that its guide stays one. */
const MOST_ROWS = 60
const MOST_TRACES = 60
/** Most samples of a trace: half a second at a million a second. */
const MOST_SAMPLES = 500_000

const stateOf = async (db: Database, session: SessionRow, transaction?: Transaction): Promise<State> =>
  (await db.states.findByPk(session.stateId, { transaction }))!.values

const showing = (on: ReadonlyArray<{ readonly label: string; readonly shown: string }>) =>
  on.map((o) => `“${o.label}” ${o.shown}`).join(', ')

/** What a person entered of a session beside its readings; undefined where there is no such session. */
export const enteredView = async (ctx: Context, id: number): Promise<EnteredView | undefined> => {
  const record = await loadSession(ctx, id)
  if (!record) return undefined
  const { session, sheet, state, latencies, entries, runs, states } = record
  const kind = signalKind(session.signalFormat ?? SDR_SIGNAL)
  const controls = sheet.document.controls.filter((c) => c.role === 'latency')
  const shownIn = (values: State) =>
    controls.flatMap((c) => {
      const value = values[c.key]
      if (value === undefined) return []
      return [{ label: c.label, shown: showValue(c, value) }]
    })
  const typedRuns = new Set(runs.flatMap((r) => (r.purpose === 'import' ? [r.id] : [])))
  return {
    viewingCase: session.viewingCase,
    controls: controls.map((c) => ({
      key: c.key,
      label: c.label,
      path: c.path,
      value: String(state.values[c.key] ?? c.default),
      choices: c.kind === 'choice' ? c.choices.map((o) => ({ value: o.value, label: o.label })) : null,
      greyed: greyedOut(sheet.document, c, state.values, kind) ?? '',
    })),
    latencies: latencies
      .filter((l) => typedRuns.has(l.runId))
      .map((l) => {
        const { mean, spread, count } = latencyFigures(l.times)
        return {
          id: l.id,
          rate: l.rate,
          position: l.position ?? 'middle',
          settings: showing(shownIn(states.get(l.stateId)?.values ?? {})) || 'no option to shorten it',
          mean,
          spread,
          count,
        }
      }),
    rows: entries.flatMap((e) => {
      const row = e.kind === 'row' ? RowKept.safeParse(e.document).data : undefined
      return row ? [{ id: e.id, ...row }] : []
    }),
    traces: entries.flatMap((e) => {
      const trace = e.kind === 'trace' ? TraceDocument.safeParse(e.document).data : undefined
      return trace ? [{ id: e.id, ...trace }] : []
    }),
  }
}

/** Samples of the traces of a session, by id, to be drawn. */
export const traceSamples = async (
  { db }: Context,
  sessionId: number,
): Promise<ReadonlyMap<number, { times: readonly number[]; light: readonly number[] }>> => {
  const rows = readable(
    await db.entries.findAll({ where: { sessionId, kind: 'trace', removedAt: null }, order: ['id'] }),
  )
  return new Map(rows.flatMap((r) => (r.samples ? [[r.id, r.samples] as const] : [])))
}

/** Keeps delays that another instrument showed, under the settings that are named. In: session, what was typed. Out: what was kept, in a sentence. */
export const addLatency = (ctx: Context, sessionId: number, entry: LatencyEntry): Promise<Result<string>> =>
  inTransaction(ctx.db, async (transaction): Promise<Result<string>> => {
    const { db } = ctx
    const session = await db.sessions.findByPk(sessionId, { transaction, lock: true })
    if (!session) return bad(NO_SESSION)
    if (await openRun(db, sessionId, transaction)) return bad(RUN_GOES_ON)
    const sheet = (await db.sheets.findByPk(session.sheetId, { transaction }))!.document
    const values: Record<string, string | number> = { ...(await stateOf(db, session, transaction)) }
    for (const [key, text] of Object.entries(entry.settings)) {
      const control = sheet.controls.find((c) => c.key === key && c.role === 'latency')
      if (!control) return bad('This display has no such control. Nothing was saved.')
      const value = control.kind === 'number' ? numberTyped(text) : text
      if (value === undefined)
        return bad(`“${text.slice(0, 40)}” is no value of “${control.label}”. Nothing was saved.`, 'settings')
      values[key] = value
    }
    const problems = stateProblems(sheet, values)
    if (problems.length) return bad(`${problems[0]} Nothing was saved.`, 'settings')
    const state = await keepState(db, session.unitId, session.sheetId, values, transaction)
    const mode = controlByRole(sheet, 'picture-mode')
    const latencyControl = controlByRole(sheet, 'latency')
    const now = new Date()
    const { mean, count } = latencyFigures(entry.times)
    const run = await db.runs.create(
      {
        sessionId,
        benchId: session.benchId,
        purpose: 'import',
        title: `Latency at ${entry.rate} Hz, typed`,
        status: 'done',
        readingCount: 0,
        ask: null,
        runnerToken: null,
        meter: null,
        finishedAt: now,
      },
      { transaction },
    )
    await db.tasks.create(
      {
        runId: run.id,
        ordinal: 0,
        kind: 'latency',
        control: null,
        value: null,
        patch: null,
        probe: null,
        outcome: 'done',
        finishedAt: now,
      },
      { transaction },
    )
    await db.latencies.create(
      {
        runId: run.id,
        task: 0,
        stateId: state.id,
        mode: mode ? String(values[mode.key] ?? session.baseMode ?? '') : '',
        rate: entry.rate,
        milliseconds: [...entry.times].sort((a, b) => a - b)[Math.floor(count / 2)]!,
        times: entry.times,
        setting: latencyControl ? (values[latencyControl.key] ?? null) : null,
        position: entry.position,
        takenAt: now,
        removedAt: null,
      },
      { transaction },
    )
    await touchSession(db, sessionId, transaction)
    return good(`Kept ${count} ${count === 1 ? 'time' : 'times'}, ${mean.toFixed(1)} ms on average.`)
  })

/** Takes back delays that were typed; what the probe read stays. */
export const removeLatency = (ctx: Context, sessionId: number, id: number): Promise<Result<null>> =>
  inTransaction(ctx.db, async (transaction): Promise<Result<null>> => {
    const { db } = ctx
    const row = await db.latencies.findByPk(id, { transaction })
    const run = row && (await db.runs.findByPk(row.runId, { transaction }))
    if (!row || row.removedAt || run?.sessionId !== sessionId || run.purpose !== 'import')
      return bad('There are no such times. Nothing was changed.')
    await db.latencies.update({ removedAt: new Date() }, { where: { id }, transaction })
    await touchSession(db, sessionId, transaction)
    return good(null)
  })

const keep = (
  ctx: Context,
  sessionId: number,
  kind: 'row' | 'trace',
  most: number,
  make: (
    db: Database,
    session: SessionRow,
    transaction: Transaction,
  ) => Promise<
    Result<{
      document: object
      samples: { times: readonly number[]; light: readonly number[] } | null
      done: string
    }>
  >,
): Promise<Result<string>> =>
  inTransaction(ctx.db, async (transaction): Promise<Result<string>> => {
    const { db } = ctx
    const session = await db.sessions.findByPk(sessionId, { transaction, lock: true })
    if (!session) return bad(NO_SESSION)
    if ((await db.entries.count({ where: { sessionId, kind, removedAt: null }, transaction })) >= most)
      return bad(`There are ${most} already, as many as a case takes. Nothing was saved.`)
    const made = await make(db, session, transaction)
    if (!made.ok) return made
    const { document, samples, done } = made.value
    await db.entries.create({ sessionId, kind, document, samples, removedAt: null }, { transaction })
    await touchSession(db, sessionId, transaction)
    return good(done)
  })

/** Keeps a row of a case that no meter reads. In: session, what was typed. Out: what was kept, in a sentence. */
export const addRow = (ctx: Context, sessionId: number, row: RowEntry): Promise<Result<string>> =>
  keep(ctx, sessionId, 'row', MOST_ROWS, async (db, session, transaction) => {
    const sheet = (await db.sheets.findByPk(session.sheetId, { transaction }))!.document
    const control = controlOfRow(sheet, row)
    if (control && control.role !== 'sound')
      return bad(
        `“${control.label}” is on the control sheet: its row is in the guide already. Write your reason at the value, on the guide desk. Nothing was saved.`,
        'label',
      )
    const rows = readable(
      await db.entries.findAll({ where: { sessionId, kind: 'row', removedAt: null }, transaction }),
    )
    const place = (r: Pick<RowKept, 'path' | 'label'>) => [...r.path, r.label].join('›').toLowerCase()
    if (rows.some((r) => place(r.document as RowKept) === place(row)))
      return bad(`“${row.label}” has a row already: remove that first. Nothing was saved.`, 'label')
    return good({ document: row, samples: null, done: `“${row.label}” is a row of this case now.` })
  })

/** Takes a row or a trace off a case. */
export const removeEntry = (ctx: Context, sessionId: number, id: number): Promise<Result<null>> =>
  inTransaction(ctx.db, async (transaction): Promise<Result<null>> => {
    const { db } = ctx
    const [count] = await db.entries.update(
      { removedAt: new Date() },
      { where: { id, sessionId, removedAt: null }, transaction },
    )
    if (!count) return bad('There is no such entry. Nothing was changed.')
    await touchSession(db, sessionId, transaction)
    return good(null)
  })

/** Keeps a trace of a light sensor. In: session; greys that it goes between; name and bytes of a CSV with time and light. Out: what was found, in a sentence. */
export const addTrace = async (
  ctx: Context,
  sessionId: number,
  { from, to }: TraceEntry,
  name: string,
  bytes: Uint8Array,
): Promise<Result<string>> => {
  const text = decode(bytes)
  if (!text.ok) return bad(`${text.error} Nothing was saved.`, 'file')
  const table = readCsv(text.value.text, { rows: MOST_SAMPLES })
  if (!table.ok) return bad(`${table.error} Nothing was saved.`, 'file')
  const [names, ...rows] = table.value
  const read = readTrace(
    (names?.cells ?? []).map((n) => n.trim()),
    rows.map((r) => r.cells),
  )
  if (!read.ok) return bad(`${read.error} Nothing was saved.`, 'file')
  const edges = edgesOf(read.value)
  if (!edges.ok) return bad(`${edges.error} Nothing was saved.`, 'file')
  const document: TraceDocument = { from, to, name: name.slice(0, 120), edges: edges.value }
  return keep(ctx, sessionId, 'trace', MOST_TRACES, async () =>
    good({
      document,
      samples: thinned(read.value),
      done: `Kept: ${edges.value.map((e) => `${e.way} ${e.time.toFixed(1)} ms`).join(', ')}.`,
    }),
  )
}
