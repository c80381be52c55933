import {
  type Chromaticity,
  D65,
  invert,
  type Matrix3,
  multiply,
  product,
  rgbToXyzMatrix,
  type XYZ,
  xyToXyz,
} from '#core/colorimetry'
import { type MeterPrecision, readingSigma } from '#core/measure'
import type { MeterDescription, PanelKind } from '#core/protocol'
import { normal } from '#core/random'
import { LANTERN, MAREN, SORREL, TAVIN } from './displays'

/** The simulated meter as it describes itself. */
export const METER = {
  maker: 'Ferrand',
  model: 'Lux One',
  serial: 'FL-0417',
  /** cd/m² */
  saturatesAt: 2000,
  precision: { relative: 0.0009, dark: 0.0007 } satisfies MeterPrecision,
  darkCalibration: true,
  positions: true,
  mostSamples: 64,
  slots: [
    { slot: 'lcd-array', name: 'LCD, wide', panelKind: 'lcd-full-array' },
    { slot: 'lcd-edge', name: 'LCD, ordinary', panelKind: 'lcd-edge-lit' },
    { slot: 'emissive', name: 'Self-emissive', panelKind: 'self-emissive' },
    { slot: 'laser', name: 'Laser', panelKind: 'projector' },
  ],
} satisfies MeterDescription

/** Light below which the meter says that it is too dark, cd/m². */
const FLOOR = 0.002

/** Bench seconds that a reading takes: longer in the dark. In: luminance, cd/m². */
export const readingSeconds = (luminance: number): number => 0.7 + 3.6 / (1 + Math.max(0, luminance) / 0.25)

/** What the meter's filters make of each primary of a kind of panel: shares of X, Y and Z that it sees. */
const SEEN: Readonly<Record<PanelKind, readonly [XYZ, XYZ, XYZ]>> = {
  'lcd-full-array': [
    [0.985, 0.992, 1],
    [1.012, 1.004, 0.99],
    [0.99, 0.97, 1.018],
  ],
  'lcd-edge-lit': [
    [0.994, 0.996, 1],
    [1.006, 1.002, 1],
    [1, 0.985, 1.01],
  ],
  'self-emissive': [
    [0.972, 0.985, 1],
    [1.02, 1.006, 0.97],
    [0.98, 0.94, 1.03],
  ],
  projector: [
    [0.94, 0.955, 1],
    [1.04, 1.012, 0.93],
    [0.96, 0.91, 1.05],
  ],
}
const KIND_PRIMARIES: Readonly<Record<PanelKind, readonly [Chromaticity, Chromaticity, Chromaticity]>> = {
  'lcd-full-array': MAREN.primaries,
  'lcd-edge-lit': TAVIN.primaries,
  'self-emissive': SORREL.primaries,
  projector: LANTERN.primaries,
}

/** From true light to what the uncorrected meter sees on a kind of panel. */
const mismatch = (kind: PanelKind): Matrix3 => {
  const panel = rgbToXyzMatrix(KIND_PRIMARIES[kind], xyToXyz(D65, 1))!
  const seen = [0, 1, 2].map((c) => SEEN[kind][c]!.map((share, row) => share * panel[row]![c]!)) as [
    number[],
    number[],
    number[],
  ]
  const misread = [0, 1, 2].map((row) => [seen[0][row], seen[1][row], seen[2][row]]) as unknown as Matrix3
  return product(misread, invert(panel)!)
}
const KINDS = Object.keys(SEEN) as PanelKind[]
const MISMATCH = Object.fromEntries(KINDS.map((k) => [k, mismatch(k)])) as Record<PanelKind, Matrix3>
const CORRECTION = Object.fromEntries(KINDS.map((k) => [k, invert(MISMATCH[k])!])) as Record<
  PanelKind,
  Matrix3
>

/**
 * What the meter makes of light, without scatter.
 * In: true light (cd/m²), kind of panel that it comes from, slot of the correction that is read with (null: none), hours
 * since the dark calibration. Out: XYZ in cd/m².
 */
export const meterSees = (light: XYZ, kind: PanelKind, slot: string | null, hours: number): XYZ => {
  const seen = multiply(MISMATCH[kind], light)
  const own = METER.slots.find((s) => s.slot === slot)
  const [X, Y, Z] = own ? multiply(CORRECTION[own.panelKind], seen) : seen
  // Between dark calibrations the zero wanders off, and the whole scale a little with warmth.
  const zero = 0.0006 * Math.min(6, hours)
  const scale = 1 + 0.0012 * Math.sin(hours / 1.7)
  return [X * scale + zero, Y * scale + zero, Z * scale + zero]
}

/** A meter whose scatter repeats with its seed. */
export const makeMeter = (seed: number) => {
  const deviate = normal(seed)
  return {
    /** In: light as the meter sees it, cd/m²; readings to average. Out: what it says, scatter included. */
    read: (light: XYZ, samples = 1): XYZ => {
      const scatter = (v: number) => v + (readingSigma(v, METER.precision) * deviate()) / Math.sqrt(samples)
      return [scatter(light[0]), scatter(light[1]), scatter(light[2])]
    },
    tooDark: (light: XYZ): boolean => light[1] < FLOOR,
  }
}
