import {
  BT709_PRIMARIES,
  BT2020_PRIMARIES,
  D65,
  hlgEotf,
  invert,
  type Matrix3,
  multiply,
  P3_PRIMARIES,
  type Primaries,
  pqEotf,
  product,
  type RGB,
  rgbToXyzMatrix,
  type XYZ,
  xyToXyz,
} from '#core/colorimetry'
import {
  type Control,
  type ControlSheet,
  controlByRole,
  type NumberControl,
  type Role,
  type State,
} from '#core/display'
import { type Patch, type ScreenPosition, USUAL_WINDOW } from '#core/measure'
import type { ShowPattern } from '#core/protocol'
import { normal } from '#core/random'
import { flagsFor, primariesOf, SDR_SIGNAL, signalOf } from '#core/signal'
import { colourAdjuster } from './colour-management'
import type { SimulatedModel } from './displays'

type Triple = [number, number, number]
const CHANNELS = ['red', 'green', 'blue'] as const
const CLOSED: Triple = [0, 0, 0]

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

const matrixOf = (primaries: Primaries): Matrix3 => {
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
    dimming: one('dimming'),
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
const controlsOf = (sheet: ControlSheet) => {
  const controls = found.get(sheet) ?? findControls(sheet)
  found.set(sheet, controls)
  return controls
}

const numberOf = (state: State, control: Control | undefined): number => {
  const value = control && state[control.key]
  return typeof value === 'number' ? value : 0
}
/** Clicks away from where a control does nothing. */
const clicksOf = (state: State, control: Control | undefined): number =>
  numberOf(state, control) - Number(control?.kind === 'number' ? (control.neutral ?? 0) : 0)
const chosen = (state: State, control: Control | undefined): string =>
  control ? String(state[control.key]) : ''

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

const TARGET_PRIMARIES = { bt709: BT709_PRIMARIES, p3: P3_PRIMARIES, bt2020: BT2020_PRIMARIES } as const
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

/** Linear interpolation in a table of rising x. */
const lookUp = (table: ReadonlyArray<readonly [number, number]>, x: number): number => {
  const above = table.findIndex(([at]) => at >= x)
  if (above < 0) return table.at(-1)![1]
  const [bx, by] = table[above]!
  const [ax, ay] = table[above - 1] ?? table[above]!
  return bx === ax ? by : ay + ((by - ay) * (x - ax)) / (bx - ax)
}

/** Share of a highlight's light that reaches zones which are not its own. */
const HIGHLIGHT_SPILL = 0.15
/** How far a dynamic mapping lifts middles where nothing in the scene is bright, as a share. */
const DYNAMIC_LIFT = 0.2
/** Seconds in which a limiter of power comes down to what it holds. */
const LIMITER_SECONDS = 4
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

type Codes = readonly [number, number, number]

/** What the menu and the signal make of a display at a moment. */
const settingsOf = (unit: DisplayUnit, { state, flagged, onFor }: Scene) => {
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
type Settings = ReturnType<typeof settingsOf>

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
const openOf = (unit: DisplayUnit, scene: Scene, settings: Settings): ((codes: Codes) => Triple) => {
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

/** What the parts of a pattern open the panel to. */
interface Picture {
  readonly patch: Triple
  readonly around: Triple
  readonly beside: Triple
  readonly ramp: readonly Triple[]
  /** Where the meter looks. */
  readonly centre: Triple
}

const pictureOf = (
  { pattern, overscan }: Scene,
  range: Settings['range'],
  open: (codes: Codes) => Triple,
): Picture => {
  const patch = open(pattern.codes)
  const isDark = pattern.surround.every((c) => signalOf(c, pattern.signal.bitDepth, range) <= 0)
  const around = isDark ? CLOSED : open(pattern.surround)
  const mixed = (a: readonly number[], b: readonly number[]) =>
    a.map((v, i) => (v + b[i]!) / 2) as unknown as Triple
  const pixels = () =>
    // Enlarged, neighbours run into each other before the panel's curve.
    overscan ? open(mixed(pattern.codes, pattern.surround)) : mixed(patch, around)
  return {
    patch,
    around,
    beside: pattern.highlight ? open(pattern.highlight.codes) : CLOSED,
    ramp: rampSteps(pattern).map(open),
    centre: pattern.layout === 'pixels' ? pixels() : patch,
  }
}

/** Share of the panel's light that a picture asks for. */
const litBy = (pattern: ShowPattern, { patch, around, beside, ramp }: Picture): number => {
  const area =
    pattern.layout === 'checkerboard'
      ? 0.52
      : pattern.layout === 'pixels'
        ? pattern.window / 2
        : pattern.window
  const outside = pattern.layout === 'pixels' ? 0 : 1 - area
  const mean = (t: readonly number[]) => 0.27 * t[0]! + 0.66 * t[1]! + 0.07 * t[2]!
  return Math.min(
    1,
    area * mean(patch) +
      outside * mean(around) +
      (pattern.highlight?.window ?? 0) * mean(beside) +
      ramp.reduce((sum, step) => sum + ((pattern.ramp?.height ?? 0) * mean(step)) / ramp.length, 0),
  )
}

/** Light of full white under the limits of power, the care of a still picture, and dimming by itself, cd/m². */
const panelLight = (
  unit: DisplayUnit,
  { state, stillFor, automaticDimming }: Scene,
  { full, transfer, controls }: Settings,
  lit: number,
): number => {
  const { spec } = unit
  let panel = full
  if (spec.powerLimit.length) {
    const holds = Math.min(panel, lookUp(spec.powerLimit, lit) * unit.luminanceShare)
    // Highlights get more for their first seconds.
    panel = transfer === 'sdr' ? holds : holds + (panel - holds) * Math.exp(-stillFor / LIMITER_SECONDS)
  }
  const { care } = controls
  const dims = care === undefined || state[care.key] !== care.neutral ? spec.stillDimming : undefined
  if (dims && stillFor > dims.after)
    panel *= Math.max(dims.floor, 1 - (dims.perMinute * (stillFor - dims.after)) / 60)
  return automaticDimming ? panel * (1 - 0.18 * Math.min(1, stillFor / 12)) : panel
}

/** What zones of the light leave: of the leak at black, and of the light of the middle. */
const zoneOf = (
  { spec }: DisplayUnit,
  { state, pattern }: Scene,
  { controls }: Settings,
  { centre, around, beside, ramp }: Picture,
): { readonly leak: number; readonly kept: number } => {
  const zone = spec.zones[chosen(state, controls.dimming)]
  if (!zone || zone.depth <= 0) return { leak: 1, kept: 1 }
  const brightest = (t: readonly number[]) => Math.min(1, Math.max(0, ...t))
  const fine = pattern.layout === 'checkerboard' || pattern.layout === 'pixels'
  const spill =
    zone.halo *
    Math.max(
      brightest(around) ** 0.5 * (fine ? 0.8 : 1),
      // A highlight elsewhere lights the zones between as well, weakly.
      HIGHLIGHT_SPILL * Math.max(brightest(beside), ...ramp.map(brightest)) ** 0.5,
    )
  return {
    leak: Math.max(1 - zone.depth * (1 - Math.min(1, brightest(centre) ** 0.35)), spill),
    kept: 1 - zone.crush * (1 - brightest(centre) ** 0.25) * (1 - spill),
  }
}

/**
 * Light that a unit gives in the middle of its screen, without any meter. Out: absolute XYZ in cd/m².
 * Order: range → transfer or tone mapping, with black and white level, dynamic contrast and shadow lift → gamut → colour
 * management → gains, cuts and levels → channel curves → crosstalk → panel light with its zones and limits → leak.
 */
export const shine = (unit: DisplayUnit, scene: Scene): XYZ => {
  const { spec } = unit
  const settings = settingsOf(unit, scene)
  const picture = pictureOf(scene, settings.range, openOf(unit, scene, settings))
  const panel = panelLight(unit, scene, settings, litBy(scene.pattern, picture))
  const zone = zoneOf(unit, scene, settings, picture)
  const { centre } = picture
  const [X, Y, Z] = multiply(unit.matrix, [
    centre[0] * spec.screen[0],
    centre[1] * spec.screen[1],
    centre[2] * (1 + spec.warmUp.blue * settings.cold) * spec.screen[2],
  ] as unknown as RGB)
  const warm = 1 - spec.warmUp.share * settings.cold
  const out = panel * warm * refreshShift(spec, scene.pattern, Y * panel)
  const [lx, ly, lz] = xyToXyz(spec.leak, (out * zone.leak) / spec.contrast)
  return [X * out * zone.kept + lx, Y * out * zone.kept + ly, Z * out * zone.kept + lz]
}

/** Codes of a ramp in steps, from black to its end; none where a pattern has no ramp. */
const rampSteps = ({ ramp, signal, surround }: ShowPattern): Array<[number, number, number]> => {
  if (!ramp) return []
  const black = signal.range === 'full' ? 0 : 16 * 2 ** (signal.bitDepth - 8)
  return Array.from(
    { length: RAMP_STEPS },
    (_, i) =>
      ramp.codes.map((c) => black + ((c - black) * (i + 0.5)) / RAMP_STEPS) as unknown as typeof surround,
  )
}
const RAMP_STEPS = 8

/** By how much light rises near black where pictures come more slowly than the link's rate. In: luminance, cd/m². */
const refreshShift = (
  { panelKind }: SimulatedModel,
  { variableRate, signal }: ShowPattern,
  luminance: number,
) =>
  variableRate
    ? 1 + REFRESH_SHIFT[panelKind] * (1 - Math.min(1, variableRate / signal.rate)) * Math.exp(-luminance)
    : 1
/** Most of it, as a share: what holds between two pictures leaks. */
const REFRESH_SHIFT = {
  'self-emissive': 0.35,
  'lcd-full-array': 0.06,
  'lcd-edge-lit': 0.04,
  projector: 0,
} as const

/** Light at the corners, as a share of the middle's, and how far one side differs from the other. */
const CORNERS = {
  'self-emissive': 0.97,
  'lcd-full-array': 0.9,
  'lcd-edge-lit': 0.82,
  projector: 0.7,
} as const
const TILT = 0.03

/**
 * Light at a place of the screen. In: unit; its light in the middle and around the patch, XYZ in cd/m²; pattern; place, as shares of width and height. Out: XYZ in
 * cd/m²: of what stands there, less bright and a little off in colour towards the edges.
 */
export const lightAt = (
  unit: DisplayUnit,
  { patch, surround }: { patch: XYZ; surround: XYZ },
  { window }: Pick<ShowPattern, 'window'>,
  { x, y }: ScreenPosition,
): XYZ => {
  const [dx, dy] = [2 * x - 1, 2 * y - 1]
  const within = Math.max(Math.abs(dx), Math.abs(dy)) <= Math.sqrt(window)
  const fall = 1 - ((1 - CORNERS[unit.spec.panelKind]) * (dx * dx + dy * dy)) / 2
  // A unit is a little warmer on one side; which one is its own.
  const tilt = TILT * dx * Math.sin(unit.ripplePhase[0])
  const [X, Y, Z] = within ? patch : surround
  return [X * fall * (1 + tilt), Y * fall, Z * fall * (1 - tilt)]
}

/** The pattern message of a patch on an SDR signal of a simulated source. In: signals may overshoot 0…1. */
const sdrPattern = (patch: Pick<Patch, 'signal'>): ShowPattern => ({
  layout: 'window',
  window: USUAL_WINDOW,
  // Finer than whole codes, for searches on the noise-free display.
  codes: patch.signal.map((s) => (16 + 219 * s) * 4) as unknown as ShowPattern['codes'],
  surround: [64, 64, 64],
  signal: SDR_SIGNAL,
  flags: flagsFor(SDR_SIGNAL),
  rests: null,
})

/**
 * Light of a tenth of the screen on black, SDR, just put up. In: unit, state, signal of the three channels (0…1, may
 * overshoot), seconds since switch-on. Out: absolute XYZ in cd/m².
 */
export const emit = (unit: DisplayUnit, state: State, signal: RGB, onFor: number): XYZ => {
  const pattern = sdrPattern({ signal: [...signal] })
  return shine(unit, { state, pattern, flagged: pattern.flags, onFor, stillFor: 0 })
}
