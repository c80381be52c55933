import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { timingOf } from '#core/signal'

describe('timing of a picture on a link', () => {
  it.each([
    // CTA-861-I, table 1: video identification code, size, rate, pixel clock in MHz.
    [4, 1280, 720, 60, 74.25],
    [19, 1280, 720, 50, 74.25],
    [60, 1280, 720, 24, 59.4],
    [61, 1280, 720, 25, 74.25],
    [62, 1280, 720, 30, 74.25],
    [108, 1280, 720, 48, 90],
    [41, 1280, 720, 100, 148.5],
    [47, 1280, 720, 120, 148.5],
    [3, 720, 480, 60, 27.027],
    [18, 720, 576, 50, 27],
    [32, 1920, 1080, 24, 74.25],
    [33, 1920, 1080, 25, 74.25],
    [34, 1920, 1080, 30, 74.25],
    [111, 1920, 1080, 48, 148.5],
    [31, 1920, 1080, 50, 148.5],
    [16, 1920, 1080, 60, 148.5],
    [64, 1920, 1080, 100, 297],
    [63, 1920, 1080, 120, 297],
    [86, 2560, 1080, 24, 99],
    [87, 2560, 1080, 25, 90],
    [88, 2560, 1080, 30, 118.8],
    [113, 2560, 1080, 48, 198],
    [89, 2560, 1080, 50, 185.625],
    [90, 2560, 1080, 60, 198],
    [91, 2560, 1080, 100, 371.25],
    [92, 2560, 1080, 120, 495],
    [93, 3840, 2160, 24, 297],
    [94, 3840, 2160, 25, 297],
    [95, 3840, 2160, 30, 297],
    [114, 3840, 2160, 48, 594],
    [96, 3840, 2160, 50, 594],
    [97, 3840, 2160, 60, 594],
    [117, 3840, 2160, 100, 1188],
    [118, 3840, 2160, 120, 1188],
    [98, 4096, 2160, 24, 297],
    [101, 4096, 2160, 50, 594],
    [102, 4096, 2160, 60, 594],
    [219, 4096, 2160, 120, 1188],
    [121, 5120, 2160, 24, 396],
    [123, 5120, 2160, 30, 396],
    [124, 5120, 2160, 48, 742.5],
    [125, 5120, 2160, 50, 742.5],
    [126, 5120, 2160, 60, 742.5],
    [127, 5120, 2160, 100, 1485],
    [193, 5120, 2160, 120, 1485],
    [194, 7680, 4320, 24, 1188],
    [196, 7680, 4320, 30, 1188],
    [197, 7680, 4320, 48, 2376],
    [198, 7680, 4320, 50, 2376],
    [199, 7680, 4320, 60, 2376],
    [200, 7680, 4320, 100, 4752],
    [201, 7680, 4320, 120, 4752],
  ])('format %d: %d × %d at %d Hz has a clock of %d MHz', (_, width, height, rate, clock) => {
    const timing = timingOf(width, height, rate)
    expect(timing.from).toBe('CTA-861')
    expect(timing.pixelClock / 1e6).toBeCloseTo(clock, 6)
    expect(timing.horizontalTotal).toBeGreaterThan(width)
    expect(timing.verticalTotal).toBeGreaterThan(height)
  })
  it.each([
    // VESA CVT 1.2, reduced blanking version 2: totals and clock in MHz.
    [1920, 1080, 144, 2000, 1157, 333.216],
    [2560, 1440, 60, 2640, 1481, 234.59],
    [2560, 1440, 144, 2640, 1543, 586.586],
    [3840, 2160, 144, 3920, 2314, 1306.206],
  ])('%d × %d at %d Hz of a computer: %d × %d, %d MHz', (width, height, rate, across, down, clock) => {
    const timing = timingOf(width, height, rate)
    expect(timing.from).toBe('CVT reduced blanking')
    expect([timing.horizontalTotal, timing.verticalTotal]).toEqual([across, down])
    expect(timing.pixelClock / 1e6).toBeCloseTo(clock, 2)
  })
  it('knows 1000/1001 of a rate by the same totals', () => {
    const film = timingOf(3840, 2160, 24_000 / 1001)
    expect(film.horizontalTotal).toBe(5500)
    expect(film.pixelClock / 1e6).toBeCloseTo(296.703, 3)
    expect(timingOf(1920, 1080, 59.94).verticalTotal).toBe(1125)
  })
  it('leaves a computer’s picture at least 460 µs of dark, and no more than a line beyond', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 640, max: 7680 }),
        fc.integer({ min: 480, max: 4320 }),
        fc.integer({ min: 61, max: 240 }),
        (width, height, rate) => {
          const t = timingOf(width, height, rate)
          if (t.from === 'CTA-861') return
          const line = 1 / (t.rate * t.verticalTotal)
          const dark = (t.verticalTotal - t.height) * line
          expect(dark).toBeGreaterThan(459e-6)
          expect(dark).toBeLessThan(Math.max(460e-6 + 2 * line, 16 * line))
        },
      ),
    )
  })
  it('does not make up a timing for an impossible rate', () => {
    expect(() => timingOf(1920, 1080, 0)).toThrow(RangeError)
    expect(() => timingOf(1920, 1080, Number.NaN)).toThrow(RangeError)
  })
})
