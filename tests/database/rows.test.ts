import { QueryTypes } from 'sequelize'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { runnerLoop } from '#bench/runner'
import { archivedRow, type Database, TABLES, UnreadableRow } from '#db'
import { heavy } from '#server/background'
import { type Context, forgetBench } from '#server/base'
import { policiesView } from '#server/equipment'
import { carryOut } from '#server/session'
import { beginOn, freshDatabase, startBench, until } from '#tests/environment'

let db: Database
let bench: Awaited<ReturnType<typeof startBench>>
let ctx: Context
let session: number
const leave = new AbortController()
let runner: Promise<void>

beforeAll(async () => {
  db = await freshDatabase()
  bench = await startBench()
  ctx = { db, bench: bench.client }
  runner = runnerLoop(db, leave.signal)
  forgetBench()
  session = await beginOn(ctx)
  // Prepared, then swept: readings in one state.
  for (let i = 0; i < 12 && (await db.readings.count()) < 8; i++) {
    const { revision } = (await db.sessions.findByPk(session))!
    await carryOut(ctx, session, { type: 'go', revision })
    await until(
      async () => (await db.runs.count({ where: { status: ['queued', 'running', 'waiting'] } })) === 0,
      'no run is open',
    )
  }
})
afterAll(async () => {
  leave.abort()
  await runner
  await bench.stop()
  await db.sequelize.close()
})

/** Writes text into a column as only a damaged disk or a stranger's hand would. */
const damage = (table: string, column: string, id: number, value: unknown) =>
  db.sequelize.query(`UPDATE \`${table}\` SET \`${column}\` = :value WHERE id = :id`, {
    replacements: { value: JSON.stringify(value), id },
  })
const shown = async (of: Context = ctx) => (await heavy.sessionView(of, session))!
/** As another process sees it, which remembers nothing. */
const afresh = async (): Promise<Context> => ({ ...ctx, db: { ...db } })

describe('a row that cannot be read', () => {
  it('is named and left out, and the session goes on without it', async () => {
    const before = await shown()
    const rows = await db.readings.findAll({ order: ['id'] })
    const broken = rows.at(-1)!
    await damage('readings', 'patch', broken.id, { key: 7 })
    try {
      await expect(async () => (await db.readings.findByPk(broken.id))!.patch).rejects.toThrow(UnreadableRow)
      const view = await shown(await afresh())
      expect(view.header.warnings).toContainEqual(
        expect.stringMatching(
          new RegExp(`^Row ${broken.id} of readings cannot be read: patch\\..* left out\\.$`),
        ),
      )
      expect(view.log.length).toBe(before.log.length - 1)
    } finally {
      await damage('readings', 'patch', broken.id, broken.patch)
    }
    expect((await shown(await afresh())).log.length).toBe(before.log.length)
  })
  it('takes along what was read in it where it is a state', async () => {
    const before = await shown()
    const last = (await db.readings.findOne({ order: [['id', 'DESC']] }))!
    const own = (await db.states.findByPk(last.stateId))!.get({ plain: true })
    const other = await db.states.create({ ...own, id: undefined as never, digest: 'f'.repeat(64) })
    await db.readings.update({ stateId: other.id }, { where: { id: last.id } })
    await damage('states', 'values', other.id, [1, 2])
    try {
      const view = await shown(await afresh())
      expect(view.header.warnings).toContainEqual(
        `Row ${other.id} of states cannot be read. What was read in it is left out.`,
      )
      expect(view.log.length).toBe(before.log.length - 1)
    } finally {
      await db.readings.update({ stateId: last.stateId }, { where: { id: last.id } })
      await other.destroy()
    }
  })
  it('stands in no one’s way in a list', async () => {
    const before = (await policiesView(ctx)).length
    const row = await db.policies.create({ name: 'broken', document: {} as never })
    expect((await policiesView(ctx)).length).toBe(before)
    await row.destroy()
  })
})

describe('columns', () => {
  it('are the same in an archive: what a table has is in it, named by place, or kept here for a reason', () => {
    const kept = Object.keys(archivedRow(TABLES.runs).shape)
    expect(kept).toContain('sessionId')
    for (const own of ['id', 'benchId', 'runnerToken', 'ask', 'beat']) expect(kept).not.toContain(own)
    expect(archivedRow(TABLES.derivedReadings).safeParse({ derivedId: 0, readingId: 3 }).success).toBe(true)
    expect(archivedRow(TABLES.derivedReadings).safeParse({ derivedId: -1, readingId: 3 }).success).toBe(false)
  })
  it('exist in the database under their names, and no other does', async () => {
    for (const of of Object.values(TABLES)) {
      // Those that the database reckons by itself are for its indexes.
      const rows = await db.sequelize.query<{ name: string }>(
        `SELECT column_name AS name FROM information_schema.columns
          WHERE table_schema = DATABASE() AND table_name = :table AND generation_expression IS NULL`,
        { type: QueryTypes.SELECT, replacements: { table: of.name } },
      )
      const there = rows.map((r) => r.name)
      const wanted = Object.entries(of.columns).map(
        ([name, { sql }]) => sql.field ?? name.replace(/[A-Z]/g, (c) => `_${c.toLowerCase()}`),
      )
      // What an earlier version let a person enter stays where it is.
      const unused = there.filter((c) => !wanted.includes(c) && c !== 'reset_after')
      expect([of.name, unused]).toEqual([of.name, []])
      expect([of.name, wanted.filter((c) => !there.includes(c))]).toEqual([of.name, []])
    }
  })
})
