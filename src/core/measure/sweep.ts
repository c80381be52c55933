import { grey, type Patch } from './patch'
import { GREY_LEVELS, PATCHES } from './patch-set'
import { PATCH_SECONDS, WINDOWS } from './tuning'

/** What a reviewer can have read: an ordered set of patches with a name and a purpose. */
export interface Sweep {
  readonly key: string
  readonly title: string
  /** What it tells, in one sentence. */
  readonly tells: string
  readonly patches: readonly Patch[]
}

const down = (from: number, to: number, step: number): Patch[] =>
  Array.from({ length: Math.round((from - to) / step) + 1 }, (_, i) =>
    grey(Math.round((from - i * step) * 10) / 10),
  )

/** A colour of less saturation in the signal: its closed channels opened, so that the brightest stays. */
const saturated = (patch: Patch, percent: number): Patch => ({
  key: `${patch.key}-${percent}`,
  label: `${patch.label} ${percent} %`,
  signal: patch.signal.map((s) => Math.round(1e4 * (s === 1 ? 1 : 1 - percent / 100)) / 1e4) as [
    number,
    number,
    number,
  ],
})

const windowOf = (percent: number): Patch => ({
  key: `window-${percent}`,
  label: `White in ${percent} %`,
  signal: [1, 1, 1],
  window: percent / 100,
})

const ROWS = ['Upper', 'Middle', 'Lower'] as const
const COLUMNS = ['left', 'centre', 'right'] as const
/** A grey over the whole screen, read in one of nine places. In: place, as shares of width and height. */
const placed = (x: number, y: number): Patch => {
  const [row, column] = [ROWS[Math.floor(3 * y)]!, COLUMNS[Math.floor(3 * x)]!]
  return {
    ...grey(75),
    key: `place-${row.toLowerCase()}-${column}`,
    label: `${row} ${column}`,
    window: 1,
    position: { x: Math.round(1000 * x) / 1000, y: Math.round(1000 * y) / 1000 },
  }
}
/** The same in one of a finer grid, counted from the upper left. */
const placedIn = (grid: number, row: number, column: number): Patch => {
  const share = (i: number) => Math.round((1000 * (2 * i + 1)) / (2 * grid)) / 1000
  return {
    ...grey(75),
    key: `place-${grid}-${row + 1}-${column + 1}`,
    label: `Row ${row + 1}, column ${column + 1}`,
    window: 1,
    position: { x: share(column), y: share(row) },
  }
}

/** A grey over the whole screen in a grid of places. In: three or five places a side. */
export const uniformityPatches = (grid: 3 | 5): readonly Patch[] =>
  grid === 3
    ? [1, 3, 5].flatMap((row) => [1, 3, 5].map((column) => placed(column / 6, row / 6)))
    : [0, 1, 2, 3, 4].flatMap((row) => [0, 1, 2, 3, 4].map((column) => placedIn(5, row, column)))

/** All sweeps, as data. */
const SWEEPS: readonly Sweep[] = [
  {
    key: 'grey-11',
    title: 'Grey, 11 levels',
    tells: 'Greyscale ΔE and gamma from white to black in steps of 10 %.',
    patches: GREY_LEVELS.map(grey),
  },
  {
    key: 'grey-10',
    title: 'Grey, 10 levels',
    tells: 'The same without black, for a quick check.',
    patches: GREY_LEVELS.filter((l) => l > 0).map(grey),
  },
  {
    key: 'grey-21',
    title: 'Grey, 21 levels',
    tells: 'Greyscale ΔE and gamma in steps of 5 %, for multi-point white balance.',
    patches: down(100, 0, 5),
  },
  {
    key: 'near-black',
    title: 'Near black',
    tells: 'Whether shadow detail near black is visible or clipped.',
    patches: down(5, 0, 0.5),
  },
  {
    key: 'near-white',
    title: 'Near white',
    tells: 'Whether highlights just below white are clipped.',
    patches: down(100, 90, 1),
  },
  {
    key: 'primaries',
    title: 'Primaries and secondaries',
    tells: 'Where the six colours lie, and how bright they are.',
    patches: [grey(100), ...PATCHES.sdr.six],
  },
  {
    key: 'saturation',
    title: 'Saturation steps',
    tells: 'Whether colours keep their hue and strength on the way from grey to full.',
    patches: [
      grey(100),
      ...PATCHES.sdr.six.flatMap((c) => [25, 50, 75, 100].map((percent) => saturated(c, percent))),
    ],
  },
  {
    key: 'natural',
    title: 'Memory colours',
    tells: 'Skin, foliage, sky and other things that people know the look of.',
    patches: [grey(100), ...PATCHES.sdr.memoryColours],
  },
  {
    key: 'windows',
    title: 'Windows',
    tells: 'How luminance falls with the lit share of the screen.',
    patches: WINDOWS.map(windowOf),
  },
  {
    key: 'checkerboard',
    title: 'Checkerboard',
    tells: 'Contrast with light and dark side by side.',
    patches: [
      {
        key: 'board-white',
        label: 'White field',
        signal: [1, 1, 1],
        surround: [0, 0, 0],
        layout: 'checkerboard',
      },
      {
        key: 'board-black',
        label: 'Black field',
        signal: [0, 0, 0],
        surround: [1, 1, 1],
        layout: 'checkerboard',
      },
      { key: 'halo', label: 'Black in white', signal: [0, 0, 0], surround: [1, 1, 1], window: 0.1 },
      grey(100),
      grey(0),
    ],
  },
  {
    key: 'uniformity',
    title: 'Uniformity, nine places',
    tells: 'How luminance and white differ over the screen: the meter reads the same grey in nine places.',
    patches: uniformityPatches(3),
  },
  {
    key: 'uniformity-25',
    title: 'Uniformity, twenty-five places',
    tells: 'The same in a finer grid: bands, corners and patches of dirt show.',
    patches: uniformityPatches(5),
  },
  {
    key: 'stability',
    title: 'Stability',
    tells: 'How luminance holds while white stands still.',
    patches: Array.from({ length: 12 }, (_, i) => ({
      key: `still-${i + 1}`,
      label: `Still ${i + 1}`,
      signal: [1, 1, 1] as [number, number, number],
    })),
  },
]

/** Sixty patches that say about all of a mode: greys, both ends, six colours and the natural ones. */
export const WHOLE_MODE: readonly Patch[] = [
  ...down(100, 0, 5),
  ...down(4.5, 0.5, 0.5),
  ...down(99, 96, 1),
  ...PATCHES.sdr.six,
  ...PATCHES.sdr.memoryColours,
  windowOf(25),
  windowOf(100),
].filter((p, i, all) => all.findIndex((q) => q.key === p.key) === i)

/** The sweep of a key, or undefined. */
export const sweepOf = (key: string): Sweep | undefined =>
  key === 'whole-mode'
    ? {
        key,
        title: 'Whole mode',
        tells: 'Greyscale, near black, near white, primaries, secondaries and memory colours in one go.',
        patches: WHOLE_MODE,
      }
    : SWEEPS.find((s) => s.key === key)

/** Every sweep that can be asked for. */
export const ALL_SWEEPS: readonly Sweep[] = [...SWEEPS, sweepOf('whole-mode')!]

/** Seconds that a reading took at a luminance. */
export interface Pace {
  readonly luminance: number
  readonly seconds: number
}

/** Used until a meter has shown its own pace: a second in the light, five in the dark. */
const usualSeconds = (luminance: number) => 1 + 4 / (1 + luminance / 0.3)

/**
 * Seconds that a sweep will take on this meter.
 * In: patches, luminance of white (cd/m²), how long readings took so far (none: a usual meter). Out: bench seconds.
 */
export const sweepSeconds = (patches: readonly Patch[], white: number, paces: readonly Pace[]): number =>
  patches.reduce((sum, { signal: [r, g, b], layout }) => {
    const share = layout === 'pixels' ? 0.5 : 1
    const luminance = white * share * (0.21 * r ** 2.3 + 0.72 * g ** 2.3 + 0.07 * b ** 2.3)
    const near = paces.filter((p) => Math.abs(Math.log((p.luminance + 0.01) / (luminance + 0.01))) < 1)
    const seconds = near.length
      ? near.reduce((s, p) => s + p.seconds, 0) / near.length
      : usualSeconds(luminance)
    return sum + seconds + PATCH_SECONDS
  }, 0)
