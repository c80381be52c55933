import { SDR_SIGNAL, type SignalFormat, type Transfer } from '#core/signal'
import { memoryColours } from './memory-colours'
import { greyIn, keyFor, type Patch, type SixColour, sixColour } from './patch'
import {
  FEW_MEMORY_COLOURS,
  MEMORY_COLOURS_BY_HAND,
  MIXTURES,
  MUTED,
  NEAR_BLACK_LEVELS,
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
export const patchesFor = (signal: SignalFormat | null): PatchSet => PATCHES[(signal ?? SDR_SIGNAL).transfer]
