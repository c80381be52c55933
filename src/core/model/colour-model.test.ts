import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { type RGB, type XYZ, xyToXyz } from '#core/colorimetry'
import { factoryState, type State } from '#core/display'
import { ASSUMED_PRECISION, PATCHES, type Patch } from '#core/measure'
import { MAREN, SORREL } from '#core/simulation'
import { targetOn } from '#core/target'
import { channelMatrixOf } from './channel-matrix'
import { channelsUnder, fitColourModel, lightOfPatch } from './colour-model'
import { type ColourObservation, expectedResponse, responseOfAll } from './colour-response'
import { controlsByRole } from './controls-by-role'

/** Primaries of BT.709 and a white of 100 cd/m², black shut. */
const share = { red: 0.2126, green: 0.7152, blue: 0.0722 } as const
const RED = xyToXyz([0.64, 0.33], 100 * share.red)
const GREEN = xyToXyz([0.3, 0.6], 100 * share.green)
const BLUE = xyToXyz([0.15, 0.06], 100 * share.blue)
const channelMatrix = channelMatrixOf(RED, GREEN, BLUE, [0, 0, 0])!
const target = targetOn({ white: [0.3127, 0.329], tone: 2.2 }, { white: 100, black: 0 })
const patches: readonly Patch[] = [...PATCHES.sdr.muted, ...PATCHES.sdr.memoryColours]
const now = factoryState(MAREN.sheet, 'studio')
const colours = controlsByRole(MAREN.sheet).colours
const redAmount = colours.find((c) => c.colour === 'red' && c.channel === 'green')!

/** A display that is right but for red, which is too strong, and whose one control does what such a control does times `pace`. */
const read = (patch: Patch, state: State = now, pace = 1): XYZ => {
  const light = lightOfPatch(patch, target)
  const clicks = Number(state[redAmount.control.key]) - Number(now[redAmount.control.key])
  const response = expectedResponse(redAmount, light, []).mean
  const [r, g, b] = light.map((v, i) => v * (i === 0 ? 1.06 : 1) + pace * clicks * response[i]!)
  return targetOfLight([r!, g!, b!])
}
const targetOfLight = ([r, g, b]: RGB): XYZ =>
  [0, 1, 2].map((i) => r * RED[i]! + g * GREEN[i]! + b * BLUE[i]!) as unknown as XYZ
const seen = (patch: Patch, state = now, pace = 1): ColourObservation => ({
  id: 0,
  patch,
  xyz: read(patch, state, pace),
  state,
  brought: false,
})
const learn = (observations: readonly ColourObservation[], more: object = {}) =>
  fitColourModel({
    channelMatrix,
    light: 1,
    white: 100,
    target,
    patches,
    controls: [redAmount],
    observations,
    precision: ASSUMED_PRECISION,
    priors: [],
    now,
    ...more,
  })
const muted = (colour: string) => patches.findIndex((p) => p.key === `muted-${colour}`)

describe('what a click of colour management is expected to do', () => {
  const anyLight = fc
    .tuple(...[0, 1, 2].map(() => fc.double({ min: 0, max: 1, noNaN: true })))
    .map(([r, g, b]) => [r!, g!, b!] as RGB)
  const all = [...colours, ...controlsByRole(SORREL.sheet).colours]

  it('is nothing in grey where it is for one colour', () => {
    for (const c of all.filter((one) => one.colour)) {
      const { mean, sigma } = expectedResponse(c, [0.4, 0.4, 0.4], [])
      expect(mean.map(Math.abs)).toEqual([0, 0, 0])
      expect(sigma).toEqual([0, 0, 0])
    }
  })
  it('grows with how much of its colour is in the light', () => {
    fc.assert(
      fc.property(anyLight, fc.double({ min: 0.1, max: 1, noNaN: true }), (light, k) => {
        for (const c of all.filter((one) => one.colour).slice(0, 6)) {
          const whole = expectedResponse(c, light, []).mean
          const part = expectedResponse(c, light.map((v) => k * v) as unknown as RGB, []).mean
          for (const i of [0, 1, 2] as const) expect(part[i]).toBeCloseTo(k * whole[i], 9)
        }
      }),
      { numRuns: 40 },
    )
  })
  it('keeps luminance where it is the saturation of all colours, and lies at right angles to grey where it is their hue', () => {
    const one = all.find((c) => c.kind === 'saturation')!
    fc.assert(
      fc.property(anyLight, (light) => {
        const stronger = responseOfAll({ ...one, colour: undefined, kind: 'saturation' }, light)
        expect(share.red * stronger[0] + share.green * stronger[1] + share.blue * stronger[2]).toBeCloseTo(
          0,
          9,
        )
        const turned = responseOfAll({ ...one, colour: undefined, kind: 'hue' }, light)
        expect(turned[0] + turned[1] + turned[2]).toBeCloseTo(0, 9)
      }),
    )
  })
  it('is what a response prior says, where there is one', () => {
    const prior = {
      kind: 'colour' as const,
      control: redAmount.control.key,
      at: [],
      mean: [0.001, 0.02, 0.003],
      sigma: 0.1,
      readings: 6,
    }
    const { mean } = expectedResponse(redAmount, [1, 0, 0], [prior as never])
    expect(mean).toEqual([0.001, 0.02, 0.003])
    expect(expectedResponse(redAmount, [1, 0.5, 0.5], [prior as never]).mean[1]).toBeCloseTo(0.01, 12)
  })
})

describe('colours learned from readings', () => {
  it('gives back what was read', () => {
    const model = learn(patches.map((p) => seen(p)))
    for (const [p, patch] of patches.entries()) {
      const xyz = model.toXyz(channelsUnder(model, p, [0]))
      for (const i of [0, 1, 2] as const) expect(Math.abs(xyz[i] - read(patch)[i])).toBeLessThan(0.12)
    }
    expect(model.observed.size).toBe(patches.length)
    expect(model.clicks).toEqual([0])
  })
  it('expects the target of a colour that was never read, and is unsure of it', () => {
    const model = learn([])
    for (const [p, patch] of patches.entries()) {
      const xyz = model.toXyz(model.base[p]!)
      const wanted = target.xyzOf(patch.signal)
      for (const i of [0, 1, 2] as const) expect(Math.abs(xyz[i] - wanted[i])).toBeLessThan(0.1)
    }
    const known = learn([seen(patches[muted('red')]!)])
    const at = muted('red')
    expect(known.baseSigma[at]![0]).toBeLessThan(0.2 * model.baseSigma[at]![0])
  })
  it('takes what is off in red over to what red is in, and to nothing else', () => {
    const model = learn(PATCHES.sdr.muted.map((p) => seen(p)))
    const lips = patches.findIndex((p) => p.key === 'natural-lips')
    const foliage = patches.findIndex((p) => p.key === 'natural-foliage')
    const usual = (p: number) => lightOfPatch(patches[p]!, target)
    expect(lips).toBeGreaterThan(-1)
    expect(model.base[lips]![0]).toBeGreaterThan(1.01 * usual(lips)[0])
    expect(model.base[foliage]![2] / usual(foliage)[2]).toBeCloseTo(1, 2)
  })
  it('learns how strong a click is from one reading after it was moved', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.5, max: 1.6, noNaN: true }),
        fc.integer({ min: 6, max: 14 }),
        (pace, n) => {
          const moved = { ...now, [redAmount.control.key]: Number(now[redAmount.control.key]) + n }
          const red = patches[muted('red')]!
          const model = learn([...PATCHES.sdr.muted.map((p) => seen(p)), seen(red, moved, pace)])
          const usual = expectedResponse(redAmount, lightOfPatch(red, target), []).mean[1]
          expect(model.response[muted('red')]![0]!.up[1] / usual).toBeCloseTo(pace, 0)
          // Foretold under those clicks: what was read.
          const foretold = model.toXyz(channelsUnder(model, muted('red'), [n]))
          const actual = read(red, moved, pace)
          for (const i of [0, 1, 2] as const) expect(Math.abs(foretold[i] - actual[i])).toBeLessThan(0.35)
        },
      ),
      { numRuns: 15 },
    )
  })
  it('counts clicks from where the display stands', () => {
    const moved = { ...now, [redAmount.control.key]: Number(now[redAmount.control.key]) + 5 }
    const model = learn([...patches.map((p) => seen(p)), ...patches.map((p) => seen(p, moved))], {
      now: moved,
    })
    expect(model.clicks).toEqual([5])
    const at = muted('red')
    const here = model.toXyz(channelsUnder(model, at, [0]))
    const back = model.toXyz(channelsUnder(model, at, [-5]))
    for (const i of [0, 1, 2] as const) {
      expect(Math.abs(here[i] - read(patches[at]!, moved)[i])).toBeLessThan(0.2)
      expect(Math.abs(back[i] - read(patches[at]!)[i])).toBeLessThan(0.2)
    }
  })
  it('trusts what was brought over from another white less than what was read under this one', () => {
    const red = patches[muted('red')]!
    const brought = learn([{ ...seen(red), brought: true }])
    const own = learn([seen(red)])
    expect(own.baseSigma[muted('red')]![0]).toBeLessThan(brought.baseSigma[muted('red')]![0])
  })
  it('takes no reading of a patch that is not asked for', () => {
    const { observed } = learn([
      seen(patches[0]!),
      { ...seen(patches[0]!), patch: { ...patches[0]!, key: 'x' } },
    ])
    expect([...observed]).toEqual([patches[0]!.key])
  })
})
