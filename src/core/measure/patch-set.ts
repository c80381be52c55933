import {
  BT2020_PRIMARIES,
  D65,
  invert,
  multiply,
  P3_PRIMARIES,
  pqInverseEotf,
  product,
  rgbToXyzMatrix,
  xyToXyz,
} from '#core/colorimetry'
import { SDR_SIGNAL, type SignalFormat, type Transfer } from '#core/signal'
import { memoryColours } from './memory-colours'
import { greyIn, keyFor, type Patch, type SixColour, sixColour } from './patch'
import {
  FEW_MEMORY_COLOURS,
  MEMORY_COLOURS_BY_HAND,
  MIXTURES,
  MUTED,
  NEAR_BLACK_LEVELS,
  PQ_DARK_LEVEL,
  PQ_SURVEY_LEVELS,
  REFERENCE_WHITE,
  STANDS_STILL,
  SURVEY_LEVELS,
} from './tuning'

/** Grey levels of a sweep in percent, from white down, so that the dark ones come when the room has settled. */
export const GREY_LEVELS = [100, 90, 80, 70, 60, 50, 40, 30, 20, 10, 0] as const

/** Levels over which greyscale ΔE is averaged: 10 to 100 %, as 0…1, rising. */
export const JUDGED_LEVELS: readonly number[] = GREY_LEVELS.filter((p) => p > 0)
  .map((p) => p / 100)
  .reverse()

/** The six colours, in the order in which a set holds them. */
export const SIX_NAMES: readonly SixColour[] = ['red', 'green', 'blue', 'cyan', 'magenta', 'yellow']
const MUTED_KEY = 'muted-'

/** The patches of a kind of signal. */
export interface PatchSet {
  readonly grey: (percent: number) => Patch
  readonly white: Patch
  readonly black: Patch
  /** Red, green and blue at full signal. */
  readonly primaries: readonly [Patch, Patch, Patch]
  /** The six colours of colour management, at full signal. */
  readonly six: readonly Patch[]
  /**
   * The six colours at three quarters of the signal and half opened: inside every gamut, so that colour management can be seen to move
   * them both ways.
   */
  readonly muted: readonly Patch[]
  readonly memoryColours: readonly Patch[]
  /** Shades near black, read with a verification. */
  readonly nearBlack: readonly Patch[]
  /** Eleven grey levels and the three primaries: what a state is judged by. */
  readonly greyAndPrimaries: readonly Patch[]
  /** All that a case is judged by, before and after: greys, six colours, memory colours. */
  readonly wholeCase: readonly Patch[]
  /** The same where a person reads the meter: with a few memory colours that stand for the others. */
  readonly caseByHand: readonly Patch[]
  /** Memory colours that tell what colour management does to what is mixed of two of the six. */
  readonly mixtures: readonly Patch[]
  /**
   * The short sweep that says what a picture mode is like: greys with a step near each end, the primaries, and two colours that people
   * know the look of. What it shares with the whole case is not read twice.
   */
  readonly survey: readonly Patch[]
}

const setOf = (transfer: Transfer): PatchSet => {
  const greyOf = (percent: number) => greyIn(percent, transfer)
  const [red, green, blue] = [
    sixColour('red', transfer),
    sixColour('green', transfer),
    sixColour('blue', transfer),
  ]
  const six = SIX_NAMES.map((name) => sixColour(name, transfer))
  const natural = memoryColours(transfer)
  const among = (names: readonly string[]) => {
    const keys = names.map((name) => keyFor(transfer, `natural-${name}`))
    return natural.filter((p) => keys.includes(p.key))
  }
  const greys = GREY_LEVELS.map(greyOf)
  return {
    grey: greyOf,
    white: greyOf(100),
    black: greyOf(0),
    primaries: [red, green, blue],
    six,
    muted: SIX_NAMES.map((name, i) => ({
      key: keyFor(transfer, `${MUTED_KEY}${name}`),
      label: `Muted ${name}`,
      signal: six[i]!.signal.map((s) => (s === 1 ? MUTED.open : MUTED.closed)) as [number, number, number],
    })),
    memoryColours: natural,
    nearBlack: NEAR_BLACK_LEVELS.map(greyOf),
    greyAndPrimaries: [...greys, red, green, blue],
    wholeCase: [...greys, ...six, ...natural],
    caseByHand: [...greys, ...six, ...among(MEMORY_COLOURS_BY_HAND)],
    mixtures: among(MIXTURES),
    survey: [...SURVEY_LEVELS.map(greyOf), red, green, blue, ...among(FEW_MEMORY_COLOURS)],
  }
}

/** Luminance up to which a survey balances white in PQ, cd/m², and every case whose modes were not surveyed. */
export const PQ_SURVEY_REFERENCE = 100
/** Exponent of the scale over which white is balanced; that of its target (`core/target`). */
const SCALE_EXPONENT = 2.2

/** Light of P3 in channels of BT.2020, both about D65. */
export const P3_IN_BT2020 = product(
  invert(rgbToXyzMatrix(BT2020_PRIMARIES, xyToXyz(D65, 1))!)!,
  rgbToXyzMatrix(P3_PRIMARIES, xyToXyz(D65, 1))!,
)
/** PQ signal of a luminance, 0…1, to four digits; of less than nothing that of nothing. In: cd/m². */
export const pqSignal = (luminance: number): number =>
  Math.round(1e4 * pqInverseEotf(Math.max(0, luminance))) / 1e4
const sayLuminance = (luminance: number): string =>
  `${luminance >= 100 ? luminance.toFixed(0) : luminance >= 10 ? luminance.toFixed(1) : luminance.toPrecision(2)} cd/m²`

/** Places of the scale of PQ that are read of a case, %, and those that white is judged at, 0…1. */
const PQ_BALANCE_LEVELS = [...GREY_LEVELS.filter((l) => l > 0), PQ_DARK_LEVEL, 0]
export const PQ_JUDGED_LEVELS: readonly number[] = PQ_BALANCE_LEVELS.flatMap((l) => (l > 0 ? [l / 100] : []))

/** The brightest that a display shows in a small window, read in its first moments: signal at its end. */
export const PQ_PEAK: Patch = {
  key: 'pq-peak',
  label: 'Peak, 10 % window',
  signal: [1, 1, 1],
  level: null,
  timing: { dark: 3, stands: 1 },
}

/** Reference white that stands still for some minutes: what panel care takes of it shows by then. */
export const PQ_STILL: Patch = {
  key: 'pq-stands-still',
  label: `${REFERENCE_WHITE} cd/m² after ${STANDS_STILL / 60} minutes`,
  signal: [pqSignal(REFERENCE_WHITE), pqSignal(REFERENCE_WHITE), pqSignal(REFERENCE_WHITE)],
  level: null,
  timing: { dark: 0, stands: STANDS_STILL },
}

/** The same of SDR: full white. */
export const SDR_STILL: Patch = {
  key: 'stands-still',
  label: `White after ${STANDS_STILL / 60} minutes`,
  signal: [1, 1, 1],
  level: null,
  timing: { dark: 0, stands: STANDS_STILL },
}

/**
 * The patches of PQ over a scale of greys. In: luminance of the highest place of the scale, cd/m². Out: set; its greys carry their place as
 * `level`, its colours are written in BT.2020.
 */
export const pqBalanceSet = (reference: number): PatchSet => {
  const keyed = (key: string) => `pq-${reference}-${key}`
  const lightOf = (level: number) => reference * level ** SCALE_EXPONENT
  const greyOf = (percent: number): Patch => {
    const luminance = lightOf(percent / 100)
    const s = pqSignal(luminance)
    return {
      key: keyed(`grey-${String(percent).replace('.', '-')}`),
      label: percent === 0 ? 'Black' : sayLuminance(luminance),
      signal: [s, s, s],
      level: Math.round(1e4 * percent) / 1e6,
    }
  }
  /** A colour of P3, written in BT.2020. */
  const coloured = (name: SixColour, key: string, label: string, open: number, closed: number): Patch => {
    const [r, g, b] = sixColour(name).signal.map((s) => lightOf(s === 1 ? open : closed)) as [
      number,
      number,
      number,
    ]
    return {
      key: keyed(key),
      label,
      signal: multiply(P3_IN_BT2020, [r, g, b]).map((l) => pqSignal(l)) as [number, number, number],
    }
  }
  const label = (name: string) => `${name[0]!.toUpperCase()}${name.slice(1)}`
  const six = SIX_NAMES.map((name) => coloured(name, `p3-${name}`, `P3 ${name}`, 1, 0))
  /** The panel's own channels, as far as each goes: BT.2020 is wider than any. */
  const channel = (name: SixColour): Patch => ({
    key: keyed(name),
    label: label(name),
    signal: sixColour(name).signal.map((s) => pqSignal(lightOf(s))) as [number, number, number],
  })
  const natural = PATCHES.pq.memoryColours
  const among = (names: readonly string[]) =>
    natural.filter((p) => names.some((name) => p.key === `pq-natural-${name}`))
  const [red, green, blue] = [channel('red'), channel('green'), channel('blue')]
  const greys = PQ_BALANCE_LEVELS.map(greyOf)
  const own = {
    grey: greyOf,
    white: greyOf(100),
    black: greyOf(0),
    primaries: [red, green, blue] as const,
    six,
    muted: SIX_NAMES.map((name) =>
      coloured(name, `muted-${name}`, `Muted ${name}`, MUTED.open, MUTED.closed),
    ),
    memoryColours: natural,
    nearBlack: [],
    greyAndPrimaries: [...greys, red, green, blue],
    wholeCase: [...greys, red, green, blue, ...six, ...among(MEMORY_COLOURS_BY_HAND)],
    caseByHand: [...greys, red, green, blue, ...six, ...among(MEMORY_COLOURS_BY_HAND)],
    mixtures: among(MIXTURES),
  }
  // Modes are compared over one scale, whatever the one that is chosen reaches.
  const surveyed = reference === PQ_SURVEY_REFERENCE ? own : pqBalanceSet(PQ_SURVEY_REFERENCE)
  return {
    ...own,
    survey: [
      PQ_PEAK,
      ...PQ_SURVEY_LEVELS.map(surveyed.grey),
      // Of P3: how far the panel itself reaches is read of the mode that is chosen.
      ...surveyed.six.slice(0, 3),
      ...among(FEW_MEMORY_COLOURS.slice(0, 1)),
    ],
  }
}

/** Whether a patch is a muted colour, or that of one of the six colours. */
export const isMuted = ({ key }: Patch, colour?: string): boolean =>
  colour === undefined ? key.includes(MUTED_KEY) : key.endsWith(`${MUTED_KEY}${colour}`)

/** The patches of each kind of signal. */
export const PATCHES: Readonly<Record<Transfer, PatchSet>> = {
  sdr: setOf('sdr'),
  pq: setOf('pq'),
  hlg: setOf('hlg'),
}

/** The patches of a signal; null: of the usual SDR one. */
export const patchesFor = (signal: SignalFormat | null): PatchSet =>
  signal?.transfer === 'pq' ? PQ_SURVEY_SET : PATCHES[(signal ?? SDR_SIGNAL).transfer]
/** The patches of PQ before anything is known of a display. */
const PQ_SURVEY_SET = pqBalanceSet(PQ_SURVEY_REFERENCE)
