import { type ChildProcess, spawn } from 'node:child_process'
import { beforeEach, describe, expect, it } from 'vitest'
import { grey, PATCHES } from '#core/measure'
import {
  claimRun,
  countTrouble,
  type Database,
  giveBack,
  LEASE_MS,
  LeaseWatch,
  renewLease,
  storeMeasurement,
} from '#db'
import { calibrate } from '#demo'
import { heavy } from '#server/background'
import { guideAt } from '#server/guide'
import { carryOut } from '#server/session'
import { startSession } from '#server/unit'
import { type AtBench, atBench, besideRunner } from '#tests/at-bench'
import { beginOn, until } from '#tests/environment'

let db: AtBench['db']
let bench: AtBench['bench']
let ctx: AtBench['ctx']
let session: number
const at = atBench({ displayOnFor: 3120, begin: (ctx) => beginOn(ctx) })
beforeEach(() => {
  ;({ db, bench, ctx, session } = at)
})

const look = async () => (await heavy.sessionView(ctx, session))!
const noteOf = async (key: string) => (await look()).steps.find((s) => s.key === key)?.note
const go = async () => carryOut(ctx, session, { type: 'go', revision: (await look()).revision })
/** Readings of patches that were asked for, those for drift and warm-up left aside. */
const count = (where = {}) => db.readings.count({ where: { kind: 'read', ...where } })
const idle = () => until(async () => !(await look()).run, 'the run has ended')
const status = (wanted: string) =>
  until(async () => {
    const { run } = await look()
    return run?.status === wanted && run
  }, `the run is ${wanted}`)

/** Runs `work` beside a runner in this process. */
const withRunner = (work: () => Promise<void>) => besideRunner(db, work)

/** Every task has been read exactly once with a usable result, and nothing else is there. */
const expectWhole = async () => {
  const tasks = await db.tasks.findAll({ where: { kind: 'read' } })
  const readings = await db.readings.findAll({ where: { fault: null, kind: 'read' } })
  expect(readings).toHaveLength(tasks.length)
  expect(new Set(readings.map((r) => `${r.runId}/${r.task}`)).size).toBe(tasks.length)
  expect(tasks.every((s) => s.outcome === 'done')).toBe(true)
}

describe('the whole route against a real database', () => {
  it('ends in a guide that is published once, its values linked to their readings', async () => {
    await withRunner(async () => {
      await calibrate(ctx, session)
      expect(await count()).toBeLessThanOrEqual(220)
    })
    await expectWhole()
    const composed = await heavy.composeGuide(ctx, session)
    if (!composed.ok) throw new Error(composed.error)
    const guide = composed.value
    expect(await heavy.composeGuide(ctx, session)).toEqual(composed)
    const write = (place: string, body: string, version: number) =>
      heavy.saveWords(ctx, guide, { place, body, version })
    expect(await write('title', 'x'.repeat(121), 0)).toMatchObject({
      ok: false,
      error: expect.stringMatching(/too long.*The draft is as it was/),
    })
    expect(await write('title', 'Maren, our way', 0)).toEqual({ ok: true, version: 1 })
    expect(await write('summary', 'Good.', 0)).toMatchObject({ ok: true })
    const draft = (await heavy.guideDraft(ctx, guide))!
    expect(draft.document.title).toBe('Maren, our way')
    expect(draft.findings.filter((f) => f.level === 'error')).toEqual([])
    expect(await guideAt(ctx, draft.slug)).toBeUndefined()
    const publish = () => heavy.publishGuide(ctx, guide, { because: 'As measured.' })
    expect(await publish()).toEqual({ ok: true, value: draft.slug })
    expect(await publish()).toEqual({ ok: true, value: draft.slug })
    expect(await db.guideRevisions.count()).toBe(1)
    const at = await guideAt(ctx, draft.slug)
    expect(at).toMatchObject({
      kind: 'guide',
      guide: {
        revision: 1,
        document: { title: 'Maren, our way', cases: [{ viewingCase: { key: 'sdr-dark' } }] },
      },
    })
    // The address that the case had while it was a guide of its own.
    expect(await guideAt(ctx, `${draft.slug}-sdr-dark`)).toEqual({
      kind: 'moved',
      slug: draft.slug,
      case: 'sdr-dark',
    })
    const section = (await db.sectionRevisions.findOne({ where: { sessionId: session } }))!
    const linked = await db.sectionValues.findAll({ where: { revisionId: section.id } })
    const light = linked.find((v) => v.controlKey === 'panel-light')!
    expect(await db.derivedReadings.count({ where: { derivedId: light.derivedId! } })).toBeGreaterThan(1)
    // Every control of the sheet, groups of untouched ones as one row each.
    expect(linked.flatMap((v) => v.controlKey)).toContain('gain-red')
    const untouched = draft.document.cases[0]!.values.filter((v) => v.covers).flatMap((v) => v.covers!)
    expect(linked.length + untouched.length).toBeGreaterThan(60)
  })
  it('refuses a guide before its end, and says what is missing', async () => {
    expect(await heavy.composeGuide(ctx, session)).toMatchObject({
      ok: false,
      error: expect.stringMatching(/route is not finished/),
    })
  })
})

describe('commands', () => {
  it('that come twice begin one run', async () => {
    const { revision } = await look()
    const results = await Promise.all(
      Array.from({ length: 5 }, () => carryOut(ctx, session, { type: 'go', revision })),
    )
    expect(results.filter((r) => r.ok)).toHaveLength(1)
    expect(await db.runs.count()).toBe(1)
  })
  it('that are impossible change nothing and say why', async () => {
    const says = async (command: Parameters<typeof carryOut>[2]) => {
      const result = await carryOut(ctx, session, command)
      return result.ok ? 'done' : result.error
    }
    expect(await says({ type: 'pause' })).toMatch(/No run is going on/)
    expect(await says({ type: 'put-back' })).toMatch(/no adjustment to undo yet/)
    expect(await says({ type: 'set', control: 'ghost', value: 1 })).toMatch(/no such control/)
    expect(await says({ type: 'set', control: 'panel-light', value: 400 })).toMatch(/0 to 100/)
    expect(await says({ type: 'set', control: 'panel-light', value: 84 })).toMatch(/already has this value/)
    expect(await says({ type: 'target', luminance: 0 })).toMatch(/between 5 and 4000/)
    expect(await says({ type: 'go', revision: 999 })).toMatch(/out of date for a moment/)
    expect(await carryOut(ctx, 12345, { type: 'pause' })).toMatchObject({ ok: false })
    expect(await db.runs.count()).toBe(0)
  })
  it('put an adjustment back, leave a step and take it up again', async () => {
    await withRunner(async () => {
      for (let i = 0; i < 3; i++) {
        await go()
        await idle()
      }
      expect((await look()).lastAdjustment?.canPutBack).toBe(true)
      await carryOut(ctx, session, { type: 'put-back' })
      await idle()
      expect((await look()).controls.find((c) => c.key === 'panel-light')?.value).toBe(84)
      await carryOut(ctx, session, { type: 'leave', step: 'luminance', reason: 'bright room' })
      expect((await look()).next).toMatchObject({ kind: 'adjust', step: 'tone' })
      await carryOut(ctx, session, { type: 'return', step: 'luminance' })
      expect((await look()).next).toMatchObject({ kind: 'adjust', step: 'luminance' })
    })
  })
})

/** Claims as a runner that has seen the heartbeat stand still for as long as a lease. */
const claimAfterSilence = async (db: Database) => {
  let now = 0
  const watch = new LeaseWatch(() => now)
  for (; now < LEASE_MS; now += 1_000)
    if (await claimRun(db, watch)) throw new Error('The run was taken while its runner may still live')
  return claimRun(db, watch)
}

describe('runners', () => {
  it('live as long as their heartbeat moves, whatever the clocks say', async () => {
    await go()
    const claimed = (await claimRun(db, new LeaseWatch()))!
    let now = 0
    const watch = new LeaseWatch(() => now)
    for (; now < 5 * LEASE_MS; now += 1_000) {
      expect(await renewLease(db, claimed)).toBe(true)
      expect(await claimRun(db, watch)).toBeUndefined()
    }
    // Whoever was stopped itself has not watched, and begins anew.
    now += 60_000
    expect(await claimRun(db, watch)).toBeUndefined()
  })
  it('stop a run whose task fails three times in a row inside Wexmar, with a sentence, and count anew after that', async () => {
    await go()
    for (let i = 1; i <= 3; i++) {
      const claimed = (await claimRun(db, new LeaseWatch()))!
      expect(await countTrouble(db, claimed, 'The sheet is torn.')).toEqual({ own: true, value: i === 3 })
      if (i < 3) await giveBack(db, claimed)
    }
    expect(await claimRun(db, new LeaseWatch())).toBeUndefined()
    const view = await look()
    expect(view.run).toMatchObject({ status: 'stopped' })
    expect(view.run!.reason).toMatch(
      /^Step 1 failed 3 times in a row inside Wexmar: The sheet is torn\. All readings/,
    )
    expect((await carryOut(ctx, session, { type: 'retry' })).ok).toBe(true)
    const again = (await claimRun(db, new LeaseWatch()))!
    expect(await countTrouble(db, again, 'The sheet is torn.')).toEqual({ own: true, value: false })
  })
  it('never share a run or a bench', async () => {
    await go()
    const claims = await Promise.all(Array.from({ length: 6 }, () => claimRun(db, new LeaseWatch())))
    expect(claims.filter(Boolean)).toHaveLength(1)
    expect(await claimRun(db, new LeaseWatch())).toBeUndefined()
  })
  it('that lost their lease can store nothing more', async () => {
    await go()
    const first = (await claimRun(db, new LeaseWatch()))!
    const second = (await claimAfterSilence(db))!
    expect(second.run.id).toBe(first.run.id)
    expect(await renewLease(db, first)).toBe(false)
    expect(await renewLease(db, second)).toBe(true)
    const late = await storeMeasurement(
      db,
      first,
      {
        task: first.tasks[0]!.ordinal,
        kind: 'read',
        origin: 'bench',
        patch: grey(100),
        exposure: null,
        state: {},
        pattern: null,
        seen: null,
        xyz: [1, 1, 1],
        sigma: null,
        uncorrected: null,
        samples: 1,
        seconds: 1,
        clock: 1,
        onFor: null,
        meter: '',
        meterSlot: null,
        correctionId: null,
        drift: null,
        flags: [],
        fault: null,
        raw: null,
        takenAt: new Date().toISOString(),
      },
      true,
    )
    expect(late.own).toBe(false)
    expect(await count()).toBe(0)
  })
  it('that are killed lose no reading and double none; the run goes on at the next patch', async () => {
    await bench.client.simulate({ speed: 30 })
    const start = (): ChildProcess =>
      spawn(process.execPath, ['--import', 'tsx', 'src/bench/runner/main.ts'], {
        env: { ...process.env, DATABASE_URL: process.env.WEXMAR_TEST_DATABASE },
        stdio: 'ignore',
      })
    let runner = start()
    try {
      await go()
      await until(async () => !(await look()).run, 'prepared', 120_000)
      await go()
      for (const enough of [3, 8]) {
        await until(async () => (await count()) >= enough, `${enough} readings are there`, 30_000)
        const shown = (await db.readings.findAll({ where: { kind: 'read' }, order: ['id'] })).map((r) => [
          r.id,
          r.y,
        ])
        runner.kill('SIGKILL')
        runner = start()
        const after = (await db.readings.findAll({ where: { kind: 'read' }, order: ['id'] })).map((r) => [
          r.id,
          r.y,
        ])
        expect(after.slice(0, shown.length)).toEqual(shown)
      }
      await until(async () => !(await look()).run, 'the sweep is whole', 120_000)
    } finally {
      runner.kill('SIGKILL')
    }
    await expectWhole()
    expect(await count()).toBe(PATCHES.sdr.wholeCase.length)
  })
  it('pause, resume and cancel between two patches', async () => {
    await bench.client.simulate({ speed: 40 })
    await withRunner(async () => {
      await go()
      await idle()
      await go()
      await until(async () => (await count()) >= 2, 'two readings are there')
      expect((await carryOut(ctx, session, { type: 'pause' })).ok).toBe(true)
      const paused = await count()
      // Bench time passes, longer than a few readings take; nothing is read in it.
      expect((await bench.client.wait(20)).ok).toBe(true)
      expect(await count()).toBe(paused)
      await carryOut(ctx, session, { type: 'resume' })
      await until(async () => (await count()) > paused, 'it reads again')
      await carryOut(ctx, session, { type: 'cancel' })
      await idle()
    })
    const view = await look()
    expect(view.next).toMatchObject({
      kind: 'sweep',
      patches: PATCHES.sdr.wholeCase.length - (await count()),
    })
  })
})

describe('a bench in trouble', () => {
  const prepared = async () => {
    await go()
    await idle()
  }
  it.each([
    ['meter-timeout', /no answer in time/],
    ['meter-empty', /without a value/],
    ['meter-not-a-number', /not three numbers/],
    ['meter-negative', /below zero/],
    ['meter-saturated', /saturated/],
  ] as const)(
    '%s: bad readings are kept and marked, the run stops with a sentence and goes on',
    async (kind, sentence) => {
      await withRunner(async () => {
        await prepared()
        await bench.client.simulate({ faults: [{ kind, times: 3 }] })
        await go()
        const run = await status('stopped')
        expect(run.reason).toMatch(sentence)
        expect(run.reason).toMatch(/kept and marked/)
        expect(await count()).toBe(3)
        expect((await look()).log.filter((e) => e.kind === 'reading' && e.fault)).toHaveLength(3)
        await carryOut(ctx, session, { type: 'retry' })
        await idle()
      })
      await expectWhole()
      expect(await count()).toBe(PATCHES.sdr.wholeCase.length + 3)
    },
  )
  it('one bad reading is repeated without asking anybody', async () => {
    await withRunner(async () => {
      await prepared()
      await bench.client.simulate({ faults: [{ kind: 'meter-negative', times: 1 }] })
      await go()
      await idle()
    })
    await expectWhole()
  })
  it('a patch can be left out', async () => {
    await withRunner(async () => {
      await prepared()
      await go()
      await until(async () => (await count()) >= 1, 'white is read')
      await bench.client.simulate({ faults: [{ kind: 'meter-empty', times: 3 }] })
      await status('stopped')
      expect(await carryOut(ctx, session, { type: 'skip' })).toEqual({ ok: true, value: null })
      await idle()
    })
    expect(await count({ fault: null })).toBe(PATCHES.sdr.wholeCase.length - 1)
    expect((await look()).next.kind).toBe('adjust')
  })
  it('a control that refuses stops the run with the display’s own reason', async () => {
    await withRunner(async () => {
      await prepared()
      await go()
      await idle()
      await bench.client.simulate({ faults: [{ kind: 'control-refuses', times: 1 }] })
      await go()
      expect((await status('stopped')).reason).toMatch(/greyed out and keeps 84/)
      expect(await carryOut(ctx, session, { type: 'skip' })).toMatchObject({ ok: false })
      await carryOut(ctx, session, { type: 'retry' })
      await idle()
    })
    await expectWhole()
  })
  it('a display that does not take a value is found out', async () => {
    await withRunner(async () => {
      await prepared()
      await go()
      await idle()
      await bench.client.simulate({ faults: [{ kind: 'display-forgets', times: 1 }] })
      await go()
      expect((await status('stopped')).reason).toMatch(/was asked for \d+ and shows 84/)
      await carryOut(ctx, session, { type: 'cancel' })
      await idle()
    })
    expect((await look()).controls.find((c) => c.key === 'panel-light')?.value).toBe(84)
  })
  it('a setting lost between two runs is set again before anything is read', async () => {
    await withRunner(async () => {
      for (let i = 0; i < 3; i++) {
        await go()
        await idle()
      }
      const wanted = (await look()).controls.find((c) => c.key === 'panel-light')?.value
      await bench.client.reset()
      await carryOut(ctx, session, { type: 'sweep-again' })
      await idle()
      const now = await bench.client.state()
      expect(now.ok && now.value['panel-light']).toBe(wanted)
      expect(now.ok && now.value['room-eye']).toBe('off')
    })
  })
  it('that goes away is waited for, and the run goes on by itself', async () => {
    await withRunner(async () => {
      await prepared()
      await bench.client.simulate({ speed: 40 })
      await go()
      await until(async () => (await count()) >= 2, 'two readings are there')
      await bench.stop()
      const run = await status('waiting')
      expect(run.reason).toMatch(/No bench answers.*kept.*goes on by itself/)
      await bench.again()
      await idle()
    })
    await expectWhole()
  })
  it('with another unit on the stand stops before anything is read', async () => {
    await withRunner(async () => {
      await prepared()
      const { serial } = (await db.units.findOne())!
      const other = bench.bench.simulation().shelf.find((u) => u.serial !== serial)!
      await bench.client.simulate({ onStand: other.serial })
      await go()
      expect((await status('stopped')).reason).toMatch(/Another unit stands on the bench/)
      expect(await count()).toBe(0)
      expect(await carryOut(ctx, session, { type: 'place-unit' })).toMatchObject({ ok: true })
      await carryOut(ctx, session, { type: 'retry' })
      await idle()
    })
    await expectWhole()
  })
})

describe('wishes that cannot be met', () => {
  it('are refused with the field that is wrong', async () => {
    const unit = (await db.units.findOne())!.id
    const wish = { viewingCase: 'sdr-dark', baseMode: 'studio', luminance: 100 } as const
    expect(await startSession(ctx, unit, { ...wish, luminance: 1 })).toMatchObject({
      ok: false,
      field: 'luminance',
    })
    expect(await startSession(ctx, unit, { ...wish, baseMode: 'ghost' })).toMatchObject({
      ok: false,
      field: 'baseMode',
    })
    expect(await startSession(ctx, unit, { ...wish, viewingCase: 'hdr-film' })).toMatchObject({ ok: false })
    expect(await startSession(ctx, 999, wish)).toMatchObject({ ok: false })
  })
  it('a target out of reach ends at the nearest value and says so', async () => {
    await carryOut(ctx, session, { type: 'target', luminance: 8 })
    await withRunner(async () => {
      for (let i = 0; i < 8 && (await look()).next.kind !== 'compose'; i++) {
        await go()
        await idle()
      }
    })
    expect(await noteOf('luminance')).toMatch(/the nearest it can do/)
  })
})
