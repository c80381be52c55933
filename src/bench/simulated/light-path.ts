import { type Matrix3, multiply, type RGB, rgbToXyzMatrix, type XYZ, xyToXyz } from '#core/colorimetry'
import { type ControlSheet, controlByRole, type Role, type State } from '#core/display'
import { normal } from './random'

type Triple = [number, number, number]

/** An invented display: its sheet and the physics behind the sheet. */
export interface DisplaySpec {
  readonly sheet: ControlSheet
  readonly sizeInch: number
  readonly panelKind: string
  /** Chromaticities of the panel's red, green and blue. */
  readonly primaries: readonly [
    readonly [number, number],
    readonly [number, number],
    readonly [number, number],
  ]
  /** White luminance at the ends of the luminance control, cd/m². */
  readonly luminance: { readonly low: number; readonly high: number; readonly bend: number }
  /** White over black with the channels closed. */
  readonly contrast: number
  /** Chromaticity of the light that leaks through closed channels. */
  readonly leak: readonly [number, number]
  /** Exponent of each channel; real channels are not exact powers. */
  readonly exponents: Readonly<Triple>
  /** Depth of the bumps on each channel's curve, as a share. */
  readonly ripple: number
  /** Light that a channel loses while its neighbours are fully open, as a share. */
  readonly crosstalk: number
  /** Amounts of red, green and blue in white for each choice of the white preset. */
  readonly presets: Readonly<Record<string, Readonly<Triple>>>
  /** What the factory state of each tone choice does to the exponent. */
  readonly tones: Readonly<Record<string, number>>
  /** Drive per click: gain as a share of the signal, cut as an offset that fades towards white. */
  readonly perClick: {
    readonly gain: number
    readonly cut: number
    readonly black: number
    readonly white: number
  }
  /** Luminance that is still missing at switch-on, as a share, and the seconds in which it falls to a third. */
  readonly warmUp: { readonly share: number; readonly seconds: number }
  /** How much units of this model differ: standard deviations of channel amounts and of luminance, as shares. */
  readonly spread: { readonly channels: number; readonly luminance: number; readonly exponents: number }
}

/** One sample of a display: the spec with this unit's own spread. */
export interface DisplayUnit {
  readonly spec: DisplaySpec
  readonly matrix: Matrix3
  readonly channelAmounts: Readonly<Triple>
  readonly luminanceShare: number
  readonly exponents: Readonly<Triple>
  readonly ripplePhase: Readonly<Triple>
}

/** Draws a unit. In: spec and a seed; the same seed gives the same unit. */
export const makeUnit = (spec: DisplaySpec, seed: number): DisplayUnit => {
  const deviate = normal(seed)
  const matrix = rgbToXyzMatrix(spec.primaries, xyToXyz([0.3127, 0.329], 1))
  if (!matrix) throw new Error('The primaries of a simulated display lie on one line')
  const triple = (f: (i: 0 | 1 | 2) => number): Triple => [f(0), f(1), f(2)]
  return {
    spec,
    matrix,
    channelAmounts: triple(() => 1 + spec.spread.channels * deviate()),
    luminanceShare: 1 + spec.spread.luminance * deviate(),
    exponents: triple((i) => spec.exponents[i] + spec.spread.exponents * deviate()),
    ripplePhase: triple(() => 3 * deviate()),
  }
}

const numeric = (
  sheet: ControlSheet,
  state: State,
  role: Role,
  channel?: 'red' | 'green' | 'blue',
): number => {
  const control = controlByRole(sheet, role, channel)
  const value = control && state[control.key]
  return typeof value === 'number' ? value : 0
}
const chosen = (sheet: ControlSheet, state: State, role: Role): string => {
  const control = controlByRole(sheet, role)
  return control ? String(state[control.key]) : ''
}

/** Headroom of the panel above nominal white: drive beyond it is clipped. */
const DRIVE_CEILING = 1.06

/**
 * Light that a unit gives, without any meter.
 * In: unit, state of its controls, signal of the three channels (0…1, may overshoot), seconds since switch-on.
 * Out: absolute XYZ in cd/m².
 * Order: black and white level → dynamic contrast → gain and cut → channel curves → crosstalk → panel light → leak.
 */
export const emit = (unit: DisplayUnit, state: State, signal: RGB, seconds: number): XYZ => {
  const { spec } = unit
  const { sheet, perClick } = spec
  const black = numeric(sheet, state, 'black-level')
  const whiteControl = controlByRole(sheet, 'white-level')
  const white = numeric(sheet, state, 'white-level') - Number(whiteControl?.default ?? 0)
  const preset = spec.presets[chosen(sheet, state, 'white-preset')] ?? [1, 1, 1]
  const tone = spec.tones[chosen(sheet, state, 'tone-curve')] ?? 1
  const boost = { low: 0.12, high: 0.25 }[chosen(sheet, state, 'dynamic-contrast')] ?? 0

  const drive = (i: 0 | 1 | 2): number => {
    const channel = (['red', 'green', 'blue'] as const)[i]
    let s = signal[i]
    s = (s + black * perClick.black * (1 - s)) * (1 + white * perClick.white)
    s = s + boost * s * (1 - s) * (s - 0.45)
    const gain = numeric(sheet, state, 'gain', channel)
    const cut = numeric(sheet, state, 'cut', channel)
    s = s * (1 + gain * perClick.gain) + cut * perClick.cut * (1 - s)
    const clipped = Math.min(DRIVE_CEILING, Math.max(0, s))
    const bump = 1 + spec.ripple * Math.sin(unit.ripplePhase[i] + 5 * clipped) * clipped * (1 - clipped)
    return clipped ** (unit.exponents[i] * tone) * bump * preset[i] * unit.channelAmounts[i]
  }
  const open: Triple = [drive(0), drive(1), drive(2)]
  const mixed = open.map((c, i) => {
    const others = (open[(i + 1) % 3]! + open[(i + 2) % 3]!) / 2
    return c * (1 - spec.crosstalk * Math.min(1, others))
  }) as Triple

  const control = controlByRole(sheet, 'peak-luminance')
  const span =
    control?.kind === 'number'
      ? (numeric(sheet, state, 'peak-luminance') - control.range.min) /
        (control.range.max - control.range.min)
      : 1
  const { low, high, bend } = spec.luminance
  const saver = { low: 0.82, high: 0.6 }[chosen(sheet, state, 'power-saving')] ?? 1
  // A sensor never rests: it follows the reflection of the picture itself and breathes slowly.
  const sensor = chosen(sheet, state, 'ambient-light') === 'on' ? 0.8 + 0.06 * Math.sin(seconds / 40) : 1
  const warm = 1 - spec.warmUp.share * Math.exp(-seconds / spec.warmUp.seconds)
  const panel = (low + (high - low) * span ** bend) * unit.luminanceShare * saver * sensor * warm
  const [X, Y, Z] = multiply(unit.matrix, mixed)
  const [lx, ly, lz] = xyToXyz(spec.leak, panel / spec.contrast)
  return [X * panel + lx, Y * panel + ly, Z * panel + lz]
}
