import type { RGB, XYZ } from '#core/colorimetry'
import type { ControlSheet, State } from '#core/display'
import { type MeterPrecision, readingSigma } from '#core/measure'
import type { Memo } from '#core/memo'
import type { Aspect } from './aspect'
import { type ChannelMatrix, channelShares } from './channel-matrix'
import { affectsGrey, BREAKS_GREY } from './expected-response'
import type { Feature, Prepared } from './grey-aspect'

/** A grey reading split into its channels, and in what its state differs from the reference. */
interface Split {
  readonly o: GreyObservation
  readonly difference: ReadonlyArray<readonly [Feature, number]>
  readonly light: number
  readonly shares: RGB
}

/** Readings that the model is learned from: greys above black whose states belong to it. */
export const splitReadings = ({
  memo,
  sheet,
  reference,
  channelMatrix,
  observations,
  lightOf,
}: {
  readonly memo: Memo
  readonly sheet: ControlSheet
  readonly reference: State
  readonly channelMatrix: ChannelMatrix
  readonly observations: readonly GreyObservation[]
  readonly lightOf: (state: State) => number
}): Split[] =>
  observations.flatMap((o): Split[] => {
    if (!(o.level > 0)) return []
    const difference = differenceIn(memo, sheet, reference, o.state)
    if (!difference) return []
    const light = lightOf(o.state)
    const shares = channelShares(channelMatrix, o.xyz, light)
    return light > 0 && shares.every((s) => s > 0) ? [{ o, difference, light, shares }] : []
  })

/** Features in the order in which they are met; `place` gives each its number, once. */
export const featureList = () => {
  const features: Feature[] = []
  const places = new Map<string, number>()
  const place = (feature: Feature): number => {
    const known = places.get(feature.key)
    if (known !== undefined) return known
    features.push(feature)
    places.set(feature.key, features.length - 1)
    return features.length - 1
  }
  return { features, place }
}

/** A split reading as drives with their standard errors. */
export const preparedFrom = (
  { o, difference, light, shares }: Split,
  {
    channelMatrix,
    wanted,
    exponent,
    white,
    precision,
  }: {
    readonly channelMatrix: ChannelMatrix
    readonly wanted: RGB
    readonly exponent: number
    readonly white: number
    readonly precision: MeterPrecision
  },
  place: (feature: Feature) => number,
): Prepared => {
  const noise = o.sigma ?? (o.xyz.map((v) => readingSigma(v, precision)) as unknown as XYZ)
  const relative = (row: number, against?: number) => {
    const gradient = channelMatrix.inverse[row]!.map(
      (m, j) =>
        m / shares[row]! -
        (against === undefined ? 0 : channelMatrix.inverse[against]![j]! / shares[against]!),
    )
    return Math.hypot(...gradient.map((g, j) => g * noise[j]!)) / exponent
  }
  const y = drivesOfShares(o.level, shares, { wanted, exponent, white: light * white })
  return {
    level: o.level,
    features: difference.map(([f, n]) => [place(f), n] as const),
    y,
    sigma: {
      red: y.red * relative(0, 1),
      blue: y.blue * relative(2, 1),
      tone: y.tone * Math.hypot(relative(1), 0.0015),
    },
  }
}

/** A grey reading with the settings under which it was taken. */
export interface GreyObservation {
  readonly id: number
  /** Signal, 0…1. */
  readonly level: number
  /** Absolute XYZ and its standard errors, cd/m². */
  readonly xyz: XYZ
  readonly sigma?: XYZ
  readonly state: State
}

/** In what a state differs from another, as amounts of features; undefined where readings in it do not belong together. */
export type Difference = ReadonlyArray<readonly [Feature, number]> | undefined

/** In what a state differs from another; looked for once for each pair, since states are never changed in place. */
export const differenceIn = (memo: Memo, sheet: ControlSheet, reference: State, state: State): Difference =>
  memo.between('grey-difference', reference, state, () => lookFor(sheet, reference, state))

const lookFor = (sheet: ControlSheet, reference: State, state: State): Difference => {
  const out: Array<readonly [Feature, number]> = []
  for (const control of sheet.controls) {
    const from = reference[control.key]
    const to = state[control.key]
    if (from === to || to === undefined || from === undefined) continue
    if (BREAKS_GREY.has(control.role)) return undefined
    if (!affectsGrey(control)) continue
    if (control.kind === 'number')
      out.push([
        { key: control.key, control },
        Math.round(((Number(to) - Number(from)) / control.range.step) * 1e6) / 1e6,
      ])
    else out.push([{ key: `${control.key}=${to}`, control, choice: to }, 1])
  }
  return out
}

/** Drives of one level: red and blue against green, and green's own. */
export type Drives = Readonly<Record<Aspect, number>>

/**
 * The drives that channel amounts show: the inverse of `lightOfDrives`.
 * In: level 0…1; channel amounts; amounts of the target white at 1 cd/m², exponent, luminance of white that green is measured
 * against, cd/m². Out: drives; red and blue equal the level where the light has the target's chromaticity.
 */
export const drivesOfShares = (
  level: number,
  shares: RGB,
  { wanted, exponent, white }: { wanted: RGB; exponent: number; white: number },
): Drives => {
  const green = shares[1] / wanted[1]
  const drive = (i: 0 | 2) => level * (shares[i] / wanted[i] / green) ** (1 / exponent)
  return { red: drive(0), blue: drive(2), tone: (green / white) ** (1 / exponent) }
}
