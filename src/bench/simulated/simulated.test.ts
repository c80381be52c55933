import type { AddressInfo } from 'node:net'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { benchClient } from '#bench/client'
import {
  type BenchMemory,
  benchServer,
  emit,
  MAREN,
  METER,
  makeBench,
  makeMeter,
  makeUnit,
  readingSeconds,
  SHELF,
} from '#bench/simulated'
import { xyzToXy } from '#core/colorimetry'
import { factoryState, type State } from '#core/display'
import { grey, RED } from '#core/measure'

const unit = makeUnit(MAREN, 3)
const factory = factoryState(MAREN.sheet)
const quiet: State = { ...factory, 'room-eye': 'off', thrift: 'off', 'curve-lift': 'off' }
const at = (level: number, state = quiet) => emit(unit, state, [level, level, level], 1e6)

describe('the simulated display', () => {
  it('gives more light the higher the signal and the luminance control', () => {
    for (let l = 0.1; l < 1; l += 0.1) expect(at(l + 0.1)[1]).toBeGreaterThan(at(l)[1])
    for (let v = 0; v < 100; v += 5)
      expect(at(1, { ...quiet, 'panel-light': v + 5 })[1]).toBeGreaterThan(
        at(1, { ...quiet, 'panel-light': v })[1],
      )
  })
  it('comes blue and far too bright for a dark room', () => {
    expect(xyzToXy(at(1))[0]).toBeLessThan(0.305)
    expect(at(1)[1]).toBeGreaterThan(300)
  })
  it('has a black that is not nothing and follows the panel light', () => {
    expect(at(1)[1] / at(0)[1]).toBeGreaterThan(2000)
    expect(at(0, { ...quiet, 'panel-light': 10 })[1]).toBeLessThan(at(0)[1])
  })
  it('moves one channel with one gain, bright levels more than dark, and dark ones with a cut', () => {
    const change = (level: number, key: string) => at(level, { ...quiet, [key]: -10 })[2] / at(level)[2] - 1
    expect(change(1, 'gain-blue')).toBeLessThan(-0.05)
    expect(change(0.2, 'cut-blue')).toBeLessThan(5 * change(1, 'cut-blue'))
    expect(at(1, { ...quiet, 'gain-blue': -10 })[0] / at(1)[0]).toBeGreaterThan(0.9)
  })
  it('moves black, not light, with the control whose label promises light', () => {
    const lifted = { ...quiet, 'black-level': 8 }
    expect(at(0, lifted)[1]).toBeGreaterThan(1.05 * at(0)[1])
    expect(Math.abs(at(1, lifted)[1] / at(1)[1] - 1)).toBeLessThan(0.001)
  })
  it('does not rest while its sensor is on', () => {
    const white = (seconds: number) => emit(unit, { ...quiet, 'room-eye': 'on' }, [1, 1, 1], seconds)[1]
    expect(Math.abs(white(1e6) / white(1e6 + 60) - 1)).toBeGreaterThan(0.01)
  })
  it('is a different one with another seed, the same with the same', () => {
    expect(makeUnit(MAREN, 3)).toEqual(unit)
    expect(makeUnit(MAREN, 4).channelAmounts).not.toEqual(unit.channelAmounts)
  })
})

describe('the simulated meter', () => {
  it('scatters as it states', () => {
    const meter = makeMeter(1)
    const reads = Array.from({ length: 2000 }, () => meter.read([95, 100, 108])[1])
    const mean = reads.reduce((a, b) => a + b) / reads.length
    const sigma = Math.sqrt(reads.reduce((s, r) => s + (r - mean) ** 2, 0) / reads.length)
    expect(mean).toBeCloseTo(100, 1)
    expect(sigma / (100 * METER.precision.relative)).toBeCloseTo(1, 0)
  })
  it('takes longer in the dark', () => {
    expect(readingSeconds(0.02)).toBeGreaterThan(3 * readingSeconds(100))
  })
})

describe('the simulated bench over HTTP', () => {
  let memory: BenchMemory | undefined
  const make = (kept?: BenchMemory) =>
    makeBench({
      shelf: SHELF,
      seed: 1,
      speed: 0,
      memory: kept && structuredClone(kept),
      sleep: async () => undefined,
      keep: (m) => {
        memory = structuredClone(m)
      },
    })
  const server = benchServer(make())
  let client: ReturnType<typeof benchClient>
  beforeAll(async () => {
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
    client = benchClient(`http://127.0.0.1:${(server.address() as AddressInfo).port}`)
  })
  afterAll(() => new Promise((resolve) => server.close(resolve)))
  const value = <T>(result: { ok: true; value: T } | { ok: false; failure: { message: string } }): T => {
    if (!result.ok) throw new Error(result.failure.message)
    return result.value
  }

  it('says what is on it', async () => {
    expect(value(await client.describe())).toMatchObject({
      protocol: 'wexmar-bench/1',
      display: { maker: 'Ostrel', serial: SHELF[0].serial },
      simulated: true,
    })
    expect(value(await client.sheet())).toEqual(MAREN.sheet)
  })
  it('sets, refuses with a reason, and resets', async () => {
    expect(value(await client.set('panel-light', 20))).toEqual({ value: 20 })
    expect(value(await client.state())['panel-light']).toBe(20)
    const refused = await client.set('panel-light', 101)
    expect(refused).toMatchObject({
      ok: false,
      failure: { kind: 'refused', message: expect.stringMatching(/0 to 100/) },
    })
    expect(await client.set('ghost', 1)).toMatchObject({ ok: false, failure: { kind: 'refused' } })
    expect(value(await client.reset()).state).toEqual(factory)
  })
  it('reads what the pattern source shows', async () => {
    await client.show(grey(100))
    const white = value(await client.read()).xyz as number[]
    await client.show(RED)
    const red = value(await client.read()).xyz as number[]
    expect(white[1]).toBeGreaterThan(3 * red[1]!)
    expect(red[0]! / red[1]!).toBeGreaterThan(1.5)
  })
  it('plays the faults that are asked for, as often as asked', async () => {
    await client.simulate({
      faults: [
        { kind: 'meter-timeout', times: 1 },
        { kind: 'meter-negative', times: 1 },
      ],
    })
    expect(await client.read()).toMatchObject({ ok: false, failure: { kind: 'timeout' } })
    expect((value(await client.read()).xyz as number[])[1]).toBeLessThan(0)
    expect((value(await client.read()).xyz as number[])[1]).toBeGreaterThan(0)
    await client.simulate({ faults: [{ kind: 'control-refuses', times: 1, control: 'curve' }] })
    expect(value(await client.set('panel-light', 30))).toEqual({ value: 30 })
    expect(await client.set('curve', 'deeper')).toMatchObject({ ok: false, failure: { kind: 'refused' } })
    expect(value(await client.set('curve', 'deeper'))).toEqual({ value: 'deeper' })
  })
  it('answers nonsense with a reason and never falls over', async () => {
    const send = (method: string, path: string, body?: string) =>
      fetch(new URL(path, client.base), { method, body }).then(
        async (r) => [r.status, await r.json()] as const,
      )
    expect(await send('PUT', 'v1/pattern', '{')).toMatchObject([400, { error: { code: 'bad-request' } }])
    expect(await send('PUT', 'v1/pattern', '{"codes":[1,2]}')).toMatchObject([
      400,
      { error: { code: 'bad-request' } },
    ])
    expect(await send('GET', 'v2')).toMatchObject([404, { error: { code: 'not-found' } }])
    expect(await client.simulate({ onStand: 'nobody' })).toMatchObject({ ok: false })
  })
  it('goes on after its process was replaced as if it had not been', async () => {
    await client.show(grey(50))
    const [one, two] = [make(memory), make(memory)]
    const a = [await one.read(), await one.read()]
    const first = await two.read()
    const b = [first, await make(memory).read()]
    expect(b).toEqual(a)
  })
  it('says that nothing is there when nothing is', async () => {
    expect(await benchClient('http://127.0.0.1:9').describe()).toMatchObject({
      ok: false,
      failure: { kind: 'away', message: expect.stringMatching(/No bench answers/) },
    })
  })
})
