import { beforeEach, describe, expect, it } from 'vitest'
import { answerTo } from '#demo'
import { heavy } from '#server/background'
import { forgetBench } from '#server/base'
import { carryOut, standOfCases } from '#server/session'
import { startSession } from '#server/unit'
import type { SessionView } from '#server/view'
import { type AtBench, atBench } from '#tests/at-bench'
import { beginOn, until } from '#tests/environment'

let db: AtBench['db']
let bench: AtBench['bench']
let ctx: AtBench['ctx']
let first: number
const at = atBench({ runner: true, reset: true, begin: (ctx) => beginOn(ctx) })
beforeEach(() => {
  ;({ db, bench, ctx, session: first } = at)
})

const look = async (id: number) => (await heavy.sessionView(ctx, id))!
const ask = async (command: Parameters<typeof carryOut>[2], id: number) =>
  expect(await carryOut(ctx, id, command)).toMatchObject({ ok: true })
const idle = (id: number) => until(async () => !(await look(id)).run, 'the run has ended', 180_000)
const go = async (id: number) => {
  await ask(answerTo(await look(id)), id)
  await idle(id)
}
const goUntil = async (id: number, holds: (view: SessionView) => boolean): Promise<SessionView> => {
  for (let i = 0; i < 80; i++) {
    const view = await look(id)
    if (holds(view)) return view
    await go(id)
  }
  throw new Error('It never came to that')
}
/** A second case on the same unit, as far as its first adjustment, with one more value set by hand. */
const secondCase = async (mode: string, light: number): Promise<number> => {
  const unit = (await db.units.findOne())!.id
  const begun = await startSession(ctx, unit, { viewingCase: 'sdr-bright', baseMode: mode, luminance: 250 })
  if (!begun.ok) throw new Error(begun.error)
  await ask({ type: 'leave', step: 'signal', reason: 'known feed' }, begun.value)
  await go(begun.value)
  await ask({ type: 'set', control: 'panel-light', value: light }, begun.value)
  await idle(begun.value)
  return begun.value
}
const shown = async (control: string) => {
  const state = await bench.client.state()
  return state.ok ? state.value[control] : undefined
}

describe('a display that two cases share', () => {
  it('is known to stand where the case that moved it last has left it, and is set again before the other goes on', async () => {
    await goUntil(
      first,
      (v) => v.next.kind === 'adjust' && v.next.step !== 'luminance' && v.next.step !== 'gamut',
    )
    const light = (await look(first)).controls.find((c) => c.key === 'panel-light')!.value
    const readings = () => db.readings.count()
    const second = await secondCase('studio', 90)
    expect((await db.units.findOne())!.statedBy).toBe(second)

    const { next } = await look(first)
    expect(next).toMatchObject({ kind: 'restore', movedBy: 'SDR, bright room' })
    const changes = next.kind === 'restore' ? next.changes : []
    expect(changes.map((c) => c.control)).toContain('panel-light')
    expect((await look(second)).next.kind).not.toBe('restore')

    const before = await readings()
    await go(first)
    expect(await shown('panel-light')).toBe(light)
    expect((await db.units.findOne())!.statedBy).toBe(first)
    const after = await look(first)
    expect(after.next.kind).not.toBe('restore')
    // Nothing was read before it stood right again.
    expect(await readings()).toBe(before)
    // Now it is the other one that has been moved.
    expect((await look(second)).next).toMatchObject({ kind: 'restore', movedBy: 'SDR, dark room' })
  })

  it('is brought back to its mode first, though it was reset in between', async () => {
    await goUntil(
      first,
      (v) => v.next.kind === 'adjust' && v.next.step !== 'luminance' && v.next.step !== 'gamut',
    )
    const sheet = (await db.sheets.findOne())!.document
    await secondCase('lounge', 90)
    const { next } = await look(first)
    const changes = next.kind === 'restore' ? next.changes : []
    expect(changes[0]!.control).toBe(sheet.controls.find((c) => c.role === 'picture-mode')!.key)
    await go(first)
    const state = (await db.states.findByPk((await db.sessions.findByPk(first))!.stateId))!.values
    const stands = await bench.client.state()
    expect(stands.ok && stands.value).toEqual(state)
  })

  it('lets a finished case into its guide as it was left, and names what another has changed in its places', async () => {
    await ask({ type: 'policy', policy: 'impact' }, first)
    await goUntil(first, (v) => v.next.kind === 'compose')
    const { unitId } = (await db.sessions.findByPk(first))!
    const second = await secondCase('studio', 5)
    expect((await look(first)).next.kind).toBe('restore')
    const guide = await heavy.composeGuide(ctx, first)
    if (!guide.ok) throw new Error(guide.error)
    // The other case shares the mode: what it set there is what the display holds now.
    const [strayed, ...others] = await standOfCases(ctx, (await db.sessions.findByPk(second))!)
    expect(others).toEqual([])
    expect(strayed).toMatchObject({ session: { id: first }, reading: false, readBackAt: null })
    expect(strayed!.changes.find((c) => c.control === 'panel-light')).toMatchObject({ from: 5 })
    const finding = (await heavy.guideDraft(ctx, guide.value))!.findings.find((f) => f.rule === 'strayed')
    expect(finding).toMatchObject({
      level: 'warning',
      text: expect.stringMatching(/is 5 there now, the guide says/),
    })
    await go(first)
    const view = await goUntil(first, (v) => v.next.kind === 'compose')
    expect(view.after!.verdict.whiteError.average).toBeLessThan(1)
    const sheetId = (await db.sheets.findOne())!.id
    expect(await standOfCases(ctx, { unitId, sheetId })).toMatchObject([{ changes: [] }])
    expect((await heavy.guideDraft(ctx, guide.value))!.findings.some((f) => f.rule === 'strayed')).toBe(false)

    // A hand on the remote, in the mode of the case, which another mode hides again.
    const left = (await db.states.findByPk((await db.sessions.findByPk(first))!.stateId))!.values
    const contrast = (await db.sheets.findOne())!.document.controls.find((c) => c.role === 'white-level')!.key
    await bench.client.set(contrast, Number(left[contrast]) - 7)
    const mode = (await db.sheets.findOne())!.document.controls.find((c) => c.role === 'picture-mode')!.key
    await bench.client.set(mode, 'lounge')
    expect(await standOfCases(ctx, { unitId, sheetId })).toMatchObject([{ changes: [] }])
    const { serial } = (await db.units.findByPk(unitId))!
    const { revision } = (await db.sessions.findByPk(second))!
    await bench.client.simulate({ onStand: 'OM55-31186' })
    forgetBench()
    expect(await carryOut(ctx, second, { type: 'read-back' })).toMatchObject({
      error: expect.stringMatching(
        /Another unit stands on the bench: OM55-31186. Put .* Nothing was started/,
      ),
    })
    expect(await db.runs.count({ where: { purpose: 'read-back' } })).toBe(0)
    await bench.client.simulate({ onStand: serial })
    forgetBench()
    expect(await carryOut(ctx, second, { type: 'read-back' })).toMatchObject({ ok: true })
    await until(
      async () => (await standOfCases(ctx, { unitId, sheetId }))[0]!.readBackAt !== null,
      'it is read back',
    )
    const [stand] = await standOfCases(ctx, { unitId, sheetId })
    expect(stand!.changes).toEqual([
      { control: contrast, from: Number(left[contrast]) - 7, to: left[contrast] },
    ])
    await until(
      async () => (await db.sessions.findByPk(second))!.revision > revision + 1,
      'the page that asked hears of it',
    )
    // Nothing was set, and the case is still what it was.
    const shows = await bench.client.state()
    expect(shows.ok && shows.value[contrast]).toBe(Number(left[contrast]) - 7)
    expect((await db.states.findByPk((await db.sessions.findByPk(first))!.stateId))!.values).toEqual(left)
    expect((await look(first)).next).toMatchObject({
      kind: 'restore',
      movedBy: null,
      changes: [{ from: expect.anything() }],
    })
    await go(first)
    expect((await standOfCases(ctx, { unitId, sheetId }))[0]!.changes).toEqual([])

    // A case that has no mode yet prepares, checks the signal and surveys: whatever it switches off for that goes back.
    const zones = (await db.sheets.findOne())!.document.controls.find((c) => c.role === 'dimming')!.key
    expect(left[zones]).not.toBe('off')
    const third = await startSession(ctx, unitId, { viewingCase: 'sdr-bright', baseMode: null })
    if (!third.ok) throw new Error(third.error)
    await goUntil(third.value, (v) => v.next.kind === 'choose-mode')
    expect((await standOfCases(ctx, { unitId, sheetId }))[0]!.changes).toEqual([])
    expect(await shown(zones)).toBe(left[zones])
  })
})
