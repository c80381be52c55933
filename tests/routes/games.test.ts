import { describe, expect, it } from 'vitest'
import { calibrationResult, drive, learnedFrom, wishOf } from '#bench/unattended'
import { REFERENCE_POLICY } from '#core/judge'
import { planRoute } from '#core/plan'
import { MAREN, PELT, TAVIN } from '#core/simulation'
import { FINDINGS, type FindingKey, type Findings, gatherSweep, judgeCase } from '#core/steps'
import { drawDisplay, drawHdr, drawLatency, populationBench, withLatency } from '#tests/population'
import { rehearse } from '#tests/rehearsal'

/** Findings that are there, by whether they have the shape in which guides, pages and results know them. */
const shapesOf = (found: Findings) =>
  Object.fromEntries(
    (Object.keys(FINDINGS) as FindingKey[]).flatMap((key) =>
      found[key] === undefined ? [] : [[key, FINDINGS[key].safeParse(found[key]).success]],
    ),
  )

describe('latency of a game case', () => {
  it.each([1, 2, 3, 4])(
    'options that help are told from idle ones, and the table is right, on display %d',
    async (seed) => {
      const drawn = drawLatency(seed)
      const { outcome } = await rehearse(PELT, seed, { viewingCase: 'sdr-game', baseMode: 'own' }, (port) =>
        withLatency(port, drawn, seed),
      )
      const result = calibrationResult(outcome)
      expect([result.verified, result.stopped]).toEqual([true, null])
      // What the display saw while the rate varied is no fault of the case’s own link.
      expect(outcome.route!.context.facts.seen?.rate ?? 60).toBe(60)
      // Greys at other rates are no colours.
      const colours = judgeCase(
        outcome.route!.context,
        gatherSweep(outcome.route!.context.facts, ['verify'], [], outcome.state)!,
      )!.colours
      expect(colours.filter((c) => c.patch.startsWith('grey'))).toEqual([])
      expect(result.refresh!.length).toBeGreaterThan(0)
      // The table holds the truth within its scatter.
      for (const row of result.latency!) {
        const state = Object.fromEntries((row.option ?? '').split('+').map((pair) => pair.split('=')))
        const truth = drawn.truth(state, row.rate, row.position as 'top')
        expect(Math.abs(row.mean - truth)).toBeLessThan(0.05 + (4.5 * drawn.spread) / Math.sqrt(row.flashes))
      }
      for (const rate of drawn.rates)
        for (const position of ['top', 'middle', 'bottom'])
          expect(result.latency!.some((r) => r.rate === rate && r.position === position)).toBe(true)
      for (const { control, saves } of drawn.claims)
        for (const value of Object.keys(saves).filter((v) => v !== 'off'))
          for (const rate of drawn.rates) {
            const option = result.latencyOptions!.find((o) => o.key === `${control.key}=${value}`)!
            const told = option.rates.find((r) => r.rate === rate)!
            expect([control.key, value, rate, told.helps]).toEqual([
              control.key,
              value,
              rate,
              saves[value]![rate]! > 0.5,
            ])
          }
      // What helps is on in the end, what does not is off.
      for (const { control, saves } of drawn.claims) {
        const total = (value: string) => Object.values(saves[value]!).reduce((a, b) => a + b, 0)
        const best = Object.keys(saves).reduce((a, b) => (total(b) > total(a) + 1e-9 ? b : a))
        expect(result.finalState[control.key]).toBe(best)
      }
    },
    120_000,
  )
})

describe('options that hang on one another', () => {
  it('are switched in an order in which none is greyed out, also where all of them are on before', async () => {
    const { outcome } = await rehearse(
      MAREN,
      2,
      { viewingCase: 'sdr-game', baseMode: 'arena' },
      // A reset that leaves alone what is kept with the input, as on many displays.
      (port) => ({
        ...port,
        reset: async () => {
          await port.set('quick', 'on')
          await port.set('rush', 'on')
          return port.state().then((s) => (s.ok ? { ok: true as const, value: { state: s.value } } : s))
        },
      }),
    )
    const result = calibrationResult(outcome)
    expect([result.verified, result.stopped]).toEqual([true, null])
    expect(result.notDone.map((n) => n.why).join()).not.toMatch(/greyed out/)
    const rush = result.latencyOptions!.find((o) => o.control === 'rush')!
    expect(rush.rates.filter((r) => r.helps).map((r) => r.rate)).toEqual([60])
    expect(result.latency!.some((r) => r.option === null)).toBe(true)
    expect(result.finalState).toMatchObject({ quick: 'on', rush: 'on' })
  }, 120_000)
})

describe('a game case whose mode is surveyed first', () => {
  it('is read out of the box with what shortens the delay, and never goes back to how the survey stood', async () => {
    const { outcome, facts } = await rehearse(MAREN, 2, { viewingCase: 'sdr-game' })
    const result = calibrationResult(outcome)
    expect([result.verified, result.stopped]).toEqual([true, null])
    expect(facts.readings.some((r) => r.purpose === 'survey')).toBe(true)
    expect(result.latencyChosen).toBe('quick=on+rush=on')
    expect(result.notDone.map((n) => n.why).join()).not.toMatch(/greyed out/)
    for (const r of facts.readings)
      if (r.purpose === 'out-of-box' || r.purpose === 'adjust' || r.purpose === 'verify')
        expect([r.purpose, r.state.quick, r.state.rush]).toEqual([r.purpose, 'on', 'on'])
  }, 120_000)
})

describe('times that somebody typed', () => {
  const described = (probe: null) => (port: Parameters<NonNullable<Parameters<typeof rehearse>[3]>>[0]) => ({
    ...port,
    describe: async () => {
      const found = await port.describe()
      return found.ok ? { ok: true as const, value: { ...found.value, probe } } : found
    },
  })
  /** Latency that is typed for settings, in the middle of the screen. */
  const typed = (state: Record<string, string | number>, rate: number, times: number[]) => ({
    mode: 'arena',
    rate,
    milliseconds: times[0]!,
    times,
    position: 'middle' as const,
    state,
    setting: null,
  })

  it('make the same table where there is no probe, and say what is left on', async () => {
    const { facts } = await rehearse(
      MAREN,
      2,
      { viewingCase: 'sdr-game', baseMode: 'arena' },
      described(null),
    )
    expect(facts.bench.probe).toBe(false)
    const unknown = planRoute({ ...facts, latencies: [] })
    expect(unknown.latency!.rows).toEqual([])
    const with_ = (quick: string, rush: string) => ({ ...facts.state, quick, rush })
    const latencies = [
      typed(with_('off', 'off'), 60, [40, 41, 39, 40]),
      typed(with_('on', 'off'), 60, [40.1, 40.9, 39.2, 40]),
      typed(with_('on', 'on'), 60, [22, 23, 22, 21]),
      typed(with_('off', 'off'), 120, [30]),
      typed(with_('on', 'off'), 120, [30.4]),
    ]
    const { latency, derived } = planRoute({ ...facts, latencies, state: with_('on', 'on') })
    expect(latency!.rows.map((r) => [r.option, r.rate, Math.round(r.mean)])).toEqual([
      [null, 60, 40],
      [null, 120, 30],
      ['quick=on', 60, 40],
      ['quick=on', 120, 30],
      ['quick=on+rush=on', 60, 22],
    ])
    const told = (key: string) => latency!.options.find((o) => o.key === key)!.rates.map((r) => r.helps)
    // A single time less than its scatter is no help.
    expect(told('quick=on')).toEqual([false, false])
    expect(told('quick=on+rush=on')).toEqual([true])
    expect(latency!.chosen).toBe('quick=on+rush=on')
    expect(derived.find((d) => d.control === 'rush')!.rule).toMatch(/saves 18 ms at 60 Hz/)
    // It helps nowhere by itself, and stays on for the other.
    expect(derived.find((d) => d.control === 'quick')!.rule).toMatch(/cannot be set without it/)
  }, 120_000)
})

describe('a game in HDR', () => {
  it('ends with latency, light at several rates, and what to enter on the source’s own screens', async () => {
    const { outcome } = await rehearse(TAVIN, 3, { viewingCase: 'hdr-game' })
    const result = calibrationResult(outcome)
    expect([result.verified, result.stopped]).toEqual([true, null])
    expect(result.baseMode).toBe('console')
    expect(result.latency!.length).toBeGreaterThan(0)
    expect(result.refresh!.length).toBeGreaterThanOrEqual(6)
    const small = result.hdr!.peakByWindow.find((w) => w.window === 0.1)!
    expect(result.sourceScreens!.peak / small.sustained).toBeGreaterThan(0.9)
    expect(result.sourceScreens!.sentences.join()).toContain('cd/m²')
    const shapes = shapesOf(outcome.route!)
    expect(shapes).toMatchObject({ hdr: true, latency: true, refresh: true })
    expect(Object.values(shapes)).not.toContain(false)
  }, 120_000)
})

describe('a game in HDR after film on the same unit', () => {
  it.each([8, 14])(
    'begins with what film read of other modes, and goes to its end, on display %d',
    async (seed) => {
      const drawn = drawDisplay(seed)
      const withHdr = drawHdr(drawn)
      const bench = withLatency(
        populationBench({ ...drawn, sheet: withHdr.sheet }, seed, withHdr).port,
        drawLatency(seed),
        seed,
      )
      const how = { pause: async () => undefined }
      const film = await drive(bench, { viewingCase: 'hdr-film', policy: REFERENCE_POLICY }, how)
      if (!('verified' in film)) throw new Error(film.stopped)
      const known = wishOf(learnedFrom(film, undefined), film.identity.serial, 'hdr-game')
      expect(known.known.some((r) => r.purpose === 'survey')).toBe(true)
      const game = await drive(bench, { viewingCase: 'hdr-game', policy: REFERENCE_POLICY, ...known }, how)
      if (!('verified' in game)) throw new Error(game.stopped)
      expect([game.verified, game.stopped]).toEqual([true, undefined])
      expect(game.surveyReadings).toBe(0)
      // What the picture pays is read once, before and after, in settings that differ in nothing else: drawn displays pay next to nothing.
      const { latency, context } = game.route!
      if (latency!.chosen !== null) expect(latency!.price!.moves).toBeLessThan(3)
      const toured = new Set(context.facts.toured!.map((r) => r.id))
      expect((latency!.price?.readingIds ?? []).every((id) => toured.has(id))).toBe(true)
      const byLatency = new Set(
        context.facts.adjustments.filter((m) => m.step === 'latency').map((m) => m.runId),
      )
      expect(context.facts.readings.filter((r) => byLatency.has(r.runId))).toEqual([])
    },
    120_000,
  )
})

describe('a desktop', () => {
  it('whose round of gamuts was cancelled half way first gets back the gamut that was chosen', async () => {
    const { facts, outcome } = await rehearse(PELT, 3, { viewingCase: 'desktop', baseMode: 'own' })
    const all = [...facts.readings, ...(facts.toured ?? [])].sort((a, b) => a.id - b.id)
    const chosen = outcome.state.width
    const at = all.findIndex((r) => r.purpose === 'tour' && r.state.width !== chosen)
    expect(at).toBeGreaterThan(0)
    const { state } = all[at]!
    const cancelled = { ...facts, toured: undefined, readings: all.slice(0, at + 1), state }
    expect(planRoute(cancelled).next).toEqual({
      kind: 'prepare',
      reset: false,
      switchesOff: true,
      changes: [{ control: 'width', from: state.width, to: chosen }],
    })
    // What a person has set since is meant so.
    const meant = { ...cancelled.adjustments.at(-1)!, runId: 1e6, kind: 'by-hand' as const }
    const changes = [{ control: 'width', from: String(chosen), to: String(state.width) }]
    const by = planRoute({ ...cancelled, adjustments: [...cancelled.adjustments, { ...meant, changes }] })
    expect(by.next).not.toMatchObject({ kind: 'prepare', changes: [{ control: 'width' }] })
  }, 120_000)
  it('whose grid was left half done says how many places were read, and judges those', async () => {
    const { facts } = await rehearse(PELT, 3, { viewingCase: 'desktop', baseMode: 'own' })
    const places = facts.readings.filter((r) => r.patch.position)
    expect(places).toHaveLength(25)
    // The meter went back to its stand: nothing is read any more.
    const bench = { ...facts.bench, positions: false }
    const without = new Set(places.slice(0, 6).map((r) => r.id))
    const half = planRoute({ ...facts, bench, readings: facts.readings.filter((r) => !without.has(r.id)) })
    expect(half.uniformity!.rows).toHaveLength(19)
    expect(half.limits.map((l) => l.sentence).join()).toMatch(/19 of 25 places were read/)
    const whole = planRoute({ ...facts, bench })
    expect(whole.limits.map((l) => l.sentence).join()).not.toMatch(/places were read/)
  }, 120_000)
  it('ends with standard content in each gamut, and the evenness of the screen', async () => {
    const { outcome } = await rehearse(PELT, 3, { viewingCase: 'desktop', baseMode: 'own' })
    const result = calibrationResult(outcome)
    expect([result.verified, result.stopped]).toEqual([true, null])
    expect(result.gamuts!.map((g) => g.value).sort()).toEqual(['clamp', 'native'])
    const of = (value: string) => result.gamuts!.find((g) => g.value === value)!
    expect(of('clamp').natural).toBeLessThan(of('native').natural)
    expect(of('clamp').gamma).toBeGreaterThan(1.8)
    // Twenty-five places, the middle against itself, corners darker: within the scatter of the meter.
    expect(result.uniformity).toHaveLength(25)
    expect(shapesOf(outcome.route!)).toMatchObject({ clamps: true, uniformity: true })
    const middle = result.uniformity!.find((p) => p.x === 0.5 && p.y === 0.5)!
    expect(middle.deltaUv).toBe(0)
    for (const place of result.uniformity!) {
      const [dx, dy] = [2 * place.x - 1, 2 * place.y - 1]
      const same = result.uniformity!.find((p) => p.x === place.x && Math.abs(p.y - (1 - place.y)) < 1e-9)!
      expect(place.luminance / same.luminance).toBeGreaterThan(0.98)
      if (Math.hypot(dx, dy) > 1) expect(place.luminance).toBeLessThan(middle.luminance)
    }
    // What was gone round stands as it was chosen.
    expect(result.finalState.width).toBe('clamp')
  }, 120_000)
})
