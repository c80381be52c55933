import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { afterEach, describe, expect, it } from 'vitest'
import { checkBench, type Finding } from '#bench/check'
import { benchServer, makeBench, SHELF, type ShelfUnit } from '#bench/simulated'

const servers: Server[] = []
const listen = async (server: Server): Promise<string> => {
  servers.push(server)
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  return `http://127.0.0.1:${(server.address() as AddressInfo).port}`
}
afterEach(() => {
  for (const server of servers.splice(0)) server.close()
})
const findings = async (url: string, mayReset = false): Promise<Finding[]> => {
  const all: Finding[] = []
  for await (const finding of checkBench(url, true, mayReset)) all.push(finding)
  return all
}
const simulated = (unit: ShelfUnit) =>
  makeBench({ shelf: [unit], seed: 1, speed: 0, sleep: async () => undefined, keep: () => undefined })

describe('the contract suite', () => {
  it.each(SHELF.map((u) => [u.serial, u] as const))(
    'finds nothing wrong with the simulated %s',
    async (_, unit) => {
      const bench = simulated(unit)
      const before = bench.state()
      const all = await findings(await listen(benchServer(bench)))
      expect(all.filter((f) => f.verdict === 'broken')).toEqual([])
      expect(all.filter((f) => f.verdict === 'kept').length).toBeGreaterThan(20)
      expect(bench.state()).toEqual(before)
    },
  )
  it('tries resets only where it may, and puts back what they took', async () => {
    const bench = simulated(SHELF[0])
    await bench.set('panel-light', 40)
    const before = bench.state()
    const url = await listen(benchServer(bench))
    const resets = (all: Finding[]) => all.filter((f) => /reset/.test(f.promise)).map((f) => f.verdict)
    expect(resets(await findings(url))).toEqual(['kept', 'not-tried'])
    expect(resets(await findings(url, true))).toEqual(['kept', 'kept', 'kept', 'kept'])
    expect(bench.state()).toEqual(before)
  })
  it('finds a display that forgets what it keeps by mode, and one that takes any choice and any reset', async () => {
    const honest = simulated(SHELF[0])
    const forgetful = {
      ...honest,
      set: async (key: string, value: string | number) => {
        const answer = await honest.set(key, value)
        const mode = SHELF[0].spec.sheet.controls.find((c) => c.role === 'picture-mode')!
        if (key === mode.key) await honest.reset({ mode: String(value) })
        return answer.ok || typeof value === 'number' ? answer : { ok: true as const, value: { value } }
      },
      reset: async () => honest.reset(),
    }
    const all = await findings(await listen(benchServer(forgetful)))
    expect(all.filter((f) => f.verdict === 'broken').map((f) => f.promise)).toEqual(
      expect.arrayContaining([
        'a value that is stored with the picture mode is there again after another mode',
        'a choice that the sheet does not have is refused',
        'a reset of a mode that does not exist is refused',
      ]),
    )
  })
  it('finds each lie of a bench that lies', async () => {
    const honest = simulated(SHELF[0])
    const liar = {
      ...honest,
      set: async (key: string, value: string | number) => {
        await honest.set(key, value)
        return { ok: true as const, value: { value: 1 } }
      },
      read: async () => ({
        ok: true as const,
        value: { xyz: ['a', 'b'], samples: 1, seconds: 1, clock: 1, flags: [] },
      }),
      state: () => ({ state: { ...honest.state().state, 'panel-light': 900 } }),
    }
    const all = await findings(await listen(benchServer(liar)))
    const wrong = all.filter((f) => f.verdict === 'broken').map((f) => f.promise)
    expect(wrong).toEqual(
      expect.arrayContaining([
        'the state has a permitted value for every control of the sheet',
        'a control is set to the value asked for',
        'a value outside the range is refused',
        'the meter reads three numbers in cd/m²',
        'a slot that does not exist is not-found',
      ]),
    )
  })
  it('takes a web page, an older version or silence for what they are', async () => {
    const page = await listen(createServer((_, response) => response.end('<html>')))
    expect((await findings(page))[0]).toMatchObject({
      verdict: 'broken',
      detail: expect.stringContaining('content-type'),
    })
    const silent = await findings('http://127.0.0.1:9')
    expect(silent).toHaveLength(1)
    expect(silent[0]?.verdict).toBe('broken')
  })
})
