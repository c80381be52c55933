import { readFile, writeFile } from 'node:fs/promises'
import { type Context, withTemporaryFile } from '#server/base'
import { exportUnit, importUnit } from '#server/files'

/** A unit's archive as bytes. */
export const archiveOf = (ctx: Context, unit: number): Promise<Uint8Array> =>
  withTemporaryFile(async (file) => {
    const saved = await exportUnit(ctx, unit, file)
    if (!saved?.ok) throw new Error(saved?.error ?? `no unit ${unit}`)
    return new Uint8Array(await readFile(file))
  })

/** Imports an archive from its bytes. */
export const importBytes = (ctx: Context, bytes: Uint8Array) =>
  withTemporaryFile(async (file) => {
    await writeFile(file, bytes)
    return importUnit(ctx, file)
  })
