import { pqEotf, pqInverseEotf } from '#core/colorimetry'

/** A display or a mastering display: where its light ends, cd/m². */
export interface Extent {
  readonly peak: number
  readonly black: number
}

/**
 * Luminance that a display shows by the reference tone mapping of BT.2390: exact up to its knee, then a Hermite spline in PQ that meets the
 * display's peak where the mastering display's ends.
 *
 * In: luminance in the signal, cd/m²; extent of the mastering display and of the display, cd/m². Out: cd/m², never above the display's
 * peak. Where the display reaches as far as the mastering display, the luminance itself.
 * Source: ITU-R BT.2390-11, 5.4.1.
 */
export const bt2390 = (luminance: number, mastering: Extent, display: Extent): number => {
  const low = pqInverseEotf(mastering.black)
  const span = pqInverseEotf(mastering.peak) - low
  const place = (cd: number) => (pqInverseEotf(cd) - low) / span
  const e1 = Math.min(1, Math.max(0, place(luminance)))
  const top = Math.min(1, place(display.peak))
  const bottom = Math.max(0, place(display.black))
  const start = 1.5 * top - 0.5
  const e2 = top >= 1 || e1 < start ? e1 : spline(e1, start, top)
  const e3 = e2 + bottom * (1 - e2) ** 4
  return pqEotf(e3 * span + low)
}

/** Luminance at which BT.2390 leaves the signal, cd/m². In: as above. */
export const bt2390Knee = (mastering: Extent, display: Extent): number => {
  const low = pqInverseEotf(mastering.black)
  const span = pqInverseEotf(mastering.peak) - low
  const top = Math.min(1, (pqInverseEotf(display.peak) - low) / span)
  return top >= 1 ? mastering.peak : pqEotf(Math.max(0, 1.5 * top - 0.5) * span + low)
}

/** The Hermite spline from the knee to the display's peak. ITU-R BT.2390-11, 5.4.1, step 3. */
const spline = (e: number, start: number, top: number): number => {
  const t = (e - start) / (1 - start)
  const [t2, t3] = [t * t, t * t * t]
  return (2 * t3 - 3 * t2 + 1) * start + (t3 - 2 * t2 + t) * (1 - start) + (-2 * t3 + 3 * t2) * top
}
