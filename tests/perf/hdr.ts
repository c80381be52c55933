import { drive, learnedFrom, wishOf } from '#bench/unattended'
import { D65, deltaEItp, pqEotf, xyToXyz } from '#core/colorimetry'
import type { NumberControl, State } from '#core/display'
import { type HdrGrey, mappingOf, WHITE_FROM } from '#core/hdr'
import { REFERENCE_POLICY } from '#core/judge'
import { eotfSweep, type Patch, patternOf } from '#core/measure'
import { hdrSignal, SDR_SIGNAL } from '#core/signal'
import { type Drawn, drawDisplay, drawHdr, heldLight, mappingIn, populationBench } from '#tests/population'
import { spread } from './calibration'

/** Displays that the figures are taken from; fewer where `WEXMAR_DISPLAYS` says so. */
const DISPLAYS = Math.min(100, Number(process.env.WEXMAR_DISPLAYS ?? 60))
type Row = (what: string, measured: string, wanted: string) => void
type WithHdr = ReturnType<typeof drawHdr>

const SIGNAL = hdrSignal(SDR_SIGNAL)

/** Light of a patch that has stood until power holds, without meter and drift. */
const held = (d: Drawn, { hdr }: WithHdr, state: State, patch: Patch) =>
  heldLight(d, hdr, { pattern: patternOf(patch, SIGNAL), state })

/** White of greys in a state, average ΔE ITP at each one's own luminance, without scatter. */
const whiteOf = (d: Drawn, withHdr: WithHdr, state: State, greys: readonly Patch[]): number =>
  greys.reduce((sum, patch) => {
    const xyz = held(d, withHdr, state, patch)
    return sum + deltaEItp(xyToXyz(D65, xyz[1]), xyz)
  }, 0) / greys.length

/** The same with the best whole clicks of red and blue that are found from there. */
const bestWhite = (d: Drawn, withHdr: WithHdr, from: State, greys: readonly Patch[]): number => {
  const controls = d.sheet.controls.filter(
    (c): c is NumberControl =>
      c.kind === 'number' && (c.role === 'gain' || c.role === 'cut') && c.channel !== 'green',
  )
  let state = from
  let best = whiteOf(d, withHdr, state, greys)
  const attempt = (key: string, value: number) => {
    const other = { ...state, [key]: value }
    const error = whiteOf(d, withHdr, other, greys)
    if (error >= best - 1e-4) return false
    ;[best, state] = [error, other]
    return true
  }
  for (const clicks of [8, 4, 2, 1])
    for (let improved = true; improved; ) {
      improved = false
      for (const { key, range } of controls)
        for (const to of [Number(state[key]) - clicks, Number(state[key]) + clicks])
          if (to >= range.min && to <= range.max && attempt(key, to)) improved = true
    }
  return best
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
    above: [] as number[],
    tracking: [] as number[],
    readings: [] as number[],
    afterSdr: [] as number[],
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
    for (const w of verdict.peakByWindow)
      figures.peak.push(
        100 * Math.abs(w.sustained / held(display, withHdr, state, { ...white, window: w.window })[1] - 1),
      )
    if (verdict.white) figures.white.push(verdict.white.average)
    const greys = eotfSweep().filter(
      (p) => p.signal[1] >= WHITE_FROM && pqEotf(p.signal[1]) <= (verdict.knee ?? 0),
    )
    if (greys.length)
      figures.above.push(whiteOf(display, withHdr, state, greys) - bestWhite(display, withHdr, state, greys))
    if (verdict.tracking) figures.tracking.push(verdict.tracking.average)
    const alone = outcome.readings + outcome.surveyReadings
    figures.readings.push(alone)
    if (seed <= DISPLAYS / 3) {
      const both = populationBench(display, seed, withHdr).port
      const sdr = await drive(
        both,
        { viewingCase: 'sdr-dark', policy: REFERENCE_POLICY },
        { pause: async () => undefined },
      )
      if ('verified' in sdr && sdr.verified) {
        const known = wishOf(learnedFrom(sdr, undefined), sdr.identity.serial, 'hdr-film')
        const second = await drive(
          both,
          { viewingCase: 'hdr-film', policy: REFERENCE_POLICY, ...known },
          { pause: async () => undefined },
        )
        if ('verified' in second && second.verified)
          figures.afterSdr.push((100 * (second.readings + second.surveyReadings)) / alone)
        else stopped.push(`after SDR: ${second.stopped}`)
      }
    }
  }
  row(`HDR cases of ${DISPLAYS} displays that end verified`, `${told}`, 'all')
  for (const reason of new Set(stopped.map((s) => s.slice(0, 90))))
    row(`  ended before: ${reason}`, `${stopped.filter((s) => s.startsWith(reason)).length}`, 'none')
  row('kind of tone mapping told right', `${right} of ${told}`, 'all')
  row('knee off the true one, %', spread(figures.knee, 1), 'at most 3')
  row('sustained peak off the true one, %, all windows', spread(figures.peak, 1), 'at most 2')
  row('white, average ΔE ITP up to the knee', spread(figures.white, 2), '')
  row('  above the best whole clicks of red and blue', spread(figures.above, 2), 'at most 0.3')
  row('tracking up to the knee, average ΔE ITP', spread(figures.tracking, 2), 'at most 3')
  row('measurements of a case, the survey included', spread(figures.readings, 0), '220 for 95 %')
  row('  after SDR of the same unit, % of that', spread(figures.afterSdr, 0), 'at most 60')
}
