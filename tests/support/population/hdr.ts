import {
  BT2020_PRIMARIES,
  invert,
  multiply,
  pqEotf,
  product,
  type RGB,
  type XYZ,
  xyToXyz,
} from '#core/colorimetry'
import type { Control, ControlSheet, State } from '#core/display'
import { bt2390, type Mapping } from '#core/hdr'
import type { Pattern } from '#core/measure'
import { uniform } from '#core/random'
import { signalOf } from '#core/signal'

import type { Drawn, Triple } from './draw'
import { coloured, levelled, matrixOf, realState, saturated, sharesOf, type Three } from './light'

/** What a display of the population does with HDR. */
export interface DrawnHdr {
  /** Peak of full white in a small window at the luminance control's maximum, cd/m². */
  readonly peak: number
  /** What each value of the tone mapping control does; one value where there is no control. */
  readonly mappings: Readonly<Record<string, Mapping>>
  /** Share of its light that a screen of a load keeps, and seconds in which it gets there. */
  readonly limiter: { readonly from: number; readonly floor: number; readonly seconds: number }
  /** Stops by which shadows at 0.5 cd/m² are too bright. */
  readonly shadows: number
  /** What the white level does: it multiplies the signal, or the panel's peak. */
  readonly whiteLevel: 'signal' | 'peak'
  /** How far a dynamic mapping lifts greys where the scene has no highlight, as a share. */
  readonly lift: number
}

/** Draws the HDR of a display. In: display; the same display gives the same HDR. Out: it, and the sheet with its controls and memories. */
export const drawHdr = ({ seed, sheet }: Drawn): { hdr: DrawnHdr; sheet: ControlSheet } => {
  const next = uniform(15_485_863 * seed + 7)
  const between = (a: number, b: number) => a + (b - a) * next()
  const pick = <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)]!
  const all: ReadonlyArray<readonly [string, Mapping]> = [
    ['exact', 'clip'],
    ['soft', 'roll-off'],
    ['scene', 'dynamic'],
  ]
  const many = pick([1, 2, 3, 3])
  const first = Math.floor(next() * 3)
  const kinds = Array.from({ length: many }, (_, i) => all[(first + i) % 3]!)
  const emissive = next() < 0.4
  const hdr: DrawnHdr = {
    peak: between(300, 1700),
    mappings: Object.fromEntries(kinds),
    limiter: emissive
      ? { from: between(0.03, 0.12), floor: between(0.15, 0.35), seconds: between(4, 9) }
      : { from: between(0.15, 0.5), floor: between(0.45, 0.9), seconds: between(6, 12) },
    shadows: next() < 0.5 ? 0 : between(-0.6, 0.6),
    lift: between(0.1, 0.3),
    whiteLevel: next() < 0.5 ? 'signal' : 'peak',
  }
  const controls = sheet.controls.map(
    (c): Control => ({
      ...c,
      memory:
        c.memory.length && c.role !== 'picture-mode'
          ? [...new Set([...c.memory, 'signal' as const])]
          : c.memory,
      ...(c.role === 'tone-curve' || c.role === 'level-tone'
        ? { needs: [...(c.needs ?? []), { signal: ['sdr' as const] }] }
        : {}),
    }),
  )
  const mapping: Control = {
    key: 'mapping',
    path: ['Menu', 'Expert'],
    label: 'Range of light',
    role: 'tone-mapping',
    memory: ['mode'],
    needs: [{ signal: ['pq'] }],
    kind: 'choice',
    choices: kinds.map(([value]) => ({ value, label: value })),
    default: kinds[0]![0],
  }
  return { hdr, sheet: { ...sheet, controls: many > 1 ? [...controls, mapping] : controls } }
}

/** A picture of HDR on the screen. */
export interface HdrScene {
  readonly pattern: Pattern
  readonly state: State
  /** Share of its light that power leaves at this moment. */
  readonly left: number
}

/** How a display maps tones in a state. */
export const mappingIn = (hdr: DrawnHdr, state: State): Mapping =>
  hdr.mappings[String(state.mapping)] ?? Object.values(hdr.mappings)[0]!

/** What the white level adds, as a share. */
const whiteLevelIn = (d: Drawn, state: State): number => {
  const contrast = d.sheet.controls.find((c) => c.key === 'contrast')
  return contrast ? (Number(state.contrast ?? contrast.default) - Number(contrast.default)) * d.whiteLevel : 0
}

/** Peak in a small window in a state, cd/m². */
export const peakIn = (d: Drawn, hdr: DrawnHdr, state: State): number => {
  const { low, high, bend } = d.luminance
  const span = Number(state.light ?? 100) / 100
  const white = hdr.whiteLevel === 'peak' ? 1 + whiteLevelIn(d, state) : 1
  return (hdr.peak * white * (low + (high - low) * span ** bend)) / high
}

/** Share of full white that the screen is lit with on average, 0…1. */
export const loadOf = (d: Drawn, hdr: DrawnHdr, { pattern, state }: Omit<HdrScene, 'left'>): number => {
  const peak = peakIn(d, hdr, state)
  const of = (codes: Pattern['codes']) =>
    Math.min(1, pqEotf(signalOf(codes[1], pattern.signal.bitDepth, pattern.signal.range)) / peak)
  const area = pattern.layout === 'window' || pattern.layout === 'highlight' ? pattern.window : 0.5
  return (
    area * of(pattern.codes) +
    (1 - area) * of(pattern.surround) +
    (pattern.highlight ? pattern.highlight.window * of(pattern.highlight.codes) : 0)
  )
}

/** Share of its light that power leaves of a load, once it holds. */
export const leftAt = ({ limiter }: DrawnHdr, load: number): number =>
  load <= limiter.from
    ? 1
    : 1 - (1 - limiter.floor) * Math.min(1, (load - limiter.from) / (1 - limiter.from)) ** 0.6

/** Weights of the channels in luminance, roughly. */
const WEIGHTS: Triple = [0.24, 0.69, 0.07]
/** White of a triple of amounts that keeps its luminance: makers trim HDR to PQ. */
const trimmed = (amounts: Triple): Triple => {
  const luminance = amounts.reduce((sum, a, i) => sum + a * WEIGHTS[i]!, 0)
  return [amounts[0] / luminance, amounts[1] / luminance, amounts[2] / luminance]
}
/** A display as its maker has trimmed it for HDR: white may be off, but luminance follows PQ nearly. */
const trimmedForHdr = (d: Drawn): Drawn => {
  const each = <T>(of: Readonly<Record<string, T>>, change: (value: T) => T) =>
    Object.fromEntries(Object.entries(of).map(([key, value]) => [key, change(value)]))
  const mean = (d.exponents[0] + d.exponents[1] + d.exponents[2]) / 3
  return {
    ...d,
    amounts: trimmed(d.amounts),
    exponents: [2.2 + d.exponents[0] - mean, 2.2 + d.exponents[1] - mean, 2.2 + d.exponents[2] - mean],
    bump: { ...d.bump, depth: 0.2 * d.bump.depth },
    nonAdditivity: 0,
    presets: each(d.presets, trimmed),
    modes: each(d.modes, (m) => ({ ...m, white: trimmed(m.white) })),
  }
}

/** What the maker's table for PQ puts on the light of a grey, so that luminance is right where gains and cuts stand at neutral. */
const trimAt = (d: Drawn, state: State, mapped: RGB, peak: number): number => {
  const grey = Math.max(1e-4, 0.2627 * mapped[0] + 0.678 * mapped[1] + 0.0593 * mapped[2]) / peak
  const neutral = Object.fromEntries(
    d.sheet.controls.map((c) => [
      c.key,
      ['gain', 'cut', 'level-white'].includes(c.role)
        ? (c.neutral ?? c.default)
        : (state[c.key] ?? c.default),
    ]),
  )
  const [, y] = multiply(
    matrixOf(d.primaries),
    sharesOf(d, neutral, [grey, grey, grey], [1, 1, 1]) as unknown as RGB,
  )
  return y > 0 ? grey / y : 1
}

/** Light in the middle of the screen, without meter and drift. Out: absolute XYZ, cd/m². */
export const hdrLightOf = (drawn: Drawn, hdr: DrawnHdr, { pattern, state: shown, left }: HdrScene): XYZ => {
  const d = trimmedForHdr(drawn)
  const state = realState(d, shown)
  const peak = peakIn(d, hdr, state)
  const { bitDepth, range } = pattern.signal
  const wanted = (codes: Pattern['codes']): Three => {
    const [black, white] = [
      state.black === undefined ? 0 : (Number(state.black) - 50) * d.black,
      hdr.whiteLevel === 'signal' ? whiteLevelIn(d, state) : 0,
    ]
    const signals = codes
      .map((c) => signalOf(c, bitDepth, range))
      .map((s) => Math.min(1, Math.max(0, (s + black * (1 - s)) * (1 + white)))) as Three
    // Single levels that act before the curve act before the mapping of tones, at their share of the signal.
    return (d.levels.beforeTone ? levelled(d, state, signals) : signals).map((s) => {
      const l = pqEotf(Math.min(1, Math.max(0, s)))
      // Shadows lifted or crushed, less and less up to some ten cd/m².
      return l * 2 ** (hdr.shadows * Math.exp(-l / 3))
    }) as Three
  }
  const mapping = mappingIn(hdr, state)
  const flagged = pattern.flags.masteringPeak ?? 1000
  const brightest = Math.max(
    ...wanted(pattern.codes),
    ...wanted(pattern.surround),
    ...(pattern.highlight ? wanted(pattern.highlight.codes) : []),
  )
  const content = mapping === 'dynamic' ? Math.min(flagged, brightest) : flagged
  const lifted = mapping === 'dynamic' ? 1 + hdr.lift * (1 - Math.min(1, brightest / peak)) : 1
  const map = (l: number): number =>
    mapping === 'clip' || content <= peak
      ? Math.min(peak, l * lifted)
      : bt2390(l * lifted, { peak: content, black: 0 }, { peak, black: 0 })
  const mapped = wanted(pattern.codes).map(map) as unknown as RGB
  const toPanel = product(invert(matrixOf(d.primaries))!, matrixOf(BT2020_PRIMARIES))
  const open = multiply(toPanel, mapped).map((v) => Math.max(0, v) / peak) as Three
  const mode = d.modes[String(state.mode)]!
  const linear = coloured(d, state, saturated(open, mode.saturation))
  const shares = sharesOf(d, state, linear, [1, 1, 1]).map((s) => s * trimAt(d, state, mapped, peak))
  const [X, Y, Z] = multiply(matrixOf(d.primaries), shares as unknown as RGB)
  const out = peak * left
  const dark = xyToXyz([0.28, 0.29], peak / d.contrast / 4)
  return [X * out + dark[0], Y * out + dark[1], Z * out + dark[2]]
}

/** Light of a pattern that has stood until power holds, without meter and drift. Out: absolute XYZ, cd/m². */
export const heldLight = (d: Drawn, hdr: DrawnHdr, scene: Omit<HdrScene, 'left'>): XYZ =>
  hdrLightOf(d, hdr, { ...scene, left: leftAt(hdr, loadOf(d, hdr, scene)) })
