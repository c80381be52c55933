import { createWriteStream } from 'node:fs'
import { Readable, Transform } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import busboy from 'busboy'
import pLimit, { type LimitFunction } from 'p-limit'
import { answering } from '#app/http'
import { withTemporaryFile } from '#server/base'

/** What a form with a file brought: the file's place on the disk, and the other fields. */
export interface Upload {
  readonly file: string
  readonly fields: ReadonlyMap<string, string>
}

/** Uploads that are received at once, which costs little, and those of them that are worked on. */
const MOST_RECEIVED = 40
const MOST_AT_ONCE = 3
/** An upload has to bring so many bytes a second on average, after a while that any network may take, and to be over in so long. */
const LEAST_RATE = 16 * 1024
const GRACE_MS = 10_000
const LONGEST_MS = 10 * 60_000
const MB = 1024 * 1024
/** One count for the process, however often this module is loaded. */
const shared = globalThis as typeof globalThis & { wexmarUploads?: { received: number; work: LimitFunction } }
shared.wexmarUploads ??= { received: 0, work: pLimit(MOST_AT_ONCE) }
const uploads = shared.wexmarUploads

const refuse = (status: number, error: string) => Response.json({ error }, { status })

/**
 * Takes the file of a form to the disk while it arrives, and does something with it. In: request, largest file in bytes. Out: the answer
 * of the work, or one that says what is wrong with the form; the file is gone afterwards.
 */
export const withUpload = async (
  request: Request,
  largest: number,
  work: (upload: Upload) => Promise<Response>,
): Promise<Response> => {
  if (uploads.received >= MOST_RECEIVED)
    return refuse(503, 'Other files are being imported. Try again in a moment. Nothing was stored.')
  uploads.received++
  let receiving = true
  const received = () => {
    if (receiving) uploads.received--
    receiving = false
  }
  try {
    return await withTemporaryFile(async (file) => {
      const fields = new Map<string, string>()
      const wrong = await receive(request, largest, file, fields)
      received()
      return wrong ?? uploads.work(() => answering(() => work({ file, fields })))
    })
  } finally {
    received()
  }
}

/** Ends an upload that is too slow for others to wait behind. Out: signal, what counts bytes, what ends the watch. */
const watchRate = () => {
  const slow = new AbortController()
  const begun = performance.now()
  let bytes = 0
  const timer = setInterval(() => {
    const gone = performance.now() - begun
    if (gone > LONGEST_MS || (gone > GRACE_MS && bytes < (LEAST_RATE * gone) / 1000)) slow.abort()
  }, 1_000)
  const count = new Transform({
    transform: (piece: Buffer, _, done) => {
      bytes += piece.length
      done(null, piece)
    },
  })
  return { signal: slow.signal, count, end: () => clearInterval(timer) }
}

/** Writes the file of a form to the disk. Out: an answer that says what is wrong, or undefined. */
const receive = async (
  request: Request,
  largest: number,
  file: string,
  fields: Map<string, string>,
): Promise<Response | undefined> => {
  const torn = () => refuse(400, 'The form cannot be read. Nothing was stored.')
  let parser: busboy.Busboy
  try {
    parser = busboy({
      headers: Object.fromEntries(request.headers),
      limits: { files: 1, fileSize: largest, fields: 20, fieldSize: 64 * 1024, parts: 25 },
    })
  } catch {
    // It is no form, or its boundary is missing.
    return torn()
  }
  if (!request.body) return torn()
  let written: Promise<void> | undefined
  let cut = false
  parser.on('field', (name, value) => fields.set(name, value))
  parser.on('file', (name, stream) => {
    if (name !== 'file') {
      stream.resume()
      return
    }
    stream.on('limit', () => {
      cut = true
    })
    written = pipeline(stream, createWriteStream(file))
    // It is waited for below; until then a failure is not to be taken for one that nobody hears.
    written.catch(() => undefined)
  })
  const rate = watchRate()
  try {
    await pipeline(Readable.fromWeb(request.body as never), rate.count, parser, { signal: rate.signal })
  } catch (error) {
    console.error(`upload: ${(error as Error).message}`)
    return rate.signal.aborted
      ? refuse(
          408,
          'The upload was too slow and was ended, so that others need not wait. Nothing was stored.',
        )
      : torn()
  } finally {
    rate.end()
  }
  if (!written) return refuse(400, 'Choose a file first. Nothing was stored.')
  try {
    await written
  } catch (error) {
    const full = (error as NodeJS.ErrnoException).code === 'ENOSPC'
    console.error(`upload: ${(error as Error).message}`)
    return full ? refuse(507, 'The disk is full. Make room, then try again. Nothing was stored.') : torn()
  }
  return cut
    ? refuse(
        413,
        `The file is larger than ${largest >= MB ? `${largest / MB} MB` : `${largest / 1024} kB`}. Nothing was stored.`,
      )
    : undefined
}
