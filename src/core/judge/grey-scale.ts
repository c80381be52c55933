import {
  type Chromaticity,
  cctDuv,
  deltaUv,
  gammaAt,
  type XYZ,
  xyToXyz,
  xyzToUv,
  xyzToXy,
} from '#core/colorimetry'
import { type MeterPrecision, readingSigma, sayWhole } from '#core/measure'
import { type Targets, targetOn } from '#core/target'
import { greyErrorChromatic, greyErrorWithLuminance } from './grey-error'
import { NEAR_BLACK, NEAR_BLACK_LEAST, VISIBLE } from './tuning'

/** One grey level, judged. */
export interface JudgedLevel {
  /** Signal, 0…1. */
  readonly level: number
  /** cd/m² */
  readonly luminance: number
  /** Luminance that the tone target asks for with this display's own white and black, cd/m². */
  readonly wanted: number
  /** Exponent with black taken off; undefined at white. */
  readonly gamma?: number
  readonly wantedGamma?: number
  readonly uv: readonly [u: number, v: number]
  /** ΔE00 without luminance. */
  readonly whiteError: number
  /** ΔE00 with luminance. */
  readonly fullError: number
  /** Distance from the target in u′v′. */
  readonly deltaUv: number
  readonly readingId?: number
}

/** A grey scale, judged. */
export interface GreyVerdict {
  readonly white: {
    /** cd/m² */ readonly luminance: number
    /** cd/m² */ readonly sigma: number
    readonly xy: Chromaticity
    /** kelvin */ readonly cct: number
    readonly duv: number
  }
  /** cd/m²; undefined where black was not read. */
  readonly black?: number
  readonly contrast?: number
  /** Mean exponent over 20 to 90 %. */
  readonly gamma?: number
  readonly wantedGamma?: number
  /** Rising from the darkest level above black. */
  readonly levels: readonly JudgedLevel[]
  /** Over 10 to 100 %. */
  readonly whiteError: { readonly average: number; readonly worst: number; readonly worstLevel: number }
  readonly fullError: { readonly average: number; readonly worst: number }
  /** ΔE00 with luminance of shades near black, and the luminance that lies furthest off as a share of its target; where two or more were read. */
  readonly nearBlack?: { readonly average: number; readonly worst: number; readonly share: number }
}

const mean = (values: readonly number[]): number | undefined =>
  values.length ? values.reduce((a, b) => a + b, 0) / values.length : undefined

/**
 * Judges the grey scale of one state.
 * In: readings as level (0…1) and absolute XYZ in cd/m²; target white and tone; scatter of the meter. Out: verdict, or undefined without a reading of 100 %.
 * Without a black reading, exponents are reckoned as if black gave no light.
 */
export const judgeGreyScale = (
  readings: ReadonlyArray<{ level: number; xyz: XYZ; id?: number }>,
  target: Pick<Targets, 'white' | 'tone'>,
  precision: MeterPrecision,
): GreyVerdict | undefined => {
  const whiteReading = readings.find((r) => r.level === 1)
  if (!whiteReading) return undefined
  const peak = whiteReading.xyz[1]
  const blackReading = readings.find((r) => r.level === 0)
  const black = blackReading && Math.max(0, blackReading.xyz[1])
  const display = { white: peak, black: black ?? 0 }
  const { luminanceOf: wantedAt } = targetOn(target, display)

  const levels = readings
    .filter((r) => r.level > 0)
    .sort((a, b) => a.level - b.level)
    .map(({ level, xyz, id }): JudgedLevel => {
      const wanted = wantedAt(level)
      const exponent = gammaAt(level, xyz[1], display)
      const wantedExponent = gammaAt(level, wanted, display)
      return {
        level,
        luminance: xyz[1],
        wanted,
        gamma: Number.isFinite(exponent) ? exponent : undefined,
        wantedGamma: Number.isFinite(wantedExponent) ? wantedExponent : undefined,
        uv: xyzToUv(xyz),
        whiteError: greyErrorChromatic(xyz, peak, target.white),
        fullError: greyErrorWithLuminance(xyz, peak, wanted, target.white),
        deltaUv: deltaUv(xyz, xyToXyz(target.white, 1)),
        readingId: id,
      }
    })
  const judged = levels.filter((l) => l.level >= 0.0999)
  const dark = levels.filter((l) => l.level < NEAR_BLACK)
  const middle = levels.filter((l) => l.level > 0.199 && l.level < 0.901)
  const worst = judged.reduce((a, b) => (b.whiteError > a.whiteError ? b : a))
  const xy = xyzToXy(whiteReading.xyz)
  return {
    white: { luminance: peak, sigma: readingSigma(peak, precision), xy, ...cctDuv(xy) },
    black,
    contrast: black && black > 2 * precision.dark ? peak / black : undefined,
    gamma: mean(middle.flatMap((l) => l.gamma ?? [])),
    wantedGamma: mean(middle.flatMap((l) => l.wantedGamma ?? [])),
    levels,
    whiteError: {
      average: mean(judged.map((l) => l.whiteError))!,
      worst: worst.whiteError,
      worstLevel: worst.level,
    },
    ...(dark.length >= NEAR_BLACK_LEAST
      ? {
          nearBlack: {
            average: mean(dark.map((l) => l.fullError))!,
            worst: Math.max(...dark.map((l) => l.fullError)),
            share: dark.reduce(
              (far, l) =>
                Math.abs(l.luminance / l.wanted - 1) > Math.abs(far - 1) ? l.luminance / l.wanted : far,
              1,
            ),
          },
        }
      : {}),
    fullError: {
      average: mean(judged.map((l) => l.fullError))!,
      worst: Math.max(...judged.map((l) => l.fullError)),
    },
  }
}

/**
 * The verdict in plain sentences, the most important first.
 * In: verdict and the luminance that is aimed at, cd/m². Out: two to four sentences.
 */
export const sayVerdict = (verdict: GreyVerdict, luminance: number, white: Chromaticity): string[] => {
  const { white: own, whiteError, gamma, wantedGamma } = verdict
  const times = own.luminance / luminance
  const [u, v] = xyzToUv(xyToXyz(own.xy, 1))
  const [tu, tv] = xyzToUv(xyToXyz(white, 1))
  const light =
    times > 1.1
      ? `White gives ${sayWhole(own.luminance)} cd/m², ${times.toFixed(1)} times the target of ${luminance}.`
      : times < 0.9
        ? `White gives ${sayWhole(own.luminance)} cd/m², below the target of ${luminance}.`
        : `White gives ${own.luminance.toFixed(1)} cd/m², the target is ${luminance}.`
  const tint = v < tv ? (u < tu ? 'blue' : 'magenta') : u < tu ? 'green' : 'red'
  const error =
    whiteError.average < VISIBLE
      ? `Grey is neutral: ΔE00 ${whiteError.average.toFixed(1)} on average, ${whiteError.worst.toFixed(1)} at worst.`
      : `Grey leans to ${tint}: ΔE00 ${whiteError.average.toFixed(1)} on average, ${whiteError.worst.toFixed(1)} at ${Math.round(
          whiteError.worstLevel * 100,
        )} %.`
  const tone =
    gamma === undefined || wantedGamma === undefined
      ? []
      : Math.abs(gamma - wantedGamma) < 0.05
        ? [`Tone follows its target: ${gamma.toFixed(2)}.`]
        : [
            `Greys are ${gamma > wantedGamma ? 'darker' : 'lighter'} than the target: gamma ${gamma.toFixed(2)} where ${wantedGamma.toFixed(2)} is wanted.`,
          ]
  return [light, error, ...tone]
}
