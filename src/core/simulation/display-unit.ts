import { D65, type Matrix3, type Primaries, rgbToXyzMatrix, xyToXyz } from '#core/colorimetry'
import {
  type Control,
  type ControlSheet,
  controlByRole,
  type NumberControl,
  type Role,
  type State,
} from '#core/display'
import type { ShowPattern } from '#core/protocol'
import { normal } from '#core/random'
import type { SimulatedModel } from './displays'

export type Triple = [number, number, number]
export const CHANNELS = ['red', 'green', 'blue'] as const
/** One sample of a display: the model with this unit's own spread. */
export interface DisplayUnit {
  readonly spec: SimulatedModel
  /** From panel light to XYZ, white at D65 and 1, with this unit's own primaries. */
  readonly matrix: Matrix3
  readonly channelAmounts: Readonly<Triple>
  readonly luminanceShare: number
  readonly exponents: Readonly<Triple>
  readonly ripplePhase: Readonly<Triple>
}

export const matrixOf = (primaries: Primaries): Matrix3 => {
  const matrix = rgbToXyzMatrix(primaries, xyToXyz(D65, 1))
  if (!matrix) throw new Error('The primaries of a simulated display lie on one line')
  return matrix
}

/** Draws a unit. In: model and a seed; the same seed gives the same unit. */
export const makeUnit = (spec: SimulatedModel, seed: number): DisplayUnit => {
  const deviate = normal(seed)
  const triple = (f: (i: 0 | 1 | 2) => number): Triple => [f(0), f(1), f(2)]
  const channelAmounts = triple(() => 1 + spec.spread.channels * deviate())
  const luminanceShare = 1 + spec.spread.luminance * deviate()
  const exponents = triple((i) => spec.exponents[i] + spec.spread.exponents * deviate())
  const ripplePhase = triple(() => 3 * deviate())
  const shifted = spec.primaries.map(([x, y]) => [
    x + spec.spread.primaries * deviate(),
    y + spec.spread.primaries * deviate(),
  ]) as unknown as Primaries
  return { spec, matrix: matrixOf(shifted), channelAmounts, luminanceShare, exponents, ripplePhase }
}

/** A picture on the screen at a moment. */
export interface Scene {
  readonly state: State
  readonly pattern: ShowPattern
  /** What the source flagged. */
  readonly flagged: ShowPattern['flags']
  /** Bench seconds since the display was switched on. */
  readonly onFor: number
  /** Bench seconds for which the pattern has stood still. */
  readonly stillFor: number
  readonly overscan?: boolean
  readonly automaticDimming?: boolean
}

const findControls = (sheet: ControlSheet) => {
  const one = (role: Role) => controlByRole(sheet, role)
  const each = (role: Role) => CHANNELS.map((channel) => controlByRole(sheet, role, channel))
  return {
    mode: one('picture-mode'),
    preset: one('white-preset'),
    light: one('peak-luminance'),
    white: one('white-level'),
    black: one('black-level'),
    lift: one('shadow-lift'),
    highlights: one('highlight-lift'),
    blackFrames: one('black-frames'),
    tone: one('tone-curve'),
    bend: one('dynamic-contrast'),
    range: one('range'),
    saving: one('power-saving'),
    sensor: one('ambient-light'),
    mapping: one('tone-mapping'),
    gamut: one('gamut'),
    care: one('panel-care'),
    dimming: one('dimming') ?? one('iris'),
    gain: each('gain'),
    cut: each('cut'),
    levels: CHANNELS.map((channel) =>
      sheet.controls
        .filter(
          (c): c is NumberControl => c.role === 'level-white' && c.channel === channel && c.kind === 'number',
        )
        .sort((a, b) => (a.level ?? 0) - (b.level ?? 0)),
    ),
  }
}
const found = new WeakMap<ControlSheet, ReturnType<typeof findControls>>()

/** The controls that the light path asks for, found once for each sheet. */
export const controlsOf = (sheet: ControlSheet) => {
  const controls = found.get(sheet) ?? findControls(sheet)
  found.set(sheet, controls)
  return controls
}

export const numberOf = (state: State, control: Control | undefined): number => {
  const value = control && state[control.key]
  return typeof value === 'number' ? value : 0
}
/** Clicks from where a control does nothing. */
export const clicksOf = (state: State, control: Control | undefined): number =>
  numberOf(state, control) - Number(control?.kind === 'number' ? (control.neutral ?? 0) : 0)
export const chosen = (state: State, control: Control | undefined): string =>
  control ? String(state[control.key]) : ''
