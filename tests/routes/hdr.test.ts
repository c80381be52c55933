import { describe, expect, it } from 'vitest'
import type { BenchPort } from '#bench/executor'
import { calibrationResult, drive, learnedFrom, type Outcome, wishOf } from '#bench/unattended'
import type { ControlSheet } from '#core/display'
import { composeValues } from '#core/guide/compose'
import { REFERENCE_POLICY } from '#core/judge'
import { type Pattern, patternOf, pqGrey } from '#core/measure'
import { hdrSignal, SDR_SIGNAL } from '#core/signal'
import { MAREN, PELT, SORREL } from '#core/simulation'
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

  it.each([
    ['that resets HDR apart', true],
    ['that resets everything or nothing', false],
  ])(
    'sets luminance to its maximum in the memory of HDR, and SDR keeps its values, on a bench %s',
    async (_, resets) => {
      const { display, withHdr } = displayOf(1)
      const bench = populationBench(display, 1, { ...withHdr, resets })
      const mode = display.sheet.controls.find((c) => c.role === 'picture-mode')!
      const sdr: Array<[string, string | number]> = [
        [mode.key, bench.state()[mode.key]!],
        ['light', 40],
        ['gain-red', -4],
        ['gain-blue', -3],
      ]
      for (const [key, value] of sdr) expect((await bench.port.set(key, value)).ok).toBe(true)
      const before = bench.state()
      const outcome = await goOn(bench.port)
      expect(outcome.verified).toBe(true)
      expect(outcome.state.light).toBe(100)
      expect(outcome.derived.find((d) => d.control === 'light')?.rule).toMatch(
        /at its maximum, for highlights/,
      )
      expect(outcome.notes.some((n) => /cannot reset HDR without SDR/.test(n))).toBe(!resets)
      await bench.port.showPattern(patternOf(pqGrey(100), { ...SDR_SIGNAL }))
      await bench.port.set(mode.key, before[mode.key]!)
      const after = bench.state()
      const own = display.sheet.controls.filter((c) => c.memory.includes('signal'))
      expect(own.length).toBeGreaterThan(10)
      for (const { key } of own) expect(after[key], key).toBe(before[key])
    },
  )
  it('resets what an earlier HDR case left in the memory of HDR', async () => {
    const { display, withHdr } = displayOf(1)
    const bench = populationBench(display, 1, withHdr)
    await bench.port.showPattern(patternOf(pqGrey(100), SIGNAL))
    await bench.port.set('gain-red', -20)
    const outcome = await goOn(bench.port)
    expect(outcome.route!.outOfBox!.state['gain-red']).toBe(
      display.sheet.controls.find((c) => c.key === 'gain-red')!.default,
    )
  })

  it.each([
    [1, 'by the signal', true],
    [3, 'by the panel', false],
    [5, 'by the panel', false],
  ])('corrects single levels wherever they act: display %i, %s', async (seed, _, bySignal) => {
    const { display, withHdr } = displayOf(seed)
    expect(display.levels.beforeTone).toBe(bySignal)
    const of = (levelWhite: 'visible' | 'two-point') =>
      goOn(populationBench(display, seed, withHdr).port, { ...REFERENCE_POLICY, levelWhite })
    const [corrected, plain] = [await of('visible'), await of('two-point')]
    expect(corrected.derived.filter((d) => d.step === 'level-white').length).toBeGreaterThan(3)
    expect(plain.derived.filter((d) => d.step === 'level-white')).toEqual([])
    expect(corrected.after!.grey.whiteError.average).toBeLessThan(0.75)
    expect(corrected.after!.grey.whiteError.average).toBeLessThan(plain.after!.grey.whiteError.average)
    // Two readings before and two after one move tell where they act.
    const trial = corrected.adjustments.find((a) => a.step === 'level-white' && a.changes.length === 1)!
    expect(corrected.kept.filter((m) => m.runId === trial.runId)).toHaveLength(2)
  })

  it('follows PQ with its light where gains can', async () => {
    const { display, withHdr } = displayOf(7)
    expect(withHdr.hdr.shadows).toBe(0)
    const { route } = await goOn(populationBench(display, 7, withHdr).port)
    expect(Math.abs(route!.hdr!.scale - 1)).toBeLessThan(0.03)
    expect(route!.hdr!.tracking!.average).toBeLessThan(3)
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
    expect(outcome.limits.map((l) => l.sentence).join()).toMatch(
      /follows a highlight elsewhere in the scene was not checked/,
    )
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

describe('white values that SDR and HDR keep in one place', () => {
  it.each([
    ['with the white preset', 'white-preset', 1],
    ['with the mode', 'mode', 5],
  ] as const)('%s: HDR goes elsewhere, and SDR is there again as it was', async (_, place, seed) => {
    const shared = <S extends { sheet: ControlSheet }>(of: S): S => ({
      ...of,
      sheet: {
        ...of.sheet,
        controls: of.sheet.controls.map((c) =>
          ['gain', 'cut', 'level-white', 'level-tone'].includes(c.role) ? { ...c, memory: [place] } : c,
        ),
      },
    })
    const drawn = shared(drawDisplay(seed))
    const withHdr = shared(drawHdr(drawn))
    const { port } = populationBench({ ...drawn, sheet: withHdr.sheet }, seed, withHdr)
    const forCase = (viewingCase: 'sdr-dark' | 'hdr-film', known: object = {}) =>
      drive(port, { viewingCase, policy: REFERENCE_POLICY, ...known }, { pause: async () => undefined })
    const sdr = await forCase('sdr-dark')
    if (!('verified' in sdr)) throw new Error(sdr.stopped)
    const hdr = await forCase(
      'hdr-film',
      wishOf(learnedFrom(sdr, undefined), sdr.identity.serial, 'hdr-film'),
    )
    if (!('verified' in hdr)) throw new Error(hdr.stopped)
    expect([sdr.verified, hdr.verified]).toEqual([true, true])
    await port.showPattern(patternOf(pqGrey(1), SDR_SIGNAL))
    const mode = sdr.sheet.controls.find((c) => c.role === 'picture-mode')!
    await port.set(mode.key, sdr.state[mode.key]!)
    const now = await port.state()
    for (const c of sdr.sheet.controls)
      if (c.memory.includes(place)) expect(now.ok && now.value[c.key], c.key).toBe(sdr.state[c.key])
  })
})

describe('both ends in HDR', () => {
  const endIn = (outcome: Outcome, role: string) => {
    const control = outcome.sheet.controls.find((c) => c.role === role)!
    return { control, value: outcome.state[control.key]!, from: control.default }
  }
  it('have the white level at its maximum where highlights gain by it, and greys stay on PQ', async () => {
    const { display, withHdr } = displayOf(27)
    expect(withHdr.hdr.whiteLevel).toBe('peak')
    const outcome = await goOn(populationBench(display, 27, withHdr).port)
    const { control, value } = endIn(outcome, 'white-level')
    expect(value).toBe(control.kind === 'number' && control.range.max)
    expect(outcome.derived.find((d) => d.control === control.key)?.rule).toMatch(
      /at its maximum, for highlights: \d+ cd\/m² instead of \d+/,
    )
  })
  it('leave the white level alone where it moves greys off PQ, and say so', async () => {
    const { display, withHdr } = displayOf(3)
    expect(withHdr.hdr.whiteLevel).toBe('signal')
    const outcome = await goOn(populationBench(display, 3, withHdr).port)
    const { control, value, from } = endIn(outcome, 'white-level')
    expect(value).toBe(from)
    expect(outcome.derived.find((d) => d.control === control.key)?.rule).toMatch(/off PQ by \d+ %/)
  })
  it.each([5, 19])(
    'have black raised where shadows are crushed, lowered where they are lifted: display %i',
    async (seed) => {
      const { display, withHdr } = displayOf(seed)
      const outcome = await goOn(populationBench(display, seed, withHdr).port)
      const { control, value, from } = endIn(outcome, 'black-level')
      expect(Math.sign(Number(value) - Number(from))).toBe(-Math.sign(withHdr.hdr.shadows))
      const rule = outcome.derived.find((d) => d.control === control.key)!.rule
      const [now, before] = [...rule.matchAll(/[\d.]+(?=,| before)/g)].map((m) => Number(m[0]))
      expect(now!).toBeLessThan(before!)
    },
  )
})

describe('a black level that lifts black itself', () => {
  it('stays where it was, though shades would follow PQ better', async () => {
    const { display, withHdr } = displayOf(5)
    const { port, state } = populationBench(display, 5, withHdr)
    const glows: BenchPort = {
      ...port,
      read: async (how) => {
        const read = await port.read(how)
        const glow = 0.02 * Math.max(0, Number(state().black) - 50)
        return read.ok
          ? {
              ok: true,
              value: { ...read.value, xyz: (read.value.xyz as number[]).map((v) => v + glow) },
            }
          : read
      },
    }
    const outcome = await goOn(glows)
    expect(outcome.adjustments.some((m) => m.step === 'black-level' && m.changes.length > 0)).toBe(true)
    expect(outcome.state.black).toBe(50)
  })
})

describe('HDR metadata that are not what was asked for', () => {
  it.each([
    ['flags-wrong-peak', /mastering peak of 1,000 cd\/m², sent is 4,000/],
    ['flags-no-metadata', /No HDR metadata arrives/],
  ] as const)('are found before anything rests on them: %s', async (kind, sentence) => {
    const { outcome } = await rehearse(
      MAREN,
      3,
      { viewingCase: 'hdr-film' },
      (port) => port,
      (bench) => bench.simulate({ faults: [{ kind, times: 0 }] }),
    )
    expect(outcome.verified).toBe(false)
    expect(outcome.stopped).toMatch(sentence)
    expect(outcome.surveyReadings).toBe(0)
  })
})

describe('light beyond the meter', () => {
  it('is kept as bad and named, and the case goes to its end with what could be read', async () => {
    const { display, withHdr } = displayOf(1)
    const { port } = populationBench(display, 1, withHdr)
    const LIMIT = 700
    const saturates: BenchPort = {
      ...port,
      read: async (how) => {
        const read = await port.read(how)
        return read.ok && (read.value.xyz as number[])[1]! > LIMIT
          ? { ok: true, value: { ...read.value, xyz: [LIMIT, LIMIT, LIMIT], flags: ['saturated'] } }
          : read
      },
    }
    const outcome = await goOn(saturates)
    const bad = outcome.kept.filter((m) => m.fault === 'saturated')
    expect(bad.length).toBeGreaterThan(0)
    expect(outcome.usable.every((r) => r.xyz[1] <= LIMIT)).toBe(true)
    expect(outcome.notes.some((n) => /too bright for the meter|left out/i.test(n))).toBe(true)
    expect(outcome.stopped).toBeUndefined()
    expect(outcome.verified).toBe(true)
    expect(outcome.state.light).toBe(100)
    const said = outcome.limits.map((l) => l.sentence).join(' ')
    expect(said).toMatch(/peak was not read/)
    expect(said).toMatch(/Bright greys were not read/)
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

describe('bright light', () => {
  it('is black again as each run ends, and whoever leaves a minute of it is out within seconds', async () => {
    const { display, withHdr } = displayOf(5)
    const { port } = populationBench(display, 5, withHdr)
    let shown: Pattern | undefined
    const waits: number[] = []
    const leave = new AbortController()
    const watched: BenchPort = {
      ...port,
      showPattern: async (pattern) => {
        shown = pattern
        return port.showPattern(pattern)
      },
      wait: async (seconds) => {
        if (shown!.codes[1] > 900) waits.push(seconds)
        // Somebody presses the key while the whole screen is white.
        if (shown!.window === 1 && shown!.codes[1] > 900) leave.abort()
        return port.wait(seconds)
      },
    }
    const outcome = await drive(
      watched,
      { viewingCase: 'hdr-film', policy: REFERENCE_POLICY },
      { pause: async () => undefined, leave: leave.signal },
    )
    expect(outcome).toMatchObject({ stopped: expect.stringMatching(/ended by hand/) })
    expect(leave.signal.aborted).toBe(true)
    expect(waits.length).toBeGreaterThan(10)
    expect(Math.max(...waits)).toBeLessThanOrEqual(5)
    expect(shown!.codes).toEqual([64, 64, 64])
  })
})

describe('what saving power costs', () => {
  it('is measured in the peak, said in the guide, and put back', async () => {
    const saver = MAREN.sheet.controls.find((c) => c.role === 'power-saving')!
    expect(saver.default).not.toBe(saver.neutral)
    const { outcome, unit } = await rehearse(MAREN, 3, { viewingCase: 'hdr-film' })
    expect(outcome.verified).toBe(true)
    expect(outcome.state[saver.key]).toBe(saver.neutral)
    const own = outcome.derived.find((d) => d.control === saver.key)!
    const share = 1 - unit.spec.saving[String(saver.default)]!
    expect(own.rule).toContain(`takes ${Math.round(100 * share)} % of the peak`)
    expect(own.readingIds).toHaveLength(2)
    const values = composeValues(MAREN.sheet, outcome.state, outcome.derived, {
      luminance: 100,
      publish: 'all',
    })
    expect(values.find((v) => v.control === saver.key)!.why).toContain('% of the peak')
  })
})

describe('local dimming in HDR', () => {
  it('is chosen by what blooms beside highlights, shades and peak aside none', async () => {
    const control = MAREN.sheet.controls.find((c) => c.role === 'dimming')!
    const { outcome, unit } = await rehearse(MAREN, 3, { viewingCase: 'hdr-film' })
    expect(outcome.verified).toBe(true)
    const options = outcome.route!.processing!.dimming
    expect(options.length).toBe(control.kind === 'choice' && control.choices.length)
    const chosen = options.find((o) => o.value === outcome.state[control.key])!
    // Zones keep black beside a highlight darker than the panel undimmed, though it blooms there.
    const off = options.find((o) => o.value === control.neutral)!
    expect(chosen.bar).toBeLessThan(0.8 * off.bar)
    expect(options.some((o) => o.haloing)).toBe(true)
    // The strongest crushes shades, and PQ with them.
    expect(chosen.shade).toBeGreaterThan(0.94)
    expect(Math.min(...options.map((o) => o.shade))).toBeLessThan(0.9)
    expect(outcome.route!.hdr!.tracking!.average).toBeLessThan(3.5)
    for (const o of options)
      if (o.shade > 0.95 && o.peak! > 0.96 * chosen.peak!) expect(chosen.bar).toBeLessThan(1.1 * o.bar)
    expect(outcome.derived.find((d) => d.control === control.key)?.rule).toMatch(
      /the least light beside highlights of \d measured: .* cd\/m² in black beside a highlight, shades \d+ %, peak/,
    )
    expect(unit.spec.zones).toBeDefined()
  })
})

describe('local dimming with a peak beyond the meter', () => {
  it('is chosen by black beside a highlight and by shades all the same', async () => {
    const { outcome } = await rehearse(MAREN, 3, { viewingCase: 'hdr-film' }, (port) => ({
      ...port,
      read: async (how) => {
        const read = await port.read(how)
        return read.ok && (read.value.xyz as number[])[1]! > 600
          ? { ok: true, value: { ...read.value, xyz: [600, 600, 600], flags: ['saturated'] } }
          : read
      },
    }))
    expect(outcome.verified).toBe(true)
    const control = MAREN.sheet.controls.find((c) => c.role === 'dimming')!
    const rule = outcome.derived.find((d) => d.control === control.key)!.rule
    expect(rule).toMatch(/in black beside a highlight, shades \d+ %$/)
    const options = outcome.route!.processing!.dimming
    expect(options.every((o) => o.peak === undefined && Number.isFinite(o.contrast))).toBe(true)
  })
})

describe('care for still pictures', () => {
  it('is back on for watching, and what it takes of one is measured and said', async () => {
    const care = SORREL.sheet.controls.find((c) => c.role === 'panel-care')!
    const { outcome } = await rehearse(SORREL, 3, { viewingCase: 'hdr-film' })
    expect(outcome.verified).toBe(true)
    expect(outcome.state[care.key]).toBe(care.default)
    const own = outcome.derived.find((d) => d.control === care.key)!
    // After the first minute it dims by 12 % a minute.
    expect(own.rule).toMatch(/takes 1[6-9] % of one after 2\.5 minutes/)
    expect(own.readingIds).toHaveLength(2)
  })
})

describe('HDR film with dynamic metadata', () => {
  it('goes as far as the display offers controls, says which it does not, and resets nothing', async () => {
    const peaks = SORREL.sheet.controls.find((c) => c.role === 'tone-mapping')!
    let resets = 0
    const { outcome } = await rehearse(SORREL, 3, { viewingCase: 'hdr-film-dynamic' }, (port) => ({
      ...port,
      reset: async (what) => {
        resets++
        return port.reset(what)
      },
    }))
    expect(outcome.verified).toBe(true)
    expect(outcome.route!.hdr!.mapping).toBe('dynamic')
    expect(outcome.derived.some((d) => d.control === peaks.key)).toBe(false)
    const said = outcome.limits.map((l) => l.sentence).join(' ')
    expect(said).toContain(`does not offer “${peaks.label}”`)
    expect(said).toMatch(/stored with HDR film/)
    expect(outcome.kept.every((m) => m.pattern?.flags.dynamic === true)).toBe(true)
    expect(resets).toBe(0)
  })
  it('begins nothing where the source sends no such metadata', async () => {
    const { display, withHdr } = displayOf(1)
    const outcome = await drive(
      populationBench(display, 1, withHdr).port,
      { viewingCase: 'hdr-film-dynamic', policy: REFERENCE_POLICY },
      { pause: async () => undefined },
    )
    expect(outcome).toMatchObject({
      stopped: expect.stringMatching(/does not send dynamic metadata.*Nothing was changed/),
    })
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
    const [whole, small] = [hdr!.peakByWindow.at(-1)!, hdr!.peakByWindow[1]!]
    if (spec.powerLimit.length) expect(whole.sustained).toBeLessThan(0.5 * small.sustained)
    else expect(whole.sustained / small.sustained).toBeCloseTo(1, 1)
  })
})
