import {
  believe,
  type ControlValue,
  controlOf,
  factoryState,
  isOfPicture,
  sharers,
  stateProblems,
} from '#core/display'
import { believeShown, inTransaction, memoryOf, openRun, touchSession } from '#db'
import type { Context } from '../base/context'
import { bad, good, type Result } from '../base/result'

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
    // A form gives texts: numbers are numbers again. What chooses among places comes first.
    const chooses = (key: string) => (sharers(sheet, controlOf(sheet, key)).length > 0 ? 0 : 1)
    const told = Object.entries(values)
      .map(
        ([key, value]) =>
          [key, controlOf(sheet, key).kind === 'number' ? Number(value) : String(value)] as const,
      )
      .sort(([a], [b]) => chooses(a) - chooses(b))
    const problems = stateProblems(sheet, { ...factoryState(sheet), ...Object.fromEntries(told) })
    if (problems.length) return bad(`${problems.slice(0, 3).join(' ')} Nothing was changed.`)
    const { memory, kind } = await memoryOf(db, session, transaction)
    await believeShown(db, session, believe(sheet, memory, kind, told, 'confirmed'), transaction)
    await touchSession(db, sessionId, transaction)
    return good(null)
  })
