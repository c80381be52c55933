import { calibrationResult } from '#bench/unattended'
import { xyToUv, xyzToXy } from '#core/colorimetry'
import { colourError } from '#core/judge'
import { edgesOf, PATCHES, patternOf, uniformityPatches } from '#core/measure'
import { normal, uniform } from '#core/random'
import { lightAt, makeUnit, PELT, shine } from '#core/simulation'
import { targetOn } from '#core/target'
import { rehearse } from '#tests/rehearsal'
import { spread } from './calibration'

type Row = (what: string, measured: string, wanted: string) => void
/** Seconds after which every simulated display is warm. */
const WARM = 1e6
const UNITS = 8

/** Gamut clamps and uniformity of units of a simulated monitor, against their light without a meter. */
const onDesktop = async (row: Row): Promise<void> => {
  const natural: number[] = []
  const light: number[] = []
  const colour: number[] = []
  for (let seed = 1; seed <= UNITS; seed++) {
    const { outcome } = await rehearse(PELT, seed, { viewingCase: 'desktop', baseMode: 'own' })
    const result = calibrationResult(outcome)
    const { facts } = outcome.route!.context
    const unit = makeUnit(PELT, seed)
    const lightOf = (state: typeof outcome.state, patch: (typeof PATCHES)['sdr']['white']) => {
      const pattern = patternOf(patch, facts.signal)
      return shine(unit, { state, pattern, flagged: pattern.flags, onFor: WARM, stillFor: 0 })
    }
    const { white, black, memoryColours } = PATCHES.sdr
    for (const { value, natural: measured } of result.gamuts ?? []) {
      const state = { ...facts.state, width: value }
      const target = targetOn(facts.targets, {
        white: lightOf(state, white)[1],
        black: lightOf(state, black)[1],
      })
      const truth = memoryColours.map(
        (p) => colourError(lightOf(state, p), target.xyzOf(p.signal), target).deltaE,
      )
      natural.push(Math.abs(measured - truth.reduce((a, b) => a + b, 0) / truth.length))
    }
    const grid = uniformityPatches(5)
    const at = (x: number, y: number) => {
      const patch = grid.find((p) => p.position?.x === x && p.position.y === y)!
      const pattern = patternOf(patch, facts.signal)
      const of = (codes: typeof pattern.codes) =>
        shine(unit, {
          state: outcome.state,
          pattern: { ...pattern, codes },
          flagged: pattern.flags,
          onFor: WARM,
          stillFor: 0,
        })
      return lightAt(unit, { patch: of(pattern.codes), surround: of(pattern.surround) }, pattern, { x, y })
    }
    const middle = at(0.5, 0.5)
    const [u0, v0] = xyToUv(xyzToXy(middle))
    const measuredMiddle = result.uniformity!.find((p) => p.x === 0.5 && p.y === 0.5)!.luminance
    for (const place of result.uniformity ?? []) {
      const truth = at(place.x, place.y)
      const [u, v] = xyToUv(xyzToXy(truth))
      light.push(100 * Math.abs(place.luminance / measuredMiddle / (truth[1] / middle[1]) - 1))
      colour.push(Math.abs(place.deltaUv - Math.hypot(u - u0, v - v0)))
    }
  }
  const scatter = 'within the meter’s scatter'
  row(`standard content in each gamut of ${UNITS} units, off the truth, ΔE00`, spread(natural, 2), scatter)
  row('uniformity: light against the middle, off the truth, %', spread(light, 2), scatter)
  row('uniformity: distance in u′v′, off the truth', spread(colour, 4), scatter)
}

/** Response times of simulated traces, against what they were made of. */
const response = (row: Row): void => {
  const next = uniform(5)
  const deviate = normal(5)
  const off: number[] = []
  let lost = 0
  for (let i = 0; i < 400; i++) {
    const tau = 0.3 + 6 * next()
    const noise = 0.02 * next()
    const [step, length, at] = [0.02 + 0.1 * next(), 80, 20]
    const times = Array.from({ length: Math.round(length / step) }, (_, k) => k * step)
    const rises = next() < 0.5
    const light = times.map((t) => {
      const done = t < at ? 0 : 1 - Math.exp(-(t - at) / tau)
      return (rises ? done : 1 - done) + noise * deviate()
    })
    const edges = edgesOf({ times, light })
    if (!edges.ok || edges.value.length !== 1) {
      lost++
      continue
    }
    off.push(Math.abs(edges.value[0]!.time - tau * Math.log(9)) / (tau * Math.log(9)))
  }
  row(
    'response times of 400 traces, off the truth, %',
    `${spread(
      off.map((o) => 100 * o),
      1,
    )}; ${lost} not told`,
    'within the scatter of the sensor',
  )
}

/** Figures of the desktop. In: where a figure goes. */
export const desktop = async (row: Row): Promise<void> => {
  await onDesktop(row)
  response(row)
}
