import {
  type Change,
  type Control,
  type ControlSheet,
  controlByRole,
  type Role,
  STRENGTHS,
  type State,
} from '#core/display'
import type { Patch, PatchSet, Purpose } from '#core/measure'
import {
  type AtRest,
  type ChannelMatrix,
  type ControlsByRole,
  channelMatrixOf,
  controlsByRole,
  curvePrior,
  differenceIn,
  type FaultKind,
  type GreyModel,
  type LuminanceCurve,
  luminanceCurve,
  luminancePoints,
  placesOf,
} from '#core/model'
import { type MeasuringScale, scaleOf } from '#core/scale'
import {
  changesBefore,
  differsIn,
  gatherSweep,
  isMovable,
  type RouteFacts,
  type RouteReading,
  type SweepReadings,
  xyzOf,
} from './facts'
import type { Findings } from './findings'
import { greyModelOf } from './grey-of-readings'
import { sheetInHdr } from './hdr-levels'
import { patchesOf } from './hdr-reference'

/** Everything that steps look at, reckoned once for each plan. */
export interface RouteContext {
  readonly facts: RouteFacts
  /** What it means to measure with the signal that is measured with. */
  readonly scale: MeasuringScale
  /** The patches of the signal that is measured with. */
  readonly patches: PatchSet
  readonly byRole: ControlsByRole
  /** The same as the sheet has them: in HDR single levels with their own figures, also before it is known where they act. */
  readonly allByRole: ControlsByRole
  /** Controls that have to be set before anything is measured in the base mode. */
  readonly pending: readonly Change[]
  /** The base mode out of the box, with what is missing of it. */
  readonly outOfBox: SweepReadings | undefined
  /** All patches of a case, those aside that were left out. */
  readonly wholeCase: readonly Patch[]
  /** Whether the base mode was read out of the box. */
  readonly begun: boolean
  /** What the channels are made of; undefined where the three primaries cannot be told apart. */
  readonly channelMatrix: ChannelMatrix | undefined
  /** The readings that it was made of. */
  readonly matrixIds: readonly number[]
  readonly light: { readonly curve: LuminanceCurve; readonly readingIds: readonly number[] } | undefined
  readonly movable: (control: Control | undefined) => boolean
  /** Values beyond which controls were found to do nothing more. */
  readonly rangeLimits: ReadonlyMap<string, number>
  /** The model of greys with gains and cuts to be moved; and with level-by-level controls as well. */
  readonly grey: () => GreyModel | undefined
  readonly greyByLevel: () => GreyModel | undefined
  /** The model as it was before single levels were moved: what gains and cuts do by themselves. */
  readonly greyTwoPoint: () => GreyModel | undefined
}

const SURVEYED: readonly Purpose[] = ['survey', 'out-of-box']
const OUT_OF_BOX: readonly Purpose[] = ['out-of-box']
const LATENCY: readonly Role[] = ['latency']

/** The state in which the base mode was read out of the box: of the newest out-of-the-box reading, else of the survey. */
const outOfBoxStateOf = (facts: RouteFacts): State | undefined => {
  const { sheet, baseMode, readings } = facts
  const mode = controlByRole(sheet, 'picture-mode')
  const inMode = (r: RouteReading) => !mode || r.state[mode.key] === baseMode
  const own = readings.findLast((r) => r.purpose === 'out-of-box' && inMode(r))
  if (own) return own.state
  // What shortens latency is chosen after a survey, and locks controls or changes the picture: what was read without it is another picture.
  return readings
    .filter((r) => r.purpose === 'survey' && inMode(r))
    .findLast(
      (r) =>
        changesBefore(facts, r.state, baseMode).length === 0 &&
        differsIn(facts, LATENCY, r.state, facts.state).length === 0,
    )?.state
}

/**
 * Where controls stand while it is measured whose values are compared and none of which is neutral: as a person set them last, else as the base mode was
 * read out of the box. Without that the value on trial would count as how the display stands. Out: undefined where every such control has a neutral value,
 * or nothing was read yet.
 */
export const atRestOf = (facts: RouteFacts): AtRest | undefined => {
  const controls = facts.sheet.controls.filter((c) => STRENGTHS.has(c.role) && c.neutral === undefined)
  if (controls.length === 0 || facts.baseMode === null) return undefined
  const read = outOfBoxStateOf(facts)
  const values = controls.flatMap(({ key }) => {
    const set = facts.adjustments
      .findLast((m) => m.kind === 'by-hand' && m.changes.some((c) => c.control === key))
      ?.changes.find((c) => c.control === key)
    const value = set?.to ?? read?.[key]
    return value === undefined ? [] : [[key, value] as const]
  })
  return values.length ? Object.fromEntries(values) : undefined
}

/**
 * All that steps look at.
 * In: facts; faults of controls that the model allows for; values beyond which controls do nothing more. Out: context; the model is learned only when it is asked for.
 */
export const contextOf = (
  real: RouteFacts,
  faults: ReadonlyMap<string, FaultKind> = new Map(),
  rangeLimits: ReadonlyMap<string, number> = new Map(),
): RouteContext => {
  const rolesOf = (sheet: ControlSheet) =>
    real.memo.about('controls by role', sheet, () => controlsByRole(sheet))
  const allByRole = rolesOf(real.sheet)
  const patches = patchesOf(real)
  const scale = scaleOf(real.signal)
  const facts = scale.levelsAsNamed ? real : { ...real, sheet: sheetInHdr(real, allByRole, patches) }
  const byRole = rolesOf(facts.sheet)
  /** Keys of what channels are made of. */
  const channelKeys = [...patches.primaries, patches.black].map((p) => p.key)
  // Without them nothing can be derived: they are asked for until they are read.
  const essential = new Set([...channelKeys, patches.white.key])
  const all = facts.typed ? patches.caseByHand : patches.wholeCase
  const wholeCase = all.filter((p) => essential.has(p.key) || !facts.leftOut.includes(p.key))
  const chosen = facts.baseMode !== null || !byRole.mode
  const reference = chosen ? outOfBoxStateOf(facts) : undefined
  const purposes = scale.surveyIsOutOfBox ? SURVEYED : OUT_OF_BOX
  const outOfBox = reference && gatherSweep(facts, purposes, wholeCase, reference)
  const [red, green, blue, black] = channelKeys.map((k) => xyzOf(outOfBox, k))
  const channelMatrix = red && green && blue && black ? channelMatrixOf(red, green, blue, black) : undefined
  const light = byRole.light && lightOf(facts, byRole.light)
  const learn = (byLevel: boolean, plainOnly = false) => {
    let model: GreyModel | undefined
    let learned = false
    return () => {
      if (!learned && outOfBox && channelMatrix)
        model = greyModelOf(facts, byRole, outOfBox, channelMatrix, light?.curve, faults, byLevel, plainOnly)
      learned = true
      return model
    }
  }
  const greyByLevel = learn(true)
  const levels = [...byRole.levelWhite, ...byRole.levelTone]
  const levelsMoved = levels.some(
    ({ control }) => facts.state[control.key] !== (control.neutral ?? control.default),
  )
  return {
    facts,
    scale,
    patches,
    byRole,
    allByRole,
    pending: changesBefore(facts, facts.state, facts.baseMode),
    outOfBox,
    wholeCase,
    begun: outOfBox !== undefined && outOfBox.missing.length === 0,
    channelMatrix,
    matrixIds: channelMatrix ? channelKeys.map((k) => outOfBox!.byPatch.get(k)!.id) : [],
    light,
    movable: (control) => isMovable(facts, control),
    rangeLimits,
    // Where single levels were moved already, one model does for all.
    grey: levelsMoved ? greyByLevel : learn(false),
    greyByLevel,
    greyTwoPoint: learn(false, true),
  }
}

/** Readings of white that tell how luminance follows its control. */
const lightOf = (facts: RouteFacts, control: Control): RouteContext['light'] => {
  const { sheet, state } = facts
  const whites = facts.readings
    .filter(
      (r) =>
        r.patch.key === patchesOf(facts).white.key &&
        differenceIn(facts.memo, sheet, r.state, state) !== undefined,
    )
    .map((r) => ({ id: r.id, state: r.state, luminance: r.xyz[1] }))
  const { points, readingIds } = luminancePoints(sheet, control, whites, state)
  const curve = luminanceCurve(points, placesOf(control), curvePrior(facts.priors, control.key))
  return curve && { curve, readingIds }
}

/** What a step plans from: all that is known, and what the steps before it found in this plan. */
export interface StepContext extends RouteContext {
  /** With the state for watching as it is, and what would have to be set before anything is measured. */
  readonly watching: RouteContext
  readonly found: Findings
  /** Gains, cuts or level-by-level values stand elsewhere than out of the box. */
  readonly whiteBegun: boolean
  /** The newest verification was read in the state of now. */
  readonly verified: boolean
}

/** The readings that a model of greys rests on: greys, what they were split by, and what luminance was brought over by. */
export const greyReadingIds = ({ matrixIds, light }: RouteContext, model: GreyModel): readonly number[] => [
  ...new Set([...model.observations.map((o) => o.id), ...matrixIds, ...(light?.readingIds ?? [])]),
]
