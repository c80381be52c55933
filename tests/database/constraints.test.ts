import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { type Database, migrate } from '#db'
import { heavy } from '#server/background'
import { carryOut } from '#server/session'
import { beginOn, freshDatabase, startBench } from '#tests/environment'

let db: Database
let bench: Awaited<ReturnType<typeof startBench>>
let session: number
beforeAll(async () => {
  db = await freshDatabase()
  bench = await startBench()
  const ctx = { db, bench: bench.client }
  session = await beginOn(ctx)
  const view = (await heavy.sessionView(ctx, session))!
  await carryOut(ctx, session, { type: 'go', revision: view.revision })
})
afterAll(async () => {
  await bench.stop()
  await db.sequelize.close()
})

const refused = (sql: string) => expect(db.sequelize.query(sql)).rejects.toThrow()

describe('the tables themselves', () => {
  it('migrate once, and a second time do nothing', async () => {
    expect(await migrate(db)).toEqual([])
  })
  it('refuse a reading without values that is not marked as bad', async () => {
    await db.tasks.create({
      runId: 1,
      ordinal: 90,
      kind: 'read',
      control: null,
      value: null,
      patch: { key: 'grey-10', label: '10 %', signal: [0.1, 0.1, 0.1] },
      outcome: null,
      finishedAt: null,
    })
    const insert = (columns: string, values: string) =>
      `INSERT INTO readings (run_id, task, attempt, state_id, patch_key, patch, duration, bench_seconds, \`signal\`, taken_at${columns})
       VALUES (1, 90, 0, 1, 'grey-10', '{}', 1, 1, '{}', NOW()${values})`
    await refused(insert('', ''))
    await db.sequelize.query(insert(', fault', ", 'timeout'"))
    // The same attempt at the same task cannot be stored twice.
    await refused(insert(', fault', ", 'timeout'"))
  })
  it('refuse a reading of a task that does not exist', () =>
    refused(
      `INSERT INTO readings (run_id, task, attempt, state_id, patch_key, patch, x, y, z, duration, bench_seconds, \`signal\`, taken_at)
       VALUES (1, 999, 0, 1, 'grey-10', '{}', 1, 1, 1, 1, 1, '{}', NOW())`,
    ))
  it('refuse a second open run in one session', () =>
    refused(
      `INSERT INTO runs (session_id, bench_id, purpose, status, reason, created_at) VALUES (${session}, 1, 'out-of-box', 'queued', '', NOW())`,
    ))
  it('refuse a unit of no variant, a second unit of one serial, a target without light', async () => {
    await refused(
      "INSERT INTO units (variant_id, label, serial, origin, created_at) VALUES (999, 'x', 'y', 'z', NOW())",
    )
    await refused(
      "INSERT INTO units (variant_id, label, serial, origin, created_at) SELECT variant_id, 'x', serial, 'z', NOW() FROM units",
    )
    await refused(`UPDATE sessions SET target_luminance = 0 WHERE id = ${session}`)
  })
  it('refuse to forget a session that readings rest on', () =>
    refused(`DELETE FROM sessions WHERE id = ${session}`))
})
