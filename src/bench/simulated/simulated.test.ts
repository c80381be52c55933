import { request } from 'node:http'
import type { AddressInfo } from 'node:net'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { benchClient } from '#bench/client'
import { type BenchMemory, benchServer, makeBench, SHELF } from '#bench/simulated'
import { BT709_PRIMARIES, type ChromaticityUv, xyToUv, xyzToUv, xyzToXy } from '#core/colorimetry'
import { factoryState, type State } from '#core/display'
import { grey, type Patch, patternOf, sixColour } from '#core/measure'
import { PanelKind } from '#core/protocol'
import { SDR_SIGNAL } from '#core/signal'
import {
  emit,
  LANTERN,
  MAREN,
  METER,
  makeMeter,
  makeUnit,
  meterSees,
  PELT,
  readingSeconds,
  type SimulatedModel,
  SORREL,
  shine,
  TAVIN,
} from '#core/simulation'

const unit = makeUnit(MAREN, 3)
const factory = factoryState(MAREN.sheet)
const quiet: State = { ...factory, 'room-eye': 'off', thrift: 'off', 'curve-lift': 'off', zones: 'off' }
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

const apart = (a: ChromaticityUv, b: ChromaticityUv) => Math.hypot(a[0] - b[0], a[1] - b[1])
const MODELS = { MAREN, SORREL, TAVIN, PELT, LANTERN }
/** Light of a pattern on a unit of a model, warm and just put up; the state is the factory's with some changes. */
const see = (
  spec: SimulatedModel,
  patch: Patch,
  change: State = {},
  scene: Partial<Parameters<typeof shine>[1]> = {},
) => {
  const pattern = patternOf(patch, { ...SDR_SIGNAL, ...scene.pattern?.signal })
  const state = { ...factoryState(spec.sheet), ...change }
  return shine(makeUnit(spec, 3), {
    state,
    flagged: pattern.flags,
    onFor: 1e6,
    stillFor: 0,
    ...scene,
    pattern,
  })
}

describe('the five displays', () => {
  it.each(Object.entries(MODELS))(
    '%s rises from black to white and hides nothing of its sheet',
    (_, spec) => {
      const white = see(spec, grey(100))[1]
      let before = -1
      for (let level = 0; level <= 100; level += 5) {
        const [, Y] = see(spec, grey(level))
        expect(Y).toBeGreaterThan(before)
        before = Y
      }
      expect(white / see(spec, grey(0))[1]).toBeGreaterThan(800)
      expect(new Set(spec.sheet.controls.map((c) => c.role)).size).toBeGreaterThan(8)
    },
  )
  it.each(Object.entries(MODELS))('%s keeps each control’s word: what it names moves', (_, spec) => {
    const patches = [100, 70, 35, 20, 5, 2]
      .map(grey)
      .concat([
        sixColour('red'),
        sixColour('green'),
        sixColour('blue'),
        sixColour('cyan'),
        sixColour('magenta'),
        sixColour('yellow'),
      ])
    for (const signal of [
      SDR_SIGNAL,
      { ...SDR_SIGNAL, transfer: 'pq' as const, encoding: 'bt2020' as const },
    ]) {
      for (const control of spec.sheet.controls) {
        const needs = control.needs?.find((n) => 'signal' in n)
        const inHdr = needs !== undefined && 'signal' in needs && !needs.signal.includes('sdr')
        if (inHdr !== (signal.transfer === 'pq')) continue
        if (
          ['sharpness', 'motion', 'latency', 'variable-refresh', 'panel-care', 'dimming', 'range'].includes(
            control.role,
          )
        )
          continue
        const others =
          control.kind === 'number'
            ? [control.range.min, control.range.max]
            : control.choices.map((c) => c.value)
        const inState: State = control.role === 'gain' && spec === PELT ? { temperature: 'user' } : {}
        const own = control.level === undefined ? patches : [grey(100 * control.level)]
        const seen = others.map((value) =>
          own.map((p) =>
            see(spec, p, { ...inState, [control.key]: value }, { pattern: { ...patternOf(p, signal) } }),
          ),
        )
        const moved = new Set(seen.map((s) => JSON.stringify(s))).size
        expect(moved, control.key).toBeGreaterThan(1)
      }
    }
  })
  it('fits BT.709 into its own primaries where the gamut is automatic, and overshoots where it is open', () => {
    const distance = (reach: string) =>
      apart(xyzToUv(see(MAREN, sixColour('green'), { reach })), xyToUv(BT709_PRIMARIES[1]))
    expect(distance('automatic')).toBeLessThan(0.02)
    expect(distance('open')).toBeGreaterThan(1.4 * distance('automatic'))
  })
  it('self-emissive: gives less light the more of the screen is lit, and dims still pictures', () => {
    const window = (share: number) => see(SORREL, { ...grey(100), window: share }, { saver: 'off' })[1]
    expect(window(1)).toBeLessThan(0.75 * window(0.1))
    const still = (stillFor: number) => see(SORREL, grey(100), {}, { stillFor })[1]
    expect(still(300)).toBeLessThan(0.8 * still(30))
  })
  it('full-array: its zones darken black and glow beside white', () => {
    const black = (zones: string) => see(MAREN, grey(0), { zones })[1]
    expect(black('high')).toBeLessThan(black('low'))
    expect(black('low')).toBeLessThan(black('off'))
    const halo = see(MAREN, { ...grey(0), surround: [1, 1, 1] }, { zones: 'high' })[1]
    expect(halo).toBeGreaterThan(5 * black('high'))
  })
  it('projector: takes half an hour to settle', () => {
    const white = (onFor: number) => see(LANTERN, grey(100), {}, { onFor })[1]
    expect(white(0)).toBeLessThan(0.92 * white(1e6))
    expect(Math.abs(white(1800) / white(1e6) - 1)).toBeGreaterThan(0.01)
  })
  it('takes full for limited and limited for full as a real one does: grey blacks, or crushed ones', () => {
    const codes = { ...MAREN.sheet.controls.find((c) => c.role === 'range')! }.key
    const dark = (range: string) => see(MAREN, grey(4), { [codes]: range, zones: 'off' })[1]
    expect(dark('full')).toBeGreaterThan(3 * dark('limited'))
  })
  it('follows PQ in cd/m² up to the panel’s peak, three ways beyond it', () => {
    const pq = { ...SDR_SIGNAL, transfer: 'pq' as const, encoding: 'bt2020' as const }
    const level = (percent: number, peaks: string) =>
      see(
        SORREL,
        grey(percent),
        { peaks, look: 'neutral', emission: 100, saver: 'off' },
        {
          pattern: patternOf(grey(percent), pq),
        },
      )[1]
    // 58 % of PQ are 201 cd/m² (ST 2084).
    expect(level(58, 'exact') / 201).toBeGreaterThan(0.85)
    expect(level(58, 'exact') / 201).toBeLessThan(1.15)
    expect(level(90, 'exact')).toBeCloseTo(level(80, 'exact'), 0)
    expect(level(74, 'gentle')).toBeLessThan(level(74, 'exact'))
  })
})

describe('the simulated meter', () => {
  it('sees each kind of panel a little wrong, and right with the slot for that kind', () => {
    for (const kind of PanelKind.options) {
      const spec = Object.values(MODELS).find((m) => m.panelKind === kind)!
      const light = see(spec, sixColour('green'))
      const slot = METER.slots.find((s) => s.panelKind === kind)!.slot
      const away = (s: string | null) => apart(xyzToUv(meterSees(light, kind, s, 0)), xyzToUv(light))
      expect(away(slot)).toBeLessThan(1e-9)
      expect(away(null)).toBeGreaterThan(0.0005)
    }
  })
  it('loses its zero between dark calibrations', () => {
    const black = (hours: number) => meterSees([0, 0, 0], 'projector', null, hours)[1]
    expect(black(0)).toBe(0)
    expect(black(4)).toBeGreaterThan(0.001)
  })
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
      protocol: 'wexmar-bench/2',
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
    await client.show(sixColour('red'))
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
  it('keeps SDR and HDR apart, and modes, and shares white values between modes of one preset', async () => {
    const hdr = { ...SDR_SIGNAL, transfer: 'pq' as const, encoding: 'bt2020' as const }
    await client.set('scene', 'studio')
    await client.set('panel-light', 21)
    await client.set('gain-blue', -7)
    await client.set('scene', 'lounge')
    expect(value(await client.state())).toMatchObject({ 'panel-light': 84, 'gain-blue': -7 })
    await client.set('warmth', 'amber')
    expect(value(await client.state())['gain-blue']).toBe(0)
    await client.show(grey(50), hdr)
    expect(value(await client.state())).toMatchObject({ scene: 'daylight', 'panel-light': 84 })
    expect(await client.set('curve', 'lighter')).toMatchObject({
      failure: { message: expect.stringMatching(/only with SDR signals/) },
    })
    await client.show(grey(50))
    await client.set('scene', 'studio')
    expect(value(await client.state())['panel-light']).toBe(21)
    expect(value(await client.reset({ mode: 'studio' })).state['panel-light']).toBe(84)
  })
  it('says what it flagged, and shows it on the signal page', async () => {
    await client.simulate({ faults: [{ kind: 'flags-wrong-range', times: 1 }] })
    expect(value(await client.show(grey(50))).flagged.range).toBe('full')
    expect(value(await client.signal())?.range).toBe('full')
    expect(value(await client.show(grey(50))).flagged.range).toBe('limited')
  })
  it('loses power, says so, and comes back cold with its settings', async () => {
    await client.set('panel-light', 33)
    await client.simulate({ faults: [{ kind: 'power-loss', times: 1 }] })
    expect(await client.read()).toMatchObject({ failure: { message: expect.stringMatching(/power failed/) } })
    expect(value(await client.describe()).displayOnFor).toBeLessThan(60)
    expect(value(await client.state())['panel-light']).toBe(33)
    await client.simulate({ displayOnFor: 3000 })
  })
  it('averages, calibrates its zero, waits and times flashes', async () => {
    await client.show(grey(5))
    const clock = value(await client.wait(10)).seconds
    const many = value(await client.read({ samples: 4, slot: 'lcd-array' }))
    expect(many.samples).toBe(4)
    expect(many.clock - clock).toBeCloseTo(many.seconds, 6)
    expect(await client.read({ slot: 'ghost' })).toMatchObject({ failure: { kind: 'refused' } })
    expect(value(await client.darkCalibration()).seconds).toBe(12)
    const at = async (position: 'top' | 'bottom') =>
      value(await client.flashes({ rate: 60, position, flashes: 20 })).milliseconds
    expect((await at('bottom'))[0]! - (await at('top'))[0]!).toBeGreaterThan(10)
  })
  it('reads at a place of the screen: less light at the corners, the surround beside a window', async () => {
    const lightAt = async (x: number, y: number) =>
      (value(await client.read({ samples: 16, position: { x, y } })).xyz as number[])[1]!
    await client.show({ ...grey(75), window: 1 })
    const middle = await lightAt(0.5, 0.5)
    expect(await lightAt(0.02, 0.02)).toBeLessThan(0.95 * middle)
    await client.show(grey(75))
    expect(await lightAt(0.5, 0.5)).toBeGreaterThan(0.5 * middle)
    expect(await lightAt(0.1, 0.1)).toBeLessThan(0.05 * middle)
  })
  it('says how long a patch had stood, and for how long light was gathered', async () => {
    await client.show(grey(60))
    const first = value(await client.read())
    expect(first.sinceShown).toBeLessThan(1.5)
    await client.wait(20)
    const later = value(await client.read())
    expect(later.sinceShown! - first.sinceShown!).toBeCloseTo(20 + first.seconds, 1)
    expect(later.integration).toBe(later.seconds)
  })
  it('varies its rate within its bounds, which the signal page shows and shades near black feel', async () => {
    const shade = grey(2)
    await client.show(shade)
    const steady = (value(await client.trueLight()).xyz as number[])[1]!
    expect(value(await client.signal())?.variableRefresh).toBe(false)
    await client.show({ ...shade, variableRate: 45 })
    expect(value(await client.signal())?.variableRefresh).toBe(true)
    expect((value(await client.trueLight()).xyz as number[])[1]!).toBeGreaterThan(1.005 * steady)
    expect(await client.show({ ...shade, variableRate: 90 })).toMatchObject({
      failure: { message: expect.stringMatching(/from 40 to 60 Hz/) },
    })
  })
  it('says how many flashes its probe missed', async () => {
    const asked = { rate: 60, position: 'middle', flashes: 6 } as const
    expect(value(await client.flashes(asked)).missed).toBe(0)
    await client.simulate({ faults: [{ kind: 'probe-misses', times: 1 }] })
    const seen = value(await client.flashes(asked))
    expect([seen.milliseconds.length, seen.missed]).toEqual([4, 2])
  })
  it('answers nonsense with a reason and never falls over', async () => {
    const send = (method: string, path: string, body?: string) =>
      fetch(new URL(path, client.base), {
        method,
        body,
        headers: { 'content-type': 'application/json' },
      }).then(async (r) => [r.status, await r.json()] as const)
    expect(await send('PUT', 'v2/pattern', '{')).toMatchObject([400, { error: { code: 'bad-request' } }])
    expect(await send('PUT', 'v2/pattern', '{"codes":[1,2]}')).toMatchObject([
      400,
      { error: { code: 'bad-request' } },
    ])
    expect(await send('GET', 'v1')).toMatchObject([404, { error: { code: 'not-found' } }])
    expect(await client.simulate({ onStand: 'nobody' })).toMatchObject({ ok: false })
  })
  it('takes nothing from web pages, under other names or of other types, and asks for its token where it has one', async () => {
    const guarded = benchServer(make(), 'word')
    await new Promise<void>((resolve) => guarded.listen(0, '127.0.0.1', resolve))
    const base = `http://127.0.0.1:${(guarded.address() as AddressInfo).port}`
    const ask = (headers: Record<string, string>) =>
      new Promise<number>((resolve, reject) => {
        const body = '{"faults":[]}'
        const all = { authorization: 'Bearer word', 'content-type': 'application/json', ...headers }
        request(
          `${base}/simulation`,
          { method: 'PATCH', headers: { ...all, 'content-length': body.length } },
          (r) => {
            r.resume()
            resolve(r.statusCode ?? 0)
          },
        )
          .on('error', reject)
          .end(body)
      })
    expect(await ask({})).toBe(200)
    expect(await ask({ host: 'evil.example' })).toBe(421)
    expect(await ask({ origin: 'http://evil.example' })).toBe(403)
    expect(await ask({ origin: base })).toBe(403)
    expect(await ask({ 'sec-fetch-site': 'cross-site' })).toBe(403)
    expect(await ask({ 'content-type': 'text/plain' })).toBe(415)
    expect(await ask({ authorization: 'Bearer other' })).toBe(401)
    expect((await benchClient(base, 'word').describe()).ok).toBe(true)
    expect(await benchClient(base, undefined).describe()).toMatchObject({ ok: false })
    guarded.close()
  })
  it('goes on after its process was replaced as if it had not been', async () => {
    await client.show(grey(50))
    const [one, two] = [make(memory), make(memory)]
    const a = [await one.read({}), await one.read({})]
    const first = await two.read({})
    const b = [first, await make(memory).read({})]
    expect(b).toEqual(a)
  })
  it('says that nothing is there when nothing is', async () => {
    expect(await benchClient('http://127.0.0.1:9').describe()).toMatchObject({
      ok: false,
      failure: { kind: 'away', message: expect.stringMatching(/No bench answers/) },
    })
  })
})
