import { describe, expect, it } from 'vitest'
import {
  DisplayInputs,
  giveUp,
  linkTable,
  planLink,
  type SignalPath,
  type SourceDevice,
  type Wish,
} from '#core/signal'

const inputs = DisplayInputs.parse({
  sockets: [
    {
      key: 'one',
      label: 'Input 1',
      link: 'frl-40',
      unlock: { control: 'input-format', value: 'wide', before: 'tmds-10.2' },
      fullChroma: { control: 'input-label', value: 'computer' },
      soundSystem: true,
    },
    { key: 'two', label: 'Input 2', link: 'tmds-18' },
  ],
  formats: [
    { width: 3840, height: 2160, rates: [24, 50, 60, 120] },
    { width: 1920, height: 1080, rates: [60, 120] },
  ],
  bitDepths: [8, 10, 12],
  chroma: ['4:4:4', '4:2:2', '4:2:0'],
  variableRefresh: { slowest: 48, fastest: 120 },
})
const console_: SourceDevice = {
  name: 'Tarn',
  kind: 'console',
  link: 'frl-32',
  formats: [
    { width: 3840, height: 2160, rates: [60, 120] },
    { width: 1920, height: 1080, rates: [60, 120] },
  ],
  bitDepths: [8, 10, 12],
  chroma: ['4:4:4', '4:2:2', '4:2:0'],
  ranges: ['limited', 'full'],
  variableRefresh: { slowest: 48, fastest: 120 },
  falls: [{ fromRate: 120, chroma: '4:2:2', range: 'limited' }],
}
const path = (over: Partial<SignalPath> = {}): SignalPath => ({
  source: console_,
  cable: 'frl-48',
  inputs,
  socket: inputs.sockets[0]!,
  unlocked: true,
  labelled: true,
  ...over,
})
const wish = (over: Partial<Wish> = {}): Wish => ({
  width: 3840,
  height: 2160,
  rate: 60,
  bitDepth: 10,
  chroma: '4:4:4',
  range: 'full',
  variableRefresh: false,
  ...over,
})

describe('a signal path', () => {
  it('lets through what fits, over the slowest link that carries it', () => {
    const { arrives, troubles, load } = planLink(path(), wish())
    expect(arrives).toMatchObject({ link: 'frl-24', chroma: '4:4:4', shownChroma: '4:4:4', range: 'full' })
    expect(troubles).toEqual([])
    expect(load.steps().length).toBeGreaterThan(3)
  })
  it('says what a source makes of it on its own at a rate', () => {
    const { arrives, troubles } = planLink(path(), wish({ rate: 120 }))
    expect(arrives).toMatchObject({ chroma: '4:2:2', range: 'limited' })
    expect(troubles.join()).toContain('changes to 10 bit, 4:2:2, limited range on its own at 120 Hz')
  })
  it('names the end that limits it, and that unlocking would help', () => {
    const { arrives, troubles } = planLink(path({ unlocked: false }), wish())
    expect(arrives).toBeUndefined()
    expect(troubles.join()).toContain('the limit is the socket')
    expect(troubles.join()).toContain('Unlock')
    const thin = planLink(path({ cable: 'tmds-18' }), wish())
    expect(thin.troubles.join()).toContain('the limit is the cable')
    expect(thin.troubles.join()).not.toContain('Unlock')
  })
  it('shows full chroma only where the input has its label', () => {
    const { arrives, troubles } = planLink(path({ labelled: false }), wish())
    expect(arrives).toMatchObject({ chroma: '4:4:4', shownChroma: '4:2:2' })
    expect(troubles.join()).toContain('label')
  })
  it('refuses what an end does not do, in a sentence', () => {
    expect(planLink(path(), wish({ rate: 90 })).troubles).toEqual([
      'Tarn does not send 3840 × 2160 at 90 Hz.',
      'The display does not take 3840 × 2160 at 90 Hz.',
    ])
    const fixed = path({ source: { ...console_, variableRefresh: undefined } })
    expect(planLink(fixed, wish({ variableRefresh: true })).troubles).toEqual([
      'Tarn has no variable refresh.',
    ])
    const slow = path({ inputs: { ...inputs, variableRefresh: { slowest: 48, fastest: 60 } } })
    expect(planLink(slow, wish({ rate: 120, variableRefresh: true })).troubles.join()).toContain(
      'between 48 and 60 Hz; 120 Hz is outside',
    )
    expect(
      planLink(path({ source: { ...console_, link: 'packet-32.4' } }), wish()).troubles.join(),
    ).toContain('different kinds of link')
  })
  it('gives up depth for a desktop and chroma for film, and says what it costs', () => {
    const narrow = path({ cable: 'tmds-18' })
    expect(giveUp(narrow, wish(), 'desktop')[0]).toMatchObject({ wish: { bitDepth: 8, chroma: '4:4:4' } })
    expect(giveUp(narrow, wish(), 'film')[0]).toMatchObject({ wish: { bitDepth: 10, chroma: '4:2:2' } })
    expect(giveUp(narrow, wish(), 'film')[0]!.sentence).toContain('nothing is lost')
    expect(giveUp(path(), wish(), 'film')).toEqual([])
    // Where no single sacrifice is enough: the fastest slower rate with the least given up beside it.
    const twice = giveUp({ ...narrow, source: { ...console_, falls: [] } }, wish({ rate: 120 }), 'game')
    expect(twice.at(-1)).toEqual({
      wish: wish({ rate: 60, chroma: '4:2:2' }),
      sentence: '60 Hz with 10 bit, 4:2:2 fits: motion is less smooth and latency grows.',
    })
  })
  it('takes less chroma and depth when it gives something up, never more, and all of it fits', () => {
    const order = ['4:2:0', '4:2:2', '4:4:4']
    for (const use of ['film', 'game', 'desktop'] as const)
      for (const cable of ['tmds-4.95', 'tmds-10.2', 'tmds-18', 'frl-24'] as const)
        for (const rate of [60, 120])
          for (const smaller of giveUp(path({ cable }), wish({ rate, bitDepth: 12 }), use)) {
            expect(planLink(path({ cable }), smaller.wish).arrives).toBeDefined()
            expect(smaller.wish.bitDepth).toBeLessThanOrEqual(12)
            expect(order.indexOf(smaller.wish.chroma)).toBeLessThanOrEqual(2)
            expect(smaller.wish.rate).toBeLessThanOrEqual(rate)
          }
  })
  it('is a table of all rates: what arrives at each, and which chroma and depth fit', () => {
    const rows = linkTable(path({ socket: inputs.sockets[1]! }), 'game', 'full')
    expect(rows.map((r) => [r.height, r.rate])).toEqual([
      [2160, 120],
      [2160, 60],
      [1080, 120],
      [1080, 60],
    ])
    expect(rows[0]!.best).toBeUndefined()
    expect(rows[0]!.why).toContain('more than TMDS, 18 Gb/s carries')
    expect(rows[1]!.best).toMatchObject({ bitDepth: 12, chroma: '4:2:2', variableRefresh: true })
    expect(rows[1]!.cells.find((c) => c.bitDepth === 8 && c.chroma === '4:4:4')!.fits).toBe('fits')
    expect(rows[1]!.cells.find((c) => c.bitDepth === 10 && c.chroma === '4:4:4')!.fits).toBe('no')
  })
  it('uses compressed transport only where both ends have it', () => {
    const big = { formats: [{ width: 7680, height: 4320, rates: [60] }] }
    const source = { ...console_, ...big, compressed: true, falls: [] }
    const plain = path({ source, inputs: { ...inputs, ...big } })
    const eight = wish({ width: 7680, height: 4320 })
    expect(planLink(plain, eight).arrives).toBeUndefined()
    const squeezed = planLink({ ...plain, socket: { ...plain.socket, compressed: true } }, eight)
    expect(squeezed.arrives?.compressedTo).toBeGreaterThanOrEqual(8)
  })
  it('refuses sockets that share a key or name one that is not there', () => {
    const [one, two] = inputs.sockets
    expect(DisplayInputs.safeParse({ ...inputs, sockets: [one, one] }).success).toBe(false)
    expect(
      DisplayInputs.safeParse({ ...inputs, sockets: [one, { ...two, sharesWith: ['nine'] }] }).success,
    ).toBe(false)
  })
})
