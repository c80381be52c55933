import { drive } from '#bench/unattended'
import { pqEotf } from '#core/colorimetry'
import type { State } from '#core/display'
import { type HdrGrey, mappingOf } from '#core/hdr'
import { REFERENCE_POLICY } from '#core/judge'
import { type Patch, patternOf } from '#core/measure'
import { hdrSignal, SDR_SIGNAL } from '#core/signal'
import {
  type Drawn,
  drawDisplay,
  drawHdr,
  hdrLightOf,
  leftAt,
  loadOf,
  mappingIn,
  populationBench,
} from '#tests/population'
import { spread } from './calibration'

/** Displays that the figures are taken from; fewer where `WEXMAR_DISPLAYS` says so. */
const DISPLAYS = Math.min(100, Number(process.env.WEXMAR_DISPLAYS ?? 60))
type Row = (what: string, measured: string, wanted: string) => void
type WithHdr = ReturnType<typeof drawHdr>

const SIGNAL = hdrSignal(SDR_SIGNAL)

/** Light of a patch that has stood until power holds, without meter and drift. */
const held = (d: Drawn, { hdr }: WithHdr, state: State, patch: Patch) => {
  const pattern = patternOf(patch, SIGNAL)
  const left = leftAt(hdr, loadOf(d, hdr, { pattern, state }))
  return hdrLightOf(d, hdr, { pattern, state, left })
}

/** Knee of a display in a state, from a sweep of every code without scatter. */
const trueKnee = (d: Drawn, withHdr: WithHdr, state: State): number | undefined => {
  const greys = Array.from({ length: 700 }, (_, i): HdrGrey => {
    const signal = 0.2 + (0.8 * i) / 699
    const xyz = held(d, withHdr, state, {
      key: 'grey',
      label: 'grey',
      signal: [signal, signal, signal],
      level: null,
    })
    return { signal, target: pqEotf(signal), xyz, sigma: 0 }
  })
  return mappingOf(greys, []).knee
}

/** Figures of whole `hdr-film` cases over displays that nothing was tuned to. In: where a figure goes. */
export const hdrFilm = async (row: Row): Promise<void> => {
  const figures = {
    knee: [] as number[],
    peak: [] as number[],
    white: [] as number[],
    tracking: [] as number[],
    readings: [] as number[],
  }
  const stopped: string[] = []
  let [right, told] = [0, 0]
  for (let seed = 1; seed <= DISPLAYS; seed++) {
    const drawn = drawDisplay(seed)
    const withHdr = drawHdr(drawn)
    const display = { ...drawn, sheet: withHdr.sheet }
    const outcome = await drive(
      populationBench(display, seed, withHdr).port,
      { viewingCase: 'hdr-film', policy: REFERENCE_POLICY },
      { pause: async () => undefined },
    )
    const verdict = 'verified' in outcome && outcome.verified ? outcome.route?.hdr : undefined
    if (!verdict || !('state' in outcome)) {
      stopped.push(outcome.stopped ?? 'nothing of HDR was judged')
      continue
    }
    const { state } = outcome
    told++
    if (verdict.mapping === mappingIn(withHdr.hdr, state)) right++
    const knee = trueKnee(display, withHdr, state)
    if (knee && verdict.knee) figures.knee.push(100 * Math.abs(verdict.knee / knee - 1))
    const white: Patch = { key: 'peak', label: 'Peak', signal: [1, 1, 1], level: null }
    for (const w of verdict.windows)
      figures.peak.push(
        100 * Math.abs(w.sustained / held(display, withHdr, state, { ...white, window: w.window })[1] - 1),
      )
    if (verdict.white) figures.white.push(verdict.white.average)
    if (verdict.tracking) figures.tracking.push(verdict.tracking.average)
    figures.readings.push(outcome.readings + outcome.surveyReadings)
  }
  row(`HDR cases of ${DISPLAYS} displays that end verified`, `${told}`, 'all')
  for (const reason of new Set(stopped.map((s) => s.slice(0, 90))))
    row(`  ended before: ${reason}`, `${stopped.filter((s) => s.startsWith(reason)).length}`, 'none')
  row('kind of tone mapping told right', `${right} of ${told}`, 'all')
  row('knee off the true one, %', spread(figures.knee, 1), 'at most 3')
  row('sustained peak off the true one, %, all windows', spread(figures.peak, 1), 'at most 2')
  row('white, average ΔE ITP up to the knee', spread(figures.white, 2), 'at most 0.3 above the best')
  row('tracking up to the knee, average ΔE ITP', spread(figures.tracking, 2), 'at most 3')
  row('measurements of a case, the survey included', spread(figures.readings, 0), '220 for 95 %')
}
