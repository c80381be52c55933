import { drive } from '#bench/unattended'
import { REFERENCE_POLICY } from '#core/judge'
import { bestGreyOf, drawDisplay, populationBench, trueGreyOf } from '#tests/population'
import { spread } from './calibration'

/** Displays that the figures are taken from. */
const DISPLAYS = 40

type Row = (what: string, measured: string, wanted: string) => void

/** Figures of whole `sdr-dark` cases over displays that nothing was tuned to. In: where a figure goes. */
export const population = async (row: Row): Promise<void> => {
  const above: number[] = []
  const worst: number[] = []
  const readings: number[] = []
  const luminance: number[] = []
  const stopped: string[] = []
  let [blamed, quirks, found] = [0, 0, 0]
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
    above.push(truth.average - bestGreyOf(display, outcome.state))
    worst.push(truth.worst)
    readings.push(outcome.readings + outcome.surveyReadings)
    luminance.push(Math.abs(truth.white / outcome.targets.luminance - 1))
    const faulty = new Set(outcome.controlFaults.flatMap((f) => (f.suspected ? [] : [f.control])))
    if (display.quirk) {
      quirks++
      if (faulty.delete(display.quirk.control)) found++
    }
    blamed += faulty.size
  }
  row(`cases of ${DISPLAYS} displays that end verified`, `${above.length}`, 'all')
  for (const reason of new Set(stopped.map((s) => s.slice(0, 90))))
    row(`  ended before: ${reason}`, `${stopped.filter((s) => s.startsWith(reason)).length}`, 'none')
  row('greyscale ΔE00 above the best whole clicks', spread(above, 2), 'at most 0.15 for 95 %, 0.30')
  row('worst level, ΔE00', spread(worst, 2), 'at most 1.0 above the best')
  row('measurements of a case, the survey included', spread(readings, 0), '160 median, 200 for 95 %')
  row(
    'luminance off its target',
    spread(
      luminance.map((l) => 100 * l),
      1,
    ),
    'at most 2 %',
  )
  row('controls blamed for certain that are as they should be', `${blamed}`, 'one in 1,000')
  row('controls at fault that were found', `${found} of ${quirks}`, '95 %')
}
