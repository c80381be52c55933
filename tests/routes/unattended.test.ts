import { describe, expect, it } from 'vitest'
import type { BenchPort } from '#bench/executor'
import { drive } from '#bench/unattended'
import { ControlSheet, controlOf, slotOf } from '#core/display'
import { REFERENCE_POLICY } from '#core/judge'
import { MAREN, PELT, type SimulatedModel, TAVIN } from '#core/simulation'
import { crooked, type Habit, portOf } from '#tests/port'
import { benchWith, rehearse } from '#tests/rehearsal'
import { trueGrey } from '#tests/truth'

const twoPoint = { ...REFERENCE_POLICY, levelWhite: 'two-point' } as const
const atOnce = { pause: async () => undefined }

describe('a control that is not what its sheet says', () => {
  const withHabit = (key: string, habit: Habit, other?: string) =>
    rehearse(MAREN, 5, { policy: twoPoint, baseMode: 'studio' }, (port) =>
      crooked(port, controlOf(MAREN.sheet, key), habit, other ? controlOf(MAREN.sheet, other) : undefined),
    )
  const wordsOf = ({ outcome }: Awaited<ReturnType<typeof withHabit>>) =>
    [...outcome.controlFaults.map((o) => o.sentence), ...outcome.notes].join(' ')

  it('is named where it does nothing, and the rest is done without it', async () => {
    const dead = await withHabit('gain-blue', 'does-nothing')
    expect(wordsOf(dead)).toMatch(/“Gain, blue” has no measurable effect/)
    expect(dead.outcome.verified).toBe(true)
    expect(dead.outcome.after!.grey.whiteError.average).toBeLessThan(
      dead.outcome.before!.grey.whiteError.average,
    )
  })
  it('is used the other way round where it works backwards', async () => {
    const turned = await withHabit('gain-blue', 'backwards')
    expect(wordsOf(turned)).toMatch(/“Gain, blue” works backwards/)
    expect(turned.outcome.after!.grey.whiteError.average).toBeLessThan(0.7)
  })
  it('still leads to a good white where it jumps', async () => {
    const { outcome } = await withHabit('gain-blue', 'jumps')
    expect(outcome.after!.grey.whiteError.average).toBeLessThan(0.8)
  })
  it('is not driven on where it stops half-way', async () => {
    const { outcome } = await rehearse(MAREN, 5, { policy: twoPoint }, (port) =>
      crooked(port, controlOf(MAREN.sheet, 'gain-blue'), 'stops-half-way'),
    )
    expect(outcome.controlFaults.map((o) => o.sentence).join(' ')).toMatch(/“Gain, blue” has/)
    expect(outcome.verified).toBe(true)
    expect(outcome.after!.grey.whiteError.average).toBeLessThan(1)
  })
  it.each<Habit>(['coupled', 'undeclared-memory'])('puts back what else it moved: %s', async (habit) => {
    const other = await withHabit('gain-blue', habit, 'gain-red')
    // Whichever of the two was set last shows it.
    expect(wordsOf(other)).toMatch(
      /also changed “Gain, red”, which the sheet does not say|“Gain, red” reverted once and was set again/,
    )
    expect(other.outcome.after!.grey.whiteError.average).toBeLessThan(0.7)
  })
  it('is found among sixty of single levels, without blaming its neighbours', async () => {
    const { unit, outcome } = await rehearse(MAREN, 5, { baseMode: 'studio' }, (port) =>
      crooked(port, controlOf(MAREN.sheet, 'step-50-red'), 'backwards'),
    )
    expect(outcome.controlFaults.map((o) => [o.control, o.kind])).toEqual([['step-50-red', 'backwards']])
    // What the menu shows is the opposite of what the panel does.
    const shown = Number(outcome.state['step-50-red'])
    const real = trueGrey(unit, { ...outcome.state, 'step-50-red': -shown })
    expect(real.average).toBeLessThan(0.35)
  })
  it('is not suspected on displays that are as they should be', async () => {
    for (const [spec, seed] of [
      [MAREN, 8],
      [TAVIN, 3],
    ] as const)
      expect((await rehearse(spec, seed)).outcome.controlFaults).toEqual([])
  })
})

describe('a sheet that was never seen', () => {
  /** The same display with other keys and labels, its menus in another order. */
  const disguised = (spec: SimulatedModel): SimulatedModel => {
    const key = (k: string) => `k-${[...k].reduce((h, c) => (h * 31 + c.charCodeAt(0)) % 1_000_003, 7)}`
    const controls = spec.sheet.controls.map((c) => ({
      ...c,
      key: key(c.key),
      label: `Item ${key(c.key).slice(2)}`,
      path: ['Elsewhere'],
      ...(c.needs
        ? { needs: c.needs.map((n) => ('control' in n ? { ...n, control: key(n.control) } : n)) }
        : {}),
    }))
    // What chooses among memories stays in front of what it chooses.
    const sheet = ControlSheet.parse({ ...spec.sheet, controls: controls.reverse() })
    return { ...spec, sheet }
  }
  it.each([
    ['edge-lit television', TAVIN, 6],
    ['desktop monitor', PELT, 5],
  ] as const)('%s: it works by roles and readings, not by names', async (_, spec, seed) => {
    const plain = await rehearse(spec, seed)
    const other = await rehearse(disguised(spec), seed)
    expect(other.outcome.verified).toBe(true)
    expect(other.outcome.baseMode).toBe(plain.outcome.baseMode)
    const [a, b] = [plain, other].map(({ unit, outcome }) => trueGrey(unit, outcome.state).average)
    expect(Math.abs(a! - b!)).toBeLessThan(0.25)
    expect(Math.abs(plain.outcome.readings - other.outcome.readings)).toBeLessThan(25)
  })
})

describe('a display that is in trouble', () => {
  it('is set again where it drops a value once, and left alone where it keeps doing so', async () => {
    let drops = 0
    const dropping = (times: number) => (port: BenchPort) => ({
      ...port,
      set: async (key: string, value: string | number) =>
        key === 'gain-red' && drops++ < times
          ? { ok: true as const, value: { value, clock: 0 } as never }
          : port.set(key, value),
    })
    const once = await rehearse(MAREN, 3, { policy: twoPoint, baseMode: 'studio' }, dropping(1))
    expect(once.outcome.notes.join(' ')).toMatch(/“Gain, red” reverted once and was set again/)
    drops = 0
    const always = await rehearse(MAREN, 3, { policy: twoPoint, baseMode: 'studio' }, dropping(1e6))
    expect(always.outcome.controlFaults).toContainEqual(
      expect.objectContaining({ control: 'gain-red', kind: 'dropped' }),
    )
    expect(always.outcome.state['gain-red']).toBe(0)
    expect(always.outcome.verified).toBe(true)
  })
  it('is read again once it has settled, where it drifted within a sweep', async () => {
    let reads = 0
    const { outcome } = await rehearse(PELT, 2, { baseMode: 'clamp' }, (port) => ({
      ...port,
      read: async (wish) => {
        const answer = await port.read(wish)
        reads++
        const share = 1 - 0.004 * Math.min(30, Math.max(0, reads - 25))
        if (!answer.ok || !Array.isArray(answer.value.xyz)) return answer
        const xyz = (answer.value.xyz as number[]).map((v) => v * share)
        return { ok: true, value: { ...answer.value, xyz } }
      },
    }))
    expect(outcome.notes.join(' ')).toMatch(
      /Drifted while it was read: .* read again once the display has settled/,
    )
    expect(outcome.verified).toBe(true)
  })
  it('is tried three times by a meter in trouble; the bad readings are kept and the patch left out', async () => {
    let shown = ''
    const { outcome } = await rehearse(PELT, 4, { baseMode: 'clamp' }, (port) => ({
      ...port,
      showPattern: (pattern) => {
        shown = pattern.codes.join()
        return port.showPattern(pattern)
      },
      read: async (wish) => {
        const answer = await port.read(wish)
        const forty = new Set(shown.split(',')).size === 1 && Math.abs(Number(shown.split(',')[0]) - 414) < 3
        return answer.ok && forty ? { ok: true, value: { ...answer.value, flags: ['saturated'] } } : answer
      },
    }))
    expect(outcome.notes.join(' ')).toMatch(/40 % could not be read and is left out\. The meter is saturated/)
    const bad = outcome.kept.filter((r) => r.patch.key === 'grey-40')
    expect(bad.length).toBeGreaterThanOrEqual(3)
    for (const r of bad) expect(r.fault).toBeDefined()
    expect(outcome.usable.some((r) => r.patch.key === 'grey-40')).toBe(false)
    expect(outcome.verified).toBe(true)
  })
  it('ends with a reason where the bench is gone for good, and with all that was read', async () => {
    let reads = 0
    const { outcome } = await rehearse(PELT, 4, { baseMode: 'clamp' }, (port) => ({
      ...port,
      read: async (wish) =>
        ++reads > 20
          ? { ok: false, failure: { kind: 'away', message: 'The bench does not answer.' } }
          : port.read(wish),
    }))
    expect(outcome).toMatchObject({ verified: false, stopped: 'The bench does not answer.' })
    expect(outcome.usable.length).toBeGreaterThan(10)
  })
})

describe('a source that shows windows only', () => {
  it('is asked for nothing else, the case is verified, and what was not checked is said', async () => {
    const asked = new Set<string>()
    const { outcome } = await rehearse(PELT, 2, { baseMode: 'clamp' }, (port) => ({
      ...port,
      describe: async () => {
        const answer = await port.describe()
        if (!answer.ok || !answer.value.pattern) return answer
        return {
          ok: true,
          value: { ...answer.value, pattern: { ...answer.value.pattern, layouts: ['window'] } },
        }
      },
      showPattern: (pattern) => {
        asked.add(pattern.layout)
        return port.showPattern(pattern)
      },
    }))
    expect([...asked]).toEqual(['window'])
    expect(outcome.verified).toBe(true)
    expect(outcome.limits.map((l) => l.sentence).join(' ')).toMatch(/pixel for pixel was not checked/)
  })
})

describe('where nothing can begin', () => {
  const port = () => portOf(benchWith(PELT, 1))
  it.each([
    ['the bench has no meter', { meter: null }, /no meter/],
    ['the bench has no display', { display: null }, /no display/],
    ['the bench has no pattern source', { pattern: null }, /no pattern source/],
  ] as const)('%s', async (_, missing, words) => {
    const bench = port()
    const without: BenchPort = {
      ...bench,
      describe: async () => {
        const answer = await bench.describe()
        return answer.ok ? { ok: true, value: { ...answer.value, ...missing } } : answer
      },
    }
    const out = await drive(without, { viewingCase: 'sdr-dark', policy: REFERENCE_POLICY }, atOnce)
    expect(out).toEqual({ stopped: expect.stringMatching(words) })
  })
  it('the mode is none of the display’s', async () => {
    const of = (wish: object) =>
      drive(port(), { viewingCase: 'sdr-dark', policy: REFERENCE_POLICY, ...wish }, atOnce)
    expect(await of({ baseMode: 'cinema' })).toEqual({ stopped: '“Preset” has no value cinema.' })
  })
})

describe('the second case', () => {
  it('needs far fewer readings on the same unit, since the first taught it', async () => {
    const first = (await rehearse(MAREN, 3)).outcome
    const bench = benchWith(MAREN, 3)
    const second = await drive(
      portOf(bench),
      {
        viewingCase: 'sdr-bright',
        policy: REFERENCE_POLICY,
        priors: first.priors,
        known: first.usable.filter((r) => r.purpose === 'survey' || r.purpose === 'feed-check'),
        latencies: first.latencies,
      },
      atOnce,
    )
    if (!('verified' in second)) throw new Error(second.stopped)
    expect(second.verified).toBe(true)
    expect(second.surveyReadings).toBe(0)
    expect(second.readings).toBeLessThanOrEqual(0.5 * (first.readings + first.surveyReadings))
    expect(second.after!.grey.whiteError.average).toBeLessThan(0.6)
  })
  it('teaches only what it read, in response priors that can be kept', async () => {
    const { outcome } = await rehearse(TAVIN, 6)
    expect(outcome.priors.length).toBeGreaterThan(3)
    for (const prior of outcome.priors) {
      expect(() => controlOf(TAVIN.sheet, prior.control)).not.toThrow()
      for (const number of [...prior.at, ...prior.mean]) expect(Number.isFinite(number)).toBe(true)
      expect(prior.readings).toBeGreaterThan(0)
    }
  })
  it('avoids the mode whose memory holds the values of the first', async () => {
    const first = (await rehearse(TAVIN, 6)).outcome
    const used = first.adjustments.flatMap((m) => m.changes.map((c) => c.control))
    const occupied = [...new Set(used)].map((key) => {
      const control = controlOf(TAVIN.sheet, key)
      return {
        slot: slotOf(TAVIN.sheet, control, first.state, 'sdr'),
        control: key,
        value: first.state[key]!,
        viewingCase: 'sdr-dark' as const,
      }
    })
    const { outcome } = await rehearse(TAVIN, 6, {
      viewingCase: 'sdr-bright',
      occupied,
      known: first.usable.filter((r) => r.purpose === 'survey'),
    })
    expect(outcome.baseMode).not.toBe(first.baseMode)
    for (const { slot, value } of occupied)
      for (const c of TAVIN.sheet.controls)
        if (c.memory.length && slotOf(TAVIN.sheet, c, outcome.state, 'sdr') === slot)
          expect(outcome.state[c.key]).toBe(value)
  })
})
