import { readFile } from 'node:fs/promises'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { runnerLoop } from '#bench/runner'
import { BY_HAND } from '#core/entry'
import { compareGuides, cueSheet, guideMarkdown } from '#core/guide/formats'
import type { Database } from '#db'
import { calibrate } from '#demo'
import { doJob, heavy } from '#server/background'
import { type Context, forgetBench, withTemporaryFile } from '#server/base'
import { guideFileOf, readGuideFile } from '#server/files'
import { cancelSchedule, guideAt, publishDue, seenIn, withdrawGuide } from '#server/guide'
import { addFirmware, byEyeRows, carryOut, setByEye, startRecheck } from '#server/session'
import { startSession, takeIn } from '#server/unit'
import { beginOn, freshDatabase, startBench, until } from '#tests/environment'

let db: Database
let bench: Awaited<ReturnType<typeof startBench>>
let ctx: Context
let session: number
let guide: number
const leave = new AbortController()
let runner: Promise<void>
const slug = 'ostrel-maren-55'
const SURE = { because: 'Looked at.', note: 'Measured again.' }

beforeAll(async () => {
  db = await freshDatabase()
  bench = await startBench()
  ctx = { db, bench: bench.client }
  runner = runnerLoop(db, leave.signal)
  forgetBench()
  session = await beginOn(ctx)
  await calibrate(ctx, session)
  const made = await heavy.composeGuide(ctx, session)
  if (!made.ok) throw new Error(made.error)
  guide = made.value
})
afterAll(async () => {
  leave.abort()
  await runner
  await bench.stop()
  await db.sequelize.close()
})

const draft = async () => (await heavy.guideDraft(ctx, guide))!
const publicNow = async () => {
  const at = await guideAt(ctx, slug)
  return at?.kind === 'guide' ? at.guide : undefined
}
const write = async (place: string, body: string) => {
  const { words } = await draft()
  expect(
    await heavy.saveWords(ctx, guide, { place, body, version: words[place]?.version ?? 0 }),
  ).toMatchObject({
    ok: true,
  })
}
const warned = async () => (await draft()).findings.some((f) => f.rule === 'not-reviewed')

describe('a review by a second name', () => {
  it('is by somebody else, of the draft as it is, and stands beside the revision', async () => {
    const review = async (
      kind: 'asked' | 'approved' | 'changes',
      author: string,
      note = '',
      seen?: ReturnType<typeof seenIn>,
    ) => heavy.reviewGuide(ctx, guide, { kind, author, note, seen: seen ?? seenIn(await draft()) })
    expect(await warned()).toBe(true)
    expect(await review('asked', ' ')).toMatchObject({ ok: false, field: 'author' })
    expect(await review('asked', 'Ines')).toMatchObject({ ok: true })
    expect(await review('approved', 'ines ')).toMatchObject({
      ok: false,
      error: expect.stringMatching(/Someone other than/),
    })
    expect(await review('changes', 'Tomas')).toMatchObject({ ok: false, field: 'note' })
    expect(await review('changes', 'Tomas', 'The title says too little.')).toMatchObject({ ok: true })
    expect(await warned()).toBe(true)
    const before = seenIn(await draft())
    await write('title', 'Ostrel Maren 55, settings for a dark room')
    expect(await review('approved', 'Tomas', '', before)).toMatchObject({
      ok: false,
      error: expect.stringMatching(/changed by somebody else while you looked/),
    })
    // Whoever wrote that title has seen it: own words, saved since the page was opened, are no change by somebody else.
    const typed = { ...before, words: { ...before.words, title: (before.words.title ?? 0) + 1 } }
    expect(await review('asked', 'Ines', '', typed)).toMatchObject({ ok: true })
    expect((await draft()).reviews.map((r) => [r.kind, r.current])).toEqual([
      ['asked', true],
      ['changes', false],
      ['asked', false],
    ])
    expect(await review('approved', 'Tomas')).toMatchObject({ ok: true })
    expect(await warned()).toBe(false)
    // What is changed afterwards was not approved.
    await write('summary', 'One mode and a few clicks.')
    expect(await warned()).toBe(true)
    expect(await review('approved', 'Tomas')).toMatchObject({ ok: true })
    expect(await heavy.publishGuide(ctx, guide, { ...SURE, author: 'Ines' })).toMatchObject({ ok: true })
    expect((await publicNow())!.revisions[0]).toMatchObject({ author: 'Ines', reviewer: 'Tomas' })
    // Words alone need none.
    await write('summary', 'One mode, and a few clicks.')
    expect(await warned()).toBe(false)
  })
})

describe('a draft that becomes public at a time', () => {
  const soon = () => new Date(Date.now() + 3_600_000)
  it('is not scheduled in the past, nor at no time', async () => {
    for (const [at, why] of [
      ['2020-01-01T10:00:00Z', /in the past/],
      ['never', /no date/],
      [new Date(Date.now() + 400 * 86_400_000).toISOString(), /more than a year/],
    ] as const)
      expect(await heavy.publishGuide(ctx, guide, { ...SURE, at })).toMatchObject({
        ok: false,
        field: 'at',
        error: expect.stringMatching(new RegExp(`${why.source}.*the draft is kept`, 'i')),
      })
    expect((await draft()).scheduled).toBeUndefined()
  })
  it('becomes public then, as it was, once', async () => {
    const at = soon()
    const { revision } = (await publicNow())!
    expect(
      await heavy.publishGuide(ctx, guide, {
        ...SURE,
        note: 'A comma.',
        author: 'Ines',
        at: at.toISOString(),
      }),
    ).toMatchObject({ ok: true })
    expect((await draft()).scheduled).toEqual({
      at: at.toISOString(),
      author: 'Ines',
      current: true,
      trouble: null,
    })
    await write('summary', 'Written after it was scheduled.')
    expect((await draft()).scheduled).toMatchObject({ current: false })
    expect(await publishDue(ctx)).toBe(0)
    expect((await publicNow())!.revision).toBe(revision)
    const [one, two] = await Promise.all([publishDue(ctx, at), publishDue(ctx, at)])
    expect(one + two).toBeGreaterThan(0)
    const now = (await publicNow())!
    expect(now).toMatchObject({
      revision: revision + 1,
      document: { summary: 'One mode, and a few clicks.' },
    })
    expect(now.revisions[0]).toMatchObject({ kind: 'correction', note: 'A comma.', author: 'Ines' })
    expect((await draft()).scheduled).toBeUndefined()
  })
  it('is not changed by a case that is composed anew meanwhile', async () => {
    expect(await heavy.composeGuide(ctx, session, true)).toMatchObject({ ok: true })
    const { document } = await draft()
    expect(await heavy.publishGuide(ctx, guide, { ...SURE, at: soon().toISOString() })).toMatchObject({
      ok: true,
    })
    const row = (await db.guideSchedules.findByPk(guide))!
    const [frozen] = row.sections
    await carryOut(ctx, session, { type: 'target', luminance: 150 })
    await calibrate(ctx, session)
    expect(await heavy.composeGuide(ctx, session, true)).toMatchObject({ ok: true })
    expect((await draft()).document).not.toEqual(document)
    await publishDue(ctx, row.publishAt)
    expect((await db.sectionRevisions.findByPk(frozen!))!.status).toBe('published')
    // What was composed since is still a draft, and is told as one.
    expect((await draft()).sections[0]).toMatchObject({ status: 'draft' })
    expect(Math.abs((await publicNow())!.document.cases[0]!.after!.luminance - 100)).toBeLessThan(4)
    expect(await heavy.publishGuide(ctx, guide, SURE)).toMatchObject({ ok: true })
  })
  it('is taken back by hand, by publishing now, and by withdrawing', async () => {
    const schedule = () => heavy.publishGuide(ctx, guide, { ...SURE, at: soon().toISOString() })
    expect(await cancelSchedule(ctx, guide)).toMatchObject({ ok: false })
    // What is public already cannot become so later.
    expect(await schedule()).toMatchObject({ ok: false, error: expect.stringMatching(/nothing to schedule/) })
    await write('summary', 'For later.')
    await schedule()
    expect(await cancelSchedule(ctx, guide)).toMatchObject({ ok: true })
    expect(await db.guideSchedules.count()).toBe(0)
    await schedule()
    expect(await heavy.publishGuide(ctx, guide, SURE)).toMatchObject({ ok: true })
    expect(await db.guideSchedules.count()).toBe(0)
    await write('summary', 'Once more.')
    await schedule()
    expect(await withdrawGuide(ctx, guide, 'Wrong unit.')).toMatchObject({ ok: true })
    expect(await publishDue(ctx, new Date(Date.now() + 86_400_000))).toBe(0)
    expect((await publicNow())!.withdrawn).toBe('Wrong unit.')
    expect(await heavy.publishGuide(ctx, guide, SURE)).toMatchObject({ ok: true })
  })
})

describe('several who publish and withdraw at once', () => {
  it('a withdrawal stands, whatever was begun before it', async () => {
    await write('summary', 'Begun before it is withdrawn.')
    const { standing } = await draft()
    const soon = new Date(Date.now() + 3_600_000).toISOString()
    for (const at of ['', soon]) {
      const [published, withdrawn] = await Promise.all([
        heavy.publishGuide(ctx, guide, { ...SURE, at, standing }),
        // It is withdrawn while the publication looks at its checks.
        withdrawGuide(ctx, guide, 'Measured on the wrong unit.'),
      ])
      expect(withdrawn).toMatchObject({ ok: true })
      expect(published).toMatchObject({
        ok: false,
        error: expect.stringMatching(
          /was withdrawn meanwhile: Measured on the wrong unit.*the draft is kept/,
        ),
      })
    }
    // Nor does a form that was opened before it undo it.
    expect(await heavy.publishGuide(ctx, guide, { ...SURE, standing })).toMatchObject({ ok: false })
    expect(await publishDue(ctx, new Date(Date.now() + 86_400_000))).toBe(0)
    expect((await publicNow())!.withdrawn).toBe('Measured on the wrong unit.')
    // Who has seen that it is withdrawn may publish it.
    const now = (await draft()).standing
    expect(await heavy.publishGuide(ctx, guide, { ...SURE, standing: now })).toMatchObject({ ok: true })
  })
  it('one of three publishes, and the others are told whose note readers see', async () => {
    await write('summary', 'Three at once.')
    const { standing } = await draft()
    const before = (await publicNow())!.revision
    const all = await Promise.all(
      ['Ines', 'Tomas', 'Mara'].map((author) =>
        heavy.publishGuide(ctx, guide, { ...SURE, note: `Of ${author}.`, author, standing }),
      ),
    )
    expect(all.filter((r) => r.ok)).toHaveLength(1)
    for (const refused of all)
      if (!refused.ok) expect(refused.error).toMatch(/published meanwhile by (Ines|Tomas|Mara)\. Your note/)
    expect((await publicNow())!.revision).toBe(before + 1)
    const { author, note } = (await publicNow())!.revisions[0]!
    expect(note).toBe(`Of ${author}.`)
    // The same press twice is one publication.
    expect(await heavy.publishGuide(ctx, guide, { ...SURE, note, author })).toMatchObject({ ok: true })
    expect(await heavy.publishGuide(ctx, guide, { ...SURE, note: 'Late.', author: 'Mara' })).toMatchObject({
      ok: false,
    })
  })
})

describe('publishing', () => {
  it('waits for a run that goes on', async () => {
    // It stops where the meter is silent, and is not over.
    await bench.client.simulate({ faults: [{ kind: 'meter-timeout', times: 0 }] })
    const { revision } = (await heavy.sessionView(ctx, session))!
    expect(await carryOut(ctx, session, { type: 'sweep', revision, sweep: 'grey-11' })).toMatchObject({
      ok: true,
    })
    await write('summary', 'While it reads.')
    expect(await heavy.publishGuide(ctx, guide, SURE)).toMatchObject({
      ok: false,
      error: expect.stringMatching(/A run goes on for SDR, dark room.*The draft is kept/),
    })
    await carryOut(ctx, session, { type: 'cancel' })
    await bench.client.simulate({ faults: [] })
    expect(await heavy.publishGuide(ctx, guide, SURE)).toMatchObject({ ok: true })
  })
})

describe('a case after a newer firmware', () => {
  const read = async (revisionId: number) => {
    const begun = await startRecheck(ctx, revisionId)
    if (!begun.ok) throw new Error(begun.error)
    await until(async () => {
      const [line] = await heavy.recheckPlan(ctx)
      return line?.begun?.verdict !== undefined
    }, 'the case read again')
    return begun.value
  }
  it('is listed with its minutes, and read again only with that firmware', async () => {
    expect(await heavy.recheckPlan(ctx)).toEqual([])
    expect(await addFirmware(ctx, 'ostrel-maren', ' ')).toMatchObject({ ok: false, field: 'version' })
    expect(await addFirmware(ctx, 'ostrel-maren', '4.02.0')).toMatchObject({ ok: true })
    expect(await heavy.recheckPlan(ctx)).toEqual([])
    expect(await addFirmware(ctx, 'ostrel-maren', '4.10.0')).toMatchObject({ ok: true })
    const [line, ...others] = await heavy.recheckPlan(ctx)
    expect(others).toEqual([])
    expect(line).toMatchObject({
      case: 'SDR, dark room',
      firmware: '4.02.1',
      newest: '4.10.0',
      unit: 'unit 1',
    })
    expect(line!.readings).toBeGreaterThan(20)
    expect(line!.minutes).toBeGreaterThan(1)
    expect(line!.minutes).toBeLessThan(30)
    const sessions = await db.sessions.count()
    expect(await startRecheck(ctx, line!.revisionId)).toMatchObject({
      ok: false,
      error: expect.stringMatching(/put the unit with its new firmware on the bench first/),
    })
    expect(await startRecheck(ctx, 9999)).toMatchObject({ ok: false })
    expect(await db.sessions.count()).toBe(sessions)
  })
  it('does not become part of a guide where its settings no longer hold', async () => {
    await bench.client.simulate({ firmware: '4.10.0', faults: [{ kind: 'automatic-dimming', times: 0 }] })
    const [line] = await heavy.recheckPlan(ctx)
    const again = await read(line!.revisionId)
    const [now] = await heavy.recheckPlan(ctx)
    expect(now!.begun!.verdict!.changed.join()).toMatch(/White went from \d+ to \d+ cd\/m²/)
    expect(await heavy.composeGuide(ctx, again)).toMatchObject({
      ok: false,
      error: expect.stringMatching(/no longer hold.*what is public stays as it is/),
    })
    // The same session is gone on with, not another begun.
    expect(await startRecheck(ctx, line!.revisionId)).toEqual({ ok: true, value: again })
    await bench.client.simulate({ faults: [] })
    await db.rechecks.destroy({ where: { sessionId: again } })
  })
  it('is the next revision where they do, with both firmwares said', async () => {
    const [line] = await heavy.recheckPlan(ctx)
    const again = await read(line!.revisionId)
    expect((await heavy.recheckPlan(ctx))[0]!.begun!.verdict).toMatchObject({ changed: [] })
    expect(await heavy.composeGuide(ctx, again)).toMatchObject({ ok: true, value: guide })
    const { findings, document } = await draft()
    expect(findings.filter((f) => f.level === 'error')).toEqual([])
    expect(document.cases[0]).toMatchObject({
      display: { firmware: '4.10.0' },
      recheck: { derivedWith: '4.02.1' },
    })
    const before = (await publicNow())!
    expect(await heavy.publishGuide(ctx, guide, { ...SURE, note: 'Firmware 4.10.0.' })).toMatchObject({
      ok: true,
    })
    const after = (await publicNow())!
    expect(after.revisions[0]).toMatchObject({ kind: 'revision', note: 'Firmware 4.10.0.' })
    const values = (of: typeof after) =>
      of.document.cases[0]!.values.map((v) => [v.control, v.value, v.readings])
    expect(values(after)).toEqual(values(before))
    expect(await heavy.recheckPlan(ctx)).toEqual([])
  })
})

describe('a display that nobody had a meter for', () => {
  it('has a guide by eye, named as one everywhere, with no figure', async () => {
    await bench.client.simulate({ onStand: 'QT43-77120', faults: [] })
    forgetBench()
    const unit = await takeIn(ctx, {
      label: 'unit 9',
      region: 'Europe',
      origin: 'a reader’s',
      panelKind: 'lcd-edge-lit',
    })
    if (!unit.ok) throw new Error(unit.error)
    const begun = await startSession(ctx, unit.value, {
      viewingCase: 'sdr-dark',
      baseMode: null,
      equipment: { ...BY_HAND, meterName: 'none' },
    })
    if (!begun.ok) throw new Error(begun.error)
    const id = begun.value
    const rows = (await byEyeRows(ctx, id))!
    expect(rows.find((r) => r.key === 'light')).toMatchObject({ range: { min: 0, max: 20 } })
    for (const [values, why] of [
      [{ ghost: 1 }, /no such control/],
      [{ light: 99 }, /Nothing was changed/],
      [{ view: 'nowhere' }, /Nothing was changed/],
    ] as const)
      expect(await setByEye(ctx, id, values)).toMatchObject({ ok: false, error: expect.stringMatching(why) })
    expect(await setByEye(ctx, id, { view: 'film', light: '8' })).toMatchObject({ ok: true })
    const made = await heavy.composeGuide(ctx, id, false, true)
    if (!made.ok) throw new Error(made.error)
    // Two values were read off the menu; the rest nobody has looked at.
    expect(
      (await heavy.guideDraft(ctx, made.value))!.findings.filter((f) => f.level === 'error'),
    ).toMatchObject([{ rule: 'value-unseen' }])
    const menu = (await byEyeRows(ctx, id))!
    expect(
      await setByEye(ctx, id, Object.fromEntries(menu.map((row) => [row.key, row.value]))),
    ).toMatchObject({ ok: true })
    const found = (await heavy.guideDraft(ctx, made.value))!
    expect(found.findings.filter((f) => f.level === 'error')).toEqual([])
    expect(found.findings.map((f) => f.rule)).toContain('by-eye')
    const [of] = found.document.cases
    expect(of).toMatchObject({ method: { heading: 'Set by eye, not measured', readings: 0 }, worse: [] })
    expect([of!.before, of!.after]).toEqual([undefined, undefined])
    expect(of!.values.find((v) => v.control === 'light')).toMatchObject({
      value: 8,
      changed: true,
      readings: [],
    })
    expect(JSON.stringify(found.document)).not.toMatch(/ΔE|cd\/m² here/)
    expect(await heavy.publishGuide(ctx, made.value, SURE)).toMatchObject({ ok: true })
    const at = await guideAt(ctx, 'quill-farrow-tavin-43')
    if (at?.kind !== 'guide') throw new Error('It is not public')
    // It leaves as text, picture and file like any other, and says what it is in each.
    expect(guideMarkdown(at.guide.document, 1, '2026-11-29')).toMatch(/Set by eye, not measured/)
    expect(readGuideFile(Buffer.from(JSON.stringify(await guideFileOf(ctx, at.guide))))).toMatchObject({
      ok: true,
    })
    const row = (await db.guideRevisions.findOne({ order: [['id', 'DESC']] }))!
    for (const kind of ['card', 'pdf'] as const)
      await withTemporaryFile(async (file) => {
        expect(await doJob(ctx, { kind, revisionId: row.id, file })).toBe(true)
        expect((await readFile(file)).length).toBeGreaterThan(5_000)
      })
    const other = await guideAt(ctx, slug)
    if (other?.kind !== 'guide') throw new Error('The other is gone')
    const [pair] = compareGuides(at.guide.document, other.guide.document)
    expect(pair!.figures.every((f) => f.a === null)).toBe(true)
    expect(cueSheet(at.guide.document, at.guide.document.cases[0]!).cues.at(-1)!.say).toMatch(
      /Nothing of this was measured/,
    )
    // Whatever was measured is no guide by eye.
    expect(await heavy.composeGuide(ctx, session, true, true)).toMatchObject({
      ok: false,
      error: expect.stringMatching(/Something was measured/),
    })
    expect(await byEyeRows(ctx, session)).toBeUndefined()
  })
})
