import { LARGEST_PHOTO } from '#core/entry'

/** Longest edge of a photograph that is kept, pixels: labels of a menu are still read at it. */
const LONGEST_EDGE = 1600
/** Qualities and sizes that are tried, best first, until the file is small enough. */
const TRIES = [
  [1, 0.85],
  [1, 0.7],
  [1, 0.5],
  [0.7, 0.6],
  [0.5, 0.5],
] as const

/** A photograph that may be sent, and its size in pixels. */
export interface SmallJpeg {
  readonly jpeg: Blob
  readonly width: number
  readonly height: number
}

/**
 * A photograph as it is kept: upright, at most 1600 pixels along its longer edge, a JPEG of at most 400 kB, and without what the camera
 * wrote beside the picture (place, owner). In: a file that the browser can show. Out: the JPEG, or undefined where it is no picture.
 */
export const smallJpeg = async (file: Blob): Promise<SmallJpeg | undefined> => {
  let picture: ImageBitmap
  try {
    picture = await createImageBitmap(file)
  } catch {
    // Not a picture, or a kind that this browser does not know: whoever asked says so.
    return undefined
  }
  const fit = Math.min(1, LONGEST_EDGE / Math.max(picture.width, picture.height))
  try {
    for (const [scale, quality] of TRIES) {
      const canvas = new OffscreenCanvas(
        Math.max(1, Math.round(picture.width * fit * scale)),
        Math.max(1, Math.round(picture.height * fit * scale)),
      )
      canvas.getContext('2d')!.drawImage(picture, 0, 0, canvas.width, canvas.height)
      const jpeg = await canvas.convertToBlob({ type: 'image/jpeg', quality })
      if (jpeg.size <= LARGEST_PHOTO) return { jpeg, width: canvas.width, height: canvas.height }
    }
    return undefined
  } finally {
    picture.close()
  }
}
