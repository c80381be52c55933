import { create } from 'jsondiffpatch'
import { QueryTypes } from 'sequelize'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { runnerLoop } from '#bench/runner'
import { Intake } from '#core/entry'
import { type Database, dropAllTables } from '#db'
import { calibrate, demoState, makeDemo } from '#demo'
import {
  type Context,
  carryOut,
  composeGuide,
  draftView,
  forgetBench,
  health,
  homeView,
  modelView,
  publicGuide,
  publishedGuides,
  publishGuide,
  readingView,
  saveGuideText,
  sessionView,
  startSession,
  takeIn,
  unitView,
  watchSession,
} from '#server'
import type { SessionView } from '#server/views'
import { beginOn, freshDatabase, startBench, UNIT_1, until } from '#tests/environment'

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
  expect(await homeView(ctx)).toMatchObject({
    bench: { ok: true, display: 'Ostrel Maren 55' },
    onBench: null,
  })
  session = await beginOn(ctx)
  await calibrate(ctx, session)
  await composeGuide(ctx, session)
  await publishGuide(ctx, session)
})
afterAll(async () => {
  leave.abort()
  await runner
  await bench.stop()
  await db.sequelize.close()
})

describe('intake', () => {
  it('of a unit that is known gives that unit', async () => {
    expect(await takeIn(ctx, { ...UNIT_1, label: 'again' })).toEqual({ ok: true, value: 1 })
    expect(await db.units.count()).toBe(1)
  })
  it('of a second unit re-uses model, variant, firmware and control sheet', async () => {
    const other = bench.bench.simulation().shelf[1]!
    await bench.client.simulate({ onStand: other.serial })
    const unit = await takeIn(ctx, { ...UNIT_1, label: 'unit 2' })
    expect(unit).toEqual({ ok: true, value: 2 })
    expect(await db.models.count()).toBe(1)
    expect(await db.variants.count()).toBe(1)
    expect(await db.sheets.count()).toBe(1)
    expect(await db.firmwares.count()).toBe(1)
  })
  it('asks for what the bench cannot know', () => {
    const wrong = Intake.safeParse({ ...UNIT_1, label: ' ' })
    expect(wrong.error?.issues[0]?.message).toMatch(/Give the unit a name/)
    expect(Intake.safeParse({ ...UNIT_1, returnsOn: 'soon' }).success).toBe(false)
    expect(Intake.safeParse({ ...UNIT_1, hours: -1 }).success).toBe(false)
  })
})

describe('pages', () => {
  it('home names what stands on the bench and how far each unit is', async () => {
    forgetBench()
    const home = await homeView(ctx)
    expect(home).toMatchObject({ bench: { ok: true }, onBench: { id: 2 }, unitCount: 2, guideCount: 1 })
    expect(home.units.map((u) => [u.label, u.onBench, u.guide?.published ?? false])).toEqual([
      ['unit 2', true, false],
      ['unit 1', false, true],
    ])
    expect(home.guides).toHaveLength(1)
  })
  it('a model lists sizes, units, sheet and guides', async () => {
    const model = (await modelView(ctx, 'ostrel-maren'))!
    expect(model.variants).toEqual([{ sizeInch: 55, region: 'Europe', units: 2 }])
    expect(model.sheet.find((c) => c.label === 'Depth')).toMatchObject({
      role: 'peak luminance',
      range: '0 to 100',
      comesAs: '84',
    })
    expect(model.guides).toHaveLength(1)
    expect(await modelView(ctx, 'nowhere')).toBeUndefined()
  })
  it('a unit lists its sessions and the modes of its display', async () => {
    const unit = (await unitView(ctx, 1))!
    expect(unit.sessions).toMatchObject([{ guideSlug: 'ostrel-maren-55-sdr-dark' }])
    expect(unit.modes.map((m) => m.label)).toEqual(['Studio', 'Lounge', 'Daylight', 'Arena'])
    expect(unit.bench).toMatchObject({ ok: false, simulated: true })
    expect(await unitView(ctx, 99)).toBeUndefined()
  })
  it('a reading opens with its patch, meter and every setting', async () => {
    const reading = (await db.readings.findOne({ where: { patchKey: 'grey-50' }, order: [['id', 'DESC']] }))!
    const view = (await readingView(ctx, session, reading.id))!
    expect(view).toMatchObject({ patch: '50 %', codes: [502, 502, 502], attempt: 1, fault: null })
    expect(view.meter).toMatch(/Ferrand Lux One FL-0417/)
    expect(view.state).toHaveLength(99)
    expect(view.state.find((s) => s.label === 'Room eye')).toEqual({
      label: 'Room eye',
      shown: 'Off',
      changed: true,
    })
    expect(view.sigma).toBeGreaterThan(0)
    expect(await readingView(ctx, session, 99999)).toBeUndefined()
    expect(await readingView(ctx, 99, reading.id)).toBeUndefined()
  })
  it('of a session whose unit is not on the bench warn on the session header', async () => {
    forgetBench()
    const view = (await sessionView(ctx, session))!
    expect(view.header.warnings.join()).toMatch(/Another unit stands on the bench/)
    expect(view.header.placeUnit).toBe(bench.bench.simulation().shelf[0]!.serial)
  })
})

describe('guides', () => {
  it('of another unit of the same size become the next revision; the old one stays as it was', async () => {
    const slug = 'ostrel-maren-55-sdr-dark'
    const first = (await publicGuide(ctx, slug))!
    const second = await startSession(ctx, 2, {
      viewingCase: 'sdr-dark',
      baseMode: 'studio',
      luminance: 120,
      policy: 'impact',
    })
    if (!second.ok) throw new Error(second.error)
    await calibrate(ctx, second.value)
    await composeGuide(ctx, second.value)
    expect((await publicGuide(ctx, slug))?.revision).toBe(1)
    await saveGuideText(ctx, second.value, { title: first.document.title, summary: 'A brighter room.' })
    expect(await publishGuide(ctx, second.value)).toEqual({ ok: true, value: slug })
    const now = (await publicGuide(ctx, slug))!
    expect(now).toMatchObject({
      revision: 2,
      document: { display: { unit: 'unit 2' }, summary: 'A brighter room.' },
    })
    expect(Math.abs(now.document.after.luminance - 120)).toBeLessThan(4)
    const old = await db.guideRevisions.findOne({ where: { number: 1 } })
    expect(old?.document).toEqual(first.document)
    expect((await publishedGuides(ctx)).guides).toMatchObject([{ slug, revision: 2 }])
  })
  it('composed again after the session has gone on keep their words and take the new values', async () => {
    const third = await startSession(ctx, 2, {
      viewingCase: 'sdr-dark',
      baseMode: 'studio',
      luminance: 100,
      policy: 'impact',
    })
    if (!third.ok) throw new Error(third.error)
    await calibrate(ctx, third.value)
    await composeGuide(ctx, third.value)
    await saveGuideText(ctx, third.value, { title: 'Kept words', summary: 'Kept too.' })
    const before = (await draftView(ctx, third.value))!
    expect(before.outdated).toBe(false)
    await carryOut(ctx, third.value, { type: 'target', luminance: 160 })
    expect(await publishGuide(ctx, third.value)).toMatchObject({ ok: true })
    await calibrate(ctx, third.value)
    expect((await draftView(ctx, third.value))?.outdated).toBe(true)
    await composeGuide(ctx, third.value, true)
    const after = (await draftView(ctx, third.value))!
    expect(after.number).toBe(before.number + 1)
    expect(after.status).toBe('draft')
    expect(after.outdated).toBe(false)
    expect(Math.abs(after.document.after.luminance - 160)).toBeLessThan(6)
  })
  it('that were verified in another state are stopped by the checks', async () => {
    const fourth = await startSession(ctx, 2, {
      viewingCase: 'sdr-dark',
      baseMode: 'studio',
      luminance: 100,
      policy: 'impact',
    })
    if (!fourth.ok) throw new Error(fourth.error)
    await calibrate(ctx, fourth.value)
    await composeGuide(ctx, fourth.value)
    const draft = (await draftView(ctx, fourth.value))!
    const values = draft.document.values.map((v) =>
      v.control === 'panel-light' ? { ...v, value: 1, shown: '1' } : v,
    )
    await db.guideRevisions.update(
      { document: { ...draft.document, values } },
      { where: { id: draft.revisionId } },
    )
    expect(await publishGuide(ctx, fourth.value)).toMatchObject({
      ok: false,
      error: expect.stringMatching(/Not published:.*the guide says 1.*The draft is kept/),
    })
  })
})

describe('demo data', () => {
  it('is told from a user’s own, which is never thrown away', async () => {
    expect(await demoState(ctx)).toBe('own')
  })
  it('is made once, complete, and known as such; tables of others in the same database stay', async () => {
    const other = await freshDatabase(`${process.env.WEXMAR_TEST_DATABASE}_demo`)
    const second = await startBench()
    try {
      await other.sequelize.query('CREATE TABLE IF NOT EXISTS someone_elses (id INT)')
      const demo = { db: other, bench: second.client }
      forgetBench()
      expect(await demoState(demo)).toBe('empty')
      const said: string[] = []
      await makeDemo(demo, 0, (line) => said.push(line))
      expect(await demoState(demo)).toBe('ready')
      expect(said[0]).toMatch(/unit 1 calibrated with \d+ readings, guide published/)
      await other.settings.destroy({ where: { name: 'demo-ready' } })
      expect(await demoState(demo)).toBe('half')
      await dropAllTables(other)
      const left = await other.sequelize.query('SHOW TABLES', { type: QueryTypes.SELECT })
      expect(left).toHaveLength(1)
    } finally {
      forgetBench()
      await second.stop()
      await other.sequelize.close()
    }
  })
})

describe('watching a session', () => {
  it('gives the view at once and again with every change', async () => {
    const fresh = await startSession(ctx, 2, {
      viewingCase: 'sdr-dark',
      baseMode: 'studio',
      luminance: 100,
      policy: 'impact',
    })
    if (!fresh.ok) throw new Error(fresh.error)
    const stop = new AbortController()
    const revisions: number[] = []
    const readings: number[] = []
    const bytes: number[] = []
    const patcher = create()
    let page: SessionView | undefined
    const watching = (async () => {
      for await (const change of watchSession(ctx, fresh.value, '', stop.signal)) {
        if (!change) continue
        // The page keeps a copy of its own and changes only what it is told has changed.
        page = change.view ?? (patcher.patch(structuredClone(page), change.delta!) as SessionView)
        bytes.push(JSON.stringify(change).length)
        expect(page.mark).toBe(change.mark)
        revisions.push(page.revision)
        readings.push(page.readings)
      }
    })()
    await until(async () => revisions.length === 1, 'the first view is there')
    for (let i = 0; i < 2; i++) {
      const { revision } = (await sessionView(ctx, fresh.value))!
      await carryOut(ctx, fresh.value, { type: 'go', revision })
      await until(async () => !(await sessionView(ctx, fresh.value))?.run, 'the run has ended')
    }
    const all = (await sessionView(ctx, fresh.value))!.readings
    expect(all).toBeGreaterThan(6)
    await until(async () => readings.at(-1) === all, 'all readings were told')
    await until(
      async () => page?.mark === (await sessionView(ctx, fresh.value))?.mark,
      'the page has all that there is',
    )
    stop.abort()
    await watching
    expect([...revisions].sort((a, b) => a - b)).toEqual(revisions)
    expect([...readings].sort((a, b) => a - b)).toEqual(readings)
    // All of it once, then only what changed; a reading that arrives is told in a few kilobytes.
    const arrivals = bytes.filter((_, i) => i > 0 && readings[i]! > readings[i - 1]!)
    expect(arrivals.length).toBeGreaterThan(3)
    expect([...arrivals].sort((a, b) => a - b)[Math.floor(arrivals.length / 2)]).toBeLessThan(5_000)
    expect(page).toEqual(await sessionView(ctx, fresh.value))
  })
})

describe('health', () => {
  it('names what is down', async () => {
    forgetBench()
    expect(await health(ctx)).toMatchObject({ status: 'ok', database: 'ok', bench: 'ok', down: [] })
    await bench.stop()
    forgetBench()
    const found = await health(ctx)
    expect(found).toMatchObject({ status: 'down', database: 'ok', bench: 'down' })
    expect(found.down.join()).toMatch(/No bench answers/)
    expect((await homeView(ctx)).bench).toMatchObject({ ok: false })
    expect(await takeIn(ctx, UNIT_1)).toMatchObject({
      ok: false,
      error: expect.stringMatching(/Nothing was added/),
    })
    await bench.again()
    forgetBench()
  })
})
