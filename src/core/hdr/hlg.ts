import { type Chromaticity, deltaEItp, hlgEotf, hlgSystemGamma, type XYZ, xyToXyz } from '#core/colorimetry'

/** A grey of an HLG signal that was read. */
export interface HlgGrey {
  /** Signal 0…1. */
  readonly signal: number
  /** Absolute XYZ, cd/m². */
  readonly xyz: XYZ
  readonly id: number
}

/** How a display follows HLG. */
export interface HlgVerdict {
  /** Luminance of full signal, cd/m², for which the target is made. */
  readonly white: number
  /** System gamma that BT.2100 asks for at that white, and the one that was measured. */
  readonly systemGamma: number
  readonly measuredGamma: number
  /** ΔE ITP, luminance included. */
  readonly average: number
  readonly worst: number
  readonly rows: ReadonlyArray<{
    readonly signal: number
    readonly target: number
    readonly luminance: number
    readonly deltaE: number
    readonly id: number
  }>
}

/** Greys that the measured gamma is told from, as signals: neither black nor where a display maps tones. */
const TOLD_BY = { from: 0.15, to: 0.9 } as const

/**
 * How greys follow HLG with the system gamma of the display's own white. In: greys in any order, black in cd/m², white point. Out: verdict;
 * undefined without full signal or with fewer than four greys. ITU-R BT.2100-2, table 5 and notes 5f, 5g; BT.2124-0, annex 1.
 */
export const judgeHlg = (
  greys: readonly HlgGrey[],
  black: number,
  whitePoint: Chromaticity,
): HlgVerdict | undefined => {
  const sorted = [...greys].filter((g) => g.signal > 0).sort((a, b) => a.signal - b.signal)
  const top = sorted.at(-1)
  if (!top || top.signal < 1 || sorted.length < 4 || top.xyz[1] <= 0) return undefined
  const white = top.xyz[1]
  const display = { white, black: Math.max(0, black) }
  const rows = sorted.map(({ signal, xyz, id }) => {
    const target = hlgEotf([signal, signal, signal], display)[1]
    return { signal, target, luminance: xyz[1], deltaE: deltaEItp(xyToXyz(whitePoint, target), xyz), id }
  })
  const systemGamma = hlgSystemGamma(white)
  // Light is scene light to the power of gamma: the slope of one over the other, on logarithms, against that of the target.
  const told = rows.filter((r) => r.signal >= TOLD_BY.from && r.signal <= TOLD_BY.to && r.luminance > black)
  const scene = (r: (typeof rows)[number]) => Math.log(Math.max(1e-9, r.target) / white) / systemGamma
  const light = (r: (typeof rows)[number]) => Math.log((r.luminance - black) / white)
  const xx = told.reduce((sum, r) => sum + scene(r) ** 2, 0)
  const measuredGamma = xx > 0 ? told.reduce((sum, r) => sum + scene(r) * light(r), 0) / xx : systemGamma
  const errors = rows.map((r) => r.deltaE)
  return {
    white,
    systemGamma,
    measuredGamma,
    average: errors.reduce((a, b) => a + b, 0) / errors.length,
    worst: Math.max(...errors),
    rows,
  }
}
