/**
 * Loaded before each process of Wexmar's: it tells the supervisor every second that its loop turns, and ends the process when the
 * supervisor is gone, so that nothing is left behind by a start that was killed. Output that cannot be written any more, as on a full
 * disk, ends nothing.
 */
import { isMainThread } from 'node:worker_threads'

const BEAT_MS = 1_000

for (const stream of [process.stdout, process.stderr]) stream.on('error', () => undefined)

if (isMainThread && process.send) {
  const beat = setInterval(() => {
    // The channel may close between two beats; `disconnect` says so.
    if (process.connected) process.send?.('beat', () => undefined)
  }, BEAT_MS)
  beat.unref()
  process.on('disconnect', () => {
    clearInterval(beat)
    process.kill(process.pid, 'SIGTERM')
    setTimeout(() => process.kill(process.pid, 'SIGKILL'), 5_000).unref()
  })
  process.channel?.unref()
}
