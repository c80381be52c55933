import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { type Saved, type SaverState, saver } from './saver'

beforeEach(() => void vi.useFakeTimers())
afterEach(() => void vi.useRealTimers())

/** A server whose answers a test decides, and what was told of them. */
const against = (answer: (body: string, version: number) => Promise<Saved>) => {
  const told: SaverState[] = []
  const sent: string[] = []
  const stored: Array<[string, number]> = []
  const one = saver(
    (body, version) => {
      sent.push(body)
      return answer(body, version)
    },
    3,
    (state) => void told.push(state),
    (body, version) => void stored.push([body, version]),
  )
  return { one, told, sent, stored }
}

describe('words on their way to the server', () => {
  it('are stored with the version that they rest on', async () => {
    const { one, told, stored } = against(async (_, version) => ({ version: version + 1 }))
    one.put('a')
    expect(await one.flush()).toBe(true)
    one.put('b')
    await one.flush()
    expect(stored).toEqual([
      ['a', 4],
      ['b', 5],
    ])
    expect(told.at(-1)).toEqual({ kind: 'saved' })
  })

  it('are kept and sent again while nobody answers, and that is said', async () => {
    let away = true
    const { one, told, sent, stored } = against(async (_, version) => {
      if (away) throw new TypeError('Failed to fetch')
      return { version: version + 1 }
    })
    one.put('typed while it is away')
    await vi.advanceTimersByTimeAsync(500)
    expect(told.at(-1)).toMatchObject({ kind: 'unsent', problem: expect.stringMatching(/Not saved yet/) })
    expect(await one.flush()).toBe(false)
    await vi.advanceTimersByTimeAsync(120_000)
    expect(sent.length).toBeGreaterThan(4)
    away = false
    await vi.advanceTimersByTimeAsync(40_000)
    expect(stored).toEqual([['typed while it is away', 4]])
    expect(told.at(-1)).toEqual({ kind: 'saved' })
  })

  it('are sent again where an answer never comes', async () => {
    let hangs = true
    const { one, told, stored } = against((_, version) =>
      hangs ? new Promise<Saved>(() => undefined) : Promise.resolve({ version: version + 1 }),
    )
    one.put('a')
    await vi.advanceTimersByTimeAsync(19_000)
    expect(told.at(-1)).toEqual({ kind: 'saving' })
    hangs = false
    await vi.advanceTimersByTimeAsync(5_000)
    expect(stored).toEqual([['a', 4]])
  })

  it('are the newest where more was typed meanwhile, one request at a time', async () => {
    const waiting: Array<(saved: Saved) => void> = []
    const { one, sent, stored } = against(() => new Promise((resolve) => void waiting.push(resolve)))
    one.put('a')
    one.put('ab')
    one.put('abc')
    expect(sent).toEqual(['a'])
    waiting[0]!({ version: 4 })
    await vi.advanceTimersByTimeAsync(0)
    expect(sent).toEqual(['a', 'abc'])
    waiting[1]!({ version: 5 })
    await vi.advanceTimersByTimeAsync(0)
    expect(stored.at(-1)).toEqual(['abc', 5])
  })

  it('are not sent again where something is wrong with them, and count as not saved', async () => {
    const { one, told, sent } = against(async () => ({ error: 'Too long.' }))
    one.put('a')
    expect(await one.flush()).toBe(false)
    await vi.advanceTimersByTimeAsync(60_000)
    expect(sent).toEqual(['a'])
    expect(told.at(-1)).toMatchObject({ kind: 'typed', problem: 'Too long.' })
  })
})
