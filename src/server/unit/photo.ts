import sharp from 'sharp'
import { LARGEST_PHOTO } from '#core/entry'
import { jpegShape } from '#core/formats'
import { bad, good, type Result } from '../base/result'

/** Longest side that a photograph is kept with, and most pixels that one is opened with: more is no photograph of a display. */
const LONGEST_SIDE = 2400
const MOST_PIXELS = 60_000_000
/** How well it is drawn again: less where it would not fit. */
const QUALITIES = [88, 75, 60, 40]

/** A photograph as it is kept: a picture and nothing else. */
export interface KeptPhoto {
  readonly jpeg: Uint8Array
  /** Pixels. */
  readonly width: number
  readonly height: number
}

/**
 * Draws a photograph again, so that nothing is kept of where, when and with what it was taken. One that holds nothing but its picture stays as it is.
 * In: bytes of a JPEG. Out: the picture, turned as it was held; or what is wrong with it.
 */
export const keptPhoto = async (bytes: Uint8Array): Promise<Result<KeptPhoto>> => {
  const shape = jpegShape(bytes)
  if (!shape) return bad('The file is not a JPEG picture, or it is cut off.')
  const { width, height, bare } = shape
  if (width * height > MOST_PIXELS)
    return bad(
      `The photo has ${width} × ${height} pixels; at most 60 million are taken. Save it smaller first.`,
    )
  if (bare && Math.max(width, height) <= LONGEST_SIDE && bytes.length <= LARGEST_PHOTO)
    return good({ jpeg: bytes, width, height })
  try {
    for (const quality of QUALITIES) {
      const { data, info } = await sharp(bytes, { limitInputPixels: MOST_PIXELS, failOn: 'truncated' })
        .rotate()
        .resize({ width: LONGEST_SIDE, height: LONGEST_SIDE, fit: 'inside', withoutEnlargement: true })
        .jpeg({ quality })
        .toBuffer({ resolveWithObject: true })
      if (data.length <= LARGEST_PHOTO)
        return good({ jpeg: new Uint8Array(data), width: info.width, height: info.height })
    }
    return bad(`The photo stays larger than ${LARGEST_PHOTO / 1024} kB however it is drawn.`)
  } catch (error) {
    return bad(`The photo cannot be read: ${(error as Error).message.split('\n')[0]}.`)
  }
}
