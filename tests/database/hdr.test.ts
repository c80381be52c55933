import { beforeEach, describe, expect, it } from 'vitest'
import { patternOf, pqGrey } from '#core/measure'
import { SDR_SIGNAL } from '#core/signal'
import { answerTo } from '#demo'
import { heavy } from '#server/background'
import { guideAt } from '#server/guide'
import { carryOut } from '#server/session'
import { startSession } from '#server/unit'
import type { SessionView } from '#server/view'
import { type AtBench, atBench } from '#tests/at-bench'
import { beginOn, until } from '#tests/environment'

let db: AtBench['db']
let bench: AtBench['bench']
let ctx: AtBench['ctx']
let sdr: number
const at = atBench({ runner: true, reset: true, begin: (ctx) => beginOn(ctx) })
beforeEach(() => {
  ;({ db, bench, ctx, session: sdr } = at)
})

const look = async (id: number) => (await heavy.sessionView(ctx, id))!
const ask = async (command: Parameters<typeof carryOut>[2], id: number) =>
  expect(await carryOut(ctx, id, command)).toMatchObject({ ok: true })
const idle = (id: number) => until(async () => !(await look(id)).run, 'the run has ended', 180_000)
const goUntil = async (id: number, holds: (view: SessionView) => boolean): Promise<SessionView> => {
  for (let i = 0; i < 120; i++) {
    const view = await look(id)
    if (holds(view)) return view
    await ask(answerTo(view), id)
    await idle(id)
  }
  throw new Error(`It never came to that: ${JSON.stringify((await look(id)).next)}`)
}
const unitId = async () => (await db.units.findOne())!.id
const begin = async (wish: Partial<Parameters<typeof startSession>[2]> = {}) =>
  startSession(ctx, await unitId(), { viewingCase: 'hdr-film', baseMode: 'studio', ...wish })

describe('a case of HDR film', () => {
  it('goes its own route after an SDR case, is published, and leaves SDR as it was', async () => {
    // A whole SDR case has moved light, white and more, and learned what controls do.
    await goUntil(sdr, (v) => v.next.kind === 'compose')
    const before = await bench.client.state()
    const begun = await begin()
    if (!begun.ok) throw new Error(begun.error)
    const id = begun.value
    const first = await look(id)
    expect(first.hdr).toBe(true)
    expect(first.header.signal).toMatch(/^PQ, 10 bit/)
    expect(first.targets).toMatchObject({ tone: 'PQ', white: 'D65' })
    // Rests count in what a sweep is said to take: half a minute of black and a minute of light for each of eight windows.
    const sweeps = new Map(first.sweeps.map((s) => [s.key, s.seconds]))
    expect(sweeps.get('pq-peak')!).toBeGreaterThan(8 * 90)
    expect(sweeps.has('hlg-grey')).toBe(true)
    // Nothing that SDR read stands in for what HDR has to read.
    expect(first.next).toMatchObject({ kind: 'prepare', reset: true })
    const signal = await goUntil(id, (v) => v.next.kind === 'sweep')
    expect(signal.next).toMatchObject({ purpose: 'feed-check', patches: 6 })

    const schools = await goUntil(id, (v) => v.next.kind === 'choose-mapping')
    const { options } = schools.findings.mappings!
    expect(options.map((o) => o.mapping).sort()).toEqual(['dynamic', 'roll-off'])
    expect(options.find((o) => o.mapping === 'dynamic')!.sentence).toMatch(/moves by \d+ %.*Never exact/)
    expect(options.find((o) => o.mapping === 'roll-off')!.sentence).toMatch(
      /keeps detail up to [\d,]+ cd\/m²/,
    )
    // A school that the display does not have is not taken.
    const refused = await carryOut(ctx, id, {
      type: 'decide',
      revision: schools.revision,
      question: 'mapping',
      answer: 'no-such-value',
    })
    expect(refused).toMatchObject({ ok: false })

    const end = await goUntil(id, (v) => v.next.kind === 'compose')
    const hdr = end.findings.hdr!
    expect(hdr.mapping).toBe('roll-off')
    expect(hdr.peakByWindow).toHaveLength(8)
    expect(hdr.sentences[0]).toMatch(/^Follows PQ up to [\d,]+ cd\/m²; beyond that it rolls off/)
    expect(end.steps.map((s) => s.key)).not.toContain('tone')
    const keys = end.steps.map((s) => s.key)
    expect(keys.indexOf('tone-mapping')).toBeLessThan(keys.indexOf('out-of-box'))
    expect(await db.readings.count({ where: { fault: 'other-signal' } })).toBe(0)

    const guide = await heavy.composeGuide(ctx, id)
    if (!guide.ok) throw new Error(guide.error)
    const slug = await heavy.publishGuide(ctx, guide.value, { because: 'Looked at.' })
    if (!slug.ok) throw new Error(slug.error)
    const at = await guideAt(ctx, slug.value)
    const document = at?.kind === 'guide' ? at.guide.document.cases.at(-1)! : undefined
    if (!document) throw new Error('Nothing was published')
    expect(document.viewingCase.key).toBe('hdr-film')
    expect(document.hdr!.schools.filter((s) => s.chosen)).toHaveLength(1)
    expect(document.hdr!.knee).toBeCloseTo(hdr.knee!, 0)
    expect(document.values.find((v) => v.role === 'peak-luminance')).toMatchObject({ value: 100 })
    expect(document.values.find((v) => v.role === 'tone-mapping')!.why).toMatch(/Rolls highlights off/)

    // The display shows SDR again as SDR left it.
    await bench.client.showPattern(patternOf(pqGrey(100), SDR_SIGNAL))
    const after = await bench.client.state()
    if (!before.ok || !after.ok) throw new Error('The bench is away')
    expect(after.value).toMatchObject({
      scene: before.value.scene!,
      'panel-light': before.value['panel-light']!,
      'gain-red': before.value['gain-red']!,
      'gain-blue': before.value['gain-blue']!,
    })
    // And the SDR case goes on where it was: what HDR keeps apart was not moved for it.
    const back = await look(sdr)
    expect(back.next.kind === 'restore' ? back.next.changes.map((c) => c.label) : []).not.toContain(
      'Gain, red',
    )
  })

  it('is not begun with what cannot show or mean HDR, and says why', async () => {
    const page = await begin({
      equipment: { display: 'hand', pattern: 'page', meter: 'hand', meterName: 'Lux' } as never,
    })
    expect(page).toMatchObject({ ok: false, error: expect.stringMatching(/browser page shows SDR only/) })
    expect(await begin({ luminance: 300 })).toMatchObject({
      ok: false,
      error: expect.stringMatching(/luminance is absolute/),
    })
    const begun = await begin({ viewingCase: 'hdr-film-dynamic' })
    if (!begun.ok) throw new Error(begun.error)
    // There is no luminance to aim at, also later.
    const view = await look(begun.value)
    expect(await carryOut(ctx, begun.value, { type: 'target', luminance: 300 } as never)).toMatchObject({
      ok: false,
      error: expect.stringMatching(/absolute/),
    })
    // What HDR film has set is inherited: nothing is reset.
    expect(view.next).toMatchObject({ kind: 'prepare', reset: false })
    expect((await db.sessions.findByPk(begun.value))!.signalFormat).toMatchObject({
      transfer: 'pq',
      dynamicMetadata: true,
    })
  })
})
