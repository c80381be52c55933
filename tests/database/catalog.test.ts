import { type AddressInfo, connect, createServer, type Server } from 'node:net'
import { create } from 'jsondiffpatch'
import { QueryTypes } from 'sequelize'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { runnerLoop } from '#bench/runner'
import { Intake } from '#core/entry'
import { type Database, dropAllTables, openDatabase } from '#db'
import { calibrate, demoState, finishDemo, makeDemo, standDemo } from '#demo'
import { health, heavy } from '#server/background'
import { type Context, forgetBench } from '#server/base'
import { guideFileOf } from '#server/files'
import {
  ALL_GUIDES,
  deskGuides,
  type GuideFilter,
  guideAt,
  guideChoices,
  moderateReport,
  publishedGuides,
  readingsBehind,
  reportGuide,
  revisionDifferences,
  withdrawGuide,
} from '#server/guide'
import { carryOut } from '#server/session'
import { homeView, modelView, startSession, takeIn, unitView } from '#server/unit'
import { type SessionView, watchSession } from '#server/view'
import { beginOn, freshDatabase, startBench, UNIT_1, until } from '#tests/environment'

let db: Database
let bench: Awaited<ReturnType<typeof startBench>>
let ctx: Context
let session: number
const leave = new AbortController()
let runner: Promise<void>

/** Published whatever rules warn of, as an editor who has looked at them. */
const SURE = { because: 'Looked at.', note: 'Measured again.' }
const composed = async (of: number, anew = false): Promise<number> => {
  const guide = await heavy.composeGuide(ctx, of, anew)
  if (!guide.ok) throw new Error(guide.error)
  return guide.value
}
const publicAt = async (slug: string, number?: number) => {
  const at = await guideAt(ctx, slug, number)
  if (at?.kind !== 'guide') throw new Error(`No guide stands at ${slug}`)
  return at.guide
}

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
  expect(await heavy.publishGuide(ctx, await composed(session), SURE)).toMatchObject({ ok: true })
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
    expect(unit.sessions).toMatchObject([{ guideSlug: 'ostrel-maren-55' }])
    expect(unit.modes.map((m) => m.label)).toEqual(['Studio', 'Lounge', 'Daylight', 'Arena'])
    expect(unit.bench).toMatchObject({ ok: false, simulated: true })
    expect(await unitView(ctx, 99)).toBeUndefined()
  })
  it('a reading opens with its patch, meter and every setting', async () => {
    const reading = (await db.readings.findOne({ where: { patchKey: 'grey-50' }, order: [['id', 'DESC']] }))!
    const view = (await heavy.readingView(ctx, session, reading.id))!
    expect(view).toMatchObject({ patch: '50 %', codes: [502, 502, 502], attempt: 1, fault: null })
    expect(view.meter).toMatch(/Ferrand Lux One FL-0417/)
    expect(view.state).toHaveLength(101)
    expect(view.state.find((s) => s.label === 'Room eye')).toEqual({
      label: 'Room eye',
      shown: 'Off',
      changed: true,
    })
    expect(view.sigma).toBeGreaterThan(0)
    expect(await heavy.readingView(ctx, session, 99999)).toBeUndefined()
    expect(await heavy.readingView(ctx, 99, reading.id)).toBeUndefined()
  })
  it('of a session whose unit is not on the bench warn on the session header', async () => {
    forgetBench()
    const view = (await heavy.sessionView(ctx, session))!
    expect(view.header.warnings.join()).toMatch(/Another unit stands on the bench/)
    expect(view.header.placeUnit).toBe(bench.bench.simulation().shelf[0]!.serial)
  })
})

describe('guides', () => {
  const slug = 'ostrel-maren-55'
  const another = async (viewingCase: 'sdr-dark' | 'sdr-bright', luminance: number): Promise<number> => {
    const begun = await startSession(ctx, 2, { viewingCase, baseMode: 'studio', luminance, policy: 'impact' })
    if (!begun.ok) throw new Error(begun.error)
    await calibrate(ctx, begun.value)
    return begun.value
  }
  it('of another unit of the same size become the next revision; the old one stays as it was', async () => {
    const first = await publicAt(slug)
    const second = await another('sdr-dark', 120)
    const guide = await composed(second)
    expect((await publicAt(slug)).revision).toBe(1)
    expect(
      await heavy.saveWords(ctx, guide, { place: 'summary', body: 'A brighter room.', version: 0 }),
    ).toMatchObject({
      ok: true,
    })
    // What readers see changes only with a reason.
    expect(await heavy.publishGuide(ctx, guide, { because: 'Looked at.' })).toMatchObject({
      ok: false,
      field: 'note',
    })
    expect(await heavy.publishGuide(ctx, guide, SURE)).toEqual({ ok: true, value: slug })
    const now = await publicAt(slug)
    expect(now).toMatchObject({
      revision: 2,
      document: { summary: 'A brighter room.', cases: [{ display: { unit: 'unit 2' } }] },
      revisions: [{ number: 2, kind: 'revision', note: 'Measured again.' }, { number: 1 }],
    })
    expect(Math.abs(now.document.cases[0]!.after!.luminance - 120)).toBeLessThan(4)
    expect((await publicAt(slug, 1)).document).toEqual(first.document)
    expect((await publishedGuides(ctx)).guides).toMatchObject([
      { slug, revision: 2, cases: ['SDR, dark room'] },
    ])
    // Each value opens the readings behind it.
    const document = now.document
    const light = (await readingsBehind(ctx, document, 'sdr-dark', 'panel-light'))!
    expect(light.length).toBeGreaterThan(1)
    expect(light[0]).toMatchObject({ patch: expect.any(String), value: expect.any(Number) })
    expect(light.some((r) => Math.abs(r.luminance / 120 - 1) < 0.05)).toBe(true)
    expect(await readingsBehind(ctx, document, 'sdr-dark', 'ghost')).toBeUndefined()
    const behind = new Set((await guideFileOf(ctx, now)).readings.map((r) => r.id))
    for (const v of document.cases[0]!.values) for (const id of v.readings) expect(behind.has(id)).toBe(true)
    // Found by what it is of, and by nothing that it is not.
    const found = async (filter: Partial<GuideFilter>) =>
      (await publishedGuides(ctx, { filter: { ...ALL_GUIDES, ...filter } })).guides.length
    const { firmware } = now.document.cases[0]!.display
    expect(await guideChoices(ctx)).toMatchObject({
      makers: ['Ostrel'],
      sizes: [55],
      cases: [{ key: 'sdr-dark' }],
    })
    for (const like of [
      { maker: 'Ostrel' },
      { panel: 'lcd-full-array', size: '55' },
      { case: 'sdr-dark', firmware },
    ])
      expect(await found(like), JSON.stringify(like)).toBe(1)
    for (const unlike of [
      { maker: 'Nobody' },
      { panel: 'projector' },
      { size: '65' },
      { size: 'x' },
      { case: 'hdr-film' },
      { firmware: '0.0' },
      { maker: "' OR 1=1 --" },
    ])
      expect(await found(unlike), JSON.stringify(unlike)).toBe(0)
    const differ = (await revisionDifferences(ctx, slug, 1, 2))!
    expect(differ.values.find((v) => v.control === 'panel-light')).toMatchObject({ case: 'sdr-dark' })
    expect(differ.measured.join()).toMatch(/unit unit 1 → unit 2/)
    expect(differ.wordsChanged).toBe(true)
  })
  it('show how units of one size differ, and name the one they are from', async () => {
    const { document } = await publicAt(slug)
    expect(document.units.map((u) => u.unit)).toEqual(['unit 2', 'unit 1'])
    const gain = document.spread.find((s) => s.control === 'gain-blue')!
    expect(gain.units.map((u) => u.unit)).toEqual(['unit 2', 'unit 1'])
    // An editor may have the other unit published.
    const { id } = (await db.guides.findOne({ where: { slug } }))!
    const serial = document.units[1]!.serial
    expect(
      await heavy.saveWords(ctx, id, { place: 'base:sdr-dark', body: serial, version: 0 }),
    ).toMatchObject({
      ok: true,
    })
    expect((await heavy.guideDraft(ctx, id))!.document.cases[0]!.display.unit).toBe('unit 1')
    await heavy.saveWords(ctx, id, { place: 'base:sdr-dark', body: '', version: 1 })
    expect((await heavy.guideDraft(ctx, id))!.document.cases[0]!.display.unit).toBe('unit 2')
  })
  it('hold every viewing case that was measured, in the order of use, with what they share and overwrite', async () => {
    const guide = await composed(await another('sdr-bright', 200))
    expect(await heavy.publishGuide(ctx, guide, SURE)).toMatchObject({ ok: true })
    const { document, revision } = await publicAt(slug)
    expect(revision).toBe(3)
    expect(document.cases.map((c) => c.viewingCase.key)).toEqual(['sdr-dark', 'sdr-bright'])
    // Both cases use one mode, which keeps one value of its luminance.
    const light = document.overwritten.find((o) => o.control === 'panel-light')!
    expect(light.cases.map((c) => c.key)).toEqual(['sdr-dark', 'sdr-bright'])
    for (const { control } of document.shared)
      expect(document.cases.map((c) => c.memory![control]!.place)).toEqual([control, control])
    expect(await guideAt(ctx, `${slug}-sdr-bright`)).toEqual({ kind: 'moved', slug, case: 'sdr-bright' })
  })
  it('keep the words of an editor where the session goes on, and mark those whose basis has changed', async () => {
    const third = await another('sdr-dark', 100)
    const guide = await composed(third)
    const words = (await heavy.guideDraft(ctx, guide))!.words
    await heavy.saveWords(ctx, guide, {
      place: 'value:sdr-dark:panel-light',
      body: 'Our favourite.',
      version: words['value:sdr-dark:panel-light']?.version ?? 0,
    })
    await heavy.saveWords(ctx, guide, { place: 'desk', body: 'Ask about the stand.', version: 0 })
    const before = (await heavy.guideDraft(ctx, guide))!
    expect(before.words['value:sdr-dark:panel-light']).toMatchObject({ basisChanged: false })
    await carryOut(ctx, third, { type: 'target', luminance: 160 })
    await calibrate(ctx, third)
    const gone = (await heavy.guideDraft(ctx, guide))!
    expect(gone.findings).toContainEqual(
      expect.objectContaining({ rule: 'session-went-on', level: 'error', case: 'sdr-dark' }),
    )
    expect(await heavy.publishGuide(ctx, guide, SURE)).toMatchObject({
      ok: false,
      error: expect.stringMatching(/session has gone on.*The draft is kept/),
    })
    await composed(third, true)
    const after = (await heavy.guideDraft(ctx, guide))!
    expect(after.findings.filter((f) => f.level === 'error')).toEqual([])
    expect(Math.abs(after.document.cases[0]!.after!.luminance - 160)).toBeLessThan(6)
    const light = after.document.cases[0]!.values.find((v) => v.control === 'panel-light')!
    expect(light.words).toBe('Our favourite.')
    expect(after.words['value:sdr-dark:panel-light']).toMatchObject({ basisChanged: true })
    // Notes for the desk are never published.
    expect(JSON.stringify(after.document)).not.toContain('Ask about the stand')
  })
  it('take words of two editors without overwriting either', async () => {
    const { id } = (await db.guides.findOne({ where: { slug } }))!
    const write = (body: string, version: number) =>
      heavy.saveWords(ctx, id, { place: 'case:sdr-dark', body, version })
    expect(await write('One.', 0)).toEqual({ ok: true, version: 1 })
    expect(await write('Two.', 0)).toMatchObject({
      ok: false,
      error: expect.stringMatching(/Nothing was overwritten/),
      theirs: { body: 'One.', version: 1 },
    })
    expect(await write('Two.', 1)).toEqual({ ok: true, version: 2 })
    const both = await Promise.all([write('Three.', 2), write('Four.', 2)])
    expect(both.filter((w) => w.ok)).toHaveLength(1)
    expect(await write('x'.repeat(4001), 3)).toMatchObject({ ok: false })
    expect(await heavy.saveWords(ctx, id, { place: 'somewhere', body: 'x', version: 0 })).toMatchObject({
      ok: false,
    })
    expect(await heavy.saveWords(ctx, 999, { place: 'title', body: 'x', version: 0 })).toMatchObject({
      ok: false,
    })
    await write('', 3)
  })
  it('let an editor raise the caution of a value, and lower it only with a reason that is published', async () => {
    const { id } = (await db.guides.findOne({ where: { slug } }))!
    const classed = (control: string, transfer: string, reason: string, version = 0) =>
      heavy.saveWords(ctx, id, {
        place: `class:sdr-dark:${control}`,
        body: JSON.stringify({ transfer, reason }),
        version,
      })
    expect(await classed('panel-light', 'this-unit-only', '')).toMatchObject({ ok: true })
    expect(await classed('gain-blue', 'copy', ' ')).toMatchObject({
      ok: false,
      error: expect.stringMatching(/only with a reason/),
    })
    expect(await classed('gain-blue', 'copy', 'Nine units agreed.')).toMatchObject({ ok: true })
    expect(await classed('ghost', 'copy', 'x')).toMatchObject({ ok: false })
    const values = (await heavy.guideDraft(ctx, id))!.document.cases[0]!.values
    expect(values.find((v) => v.control === 'panel-light')?.transfer).toBe('this-unit-only')
    expect(values.find((v) => v.control === 'gain-blue')).toMatchObject({
      transfer: 'copy',
      transferReason: 'Nine units agreed.',
    })
  })
  it('are corrected where words alone have changed, and withdrawn with a reason', async () => {
    const { id } = (await db.guides.findOne({ where: { slug } }))!
    expect(await heavy.publishGuide(ctx, id, SURE)).toMatchObject({ ok: true })
    const draft = (await heavy.guideDraft(ctx, id))!
    const { version } = draft.words.summary!
    await heavy.saveWords(ctx, id, { place: 'summary', body: 'A brighter room, that is.', version })
    expect(await heavy.publishGuide(ctx, id, { ...SURE, note: 'A typo.' })).toMatchObject({ ok: true })
    expect((await publicAt(slug)).revisions[0]).toMatchObject({ kind: 'correction', note: 'A typo.' })
    expect(await withdrawGuide(ctx, id, '  ')).toMatchObject({ ok: false, field: 'why' })
    expect(await withdrawGuide(ctx, id, 'The unit was faulty.')).toMatchObject({ ok: true })
    expect((await publicAt(slug)).withdrawn).toBe('The unit was faulty.')
    expect((await publishedGuides(ctx)).guides).toEqual([])
    expect((await heavy.guideDraft(ctx, id))!.published).toBe(false)
    expect(await heavy.publishGuide(ctx, id, SURE)).toMatchObject({ ok: true })
    expect((await publicAt(slug)).withdrawn).toBe('')
  })
  it('take what readers say, count it once the desk has looked, and no more than so much in an hour', async () => {
    const { id } = (await db.guides.findOne({ where: { slug } }))!
    const report = {
      viewingCase: 'sdr-dark',
      verdict: 'better',
      went: 'all',
      sizeInch: '55',
      firmware: ' 4.02.1 ',
    }
    const counts = async () => (await publicAt(slug)).reports
    expect(await reportGuide(ctx, slug, report)).toEqual({ ok: true, value: null })
    expect(await reportGuide(ctx, slug, { ...report, verdict: 'worse', sizeInch: '' })).toMatchObject({
      ok: true,
    })
    expect(await counts()).toEqual([])
    for (const wrong of [
      {},
      { ...report, verdict: 'great' },
      { ...report, sizeInch: 'wide' },
      { ...report, viewingCase: 'hdr-game' },
      { ...report, region: 'x'.repeat(41) },
    ])
      expect(await reportGuide(ctx, slug, wrong), JSON.stringify(wrong)).toMatchObject({ ok: false })
    expect(await reportGuide(ctx, 'nowhere', report)).toMatchObject({ ok: false })
    const lines = (await heavy.guideDraft(ctx, id))!.reports
    expect(lines.map((l) => [l.said, l.status])).toEqual([
      [
        expect.stringMatching(/^Worse: set all of it\. firmware 4\.02\.1, SDR, dark room, revision \d+\.$/),
        'new',
      ],
      [expect.stringMatching(/^Better: set all of it\. 55 inch, firmware 4\.02\.1/), 'new'],
    ])
    expect(await moderateReport(ctx, lines[1]!.id, 'shown')).toMatchObject({ ok: true })
    expect(await moderateReport(ctx, lines[0]!.id, 'hidden')).toMatchObject({ ok: true })
    expect(await moderateReport(ctx, 9999, 'shown')).toMatchObject({ ok: false })
    expect(await counts()).toEqual([{ sizeInch: 55, better: 1, same: 0, worse: 0 }])
    // Nothing is kept of who says it.
    const [row] = await db.sequelize.query<object>('SELECT * FROM guide_reports LIMIT 1', {
      type: QueryTypes.SELECT,
    })
    expect(Object.keys(row!)).toEqual([
      ...['id', 'guide_id', 'revision', 'viewing_case', 'verdict', 'went', 'size_inch', 'region', 'firmware'],
      ...['status', 'created_at'],
    ])
    let taken = 0
    for (let i = 0; i < 60; i++) if ((await reportGuide(ctx, slug, report)).ok) taken++
    // Forty an hour, two of which were sent before.
    expect(taken).toBe(38)
    expect(await reportGuide(ctx, slug, report)).toMatchObject({
      ok: false,
      error: expect.stringMatching(/Try again in an hour/),
    })
  })
  it('are marked once a newer firmware of their model is known', async () => {
    const marks = async () => (await deskGuides(ctx)).guides.map((g) => g.newerFirmware)
    expect(await marks()).toEqual([''])
    const { modelId, firmwares } = (await db.guides.findOne({ where: { slug } }))!
    await db.firmwares.create({ modelId, version: '4.1.0' })
    expect(firmwares).toEqual(['4.02.1'])
    expect(await marks()).toEqual([''])
    const newer = await db.firmwares.create({ modelId, version: '4.10.0' })
    expect(await marks()).toEqual(['4.10.0'])
    await newer.destroy()
  })
  it('that were verified in another state are stopped by the checks', async () => {
    const guide = await composed(await another('sdr-dark', 100))
    const section = (await db.sectionRevisions.findOne({ order: [['id', 'DESC']] }))!
    const values = section.document.values.map((v) =>
      v.control === 'panel-light' ? { ...v, value: 1, shown: '1' } : v,
    )
    await section.update({ document: { ...section.document, values } })
    expect(await heavy.publishGuide(ctx, guide, SURE)).toMatchObject({
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
      await standDemo(demo, 0)
      // Something to begin with is there before anything of the rest is.
      expect((await homeView(demo)).onBench).toMatchObject({ label: 'unit 2', session: null })
      expect(await demoState(demo)).toBe('half')
      const making = makeDemo(demo, (line) => said.push(line), 'short')
      await until(
        async () => (await homeView(demo)).demo?.steps[0]?.session !== undefined,
        'the first case is seen',
      )
      await making
      await finishDemo(demo)
      expect((await homeView(demo)).demo).toBeNull()
      expect(await demoState(demo)).toBe('ready')
      expect(said[0]).toMatch(/SDR, dark room: \d+ readings, guide published/)
      const at = await guideAt(demo, 'ostrel-maren-55')
      expect(at).toMatchObject({ kind: 'guide', guide: { revision: 1 } })
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
    const told: { bytes: number; whole: number }[] = []
    const patcher = create()
    let page: SessionView | undefined
    const watching = (async () => {
      for await (const news of watchSession(ctx, fresh.value, '', stop.signal)) {
        const change = news?.kind === 'change' ? news.change : undefined
        if (!change) continue
        // The page keeps a copy of its own and changes only what it is told has changed.
        page = change.view ?? (patcher.patch(structuredClone(page), change.delta!) as SessionView)
        told.push({ bytes: JSON.stringify(change).length, whole: JSON.stringify(page).length })
        expect(page.mark).toBe(change.mark)
        revisions.push(page.revision)
        readings.push(page.readings)
      }
    })()
    await until(async () => revisions.length === 1, 'the first view is there')
    for (let i = 0; i < 2; i++) {
      const { revision } = (await heavy.sessionView(ctx, fresh.value))!
      await carryOut(ctx, fresh.value, { type: 'go', revision })
      await until(async () => !(await heavy.sessionView(ctx, fresh.value))?.run, 'the run has ended')
    }
    const all = (await heavy.sessionView(ctx, fresh.value))!.readings
    expect(all).toBeGreaterThan(6)
    await until(async () => readings.at(-1) === all, 'all readings were told')
    await until(
      async () => page?.mark === (await heavy.sessionView(ctx, fresh.value))?.mark,
      'the page has all that there is',
    )
    stop.abort()
    await watching
    expect([...revisions].sort((a, b) => a - b)).toEqual(revisions)
    expect([...readings].sort((a, b) => a - b)).toEqual(readings)
    // All of it once, then only what changed, however many readings one message tells of.
    const arrivals = told.filter((_, i) => i > 0 && readings[i]! > readings[i - 1]!)
    expect(arrivals.length).toBeGreaterThan(1)
    const sum = (of: (message: (typeof told)[number]) => number) =>
      arrivals.reduce((all, message) => all + of(message), 0)
    expect(sum((m) => m.bytes) / sum((m) => m.whole)).toBeLessThan(0.5)
    expect(page).toEqual(await heavy.sessionView(ctx, fresh.value))
  })
})

describe('health', () => {
  it('waits for a connection that has to be made anew, and not for one that is never made', async () => {
    const { hostname, port } = new URL(process.env.WEXMAR_TEST_DATABASE!)
    const proxy = createServer((incoming) => {
      const timer = setTimeout(() => {
        const there = connect(Number(port), hostname)
        for (const [from, to] of [
          [incoming, there],
          [there, incoming],
        ] as const)
          from.on('error', () => to.destroy()).pipe(to)
      }, 400)
      incoming.on('close', () => clearTimeout(timer))
    })
    const silent = createServer(() => undefined)
    const through = async (server: Server) => {
      await new Promise<void>((done) => server.listen(0, '127.0.0.1', done))
      const url = new URL(process.env.WEXMAR_TEST_DATABASE!)
      url.port = String((server.address() as AddressInfo).port)
      return openDatabase(url.href)
    }
    const [slow, never] = [await through(proxy), await through(silent)]
    expect(await health({ ...ctx, db: slow })).toMatchObject({ database: 'ok' })
    expect(await health({ ...ctx, db: never })).toMatchObject({ status: 'down', database: 'down' })
    await slow.sequelize.close()
    await never.sequelize.close()
    for (const server of [proxy, silent]) server.close()
  })
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
