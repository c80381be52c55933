import type { RGB, XYZ } from '#core/colorimetry'
import type { Hue, State } from '#core/display'
import type { Patch } from '#core/measure'
import { type ColourControl, reachOf } from './controls-by-role'
import type { ResponsePrior } from './response-prior'

export type Triple = [number, number, number]

/** Channels that are open in each of the six colours. */
const OPEN: Readonly<Record<Hue, RGB>> = {
  red: [1, 0, 0],
  yellow: [1, 1, 0],
  green: [0, 1, 0],
  cyan: [0, 1, 1],
  blue: [0, 0, 1],
  magenta: [1, 0, 1],
}
export const RING: readonly Hue[] = ['red', 'yellow', 'green', 'cyan', 'blue', 'magenta']
/** Share of each channel in luminance, of BT.709. */
const WEIGHT: RGB = [0.2126, 0.7152, 0.0722]

/**
 * How much of each of the six colours is in a light: white taken off, what is left is one primary and one secondary. Colour management
 * for one colour moves others as far as it is in them.
 * In: linear light of the channels. Out: amount by colour, 1 for the full colour.
 */
export const coloursIn = (light: RGB): Readonly<Partial<Record<Hue, number>>> => {
  const order = [0, 1, 2].sort((a, b) => light[b]! - light[a]!) as [number, number, number]
  const [high, middle, low] = order.map((i) => light[i]!) as Triple
  const primary = RING.find((h) => OPEN[h].every((o, i) => (o === 1) === (i === order[0])))
  const secondary = RING.find((h) => OPEN[h].every((o, i) => (o === 0) === (i === order[2])))
  return {
    ...(primary && high > middle ? { [primary]: high - middle } : {}),
    ...(secondary && middle > low ? { [secondary]: middle - low } : {}),
  }
}

/** Way in which a click goes, counted from neutral: the hue of one colour turns into one neighbour upwards and into the other one downwards. */
export type Way = 'up' | 'down'

/** Whether what a click does differs upwards and downwards of neutral. */
export const turnsApart = (control: ColourControl): boolean =>
  control.kind === 'hue' && control.colour !== undefined

/** What one click of a control is expected to add to a colour's channels: mean, and how far it may be off. */
export const expectedResponse = (
  control: ColourControl,
  light: RGB,
  priors: readonly ResponsePrior[],
  way: Way = 'up',
): { mean: Triple; sigma: Triple; own: Triple } => {
  const amount = control.colour ? (coloursIn(light)[control.colour] ?? 0) : 1
  const reach = reachOf(control.control)
  const prior = priors.find(
    (l) =>
      l.kind === 'colour' && l.control === control.control.key && (!turnsApart(control) || l.aspect === way),
  )
  if (prior) {
    const mean = control.colour
      ? (prior.mean.map((m) => m * amount) as Triple)
      : (responseOfAll(control, light).map((d) => d * prior.mean[0]!) as Triple)
    const size = Math.max(...mean.map(Math.abs))
    const sigma = mean.map((m) => prior.sigma * Math.max(Math.abs(m), 0.3 * size)) as Triple
    return { mean, sigma, own: sigma.map((s) => 0.8 * s) as Triple }
  }
  if (!control.colour) {
    const response = responseOfAll(control, light)
    const k = control.kind === 'hue' ? 0 : 0.45 / reach
    const s = 0.4 / reach
    return {
      mean: response.map((d) => k * d) as Triple,
      sigma: response.map((d) => s * d) as Triple,
      own: response.map((d) => 0.08 * s * Math.abs(d)) as Triple,
    }
  }
  const { mean, sigma } = responseOfOne(control, control.colour, reach)
  return {
    mean: mean.map((d) => amount * d) as Triple,
    sigma: sigma.map((d) => amount * d) as Triple,
    own: mean.map((d, i) => amount * 0.25 * Math.max(Math.abs(d), 0.3 * sigma[i]!)) as Triple,
  }
}

/** How the channels of one of the six colours change where its hue turns towards the next: from magenta to yellow for red. */
export const turnOf = (colour: Hue): Triple => {
  const at = RING.indexOf(colour)
  return OPEN[RING[(at + 1) % 6]!].map((o, i) => o - OPEN[RING[(at + 5) % 6]!][i]!) as Triple
}

const responseOfOne = (
  control: ColourControl,
  colour: Hue,
  reach: number,
): { mean: Triple; sigma: Triple } => {
  const open = OPEN[colour]
  const luminance = WEIGHT.reduce((s, w, i) => s + w * open[i]!, 0)
  switch (control.kind) {
    case 'amount': {
      const i = ['red', 'green', 'blue'].indexOf(control.channel ?? '')
      const one = (v: number) => [0, 1, 2].map((j) => (j === i ? v : 0)) as Triple
      return {
        mean: one(0.25 / reach),
        sigma: [0, 1, 2].map((j) => (j === i ? 0.25 : 0.03) / reach) as Triple,
      }
    }
    case 'luminance':
      return {
        mean: open.map((o) => (0.2 * o) / reach) as Triple,
        // Some displays lift all three channels, and pale the colour with it.
        sigma: open.map((o) => (o ? 0.2 : 0.15) / reach) as Triple,
      }
    case 'saturation':
      return {
        mean: open.map((o) => (0.3 * (o - luminance)) / reach) as Triple,
        sigma: open.map((o) => (0.3 * Math.max(0.6, Math.abs(o - luminance))) / reach) as Triple,
      }
    case 'hue':
      return {
        mean: [0, 0, 0],
        sigma: turnOf(colour).map((t) => (t ? 0.22 : 0.12) / reach) as Triple,
      }
  }
}

/** Directions in which a control for all colours moves a light, at a size of one. */
export const responseOfAll = (control: ColourControl, light: RGB): Triple => {
  const Y = WEIGHT.reduce((s, w, i) => s + w * light[i]!, 0)
  const [r, g, b] = light
  if (control.kind === 'hue') return [g - b, b - r, r - g].map((d) => d / Math.sqrt(3)) as Triple
  if (control.kind === 'luminance') return [r, g, b]
  return [r - Y, g - Y, b - Y]
}

/** A colour that was read, with the clicks of colour management under which it was, counted from the state of now. */
export interface ColourObservation {
  readonly id: number
  readonly patch: Patch
  readonly xyz: XYZ
  readonly sigma?: XYZ
  readonly state: State
  /** It was read with another white or tone and brought over: less sure. */
  readonly brought: boolean
}
