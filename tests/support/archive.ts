import { readFile, writeFile } from 'node:fs/promises'
import { type Context, exportUnit, importUnit, withTemporaryFile } from '#server'

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
