import { type Chromaticity, deltaUv, pqInverseEotf, type XYZ, xyToXyz, xyzToLab } from '#core/colorimetry'
import { greyLevel, type MeterPrecision, type Patch } from '#core/measure'
import { type Targets, targetOn } from '#core/target'
import { type ColourError, colourError } from './colour-error'
import { type GreyVerdict, judgeGreyScale } from './grey-scale'
import { JUST_SEEN } from './tuning'

/** Whether two luminances, seen side by side in a dark surround, can be told apart. In: cd/m², both. */
export const toldApart = (a: number, b: number): boolean =>
  Math.abs(pqInverseEotf(Math.max(0, a)) - pqInverseEotf(Math.max(0, b))) > JUST_SEEN

/** What one picture mode is like. */
export interface ModeVerdict {
  readonly grey: GreyVerdict
  /** Errors of the six colours and the natural ones against the target, the mode's own white taken as white. */
  readonly colours: ReadonlyArray<ColourError & { readonly patch: string }>
  /** Mean strength of the primaries against the target: 1 is right, more is oversaturated. */
  readonly saturation: number | undefined
  /** The step near black cannot be told from black; the step near white not from white. */
  readonly crushed: boolean
  readonly clipped: boolean
  /** How far the tone curve bends from a single exponent: standard deviation of the exponents over 10 to 90 %. */
  readonly bend: number
}

/** Chroma of a light against a white, CIE L*a*b*. */
const chroma = (xyz: XYZ, white: XYZ): number => {
  const [, a, b] = xyzToLab(xyz, white)
  return Math.hypot(a, b)
}

/**
 * Judges a picture mode from its short sweep.
 * In: readings of one mode (absolute XYZ, cd/m²), targets of the case, scatter of the meter. Out: verdict, or undefined
 * without a reading of 100 %.
 */
export const judgeMode = (
  readings: ReadonlyArray<{ readonly patch: Patch; readonly xyz: XYZ; readonly id: number }>,
  targets: Targets,
  precision: MeterPrecision,
): ModeVerdict | undefined => {
  const greys = readings.flatMap((r) => {
    const level = greyLevel(r.patch)
    return level === undefined ? [] : [{ level, xyz: r.xyz, id: r.id }]
  })
  const grey = judgeGreyScale(greys, targets, precision)
  if (!grey) return undefined
  const at = (level: number) => greys.find((g) => Math.abs(g.level - level) < 1e-6)?.xyz
  const white = at(1)!
  // White has its own verdict: colours are seen against the mode's own.
  const point: Chromaticity = grey.white.xy
  // The mode's own tone, so that one fault is not counted twice.
  const target = targetOn(
    // PQ has no exponent of its own: its light is absolute.
    { white: point, tone: targets.tone === 'pq-balance' ? targets.tone : (grey.gamma ?? targets.tone) },
    { white: grey.white.luminance, black: grey.black ?? 0 },
  )
  const own = readings.filter((r) => greyLevel(r.patch) === undefined)
  const colours = own.map((r) => ({
    patch: r.patch.key,
    ...colourError(r.xyz, target.xyzOf(r.patch.signal), target),
  }))
  const primaries = own.filter((r) => ['red', 'green', 'blue'].includes(r.patch.key))
  const strengths = primaries.map((r) => {
    const wanted = target.xyzOf(r.patch.signal)
    return chroma(r.xyz, white) / chroma(wanted, xyToXyz(point, target.white))
  })
  const near = (level: number, end: XYZ | undefined): boolean => {
    const step = at(level)
    return step !== undefined && end !== undefined && !toldApart(step[1], end[1])
  }
  const exponents = grey.levels.flatMap((l) => (l.gamma && l.level > 0.09 && l.level < 0.91 ? [l.gamma] : []))
  const mean = exponents.reduce((a, b) => a + b, 0) / Math.max(1, exponents.length)
  return {
    grey,
    colours,
    saturation: strengths.length ? strengths.reduce((a, b) => a + b, 0) / strengths.length : undefined,
    crushed: near(0.03, at(0)),
    clipped: near(0.97, white),
    bend: Math.sqrt(exponents.reduce((sum, g) => sum + (g - mean) ** 2, 0) / Math.max(1, exponents.length)),
  }
}

const COLOUR_WORD: Readonly<Record<string, string>> = {
  red: 'red',
  green: 'green',
  blue: 'blue',
  cyan: 'cyan',
  magenta: 'magenta',
  yellow: 'yellow',
}

/** What a picture mode is like, in plain words, the most important first. In: verdict, targets of the case. */
export const sayMode = (verdict: ModeVerdict, targets: Targets): string[] => {
  const { grey, colours, saturation, crushed, clipped, bend } = verdict
  const out: string[] = []
  const { cct, duv } = grey.white
  const white = deltaUv(xyToXyz(grey.white.xy, 1), xyToXyz(targets.white, 1))
  if (white < 0.004) out.push('White is near its target')
  else {
    const much = white > 0.02 ? 'far too ' : white > 0.01 ? 'too ' : 'slightly '
    const tint =
      Math.abs(duv - 0.0032) > 0.008 ? (duv > 0.0032 ? 'green' : 'magenta') : cct > 6504 ? 'blue' : 'yellow'
    out.push(`White is ${much}${tint}`)
  }
  if (grey.gamma !== undefined && grey.wantedGamma !== undefined) {
    const off = grey.gamma - grey.wantedGamma
    if (Math.abs(off) > 0.12) out.push(off > 0 ? 'mid-tones are dark' : 'mid-tones are light')
  }
  if (bend > 0.09) out.push('gamma is uneven')
  if (saturation !== undefined && saturation > 1.08) {
    const worst = [...colours]
      .filter((c) => c.patch in COLOUR_WORD)
      .sort((a, b) => b.chromaticity - a.chromaticity)[0]
    out.push(`colours are oversaturated${worst ? `, ${COLOUR_WORD[worst.patch]} most` : ''}`)
  } else if (saturation !== undefined && saturation < 0.93) out.push('colours are undersaturated')
  if (crushed) out.push('shadow detail is crushed')
  if (clipped) out.push('highlights are clipped')
  if (out.length === 1 && white < 0.004) out.push('and nothing stands out')
  const text = out.join(', ').replace(', and nothing', ' and nothing')
  return [`${text}.`]
}
