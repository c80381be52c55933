import { beforeEach, describe, expect, it } from 'vitest'
import { LatencyEntry, RowEntry, type RowKept } from '#core/entry'
import { calibrate } from '#demo'
import { heavy } from '#server/background'
import { addLatency, addRow, enteredView, removeEntry, removeLatency, traceSamples } from '#server/evidence'
import { deleteSession } from '#server/session'
import { startSession } from '#server/unit'
import { archiveOf, importBytes } from '#tests/archive'
import { type AtBench, atBench } from '#tests/at-bench'
import { beginOn, freshDatabase } from '#tests/environment'

let ctx: AtBench['ctx']
let session: number
const at = atBench({ begin: (ctx) => beginOn(ctx), runner: true, reset: true })
beforeEach(() => {
  ;({ ctx, session } = at)
})

const row = (typed: Partial<Record<string, string>> = {}) =>
  RowEntry.parse({
    kind: 'sound-output',
    path: 'Sound › Digital out',
    label: 'Format',
    value: 'Passthrough',
    comesAs: 'PCM',
    reason: 'The receiver decodes more than the display.',
    ...typed,
  })
/** A trace that rises from 10 to 100 with a time constant of 2 ms. */
const trace = (head = 'time_ms,light', step = 0.1) =>
  new TextEncoder().encode(
    [
      head,
      ...Array.from({ length: 500 }, (_, i) => {
        const since = i * 0.1 - 15
        return `${(i * step).toFixed(4)},${since < 0 ? 10 : 100 - 90 * Math.exp(-since / 2)}`
      }),
    ].join('\n'),
  )
const game = async () => {
  const { unitId } = (await ctx.db.sessions.findByPk(session))!
  const begun = await startSession(ctx, unitId, { viewingCase: 'sdr-game', baseMode: 'arena' })
  if (!begun.ok) throw new Error(begun.error)
  return begun.value
}
const times = (text: string, settings: Record<string, string> = {}, rate = '60') =>
  LatencyEntry.parse({ rate, position: 'middle', times: text, settings })

describe('delays that another instrument showed', () => {
  it('are kept under the settings that are named, and taken back', async () => {
    const id = await game()
    expect(await addLatency(ctx, id, times('40 41 39'))).toEqual({
      ok: true,
      value: 'Kept 3 times, 40.0 ms on average.',
    })
    expect((await addLatency(ctx, id, times('21.5 22', { quick: 'on' }))).ok).toBe(true)
    const view = (await enteredView(ctx, id))!
    expect(view.controls.map((c) => c.key)).toEqual(['quick', 'rush'])
    expect(view.latencies.map((l) => [l.settings, l.rate, l.count])).toEqual([
      ['“Quick response” Off, “Rush” Off', 60, 3],
      ['“Quick response” On, “Rush” Off', 60, 2],
    ])
    // The case knows them; the display is not taken to stand where they were looked at.
    const { controls } = (await heavy.sessionView(ctx, id))!
    expect(controls.find((c) => c.key === 'quick')!.value).toBe('off')
    const first = view.latencies[0]!.id
    expect(await removeLatency(ctx, id, first)).toMatchObject({ ok: true })
    expect(await removeLatency(ctx, id, first)).toMatchObject({ ok: false })
    expect((await enteredView(ctx, id))!.latencies).toHaveLength(1)
    expect(await ctx.db.latencies.count()).toBe(2)
  })

  it('are refused with a sentence for a control that is none, or of another session', async () => {
    const id = await game()
    for (const settings of [{ emission: '3' }, { quick: 'sometimes' }] as Array<Record<string, string>>)
      expect(await addLatency(ctx, id, times('40', settings))).toMatchObject({
        ok: false,
        error: expect.stringMatching(/Nothing was saved/),
      })
    expect(await addLatency(ctx, 9_999, times('40'))).toMatchObject({ ok: false })
    expect((await addLatency(ctx, id, times('40'))).ok).toBe(true)
    const kept = (await enteredView(ctx, id))!.latencies[0]!.id
    expect(await removeLatency(ctx, session, kept)).toMatchObject({ ok: false })
    expect(await ctx.db.runs.count()).toBe(1)
  })
})

describe('traces of a light sensor', () => {
  it('are kept with what was found in them, and refused whole where they say nothing', async () => {
    expect(await heavy.addTrace(ctx, session, { from: 0, to: 100 }, 'a.csv', trace())).toEqual({
      ok: true,
      value: 'Kept: rise 4.4 ms.',
    })
    for (const [bytes, why] of [
      [trace('time,light'), /unit of time/],
      [trace('time_ms,light', 5), /too far/],
      [new Uint8Array(), /empty/],
      [new TextEncoder().encode('"time_ms,light\n1'), /./],
    ] as const)
      expect(await heavy.addTrace(ctx, session, { from: 0, to: 50 }, 'b.csv', bytes)).toMatchObject({
        ok: false,
        error: expect.stringMatching(why),
      })
    const { traces } = (await enteredView(ctx, session))!
    expect(traces).toMatchObject([{ from: 0, to: 100, name: 'a.csv' }])
    expect((await traceSamples(ctx, session)).get(traces[0]!.id)!.times).toHaveLength(500)
    // Nobody deletes a case in which somebody entered something.
    expect(await deleteSession(ctx, session)).toMatchObject({ ok: false })
    expect(await removeEntry(ctx, session, traces[0]!.id)).toMatchObject({ ok: true })
    expect((await enteredView(ctx, session))!.traces).toEqual([])
  })
})

describe('rows without a measurement', () => {
  it('stand once, and none stands for a control that the route sets', async () => {
    expect((await addRow(ctx, session, row())).ok).toBe(true)
    expect(await addRow(ctx, session, row({ path: 'sound>digital OUT' }))).toMatchObject({
      ok: false,
      field: 'label',
      error: expect.stringMatching(/has a row already/),
    })
    const { document } = (await ctx.db.sheets.findOne())!
    const control = document.controls.find((c) => c.role === 'power-saving')!
    expect(
      await addRow(ctx, session, row({ path: control.path.join('>'), label: control.label })),
    ).toMatchObject({ ok: false, error: expect.stringMatching(/in the guide already/) })
  })

  it('are rows of the guide, marked, and come back from the archive', async () => {
    await calibrate(ctx, session)
    expect((await addRow(ctx, session, row())).ok).toBe(true)
    expect((await heavy.addTrace(ctx, session, { from: 0, to: 100 }, 'a.csv', trace())).ok).toBe(true)
    const guide = await heavy.composeGuide(ctx, session)
    if (!guide.ok) throw new Error(guide.error)
    const [of] = (await heavy.guideDraft(ctx, guide.value))!.document.cases
    const own = of!.values.find((v) => v.origin === 'not-measured')!
    expect(own).toMatchObject({ label: 'Format', shown: 'Passthrough', comesAs: 'PCM', term: 'Sound output' })
    expect(own.why).toMatch(/^Not measured\. The receiver/)
    expect(of!.play!.response).toMatchObject([{ from: 0, to: 100, fall: null }])
    expect(of!.play!.response![0]!.rise).toBeCloseTo(2 * Math.log(9), 1)
    // It stands against none of the checks.
    const published = await heavy.publishGuide(ctx, guide.value, { because: 'Looked at.' })
    expect(published.ok ? '' : published.error).toBe('')
    const { unitId } = (await ctx.db.sessions.findByPk(session))!
    const archive = await archiveOf(ctx, unitId)
    const other = await freshDatabase()
    const there = { ...ctx, db: other }
    expect(await importBytes(there, archive)).toMatchObject({ ok: true })
    const brought = (await other.sessions.findOne())!
    const view = (await enteredView(there, brought.id))!
    expect(view.rows.map(({ id: _, ...r }): RowKept => r)).toEqual([row()])
    expect(view.traces).toHaveLength(1)
    expect((await traceSamples(there, brought.id)).size).toBe(1)
    await other.sequelize.close()
  }, 120_000)
})
