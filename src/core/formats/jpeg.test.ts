import { describe, expect, it } from 'vitest'
import { jpegShape } from './jpeg'

const segment = (marker: number, body: readonly number[]) => [
  0xff,
  marker,
  (body.length + 2) >> 8,
  (body.length + 2) & 255,
  ...body,
]
const jpeg = (...segments: number[][]) => Uint8Array.from([0xff, 0xd8, ...segments.flat(), 0xff, 0xd9])
const frame = (marker: number, width: number, height: number) =>
  segment(marker, [8, height >> 8, height & 255, width >> 8, width & 255, 1, 1, 0x11, 0])
const letters = (text: string) => [...text].map((c) => c.charCodeAt(0))
const application = segment(0xe0, letters('JFIF'))
const scan = [...segment(0xda, [1, 1, 0, 0, 63, 0]), 7, 0xff, 0, 9, 0xff, 0xd0, 3]

describe('a JPEG', () => {
  it('has the size that stands in the header of its frame, after any other segments', () => {
    expect(jpegShape(jpeg(application, frame(0xc0, 1600, 900), scan))).toEqual({
      width: 1600,
      height: 900,
      bare: true,
    })
    expect(jpegShape(jpeg(frame(0xc2, 300, 4000), scan, scan))).toMatchObject({ width: 300, height: 4000 })
    // A table that only looks like a frame.
    expect(jpegShape(jpeg(frame(0xc4, 7, 7), frame(0xc1, 20, 10)))).toMatchObject({ width: 20, height: 10 })
  })
  it('is not bare where it tells of place or camera, has a comment, or something behind its end', () => {
    const picture = [frame(0xc0, 8, 8), scan]
    for (const more of [segment(0xe1, letters('Exif')), segment(0xed, [1]), segment(0xfe, letters('home'))])
      expect(jpegShape(jpeg(more, ...picture))?.bare).toBe(false)
    expect(jpegShape(jpeg(...picture, segment(0xe1, letters('Exif'))))?.bare).toBe(false)
    const whole = jpeg(...picture)
    expect(jpegShape(Uint8Array.from([...whole, ...letters('51.5 N')]))?.bare).toBe(false)
    expect(jpegShape(whole)?.bare).toBe(true)
  })
  it('is none where it is something else, cut off, or of no size', () => {
    for (const bytes of [
      new Uint8Array(),
      Uint8Array.from([0x89, 0x50, 0x4e, 0x47]),
      jpeg(application, frame(0xc0, 1600, 900), scan).slice(0, -2),
      jpeg(application),
      jpeg(frame(0xc0, 0, 900)),
      // Segments without a length lead nowhere, and not for ever.
      jpeg([0xff, 0xe1, 0, 0], [0xff, 0xe1, 0, 0]),
    ])
      expect(jpegShape(bytes)).toBeUndefined()
  })
})
