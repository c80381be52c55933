import { drive } from '#bench/unattended'
import { type ControlSheet, controlOf } from '#core/display'
import { REFERENCE_POLICY } from '#core/judge'
import { MAREN, PELT, type SimulatedModel, SORREL, TAVIN } from '#core/simulation'
import { type MadeAdjustment, occupiedBy } from '#core/steps'
import { portOf } from '#tests/port'
import { benchWith, type Rehearsal, rehearse } from '#tests/rehearsal'
import { bestReachable, trueGrey, truthOf } from '#tests/truth'
import { byOneControlAtATime } from './person'

type Say = (what: string, measured: string, wanted: string) => void

/** The value under which a share of the values lies. */
export const quantile = (values: readonly number[], q: number): number => {
  const sorted = [...values].sort((a, b) => a - b)
  return sorted[Math.min(sorted.length - 1, Math.ceil(q * sorted.length) - 1)] ?? Number.NaN
}
export const spread = (values: readonly number[], digits: number): string =>
  `${quantile(values, 0.5).toFixed(digits)} median, ${quantile(values, 0.95).toFixed(digits)} for 95 %, ${Math.max(...values).toFixed(digits)} at most`

const UNITS = 20
const DISPLAYS: ReadonlyArray<readonly [string, SimulatedModel]> = [
  ['display 1', MAREN],
  ['display 2', SORREL],
  ['display 3', TAVIN],
  ['display 4', PELT],
]
const TWO_POINT = { ...REFERENCE_POLICY, levelWhite: 'two-point' } as const

/** Readings of adjustments that some controls had a part in. */
const readingsOf = ({ outcome }: Rehearsal, belongs: (adjustment: MadeAdjustment) => boolean): number => {
  const runs = new Set(outcome.adjustments.filter(belongs).map((m) => m.runId))
  return outcome.usable.filter((r) => runs.has(r.runId)).length
}
const adjustments =
  (sheet: ControlSheet, ...roles: string[]) =>
  (adjustment: MadeAdjustment): boolean =>
    adjustment.changes.some((c) => roles.includes(controlOf(sheet, c.control).role))

/** State of a case as it stood before gains and cuts were touched. */
const beforeTwoPoint = ({ outcome }: Rehearsal, sheet: ControlSheet) => {
  const first = outcome.adjustments.find(adjustments(sheet, 'gain', 'cut'))
  const reading = first && outcome.usable.find((r) => r.runId === first.runId)
  if (!first || !reading) return undefined
  return { ...reading.state, ...Object.fromEntries(first.changes.map((c) => [c.control, c.from])) }
}

/** Figures that got worse on the display itself, by more than anybody sees, without the outcome saying so. */
const unsaid = ({ outcome, unit, route }: Rehearsal): string[] => {
  if (!route.outOfBox) return []
  const before = truthOf(unit, route.outOfBox.state, outcome.targets)
  const after = truthOf(unit, outcome.state, outcome.targets)
  const said = outcome.worse.map((w) => w.key).join()
  const tone = (t: typeof before) => Math.abs(t.exponent - t.wantedExponent)
  return [
    ...(after.grey.average > before.grey.average + 0.25 && !said.includes('white-average') ? ['white'] : []),
    ...(after.grey.worst > before.grey.worst + 0.7 && !said.includes('white-worst') ? ['worst white'] : []),
    ...(after.natural > before.natural + 0.25 && !said.includes('natural-average') ? ['memory colours'] : []),
    ...(tone(after) > Math.max(0.07, tone(before) + 0.05) && !said.includes('tone') ? ['tone'] : []),
  ]
}

/** How near each display comes to the best that it can do, and how many readings it takes, over units that differ. */
export const calibration = async (row: Say): Promise<void> => {
  const planning: number[] = []
  const missing: string[] = []
  for (const [name, spec] of DISPLAYS) {
    console.log(`Calibration of ${name}, ${UNITS} units`)
    const { sheet } = spec
    const of = { gap: [], reads: [], preset: [], person: [], personGap: [] } as Record<string, number[]>
    const whole = {
      white: [],
      worst: [],
      natural: [],
      total: [],
      light: [],
      tone: [],
      level: [],
      survey: [],
    } as Record<string, number[]>
    const second = { share: [], error: [] } as Record<string, number[]>
    const levels = new Set(
      sheet.controls.flatMap((c) => (c.role === 'level-white' && c.level ? [c.level] : [])),
    )
    const managed = sheet.controls.some((c) => c.colour !== undefined)
    let notVerified = 0
    for (let seed = 1; seed <= UNITS; seed++) {
      const two = await rehearse(spec, seed, { policy: TWO_POINT })
      const best = bestReachable(two.unit, two.outcome.state)
      of.gap!.push(trueGrey(two.unit, two.outcome.state).average - best)
      of.reads!.push(25 + readingsOf(two, adjustments(sheet, 'gain', 'cut')))
      of.preset!.push(readingsOf(two, adjustments(sheet, 'white-preset')))
      const from = beforeTwoPoint(two, sheet)
      if (from) {
        const person = byOneControlAtATime(two.unit, from, seed)
        of.person!.push(person.readings)
        of.personGap!.push(trueGrey(two.unit, person.state).average - best)
      }

      const done = await rehearse(spec, seed)
      const { outcome } = done
      if (!outcome.verified) notVerified++
      const truth = truthOf(done.unit, outcome.state, outcome.targets)
      whole.white!.push(truth.grey.average)
      whole.worst!.push(truth.grey.worst)
      whole.natural!.push(truth.natural)
      whole.total!.push(outcome.readings)
      whole.survey!.push(outcome.surveyReadings)
      whole.light!.push(100 * Math.abs(truth.white / outcome.targets.luminance - 1))
      whole.tone!.push(Math.abs(truth.exponent - truth.wantedExponent))
      if (levels.size) whole.level!.push(readingsOf(done, (m) => m.step === 'level-white') / levels.size)
      planning.push(...outcome.planning.slice(3))
      missing.push(...unsaid(done).map((what) => `${name}, unit ${seed}: ${what}`))

      const later = await drive(
        portOf(benchWith(spec, seed)),
        {
          viewingCase: 'sdr-bright',
          policy: REFERENCE_POLICY,
          priors: outcome.priors,
          known: outcome.usable.filter((r) => r.purpose === 'survey' || r.purpose === 'feed-check'),
          latencies: outcome.latencies,
          occupied: occupiedBy(sheet, outcome.state, 'sdr-dark', 'sdr'),
        },
        { pause: async () => undefined },
      )
      if ('verified' in later && later.verified) {
        second.share!.push((100 * later.readings) / outcome.readings)
        second.error!.push(later.after!.grey.whiteError.average)
        planning.push(...later.planning.slice(3))
      }
    }
    row(
      `${name}: two-point white above the best whole clicks, average ΔE00`,
      spread(of.gap!, 3),
      'at most 0.15 for 95 %',
    )
    row(
      `${name}: readings for two-point white, both sweeps included`,
      `${spread(of.reads!, 0)}; presets ${quantile(of.preset!, 0.5)} more`,
      'at most 30',
    )
    row(
      `${name}: the same by a person, one control at a time`,
      of.person!.length
        ? `${spread(of.person!, 0)} readings; ${spread(of.personGap!, 2)} above the best`
        : 'no gains and cuts were moved',
      'for comparison',
    )
    row(
      `${name}: greyscale ΔE at the end, average ΔE00`,
      spread(whole.white!, 2),
      levels.size ? 'at most 0.5' : 'no level-by-level controls',
    )
    row(
      `${name}: worst level at the end, ΔE00`,
      spread(whole.worst!, 2),
      levels.size ? 'at most 1.2' : 'no level-by-level controls',
    )
    if (levels.size)
      row(`${name}: readings a level for multi-point white balance`, spread(whole.level!, 1), 'at most 4')
    row(
      `${name}: memory colours at the end, average ΔE00`,
      spread(whole.natural!, 2),
      managed ? 'at most 1.0' : 'no colour management',
    )
    row(
      `${name}: readings of a whole sdr-dark case`,
      `${spread(whole.total!, 0)}; survey ${quantile(whole.survey!, 0.5)} apart; ${UNITS - notVerified} of ${UNITS} verified`,
      name === 'display 1' ? 'at most 200' : 'fewer where the sheet is shorter',
    )
    row(
      `${name}: readings of sdr-bright after it, share of sdr-dark`,
      `${spread(second.share!, 0)} %; greyscale ΔE ${spread(second.error!, 2)}`,
      'at most 60 %',
    )
    row(`${name}: luminance off its target`, `${spread(whole.light!, 1)} %`, '3 % or the nearest click')
    row(`${name}: exponent off its target, 20 to 90 %`, spread(whole.tone!, 3), 'at most 0.05')
  }
  row('figures worse than factory without saying so', missing.length ? missing.join('; ') : 'none', 'none')
  row(
    'planning between two readings, processes warm',
    `${quantile(planning, 0.5).toFixed(0)} ms median, ${quantile(planning, 0.95).toFixed(0)} ms for 95 %, ${Math.max(...planning).toFixed(0)} ms at most`,
    'at most 50 ms',
  )
}
