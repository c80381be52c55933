import { createWriteStream } from 'node:fs'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import busboy from 'busboy'
import { answering } from '#app/http'
import { withTemporaryFile } from '#server'

/** What a form with a file brought: the file's place on the disk, and the other fields. */
export interface Upload {
  readonly file: string
  readonly fields: ReadonlyMap<string, string>
}

/** Uploads that are taken at once. */
const MOST_AT_ONCE = 3
const MB = 1024 * 1024
/** One count for the process, however often this module is loaded. */
const shared = globalThis as typeof globalThis & { wexmarUploads?: number }

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
  const going = shared.wexmarUploads ?? 0
  if (going >= MOST_AT_ONCE)
    return refuse(503, 'Other files are being taken in. Try again in a moment. Nothing was stored.')
  shared.wexmarUploads = going + 1
  try {
    return await withTemporaryFile(async (file) => {
      const fields = new Map<string, string>()
      const wrong = await receive(request, largest, file, fields)
      return wrong ?? answering(() => work({ file, fields }))
    })
  } finally {
    shared.wexmarUploads = (shared.wexmarUploads ?? 1) - 1
  }
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
  try {
    await pipeline(Readable.fromWeb(request.body as never), parser)
  } catch (error) {
    console.error(`upload: ${(error as Error).message}`)
    return torn()
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
