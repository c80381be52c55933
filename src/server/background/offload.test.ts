import { mkdtemp, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, it } from 'vitest'
import { makePool } from './offload'

/** Answers at once, and has something to do afterwards, while nothing is asked of the thread. */
const PROGRAM = `module.exports = (shared) => {
  setTimeout(() => Atomics.store(new Int32Array(shared), 0, 1), 50)
}`

it('a thread that waits for work hears its timers and sockets', async () => {
  const folder = await mkdtemp(join(tmpdir(), 'wexmar-thread-'))
  const file = join(folder, 'later.cjs')
  await writeFile(file, PROGRAM)
  const pool = makePool(64, file)
  try {
    const shared = new SharedArrayBuffer(4)
    await pool.run(shared)
    await expect.poll(() => Atomics.load(new Int32Array(shared), 0), { timeout: 10_000 }).toBe(1)
  } finally {
    await pool.destroy()
    await rm(folder, { recursive: true })
  }
})
