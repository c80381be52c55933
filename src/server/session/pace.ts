import { QueryTypes } from 'sequelize'
import type { Change } from '#core/display'
import { costOf, type HandPace, paceOf, type Shown } from '#core/steps'
import type { Database } from '#db'
import { sheetOf } from './record'

/** Readings and adjustments, the newest, that are looked at for how long a person takes for one. */
const MOST_GAPS = 200
const MOST_SET = 40
/** Newest sessions by hand that they are taken from. */
const MOST_SESSIONS = 12
/** Readings from which on a person's pace is known. */
const LEAST_GAPS = 5
/** Seconds for a reading before anybody has typed one, and at least: nobody shows a patch, reads a meter and types three numbers faster. */
const USUAL_READING = 8
const LEAST_READING = 1.5

/** Ids of the newest sessions in which a person stood in for a device. */
const sessionsByHand = async (
  db: Database,
  device: 'display' | 'meter',
  except: number,
): Promise<number[]> => {
  const rows = await db.sequelize.query<{ id: number }>(
    `SELECT id FROM sessions WHERE JSON_VALUE(devices, :path) = 'hand' AND id <> :except ORDER BY id DESC LIMIT ${MOST_SESSIONS}`,
    { type: QueryTypes.SELECT, replacements: { path: `$.${device}`, except } },
  )
  return rows.map((r) => r.id)
}

/**
 * How long each adjustment took that a person has set in other sessions, of whatever unit: from the key that began it to its first reading. In:
 * database; session that is left aside. Out: the newest first.
 */
export const shownElsewhere = async (db: Database, except = 0): Promise<Shown[]> => {
  const sessions = await sessionsByHand(db, 'display', except)
  if (sessions.length === 0) return []
  const rows = await db.sequelize.query<{
    changes: string | Change[]
    sheetId: number
    seconds: number | null
  }>(
    `SELECT a.changes AS changes, s.sheet_id AS sheetId,
        (SELECT TIMESTAMPDIFF(MICROSECOND, q.created_at, MIN(r.taken_at)) / 1000000 FROM readings r WHERE r.run_id = q.id) AS seconds
       FROM adjustments a JOIN runs q ON q.id = a.run_id JOIN sessions s ON s.id = a.session_id
      WHERE a.session_id IN (:sessions) ORDER BY a.id DESC LIMIT ${MOST_SET}`,
    { type: QueryTypes.SELECT, replacements: { sessions } },
  )
  const shown: Shown[] = []
  for (const { changes, sheetId, seconds } of rows) {
    const own = typeof changes === 'string' ? (JSON.parse(changes) as Change[]) : changes
    if (seconds === null || own.length === 0) continue
    const { values, clicks } = costOf((await sheetOf(db, sheetId)).document, own)
    shown.push({ values, clicks, seconds: Number(seconds) })
  }
  return shown
}

/** Seconds that a person has taken for a reading lately, whatever the unit: the median between two of one run; and whether any were taken. */
const secondsForReading = async (db: Database): Promise<{ perReading: number; own: boolean }> => {
  const usual = { perReading: USUAL_READING, own: false }
  const sessions = await sessionsByHand(db, 'meter', 0)
  if (sessions.length === 0) return usual
  const rows = await db.sequelize.query<{ runId: number; takenAt: Date }>(
    `SELECT r.run_id AS runId, r.taken_at AS takenAt FROM readings r JOIN runs q ON q.id = r.run_id
      WHERE q.session_id IN (:sessions) AND r.origin = 'typed' ORDER BY r.id DESC LIMIT ${MOST_GAPS}`,
    { type: QueryTypes.SELECT, replacements: { sessions } },
  )
  const gaps = rows
    .flatMap((r, i) => {
      const before = rows[i + 1]
      return before?.runId === r.runId ? [(+new Date(r.takenAt) - +new Date(before.takenAt)) / 1000] : []
    })
    .filter((seconds) => seconds > 0)
    .sort((a, b) => a - b)
  return gaps.length < LEAST_GAPS
    ? usual
    : { perReading: Math.max(LEAST_READING, gaps[Math.floor(gaps.length / 2)]!), own: true }
}

/** The pace of the person who works by hand here: for a reading, to find a value, and for a click, in seconds; `own` where readings of theirs tell it. */
export const paceHere = async (
  db: Database,
): Promise<HandPace & { readonly perReading: number; readonly own: boolean }> => ({
  ...paceOf(await shownElsewhere(db)),
  ...(await secondsForReading(db)),
})
