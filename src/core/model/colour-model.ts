import { multiply, type RGB, type XYZ, xyToXyz } from '#core/colorimetry'
import type { Hue, State } from '#core/display'
import { type MeterPrecision, type Patch, readingSigma } from '#core/measure'
import type { Target } from '#core/target'
import { type ChannelMatrix, channelShares } from './channel-matrix'
import { type ColourControl, reachOf } from './controls-by-role'
import { fitGaussian } from './gaussian'
import type { ResponsePrior } from './response-prior'
import { COLOUR_MODEL_CLOSED, COLOUR_MODEL_OWN, COLOUR_MODEL_SHARED, FULL_OWN } from './tuning'

type Triple = [number, number, number]

/** Channels that are open in each of the six colours. */
const OPEN: Readonly<Record<Hue, RGB>> = {
  red: [1, 0, 0],
  yellow: [1, 1, 0],
  green: [0, 1, 0],
  cyan: [0, 1, 1],
  blue: [0, 0, 1],
  magenta: [1, 0, 1],
}
const RING: readonly Hue[] = ['red', 'yellow', 'green', 'cyan', 'blue', 'magenta']
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
const turnsApart = (control: ColourControl): boolean => control.kind === 'hue' && control.colour !== undefined

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

export interface ColourModel {
  readonly patches: readonly Patch[]
  readonly controls: readonly ColourControl[]
  /** Keys of the patches that were read. */
  readonly observed: ReadonlySet<string>
  /** Channels of each patch under the clicks of now, white being 1. */
  readonly base: readonly Readonly<Triple>[]
  readonly baseSigma: readonly Readonly<Triple>[]
  /** What one click of each control adds to each patch, upwards of neutral and downwards. */
  readonly response: ReadonlyArray<ReadonlyArray<Readonly<Record<Way, Readonly<Triple>>>>>
  /** Where each control stands, in clicks from neutral. */
  readonly clicks: readonly number[]
  /** Luminance of white, cd/m². */
  readonly white: number
  readonly toXyz: (channels: Readonly<Triple>) => XYZ
}

/** Light of the channels of a patch's target above black, white being 1. */
export const lightOfPatch = (patch: Patch, target: Target): RGB => {
  const [r, g, b] = target.curve.channelsOf(patch.signal, target)
  const share = (light: number) => (light - target.black) / target.white
  return [share(r), share(g), share(b)]
}

const clicksIn = (control: ColourControl, state: State): number => {
  const c = control.control
  return Math.round((Number(state[c.key]) - Number(c.neutral ?? c.default)) / c.range.step)
}

/** What one channel of all colours is learned from. */
interface OfChannel {
  readonly observations: readonly ColourObservation[]
  /** Place of each reading's patch. */
  readonly at: readonly number[]
  /** Clicks of each way under each reading, counted from now. */
  readonly clicks: ReadonlyArray<readonly number[]>
  readonly measured: readonly Triple[]
  /** What is expected of a click of each way in each patch. */
  readonly responses: ReadonlyArray<ReadonlyArray<ReturnType<typeof expectedResponse>>>
  /** Value of a patch before anything was read of it. */
  readonly usual: readonly RGB[]
  readonly baseCovariance: (a: number, b: number, c: 0 | 1 | 2) => number
  /** Standard error of a reading in this channel. */
  readonly noiseOf: (o: ColourObservation) => number
  readonly into: { readonly base: Triple[]; readonly baseSigma: Triple[]; readonly learned: Triple[][] }
}

/** Covariance of the readings in a channel, what they differ by from what was expected, and how sure each is. */
const readingsIn = (
  c: 0 | 1 | 2,
  { observations, at, clicks, measured, responses, usual, baseCovariance, noiseOf }: OfChannel,
) => {
  const ways = responses[0]?.length ?? 0
  const n = observations.length
  const kernel = new Float64Array(n * n)
  const residual: number[] = []
  const sigma: number[] = []
  for (let i = 0; i < n; i++) {
    const a = at[i]!
    for (let j = 0; j <= i; j++) {
      const b = at[j]!
      let k = baseCovariance(a, b, c)
      for (let q = 0; q < ways; q++) {
        const product = clicks[i]![q]! * clicks[j]![q]!
        if (product === 0) continue
        k += product * responses[a]![q]!.sigma[c]! * responses[b]![q]!.sigma[c]!
        if (a === b) k += product * responses[a]![q]!.own[c]! ** 2
      }
      kernel[i * n + j] = k
    }
    let mean = usual[a]![c]!
    let away = 0
    for (let q = 0; q < ways; q++) {
      mean += clicks[i]![q]! * responses[a]![q]!.mean[c]!
      away += Math.abs(clicks[i]![q]! * (Math.abs(responses[a]![q]!.mean[c]!) + responses[a]![q]!.sigma[c]!))
    }
    residual.push(measured[i]![c]! - mean)
    const o = observations[i]!
    const own = noiseOf(o)
    // A channel that is closed cannot be seen to close further.
    const shut = usual[a]![c]! < COLOUR_MODEL_CLOSED && measured[i]![c]! < COLOUR_MODEL_CLOSED && away > 0
    sigma.push(
      Math.hypot(
        shut ? 3 * away : 0,
        own,
        o.brought ? 0.012 * (measured[i]![c]! + 0.02) : 0,
        0.06 * away,
        2e-4,
      ),
    )
  }
  return { n, kernel, residual, sigma }
}

/** Learns one channel of all colours. */
const fitChannel = (c: 0 | 1 | 2, of: OfChannel): void => {
  const { at, clicks, responses, usual, baseCovariance } = of
  const { base, baseSigma, learned } = of.into
  const ways = responses[0]?.length ?? 0
  const { n, kernel, residual, sigma } = readingsIn(c, of)
  const fit = n > 0 ? fitGaussian(kernel, residual, sigma) : undefined
  const m = usual.length
  const cross = Float64Array.from({ length: n * m }, (_, i) =>
    baseCovariance(i % m, at[Math.floor(i / m)]!, c),
  )
  const known = fit ? fit.solve(cross, m) : cross
  for (const [p] of usual.entries()) {
    let value = usual[p]![c]!
    let variance = baseCovariance(p, p, c)
    for (let j = 0; j < n; j++) {
      value += cross[j * m + p]! * fit!.weights[j]!
      variance -= cross[j * m + p]! * known[j * m + p]!
    }
    base[p]![c] = value
    baseSigma[p]![c] = Math.sqrt(Math.max(0, variance))
    for (let q = 0; q < ways; q++) {
      let effect = responses[p]![q]!.mean[c]!
      for (let j = 0; j < n; j++) {
        const m = clicks[j]![q]!
        if (m === 0) continue
        let k = m * responses[p]![q]!.sigma[c]! * responses[at[j]!]![q]!.sigma[c]!
        if (at[j] === p) k += m * responses[p]![q]!.own[c]! ** 2
        effect += k * fit!.weights[j]!
      }
      learned[p]![q]![c] = effect
    }
  }
}

/**
 * Learns how colours answer to colour management: channel by channel, each patch has a value of its own, and each click adds
 * to it in proportion to how much of its colour is in the patch, hue upwards of neutral apart from downwards; all of it with uncertainty, from all readings
 * at once.
 * In: channel matrix, light of the panel against the matrix's own, luminance of white and black; target; patches; controls; readings; what was
 * learned elsewhere; state of now. Out: model.
 */
export const fitColourModel = (input: {
  channelMatrix: ChannelMatrix
  light: number
  white: number
  target: Target
  patches: readonly Patch[]
  controls: readonly ColourControl[]
  observations: readonly ColourObservation[]
  precision: MeterPrecision
  priors: readonly ResponsePrior[]
  now: State
}): ColourModel => {
  const { channelMatrix, light, white, target, patches, controls, precision, priors, now } = input
  const wanted = multiply(channelMatrix.inverse, xyToXyz(target.whitePoint, 1))
  const scale = wanted.map((w) => w * white) as Triple
  const channelsOf = (xyz: XYZ): Triple =>
    channelShares(channelMatrix, xyz, light).map((s, i) => s / scale[i]!) as Triple
  const observations = input.observations.filter((o) => patches.some((p) => p.key === o.patch.key))
  const place = new Map(patches.map((p, i) => [p.key, i]))
  const here = controls.map((c) => clicksIn(c, now))
  /** Ways of the controls: of one that does the same both ways, one that stands for both. */
  const ways = controls.flatMap(
    (control, q): Array<{ q: number; control: ColourControl; way: Way }> =>
      (turnsApart(control) ? (['up', 'down'] as const) : (['up'] as const)).map((way) => ({
        q,
        control,
        way,
      })),
  )
  const responses = patches.map((p) =>
    ways.map(({ control, way }) => expectedResponse(control, lightOfPatch(p, target), priors, way)),
  )
  const clicks = observations.map((o) =>
    ways.map(({ q, control, way }) => {
      const there = clicksIn(control, o.state)
      return turnsApart(control) ? partOf(there, way) - partOf(here[q]!, way) : there - here[q]!
    }),
  )
  const measured = observations.map((o) => channelsOf(o.xyz))
  const at = observations.map((o) => place.get(o.patch.key)!)

  /** Value of a patch before anything was read of it: mixed of the primaries. */
  const usual = patches.map((p) => lightOfPatch(p, target))
  // How far it may be off: as much as each of the six colours is, as far as it is in the patch; and by itself.
  const amounts = patches.map((_, p) => {
    const own = coloursIn(usual[p]!)
    return RING.map((h) => own[h] ?? 0)
  })
  const ownSigma = patches.map((patch, p) => {
    // A full colour ends where the panel ends, and says less of those between.
    const share =
      Math.max(...patch.signal) === 1 && Math.min(...patch.signal) === 0 ? FULL_OWN : COLOUR_MODEL_OWN
    return usual[p]!.map((u) => share * (u + 0.05)) as Triple
  })
  const baseCovariance = (a: number, b: number, c: 0 | 1 | 2): number => {
    let shared = a === b ? ownSigma[a]![c]! ** 2 : 0
    for (let h = 0; h < RING.length; h++)
      shared += COLOUR_MODEL_SHARED ** 2 * amounts[a]![h]! * amounts[b]![h]!
    return shared
  }
  const base = patches.map(() => [0, 0, 0] as Triple)
  const baseSigma = patches.map(() => [0, 0, 0] as Triple)
  const learned = patches.map(() => ways.map(() => [0, 0, 0] as Triple))

  for (const c of [0, 1, 2] as const)
    fitChannel(c, {
      observations,
      at,
      clicks,
      measured,
      responses,
      usual,
      baseCovariance,
      noiseOf: (o) => {
        const noise = o.sigma ?? (o.xyz.map((v) => readingSigma(v, precision)) as unknown as XYZ)
        return Math.hypot(...channelMatrix.inverse[c]!.map((m, j) => (m * noise[j]!) / scale[c]!))
      },
      into: { base, baseSigma, learned },
    })
  return {
    patches,
    controls,
    observed: new Set(observations.map((o) => o.patch.key)),
    base,
    baseSigma,
    response: learned.map((own) =>
      controls.map((control, q) => {
        const first = ways.findIndex((w) => w.q === q)
        return { up: own[first]!, down: own[turnsApart(control) ? first + 1 : first]! }
      }),
    ),
    clicks: here,
    white,
    toXyz: (channels) => {
      const [X, Y, Z] = multiply(channelMatrix.matrix, [
        Math.max(0, channels[0]) * scale[0],
        Math.max(0, channels[1]) * scale[1],
        Math.max(0, channels[2]) * scale[2],
      ])
      return [
        X + light * channelMatrix.black[0],
        Y + light * channelMatrix.black[1],
        Z + light * channelMatrix.black[2],
      ]
    },
  }
}

/** The part of clicks that goes one way from neutral. */
const partOf = (clicks: number, way: Way): number =>
  way === 'up' ? Math.max(0, clicks) : Math.min(0, clicks)

/** Moves channels as a control does that goes from some clicks to others, both counted from the state of now. In: model, patch, control; out: channels, changed in place. */
export const addClicks = (
  model: ColourModel,
  { patch, control, from, to }: { patch: number; control: number; from: number; to: number },
  out: Triple,
): void => {
  const here = model.clicks[control]!
  const { up, down } = model.response[patch]![control]!
  const ups = partOf(here + to, 'up') - partOf(here + from, 'up')
  const downs = partOf(here + to, 'down') - partOf(here + from, 'down')
  for (const c of [0, 1, 2] as const) out[c] += ups * up[c] + downs * down[c]
}

/** Channels of a patch under clicks counted from the state of now. */
export const channelsUnder = (model: ColourModel, patch: number, clicks: readonly number[]): Triple => {
  const out: Triple = [...model.base[patch]!]
  for (const [q, n] of clicks.entries()) {
    if (n !== 0) addClicks(model, { patch, control: q, from: 0, to: n }, out)
  }
  return out
}
