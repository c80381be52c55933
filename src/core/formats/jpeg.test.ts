import { describe, expect, it } from 'vitest'
import { jpegSize } from './jpeg'

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
const application = segment(
  0xe0,
  [...'JFIF'].map((c) => c.charCodeAt(0)),
)

describe('the size of a JPEG', () => {
  it('stands in the header of its frame, after any other segments', () => {
    expect(jpegSize(jpeg(application, frame(0xc0, 1600, 900)))).toEqual({ width: 1600, height: 900 })
    expect(jpegSize(jpeg(frame(0xc2, 300, 4000)))).toEqual({ width: 300, height: 4000 })
  })
  it('is not read from a table that has a marker like a frame', () => {
    expect(jpegSize(jpeg(frame(0xc4, 7, 7), frame(0xc1, 20, 10)))).toEqual({ width: 20, height: 10 })
  })
  it('is unknown for what is no JPEG, cut off, or without a picture', () => {
    expect(jpegSize(new Uint8Array())).toBeUndefined()
    expect(jpegSize(Uint8Array.from([0x89, 0x50, 0x4e, 0x47]))).toBeUndefined()
    expect(jpegSize(jpeg(application, frame(0xc0, 1600, 900)).slice(0, -2))).toBeUndefined()
    expect(jpegSize(jpeg(application))).toBeUndefined()
    expect(jpegSize(jpeg(frame(0xc0, 0, 900)))).toBeUndefined()
    // A segment of length zero must not hold the reader up.
    expect(jpegSize(jpeg([0xff, 0xe1, 0, 0], [0xff, 0xe1, 0, 0]))).toBeUndefined()
  })
})
