/** The screen that a projector lights. */
export interface Screen {
  /** Inch. */
  readonly diagonal: number
  /** Width against height. */
  readonly aspect: number
  /** Light that it gives back towards the viewer against a perfect diffuser, 1 for matt white. */
  readonly gain: number
}

const METRES_PER_INCH = 0.0254

/** Width, height and area of a screen. Out: m, m, m². */
export const sizeOf = ({
  diagonal,
  aspect,
}: Pick<Screen, 'diagonal' | 'aspect'>): { width: number; height: number; area: number } => {
  const height = (diagonal * METRES_PER_INCH) / Math.hypot(1, aspect)
  return { width: aspect * height, height, area: aspect * height * height }
}

/**
 * Luminance of white that a projector's light gives on a screen. In: luminous flux, lm, as it leaves the lens; screen that the picture fills. Out: cd/m².
 * A perfect diffuser that is lit by E lx has the luminance E/π (CIE S 017, luminance of a Lambertian surface); gain multiplies it towards the viewer.
 */
export const luminanceOn = (lumens: number, screen: Screen): number =>
  (screen.gain * lumens) / (Math.PI * sizeOf(screen).area)

/** Luminous flux that a luminance on a screen needs. In: cd/m². Out: lm. */
export const lumensFor = (luminance: number, screen: Screen): number =>
  (luminance * Math.PI * sizeOf(screen).area) / screen.gain

/** How far the lens stands from a screen. In: throw ratio, distance against the width of the picture. Out: m. */
export const throwDistance = (ratio: number, screen: Pick<Screen, 'diagonal' | 'aspect'>): number =>
  ratio * sizeOf(screen).width
