import { describe, expect, it } from 'vitest'
import { bitsPerPixel, compressedBits, LinkKey, linkLoad, linksBetween, timingOf } from '#core/signal'

const slowest = (
  width: number,
  height: number,
  rate: number,
  bitDepth: 8 | 10 | 12,
  chroma: '4:4:4' | '4:2:2' | '4:2:0',
) =>
  LinkKey.options
    .filter((k) => !k.startsWith('packet'))
    .find((k) => linkLoad(k, timingOf(width, height, rate), { bitDepth, chroma }).fits)

describe('what a link carries', () => {
  it.each([
    // What devices of each class are known to need without compression.
    [1920, 1080, 60, 8, '4:4:4', 'tmds-4.95'],
    [1920, 1080, 60, 12, '4:4:4', 'tmds-10.2'],
    [3840, 2160, 24, 8, '4:4:4', 'tmds-10.2'],
    [3840, 2160, 24, 12, '4:2:2', 'tmds-10.2'],
    [3840, 2160, 24, 12, '4:4:4', 'tmds-18'],
    [3840, 2160, 60, 8, '4:2:0', 'tmds-10.2'],
    [3840, 2160, 60, 8, '4:4:4', 'tmds-18'],
    [3840, 2160, 60, 12, '4:2:2', 'tmds-18'],
    [3840, 2160, 60, 10, '4:2:0', 'tmds-18'],
    [3840, 2160, 60, 10, '4:4:4', 'frl-24'],
    [3840, 2160, 60, 12, '4:4:4', 'frl-24'],
    [3840, 2160, 120, 8, '4:2:0', 'tmds-18'],
    [3840, 2160, 120, 10, '4:2:0', 'frl-24'],
    [3840, 2160, 120, 8, '4:4:4', 'frl-32'],
    [3840, 2160, 120, 12, '4:2:2', 'frl-32'],
    [3840, 2160, 120, 10, '4:4:4', 'frl-40'],
    [3840, 2160, 120, 12, '4:4:4', 'frl-48'],
    [7680, 4320, 60, 8, '4:2:0', 'frl-32'],
    [7680, 4320, 60, 10, '4:2:0', 'frl-40'],
    [7680, 4320, 60, 12, '4:2:0', 'frl-48'],
    [7680, 4320, 60, 8, '4:4:4', undefined],
  ] as const)('%d × %d at %d Hz, %d bit, %s needs %s', (width, height, rate, depth, chroma, link) => {
    expect(slowest(width, height, rate, depth, chroma)).toBe(link)
  })
  it('shows the TMDS rate of 2160 lines at 60 Hz as published: 594 MHz and 17.82 Gb/s', () => {
    const load = linkLoad('tmds-18', timingOf(3840, 2160, 60), { bitDepth: 8, chroma: '4:4:4' })
    expect(load.needed).toBe(594e6)
    expect(load.steps().map((s) => s.value)).toContain('17.82 Gb/s')
    expect(load.steps()[0]!.how).toContain('4,400 × 2,250')
  })
  it('of packets, is the payload of 8b/10b and 128b/132b', () => {
    const at144 = timingOf(2560, 1440, 144)
    const load = linkLoad('packet-21.6', at144, { bitDepth: 8, chroma: '4:4:4' })
    expect(load.available).toBeCloseTo(17.28e9, -3)
    expect(load.needed / 1e9).toBeCloseTo(14.08, 2)
    // 3840 × 2160 at 144 Hz and 10 bit: 39.2 Gb/s, more than 25.92, less than 40 × 0.967 only without blanking.
    const uhd = timingOf(3840, 2160, 144)
    expect(linkLoad('packet-32.4', uhd, { bitDepth: 10, chroma: '4:4:4' }).fits).toBe(false)
    expect(linkLoad('packet-54', uhd, { bitDepth: 10, chroma: '4:4:4' }).fits).toBe(true)
    expect(compressedBits('packet-32.4', uhd, { bitDepth: 10, chroma: '4:4:4' })).toBeGreaterThan(8)
  })
  it('counts bits as each kind of link packs them', () => {
    expect(bitsPerPixel('tmds-frl', { bitDepth: 12, chroma: '4:2:2' })).toBe(24)
    expect(bitsPerPixel('packet', { bitDepth: 10, chroma: '4:2:2' })).toBe(20)
    expect(bitsPerPixel('packet', { bitDepth: 10, chroma: '4:2:0' })).toBe(15)
    expect(bitsPerPixel('tmds-frl', { bitDepth: 10, chroma: '4:4:4' })).toBe(30)
  })
  it('has no compressed transport on TMDS, and the most bits that fit on FRL', () => {
    const uhd8k = timingOf(7680, 4320, 60)
    expect(compressedBits('tmds-18', uhd8k, { bitDepth: 10, chroma: '4:4:4' })).toBeUndefined()
    const bits = compressedBits('frl-48', uhd8k, { bitDepth: 10, chroma: '4:4:4' })!
    expect(bits).toBe(12)
    const narrow = compressedBits('frl-24', uhd8k, { bitDepth: 10, chroma: '4:4:4' })
    expect(narrow === undefined || narrow < bits).toBe(true)
  })
  it('is the slowest of source, cable and socket, and nothing between different kinds', () => {
    expect(linksBetween('frl-48', 'tmds-18', 'frl-40').at(-1)).toBe('tmds-18')
    expect(linksBetween('frl-32', 'frl-48', 'frl-40').at(-1)).toBe('frl-32')
    expect(linksBetween('packet-32.4', 'frl-48', 'frl-48')).toEqual([])
  })
})
