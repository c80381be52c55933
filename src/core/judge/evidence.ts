import { srgbOf, type XYZ, xyzToUv } from '#core/colorimetry'
import { greyLevel, type MeterPrecision, type Patch } from '#core/measure'
import { type Target, type Targets, targetOn } from '#core/target'
import { type ColourError, colourError } from './colour-error'
import { type GreyVerdict, judgeGreyScale } from './grey-scale'

/** A reading as evidence looks at it. */
export interface EvidenceReading {
  readonly id: number
  readonly patch: Patch
  /** Absolute, cd/m². */
  readonly xyz: XYZ
  /** Bench seconds. */
  readonly clock: number
}

/** One colour, measured and wanted. */
interface JudgedColour extends ColourError {
  readonly id: number
  readonly patch: string
  readonly xyz: XYZ
  readonly wanted: XYZ
  readonly uv: readonly [number, number]
  readonly wantedUv: readonly [number, number]
  /** As 8-bit channels for a screen. */
  readonly swatch: readonly [number, number, number]
  readonly wantedSwatch: readonly [number, number, number]
}

interface CurvePoint {
  readonly id: number
  readonly x: number
  /** cd/m² */
  readonly luminance: number
}

/** All that a set of readings in one state says. */
export interface EvidenceVerdict {
  readonly grey?: GreyVerdict
  /** Luminance against the tone target by level, as a share above or below it. */
  readonly toneError: ReadonlyArray<{ id: number; level: number; share: number }>
  readonly colours: readonly JudgedColour[]
  /** Luminance of white by the share of the screen, in percent. */
  readonly windows: readonly CurvePoint[]
  /** Luminance by time, seconds since the first of these readings. */
  readonly time: readonly CurvePoint[]
}

const isStill = (patch: Patch) => patch.key.startsWith('still-')
const isWindow = (patch: Patch) => patch.key.startsWith('window-')
const isPlain = (patch: Patch) =>
  !isStill(patch) &&
  !isWindow(patch) &&
  (patch.layout ?? 'window') === 'window' &&
  patch.surround === undefined

/**
 * Judges readings of one state against the target of their case.
 * In: readings, oldest first (the newest of a patch counts); target white, tone; scatter of the meter. Out: verdict; what
 * the readings do not hold is empty.
 */
export const judgeEvidence = (
  readings: readonly EvidenceReading[],
  targets: Pick<Targets, 'white' | 'tone'>,
  precision: MeterPrecision,
): EvidenceVerdict => {
  const newest = new Map<string, EvidenceReading>()
  for (const r of readings) newest.set(r.patch.key, r)
  const own = [...newest.values()]
  const greys = own.flatMap((r) => {
    const level = isPlain(r.patch) ? greyLevel(r.patch) : undefined
    return level === undefined ? [] : [{ level, xyz: r.xyz, id: r.id }]
  })
  const grey = judgeGreyScale(greys, targets, precision)
  const stills = readings.filter((r) => isStill(r.patch))
  const full = grey && targetOn(targets, { white: grey.white.luminance, black: grey.black ?? 0 })
  return {
    ...(grey ? { grey } : {}),
    toneError:
      grey?.levels.flatMap((l) =>
        l.readingId !== undefined && l.level < 1 && l.wanted > 0
          ? [{ id: l.readingId, level: l.level, share: l.luminance / l.wanted - 1 }]
          : [],
      ) ?? [],
    colours: full
      ? own.flatMap((r) =>
          isPlain(r.patch) && greyLevel(r.patch) === undefined ? [judgeColour(r, full)] : [],
        )
      : [],
    windows: own
      .filter((r) => isWindow(r.patch))
      .map((r) => ({ id: r.id, x: 100 * (r.patch.window ?? 1), luminance: r.xyz[1] }))
      .sort((a, b) => a.x - b.x),
    time: stills.map((r) => ({ id: r.id, x: r.clock - stills[0]!.clock, luminance: r.xyz[1] })),
  }
}

const judgeColour = (reading: EvidenceReading, target: Target): JudgedColour => {
  const wanted = target.xyzOf(reading.patch.signal)
  return {
    ...colourError(reading.xyz, wanted, target),
    id: reading.id,
    patch: reading.patch.label,
    xyz: reading.xyz,
    wanted,
    uv: xyzToUv(reading.xyz),
    wantedUv: xyzToUv(wanted),
    swatch: srgbOf(reading.xyz, target.white),
    wantedSwatch: srgbOf(wanted, target.white),
  }
}
