import { beforeEach, describe, expect, it } from 'vitest'
import { SocketEntry, SourceEntry } from '#core/entry'
import { heavy } from '#server/background'
import {
  addSource,
  inputsView,
  type PlannerWish,
  plannerView,
  removeSocket,
  removeSource,
  saveInputs,
  saveSocket,
} from '#server/model'
import { carryOut } from '#server/session'
import { type AtBench, atBench } from '#tests/at-bench'
import { beginOn } from '#tests/environment'

let ctx: AtBench['ctx']
let slug: string
const at = atBench({ begin: (ctx) => beginOn(ctx, true), runner: true, reset: true })
beforeEach(async () => {
  ;({ ctx } = at)
  slug = (await ctx.db.models.findOne())!.slug
})

const PICTURES = {
  formats: [{ width: 3840, height: 2160, rates: [60, 120] }],
  bitDepths: [8 as const, 10 as const],
  chroma: ['4:4:4' as const, '4:2:2' as const],
}
const socket = (typed: Partial<Record<string, string>>) =>
  SocketEntry.parse({
    label: 'Input 1',
    link: 'frl-40',
    compressed: 'no',
    soundSystem: 'no',
    unlock: '',
    before: 'tmds-18',
    fullChroma: '',
    shares: '',
    note: '',
    ...typed,
  })
const SOURCE = SourceEntry.parse({
  name: 'Tarn',
  kind: 'console',
  link: 'frl-48',
  compressed: 'no',
  formats: '3840 × 2160: 60, 120',
  bitDepths: '8, 10',
  chroma: '4:4:4, 4:2:2',
  ranges: 'full',
  variableRefresh: '',
  falls: '',
})
const WISH: PlannerWish = {
  model: '',
  socket: '',
  source: undefined,
  cable: 'frl-48',
  use: 'game',
  range: 'full',
  unlocked: true,
  labelled: true,
}

/** Goes a session as far as its check of the signal. */
const check = async (session: number, ...does: ReadonlyArray<'go' | 'check-feed'>) => {
  const idle = async () => {
    for (let i = 0; i < 600; i++) {
      const view = (await heavy.sessionView(ctx, session))!
      if (!view.run) return view
      await new Promise((resolve) => setTimeout(resolve, 50))
    }
    throw new Error('the run did not end')
  }
  for (const type of does) {
    const { revision } = await idle()
    const went = await carryOut(ctx, session, { type, revision })
    if (!went.ok) throw new Error(went.error)
  }
  return idle()
}

describe('the meeting of ranges', () => {
  it('is told from the checks of the signal, the right one and the mismatch', async () => {
    expect(await heavy.rangesSeen(ctx, slug)).toEqual([])
    await at.bench.client.simulate({ faults: [{ kind: 'flags-wrong-range', times: 999 }] })
    expect((await check(at.session, 'go', 'go')).next.kind).toBe('feed-fault')
    await at.bench.client.simulate({ faults: [] })
    // Mended, and checked again.
    await check(at.session, 'check-feed')
    // Asked again, it says the same.
    expect(await heavy.rangesSeen(ctx, slug)).toEqual(await heavy.rangesSeen(ctx, slug))
    expect(await heavy.rangesSeen(ctx, slug)).toMatchObject([
      { sent: 'limited', taken: 'limited', checks: 1 },
      { sent: 'limited', taken: 'full', checks: 1 },
    ])
  }, 60_000)
})

describe('sockets of a model', () => {
  it('are added and changed one by one, and nothing of the others is lost', async () => {
    expect(await saveSocket(ctx, slug, socket({}))).toMatchObject({
      error: expect.stringMatching(/which pictures/),
    })
    expect((await saveInputs(ctx, slug, PICTURES)).ok).toBe(true)
    expect((await saveSocket(ctx, slug, socket({ label: 'Input 2', shares: 'input 1' }))).ok).toBe(true)
    expect((await saveSocket(ctx, slug, socket({ label: 'Input 1', soundSystem: 'yes' }))).ok).toBe(true)
    expect((await saveInputs(ctx, slug, { ...PICTURES, bitDepths: [8] })).ok).toBe(true)
    expect((await inputsView(ctx, slug))!.inputs).toMatchObject({
      bitDepths: [8],
      sockets: [
        { key: 'input-1', label: 'Input 1', link: 'frl-40', soundSystem: true },
        { key: 'input-2', label: 'Input 2', sharesWith: ['input-1'] },
      ],
    })
    // Whichever of the two is asked about, both are named.
    await addSource(ctx, SOURCE)
    for (const key of ['input-1', 'input-2'])
      expect((await plannerView(ctx, { ...WISH, socket: key })).settings.join()).toContain(
        'Only one of these does its full rate at a time: Input 1, Input 2.',
      )
    expect(await saveSocket(ctx, slug, socket({ label: 'Input 3', shares: 'Input 9' }))).toMatchObject({
      error: expect.stringMatching(/no socket “Input 9” here. Nothing was changed/),
      field: 'shares',
    })
    expect((await removeSocket(ctx, slug, 'input-1')).ok).toBe(true)
    expect((await inputsView(ctx, slug))!.inputs!.sockets).toEqual([
      { key: 'input-2', label: 'Input 2', link: 'frl-40' },
    ])
    expect(await removeSocket(ctx, slug, 'input-2')).toMatchObject({ ok: false })
  })
})

describe('sources', () => {
  it('are there once by name, and one that was removed is kept', async () => {
    const added = await addSource(ctx, SOURCE)
    if (!added.ok) throw new Error(added.error)
    expect(await addSource(ctx, SOURCE)).toMatchObject({ ok: false, field: 'name' })
    await saveInputs(ctx, slug, PICTURES)
    const view = await plannerView(ctx, {
      ...WISH,
      cell: { width: 3840, height: 2160, rate: 120, bitDepth: 10, chroma: '4:4:4' },
    })
    expect(view.rows).toHaveLength(2)
    // The first socket is a slow one until somebody says what it is.
    expect(view.cell).toMatchObject({ arrives: null, giveUp: [{ wish: { rate: 60 } }] })
    expect(view.cell!.steps.length).toBeGreaterThan(3)
    expect((await removeSource(ctx, added.value)).ok).toBe(true)
    expect(await removeSource(ctx, added.value)).toMatchObject({ ok: false })
    expect((await plannerView(ctx, WISH)).sources).toEqual([])
    expect(await ctx.db.sources.count()).toBe(1)
  })
})
