import sharp from 'sharp'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { benchClient } from '#bench/client'
import { type DraftRow, emptyRow } from '#core/draft'
import { BY_HAND, ON_BENCH, UsualEquipmentEntry } from '#core/entry'
import { type Database, forgetLooks, inTransaction } from '#db'
import { health, heavy } from '#server/background'
import { type Context, forgetBench } from '#server/base'
import { keepUsualEquipment, usualEquipment } from '#server/equipment'
import { putDraftInUse, rowsOfBench, rowsOfModel, saveDraft, sheetDraftView } from '#server/model'
import { archiveSession, carryOut, deleteSession } from '#server/session'
import {
  addNote,
  addPhoto,
  addVariant,
  deleteNote,
  homeView,
  modelView,
  photoOf,
  startSession,
  takeInByHand,
  unitView,
} from '#server/unit'
import { archiveOf, importBytes } from '#tests/archive'
import { besideRunner } from '#tests/at-bench'
import { freshDatabase, until } from '#tests/environment'

let db: Database
let ctx: Context

beforeAll(async () => {
  db = await freshDatabase()
  ctx = { db, bench: benchClient('') }
  forgetBench()
})
afterAll(async () => {
  await db.sequelize.close()
})

const UNIT = {
  ...{ label: 'unit 1', region: 'Europe', origin: 'bought', panelKind: 'lcd-edge-lit' as const },
  ...{ maker: 'Nowhere', model: 'Plain', sizeInch: 32, serial: 'N-1', firmware: '1.0' },
}
const ROWS: DraftRow[] = [
  {
    ...emptyRow('r1'),
    menu: 'Picture',
    label: 'Picture mode',
    values: 'Film, Game',
    factory: 'Game',
    stored: 'signal',
  },
  {
    ...emptyRow('r2'),
    menu: 'Picture',
    label: 'Panel light',
    values: '0 to 100',
    factory: '80',
    stored: 'mode',
  },
  {
    ...emptyRow('r3'),
    menu: 'Picture',
    label: 'Gain',
    each: 'red, green, blue',
    values: '-30 to 30',
    stored: 'mode',
  },
]
const add = async (typed: Partial<typeof UNIT> = {}) => {
  const added = await takeInByHand(ctx, { ...UNIT, ...typed }, '')
  if (!added.ok) throw new Error(added.error)
  return added.value
}
const begin = async (unit: number, once = true) => {
  const begun = await startSession(ctx, unit, {
    viewingCase: 'sdr-dark',
    baseMode: 'film',
    equipment: { ...BY_HAND, meterName: 'Old meter 12' },
    once,
  })
  if (!begun.ok) throw new Error(begun.error)
  return begun.value
}

describe('an installation without a bench', () => {
  it('is well, shows nothing simulated, and begins with a display', async () => {
    expect(await health(ctx)).toMatchObject({ status: 'ok', bench: 'none', down: [] })
    expect(await homeView(ctx)).toMatchObject({ bench: { ok: false, none: true }, onBench: null, units: [] })
  })

  it('asks nothing of a bench that it does not have', async () => {
    const { id } = await add({ serial: 'N-0', model: 'Bare' })
    const refused = await startSession(ctx, id, { viewingCase: 'sdr-dark', baseMode: null })
    expect(refused).toMatchObject({ ok: false, field: 'display' })
    expect(await rowsOfBench(ctx)).toMatchObject({ ok: false })
    expect(await db.benches.count()).toBe(0)
  })

  it('keeps the equipment that cases begin with', async () => {
    expect(await usualEquipment(ctx)).toEqual(BY_HAND)
    const entry = UsualEquipmentEntry.parse({
      ...{ display: 'hand', pattern: 'hand', meter: 'hand', meterName: 'Meter 7', scatter: '0,4' },
    })
    expect(await keepUsualEquipment(ctx, entry)).toMatchObject({ ok: true })
    expect(await usualEquipment(ctx)).toMatchObject({ pattern: 'hand', meterName: 'Meter 7', scatter: 0.004 })
    expect(await keepUsualEquipment(ctx, { ...entry, meter: 'bench' })).toMatchObject({ ok: false })
    // Of an equipment with a bench that is gone, what a person can do stays.
    await db.settings.update({ value: JSON.stringify(ON_BENCH) }, { where: { name: 'equipment' } })
    expect(await usualEquipment(ctx)).toMatchObject({ display: 'hand', pattern: 'page', meter: 'hand' })
  })
})

describe('a control sheet that is entered', () => {
  it('is stored as it is typed, row by row, and survives until it is put in use', async () => {
    const added = await add()
    expect(added).toMatchObject({ hasSheet: false, modelSlug: 'nowhere-plain' })
    expect(
      await startSession(ctx, added.id, { viewingCase: 'sdr-dark', baseMode: null, equipment: BY_HAND }),
    ).toMatchObject({
      ok: false,
    })
    const view = (await sheetDraftView(ctx, 'nowhere-plain'))!
    expect(view).toMatchObject({ rows: [], revision: 0, version: 0, onBench: false })
    const half = [{ ...emptyRow('r1'), label: 'Pict' }]
    expect(await saveDraft(ctx, view.modelId, half, 0)).toEqual({ ok: true, value: 1 })
    expect((await sheetDraftView(ctx, 'nowhere-plain'))!.rows).toEqual(half)
    expect(await putDraftInUse(ctx, view.modelId, 1)).toMatchObject({
      ok: false,
      error: expect.stringMatching(/have to be fixed first/),
    })

    expect(await saveDraft(ctx, view.modelId, ROWS, 1)).toEqual({ ok: true, value: 2 })
    expect(await putDraftInUse(ctx, view.modelId, 2)).toEqual({ ok: true, value: 1 })
    const sheet = (await db.sheets.findOne({ where: { modelId: view.modelId } }))!.document
    expect(sheet).toMatchObject({ maker: 'Nowhere', model: 'Plain' })
    expect(sheet.controls.map((c) => c.key)).toEqual([
      ...['picture-mode', 'panel-light', 'gain-red', 'gain-green', 'gain-blue'],
    ])
  })

  it('is not undone by a second window that knows less', async () => {
    const { modelId } = (await sheetDraftView(ctx, 'nowhere-plain'))!
    expect(await saveDraft(ctx, modelId, ROWS.slice(0, 2), 0)).toEqual({ ok: true, value: 1 })
    expect(await saveDraft(ctx, modelId, [], 0)).toMatchObject({
      ok: false,
      error: expect.stringMatching(/another window/),
    })
    expect((await sheetDraftView(ctx, 'nowhere-plain'))!.rows).toEqual(ROWS.slice(0, 2))
    // Two at once: one is stored, the other told.
    const both = await Promise.all([saveDraft(ctx, modelId, ROWS, 1), saveDraft(ctx, modelId, [], 1)])
    expect(both.filter((r) => r.ok)).toHaveLength(1)
  })

  it('is a new version where it was changed, and none where it was not; sessions keep theirs', async () => {
    const { modelId } = (await sheetDraftView(ctx, 'nowhere-plain'))!
    const stands = async () => (await sheetDraftView(ctx, 'nowhere-plain'))!
    const keep = async (rows: readonly DraftRow[]) => {
      const { revision } = await stands()
      const saved = await saveDraft(ctx, modelId, rows, revision)
      if (!saved.ok) throw new Error(saved.error)
      return putDraftInUse(ctx, modelId, saved.value)
    }
    const inUse = await rowsOfModel(ctx, 'nowhere-plain')
    if (!inUse.ok) throw new Error(inUse.error)
    expect(await keep(inUse.value)).toEqual({ ok: true, value: 1 })
    const unit = (await db.units.findOne({ where: { serial: 'N-1' } }))!
    const session = await begin(unit.id)
    const longer = inUse.value.map((r) =>
      r.label === 'Panel light' ? { ...r, label: 'Panel light, main' } : r,
    )
    expect(await keep(longer)).toEqual({ ok: true, value: 2 })
    expect(await stands()).toMatchObject({ version: 2, revision: 0 })
    const own = (await db.sessions.findByPk(session))!
    expect((await db.sheets.findByPk(own.sheetId))!.version).toBe(1)
    await deleteSession(ctx, session)
  })

  it('takes nothing that is no draft', async () => {
    const { modelId } = (await sheetDraftView(ctx, 'nowhere-plain'))!
    for (const rows of [
      undefined,
      'x',
      [{ id: 'r1', menu: 7 }],
      [{ ...ROWS[0], id: '../x' }],
      Array(401).fill(ROWS[0]),
    ])
      expect(await saveDraft(ctx, modelId, rows, 0)).toMatchObject({ ok: false })
    expect(await saveDraft(ctx, 99_999, ROWS, 0)).toMatchObject({ ok: false })
    expect(await sheetDraftView(ctx, 'no-such-model')).toBeUndefined()
  })
})

describe('sessions of a unit', () => {
  it('are not begun twice by accident', async () => {
    const unit = (await db.units.findOne({ where: { serial: 'N-1' } }))!.id
    const both = await Promise.all([begin(unit), begin(unit)])
    expect(both[0]).toBe(both[1])
    expect((await unitView(ctx, unit))!.open).toMatchObject({ 'sdr-dark': { id: both[0] } })
  })

  it('are deleted while nothing was done in them, and archived after that', async () => {
    const unit = (await db.units.findOne({ where: { serial: 'N-1' } }))!.id
    const id = await begin(unit)
    expect((await unitView(ctx, unit))!.sessions[0]).toMatchObject({ id, empty: true, archived: false })
    await db.units.update({ switchedOnAt: new Date(Date.now() - 3_600_000) }, { where: { id: unit } })
    expect(
      await carryOut(ctx, id, { type: 'go', revision: (await db.sessions.findByPk(id))!.revision }),
    ).toMatchObject({ ok: true })
    expect(await deleteSession(ctx, id)).toMatchObject({
      ok: false,
      error: expect.stringMatching(/archived, not deleted/),
    })
    expect(await archiveSession(ctx, id, true)).toMatchObject({
      ok: false,
      error: expect.stringMatching(/run is going on/),
    })
    await db.runs.update({ status: 'cancelled', finishedAt: new Date() }, { where: { sessionId: id } })
    expect(await archiveSession(ctx, id, true)).toEqual({ ok: true, value: null })
    const view = (await unitView(ctx, unit))!
    expect(view.sessions[0]).toMatchObject({ id, archived: true, empty: false })
    expect(view.open['sdr-dark']).toBeUndefined()
    // One that was put away is not gone on with by accident.
    const other = await begin(unit)
    expect(other).not.toBe(id)
    expect(await deleteSession(ctx, other)).toEqual({ ok: true, value: null })
    expect(await db.sessions.findByPk(other)).toBeNull()
    expect(await archiveSession(ctx, id, false)).toEqual({ ok: true, value: null })
    expect(await db.runs.count({ where: { sessionId: id } })).toBe(1)
  })
})

describe('notes and sizes', () => {
  it('are kept with the unit, at the step that they were written at, and with the model', async () => {
    const unit = (await db.units.findOne({ where: { serial: 'N-1' } }))!.id
    const id = await begin(unit)
    expect(await addNote(ctx, unit, 'A scratch at the lower edge.')).toEqual({ ok: true, value: null })
    expect(
      await carryOut(ctx, id, { type: 'note', step: 'luminance', text: 'Dims after a minute.' }),
    ).toMatchObject({ ok: true })
    expect((await unitView(ctx, unit))!.notes).toMatchObject([
      { text: 'Dims after a minute.', where: 'Luminance, SDR, dark room' },
      { text: 'A scratch at the lower edge.', where: '' },
    ])
    expect(await addNote(ctx, 9_999, 'x')).toMatchObject({ ok: false })
    expect(await addVariant(ctx, 'nowhere-plain', { sizeInch: 65, region: 'Europe' })).toEqual({
      ok: true,
      value: null,
    })
    expect(await addVariant(ctx, 'nowhere-plain', { sizeInch: 65, region: 'Europe' })).toMatchObject({
      ok: false,
    })
    expect((await modelView(ctx, 'nowhere-plain'))!.variants).toContainEqual({
      sizeInch: 65,
      region: 'Europe',
      units: 0,
    })
    // A note outlives the empty session that it was written in.
    expect(await deleteSession(ctx, id)).toEqual({ ok: true, value: null })
    expect((await unitView(ctx, unit))!.notes).toHaveLength(2)
  })
})

/** A photograph as a phone takes it: it tells where and with what it was taken, and lies on its side. */
const phoned = async (): Promise<Uint8Array> =>
  new Uint8Array(
    await sharp({ create: { width: 40, height: 30, channels: 3, background: '#345' } })
      .withExif({ IFD0: { Make: 'A phone' }, IFD3: { GPSLatitudeRef: 'N', GPSLatitude: '51/1 30/1 0/1' } })
      .withMetadata({ orientation: 6 })
      .jpeg()
      .toBuffer(),
  )

describe('photos', () => {
  it('belong to a note of a unit, at the step at which they were taken', async () => {
    const unit = (await db.units.findOne({ where: { serial: 'N-1' } }))!.id
    const id = await begin(unit)
    const before = (await unitView(ctx, unit))!.notes.length
    const jpeg = await phoned()
    expect(Buffer.from(jpeg).includes('Exif')).toBe(true)
    expect(await addPhoto(ctx, unit, { text: '', jpeg, sessionId: id, step: 'luminance' })).toMatchObject({
      ok: true,
    })
    const [note, ...others] = (await unitView(ctx, unit))!.notes
    expect(note).toMatchObject({
      text: '',
      where: 'Luminance, SDR, dark room',
      photo: { width: 30, height: 40 },
    })
    expect(others).toHaveLength(before)
    // Nothing is kept of where and with what it was taken, by whatever way it came.
    const kept = (await photoOf(ctx, note!.photo!.id))!
    expect(await sharp(kept).metadata()).toMatchObject({ width: 30, height: 40, format: 'jpeg' })
    expect((await sharp(kept).metadata()).exif).toBeUndefined()
    expect(Buffer.from(kept).includes('A phone')).toBe(false)
  })
  it('are refused where they are no picture, or of another unit, and nothing is kept', async () => {
    const unit = (await db.units.findOne({ where: { serial: 'N-1' } }))!.id
    const before = (await unitView(ctx, unit))!.notes.length
    const JPEG = await phoned()
    const huge = Uint8Array.from(JPEG)
    const frame = huge.findIndex((b, i) => b === 0xff && huge[i + 1] === 0xc0)
    huge.set([0x75, 0x30, 0x75, 0x30], frame + 5)
    const refused = [
      addPhoto(ctx, unit, { text: 'x', jpeg: JPEG.slice(0, -1) }),
      // It says that it has 30,000 × 30,000 pixels.
      addPhoto(ctx, unit, { text: 'x', jpeg: huge }),
      addPhoto(ctx, 9_999, { text: 'x', jpeg: JPEG }),
      addPhoto(ctx, unit, { text: 'x', jpeg: JPEG, sessionId: 9_999 }),
    ]
    for (const result of await Promise.all(refused))
      expect(result).toMatchObject({ ok: false, error: expect.stringMatching(/Nothing was saved\.$/) })
    expect((await unitView(ctx, unit))!.notes).toHaveLength(before)
  })
  it('and notes come back with the archive of their unit', async () => {
    const unit = (await db.units.findOne({ where: { serial: 'N-1' } }))!.id
    const { notes } = (await unitView(ctx, unit))!
    const kept = (await photoOf(ctx, notes.find((n) => n.photo)!.photo!.id))!
    // As somebody else may have put it there: with the place where it was taken.
    const told = Buffer.from(await phoned()).toString('base64')
    await db.photos.update({ jpeg: told }, { where: {} })
    const archive = await archiveOf(ctx, unit)
    await db.sequelize.close()
    db = await freshDatabase()
    ctx = { ...ctx, db }
    const back = await importBytes(ctx, archive)
    const again = (await unitView(ctx, back.ok ? back.value : 0))!.notes
    const plain = (list: typeof notes) =>
      list.map(({ text, at, where, photo }) => [text, at, where, photo?.width])
    expect(plain(again)).toEqual(plain(notes))
    expect(await photoOf(ctx, again.find((n) => n.photo)!.photo!.id)).toEqual(kept)
    expect(Buffer.from((await db.photos.findOne())!.jpeg, 'base64').includes('A phone')).toBe(false)
  })
  it('go with their note where it is deleted, and only with it', async () => {
    const unit = (await db.units.findOne({ where: { serial: 'N-1' } }))!.id
    const { notes } = (await unitView(ctx, unit))!
    const note = notes.find((n) => n.photo)!
    expect(await deleteNote(ctx, unit + 1, note.id)).toMatchObject({ ok: false })
    expect(await deleteNote(ctx, unit, note.id)).toEqual({ ok: true, value: null })
    expect(await photoOf(ctx, note.photo!.id)).toBeUndefined()
    expect((await unitView(ctx, unit))!.notes).toHaveLength(notes.length - 1)
  })
})

/** A display that keeps its gains with the white preset, whatever the mode; the preset is kept with the mode. */
const SHEET = {
  format: 'wexmar-control-sheet/2',
  maker: 'Nowhere',
  model: 'Shared',
  controls: [
    {
      ...{ kind: 'choice', key: 'mode', label: 'Mode', path: ['Picture'], role: 'picture-mode', memory: [] },
      ...{ default: 'day', choices: ['day', 'night'].map((value) => ({ value, label: value })) },
    },
    {
      ...{
        kind: 'choice',
        key: 'preset',
        label: 'Warmth',
        path: ['Picture'],
        role: 'white-preset',
        memory: ['mode'],
      },
      ...{ default: 'cold', choices: ['cold', 'warm'].map((value) => ({ value, label: value })) },
    },
    ...['red', 'green', 'blue'].map((channel) => ({
      ...{
        kind: 'number',
        key: `gain-${channel}`,
        label: `Gain ${channel}`,
        path: ['Picture', 'White'],
        role: 'gain',
      },
      ...{ channel, memory: ['white-preset'], range: { min: -50, max: 50, step: 1 }, default: 0, neutral: 0 },
    })),
  ],
}

describe('values of a display that keeps them with a preset which several modes use', () => {
  const carry = (id: number, command: Parameters<typeof carryOut>[2]) => carryOut(ctx, id, command)
  const look = async (id: number) => (await heavy.sessionView(ctx, id))!
  const shown = async (id: number) =>
    Object.fromEntries((await look(id)).controls.map((c) => [c.key, c.value]))
  /** Sets a control as a person does, and reads nothing. */
  const set = async (id: number, control: string, value: string | number) =>
    done(id, { type: 'set', revision: (await look(id)).revision, control, value })
  /** Begins what asks for one value, and says that it is set. */
  const done = async (id: number, command: Parameters<typeof carryOut>[2]) => {
    expect(await carry(id, command)).toMatchObject({ ok: true })
    const ask = await until(async () => (await look(id)).run?.ask ?? undefined, 'it asks for the value')
    const { run, task } = ask as { run: number; task: number }
    expect(await carry(id, { type: 'confirm', run, task, values: 1 })).toMatchObject({ ok: true })
    await until(
      async () => (await look(id)).run?.ask?.kind === 'read' || (await look(id)).run === null,
      'it is set',
    )
    if ((await look(id)).run) await carry(id, { type: 'cancel' })
  }
  const beginIn = async (unit: number, viewingCase: 'sdr-dark' | 'sdr-bright', baseMode: string) => {
    const begun = await startSession(ctx, unit, {
      viewingCase,
      baseMode,
      equipment: { ...BY_HAND, meterName: 'Old meter 12' },
    })
    if (!begun.ok) throw new Error(begun.error)
    // As after a reset that a person confirmed.
    await db.sessions.update({ prepared: true }, { where: { id: begun.value } })
    return begun.value
  }

  it('are those of their own place in a second case; what nobody has seen there is looked at once', async () => {
    const added = await takeInByHand(ctx, { ...UNIT, model: 'Shared', serial: 'S-1' }, JSON.stringify(SHEET))
    if (!added.ok) throw new Error(added.error)
    await besideRunner(db, async () => {
      const dark = await beginIn(added.value.id, 'sdr-dark', 'night')
      await set(dark, 'mode', 'night')
      // Everything else was never seen in this mode: one walk through the menu.
      const first = (await look(dark)).next
      expect(first.kind === 'confirm-values' && first.rows.map((r) => r.key)).toEqual([
        'preset',
        'gain-red',
        'gain-green',
        'gain-blue',
      ])
      expect(
        await carry(dark, {
          type: 'shows',
          revision: (await look(dark)).revision,
          values: { preset: 'cold', 'gain-red': 0, 'gain-green': 0, 'gain-blue': 0 },
        }),
      ).toMatchObject({ ok: true })
      expect((await look(dark)).next.kind).not.toBe('confirm-values')
      await set(dark, 'preset', 'warm')
      await set(dark, 'gain-red', -12)
      await set(dark, 'gain-blue', 7)

      const bright = await beginIn(added.value.id, 'sdr-bright', 'day')
      await set(bright, 'mode', 'day')
      // The gains of the other preset stayed with it.
      expect(await shown(bright)).toMatchObject({
        mode: 'day',
        preset: 'cold',
        'gain-red': 0,
        'gain-blue': 0,
      })
      const known = (await db.sessions.findByPk(bright))!.known!
      expect(known).toMatchObject({ mode: 'confirmed', preset: 'assumed', 'gain-red': 'confirmed' })
      // A menu that shows something else is believed, and what was read meanwhile goes with it.
      expect(
        await carry(bright, {
          type: 'shows',
          revision: (await look(bright)).revision,
          values: { preset: 'warm' },
        }),
      ).toMatchObject({ ok: true })
      expect(await shown(bright)).toMatchObject({ preset: 'warm', 'gain-red': -12, 'gain-blue': 7 })
      // Going back, nothing has to be set but the mode: the preset is the same.
      const back = (await look(dark)).next
      expect(back.kind === 'restore' && back.changes.map((c) => c.control)).toEqual(['mode'])

      // Looked at again: what the case has changed is asked of its menu, and nothing is taken for known until then.
      await done(dark, { type: 'go', revision: (await look(dark)).revision })
      const unseen = (await look(dark)).next
      expect(unseen.kind === 'confirm-values' && unseen.rows.map((r) => r.key)).toEqual(['gain-green'])
      await carry(dark, {
        type: 'shows',
        revision: (await look(dark)).revision,
        values: { 'gain-green': 0 },
      })
      expect((await look(dark)).next.kind).not.toBe('confirm-values')
      expect((await carry(bright, { type: 'read-back' })).ok).toBe(false)
      const session = (await db.sessions.findByPk(dark))!
      const state = (await db.states.findByPk(session.stateId))!.values
      await inTransaction(db, (transaction) => forgetLooks(db, session, state, transaction))
      const { next } = await look(dark)
      expect(next.kind === 'confirm-values' && next.rows.map((r) => [r.key, r.value])).toEqual([
        ['mode', 'night'],
        ['preset', 'warm'],
        ['gain-red', -12],
        ['gain-blue', 7],
      ])
    })
  })

  it('do not tell which mode shows after a reset by hand, which may have taken all', async () => {
    const added = await takeInByHand(ctx, { ...UNIT, model: 'Shared', serial: 'S-2' }, JSON.stringify(SHEET))
    if (!added.ok) throw new Error(added.error)
    await besideRunner(db, async () => {
      const dark = await beginIn(added.value.id, 'sdr-dark', 'night')
      await db.sessions.update({ prepared: false }, { where: { id: dark } })
      const { revision, next } = await look(dark)
      expect(next.kind).toBe('prepare')
      expect(await carry(dark, { type: 'go', revision })).toMatchObject({ ok: true })
      const reset = await until(async () => (await look(dark)).run?.ask ?? undefined, 'it asks for the reset')
      expect(reset.kind).toBe('reset')
      expect(await carry(dark, { type: 'confirm', run: reset.run, task: reset.task })).toMatchObject({
        ok: true,
      })
      expect((await db.sessions.findByPk(dark))!.known).toMatchObject({ mode: 'assumed' })
    })
  })
})
