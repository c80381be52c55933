import type { XYZ } from '#core/colorimetry'
import { type MeterPrecision, readingSigma } from '#core/measure'
import { normal } from './random'

/** The simulated meter as it describes itself. */
export const METER = {
  maker: 'Ferrand',
  model: 'Lux One',
  serial: 'FL-0417',
  /** cd/m² */
  saturatesAt: 2000,
  precision: { relative: 0.0009, dark: 0.0007 } satisfies MeterPrecision,
} as const

/** Bench seconds that a reading takes: longer in the dark. In: luminance, cd/m². */
export const readingSeconds = (luminance: number): number => 0.7 + 3.6 / (1 + luminance / 0.25)

/** A meter whose scatter repeats with its seed. */
export const makeMeter = (seed: number) => {
  const deviate = normal(seed)
  return {
    /** In: true light, cd/m². Out: what the meter says, scatter included. */
    read: (light: XYZ): XYZ => {
      const scatter = (v: number) => v + readingSigma(v, METER.precision) * deviate()
      return [scatter(light[0]), scatter(light[1]), scatter(light[2])]
    },
  }
}
