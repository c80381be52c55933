import { xyToUv } from './chromaticity'
import type { Primaries } from './types'

type Point = readonly [number, number]

/** Twice the signed area of a polygon; positive where its corners run counter-clockwise. */
const doubleArea = (corners: readonly Point[]): number =>
  corners.reduce((sum, [x, y], i) => {
    const [nx, ny] = corners[(i + 1) % corners.length]!
    return sum + x * ny - nx * y
  }, 0)

/** The part of a polygon on the left of the line from a to b. Sutherland and Hodgman, CACM 17(1), 1974. */
const clip = (corners: readonly Point[], a: Point, b: Point): Point[] => {
  const side = ([x, y]: Point) => (b[0] - a[0]) * (y - a[1]) - (b[1] - a[1]) * (x - a[0])
  return corners.flatMap((corner, i): Point[] => {
    const next = corners[(i + 1) % corners.length]!
    const here = side(corner)
    const there = side(next)
    const kept: Point[] = here >= 0 ? [corner] : []
    if (here * there < 0) {
      const share = here / (here - there)
      kept.push([corner[0] + share * (next[0] - corner[0]), corner[1] + share * (next[1] - corner[1])])
    }
    return kept
  })
}

/**
 * Share of a target gamut that a display's primaries cover.
 * In: x, y of the display's and of the target's three primaries, in any order; the diagram in which areas are compared: `xy`
 * or `uv` (CIE 1976 u′v′). Out: 0 to 1; colours beyond the target count for nothing. A target without area gives NaN.
 * Information Display Measurements Standard 1.03, 5.18.
 */
export const gamutCoverage = (primaries: Primaries, target: Primaries, diagram: 'xy' | 'uv'): number => {
  const place = (three: Primaries): Point[] => {
    const corners = three.map((xy): Point => (diagram === 'uv' ? xyToUv(xy) : xy))
    return doubleArea(corners) < 0 ? corners.reverse() : corners
  }
  const wanted = place(target)
  const common = wanted.reduce<Point[]>(
    (rest, corner, i) => clip(rest, corner, wanted[(i + 1) % wanted.length]!),
    place(primaries),
  )
  return common.length < 3
    ? doubleArea(wanted) > 0
      ? 0
      : Number.NaN
    : doubleArea(common) / doubleArea(wanted)
}
