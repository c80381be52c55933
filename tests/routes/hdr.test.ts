import { describe, expect, it } from 'vitest'
import type { BenchPort } from '#bench/executor'
import { calibrationResult, drive, type Outcome } from '#bench/unattended'
import { REFERENCE_POLICY } from '#core/judge'
import { type Pattern, patternOf, pqGrey } from '#core/measure'
import { hdrSignal, SDR_SIGNAL } from '#core/signal'
import { PELT, SORREL } from '#core/simulation'
import { drawDisplay, drawHdr, heldLight, mappingIn, populationBench } from '#tests/population'
import { rehearse } from '#tests/rehearsal'

const SIGNAL = hdrSignal(SDR_SIGNAL)
const displayOf = (seed: number) => {
  const drawn = drawDisplay(seed)
  const withHdr = drawHdr(drawn)
  return { display: { ...drawn, sheet: withHdr.sheet }, withHdr }
}
const goOn = async (port: BenchPort, policy = REFERENCE_POLICY): Promise<Outcome> => {
  const outcome = await drive(port, { viewingCase: 'hdr-film', policy }, { pause: async () => undefined })
  if (!('verified' in outcome)) throw new Error(outcome.stopped)
  return outcome
}

describe('HDR film on a display that nobody has seen', () => {
  it.each([1, 4, 5, 12, 14, 23])(
    'ends verified, with mapping, peak and white told right: display %i',
    async (seed) => {
      const { display, withHdr } = displayOf(seed)
      const outcome = await goOn(populationBench(display, seed, withHdr).port)
      expect(outcome.stopped).toBeUndefined()
      expect(outcome.verified).toBe(true)
      const { hdr } = calibrationResult(outcome)
      expect(hdr!.mapping).toBe(mappingIn(withHdr.hdr, outcome.state))
      expect(hdr!.masteringPeak).toBe(4000)
      expect(hdr!.peakByWindow).toHaveLength(8)
      for (const { window, first, sustained } of hdr!.peakByWindow) {
        const pattern: Pattern = { ...patternOf({ key: 'p', label: 'p', signal: [1, 1, 1] }, SIGNAL), window }
        const held = heldLight(display, withHdr.hdr, { pattern, state: outcome.state })[1]
        expect(Math.abs(sustained / held - 1), `${window}`).toBeLessThan(0.02)
        expect(first, `${window}`).toBeGreaterThan(0.97 * sustained)
      }
      // The route of HDR has its own steps, and none of SDR's.
      const steps = outcome.route!.steps.map((s) => s.key)
      expect(steps).toEqual(expect.arrayContaining(['tone-mapping', 'eotf', 'guide']))
      expect(steps).not.toContain('tone')
      // Colours that no panel reaches are no errors.
      expect(outcome.after!.six!.worst).toBeLessThan(80)
      // White is better than out of the box, or was right already.
      const { before, after } = outcome
      expect(after!.grey.whiteError.average).toBeLessThan(
        Math.max(1.6, 0.35 * before!.grey.whiteError.average),
      )
      expect(hdr!.coverage!.p3).toBeGreaterThan(hdr!.coverage!.bt2020)
    },
  )

  it('sets the luminance control to its maximum, in the memory of HDR: what SDR keeps stays', async () => {
    const { display, withHdr } = displayOf(1)
    const bench = populationBench(display, 1, withHdr)
    await bench.port.set('light', 40)
    const outcome = await goOn(bench.port)
    expect(outcome.state.light).toBe(100)
    expect(outcome.derived.find((d) => d.control === 'light')?.rule).toMatch(/at its maximum, for highlights/)
    await bench.port.showPattern(patternOf(pqGrey(100), { ...SDR_SIGNAL }))
    // The reset of the case's beginning was one of everything; SDR stands at its default again, not at HDR's value.
    expect(bench.state().light).toBe(display.sheet.controls.find((c) => c.key === 'light')!.default)
  })

  it('takes the school of tone mapping that the policy picks, by what was measured', async () => {
    const { display, withHdr } = displayOf(3)
    expect(Object.values(withHdr.hdr.mappings).sort()).toEqual(['clip', 'dynamic', 'roll-off'])
    for (const school of ['clip', 'roll-off', 'dynamic'] as const) {
      const outcome = await goOn(populationBench(display, 3, withHdr).port, {
        ...REFERENCE_POLICY,
        hdrToneMapping: school,
      })
      expect(mappingIn(withHdr.hdr, outcome.state)).toBe(school)
      expect(outcome.route!.hdr!.mapping).toBe(school)
      expect(outcome.route!.mappings).toHaveLength(3)
    }
  })

  it('says that dynamic mapping was not looked for where the source shows no highlight', async () => {
    const { display, withHdr } = displayOf(1)
    const outcome = await goOn(populationBench(display, 1, { ...withHdr, highlight: false }).port)
    expect(outcome.verified).toBe(true)
    expect(outcome.limits.map((l) => l.sentence).join()).toMatch(/follows the scene was not checked/)
  })

  it('begins nothing where the source gives no PQ', async () => {
    const outcome = await drive(
      populationBench(drawDisplay(1), 1).port,
      { viewingCase: 'hdr-film', policy: REFERENCE_POLICY },
      { pause: async () => undefined },
    )
    expect(outcome).toMatchObject({
      stopped: expect.stringMatching(/no PQ in BT\.2020.*Nothing was changed/),
    })
  })

  it('stops where the display stays in SDR, and counts nothing of it', async () => {
    const { display, withHdr } = displayOf(1)
    const { port } = populationBench(display, 1, withHdr)
    let shown: Pattern | undefined
    const stays: BenchPort = {
      ...port,
      showPattern: async (pattern) => {
        shown = pattern
        return port.showPattern(pattern)
      },
      read: async (how) => {
        const read = await port.read(how)
        const code = shown!.codes[1]
        const light = 300 * Math.max(0, (code / 4 - 16) / 219) ** 2.2
        return read.ok
          ? { ok: true, value: { ...read.value, xyz: [0.95 * light, light, 1.09 * light] } }
          : read
      },
      signal: async () => ({ ok: true, value: null }),
    }
    const outcome = await goOn(stays)
    expect(outcome.verified).toBe(false)
    expect(outcome.stopped).toMatch(/PQ for SDR/)
    expect(outcome.surveyReadings).toBe(0)
  })
})

describe('a display that leaves HDR in the middle of a run', () => {
  it('is noticed by its own page, and nothing that is read then counts', async () => {
    const { display, withHdr } = displayOf(1)
    const { port } = populationBench(display, 1, withHdr)
    let pages = 0
    const leaves: BenchPort = {
      ...port,
      signal: async () => {
        const page = await port.signal()
        // After the survey has begun it says SDR, for as long as anybody asks.
        return page.ok && page.value && ++pages > 20
          ? { ok: true, value: { ...page.value, transfer: 'sdr' } }
          : page
      },
    }
    const outcome = await goOn(leaves)
    expect(outcome.verified).toBe(false)
    expect(outcome.stopped).toMatch(/it has left HDR/)
    const bad = outcome.kept.filter((m) => m.fault === 'other-signal')
    expect(bad.length).toBeGreaterThan(3)
    expect(bad.every((m) => m.seen?.signal?.transfer === 'sdr')).toBe(true)
    expect(outcome.usable.every((r) => !bad.some((m) => m.id === r.id))).toBe(true)
  })
})

describe('HDR film on the simulated displays', () => {
  it.each([
    ['self-emissive television', SORREL],
    ['desktop monitor', PELT],
  ])('ends verified: %s', async (_, spec) => {
    const { outcome } = await rehearse(spec, 3, { viewingCase: 'hdr-film' })
    expect(outcome.verified).toBe(true)
    const { hdr } = outcome.route!
    expect(hdr!.knee!).toBeGreaterThan(0.5 * spec.hdrPeak)
    expect(hdr!.white!.average).toBeLessThan(3)
    // Power is limited where the whole screen is lit, on a self-emissive panel.
    const [whole, small] = [hdr!.windows.at(-1)!, hdr!.windows[1]!]
    if (spec.powerLimit.length) expect(whole.sustained).toBeLessThan(0.5 * small.sustained)
    else expect(whole.sustained / small.sustained).toBeCloseTo(1, 1)
  })
})
