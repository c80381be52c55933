import { multiply, type RGB, type XYZ, xyToXyz } from '#core/colorimetry'
import type { State } from '#core/display'
import { type Patch, type ScreenPosition, USUAL_WINDOW } from '#core/measure'
import type { ShowPattern } from '#core/protocol'
import { flagsFor, SDR_SIGNAL, signalOf } from '#core/signal'
import { chosen, type DisplayUnit, type Scene, type Triple } from './display-unit'
import type { SimulatedModel } from './displays'
import { type Codes, HIGHLIGHT_SPILL, openOf, type Settings, settingsOf } from './tone-path'

const CLOSED: Triple = [0, 0, 0]

/** Linear interpolation in a table of rising x. */
const lookUp = (table: ReadonlyArray<readonly [number, number]>, x: number): number => {
  const above = table.findIndex(([at]) => at >= x)
  if (above < 0) return table.at(-1)![1]
  const [bx, by] = table[above]!
  const [ax, ay] = table[above - 1] ?? table[above]!
  return bx === ax ? by : ay + ((by - ay) * (x - ax)) / (bx - ax)
}

/** Seconds in which a limiter of power comes down to what it holds. */
const LIMITER_SECONDS = 4
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
