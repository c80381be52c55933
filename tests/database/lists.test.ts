import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Database } from '#db'
import type { Context } from '#server/base'
import { guideAt, publishedGuides } from '#server/guide'
import { carryOut, summarizeOnce } from '#server/session'
import { homeView, modelView, unitsView, unitView } from '#server/unit'
import { beginOn, freshDatabase, startBench } from '#tests/environment'

let db: Database
let bench: Awaited<ReturnType<typeof startBench>>
let ctx: Context
const UNITS = 120

beforeAll(async () => {
  db = await freshDatabase()
  bench = await startBench()
  ctx = { db, bench: bench.client }
  const session = await beginOn(ctx)
  const row = (await db.sessions.findByPk(session))!.get({ plain: true })
  const unit = (await db.units.findOne())!.get({ plain: true })
  await db.units.bulkCreate(
    Array.from({ length: UNITS }, (_, i) => ({
      ...unit,
      id: undefined as never,
      label: i === 7 ? '100% odd_one' : `lot ${i}`,
      serial: `S-${String(i).padStart(4, '0')}`,
    })),
  )
  const units = await db.units.findAll({ order: ['id'] })
  await db.sessions.bulkCreate(units.slice(1).map((u) => ({ ...row, id: undefined as never, unitId: u.id })))
  await db.sessions.bulkCreate(Array.from({ length: 60 }, () => ({ ...row, id: undefined as never })))
})
afterAll(async () => {
  await bench.stop()
  await db.sequelize.close()
})

describe('lists', () => {
  it('never plan: with every sheet unreadable, home, units, unit and model still come', async () => {
    const sheets = await db.sheets.findAll()
    await db.sequelize.query("UPDATE sessions SET policy = '{}'")
    try {
      const home = await homeView(ctx)
      expect(home.unitCount).toBe(UNITS + 1)
      expect(home.units.length).toBeLessThan(20)
      expect((await unitsView(ctx)).units).toHaveLength(25)
      expect((await unitView(ctx, 1))!.sessions).toHaveLength(20)
      expect((await unitView(ctx, 1))!.listed).toEqual({ page: 1, pages: 4, total: 61 })
      expect((await unitView(ctx, 1, 4))!.sessions).toHaveLength(1)
      expect((await modelView(ctx, 'ostrel-maren'))!.unitCount).toBe(UNITS + 1)
    } finally {
      const row = (await db.sessions.findByPk(1))!
      await db.sessions.update({ policy: (await import('#core/judge')).REFERENCE_POLICY }, { where: {} })
      expect(row.id).toBe(1)
      expect(sheets).toHaveLength(1)
    }
  })
  it('are searched word by word in the database, with signs that it could take for its own', async () => {
    expect((await unitsView(ctx, { search: '100% odd_' })).units.map((u) => u.label)).toEqual([
      '100% odd_one',
    ])
    expect((await unitsView(ctx, { search: '%' })).total).toBe(1)
    expect((await unitsView(ctx, { search: 'ostrel S-0042' })).units.map((u) => u.serial)).toEqual(['S-0042'])
    expect((await unitsView(ctx, { search: "'; DROP TABLE units; --" })).total).toBe(0)
    expect((await unitsView(ctx, { search: '\\' })).total).toBe(0)
    expect((await unitsView(ctx, { page: 99 })).page).toBe(5)
    expect((await publishedGuides(ctx, { search: 'x' })).guides).toEqual([])
  })
  it('show a guide that is damaged like any other, and give it to nobody', async () => {
    const { id } = (await db.models.findOne())!
    const publishedAt = new Date()
    for (const [i, slug] of ['whole-list', 'torn'].entries()) {
      const guide = await db.guides.create({
        modelId: id,
        sizeInch: 55 + i,
        slug,
        title: `About ${slug}`,
        publishedNumber: 1,
        publishedAt,
      })
      await db.guideRevisions.create({
        guideId: guide.id,
        number: 1,
        kind: 'revision',
        document: {} as never,
        publishedAt,
      })
    }
    expect((await publishedGuides(ctx)).guides.map((g) => g.slug)).toEqual(['torn', 'whole-list'])
    expect((await homeView(ctx)).guideCount).toBe(2)
    expect((await modelView(ctx, 'ostrel-maren'))!.guides).toHaveLength(2)
    expect(await guideAt(ctx, 'torn')).toBeUndefined()
  })
  it('read the step that was written down when a session changed last', async () => {
    const newest = async () => (await unitsView(ctx, { search: 'S-0119' })).units[0]!.session!
    expect((await newest()).at).toBeNull()
    while ((await summarizeOnce(ctx)) > 0);
    expect((await newest()).at).toBe('prepare')
    const { id } = await newest()
    const left = await carryOut(ctx, id, { type: 'leave', step: 'prepare', reason: 'as it was' })
    expect(left.ok).toBe(true)
    // It stands for what it was until the pilot comes by, and is never planned for the list.
    expect((await newest()).at).toBe('prepare')
    expect(await summarizeOnce(ctx)).toBe(1)
    expect((await newest()).at).not.toBe('prepare')
    expect(await summarizeOnce(ctx)).toBe(0)
  })
})
