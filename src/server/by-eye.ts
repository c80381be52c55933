import {
  type ControlValue,
  controlByRole,
  controlOf,
  factoryState,
  isOfPicture,
  type State,
  stateProblems,
} from '#core/display'
import { SDR_SIGNAL, signalKind } from '#core/signal'
import { inTransaction, keepState, openRun, standsAt, touchSession } from '#db'
import type { Context } from './context'
import { bad, good, type Result } from './result'

/** A control of a display as a form for settings by eye shows it. */
export interface ByEyeRow {
  readonly key: string
  readonly path: string
  readonly label: string
  readonly value: ControlValue
  /** Values to choose from; undefined where it is a number. */
  readonly choices?: ReadonlyArray<{ readonly value: string; readonly label: string }>
  readonly range?: { readonly min: number; readonly max: number; readonly step: number }
}

/** The settings of a session in which nothing was measured; undefined where there is none, or where something was. */
export const byEyeRows = async ({ db }: Context, sessionId: number): Promise<ByEyeRow[] | undefined> => {
  const session = await db.sessions.findByPk(sessionId)
  if (session?.devices.display !== 'hand' || (await hasReadings(db, sessionId))) return undefined
  const [sheet, state] = await Promise.all([
    db.sheets.findByPk(session.sheetId),
    db.states.findByPk(session.stateId),
  ])
  return sheet?.document.controls.filter(isOfPicture).map((c) => ({
    key: c.key,
    path: c.path.join(' › '),
    label: c.label,
    value: state?.values[c.key] ?? c.default,
    ...(c.kind === 'choice' ? { choices: c.choices } : { range: c.range }),
  }))
}

const hasReadings = async (db: Context['db'], sessionId: number): Promise<boolean> =>
  (await db.readings.findOne({
    attributes: ['id'],
    where: {
      fault: null,
      runId: (await db.runs.findAll({ where: { sessionId }, attributes: ['id'] })).map((r) => r.id),
    },
  })) !== null

/** Writes down what a display shows in a session in which nothing is measured. In: values by control; what is left out stays. Out: nothing, or why not. */
export const setByEye = async (
  { db }: Context,
  sessionId: number,
  values: Readonly<Record<string, ControlValue>>,
): Promise<Result<null>> =>
  inTransaction(db, async (transaction) => {
    const session = await db.sessions.findByPk(sessionId, { transaction, lock: true })
    if (!session) return bad('There is no such session. Nothing was changed.')
    if (session.devices.display !== 'hand')
      return bad('The bench sets this display: its settings come from there. Nothing was changed.')
    if ((await openRun(db, sessionId, transaction)) || (await hasReadings(db, sessionId)))
      return bad('Something is measured in this session: go on along its route. Nothing was changed.')
    const sheet = (await db.sheets.findByPk(session.sheetId, { transaction }))!.document
    const unknown = Object.keys(values).find((key) => !sheet.controls.some((c) => c.key === key))
    if (unknown !== undefined)
      return bad('The sheet of this display has no such control. Nothing was changed.')
    const now = (await db.states.findByPk(session.stateId, { transaction }))!.values
    // A form gives texts: numbers are numbers again.
    const told = Object.fromEntries(
      Object.entries(values).map(([key, value]) => [
        key,
        controlOf(sheet, key).kind === 'number' ? Number(value) : String(value),
      ]),
    )
    // Another mode brings values of its own.
    const chooser = controlByRole(sheet, 'picture-mode')
    const mode = chooser && told[chooser.key]
    const kind = signalKind(session.signalFormat ?? SDR_SIGNAL)
    const base =
      mode === undefined || mode === now[chooser!.key] ? now : factoryState(sheet, String(mode), kind)
    const state: State = { ...base, ...told }
    const problems = stateProblems(sheet, state)
    if (problems.length) return bad(`${problems.slice(0, 3).join(' ')} Nothing was changed.`)
    const kept = await keepState(db, session.unitId, session.sheetId, state, transaction)
    await standsAt(db, session, kept.id, transaction)
    await touchSession(db, sessionId, transaction)
    return good(null)
  })
