/** A JPEG picture as its segments tell it. */
export interface JpegShape {
  /** Pixels. */
  readonly width: number
  readonly height: number
  /** It holds a picture and nothing else: no place, time or camera, no comment, nothing behind its end. */
  readonly bare: boolean
}

/** Markers of a frame's header: SOF0 to SOF15 without the tables and the extension that lie among them. */
const isFrame = (marker: number) => marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker)
const SCAN = 0xda
const END = 0xd9
/** Segments of an application, but the first, which only names the format; and comments. */
const tellsMore = (marker: number) => (marker >= 0xe1 && marker <= 0xef) || marker === 0xfe
/** Within a scan: a byte that only looks like a marker, and marks that a scan goes on after. */
const goesOn = (marker: number) => marker === 0 || (marker >= 0xd0 && marker <= 0xd7)

/**
 * Size of a JPEG picture, and whether it holds anything beside the picture. In: bytes of a file. Out: its shape, or undefined where it is no whole JPEG.
 * Source: ISO/IEC 10918-1, annex B.
 */
export const jpegShape = (bytes: Uint8Array): JpegShape | undefined => {
  if (bytes[0] !== 0xff || bytes[1] !== 0xd8) return undefined
  const word = (at: number) => (bytes[at]! << 8) | bytes[at + 1]!
  let size: { width: number; height: number } | undefined
  let bare = true
  for (let at = 2; at + 1 < bytes.length; ) {
    if (bytes[at] !== 0xff) return undefined
    const marker = bytes[at + 1]!
    if (marker === END)
      return size && size.width > 0 && size.height > 0
        ? { ...size, bare: bare && at + 2 === bytes.length }
        : undefined
    if (isFrame(marker)) size = { height: word(at + 5), width: word(at + 7) }
    if (tellsMore(marker)) bare = false
    // A segment says its own length, without the marker.
    at += 2 + Math.max(2, word(at + 2))
    if (marker === SCAN)
      while (at + 1 < bytes.length && !(bytes[at] === 0xff && !goesOn(bytes[at + 1]!))) at++
  }
  return undefined
}
