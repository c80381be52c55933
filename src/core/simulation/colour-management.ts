import type { RGB } from '#core/colorimetry'
import {
  type ControlSheet,
  type Hue,
  type NumberControl,
  type Role,
  rolesWhere,
  type State,
} from '#core/display'
import type { SimulatedModel } from './displays'

type Triple = [number, number, number]

/** Channels that are fully open in each of the six colours. */
const OPEN: Readonly<Record<Hue, readonly [number, number, number]>> = {
  red: [1, 0, 0],
  yellow: [1, 1, 0],
  green: [0, 1, 0],
  cyan: [0, 1, 1],
  blue: [0, 0, 1],
  magenta: [1, 0, 1],
}
const RING: readonly Hue[] = ['red', 'yellow', 'green', 'cyan', 'blue', 'magenta']
const WEIGHT: Readonly<Triple> = [0.27, 0.66, 0.07]

/**
 * How much of each of the six colours is in a light: white taken off, what is left is one primary and one secondary.
 * Out: amounts by colour; at most two are not zero.
 */
const parts = (light: RGB): ReadonlyArray<readonly [Hue, number]> => {
  const low = Math.min(...light)
  const high = Math.max(...light)
  const middle = light[0] + light[1] + light[2] - low - high
  const near = (a: number, b: number) => Math.abs(a - b) < 1e-12
  const primary = RING.find((h) => OPEN[h].every((o, i) => (o === 1) === near(light[i]!, high)))
  const secondary = RING.find((h) => OPEN[h].every((o, i) => (o === 0) === near(light[i]!, low)))
  const out: Array<readonly [Hue, number]> = []
  if (primary && high > middle) out.push([primary, high - middle])
  if (secondary && middle > low) out.push([secondary, middle - low])
  return out
}

/**
 * Colour management of a display in a state: colour by colour as amounts or as hue, saturation and luminance, and colour
 * and hue of everything. Out: a function of linear light, grey left alone.
 */
export const colourAdjuster = (
  sheet: ControlSheet,
  state: State,
  perClick: SimulatedModel['perClick'],
  modeSaturation: number,
): ((light: RGB) => RGB) => {
  const roles = rolesWhere((r) => r.ofColour === true)
  const moved = sheet.controls.flatMap((c): Array<{ control: NumberControl; clicks: number }> => {
    if (c.kind !== 'number' || !roles.has(c.role)) return []
    const clicks = Number(state[c.key]) - Number(c.neutral ?? c.default)
    return clicks ? [{ control: c, clicks }] : []
  })
  if (moved.length === 0 && modeSaturation === 1) return (light) => light
  const clicksOf = (role: Role, colour?: Hue, channel?: string) =>
    moved.find((m) => m.control.role === role && m.control.colour === colour && m.control.channel === channel)
      ?.clicks ?? 0

  return (light) => {
    const out: Triple = [...light]
    for (const [hue, amount] of parts(light)) {
      for (const [i, channel] of (['red', 'green', 'blue'] as const).entries())
        out[i] = out[i]! + amount * clicksOf('colour-amount', hue, channel) * perClick.amount
      const turn = clicksOf('hue', hue) * perClick.hue
      if (turn) {
        const at = RING.indexOf(hue)
        const towards = OPEN[RING[(at + (turn > 0 ? 1 : 5)) % 6]!]
        for (let i = 0; i < 3; i++) out[i] = out[i]! + amount * Math.abs(turn) * (towards[i]! - OPEN[hue][i]!)
      }
      const saturate = clicksOf('saturation', hue) * perClick.saturation
      const level = WEIGHT.reduce((s, w, i) => s + w * OPEN[hue][i]!, 0)
      const brighten = clicksOf('colour-luminance', hue) * perClick.colourLuminance
      for (let i = 0; i < 3; i++)
        out[i] = out[i]! + amount * (saturate * (OPEN[hue][i]! - level) + brighten * OPEN[hue][i]!)
    }
    const Y = WEIGHT.reduce((s, w, i) => s + w * out[i]!, 0)
    const all = modeSaturation * (1 + clicksOf('saturation') * perClick.saturation)
    const angle = clicksOf('hue') * perClick.hue
    const [r, g, b] = out.map((c) => Y + (c - Y) * all) as Triple
    if (!angle) return [r, g, b]
    // A turn about the grey axis: each channel takes from its neighbours, their sum stays.
    const k = angle / Math.sqrt(3)
    return [r + k * (g - b), g + k * (b - r), b + k * (r - g)]
  }
}
