import { multiply, type RGB, type XYZ, xyToXyz } from '#core/colorimetry'
import type { State } from '#core/display'
import { type MeterPrecision, type Patch, readingSigma } from '#core/measure'
import type { Target } from '#core/target'
import { type ChannelMatrix, channelShares } from './channel-matrix'
import { fitChannel } from './colour-channel'
import {
  type ColourObservation,
  coloursIn,
  expectedResponse,
  RING,
  type Triple,
  turnsApart,
  type Way,
} from './colour-response'
import type { ColourControl } from './controls-by-role'
import type { ResponsePrior } from './response-prior'
import { COLOUR_MODEL_OWN, COLOUR_MODEL_SHARED, FULL_OWN, SCATTERED } from './tuning'

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

  const floor = floorOf(measured)

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
      twins: ways.map(({ q, way }) => ways.findIndex((w) => w.q === q && w.way !== way)),
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
        Math.max(floor[0], channels[0]) * scale[0],
        Math.max(floor[1], channels[1]) * scale[1],
        Math.max(floor[2], channels[2]) * scale[2],
      ])
      return [
        X + light * channelMatrix.black[0],
        Y + light * channelMatrix.black[1],
        Z + light * channelMatrix.black[2],
      ]
    },
  }
}

/**
 * How far a channel closes: a panel that reaches further than its gamut lets it can close a channel of that gamut further than wholly, as far as it was seen to, and
 * some more. In: channels that were measured. Out: by channel, 0 or below.
 */
const floorOf = (measured: readonly Triple[]): Triple => {
  const lowest = (c: 0 | 1 | 2) => 2 * Math.min(0, ...measured.map((m) => m[c] + SCATTERED))
  return [lowest(0), lowest(1), lowest(2)]
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
