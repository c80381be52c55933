import { D65, type XYZ } from '#core/colorimetry'
import type { NumberControl, State } from '#core/display'
import { greyErrorChromatic } from '#core/judge'
import { controlsByRole } from '#core/model'
import { type DisplayUnit, makeMeter } from '#core/simulation'
import { trueLight } from '#tests/truth'

/** Readings of one level that a person is willing to take before going on. */
const PATIENCE = 8
const ROUNDS = 2

/**
 * Two-point white as a person does it by hand: at 80 % one gain after the other, click by click while the reading gets better,
 * then at 20 % one cut after the other, and all of it once more.
 * In: unit, state before gains and cuts, seed of the meter's scatter. Out: state reached, and readings with both sweeps.
 */
export const byOneControlAtATime = (
  unit: DisplayUnit,
  from: State,
  seed: number,
): { state: State; readings: number } => {
  const meter = makeMeter(seed)
  const { gain, cut } = controlsByRole(unit.spec.sheet)
  let state = { ...from }
  // Eleven greys and three primaries before, eleven greys after.
  let readings = 14 + 11
  const errorAt = (level: number): number => {
    readings++
    const xyz: XYZ = meter.read(trueLight(unit, state, [level, level, level]))
    return greyErrorChromatic(xyz, xyz[1] / level ** 2.3, D65)
  }
  const walk = (control: NumberControl | undefined, level: number) => {
    if (!control) return
    const { min, max, step } = control.range
    let best = errorAt(level)
    let direction = 1
    for (let tries = 0, turned = false; tries < PATIENCE; tries++) {
      const before = state
      const value = Number(state[control.key]) + direction * step
      if (value < min || value > max) {
        if (turned) return
        direction = -direction
        turned = true
        continue
      }
      state = { ...state, [control.key]: value }
      const error = errorAt(level)
      if (error < best) {
        best = error
        continue
      }
      state = before
      if (turned || tries > 0) return
      direction = -direction
      turned = true
    }
  }
  for (let round = 0; round < ROUNDS; round++) {
    for (const channel of ['red', 'blue'] as const) walk(gain[channel], 0.8)
    for (const channel of ['red', 'blue'] as const) walk(cut[channel], 0.2)
  }
  return { state, readings }
}
