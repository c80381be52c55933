import {
  BT709_PRIMARIES,
  D65,
  invert,
  type Matrix3,
  multiply,
  type Primaries,
  product,
  type RGB,
  rgbToXyzMatrix,
  type XYZ,
  xyToXyz,
} from '#core/colorimetry'
import type { Control, Hue, NumberControl, State } from '#core/display'
import type { Drawn, Triple } from './draw'

const CHANNELS = ['red', 'green', 'blue'] as const
const RING: readonly Hue[] = ['red', 'yellow', 'green', 'cyan', 'blue', 'magenta']
export type Three = [number, number, number]

export const matrixOf = (primaries: Primaries): Matrix3 => rgbToXyzMatrix(primaries, xyToXyz(D65, 1))!

/** The state that the display is really in: a control that is not what it says does something else than its menu shows. */
export const realState = ({ sheet, quirk }: Drawn, state: State): State => {
  const control = quirk && sheet.controls.find((c) => c.key === quirk.control)
  if (control?.kind !== 'number') return state
  const neutral = Number(control.neutral ?? control.default)
  const clicks = Number(state[control.key]) - neutral
  const reach = (control.range.max - control.range.min) / 8
  // One that forgets does what it shows.
  if (quirk!.kind === 'forgets') return state
  // One that couples does its own work, and some of it to the other channel.
  if (quirk!.kind === 'couples') return { ...state, ...coupledTo(sheet, control, clicks, state) }
  const real =
    quirk!.kind === 'dead'
      ? 0
      : quirk!.kind === 'backwards'
        ? -clicks
        : Math.sign(clicks) * Math.min(Math.abs(clicks), reach)
  return { ...state, [control.key]: neutral + real }
}

const COUPLED = 0.3
/** What clicks of red or blue do to the other one of the same page, as if it had been moved. */
const coupledTo = (sheet: Drawn['sheet'], control: NumberControl, clicks: number, state: State): State => {
  const other = control.channel === 'red' ? 'blue' : 'red'
  const twin = sheet.controls.find(
    (c) => c.role === control.role && 'level' in c && c.level === control.level && c.channel === other,
  )
  return twin ? { [twin.key]: Number(state[twin.key]) + COUPLED * clicks } : {}
}

/** Weight of a level-by-level control at a distance from its control point, in steps to the neighbour. */
const weightAt = (shape: Drawn['levels']['shape'], steps: number): number => {
  const d = Math.abs(steps)
  if (shape === 'triangle') return Math.max(0, 1 - d)
  if (shape === 'cosine') return d < 1 ? 0.5 + 0.5 * Math.cos(Math.PI * d) : 0
  // A cubic spline through its neighbours dips a little below nothing beyond them.
  return d < 1 ? 1 - d * d * (2.5 - 1.5 * d) : d < 2 ? -0.5 * (d - 1) * (2 - d) ** 2 : 0
}

/**
 * Light of a display of the population in a state, without meter and drift.
 * In: display; state that its menu shows; signals of red, green and blue 0…1; share of the screen that is lit; what lies around. Out: absolute XYZ,
 * cd/m².
 */
export const lightOf = (
  d: Drawn,
  shown: State,
  signal: RGB,
  window = 0.1,
  around: 'dark' | 'board' | 'lit' = 'dark',
): XYZ => {
  const state = realState(d, shown)
  const { sheet } = d
  const number = (key: string, otherwise = 0) => (state[key] === undefined ? otherwise : Number(state[key]))
  const mode = d.modes[String(state.mode)]!
  const tone = d.tones[String(state.tone)] ?? { exponent: 2.2, white: [1, 1, 1] as const, lifted: false }
  const decode = tone.exponent * mode.exponent
  const contrast = sheet.controls.find((c) => c.key === 'contrast')
  const white = contrast ? (number('contrast') - Number(contrast.default)) * d.whiteLevel : 0
  const black = state.black === undefined ? 0 : (number('black') - 50) * d.black
  const atInput = signal.map((s) => Math.max(0, (s + black * (1 - s)) * (1 + white))) as Three

  // Level by level before the tone curve acts on the signal, after it on the drive.
  const early = d.levels.beforeTone ? levelled(d, state, atInput) : atInput
  const lift = tone.lifted ? liftOf(d, decode) : 0
  const zones = d.zones?.[String(state.zones)]
  const crush = around === 'dark' && zones ? zones.crush : 0
  const linear = toned(d, state, early).map(
    (s) => (Math.max(0, s + lift) ** decode - lift ** decode) / ((1 + lift) ** decode - lift ** decode),
  ) as Three
  const gamut = d.gamuts[String(state.gamut)]
  const fitted =
    gamut && !gamut.fitted
      ? linear
      : (multiply(product(invert(matrixOf(d.primaries))!, matrixOf(BT709_PRIMARIES)), linear) as Three)
  const boosted = saturated(fitted, (gamut?.boost ?? 1) * mode.saturation)
  const managed = coloured(d, state, boosted)

  const kept = sharesOf(d, state, managed, tone.white)

  const span = number('light', 100) / 100
  const iris = d.iris?.[String(state.iris)] ?? { light: 1, black: 1 }
  const care = d.care && state.care === 'on' ? 1 - d.care : 1
  const full =
    (d.luminance.low + (d.luminance.high - d.luminance.low) * span ** d.luminance.bend) * iris.light * care
  const dimmed = full * (1 - d.windowDimming * Math.max(0, window - 0.1) * Math.min(1, kept[1]))
  const held = !zones || around === 'lit' ? 1 : around === 'board' ? Math.sqrt(zones.leak) : zones.leak
  const leak = (full / d.contrast) * held * iris.black
  // Zones take shades down with black.
  const crushed = kept.map((k) => k * (1 - crush * Math.exp(-k / 0.004))) as Three
  const [X, Y, Z] = multiply(matrixOf(d.primaries), crushed)
  const dark = xyToXyz([0.28, 0.29], leak)
  return [X * dimmed + dark[0], Y * dimmed + dark[1], Z * dimmed + dark[2]]
}

/**
 * What the panel's channels give for linear light, behind colour management: gains, cuts, single levels, curves and presets. In: display; real state;
 * light of the channels, 1 for full; white of the tone setting. Out: shares of each channel.
 */
export const sharesOf = (d: Drawn, state: State, managed: Three, toneWhite: Triple): Three => {
  const { sheet } = d
  const mode = d.modes[String(state.mode)]!
  const clicksOf = (role: string, c: number) => {
    const control = sheet.controls.find((x) => x.key === `${role}-${CHANNELS[c]}`) as
      | NumberControl
      | undefined
    return control
      ? { clicks: Number(state[control.key]) - Number(control.neutral ?? 0), control }
      : undefined
  }
  const open = managed.map((light, c) => {
    const gain = gainOf(d, clicksOf('gain', c))
    let drive = Math.max(0, light * (d.gain.inLight ? gain ** 2.2 : 1)) ** (1 / 2.2)
    if (!d.gain.inLight) drive *= gain
    drive += (clicksOf('cut', c)?.clicks ?? 0) * d.cut.perClick * Math.max(0, 1 - drive) ** d.cut.bend
    return drive
  }) as Three
  const late = d.levels.beforeTone ? open : levelled(d, state, open)
  const preset = d.presets[String(state.preset)] ?? [1, 1, 1]
  const shares = late.map((drive, c) => {
    const held = Math.min(d.ceilings[c as 0 | 1 | 2], Math.max(0, drive))
    const phase = d.bump.phase[c as 0 | 1 | 2]
    const bump = 1 + d.bump.depth * Math.sin(phase + 6 * held) * held * Math.max(0, 1 - held)
    const of = (t: Triple) => t[c as 0 | 1 | 2]
    return held ** of(d.exponents) * bump * of(d.amounts) * of(preset) * of(mode.white) * of(toneWhite)
  }) as Three
  const together = Math.min(1, Math.min(...shares))
  return shares.map((s) => s * (1 - d.nonAdditivity * together)) as Three
}

/** Factor that a gain puts on its channel. */
const gainOf = (d: Drawn, own: { clicks: number; control: NumberControl } | undefined): number => {
  if (!own) return 1
  const { clicks, control } = own
  const reach = (control.range.max - control.range.min) / 2
  const { kind, perClick } = d.gain
  if (kind === 'saturating') return 1 + perClick * reach * Math.tanh(clicks / reach)
  if (kind === 'dead-zone') {
    const dead = 2
    return 1 + perClick * Math.sign(clicks) * Math.max(0, Math.abs(clicks) - dead)
  }
  return 1 + perClick * clicks
}

/** Signal by which a display lifts its curve that was made for BT.1886: b of its annex 1, for the contrast that its panel has. */
const liftOf = ({ contrast }: Drawn, exponent: number): number => {
  const root = contrast ** (-1 / exponent)
  return root / (1 - root)
}

/** Tone level by level: all channels alike, straight lines between the levels. */
const toned = ({ levelTone: { levels, perClick } }: Drawn, state: State, signal: Three): Three =>
  signal.map((s) => {
    const i = levels.findIndex((l) => l >= s)
    const clicks = (level: number | undefined) =>
      level === undefined ? 0 : Number(state[`tone-at-${Math.round(100 * level)}`] ?? 0)
    const above = i < 0 ? levels.at(-1) : levels[i]
    if (above === undefined) return s
    const below = i > 0 ? levels[i - 1]! : 0
    const share = above === below ? 1 : Math.min(1, (s - below) / (above - below))
    return s * (1 + perClick * ((1 - share) * clicks(i > 0 ? below : undefined) + share * clicks(above)))
  }) as Three

/** Level-by-level white on three channels. */
export const levelled = (d: Drawn, state: State, drives: Three): Three => {
  const own = (channel: string) =>
    d.sheet.controls.filter(
      (c): c is NumberControl & { level: number } => c.role === 'level-white' && c.channel === channel,
    )
  return drives.map((drive, c) => {
    const controls = own(CHANNELS[c]!)
    let shift = 0
    for (const [i, control] of controls.entries()) {
      const clicks = Number(state[control.key])
      if (clicks === 0) continue
      const at = control.level + d.levels.off
      const neighbour = controls[drive > at ? i + 1 : i - 1]?.level
      const step = neighbour === undefined ? 0.1 : Math.abs(neighbour - control.level)
      shift += clicks * weightAt(d.levels.shape, (drive - at) / step)
    }
    const { effect, perClick } = d.levels
    const size =
      effect === 'proportional' ? drive : effect === 'constant' ? 0.5 : drive > 0.15 ? 0.5 : drive * 3
    return drive + shift * perClick * size
  }) as Three
}

/** Light made more or less colourful about its luminance. */
export const saturated = (light: Three, by: number): Three => {
  if (by === 1) return light
  const grey = 0.21 * light[0] + 0.72 * light[1] + 0.07 * light[2]
  return light.map((l) => grey + by * (l - grey)) as Three
}

/** Colour management: each of the six colours as amounts, or as hue, saturation and luminance, with crosstalk to its neighbours. */
export const coloured = (d: Drawn, state: State, light: Three): Three => {
  if (d.colour.kind === 'none') return light
  const low = Math.min(...light)
  const high = Math.max(...light)
  const amount = high - low
  if (amount < 1e-9) return light
  const middle = light[0] + light[1] + light[2] - low - high
  const primary = light.indexOf(high)
  const closed = light.indexOf(low)
  // Angle round the ring: the primary, then as far towards the secondary as the middle channel is open.
  const towards = (middle - low) / amount
  const to = (closed + 3 - primary) % 3 === 2 ? 1 : -1
  const angle = (2 * primary + to * towards + 6) % 6
  const out: Three = [...light]
  const clicks = (control: Control) =>
    (d.colour.off?.[control.key] ?? 0) +
    Number(state[control.key]) -
    Number(control.kind === 'number' ? (control.neutral ?? 0) : 0)
  for (const control of d.sheet.controls) {
    if (control.kind !== 'number') continue
    if (control.role === 'saturation' && !control.colour) {
      const grey = 0.21 * light[0] + 0.72 * light[1] + 0.07 * light[2]
      for (const c of [0, 1, 2] as const) out[c] += clicks(control) * d.colour.perClick * (light[c] - grey)
    }
    if (!control.colour) continue
    const moved = clicks(control)
    if (moved === 0) continue
    const away = Math.abs(((angle - RING.indexOf(control.colour) + 9) % 6) - 3)
    const weight =
      away < 1 ? 1 - away * (1 - d.colour.crosstalk) : away < 2 ? d.colour.crosstalk * (2 - away) : 0
    const size = moved * d.colour.perClick * weight * amount
    if (size === 0) continue
    if (control.role === 'colour-amount') out[CHANNELS.indexOf(control.channel as 'red') as 0 | 1 | 2] += size
    else if (control.role === 'colour-luminance') for (const c of [0, 1, 2] as const) out[c] += size
    else if (control.role === 'saturation')
      for (const c of [0, 1, 2] as const) out[c] += (size * (2 * light[c] - high - low)) / amount
    else
      for (const c of [0, 1, 2] as const)
        out[c] += (size * (light[((c + 1) % 3) as 0] - light[((c + 2) % 3) as 0])) / amount
  }
  return out.map((l) => Math.max(0, l)) as Three
}
