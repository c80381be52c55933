import { randomUUID } from 'node:crypto'
import { mkdir, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

/** Where files lie for a moment: in the data folder, where the supervisor says so. */
export const temporaryFolder = (): string => process.env.WEXMAR_TEMP ?? join(tmpdir(), 'wexmar')

/** A file that is gone when the work with it is done. */
export const withTemporaryFile = async <T>(work: (file: string) => Promise<T>): Promise<T> => {
  const folder = temporaryFolder()
  await mkdir(folder, { recursive: true })
  const file = join(folder, randomUUID())
  try {
    return await work(file)
  } finally {
    await rm(file, { force: true })
  }
}
