import { beforeEach, describe, expect, it } from 'vitest'
import { REFERENCE_POLICY } from '#core/judge'
import { answerTo } from '#demo'
import { heavy } from '#server/background'
import { copyPolicy, findPolicy, policiesView, removePolicy, savePolicy } from '#server/equipment'
import { priorsView } from '#server/model'
import { carryOut, pilotLoop } from '#server/session'
import { modelView, startSession, unitsView, unitView } from '#server/unit'
import type { SessionView } from '#server/view'
import { archiveOf, importBytes } from '#tests/archive'
import { type AtBench, atBench } from '#tests/at-bench'
import { beginOn, freshDatabase, until } from '#tests/environment'

let db: AtBench['db']
let bench: AtBench['bench']
let ctx: AtBench['ctx']
let session: number
const at = atBench({ runner: true, begin: (ctx) => beginOn(ctx) })
beforeEach(() => {
  ;({ db, bench, ctx, session } = at)
})

const look = async (id = session) => (await heavy.sessionView(ctx, id))!
const ask = (command: Parameters<typeof carryOut>[2], id = session) => carryOut(ctx, id, command)
const idle = (id = session) => until(async () => !(await look(id)).run, 'the run has ended', 180_000)
/** Goes on as proposed until something holds. */
const goUntil = async (holds: (view: SessionView) => boolean, id = session): Promise<SessionView> => {
  for (let i = 0; i < 80; i++) {
    await idle(id)
    const view = await look(id)
    if (holds(view)) return view
    expect(await ask(answerTo(view), id)).toMatchObject({ ok: true })
  }
  throw new Error('It never came to that')
}
const begin = async (wish: Partial<Parameters<typeof startSession>[2]> = {}): Promise<number> => {
  const unit = (await db.units.findOne())!.id
  const begun = await startSession(ctx, unit, { viewingCase: 'sdr-dark', baseMode: null, ...wish })
  if (!begun.ok) throw new Error(begun.error)
  return begun.value
}

describe('the survey of modes', () => {
  it('is read, shown as a matrix, and decided by the reviewer; the next case knows it', async () => {
    const id = await begin()
    const view = await goUntil((v) => v.next.kind === 'choose-mode', id)
    const { survey } = view.findings
    expect(survey.map((m) => m.rank)).toEqual(survey.map((_, i) => i + 1))
    for (const mode of survey) {
      expect(mode.white).toBeGreaterThan(50)
      expect(mode.sentence).toMatch(/\.$/)
      expect(mode.reasons.length).toBeGreaterThan(1)
    }
    expect(await ask({ type: 'choose-mode', mode: 'ghost' }, id)).toMatchObject({ ok: false })
    expect(view.header.modeChosen).toBe(false)
    expect(await ask({ type: 'choose-mode', mode: survey[1]!.mode }, id)).toMatchObject({ ok: true })
    expect((await look(id)).header).toMatchObject({
      baseMode: `“${survey[1]!.label}”`,
      modeChosen: true,
    })

    const second = await begin({ viewingCase: 'sdr-bright' })
    const read = () => db.readings.count({ where: { kind: 'read' } })
    const before = await read()
    await goUntil((v) => v.next.kind === 'choose-mode', second)
    expect(await read()).toBe(before)
  })
})

describe('policies', () => {
  it('come three with Wexmar, are copied, edited and deleted; a session keeps the one it took', async () => {
    expect((await policiesView(ctx)).map((p) => p.shipped)).toEqual([true, true, true])
    const copied = await copyPolicy(ctx, REFERENCE_POLICY.key)
    if (!copied.ok) throw new Error(copied.error)
    const own = (await findPolicy(ctx, copied.value))!
    expect(own).toMatchObject({ ...REFERENCE_POLICY, key: copied.value, name: 'Strict reference, own' })
    const again = await copyPolicy(ctx, REFERENCE_POLICY.key)
    expect(again.ok && (await findPolicy(ctx, again.value))?.name).toBe('Strict reference, own 2')

    expect(await savePolicy(ctx, REFERENCE_POLICY.key, own)).toMatchObject({ ok: false })
    expect(await savePolicy(ctx, own.key, { ...own, name: 'High contrast' })).toMatchObject({ field: 'name' })
    expect(await savePolicy(ctx, own.key, { ...own, levelWhite: 'perhaps' })).toMatchObject({
      ok: false,
      error: expect.stringMatching(/Nothing was changed/),
    })
    expect(
      await savePolicy(ctx, own.key, { ...own, luminance: { ...own.luminance, dark: 137 } }),
    ).toMatchObject({ ok: true })
    expect((await findPolicy(ctx, own.key))?.luminance.dark).toBe(137)

    const id = await begin({ baseMode: 'studio', policy: own.key })
    expect((await db.sessions.findByPk(id))?.targetLuminance).toBe(137)
    expect(await removePolicy(ctx, own.key)).toMatchObject({ ok: true })
    expect(await removePolicy(ctx, own.key)).toMatchObject({ ok: false })
    expect(await removePolicy(ctx, 'impact')).toMatchObject({ ok: false })
    expect((await db.sessions.findByPk(id))?.policy.luminance.dark).toBe(137)
    expect((await look(id)).policy.name).toBe('Strict reference, own')
  })
  it('can be changed on the way, with their targets', async () => {
    expect(await ask({ type: 'policy', policy: 'ghost' })).toMatchObject({ ok: false, field: 'policy' })
    expect(await ask({ type: 'policy', policy: 'impact' })).toMatchObject({ ok: true })
    expect((await db.sessions.findByPk(session))?.targetLuminance).toBe(150)
  })
})

describe('a prediction that does not come true', () => {
  it('is said, read again, and corrected with what the menu shows; no reading is lost', async () => {
    await goUntil(({ next }) => next.kind === 'adjust' && next.step === 'white' && next.changes.length > 1)
    const { next } = await look()
    if (next.kind !== 'adjust') throw new Error('No move')
    const moved = next.changes.find((c) => c.control.startsWith('gain-'))!
    const before = (await look()).controls.find((c) => c.key === moved.control)!.value
    await ask(answerTo(await look()))
    await idle()
    const made = (await look()).lastAdjustment!
    expect(made.kind).toBe('proposed')
    const count = await db.readings.count()
    expect(await ask({ type: 'shows', values: { 'panel-light': 3 } })).toMatchObject({ ok: false })
    expect(await ask({ type: 'shows', values: { [moved.control]: 999 } })).toMatchObject({
      field: 'value',
    })
    expect(await ask({ type: 'shows', values: { [moved.control]: before } })).toMatchObject({ ok: true })
    const after = await look()
    expect(after.controls.find((c) => c.key === moved.control)?.value).toBe(before)
    expect(await db.readings.count()).toBe(count)
    const run = (await db.adjustments.findOne({ order: [['id', 'DESC']] }))!.runId
    const notes = (await db.runs.findByPk(run))!.notes.join(' ')
    expect(notes).toMatch(/The menu showed .* readings were moved to that value/)
    for (const reading of await db.readings.findAll({ where: { runId: run } })) {
      const { values } = (await db.states.findByPk(reading.stateId))!
      expect(values[moved.control]).toBe(before)
    }
  })
  it('of a wrong value that a reviewer set by hand asks before it goes on', async () => {
    await ask({ type: 'policy', policy: 'impact' })
    await goUntil(
      ({ next }) => next.kind === 'adjust' && next.changes.some((c) => /^(gain|cut)-/.test(c.control)),
    )
    await ask(answerTo(await look()))
    await idle()
    const adjustment = (await look()).lastAdjustment!
    const gain = adjustment.changes.find((c) => c.control.startsWith('gain-') || c.control.startsWith('cut-'))
    if (!gain) throw new Error('No gain was moved')
    const control = (await look()).controls.find((c) => c.key === gain.control)!
    // Somebody at the remote sets another value than Wexmar believes.
    await bench.client.set(gain.control, Number(control.value) > 0 ? -30 : 30)
    await ask({ type: 'sweep', sweep: 'grey-11' })
    await idle()
    const told = [
      ...(await db.runs.findAll()).flatMap((r) => r.notes),
      (await look()).next.kind === 'unexpected-reading' ? 'unexpected-reading' : '',
    ].join(' ')
    expect(told).toMatch(new RegExp(`${control.label}.*was at .* set back|unexpected-reading`))
  })
})

describe('controls that cannot be set', () => {
  it('are left out with the display’s reason, and can be used again', async () => {
    await goUntil(({ next }) => next.kind === 'adjust' && next.step === 'luminance')
    await bench.client.simulate({ faults: [{ kind: 'control-refuses', control: 'panel-light', times: 9 }] })
    await ask(answerTo(await look()))
    await until(async () => (await look()).run?.status === 'stopped', 'it stopped')
    expect((await look()).run?.leaveOut).toBe('control')
    expect(await ask({ type: 'leave-out' })).toMatchObject({ ok: true })
    await idle()
    const view = await look()
    expect(view.steps.find((s) => s.key === 'luminance')?.status).not.toBe('now')
    expect((await db.sessions.findByPk(session))?.refused).toHaveProperty('panel-light')
    await bench.client.simulate({ faults: [] })
    expect(await ask({ type: 'use-again', control: 'panel-light' })).toMatchObject({ ok: true })
    expect((await look()).next).toMatchObject({ kind: 'adjust', step: 'luminance' })
    expect(await ask({ type: 'use-again', control: 'panel-light' })).toMatchObject({ ok: false })
  })
})

describe('what eyes saw and what got worse', () => {
  it('is kept with pattern and conditions, asked, accepted or undone', async () => {
    await ask({ type: 'policy', policy: 'impact' })
    const view = await goUntil(({ next }) => next.kind === 'visual-check')
    if (view.next.kind !== 'visual-check') throw new Error('No look')
    const { question, pattern, answers } = view.next.look
    expect(await ask({ type: 'visual-check', question: 'ghost', answer: 'x', conditions: '' })).toMatchObject(
      {
        ok: false,
      },
    )
    if (answers.length)
      expect(await ask({ type: 'visual-check', question, answer: 'ghost', conditions: '' })).toMatchObject({
        field: 'answer',
      })
    await ask(answerTo(view))
    expect(await db.visualVerdicts.findOne()).toMatchObject({
      question,
      pattern,
      conditions: expect.stringMatching(/2.4 m/),
    })

    const end = await goUntil(({ next }) => next.kind === 'worse' || next.kind === 'compose')
    if (end.next.kind === 'worse') {
      expect(end.next.worse[0]?.sentence).toMatch(/rose|fell|moved/)
      expect(await ask({ type: 'accept', keys: end.next.worse.map((w) => w.key) })).toMatchObject({
        ok: true,
      })
      expect((await look()).next.kind).toBe('compose')
    }
    // Colours that were made worse on purpose are noticed, and put back by one command.
    const six = end.controls.find((c) => c.key.startsWith('six-'))!
    await db.sessions.update({ accepted: [] }, { where: { id: session } })
    await ask({ type: 'leave', step: 'colour', reason: 'tried by hand' })
    await ask({ type: 'set', control: six.key, value: 50 })
    await idle()
    const worse = await goUntil(({ next }) => next.kind === 'worse' || next.kind === 'compose')
    expect(worse.next.kind).toBe('worse')
    if (worse.next.kind === 'worse') expect(worse.next.worse.map((w) => w.key).join()).toMatch(/six|natural/)
    // What the reviewer set on purpose is not put back behind his back.
    expect(worse.next).toMatchObject({ putBack: null })
    expect(await ask({ type: 'undo-worse' })).toMatchObject({ ok: false })
    expect((await look()).controls.find((c) => c.key === six.key)?.value).toBe(50)
  })
})

describe('unattended work', () => {
  it('goes to its end by itself; its response priors are shown, used and can be forgotten', async () => {
    const stop = new AbortController()
    const pilot = pilotLoop(ctx, stop.signal)
    try {
      const id = await begin({ baseMode: 'studio', policy: 'impact', unattended: true })
      const at = await until(
        async () => {
          const view = await look(id)
          return !view.run && (view.next.kind === 'visual-check' || view.next.kind === 'compose') && view
        },
        'only eyes are missing',
        300_000,
      )
      expect(at.after ?? at.next.kind).toBeDefined()
      const priors = await until(async () => {
        const told = (await priorsView(ctx, 'ostrel-maren'))!.priors
        return told.length > 3 && told
      }, 'its response priors are written down')
      const now = at.steps.find((s) => s.status === 'now')?.key
      await until(async () => {
        const listed = (await unitsView(ctx)).units[0]!.session
        return listed?.id === id && listed.at === now
      }, 'the list of units says where the session is')
      for (const l of priors) {
        expect(l.says).not.toMatch(/NaN|undefined/)
        expect(l.sources.join()).toMatch(/unit 1, SDR, dark room/)
      }
      const [first] = priors
      expect(await heavy.forgetPriors(ctx, 'ostrel-maren', first!.name)).toMatchObject({ ok: true })
      expect((await priorsView(ctx, 'ostrel-maren'))!.priors.map((l) => l.name)).not.toContain(first!.name)
      expect(await heavy.forgetPriors(ctx, 'ostrel-maren')).toMatchObject({ ok: true })
      expect((await priorsView(ctx, 'ostrel-maren'))!.priors).toEqual([])
      expect(await heavy.forgetPriors(ctx, 'ostrel-maren')).toMatchObject({ ok: false })
      expect(await heavy.forgetPriors(ctx, 'nowhere')).toMatchObject({ ok: false })
      expect((await modelView(ctx, 'ostrel-maren'))?.guides).toEqual([])
    } finally {
      stop.abort()
      await pilot
    }
  })
  it('is refused where a person is part of the bench', async () => {
    const unit = (await db.units.findOne())!.id
    const equipment = {
      display: 'hand',
      pattern: 'bench',
      meter: 'bench',
      meterName: '',
      correction: null,
    } as never
    expect(
      await startSession(ctx, unit, {
        viewingCase: 'sdr-dark',
        baseMode: 'studio',
        equipment,
        unattended: true,
      }),
    ).toMatchObject({ ok: false, field: 'unattended' })
  })
})

describe('a unit with its policies, looks and response priors', () => {
  it('comes back unchanged in an empty Wexmar', async () => {
    const copied = await copyPolicy(ctx, 'impact')
    if (!copied.ok) throw new Error(copied.error)
    const id = await begin({ baseMode: 'studio', policy: copied.value })
    const view = await goUntil(({ next }) => next.kind === 'visual-check', id)
    await ask(answerTo(view), id)
    const before = await look(id)
    const archive = await archiveOf(ctx, (await db.units.findOne())!.id)
    const other = await freshDatabase(`${process.env.WEXMAR_TEST_DATABASE}_derived`)
    try {
      const there = { db: other, bench: bench.client }
      const imported = await importBytes(there, archive)
      expect(imported).toMatchObject({ ok: true })
      const unit = (await unitView(there, (await other.units.findOne())!.id))!
      const same = unit.sessions.find((s) => s.readings === before.readings)!
      const after = (await heavy.sessionView(there, same.id))!
      expect(after.next.kind).toBe(before.next.kind)
      expect(after.policy).toEqual(before.policy)
      expect(after.controls).toEqual(before.controls)
      expect(await other.visualVerdicts.count()).toBe(1)
    } finally {
      await other.sequelize.close()
    }
  })
})
