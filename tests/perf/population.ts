import { drive } from '#bench/unattended'
import { REFERENCE_POLICY } from '#core/judge'
import { bestGreyOf, drawDisplay, populationBench, trueGreyOf } from '#tests/population'
import { spread } from './calibration'

/** Displays that the figures are taken from; fewer where `WEXMAR_DISPLAYS` says so. */
const DISPLAYS = Number(process.env.WEXMAR_DISPLAYS ?? 200)

/** Change of average greyscale ΔE00 from which on a fault matters for the result. */
const MATTERS = 0.1

type Row = (what: string, measured: string, wanted: string) => void

/** What came of one display. */
interface Case {
  readonly levels: string
  readonly gains: string
  /** Average greyscale ΔE00 above the best whole clicks of red and blue, and of all three channels. */
  readonly above: number
  readonly aboveFree: number
  readonly worst: number
  readonly measurements: number
  readonly meterReadings: number
  readonly luminance: number
  readonly gamma: number
  readonly nearBlack: number
  readonly claimed: number
  readonly memoryColours: number
  readonly planning: readonly number[]
}

/** Figures of whole `sdr-dark` cases over displays that nothing was tuned to. In: where a figure goes. */
export const population = async (row: Row): Promise<void> => {
  const cases: Case[] = []
  const stopped: string[] = []
  let [blamed, found, missed, idle, controls] = [0, 0, 0, 0, 0]
  for (let seed = 1; seed <= DISPLAYS; seed++) {
    const display = drawDisplay(seed)
    const outcome = await drive(
      populationBench(display, seed).port,
      { viewingCase: 'sdr-dark', policy: REFERENCE_POLICY },
      { pause: async () => undefined },
    )
    if (!('verified' in outcome) || !outcome.verified) {
      stopped.push(outcome.stopped ?? 'not verified')
      continue
    }
    const truth = trueGreyOf(display, outcome.state)
    const after = outcome.after!
    const [levels, gains] = display.family.split(', ')
    cases.push({
      levels: levels!,
      gains: gains!,
      above: truth.average - bestGreyOf(display, outcome.state),
      aboveFree: truth.average - bestGreyOf(display, outcome.state, ['red', 'green', 'blue']),
      worst: truth.worst,
      measurements: outcome.readings + outcome.surveyReadings,
      meterReadings: outcome.kept.reduce((sum, m) => sum + m.samples, 0),
      luminance: 100 * Math.abs(truth.white / outcome.targets.luminance - 1),
      gamma: Math.abs((after.grey.gamma ?? 0) - (after.grey.wantedGamma ?? 0)),
      nearBlack: 100 * Math.abs((after.grey.nearBlack?.share ?? 1) - 1),
      claimed: after.grey.whiteError.average - truth.average,
      memoryColours: (after.natural?.average ?? 0) - (outcome.before?.natural?.average ?? 0),
      planning: outcome.planning,
    })
    controls += display.sheet.controls.length
    const faulty = new Set(outcome.controlFaults.flatMap((f) => (f.suspected ? [] : [f.control])))
    if (display.quirk) {
      const { kind } = display.quirk
      // A fault that changes nothing of the result has done no harm, and is not there to be seen.
      const without = trueGreyOf({ ...display, quirk: null }, outcome.state).average
      if (faulty.delete(display.quirk.control)) found++
      else if (kind !== 'forgets' && Math.abs(truth.average - without) > MATTERS) missed++
      else idle++
    }
    blamed += faulty.size
  }
  const of = (figure: (c: Case) => number, among = cases) => among.map(figure)
  row(`cases of ${DISPLAYS} displays that end verified`, `${cases.length}`, 'all')
  for (const reason of new Set(stopped.map((s) => s.slice(0, 90))))
    row(`  ended before: ${reason}`, `${stopped.filter((s) => s.startsWith(reason)).length}`, 'none')
  row(
    'greyscale ΔE00 above the best whole clicks',
    spread(
      of((c) => c.above),
      2,
    ),
    'at most 0.15 for 95 %, 0.30',
  )
  for (const levels of [...new Set(cases.map((c) => c.levels))].sort())
    row(
      `  with ${levels}`,
      spread(
        of(
          (c) => c.above,
          cases.filter((c) => c.levels === levels),
        ),
        2,
      ),
      '',
    )
  for (const gains of [...new Set(cases.map((c) => c.gains))].sort())
    row(
      `  with ${gains}`,
      spread(
        of(
          (c) => c.above,
          cases.filter((c) => c.gains === gains),
        ),
        2,
      ),
      '',
    )
  row(
    '  the same with green free',
    spread(
      of((c) => c.aboveFree),
      2,
    ),
    '',
  )
  row(
    'worst level, ΔE00',
    spread(
      of((c) => c.worst),
      2,
    ),
    'at most 1.0 above the best',
  )
  row(
    'measurements of a case, the survey included',
    spread(
      of((c) => c.measurements),
      0,
    ),
    '160 median, 200 for 95 %',
  )
  row(
    'single readings of the meter',
    spread(
      of((c) => c.meterReadings),
      0,
    ),
    '',
  )
  row(
    'luminance off its target, %',
    spread(
      of((c) => c.luminance),
      1,
    ),
    'at most 2',
  )
  row(
    'gamma off its target',
    spread(
      of((c) => c.gamma),
      2,
    ),
    'at most 0.05 where a control allows',
  )
  row(
    'luminance near black off its target, %',
    spread(
      of((c) => c.nearBlack),
      0,
    ),
    'at most 15',
  )
  row(
    'greyscale ΔE00 claimed beyond the truth',
    spread(
      of((c) => c.claimed),
      2,
    ),
    '',
  )
  row(
    'memory colours against out of the box, ΔE00',
    spread(
      of((c) => c.memoryColours),
      2,
    ),
    'none above 0',
  )
  row('controls blamed for certain that are as they should be', `${blamed} of ${controls}`, 'one in 1,000')
  row('controls at fault that were found, of those that matter', `${found} of ${found + missed}`, '95 %')
  row('  at fault without changing the result', `${idle}`, '')
  row(
    'planning between two readings, ms',
    spread(
      cases.flatMap((c) => c.planning),
      0,
    ),
    '10 median, 50 for 95 %',
  )
}
