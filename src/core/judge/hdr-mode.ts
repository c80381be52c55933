import {
  type Chromaticity,
  cctDuv,
  deltaEItp,
  deltaUv,
  type XYZ,
  xyToXyz,
  xyzToUv,
  xyzToXy,
} from '#core/colorimetry'
import { greyLevel, type Patch, PQ_PEAK } from '#core/measure'
import { type Targets, targetOn } from '#core/target'

/** What one picture mode does with HDR. Luminances in cd/m², errors in ΔE ITP. */
export interface HdrModeVerdict {
  /** In a small window, in its first moments; undefined where it was not read. */
  readonly peak: number | undefined
  readonly black: number | undefined
  /** White of greys at their own luminance, average. */
  readonly white: number
  readonly whitePoint: { readonly xy: Chromaticity; readonly cct: number; readonly duv: number }
  /** How much too bright greys are on average, in stops, and the darkest of them; light beyond the peak does not count. */
  readonly stops: number
  readonly shadows: number
  /** Colours on average, with the mode's own white and its own scale of light taken as right; undefined where none was read. */
  readonly colour: number | undefined
  /** Distance of the primaries from white in u′v′ against that of their targets: 1 is right, more is oversaturated. */
  readonly saturation: number | undefined
}

/**
 * Judges a picture mode in HDR from its short sweep.
 * In: readings of one mode (absolute XYZ, cd/m²), targets of the case, luminance that the highest grey of the sweep means, cd/m². Out: verdict, or
 * undefined where fewer than two greys were read.
 */
export const judgeHdrMode = (
  readings: ReadonlyArray<{ readonly patch: Patch; readonly xyz: XYZ }>,
  targets: Targets,
  reference: number,
): HdrModeVerdict | undefined => {
  const aim = targetOn({ white: targets.white, tone: targets.tone }, { white: reference, black: 0 })
  const greys = readings
    .flatMap(({ patch, xyz }) => {
      const level = greyLevel(patch)
      return level ? [{ wanted: aim.luminanceOf(level), xyz }] : []
    })
    .sort((a, b) => a.wanted - b.wanted)
  const top = greys.at(-1)
  if (!top || greys.length < 2) return undefined
  const stopsOf = (g: (typeof greys)[number]) => Math.log2(Math.max(1e-6, g.xyz[1]) / g.wanted)
  const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length
  const stops = mean(greys.map(stopsOf))
  const xy = xyzToXy(top.xyz)
  // White and light have verdicts of their own: one fault is not counted twice.
  const own = targetOn({ white: xy, tone: targets.tone }, { white: reference, black: 0 })
  const scale = 2 ** stops
  const colours = readings.filter(({ patch }) => greyLevel(patch) === undefined && patch.key !== PQ_PEAK.key)
  const wantedOf = (patch: Patch): XYZ => {
    const [x, y, z] = own.xyzOf(patch.signal)
    return [x * scale, y * scale, z * scale]
  }
  const [wu, wv] = xyzToUv(top.xyz)
  const away = (xyz: XYZ): number => {
    const [u, v] = xyzToUv(xyz)
    return Math.hypot(u - wu, v - wv)
  }
  const strengths = colours
    .filter(({ patch }) => /-p3-(red|green|blue)$/.test(patch.key))
    .map(({ patch, xyz }) => away(xyz) / away(wantedOf(patch)))
  return {
    peak: readings.findLast((r) => r.patch.key === PQ_PEAK.key)?.xyz[1],
    black: readings.findLast((r) => greyLevel(r.patch) === 0)?.xyz[1],
    white: mean(greys.map(({ xyz }) => deltaEItp(xyToXyz(targets.white, xyz[1]), xyz))),
    whitePoint: { xy, ...cctDuv(xy) },
    stops,
    shadows: stopsOf(greys[0]!),
    colour: colours.length
      ? mean(colours.map(({ patch, xyz }) => deltaEItp(wantedOf(patch), xyz)))
      : undefined,
    saturation: strengths.length ? mean(strengths) : undefined,
  }
}

/** Stops and saturation beyond which a mode makes a picture of its own instead of following PQ. */
const OWN_PICTURE = { stops: 0.6, saturation: 1.12 } as const

/** Whether a mode makes a picture of its own, as modes that simulate HDR do. */
export const simulatesHdr = ({ stops, saturation }: HdrModeVerdict): boolean =>
  Math.abs(stops) > OWN_PICTURE.stops && (saturation ?? 1) > OWN_PICTURE.saturation

/** What a picture mode does with HDR, in plain words, the most important first. In: verdict, targets of the case. */
export const sayHdrMode = (
  { whitePoint, stops, shadows, saturation }: HdrModeVerdict,
  targets: Targets,
): string => {
  const out: string[] = []
  const off = deltaUv(xyToXyz(whitePoint.xy, 1), xyToXyz(targets.white, 1))
  const { cct, duv } = whitePoint
  if (off < 0.004) out.push('White is near its target')
  else
    out.push(
      `White is ${off > 0.02 ? 'far too ' : off > 0.01 ? 'too ' : 'slightly '}${Math.abs(duv - 0.0032) > 0.008 ? (duv > 0.0032 ? 'green' : 'magenta') : cct > 6504 ? 'blue' : 'yellow'}`,
    )
  if (Math.abs(stops) > 0.1)
    out.push(`the picture is ${Math.abs(stops).toFixed(1)} stops too ${stops > 0 ? 'bright' : 'dark'}`)
  if (Math.abs(shadows - stops) > 0.25)
    out.push(shadows > stops ? 'shadows are lifted' : 'shadows are crushed')
  if ((saturation ?? 1) > 1.06) out.push('colours are oversaturated')
  else if ((saturation ?? 1) < 0.94) out.push('colours are undersaturated')
  return `${out.join(', ')}${out.length === 1 && off < 0.004 ? ' and nothing stands out' : ''}.`
}
