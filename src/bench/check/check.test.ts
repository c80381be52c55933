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
const findings = async (url: string): Promise<Finding[]> => {
  const all: Finding[] = []
  for await (const finding of checkBench(url)) all.push(finding)
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
