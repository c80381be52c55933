import { spawn } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { benchClient } from '#bench/client'
import { benchServer } from '#bench/simulated'
import type { CalibrationResult } from '#bench/unattended'
import { REFERENCE_POLICY } from '#core/judge'
import { BLACK, Measurement, patternOf } from '#core/measure'
import { SDR_SIGNAL } from '#core/signal'
import { SimulatedModel as Model, PELT, type SimulatedModel, TAVIN } from '#core/simulation'
import { benchWith, rehearse } from '#tests/rehearsal'

const root = resolve(import.meta.dirname, '../..')
let folder: string
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'wexmar-calibrate-'))
})
afterAll(() => rmSync(folder, { recursive: true, force: true }))

/** A bench that speaks the protocol over HTTP. */
const served = async <T>(
  spec: SimulatedModel,
  seed: number,
  work: (url: string, state: () => unknown) => Promise<T>,
) => {
  const bench = benchWith(spec, seed)
  const server = benchServer(bench)
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done))
  try {
    return await work(`http://127.0.0.1:${(server.address() as AddressInfo).port}`, () => bench.state().state)
  } finally {
    server.close()
    server.closeAllConnections()
  }
}
const calibrate = (...words: string[]) =>
  new Promise<{ code: number; text: string }>((done) => {
    const child = spawn(join(root, 'bin/calibrate'), words, {
      cwd: folder,
      stdio: ['ignore', 'pipe', 'pipe'],
    })
    let text = ''
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (d: Buffer) => (text += d.toString()))
    child.once('exit', (code) => done({ code: code ?? -1, text }))
  })
const resultIn = (out: string): CalibrationResult =>
  JSON.parse(readFileSync(join(folder, out, 'result.json'), 'utf8'))

describe('bin/calibrate', () => {
  it('leaves a bench in the verified final state, and writes down all of it', async () => {
    await served(PELT, 2, async (url, state) => {
      const { code, text } = await calibrate('--bench', url, '--case', 'sdr-dark', '--out', 'first')
      expect(text).toMatch(/Verified: white .* cd\/m², greyscale ΔE00/)
      expect(code).toBe(0)
      const result = resultIn('first')
      expect(result).toMatchObject({
        format: 'wexmar-result/1',
        verified: true,
        stopped: null,
        case: 'sdr-dark',
        identity: { maker: 'Anvik', model: 'Pelt Q', serial: 'X2' },
        policy: { key: 'strict-reference' },
        finalState: state(),
      })
      expect(result.after!.whiteError.average).toBeLessThan(result.before!.whiteError.average)
      expect(result.benchSeconds).toBeGreaterThan(60)
      const lines = readFileSync(join(folder, 'first/readings.csv'), 'utf8').trim().split('\r\n')
      // What only told whether the display had settled is kept and does not count.
      expect(lines.slice(1).filter((l) => l.split(',')[3] !== 'settle')).toHaveLength(result.readings)
      const kept = readFileSync(join(folder, 'first/readings.jsonl'), 'utf8')
        .trim()
        .split('\n')
        .map((line) => Measurement.parse(JSON.parse(line)))
      expect(kept).toHaveLength(lines.length - 1)
      expect(result.meterReadings).toBe(kept.reduce((sum, m) => sum + m.samples, 0))
      const ids = new Set(lines.slice(1).map((l) => Number(l.split(',')[0])))
      for (const { readings } of result.values) for (const id of readings) expect(ids.has(id)).toBe(true)
      // What nobody looked at is said, not passed over.
      expect(result.notDone.map((n) => n.why).join(' ')).toMatch(/Visual checks skipped/)
    })
  })
  it('follows a policy of one’s own from a file', async () => {
    const own = { ...REFERENCE_POLICY, key: 'brighter', name: 'Brighter', levelWhite: 'two-point' as const }
    const policy = { ...own, luminance: { ...own.luminance, bright: 170 } }
    writeFileSync(join(folder, 'brighter.json'), JSON.stringify(policy))
    await served(PELT, 3, async (url) => {
      const { code } = await calibrate(
        ...[
          '--bench',
          url,
          '--case',
          'sdr-bright',
          '--policy',
          'brighter.json',
          '--mode',
          'clamp',
          '--out',
          'own',
        ],
      )
      expect(code).toBe(0)
      expect(resultIn('own')).toMatchObject({
        baseMode: 'clamp',
        targets: { luminance: 170 },
        surveyReadings: 0,
      })
    })
  })
  it('says what is wrong with a wish, and begins nothing', async () => {
    const refused = async (...words: string[]) => {
      const { code, text } = await calibrate(...words)
      expect(code).toBe(2)
      return text
    }
    expect(await refused()).toMatch(/Say where the bench is[\s\S]*Usage/)
    expect(await refused('--bench', 'http://127.0.0.1:1', '--case', 'film', '--out', 'x')).toMatch(
      /no viewing case “film”/,
    )
    writeFileSync(join(folder, 'torn.json'), '{"name": ')
    const bench = ['--bench', 'http://127.0.0.1:1', '--case', 'sdr-dark', '--out', 'x']
    expect(await refused(...bench, '--policy', 'torn.json')).toMatch(/torn.json is not JSON/)
    expect(await refused(...bench, '--policy', 'ghost')).toMatch(/no policy “ghost”/)
  })
  it('ends with 1 where no bench answers, and says so in the result', async () => {
    const { code, text } = await calibrate(
      '--bench',
      'http://127.0.0.1:1',
      '--case',
      'sdr-dark',
      '--out',
      'away',
    )
    expect(code).toBe(1)
    expect(text).toMatch(/No bench answers/)
    expect(resultIn('away')).toMatchObject({ verified: false, readings: 0 })
  })

  it('goes on with what an earlier case of the unit learned, and leaves what that one keeps', async () => {
    await served(PELT, 4, async (url) => {
      expect((await calibrate('--bench', url, '--case', 'sdr-dark', '--out', 'sdr')).code).toBe(0)
      const sdr = resultIn('sdr')
      const learned = JSON.parse(readFileSync(join(folder, 'sdr', 'learned.json'), 'utf8'))
      expect(learned.priors.length).toBeGreaterThan(3)
      expect(learned.occupied.every((o: { viewingCase: string }) => o.viewingCase === 'sdr-dark')).toBe(true)
      const second = await calibrate('--bench', url, '--case', 'hdr-film', '--after', 'sdr', '--out', 'hdr')
      expect(second.code).toBe(0)
      const { hdr, verified } = resultIn('hdr')
      expect(verified).toBe(true)
      expect(hdr!.peakByWindow).toHaveLength(8)
      // Both cases are passed on to a third, and SDR stands where it was left.
      const both = JSON.parse(readFileSync(join(folder, 'hdr', 'learned.json'), 'utf8'))
      expect(new Set(both.occupied.map((o: { viewingCase: string }) => o.viewingCase))).toEqual(
        new Set(['sdr-dark', 'hdr-film']),
      )
      const client = benchClient(url)
      await client.showPattern(patternOf(BLACK, SDR_SIGNAL))
      const mode = PELT.sheet.controls.find((c) => c.role === 'picture-mode')!
      await client.set(mode.key, sdr.finalState[mode.key]!)
      const now = await client.state()
      if (!now.ok) throw new Error(now.failure.message)
      for (const { key } of PELT.sheet.controls.filter((c) => c.memory.includes('signal')))
        expect(now.value[key], key).toBe(sdr.finalState[key])
    })
  })
  it('says what is wrong with what it should go on with', async () => {
    await served(PELT, 4, async (url) => {
      const missing = await calibrate(
        '--bench',
        url,
        '--case',
        'hdr-film',
        '--after',
        'nowhere',
        '--out',
        'x',
      )
      expect(missing).toMatchObject({ code: 2, text: expect.stringMatching(/learned\.json cannot be read/) })
      writeFileSync(join(folder, 'learned.json'), '{"format":"other"}')
      const other = await calibrate('--bench', url, '--case', 'hdr-film', '--after', '.', '--out', 'x')
      expect(other).toMatchObject({
        code: 2,
        text: expect.stringMatching(/is not what a case passes on: format/),
      })
    })
  })
})

/** The same display with names and keys that nobody has ever seen, in another order. */
const stranger = (spec: SimulatedModel): SimulatedModel => {
  const keys = new Map(
    spec.sheet.controls.map((c, i) => [c.key, `zz-${(i * 7) % spec.sheet.controls.length}-q`]),
  )
  const controls = spec.sheet.controls
    .map((c, i) => ({
      ...c,
      key: keys.get(c.key)!,
      label: `Thing ${String.fromCharCode(65 + (i % 26))}${i}`,
      path: c.path.map((p) => `Page ${p.length}`),
      ...(c.needs
        ? { needs: c.needs.map((n) => ('control' in n ? { ...n, control: keys.get(n.control)! } : n)) }
        : {}),
    }))
    .reverse()
  return Model.parse({ ...spec, sheet: { ...spec.sheet, maker: 'Nobody', model: 'Nothing', controls } })
}

describe('a sheet that was never seen', () => {
  it.each([
    ['desktop monitor', PELT],
    ['edge-lit television', TAVIN],
  ])('leads to the same settings as the known one: %s', async (_, spec) => {
    const [known, unknown] = [await rehearse(spec, 5), await rehearse(stranger(spec), 5)]
    expect(unknown.outcome.verified).toBe(true)
    expect(unknown.outcome.after!.grey.whiteError.average).toBeCloseTo(
      known.outcome.after!.grey.whiteError.average,
      0,
    )
    expect(unknown.outcome.baseMode).toBe(known.outcome.baseMode)
  })
})
