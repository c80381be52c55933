import {
  BT709_PRIMARIES,
  BT2020_PRIMARIES,
  hlgEotf,
  invert,
  type Matrix3,
  multiply,
  P3_PRIMARIES,
  pqEotf,
  product,
  type RGB,
} from '#core/colorimetry'
import type { NumberControl, State } from '#core/display'
import { primariesOf, signalOf } from '#core/signal'
import { colourAdjuster } from './colour-management'
import {
  chosen,
  clicksOf,
  controlsOf,
  type DisplayUnit,
  matrixOf,
  numberOf,
  type Scene,
  type Triple,
} from './display-unit'
import type { SimulatedModel } from './displays'

/** Headroom of the panel above nominal white: drive beyond it is clipped. */
const DRIVE_CEILING = 1.06

/** Level-by-level white: share by which a channel's drive is raised, straight lines between the levels of the sheet. */
const levelShift = (
  controls: readonly NumberControl[],
  state: State,
  perClick: number,
): ((drive: number) => number) => {
  if (controls.every((c) => !state[c.key])) return () => 0
  const points = controls.map((c) => ({ level: c.level ?? 0, shift: numberOf(state, c) * perClick }))
  return (drive) => {
    const above = points.findIndex((p) => p.level >= drive)
    if (above < 0) return points.at(-1)!.shift
    const b = points[above]!
    const a = points[above - 1] ?? { level: 0, shift: 0 }
    return b.level === a.level
      ? b.shift
      : a.shift + ((b.shift - a.shift) * (drive - a.level)) / (b.level - a.level)
  }
}

const TARGET_PRIMARIES = {
  bt709: BT709_PRIMARIES,
  p3: P3_PRIMARIES,
  bt2020: BT2020_PRIMARIES,
} as const
const fits = new WeakMap<SimulatedModel, Map<string, Matrix3>>()

/** From linear light in a colour space to the panel's channels, as the maker believes its panel to be. */
const fitTo = (spec: SimulatedModel, space: keyof typeof TARGET_PRIMARIES): Matrix3 => {
  const known = fits.get(spec) ?? new Map<string, Matrix3>()
  fits.set(spec, known)
  const kept = known.get(space)
  if (kept) return kept
  const matrix = product(invert(matrixOf(spec.primaries))!, matrixOf(TARGET_PRIMARIES[space]))
  known.set(space, matrix)
  return matrix
}

/** Share of a highlight's light that reaches zones which are not its own. */
export const HIGHLIGHT_SPILL = 0.15
/** How far a dynamic mapping lifts middles where nothing in the scene is bright, as a share. */
const DYNAMIC_LIFT = 0.2
/** Luminance by which an error of shadows is gone, cd/m². */
const SHADOWS_END = 3

/**
 * HDR: luminance on the panel for a luminance in the signal, cd/m² both. In: the panel's peak; peak of the content that is flagged; the brightest
 * thing in the scene, which a dynamic mapping goes by.
 */
const mapTone = (
  signal: number,
  { peak, flagged, brightest, how }: { peak: number; flagged: number; brightest: number; how: string },
): number => {
  const dynamic = how === 'dynamic'
  const content = dynamic ? Math.min(flagged, brightest) : flagged
  const luminance = dynamic ? signal * (1 + DYNAMIC_LIFT * (1 - Math.min(1, brightest / peak))) : signal
  if (how === 'clip' || content <= peak) return Math.min(luminance, peak)
  // A straight line to the knee, then a bend that meets the peak where the content ends.
  const knee = 0.6 * peak
  if (luminance <= knee) return luminance
  const t = Math.min(1, (luminance - knee) / (content - knee))
  return knee + (peak - knee) * (1 - (1 - t) ** ((content - knee) / (peak - knee)))
}

/**
 * The part of the light path that knows only the state and the kind of signal: from linear light in the signal's space to
 * the shares in which the panel's channels are open.
 */
const panelChannels = (unit: DisplayUnit, state: State, tone: number) => {
  const { spec } = unit
  const { sheet, perClick } = spec
  const controls = controlsOf(sheet)
  const mode = spec.modes[chosen(state, controls.mode)]
  const presetControl = controls.preset
  const slider = presetControl?.kind === 'number' ? numberOf(state, presetControl) * perClick.warmth : 0
  const preset: Readonly<Triple> =
    presetControl?.kind === 'choice'
      ? (spec.presets[String(state[presetControl.key])] ?? [1, 1, 1])
      : [1 + slider, 1, 1 - slider]
  const white = mode?.white ?? [1, 1, 1]
  const adjust = colourAdjuster(sheet, state, perClick, mode?.saturation ?? 1)
  const exponent = spec.nominalExponent * tone
  const gains = controls.gain.map((c) => clicksOf(state, c) * perClick.gain)
  const cuts = controls.cut.map((c) => clicksOf(state, c) * perClick.cut)
  const byLevel = controls.levels.map((own) => levelShift(own, state, perClick.level))
  return (light: RGB): Triple => {
    const managed = adjust(light)
    const drive = (i: 0 | 1 | 2): number => {
      let d = Math.max(0, managed[i]) ** (1 / exponent)
      d = d * (1 + gains[i]!)
      d += cuts[i]! * (1 - d)
      d = d * (1 + byLevel[i]!(d))
      const clipped = Math.min(DRIVE_CEILING, Math.max(0, d))
      const bump = 1 + spec.ripple * Math.sin(unit.ripplePhase[i] + 5 * clipped) * clipped * (1 - clipped)
      return clipped ** (unit.exponents[i] * tone) * bump * preset[i] * white[i] * unit.channelAmounts[i]
    }
    const open: Triple = [drive(0), drive(1), drive(2)]
    return open.map((c, i) => {
      const others = (open[(i + 1) % 3]! + open[(i + 2) % 3]!) / 2
      return c * (1 - spec.crosstalk * Math.min(1, others))
    }) as Triple
  }
}

export type Codes = readonly [number, number, number]

/** What the menu and the signal make of a display at a moment. */
export const settingsOf = (unit: DisplayUnit, { state, flagged, onFor }: Scene) => {
  const { spec } = unit
  const controls = controlsOf(spec.sheet)
  const mode = spec.modes[chosen(state, controls.mode)]
  const rangeSetting = chosen(state, controls.range)
  const transfer = flagged.transfer ?? 'sdr'
  const curve = transfer === 'sdr' ? (spec.tones[chosen(state, controls.tone)] ?? 1) : 1
  const { light } = controls
  const span =
    light?.kind === 'number'
      ? (numberOf(state, light) - light.range.min) / (light.range.max - light.range.min)
      : 1
  const high = transfer === 'sdr' ? spec.luminance.high : spec.hdrPeak
  // A sensor never rests: it follows the reflection of the picture itself and breathes slowly.
  const sensor = chosen(state, controls.sensor) === 'on' ? 0.8 + 0.06 * Math.sin(onFor / 40) : 1
  return {
    controls,
    range:
      rangeSetting === 'limited' || rangeSetting === 'full' ? rangeSetting : (flagged.range ?? 'limited'),
    transfer,
    tone: curve * (mode?.exponent ?? 1),
    /** Panel light for full white. */
    full:
      (spec.luminance.low + (high - spec.luminance.low) * span ** spec.luminance.bend) *
      unit.luminanceShare *
      (spec.saving[chosen(state, controls.saving)] ?? 1) *
      sensor *
      (spec.blackFrames[chosen(state, controls.blackFrames)] ?? 1),
    cold: Math.exp(-onFor / spec.warmUp.seconds),
  }
}
export type Settings = ReturnType<typeof settingsOf>

/** Black and white level, dynamic contrast, shadow and highlight lift: from a signal to the one that the curve gets. */
const levelOf = ({ spec }: DisplayUnit, { state }: Scene, { controls }: Settings) => {
  const { perClick } = spec
  const white = numberOf(state, controls.white) - Number(controls.white?.default ?? 0)
  const black = clicksOf(state, controls.black)
  const bend = spec.bends[chosen(state, controls.bend)] ?? 0
  const lift = clicksOf(state, controls.lift) * perClick.lift
  const highlights = clicksOf(state, controls.highlights) * perClick.highlights
  return (signal: number): number => {
    let s = signal
    s = (s + black * perClick.black * (1 - s)) * (1 + white * perClick.white)
    s = s + bend * s * (1 - s) * (s - 0.45)
    s += lift * s * (1 - Math.min(1, s)) ** 6
    // What is above the middle is brought down, so that the last steps stay apart.
    s -= highlights * Math.max(0, s - 0.5) ** 2
    return Math.max(0, s)
  }
}

/** From codes to linear light in the signal's space, 1 being full white: transfer, or tone mapping. */
const linearOf = (unit: DisplayUnit, scene: Scene, settings: Settings): ((codes: Codes) => Triple) => {
  const { spec } = unit
  const { pattern, flagged, state } = scene
  const { transfer, range, full, tone, controls } = settings
  const level = levelOf(unit, scene, settings)
  const signalsOf = (codes: Codes): Triple =>
    codes.map((code) => level(signalOf(code, pattern.signal.bitDepth, range))) as Triple
  if (transfer === 'sdr')
    return (codes) => signalsOf(codes).map((s) => s ** (spec.nominalExponent * tone)) as Triple
  if (transfer === 'hlg')
    return (codes) => {
      // The system gamma of the display's own white; channels depend on one another.
      const held = signalsOf(codes).map((s) => Math.min(1, s)) as Triple
      return hlgEotf(held, { white: full, black: 0 }).map((l) => Math.min(DRIVE_CEILING, l / full)) as Triple
    }
  /** Luminance that a code of PQ means to this display. */
  const meant = (code: number): number => {
    const l = pqEotf(Math.min(1, level(signalOf(code, pattern.signal.bitDepth, range))))
    return l * 2 ** (spec.hdrShadows * Math.exp(-l / SHADOWS_END))
  }
  const all = [
    ...pattern.codes,
    ...pattern.surround,
    ...(pattern.highlight?.codes ?? []),
    ...(pattern.ramp?.codes ?? []),
  ]
  const mapping = {
    peak: full,
    flagged: flagged.contentPeak ?? flagged.masteringPeak ?? 1000,
    brightest: Math.max(...all.map(meant)),
    // Metadata scene by scene take the place of the control.
    how: flagged.dynamic ? 'dynamic' : (spec.toneMapping[chosen(state, controls.mapping)] ?? 'roll-off'),
  }
  return (codes) => codes.map((code) => mapTone(meant(code), mapping) / full) as Triple
}

/** From codes to the shares in which the panel's channels are open. */
export const openOf = (unit: DisplayUnit, scene: Scene, settings: Settings): ((codes: Codes) => Triple) => {
  const { spec } = unit
  const { transfer, tone, controls } = settings
  const gamut = spec.gamuts[chosen(scene.state, controls.gamut)] ?? 'auto'
  const flagged = scene.flagged.primaries ?? primariesOf('bt709')
  const space = gamut === 'auto' ? flagged : gamut === 'native' ? undefined : gamut
  const linear = linearOf(unit, scene, settings)
  const channels = panelChannels(unit, scene.state, transfer === 'sdr' ? tone : 1)
  return (codes) => {
    const l = linear(codes)
    return channels(space ? multiply(fitTo(spec, space), l) : l)
  }
}
