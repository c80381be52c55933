/** Bytes that begin a JPEG (ISO/IEC 10918-1, start of image and the marker after it), and that end one. */
const START = [0xff, 0xd8, 0xff] as const
const END = [0xff, 0xd9] as const

/** Markers of a frame's header: SOF0 to SOF15 without the tables and the extension that lie among them. */
const isFrame = (marker: number) => marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker)

/**
 * Size of a JPEG picture. In: bytes of a file. Out: width and height in pixels, or undefined where it is no whole JPEG.
 * Source: ISO/IEC 10918-1, annex B.
 */
export const jpegSize = (bytes: Uint8Array): { width: number; height: number } | undefined => {
  if (!START.every((b, i) => bytes[i] === b)) return undefined
  if (!END.every((b, i) => bytes[bytes.length - END.length + i] === b)) return undefined
  const word = (at: number) => (bytes[at]! << 8) | bytes[at + 1]!
  for (let at = 2; at + 9 < bytes.length && bytes[at] === 0xff; ) {
    const marker = bytes[at + 1]!
    if (isFrame(marker)) {
      const [height, width] = [word(at + 5), word(at + 7)]
      return width > 0 && height > 0 ? { width, height } : undefined
    }
    // A segment says its own length, without the marker.
    at += 2 + Math.max(2, word(at + 2))
  }
  return undefined
}
