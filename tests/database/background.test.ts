import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { runnerLoop } from '#bench/runner'
import type { Database } from '#db'
import { calibrate } from '#demo'
import { heavy } from '#server/background'
import { type Context, forgetBench } from '#server/base'
import { guideAt } from '#server/guide'
import { carryOut, pilotLoop } from '#server/session'
import { startSession } from '#server/unit'
import { keptView, watchSession } from '#server/view'
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
  await calibrate(ctx, session)
})
afterAll(async () => {
  leave.abort()
  await runner
  await bench.stop()
  await db.sequelize.close()
})

/** Lets the pilot go round until something is so. */
const piloted = async (so: () => Promise<boolean>, what: string) => {
  const stop = new AbortController()
  const pilot = pilotLoop(ctx, stop.signal)
  await until(so, what)
  stop.abort()
  await pilot
}
const summarized = async (id: number) =>
  (await db.sessions.findByPk(id))!.get('summarized') === (await db.sessions.findByPk(id))!.revision

describe('a finished session', () => {
  it('is kept as it was left, with its result, whatever other cases do with the display since', async () => {
    await piloted(async () => Boolean(await keptView(ctx, session)), 'its view is kept')
    const left = (await keptView(ctx, session))!
    const planned = (await heavy.sessionView(ctx, session))!
    expect(left.next.kind).toBe('compose')
    expect(left.after).toEqual(planned.after)
    expect(left.asLeft).toBeDefined()

    const other = await startSession(ctx, 1, { viewingCase: 'sdr-bright', baseMode: 'lounge' })
    if (!other.ok) throw new Error(other.error)
    const go = async () => {
      const { revision } = (await heavy.sessionView(ctx, other.value))!
      expect(await carryOut(ctx, other.value, { type: 'go', revision })).toMatchObject({ ok: true })
      await until(async () => (await heavy.sessionView(ctx, other.value))!.run === null, 'its run is over')
    }
    await go()
    expect((await heavy.sessionView(ctx, session))!.next.kind).toBe('restore')
    // Its guide is composed, which is written down at the session: it is kept anew, and shows its result all the same.
    await db.sessions.increment('revision', { where: { id: session } })
    // What has gone on since is never shown as it was before.
    expect(await keptView(ctx, session)).toBeUndefined()
    await piloted(() => summarized(session), 'it is written down again')
    expect((await keptView(ctx, session))!.next.kind).toBe('compose')
    expect((await keptView(ctx, session))!.revision).toBe((await db.sessions.findByPk(session))!.revision)
  })
  it('is not worked out again for a page that shows it as it was left, until something changes', async () => {
    const { revision, mark } = (await keptView(ctx, session))!
    const stop = new AbortController()
    const news: string[] = []
    const watching = (async () => {
      for await (const told of watchSession(ctx, session, mark, stop.signal, revision))
        news.push(told?.kind ?? 'alive')
    })()
    await until(async () => news.includes('alive'), 'the page hears a sign of life')
    expect(news).not.toContain('change')
    await db.sessions.increment('revision', { where: { id: session } })
    await until(async () => news.includes('change'), 'the page hears of the change')
    stop.abort()
    await watching
  })
})

describe('a session that cannot be planned', () => {
  it('keeps neither schedules nor unattended work nor summaries waiting, and says what is wrong', async () => {
    const bad = await startSession(ctx, 1, { viewingCase: 'sdr-dark', baseMode: 'studio', unattended: true })
    const good = await startSession(ctx, 1, {
      viewingCase: 'sdr-bright',
      baseMode: 'lounge',
      unattended: true,
    })
    if (!bad.ok) throw new Error(bad.error)
    if (!good.ok) throw new Error(good.error)
    await db.sessions.update({ tone: 'no tone at all' }, { where: { id: bad.value } })
    const composed = await heavy.composeGuide(ctx, session)
    if (!composed.ok) throw new Error(composed.error)
    const guide = composed.value
    expect(await heavy.publishGuide(ctx, guide, { because: 'Looked at.' })).toMatchObject({ ok: true })
    const draft = (await heavy.guideDraft(ctx, guide))!
    await heavy.saveWords(ctx, guide, {
      place: 'summary',
      body: 'Later.',
      version: draft.words.summary?.version ?? 0,
    })
    const at = new Date(Date.now() + 1500).toISOString()
    expect(await heavy.publishGuide(ctx, guide, { because: 'Looked at.', note: 'Words.', at })).toMatchObject(
      {
        ok: true,
      },
    )
    await piloted(async () => {
      const now = await guideAt(ctx, draft.slug)
      const published = now?.kind === 'guide' && now.guide.revision === 2
      const moved = (await db.runs.count({ where: { sessionId: good.value } })) > 0
      const told = await db.troubles.findAll({ where: { item: bad.value } })
      return (
        published &&
        moved &&
        (await summarized(session)) &&
        told.length === 2 &&
        told.every((t) => t.times > 1)
      )
    }, 'everything else goes on')
    const [trouble] = await db.troubles.findAll({ where: { item: bad.value, work: 'unattended' } })
    expect(trouble!.message).not.toBe('')
    // Its page hears why, instead of waiting for ever.
    const stop = new AbortController()
    for await (const news of watchSession(ctx, bad.value, '', stop.signal)) {
      expect(news).toMatchObject({ kind: 'failed', message: trouble!.message })
      break
    }
    await carryOut(ctx, good.value, { type: 'cancel' })
    // Once it can be planned again, nothing is told of it any more.
    const { tone } = (await db.sessions.findByPk(session))!
    await db.sessions.update({ tone, unattended: false }, { where: { id: bad.value } })
    await db.troubles.update({ againAt: new Date() }, { where: {} })
    await piloted(
      async () => (await db.troubles.count({ where: { work: 'summary' } })) === 0,
      'it is forgotten',
    )
  })
})
