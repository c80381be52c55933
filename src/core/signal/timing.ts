/** A picture with its blanking, as it goes over a link. */
export interface VideoTiming {
  readonly width: number
  readonly height: number
  /** Pixels a line, blanking included. */
  readonly horizontalTotal: number
  /** Lines a picture, blanking included. */
  readonly verticalTotal: number
  /** Pictures a second. */
  readonly rate: number
  /** Pixels a second, blanking included. */
  readonly pixelClock: number
  /** Where the totals come from. */
  readonly from: 'CTA-861' | 'CVT reduced blanking'
}

/** For each rate pixels a line and lines a picture, blanking included. */
type Totals = Readonly<Record<number, readonly [number, number]>>

/** 2160 lines: 3,840 and 4,096 pixels have the same totals. */
const UHD: Totals = {
  24: [5500, 2250],
  25: [5280, 2250],
  30: [4400, 2250],
  48: [5500, 2250],
  50: [5280, 2250],
  60: [4400, 2250],
  100: [5280, 2250],
  120: [4400, 2250],
}

/** Totals of CTA-861-I, table 1 (progressive formats): size, and for each rate pixels a line and lines a picture. */
const PUBLISHED: Readonly<Record<string, Totals>> = {
  '720x480': { 60: [858, 525] },
  '720x576': { 50: [864, 625] },
  '1280x720': {
    24: [3300, 750],
    25: [3960, 750],
    30: [3300, 750],
    48: [2500, 750],
    50: [1980, 750],
    60: [1650, 750],
    100: [1980, 750],
    120: [1650, 750],
  },
  '1920x1080': {
    24: [2750, 1125],
    25: [2640, 1125],
    30: [2200, 1125],
    48: [2750, 1125],
    50: [2640, 1125],
    60: [2200, 1125],
    100: [2640, 1125],
    120: [2200, 1125],
  },
  '2560x1080': {
    24: [3750, 1100],
    25: [3200, 1125],
    30: [3520, 1125],
    48: [3750, 1100],
    50: [3300, 1125],
    60: [3000, 1100],
    100: [2970, 1250],
    120: [3300, 1250],
  },
  '3840x2160': UHD,
  '4096x2160': UHD,
  '5120x2160': {
    24: [7500, 2200],
    25: [7200, 2200],
    30: [6000, 2200],
    48: [6250, 2475],
    50: [6600, 2250],
    60: [5500, 2250],
    100: [6600, 2250],
    120: [5500, 2250],
  },
  '7680x4320': {
    24: [11000, 4500],
    25: [10800, 4400],
    30: [9000, 4400],
    48: [11000, 4500],
    50: [10800, 4400],
    60: [9000, 4400],
    100: [10560, 4500],
    120: [8800, 4500],
  },
}

/** Film and broadcast send 1000/1001 of these rates as well, with the same totals (CTA-861-I, 4.1). */
const FRACTIONAL = 1000 / 1001
const nominalRate = (rate: number): number => {
  const whole = Math.round(rate)
  return Math.abs(rate - whole * FRACTIONAL) < 0.006 ? whole : rate
}

/** VESA CVT 1.2, reduced blanking version 2: pixels of blanking, shortest vertical blanking in seconds, lines of front porch, sync and back porch. */
const BLANK_PIXELS = 80
const SHORTEST_VERTICAL_BLANK = 460e-6
const LEAST_BLANK_LINES = 1 + 8 + 6
/** The clock is a whole number of these, Hz. */
const CLOCK_STEP = 1000

const reducedBlanking = (width: number, height: number, rate: number): VideoTiming => {
  const line = (1 / rate - SHORTEST_VERTICAL_BLANK) / height
  const blankLines = Math.max(LEAST_BLANK_LINES, Math.floor(SHORTEST_VERTICAL_BLANK / line) + 1)
  const horizontalTotal = width + BLANK_PIXELS
  const verticalTotal = height + blankLines
  const pixelClock = Math.floor((rate * horizontalTotal * verticalTotal) / CLOCK_STEP) * CLOCK_STEP
  return { width, height, horizontalTotal, verticalTotal, rate, pixelClock, from: 'CVT reduced blanking' }
}

/**
 * Timing of a picture on a link: the published totals where CTA-861 has the format, otherwise reduced blanking as computers send it.
 * In: pixels, pictures a second (59.94 counts as 60 · 1000/1001). Errors: throws below one picture a second and above 1000, and where no time is
 * left for a picture.
 */
export const timingOf = (width: number, height: number, rate: number): VideoTiming => {
  if (!(rate >= 1 && rate <= 1000)) throw new RangeError(`No timing for ${rate} pictures a second`)
  const totals = PUBLISHED[`${width}x${height}`]?.[nominalRate(rate)]
  if (!totals) return reducedBlanking(width, height, rate)
  const [horizontalTotal, verticalTotal] = totals
  return {
    width,
    height,
    horizontalTotal,
    verticalTotal,
    rate,
    pixelClock: horizontalTotal * verticalTotal * rate,
    from: 'CTA-861',
  }
}
