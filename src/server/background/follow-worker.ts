import { readFile } from 'node:fs/promises'
import { join } from 'node:path'

/** The worker that keeps a follow-along on a phone, in the build folder. */
export const followWorkerFile = (root: string, dist: string): string =>
  join(root, dist, 'processes', 'follow-worker.js')

/** The worker's program, as it was built. */
export const followWorker = (): Promise<Buffer> =>
  readFile(followWorkerFile(process.cwd(), process.env.WEXMAR_DIST ?? '.next'))
