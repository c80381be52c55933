import { createHash } from 'node:crypto'
import { mkdir, readdir, rm, stat } from 'node:fs/promises'
import { join } from 'node:path'
import { PATTERN_SIZE, visualPattern } from '#core/pattern'
import type { Context } from '../base/context'
import { temporaryFolder } from '../base/temporary-file'
import { revisionAt } from '../guide/revisions'
import { doJob } from './offload'
import type { PqPicture } from './pq-picture'

/** Pictures that are drawn or wait for it at once, and bytes of them that are kept. */
const MOST_AT_ONCE = 6
const MOST_KEPT = 100 * 1024 * 1024

/** One list for the process, however often this module is loaded. */
const shared = globalThis as typeof globalThis & { wexmarDrawing?: Map<string, Promise<unknown>> }
shared.wexmarDrawing ??= new Map()
const drawing = shared.wexmarDrawing

/** A picture of a pattern as a file, drawn where it was not yet; `busy` where too many are being drawn. */
export const pictureFile = async (
  ctx: Context,
  key: string,
  width: number,
  height: number,
): Promise<Drawn | 'busy' | undefined> => {
  const pattern = visualPattern(key)
  if (!pattern) return undefined
  // What is drawn hangs on the painter's own text too: a mended pattern is another picture.
  const mark = createHash('sha256')
    .update(JSON.stringify([pattern.key, width, height, PATTERN_SIZE, String(pattern.paint)]))
    .digest('hex')
    .slice(0, 24)
  return drawn(mark, (file) => doJob(ctx, { kind: 'picture', pattern: key, width, height, file }))
}

/** A patch of PQ as a PNG file, drawn where it was not yet; `busy` where too many are being drawn. */
export const pqPictureFile = (ctx: Context, asked: Omit<PqPicture, 'file'>): Promise<Drawn | 'busy'> =>
  drawn(
    createHash('sha256')
      .update(JSON.stringify(['pq', asked]))
      .digest('hex')
      .slice(0, 24),
    (file) => doJob(ctx, { kind: 'pq-picture', ...asked, file }),
  )

/** Turns of what is drawn from a guide: counted up where a card or a sheet is drawn in another way, so that none of an earlier version is shown. */
const DRAWN_AS = 1

/**
 * A public guide as a file, drawn where it was not yet; `busy` where too many are being drawn; undefined where no guide is public at the address. `card`:
 * its card as PNG; `pdf`: its sheets; `json`: its data with its readings; `zip`: these as an archive.
 */
export const guideFile = async (
  ctx: Context,
  kind: 'card' | 'pdf' | 'json' | 'zip',
  slug: string,
): Promise<Drawn | 'busy' | undefined> => {
  const guide = await ctx.db.guides.findOne({ where: { slug } })
  const revision = guide && guide.withdrawnAt === null ? await revisionAt(ctx, guide) : null
  if (!revision) return undefined
  const { id, publishedAt } = revision
  return drawn(
    `guide-${id}-${new Date(publishedAt).getTime()}-${DRAWN_AS}`,
    (file) => doJob(ctx, { kind, revisionId: id, file }),
    kind === 'card' ? 'png' : kind,
  )
}

/** A picture as a file, and what tells it from any other. */
interface Drawn {
  readonly file: string
  readonly mark: string
}

/** The file of a mark: as it is there, or drawn now. */
const drawn = async (
  name: string,
  draw: (file: string) => Promise<unknown>,
  ending = 'png',
): Promise<Drawn | 'busy'> => {
  const folder = join(temporaryFolder(), 'pictures')
  const mark = `${name}-${ending}`
  const file = join(folder, `${name}.${ending}`)
  if (await isThere(file)) return { file, mark }
  let work = drawing.get(mark)
  if (!work) {
    if (drawing.size >= MOST_AT_ONCE) return 'busy'
    work = mkdir(folder, { recursive: true })
      .then(() => sweep(folder))
      .then(() => draw(file))
      .finally(() => drawing.delete(mark))
    drawing.set(mark, work)
  }
  await work
  return { file, mark }
}

const isThere = (file: string): Promise<boolean> =>
  stat(file).then(
    () => true,
    () => false,
  )

/** Removes the oldest pictures where they are too many. */
const sweep = async (folder: string): Promise<void> => {
  const files = await Promise.all(
    (await readdir(folder)).map(async (name) => {
      const file = join(folder, name)
      // Another sweep may have been quicker.
      const found = await stat(file).catch(() => undefined)
      return { file, at: found?.mtimeMs ?? 0, bytes: found?.size ?? 0 }
    }),
  )
  let bytes = files.reduce((sum, f) => sum + f.bytes, 0)
  for (const { file, bytes: own } of files.sort((a, b) => a.at - b.at)) {
    if (bytes <= MOST_KEPT) return
    await rm(file, { force: true })
    bytes -= own
  }
}
