import { describe, expect, it } from 'vitest'
import { startChild } from '#ops/child'
import { hangWatch, type MainThread, mainThreadOf } from '#ops/hang'

/** Looks until it is said to hang. In: what is seen at each look. Out: how many it took; undefined where it never did. */
const looksUntil = (seen: (look: number) => MainThread, most = 500): number | undefined => {
  const watch = hangWatch()
  for (let look = 0; look < most; look++) if (watch.look(seen(look))) return look
  return undefined
}

describe('a process without a sign of life', () => {
  it('that gets no time from the machine does not hang, however long it waits', () => {
    expect(looksUntil((look) => ({ state: 'R', used: look * 0.03 }))).toBeUndefined()
    expect(looksUntil(() => ({ state: 'R', used: 4 }))).toBeUndefined()
    expect(looksUntil(() => ({ state: 'D', used: 4 }))).toBeUndefined()
  })
  it('hangs where it has used much time of its own, or waits for nothing', () => {
    expect(looksUntil((look) => ({ state: 'R', used: look }))).toBe(20)
    expect(looksUntil((look) => ({ state: 'R', used: look / 4 }))).toBe(80)
    expect(looksUntil(() => ({ state: 'T', used: 4 }))).toBe(19)
  })
  it('is believed again at its next sign of life', () => {
    const watch = hangWatch()
    for (let look = 0; look < 100; look++) {
      expect(watch.look({ state: 'R', used: look })).toBe(false)
      if (look % 15 === 0) watch.beat()
    }
  })
})

it('processor time of a process is its own', async () => {
  const busy = startChild('busy', [process.execPath, '-e', 'for (;;);'], { log: '/dev/null' })
  await expect.poll(() => mainThreadOf(busy.pid)?.used ?? 0, { timeout: 15_000 }).toBeGreaterThan(0.3)
  expect(mainThreadOf(busy.pid)?.state).toBe('R')
  await busy.stop(10)
  expect(mainThreadOf(busy.pid)).toBeUndefined()
})
