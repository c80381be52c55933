import { drive } from '#bench/unattended'
import type { State } from '#core/display'
import { REFERENCE_POLICY } from '#core/judge'
import {
  bestColourOf,
  bestGreyOf,
  type Drawn,
  drawDisplay,
  lightOf,
  populationBench,
  TRAITS,
  trueColourOf,
  trueGreyOf,
  withTrait,
} from '#tests/population'
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
  /** Memory colours above the best whole clicks of all colour controls, ΔE00; contrast lost against out of the box, %. */
  readonly coloursAbove: number
  readonly contrastLost: number
  readonly planning: readonly number[]
}

/** White over black, without meter and drift. */
const contrastOf = (d: Drawn, state: State): number =>
  lightOf(d, state, [1, 1, 1])[1] / lightOf(d, state, [0, 0, 0])[1]

/** The same on displays with one trait more that no display of ours has, three of each. */
export const traits = async (row: Row): Promise<void> => {
  for (const trait of TRAITS) {
    const figures = {
      above: [] as number[],
      colours: [] as number[],
      light: [] as number[],
      contrast: [] as number[],
      readings: [] as number[],
    }
    let ended = 0
    for (let seed = 1; seed <= 3; seed++) {
      const display = withTrait(drawDisplay(seed), trait)
      const outcome = await drive(
        populationBench(display, seed).port,
        { viewingCase: 'sdr-dark', policy: REFERENCE_POLICY },
        { pause: async () => undefined },
      )
      if (!('verified' in outcome) || !outcome.verified || !outcome.route) continue
      ended++
      const { state, targets } = outcome
      const truth = trueGreyOf(display, state)
      figures.above.push(truth.average - bestGreyOf(display, state))
      figures.colours.push(trueColourOf(display, state, targets) - bestColourOf(display, state, targets))
      figures.light.push(100 * Math.abs(truth.white / targets.luminance - 1))
      figures.contrast.push(
        100 * (1 - contrastOf(display, state) / contrastOf(display, outcome.route.outOfBox!.state)),
      )
      figures.readings.push(outcome.readings + outcome.surveyReadings)
    }
    row(
      trait,
      `${ended} of 3 verified; white above the best ${spread(figures.above, 2)}, memory colours ${spread(figures.colours, 2)}, luminance off ${spread(figures.light, 1)} %, contrast lost ${spread(figures.contrast, 0)} %, readings ${spread(figures.readings, 0)}`,
      'all; 0.10, 0.2, 2 %, 3 %, 150 at the median',
    )
  }
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
      coloursAbove:
        trueColourOf(display, outcome.state, outcome.targets) -
        bestColourOf(display, outcome.state, outcome.targets),
      contrastLost:
        100 * (1 - contrastOf(display, outcome.state) / contrastOf(display, outcome.route!.outOfBox!.state)),
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
    'memory colours above the best whole clicks of all colour controls, ΔE00',
    spread(
      of((c) => c.coloursAbove),
      2,
    ),
    '0.2 median, 0.5 for 95 %',
  )
  row(
    'contrast lost by adjusting, %',
    spread(
      of((c) => c.contrastLost),
      0,
    ),
    '3 median, 10 for 95 %',
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
