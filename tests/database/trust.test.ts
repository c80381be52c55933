import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { beforeEach, describe, expect, it } from 'vitest'
import { ON_BENCH } from '#core/entry'
import { answerTo, calibrate } from '#demo'
import { heavy } from '#server/background'
import { patchShown } from '#server/equipment'
import { carryOut } from '#server/session'
import { startSession, takeInByHand, unitView } from '#server/unit'
import { archiveOf, importBytes } from '#tests/archive'
import { type AtBench, atBench, besideRunner } from '#tests/at-bench'
import { beginOn, freshDatabase, until } from '#tests/environment'

let db: AtBench['db']
let bench: AtBench['bench']
let ctx: AtBench['ctx']
let session: number
const at = atBench({ displayOnFor: 3600, begin: (ctx) => beginOn(ctx, true) })
beforeEach(() => {
  ;({ db, bench, ctx, session } = at)
})

const look = async (id = session) => (await heavy.sessionView(ctx, id))!
const go = async (id = session) => carryOut(ctx, id, { type: 'go', revision: (await look(id)).revision })
const ask = (command: Parameters<typeof carryOut>[2], id = session) => carryOut(ctx, id, command)
const idle = (id = session) => until(async () => !(await look(id)).run, 'the run has ended')
const asking = (id = session) =>
  until(async () => {
    const { run } = await look(id)
    return (run?.status === 'asking' && run.ask) || undefined
  }, 'the run asks')
const withRunner = (work: () => Promise<void>) => besideRunner(db, work)
const prepared = async () => {
  await go()
  await idle()
}

describe('a run on the bench', () => {
  it('keeps each reading with its circumstances', async () => {
    await withRunner(async () => {
      await prepared()
      await go()
      await idle()
      await go()
      await idle()
      await ask({ type: 'sweep', sweep: 'near-black' })
      await idle()
    })
    const readings = await db.readings.findAll({ order: ['id'] })
    const control = readings.filter((r) => r.kind === 'control')
    expect(control.length).toBeGreaterThan(0)
    expect(control[0]?.drift).toMatchObject({
      luminance: expect.any(Number),
      chromaticity: expect.any(Number),
    })
    for (const r of readings) {
      expect(r).toMatchObject({
        meter: 'Ferrand Lux One FL-0417',
        meterSlot: 'lcd-array',
        origin: 'bench',
        fault: null,
      })
      expect(r.seen).toMatchObject({ flagged: { range: 'limited' }, signal: { bitDepth: 10 } })
      expect(r.onFor).toBeGreaterThan(3000)
      expect(r.sigma?.[1]).toBeGreaterThan(0)
    }
    const white = readings.find((r) => r.patchKey === 'grey-100' && r.kind === 'read')!
    const black = readings.findLast((r) => r.patchKey === 'grey-1')!
    expect(white.samples).toBe(1)
    expect(black.samples).toBeGreaterThan(1)
    expect(black.duration).toBeGreaterThan(2 * white.duration)
    const view = (await heavy.readingView(ctx, session, black.id))!
    const told = Object.fromEntries(view.circumstances.map((c) => [c.name, c.text]))
    expect(told).toMatchObject({
      'Signal seen': 'the display sees what was sent',
      Averaged: `${black.samples} readings`,
      'Meter’s correction': 'lcd-array',
    })
    expect((await look()).header.drift.warn).toBe(false)
  })
  it('waits for a cold display to settle, and says that it did not where it was told to go on', async () => {
    await bench.client.simulate({ displayOnFor: 0 })
    await withRunner(prepared)
    const settle = await db.readings.count({ where: { kind: 'settle' } })
    expect(settle).toBeGreaterThan(6)
    await bench.client.simulate({ displayOnFor: 0, speed: 60 })
    const unit = (await db.units.findOne())!.id
    const other = await startSession(ctx, unit, {
      viewingCase: 'sdr-dark',
      baseMode: 'lounge',
      luminance: 100,
    })
    if (!other.ok) throw new Error(other.error)
    await withRunner(async () => {
      await go(other.value)
      await until(async () => (await look(other.value)).run?.settling, 'it settles')
      expect(await ask({ type: 'enough' }, other.value)).toMatchObject({ ok: true })
      await idle(other.value)
    })
    expect((await look(other.value)).header.warnings.join(' ')).toMatch(/did not wait/)
  })
  it('finds a wrong feed before anything is measured, and goes on once it is mended', async () => {
    await withRunner(async () => {
      await prepared()
      await bench.client.simulate({ faults: [{ kind: 'flags-wrong-range', times: 0 }] })
      expect((await look()).next).toMatchObject({ kind: 'sweep', purpose: 'feed-check', patches: 5 })
      await go()
      await idle()
      const { next } = await look()
      expect(next.kind === 'feed-fault' && next.findings.join(' ')).toMatch(/limited range for the full one/)
      expect(await go()).toMatchObject({
        ok: false,
        error: expect.stringMatching(/Something is wrong with the signal/),
      })
      await bench.client.simulate({ faults: [] })
      await ask({ type: 'check-feed' })
      await idle()
      expect((await look()).next).toMatchObject({ kind: 'sweep', purpose: 'out-of-box' })
      expect((await look()).steps.find((s) => s.key === 'signal')?.status).toBe('done')
    })
  })
  it('stops at a power failure, and tells by its drift that the panel is cold', async () => {
    await withRunner(async () => {
      await prepared()
      await ask({ type: 'leave', step: 'signal', reason: 'known' })
      await bench.client.simulate({ speed: 40 })
      await go()
      await until(async () => (await db.readings.count({ where: { kind: 'read' } })) >= 2, 'two are read')
      await bench.client.simulate({ speed: 0, faults: [{ kind: 'power-loss', times: 1 }] })
      const run = await until(async () => {
        const { run: now } = await look()
        return now?.status === 'stopped' && now
      }, 'the run is stopped')
      expect(run.reason).toMatch(/power failed/)
      await ask({ type: 'retry' })
      await idle()
    })
    const tasks = await db.tasks.findAll({ where: { kind: 'read' } })
    expect(tasks.every((s) => s.outcome === 'done')).toBe(true)
    const warm = (await db.readings.findAll({ where: { kind: 'read' }, order: ['id'] })).map((r) => r.onFor!)
    expect(warm.some((seconds, i) => i > 0 && seconds < warm[i - 1]!)).toBe(true)
  })
  it('marks readings of a meter that was knocked aside by what the display no longer does', async () => {
    await withRunner(async () => {
      await prepared()
      await ask({ type: 'leave', step: 'signal', reason: 'known' })
      await bench.client.simulate({ speed: 40 })
      await go()
      await until(async () => (await db.readings.count({ where: { kind: 'read' } })) >= 4, 'four are read')
      await bench.client.simulate({ speed: 0, faults: [{ kind: 'meter-aside', times: 0 }] })
      await idle()
    })
    expect((await look()).header.warnings.join(' ')).toMatch(
      /Drifted while it was read.*Check that the meter has not moved\. It is read again once the display has settled/,
    )
    // Every patch of the sweep was read a second time, after the display stood still.
    const run = (await db.runs.findOne({ where: { purpose: 'out-of-box' } }))!
    const tasks = await db.tasks.findAll({ where: { runId: run.id }, order: ['ordinal'] })
    const settle = tasks.findIndex((t) => t.kind === 'settle')
    const read = (list: typeof tasks) => list.filter((t) => t.kind === 'read').map((t) => t.patch!.key)
    expect(settle).toBeGreaterThan(0)
    expect(read(tasks.slice(settle))).toEqual(read(tasks.slice(0, settle)))
    expect(tasks.every((t) => t.outcome === 'done')).toBe(true)
  })
  it('reads a sweep in several modes and brings the first one back', async () => {
    await withRunner(async () => {
      await prepared()
      const before = await bench.client.state()
      await ask({ type: 'sweep', sweep: 'primaries', modes: ['lounge', 'arena'] })
      await idle()
      expect(await bench.client.state()).toEqual(before)
    })
    const states = new Set((await db.readings.findAll({ where: { kind: 'read' } })).map((r) => r.stateId))
    expect(states.size).toBe(2)
    const run = (await db.runs.findOne({ where: { purpose: 'sweep' } }))!
    const evidence = await heavy.evidenceView(ctx, { runs: [run.id] })
    expect(evidence.shown.map((s) => s.label)).toEqual(['Lounge', 'Arena'])
    const [lounge, arena] = evidence.shown.map((s) => s.verdict.colours.map((c) => c.deltaE))
    expect(Math.max(...arena!)).toBeGreaterThan(Math.max(...lounge!))
    expect(await ask({ type: 'sweep', sweep: 'ghost' })).toMatchObject({ ok: false })
    expect(await ask({ type: 'sweep', sweep: 'grey-11', modes: ['ghost'] })).toMatchObject({ ok: false })
  })
  it('lays runs of two units and of before and after on top of each other', async () => {
    await withRunner(async () => {
      await ask({ type: 'leave', step: 'signal', reason: 'known' })
      await calibrate(ctx, session)
    })
    const runs = await db.runs.findAll({ where: { purpose: ['out-of-box', 'verify'] }, order: ['id'] })
    const verified = runs.filter((r) => r.purpose === 'verify')
    expect(verified.length).toBeGreaterThan(0)
    const { shown, runs: listed } = await heavy.evidenceView(ctx, { runs: [...runs.map((r) => r.id), 9999] })
    expect(shown.map((s) => s.kind)).toEqual(['out-of-box', ...verified.map(() => 'final')])
    expect(shown[0]!.verdict.grey!.whiteError.average).toBeGreaterThan(
      shown.at(-1)!.verdict.grey!.whiteError.average,
    )
    expect(shown[0]!.away.length).toBeGreaterThan(5)
    expect(listed).toHaveLength(runs.length)
  })
})

describe('work by hand', () => {
  const HAND = {
    ...ON_BENCH,
    display: 'hand',
    pattern: 'hand',
    meter: 'hand',
    meterName: 'Old meter 12',
  } as const
  const begin = async (equipment: typeof HAND | typeof ON_BENCH = HAND) => {
    const unit = (await db.units.findOne())!.id
    const begun = await startSession(ctx, unit, {
      viewingCase: 'sdr-dark',
      baseMode: 'studio',
      luminance: 100,
      equipment,
    })
    if (!begun.ok) throw new Error(begun.error)
    return begun.value
  }
  /** Does what the run asks, with the simulated bench as the hands and eyes. */
  const answer = async (id: number) => {
    const asked = await asking(id)
    if (asked.kind === 'reset') await bench.client.reset()
    const own = { run: asked.run, task: asked.task }
    if (asked.kind === 'set') {
      const { controls } = await look(id)
      for (const change of asked.changes) {
        const control = controls.find((c) => c.key === change.control)!
        const value =
          control.kind === 'number'
            ? Number(change.to.replace('−', '-'))
            : control.choices!.find((c) => c.label === change.to)!.value
        await bench.client.set(change.control, value)
      }
      return ask({ type: 'confirm', ...own, values: asked.changes.length }, id)
    }
    if (asked.kind !== 'read') return ask({ type: 'confirm', ...own }, id)
    const task = (await db.tasks.findOne({ where: { runId: asked.run, ordinal: asked.task } }))!
    await bench.client.show(task.patch!)
    const read = await bench.client.read()
    if (!read.ok) throw new Error(read.failure.message)
    return ask({ type: 'type-in', ...own, form: 'XYZ', text: (read.value.xyz as number[]).join(' ') }, id)
  }
  it('goes the whole route without any bench in the loop', async () => {
    const id = await begin()
    expect((await db.sessions.findByPk(id))?.benchId).toBeNull()
    // Sixty levels are typed in by nobody without need.
    await ask({ type: 'policy', policy: 'impact' }, id)
    await withRunner(async () => {
      for (let guard = 0; guard < 1_500; guard++) {
        const view = await look(id)
        if (view.run?.ask) expect(await answer(id)).toEqual({ ok: true, value: null })
        else if (view.run) await new Promise((r) => setTimeout(r, 15))
        else if (view.next.kind === 'compose') break
        else expect(await ask(answerTo(view), id)).toMatchObject({ ok: true })
      }
    })
    const view = await look(id)
    expect(view.next.kind).toBe('compose')
    expect(view.after!.verdict.whiteError.average).toBeLessThan(1)
    expect(await db.readings.count({ where: { origin: 'typed' } })).toBeGreaterThan(100)
    expect((await db.readings.findOne({ where: { origin: 'typed' } }))?.meter).toBe('Old meter 12')

    // Whoever works by hand here has shown how long a reading takes: the estimate of another unit counts with it.
    const { maker, name } = (await db.models.findOne())!
    const other = await takeInByHand(
      ctx,
      {
        ...{ maker, model: name, label: 'unit 9', serial: 'X-9', firmware: '1.0', sizeInch: 55 },
        ...{ region: 'Europe', origin: 'bought', panelKind: 'lcd-full-array' },
      },
      '',
    )
    if (!other.ok) throw new Error(other.error)
    const expected = async () => (await unitView(ctx, other.value.id))!.effort!.chosen.at(-1)!
    const quick = await expected()
    await db.sequelize.query(
      "UPDATE readings SET taken_at = DATE_ADD(taken_at, INTERVAL id * 30 SECOND) WHERE origin = 'typed'",
    )
    const slow = await expected()
    expect(slow.readings).toBe(quick.readings)
    expect(slow.minutes - quick.minutes).toBeGreaterThan((25 * slow.readings) / 60)
  })
  it('takes a display that was reset as it came, whatever it held in that mode before', async () => {
    await withRunner(async () => {
      await prepared()
      await ask({ type: 'set', control: 'panel-light', value: 20 })
      await idle()
      const id = await begin()
      for (await go(id); (await look(id)).run; )
        if ((await look(id)).run?.ask) await answer(id)
        else await new Promise((r) => setTimeout(r, 15))
      expect((await look(id)).controls.find((c) => c.key === 'panel-light')?.value).toBe(84)
    })
  })
  it('refuses what cannot be read, takes several lines, and takes one back', async () => {
    const id = await begin()
    await withRunner(async () => {
      await go(id)
      while ((await look(id)).run) {
        if ((await look(id)).run?.ask) await answer(id)
        else await new Promise((r) => setTimeout(r, 15))
      }
      // What a reset of the mode does not tell of is looked at once.
      expect((await look(id)).next.kind).toBe('confirm-values')
      await ask(answerTo(await look(id)), id)
      await go(id)
      const first = await asking(id)
      const own = { run: first.run, task: first.task }
      expect(await ask({ type: 'type-in', ...own, form: 'XYZ', text: 'a lot' }, id)).toMatchObject({
        ok: false,
        field: 'text',
        error: expect.stringMatching(/Line 1.*Nothing was stored/),
      })
      expect(await ask({ type: 'confirm', ...own }, id)).toMatchObject({ ok: false })
      expect(await ask({ type: 'take-back' }, id)).toMatchObject({ ok: false })
      expect(
        await ask({ type: 'type-in', ...own, form: 'XYZ', text: '1 1 1\n'.repeat(6) }, id),
      ).toMatchObject({
        ok: false,
        error: expect.stringMatching(/only 5 are asked for/),
      })
      expect(
        await ask({ type: 'type-in', ...own, form: 'Yxy', text: '450 0.29 0.30\n400 0.29 0.30' }, id),
      ).toMatchObject({
        ok: true,
      })
      const third = await asking(id)
      expect(third.task).toBe(first.task + 2)
      expect(await ask({ type: 'type-in', ...own, form: 'XYZ', text: '1 1 1' }, id)).toMatchObject({
        ok: false,
        error: expect.stringMatching(/something else by now/),
      })
      expect(await ask({ type: 'take-back' }, id)).toMatchObject({ ok: true })
      expect((await asking(id)).task).toBe(first.task + 1)
      expect(await ask({ type: 'pause' }, id)).toMatchObject({ ok: true })
      await ask({ type: 'resume' }, id)
      expect((await asking(id)).task).toBe(first.task + 1)
    })
    expect(await db.readings.count({ where: { fault: 'withdrawn' } })).toBe(1)
  })
  it('reads with the meter what a page on the display shows, and waits where the page is not open', async () => {
    const id = await begin({ ...ON_BENCH, pattern: 'page' } as never)
    await ask({ type: 'leave', step: 'signal', reason: 'known' }, id)
    let open = false
    const page = setInterval(async () => {
      const wanted = (await db.sessions.findByPk(id))?.patchPage?.wanted
      if (!open || !wanted) return
      await bench.client.show(wanted.patch)
      await patchShown(ctx, id, { runId: wanted.runId, task: wanted.task, page: '1920 × 1080' })
    }, 25)
    try {
      await withRunner(async () => {
        await go(id)
        await until(
          async () => (await look(id)).run?.reason.includes('not open'),
          'it says that the page is not open',
        )
        open = true
        await idle(id)
        await go(id)
        await idle(id)
      })
    } finally {
      clearInterval(page)
    }
    expect((await look(id)).factory?.verdict.levels).toHaveLength(10)
    expect(await patchShown(ctx, id, { runId: 9999, task: 0, page: '' })).toMatchObject({ ok: false })
  })
  it('takes in a unit that stands on no bench, with its sheet from a file', async () => {
    const intake = {
      label: 'unit 7',
      region: 'Europe',
      origin: 'bought',
      panelKind: 'lcd-edge-lit',
      maker: 'Nowhere',
      model: 'Plain',
      sizeInch: 32,
      serial: 'N-1',
      firmware: '1.0',
    } as const
    const sheet = JSON.stringify({
      format: 'wexmar-control-sheet/2',
      maker: 'Nowhere',
      model: 'Plain',
      controls: [
        {
          key: 'light',
          path: ['Menu'],
          label: 'Light',
          role: 'peak-luminance',
          memory: [],
          kind: 'number',
          range: { min: 0, max: 10, step: 1 },
          default: 5,
        },
      ],
    })
    const refused = async (text: string) => {
      const result = await takeInByHand(ctx, intake, text)
      return result.ok ? '' : result.error
    }
    expect(await refused('{')).toMatch(/not JSON/)
    expect(await refused('{}')).toMatch(/not a control sheet: /)
    expect(await refused(sheet.replaceAll('Plain', 'Other'))).toMatch(/that of Nowhere Other/)
    const taken = await takeInByHand(ctx, intake, sheet)
    expect(taken).toMatchObject({ ok: true, value: { hasSheet: true } })
    expect(await takeInByHand(ctx, intake, sheet)).toMatchObject({ ok: false, field: 'serial' })
    const second = await takeInByHand(ctx, { ...intake, serial: 'N-2', label: 'unit 8' }, '')
    expect(second.ok).toBe(true)
    expect(await db.sheets.count({ where: { modelId: 2 } })).toBe(1)
  })
})

describe('a four-colour correction', () => {
  it('is reckoned, kept, and read with from then on', async () => {
    await withRunner(async () => {
      await prepared()
      await ask({ type: 'equip', equipment: { ...ON_BENCH, meterSlot: 'none' } })
      await ask({ type: 'sweep', sweep: 'primaries' })
      await idle()
      const of = async (patch: { key: string; signal: [number, number, number] }) => {
        const row = (await db.readings.findOne({ where: { patchKey: patch.key }, order: [['id', 'DESC']] }))!
        await bench.client.show({ ...patch, label: patch.key })
        const truth = await bench.client.trueLight()
        if (!truth.ok) throw new Error(truth.failure.message)
        return { meter: `${row.x} ${row.y} ${row.z}`, reference: truth.value.xyz.join(' ') }
      }
      const wish = {
        sessionId: session,
        name: 'Ours',
        meter: 'Ferrand',
        reference: 'Spectral 1',
        form: 'XYZ' as const,
        colours: {
          red: await of({ key: 'red', signal: [1, 0, 0] }),
          green: await of({ key: 'green', signal: [0, 1, 0] }),
          blue: await of({ key: 'blue', signal: [0, 0, 1] }),
          white: await of({ key: 'grey-100', signal: [1, 1, 1] }),
        },
      }
      const tried = await heavy.makeCorrection(ctx, wish, false)
      expect(tried).toMatchObject({ ok: true })
      expect(await db.corrections.count()).toBe(0)
      const kept = await heavy.makeCorrection(ctx, wish, true)
      expect(kept.ok && kept.value.effect.every((e) => e.after < Math.max(e.before, 1e-4))).toBe(true)
      expect(
        await heavy.makeCorrection(
          ctx,
          { ...wish, colours: { ...wish.colours, red: wish.colours.green } },
          true,
        ),
      ).toMatchObject({ ok: false })
      await ask({ type: 'leave', step: 'signal', reason: 'known' })
      await go()
      await idle()
    })
    const corrected = (await db.readings.findOne({ where: { patchKey: 'green' }, order: [['id', 'DESC']] }))!
    expect(corrected.correctionId).toBe(1)
    expect(corrected.uncorrected![1]).not.toBeCloseTo(corrected.y!, 3)
    const equipped = await ask({ type: 'equip', equipment: { ...ON_BENCH, correctionId: 99 } })
    expect(equipped).toMatchObject({ ok: false, field: 'correctionId' })
    expect(await ask({ type: 'equip', equipment: { ...ON_BENCH, meter: 'hand' } })).toMatchObject({
      ok: false,
      field: 'meterName',
    })
  })
})

describe('files', () => {
  const bytes = (text: string) => new TextEncoder().encode(text)
  const CSV = 'Patch;Level;X;Y;Z\nWhite;100;95,1;100,2;109\nGrey;50;20;21;23\n'
  it('of readings are guessed, reported row by row, and stored all or none', async () => {
    const seen = await heavy.importReadings(ctx, session, bytes(CSV), undefined, false)
    expect(seen).toMatchObject({ ok: true, value: { kind: 'CSV', rows: 2, usable: 2, problemCount: 0 } })
    const torn = await heavy.importReadings(ctx, session, bytes(`${CSV}Bad;50;x;1;1\n`), undefined, true)
    expect(torn).toMatchObject({ ok: true, value: { usable: 2, problemCount: 1, problems: [{ row: 4 }] } })
    expect(await db.readings.count()).toBe(0)
    const choice = {
      columns: { name: 0, grey: 1, X: 2, Y: 3, Z: 4 },
      scale: 'percent' as const,
      meterName: 'Theirs',
    }
    const stored = await heavy.importReadings(ctx, session, bytes(CSV), choice, true)
    expect(stored).toMatchObject({ ok: true, value: { runId: expect.any(Number) } })
    expect(await db.readings.findOne({ order: ['id'] })).toMatchObject({
      origin: 'imported',
      meter: 'Theirs',
      y: 100.2,
    })
    expect((await look()).readings).toBe(2)
  })
  it.each([
    ['nothing', new Uint8Array(), /empty/],
    ['a picture', new Uint8Array([137, 80, 78, 71, 0, 1]), /zero bytes/],
    ['an open quote', bytes('a,b\n"1,2\n'), /quotation mark is not closed/],
    ['one line', bytes('a,b'), /no table/],
    ['too many rows', bytes(`a,b\n${'1,2\n'.repeat(50_001)}`), /at most 50000/],
    [
      'a torn CGATS text',
      bytes('CGATS.17\nBEGIN_DATA_FORMAT\nX\nEND_DATA_FORMAT\nBEGIN_DATA\n1'),
      /cut short/,
    ],
  ])('that hold %s are refused with a sentence', async (_, file, why) => {
    const result = await heavy.importReadings(ctx, session, file, undefined, true)
    expect(result).toMatchObject({ ok: false, error: expect.stringMatching(why) })
    expect(result.ok ? '' : result.error).toMatch(/Nothing was stored/)
  })
  it('in other encodings are read, and said to be', async () => {
    const utf16 = new Uint8Array([0xff, 0xfe, ...[...CSV].flatMap((c) => [c.charCodeAt(0), 0])])
    expect(await heavy.importReadings(ctx, session, utf16, undefined, false)).toMatchObject({
      ok: true,
      value: { usable: 2, note: expect.stringMatching(/UTF-16/) },
    })
    const latin = new Uint8Array([...CSV.replace('Grey', 'Gr\u00fcn')].map((c) => c.charCodeAt(0)))
    expect(await heavy.importReadings(ctx, session, latin, undefined, false)).toMatchObject({
      ok: true,
      value: { usable: 2, note: expect.stringMatching(/Windows-1252/) },
    })
  })
  it('out come in again: CSV and CGATS.17, and hostile names are no formulas', async () => {
    const hostile = CSV.replace('White', '=HYPERLINK("x")')
    await heavy.importReadings(ctx, session, bytes(hostile.replaceAll('"', '')), undefined, true)
    const csv = (await heavy.readingsCsv(ctx, session))!
    expect(csv).toContain("'=HYPERLINK")
    expect(await heavy.importReadings(ctx, session, bytes(csv), undefined, false)).toMatchObject({
      ok: true,
      value: { usable: 2, problemCount: 0 },
    })
    const text = (await heavy.readingsCgats(ctx, session))!
    const again = await heavy.importReadings(ctx, session, bytes(text), undefined, true)
    expect(again).toMatchObject({ ok: true, value: { kind: 'CGATS.17', usable: 2, problemCount: 0 } })
    const rows = await db.readings.findAll({ order: ['id'] })
    expect([rows[2]?.x, rows[2]?.y, rows[3]?.z]).toEqual([rows[0]?.x, rows[0]?.y, rows[1]?.z])
  })
  it('of a state are taken where a person sets the display, and only whole', async () => {
    const text = (await heavy.stateJson(ctx, session))!
    expect(await heavy.importState(ctx, session, text)).toMatchObject({
      ok: false,
      error: expect.stringMatching(/bench sets this display/),
    })
    await ask({ type: 'equip', equipment: { ...ON_BENCH, display: 'hand' } })
    const file = JSON.parse(text) as { state: Record<string, unknown> }
    const put = (change: object) => heavy.importState(ctx, session, JSON.stringify({ ...file, ...change }))
    expect(await put({ state: { ...file.state, 'panel-light': 400 } })).toMatchObject({
      ok: false,
      error: expect.stringMatching(/0 to 100/),
    })
    expect(await put({ model: 'Other' })).toMatchObject({ ok: false })
    expect(await put({ state: { ...file.state, 'panel-light': 12 } })).toEqual({ ok: true, value: null })
    expect((await look()).controls.find((c) => c.key === 'panel-light')?.value).toBe(12)
    expect(JSON.parse((await heavy.sheetJson(ctx, session))!)).toMatchObject({
      format: 'wexmar-control-sheet/2',
    })
  })
})

describe('the archive of a unit', () => {
  it('comes back unchanged in an empty Wexmar, and is refused where it is already', async () => {
    await withRunner(async () => {
      await ask({ type: 'leave', step: 'signal', reason: 'known' })
      await calibrate(ctx, session)
    })
    const { composeGuide, publishGuide } = heavy
    const { guideAt } = await import('#server/guide')
    const sure = { because: 'Looked at.' }
    const guide = await composeGuide(ctx, session)
    const slug = await publishGuide(ctx, guide.ok ? guide.value : 0, sure)
    if (!slug.ok) throw new Error(slug.error)
    const documentNow = async () => {
      const at = await guideAt(ctx, slug.value)
      return at?.kind === 'guide' ? at.guide.document : undefined
    }
    const before = await documentNow()
    expect(before).toBeDefined()
    const first = await archiveOf(ctx, 1)
    expect(await importBytes(ctx, first)).toMatchObject({
      ok: false,
      error: expect.stringMatching(/here already/),
    })
    await db.sequelize.close()
    db = await freshDatabase()
    ctx = { db, bench: bench.client }
    const brought = await importBytes(ctx, first)
    expect(brought).toEqual({ ok: true, value: 1 })
    const [a, b] = [unzipSync(first), unzipSync(await archiveOf(ctx, 1))]
    expect(Object.keys(b)).toEqual(Object.keys(a))
    // Which bench it was is for people to read; this one has its own.
    for (const name of Object.keys(a).filter((n) => n.endsWith('.json') && n !== 'unit.json'))
      expect(JSON.parse(strFromU8(b[name]!)), name).toEqual(JSON.parse(strFromU8(a[name]!)))
    expect((await look(1)).next.kind).toBe('compose')
    // It was published there, not here: whoever imported it looks at it first.
    expect(await documentNow()).toBeUndefined()
    expect(await publishGuide(ctx, 1, sure)).toEqual(slug)
    expect(await documentNow()).toEqual(before)
  })
  it('brings no address, no open run and no published state with it', async () => {
    await go()
    await db.runs.update({ status: 'asking' }, { where: { sessionId: session } })
    const files = unzipSync(await archiveOf(ctx, 1))
    const rows = (name: string) => JSON.parse(strFromU8(files[name]!)) as Array<Record<string, unknown>>
    const about = JSON.parse(strFromU8(files['unit.json']!)) as { benches: object[] }
    about.benches = [{ name: 'x', url: 'http://169.254.0.1/', description: {}, seenAt: null }]
    const changed = {
      'unit.json': about,
      'sessions.json': rows('sessions.json').map((r) => ({
        ...r,
        benchId: 0,
        unattended: true,
        patchPage: {},
      })),
      'runs.json': rows('runs.json').map((r) => ({
        ...r,
        benchId: 0,
        status: 'queued',
        runnerToken: 'mine',
      })),
    }
    for (const [name, value] of Object.entries(changed)) files[name] = strToU8(JSON.stringify(value))
    await db.sequelize.close()
    db = await freshDatabase()
    ctx = { db, bench: bench.client }
    expect(await importBytes(ctx, zipSync(files))).toEqual({ ok: true, value: 1 })
    expect(await db.benches.count()).toBe(0)
    expect(await db.sessions.findOne()).toMatchObject({ benchId: null, unattended: false, patchPage: null })
    const runs = await db.runs.findAll()
    expect(runs.length).toBeGreaterThan(0)
    for (const run of runs)
      expect(run).toMatchObject({ benchId: null, runnerToken: null, status: 'cancelled' })
    // The session goes on at the bench of this installation, and at no other.
    expect((await go()).ok).toBe(true)
    expect((await db.benches.findAll()).map((b) => b.url)).toEqual([bench.client.base])
  })
  it('that is more than it looks is refused before anything of it is stored', async () => {
    const files = unzipSync(await archiveOf(ctx, 1))
    const rows = JSON.parse(strFromU8(files['states.json']!)) as Array<Record<string, unknown>>
    const withStates = (text: string) => importBytes(ctx, zipSync({ ...files, 'states.json': strToU8(text) }))
    const slugged = (slug: unknown) => {
      const about = JSON.parse(strFromU8(files['unit.json']!)) as { model: { slug: unknown } }
      about.model.slug = slug
      return importBytes(ctx, zipSync({ ...files, 'unit.json': strToU8(JSON.stringify(about)) }))
    }
    const before = await db.states.count()
    const bomb = zipSync({ ...files, 'states.json': new Uint8Array(300 * 1024 * 1024) })
    expect(bomb.length).toBeLessThan(1024 * 1024)
    const results = {
      bomb: await importBytes(ctx, bomb),
      'one huge row': await withStates(`[{"a":"${'x'.repeat(2_000_000)}"}]`),
      'too deep': await withStates(`[{"a":${'['.repeat(5_000)}${']'.repeat(5_000)}}]`),
      'cut off': await withStates(JSON.stringify(rows).slice(0, -1)),
      'an object in a text cell': await withStates(JSON.stringify(rows.map((r) => ({ ...r, digest: {} })))),
      'a list for a number': await withStates(JSON.stringify(rows.map((r) => ({ ...r, sheetId: [0] })))),
      'bytes that are no text': await importBytes(
        ctx,
        zipSync({ ...files, 'states.json': new Uint8Array([91, 123, 34, 255, 34, 58, 49, 125, 93]) }),
      ),
      'a tone that nothing aims at': await importBytes(
        ctx,
        zipSync({
          ...files,
          'sessions.json': strToU8(
            JSON.stringify(
              (JSON.parse(strFromU8(files['sessions.json']!)) as object[]).map((s) => ({
                ...s,
                tone: 'toString',
              })),
            ),
          ),
        }),
      ),
      'an address with markup': await slugged('a"/><script>'),
      'an address that is an object': await slugged({}),
    }
    for (const [what, result] of Object.entries(results)) {
      expect(result, what).toMatchObject({ ok: false })
      expect(result.ok ? '' : result.error, what).toMatch(/^The archive is damaged: .*Nothing was stored\.$/)
    }
    expect(await db.states.count()).toBe(before)
  })

  it('that is damaged stores nothing', async () => {
    const files = unzipSync(await archiveOf(ctx, 1))
    await db.sequelize.close()
    db = await freshDatabase()
    ctx = { db, bench: bench.client }
    const broken = (name: string, text: string) =>
      importBytes(ctx, zipSync({ ...files, [name]: strToU8(text) }))
    for (const result of [
      await importBytes(ctx, new Uint8Array([1, 2, 3])),
      await importBytes(ctx, zipSync({ 'x.json': strToU8('{}') })),
      await broken('unit.json', '{'),
      await broken('sheets.json', '[{"version":1,"document":{}}]'),
      await broken(
        'sessions.json',
        new TextDecoder().decode(files['sessions.json']!).replace(/"stateId": \d+/, '"stateId": 77'),
      ),
      await broken('states.json', '7'),
    ]) {
      expect(result).toMatchObject({ ok: false })
      expect(result.ok ? '' : result.error).toMatch(/Nothing was stored/)
    }
    expect(await db.units.count()).toBe(0)
    expect(await db.models.count()).toBe(0)
  })
})
