import {
  BT709_PRIMARIES,
  BT2020_PRIMARIES,
  deltaE2000,
  deltaEItp,
  type Primaries,
  type XYZ,
  xyzToLab,
} from '#core/colorimetry'
import {
  greyIn,
  JUDGED_LEVELS,
  type Patch,
  type PatchSet,
  PQ_JUDGED_LEVELS,
  PQ_PEAK,
  PQ_STILL,
  PQ_SURVEY_REFERENCE,
  pqBalanceSet,
  pqGrey,
  pqTargetOf,
  SDR_STILL,
} from '#core/measure'
import type { SignalFormat, Transfer } from '#core/signal'
import { ITP_STEPS, LEVEL_READINGS, NEAR_ENDS, RATE_GREYS, WORTH } from './tuning'

/**
 * The scale that a kind of signal is measured on: what its signals ask for, which patches stand for what, from when something counts. What steps do otherwise in HDR than in
 * SDR stands here, each by its reason; whatever asks for the transfer itself is the feed's or the display's affair.
 */
export interface MeasuringScale {
  readonly transfer: Transfer
  /** Signals ask for light in cd/m²; else for a share of the display's own white. */
  readonly absolute: boolean
  /** Primaries that its pictures are made for. ITU-R BT.709-6, table 1; BT.2100-2, table 2. */
  readonly primaries: Primaries
  /** How far a light is from the one that is wanted. In: absolute XYZ, both and white, cd/m². Out: ΔE00 for SDR (CIE 142), ΔE ITP for HDR (ITU-R BT.2124). */
  readonly difference: (reference: XYZ, sample: XYZ, white: XYZ) => number
  /** Its unit, and how much of it is as far as one ΔE00. */
  readonly unit: 'ΔE00' | 'ΔE ITP'
  readonly perDeltaE2000: number
  /** Light that a patch asks for, cd/m²; undefined where the display's own white decides. */
  readonly lightOf: (patch: Patch, signal: SignalFormat) => number | undefined

  // Patches, out of those of the case.
  /** White, or the brightest light of all. */
  readonly brightest: (patches: PatchSet) => Patch
  readonly middle: (patches: PatchSet) => Patch
  /** Steps near black and near the end that are told apart or not. */
  readonly firstSteps: (patches: PatchSet) => readonly Patch[]
  readonly lastSteps: (patches: PatchSet) => readonly Patch[]
  /** Greys that are compared at several rates. */
  readonly rateGreys: readonly Patch[]
  /** Primaries that a gamut is judged by, and its name. */
  readonly gamutPrimaries: (patches: PatchSet) => readonly Patch[]
  readonly gamut: string
  /** A picture that stands still for minutes. */
  readonly still: Patch
  /** The patches that a price is read on: the same before and after, whatever becomes known between. */
  readonly priced: (patches: PatchSet) => PatchSet

  /** Levels of the scale of greys that white is judged at, 0…1. */
  readonly judgedLevels: readonly number[]

  // What holds on it.
  /** What a survey read of a mode stands for that mode out of the box; in HDR luminance and tone mapping are set in between. */
  readonly surveyIsOutOfBox: boolean
  /** Single levels act where the menu says; in HDR that has to be tried first. */
  readonly levelsAsNamed: boolean
  /** A cut of green may be moved where green has to: in HDR the dark end in all channels is the black level's. */
  readonly greenCut: boolean
  /** Single levels within the scatter of reading are left as they are once they were moved. */
  readonly levelsSettle: boolean
  /** What was measured of choices may stand in for a measurement of another case; in HDR only what a click does. */
  readonly choicesTravel: boolean
  /** What keeps a picture from its full light is priced here. */
  readonly pricesSaving: boolean
  /** The signal check is looked at again once the case has begun. */
  readonly feedCheckedAgain: boolean

  // From when something counts, average ΔE00, of colours in its own unit; and readings of single levels that one round may take.
  readonly worthOfColour: number
  readonly worthOfLevels: (moved: boolean) => number
  readonly levelReadings: number

  // Words.
  /** Over what white is balanced. */
  readonly sayGreys: (patches: PatchSet) => string
  readonly sayGreenForced: string
  /** A level of the scale as tables name it. In: percent of it. */
  readonly sayLevel: (percent: number, patches: PatchSet) => string
}

const SDR: MeasuringScale = {
  transfer: 'sdr',
  absolute: false,
  primaries: BT709_PRIMARIES,
  difference: (reference, sample, white) => deltaE2000(xyzToLab(reference, white), xyzToLab(sample, white)),
  unit: 'ΔE00',
  perDeltaE2000: 1,
  lightOf: () => undefined,
  brightest: ({ white }) => white,
  middle: ({ grey }) => grey(50),
  firstSteps: ({ grey }) => NEAR_ENDS.first.percent.map(grey),
  lastSteps: ({ grey }) => NEAR_ENDS.last.percent.map(grey),
  rateGreys: RATE_GREYS.percent.map((percent) => greyIn(percent, 'sdr')),
  gamutPrimaries: ({ primaries }) => primaries,
  gamut: 'BT.709',
  still: SDR_STILL,
  priced: (patches) => patches,
  judgedLevels: JUDGED_LEVELS,
  surveyIsOutOfBox: true,
  levelsAsNamed: true,
  greenCut: true,
  levelsSettle: true,
  choicesTravel: true,
  pricesSaving: false,
  feedCheckedAgain: true,
  worthOfColour: 0,
  worthOfLevels: (moved) => (moved ? WORTH.levelsAgain : WORTH.levels),
  levelReadings: LEVEL_READINGS.sdr,
  sayGreys: () => 'over 10 to 100 %',
  sayGreenForced: 'green adjusted as well, since red and blue alone could not do it',
  sayLevel: (percent) => `${percent} %`,
}

const PQ: MeasuringScale = {
  transfer: 'pq',
  absolute: true,
  primaries: BT2020_PRIMARIES,
  difference: deltaEItp,
  unit: 'ΔE ITP',
  perDeltaE2000: ITP_STEPS,
  lightOf: pqTargetOf,
  brightest: () => PQ_PEAK,
  middle: () => pqGrey(20),
  firstSteps: () => NEAR_ENDS.first.luminance.map(pqGrey),
  lastSteps: () => NEAR_ENDS.last.luminance.map(pqGrey),
  rateGreys: RATE_GREYS.luminance.map(pqGrey),
  gamutPrimaries: ({ six }) => six.slice(0, 3),
  gamut: 'P3 inside BT.2020',
  still: PQ_STILL,
  priced: () => pqBalanceSet(PQ_SURVEY_REFERENCE),
  judgedLevels: PQ_JUDGED_LEVELS,
  surveyIsOutOfBox: false,
  levelsAsNamed: false,
  greenCut: false,
  levelsSettle: false,
  choicesTravel: false,
  pricesSaving: true,
  feedCheckedAgain: false,
  worthOfColour: WORTH.colourInHdr,
  worthOfLevels: () => WORTH.levels,
  levelReadings: LEVEL_READINGS.pq,
  sayGreys: ({ white }) => `with luminance up to ${white.label}`,
  sayGreenForced: 'green adjusted as well, since PQ asks for a luminance',
  sayLevel: (percent, { grey }) => grey(percent).label,
}

/** HLG asks for a share of the display's own peak (ITU-R BT.2100, system gamma). */
const HLG: MeasuringScale = {
  ...PQ,
  transfer: 'hlg',
  absolute: false,
  lightOf: () => undefined,
  priced: (patches) => patches,
}

const SCALES: Readonly<Record<Transfer, MeasuringScale>> = { sdr: SDR, pq: PQ, hlg: HLG }

/** The scale of a signal. */
export const scaleOf = ({ transfer }: Pick<SignalFormat, 'transfer'>): MeasuringScale => SCALES[transfer]
