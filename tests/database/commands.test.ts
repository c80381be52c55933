import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { benchClient } from '#bench/client'
import { type Database, openDatabase } from '#db'
import { health, heavy } from '#server/background'
import { type Context, forgetBench } from '#server/base'
import { carryOut, PageCommand } from '#server/session'
import { homeView, startSession } from '#server/unit'
import { beginOn, freshDatabase, startBench } from '#tests/environment'

let db: Database
let bench: Awaited<ReturnType<typeof startBench>>
let ctx: Context

beforeAll(async () => {
  db = await freshDatabase()
  bench = await startBench()
  ctx = { db, bench: bench.client }
})
afterAll(async () => {
  forgetBench()
  await bench.stop()
  await db.sequelize.close()
})

describe('commands', () => {
  it('need one connection each: fifty at once go through a pool of one', async () => {
    const session = await beginOn(ctx)
    const { unitId, firmwareId, sheetId, benchId, stateId, policy, devices } = (await db.sessions.findByPk(
      session,
    ))!
    const rows = await db.sessions.bulkCreate(
      Array.from({ length: 50 }, () => ({
        unitId,
        firmwareId,
        sheetId,
        benchId,
        stateId,
        policy,
        devices,
        viewingCase: 'sdr-dark' as const,
        baseMode: 'studio',
        targetLuminance: 100,
        targetX: 0.3127,
        targetY: 0.329,
        tone: 'bt1886',
        signalFormat: null,
        meterSlot: null,
        correctionId: null,
        patchPage: null,
      })),
    )
    expect(rows).toHaveLength(50)
    const ids = (await db.sessions.findAll({ attributes: ['id'], order: ['id'] })).map((s) => s.id).slice(1)
    const narrow = { db: openDatabase(process.env.WEXMAR_TEST_DATABASE!, { most: 1 }), bench: bench.client }
    try {
      const results = await Promise.all(
        ids.map((id, i) =>
          carryOut(
            narrow,
            id,
            i % 3 === 0
              ? { type: 'go', revision: 1 }
              : i % 3 === 1
                ? { type: 'leave', step: 'signal', reason: 'known' }
                : { type: 'target', luminance: 120, revision: 1 },
          ),
        ),
      )
      expect(results.filter((r) => !r.ok)).toEqual([])
      expect(await db.runs.count()).toBe(17)
    } finally {
      await narrow.db.sequelize.close()
    }
  })
  it('that were decided on an older view change nothing', async () => {
    const unit = (await db.units.findOne())!.id
    const begun = await startSession(ctx, unit, { viewingCase: 'sdr-bright', baseMode: 'studio' })
    if (!begun.ok) throw new Error(begun.error)
    const id = begun.value
    const { revision } = (await heavy.sessionView(ctx, id))!
    expect(await carryOut(ctx, id, { type: 'target', luminance: 150, revision })).toEqual({
      ok: true,
      value: null,
    })
    for (const command of [
      { type: 'target', luminance: 170, revision },
      { type: 'policy', policy: 'impact', revision },
      { type: 'leave', step: 'signal', reason: 'x', revision },
      { type: 'set', control: 'panel-light', value: 12, revision },
      { type: 'choose-mode', mode: 'lounge', revision },
    ] as const)
      expect(await carryOut(ctx, id, command), command.type).toMatchObject({
        ok: false,
        error: expect.stringMatching(/out of date for a moment.*Nothing was changed/),
      })
    const row = (await db.sessions.findByPk(id))!
    expect([row.targetLuminance, row.policy.key, row.baseMode]).toEqual([150, 'strict-reference', 'studio'])
    // A page must say what it looked at.
    expect(PageCommand.safeParse({ type: 'target', luminance: 150 }).success).toBe(false)
    expect(PageCommand.safeParse({ type: 'target', luminance: 150, revision: 3 }).success).toBe(true)
    expect(PageCommand.safeParse({ type: 'pause' }).success).toBe(true)
  })
})

describe('an answer to what the route asks', () => {
  it('is kept in the place of an earlier one, and refused where there is no such answer', async () => {
    const { id } = (await db.sessions.findOne())!
    const decide = (answer: string) => carryOut(ctx, id, { type: 'decide', question: 'depth', answer })
    expect((await decide('five')).ok).toBe(true)
    expect((await decide('all')).ok).toBe(true)
    expect((await db.sessions.findByPk(id))!.accepted).toEqual(['depth=all'])
    expect(await decide('deeper')).toMatchObject({
      ok: false,
      error: expect.stringMatching(/no such answer/),
    })
    expect(
      PageCommand.safeParse({ type: 'decide', question: 'weather', answer: 'x', revision: 1 }).success,
    ).toBe(false)
  })
})

describe('a bench that hangs', () => {
  it('keeps neither pages nor commands nor health waiting', async () => {
    const { createServer } = await import('node:http')
    const deaf = createServer(() => undefined)
    await new Promise<void>((resolve) => deaf.listen(0, '127.0.0.1', resolve))
    const address = deaf.address() as { port: number }
    const hung = { db, bench: benchClient(`http://127.0.0.1:${address.port}`) }
    forgetBench()
    const order: string[] = []
    const slow = hung.bench.describe().then(() => order.push('the bench'))
    const session = (await db.sessions.findOne())!.id
    await Promise.all([
      homeView(hung).then((home) => {
        expect(home.bench).toMatchObject({ ok: false })
        order.push('home')
      }),
      health(hung).then(() => order.push('health')),
      heavy.sessionView(hung, session).then(() => order.push('session')),
      carryOut(hung, session, { type: 'leave', step: 'tone', reason: 'later' }).then(() =>
        order.push('command'),
      ),
    ])
    await slow
    expect(order.at(-1)).toBe('the bench')
    expect(order).toHaveLength(5)
    deaf.closeAllConnections()
    deaf.close()
    forgetBench()
  })
})
