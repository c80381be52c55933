import { multiply, type XYZ, xyToXyz } from '#core/colorimetry'
import { type Control, type ControlSheet, controlByRole, type State, stateKey } from '#core/display'
import {
  BLUE,
  GREEN,
  greyLevel,
  JUDGED_LEVELS,
  type MeterPrecision,
  type Patch,
  RED,
  readingSigma,
  WHOLE_CASE,
} from '#core/measure'
import type { Change } from './adjustment'
import { type ChannelMatrix, channelMatrixOf, channelShares } from './channel-matrix'
import { controlPointOffsetOf, type LevelChange } from './control-point-offset'
import { type ControlsByRole, controlsByRole, placeOf, placesOf } from './controls-by-role'
import { ASPECTS, type Aspect, type EffectPrior } from './expected-response'
import { gatherSweep, isMovable, type RouteFacts, type RouteReading, type SweepReadings } from './facts'
import { differenceIn, type FaultKind, fitGreyModel, type GreyModel, type GreyObservation } from './grey'
import { type LuminanceCurve, luminanceCurve, luminancePoints } from './luminance'
import { prepareChanges } from './prepare'
import { identityOf, rememberFor } from './remember'
import { curvePrior, effectPriorOf } from './response-prior'

/** Patches without which nothing can be derived: they are asked for until they are read. */
export const ESSENTIAL: ReadonlySet<string> = new Set(['grey-100', 'grey-0', RED.key, GREEN.key, BLUE.key])

/** Everything that steps look at, reckoned once for each plan. */
export interface RouteContext {
  readonly facts: RouteFacts
  readonly byRole: ControlsByRole
  /** Controls that have to be set before anything is measured in the base mode. */
  readonly pending: readonly Change[]
  /** The base mode as it comes, with what is missing of it. */
  readonly factory: SweepReadings | undefined
  /** All patches of a case, those aside that were left out. */
  readonly wholeCase: readonly Patch[]
  /** Whether the base mode was read as it comes. */
  readonly begun: boolean
  /** What the channels are made of; undefined where the three primaries cannot be told apart. */
  readonly channelMatrix: ChannelMatrix | undefined
  readonly light: { readonly curve: LuminanceCurve; readonly readingIds: readonly number[] } | undefined
  readonly movable: (control: Control | undefined) => boolean
  /** Values beyond which controls were found to do nothing more. */
  readonly ends: ReadonlyMap<string, number>
  /** The model of greys with gains and cuts to be moved; and with level-by-level controls as well. */
  readonly grey: () => GreyModel | undefined
  readonly greyByLevel: () => GreyModel | undefined
  /** The model as it was before single levels were moved: what gains and cuts do by themselves. */
  readonly greyTwoPoint: () => GreyModel | undefined
}

/** The state in which the base mode was read as it comes: of the newest factory reading, else of the survey. */
const factoryStateOf = ({ sheet, baseMode, readings }: RouteFacts): State | undefined => {
  const mode = controlByRole(sheet, 'picture-mode')
  const inMode = (r: RouteReading) => !mode || r.state[mode.key] === baseMode
  const own = readings.findLast((r) => r.purpose === 'out-of-box' && inMode(r))
  if (own) return own.state
  return readings
    .filter((r) => r.purpose === 'survey' && inMode(r))
    .findLast((r) => prepareChanges(sheet, r.state, baseMode).length === 0)?.state
}

const xyzOf = (sweep: SweepReadings | undefined, key: string): XYZ | undefined => sweep?.byPatch.get(key)?.xyz

/**
 * All that steps look at.
 * In: facts; controls that were found to be dead or turned around. Out: context; the model is learned only when it is asked for.
 */
export const contextOf = (
  facts: RouteFacts,
  odd: ReadonlyMap<string, FaultKind> = new Map(),
): RouteContext => {
  const byRole = controlsByRole(facts.sheet)
  const wholeCase = WHOLE_CASE.filter((p) => ESSENTIAL.has(p.key) || !facts.leftOut.includes(p.key))
  const chosen = facts.baseMode !== null || !byRole.mode
  const reference = chosen ? factoryStateOf(facts) : undefined
  const factory = reference && gatherSweep(facts.readings, ['survey', 'out-of-box'], wholeCase, reference)
  const [red, green, blue, black] = [RED.key, GREEN.key, BLUE.key, 'grey-0'].map((k) => xyzOf(factory, k))
  const channelMatrix = red && green && blue && black ? channelMatrixOf(red, green, blue, black) : undefined
  const light = byRole.light && lightOf(facts, byRole.light)
  const learn = (byLevel: boolean, plainOnly = false) => {
    let model: GreyModel | undefined
    let learned = false
    return () => {
      if (!learned && factory && channelMatrix)
        model = modelOf(facts, byRole, factory, channelMatrix, light?.curve, odd, byLevel, plainOnly)
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
    byRole,
    pending: prepareChanges(facts.sheet, facts.state, facts.baseMode),
    factory,
    wholeCase,
    begun: factory !== undefined && factory.missing.length === 0,
    channelMatrix,
    light,
    movable: (control) => isMovable(facts, control),
    ends: new Map(),
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
    .filter((r) => r.patch.key === 'grey-100' && differenceIn(sheet, r.state, state) !== undefined)
    .map((r) => ({ id: r.id, state: r.state, luminance: r.xyz[1] }))
  const { points, readingIds } = luminancePoints(sheet, control, whites, state)
  const curve = luminanceCurve(points, placesOf(control), curvePrior(facts.priors, control.key))
  return curve && { curve, readingIds }
}

/** Where level controls lie for some changes that were read; looked for once, since it takes longest of all. */
const MOST_PLACES = 60
const places = rememberFor<ControlSheet, number>(MOST_PLACES)

/** Exponent that green follows, by least squares over the levels between black and white in log–log. */
const exponentOf = (sweep: SweepReadings, channelMatrix: ChannelMatrix): number => {
  const white = xyzOf(sweep, 'grey-100')
  const top = white && channelShares(channelMatrix, white)[1]
  let [xy, xx] = [0, 0]
  for (const { patch, xyz } of sweep.byPatch.values()) {
    const level = greyLevel(patch)
    const green = channelShares(channelMatrix, xyz)[1]
    if (!top || level === undefined || level < 0.09 || level >= 1 || green <= 0) continue
    xy += Math.log(level) * Math.log(green / top)
    xx += Math.log(level) ** 2
  }
  const exponent = xx > 0 ? xy / xx : 2.2
  return exponent > 1 && exponent < 4 ? exponent : 2.2
}

/** Changes by level-by-level clicks that tell where the controls lie; older ones add nothing. */
const MOST_CHANGES = 30
/** Of each level the newest readings under one setting of everything else than level-by-level controls. */
const MOST_OF_A_LEVEL = 2

/** Grey readings that belong to the base mode, the newest of each level and state. */
const observationsOf = (facts: RouteFacts, reference: State): GreyObservation[] => {
  const all = newestOf(facts, reference)
  const counted = new Map<string, number>()
  const kept = all.reverse().filter((o) => {
    const others = differenceIn(facts.sheet, reference, o.state)!
      .filter(([f]) => f.control.role !== 'level-white' && f.control.role !== 'level-tone')
      .map(([f, n]) => `${f.key}${n}`)
    const key = `${o.level} ${others.join()}`
    const n = (counted.get(key) ?? 0) + 1
    counted.set(key, n)
    return n <= MOST_OF_A_LEVEL
  })
  return kept.reverse()
}

const newestOf = (facts: RouteFacts, reference: State): GreyObservation[] => {
  const newest = new Map<string, GreyObservation>()
  // What was read to compare strengths of processing says nothing new of greys; the model stands while that goes on.
  const aside = new Set(facts.adjustments.filter((m) => m.step === 'processing').map((m) => m.runId))
  for (const r of facts.readings) {
    const level = greyLevel(r.patch)
    if (r.purpose === 'adjust' && aside.has(r.runId)) continue
    if (level === undefined || level < 0.009 || !differenceIn(facts.sheet, reference, r.state)) continue
    const key = `${level} ${stateKey(r.state)}`
    newest.delete(key)
    newest.set(key, { id: r.id, level, xyz: r.xyz, sigma: r.sigma, state: r.state })
  }
  return [...newest.values()]
}

const modelOf = (
  facts: RouteFacts,
  byRole: ControlsByRole,
  factory: SweepReadings,
  channelMatrix: ChannelMatrix,
  curve: LuminanceCurve | undefined,
  odd: ReadonlyMap<string, FaultKind>,
  byLevel: boolean,
  plainOnly: boolean,
): GreyModel | undefined => {
  const { sheet, targets, precision } = facts
  const { light } = byRole
  const reference = factory.state
  const at = (state: State) => (light && curve ? curve.at(placeOf(light, state[light.key])) : 1)
  const own = at(reference)
  const lightAt = (state: State) => at(state) / own
  const exponent = exponentOf(factory, channelMatrix)
  const atRest = (state: State) =>
    [...byRole.levelWhite, ...byRole.levelTone].every(
      ({ control }) => state[control.key] === (control.neutral ?? control.default),
    )
  const observations = observationsOf(facts, reference).filter((o) => !plainOnly || atRest(o.state))
  const learned = (control: string, aspect: Aspect): EffectPrior | undefined =>
    effectPriorOf(facts.priors, control, aspect)
  const levelControls = [...byRole.levelWhite, ...byRole.levelTone]
  const movable = [
    ...Object.values(byRole.gain),
    ...Object.values(byRole.cut),
    ...(byLevel ? levelControls.map((c) => c.control) : []),
    ...(byRole.preset?.kind === 'number' ? [byRole.preset] : []),
  ].filter((c) => isMovable(facts, c))
  const now = plainOnly ? (observations.at(-1)?.state ?? facts.state) : facts.state
  const levels = byLevel
    ? [...new Set([...JUDGED_LEVELS, ...levelControls.map((c) => c.level)])].filter((l) => l >= 0.009)
    : JUDGED_LEVELS
  // Readings of colours, and settings that leave greys alone, leave the model as it was.
  const key = JSON.stringify([
    observations.map((o) => [o.id, o.level, o.xyz, o.sigma, numberOf(o.state), lightAt(o.state)]),
    numberOf(reference),
    differenceIn(sheet, reference, now)?.map(([f, n]) => [f.key, n]),
    [lightAt(now), exponent, targets.white, targets.luminance, precision],
    levels.length,
    movable.map((c) => c.key),
    [...odd],
    identityOf(facts.priors),
  ])
  const found = models(sheet, key, () => {
    const changes =
      byLevel && levelControls.length
        ? levelChanges(facts, observations, { channelMatrix, exponent, lightAt, precision })
        : undefined
    const placeFor = (aspect: Aspect): number => {
      const own = changes?.[aspect]
      if (!own || own.length === 0) return 1
      const key = JSON.stringify([
        aspect,
        identityOf(facts.priors),
        own.map((c) => [c.level, c.change, c.sigma, [...c.clicks]]),
      ])
      return places(sheet, key, () =>
        controlPointOffsetOf(byRole, aspect, own, (control) => learned(control, aspect)),
      )
    }
    return {
      model: fitGreyModel({
        sheet,
        reference,
        channelMatrix,
        target: targets.white,
        exponent,
        observations,
        levels,
        movable,
        precision,
        lightOf: lightAt,
        controlPointOffset: { red: placeFor('red'), blue: placeFor('blue'), tone: placeFor('tone') },
        learned,
        odd,
        now,
      }),
    }
  })
  return found.model
}

/** Models of one display that are kept: few, since each holds what all readings say of each other. */
const MOST_MODELS = 12
const models = rememberFor<ControlSheet, { readonly model: GreyModel | undefined }>(MOST_MODELS)

const numbers = new Map<string, number>()
const numbered = new WeakMap<State, number>()
const MOST_NUMBERS = 20_000
let lastNumber = 0
/** A number for a state, the same for equal ones as long as it is kept: the text of a state is long. */
const numberOf = (state: State): number => {
  const own = numbered.get(state)
  if (own !== undefined) return own
  const key = stateKey(state)
  const known = numbers.get(key) ?? ++lastNumber
  if (numbers.size > MOST_NUMBERS) numbers.clear()
  numbers.set(key, known)
  numbered.set(state, known)
  return known
}

/**
 * Changes of drive that level-by-level clicks made: each reading under such clicks against the newest one at its level that
 * differs in nothing else.
 */
const levelChanges = (
  facts: RouteFacts,
  observations: readonly GreyObservation[],
  how: {
    channelMatrix: ChannelMatrix
    exponent: number
    lightAt: (state: State) => number
    precision: MeterPrecision
  },
): Record<Aspect, LevelChange[]> => {
  const { sheet, targets } = facts
  const wanted = multiply(how.channelMatrix.inverse, xyToXyz(targets.white, 1))
  const isLevel = (role: string) => role === 'level-white' || role === 'level-tone'
  const drivesOf = (o: GreyObservation): Record<Aspect, number> & { sigma: number } => {
    const light = how.lightAt(o.state)
    const shares = channelShares(how.channelMatrix, o.xyz, light)
    const green = shares[1] / wanted[1]
    const noise =
      Math.hypot(
        ...(o.sigma ?? o.xyz.map((v) => readingSigma(v, how.precision))).map((s, i) => s / o.xyz[i]!),
      ) / how.exponent
    const drive = (i: 0 | 2) => o.level * (shares[i] / wanted[i] / green) ** (1 / how.exponent)
    return {
      red: drive(0),
      blue: drive(2),
      tone: (green / light / targets.luminance) ** (1 / how.exponent),
      sigma: noise,
    }
  }
  const out: Record<Aspect, LevelChange[]> = { red: [], blue: [], tone: [] }
  const byLevel = new Map<number, GreyObservation[]>()
  for (const o of observations) {
    const own = byLevel.get(o.level) ?? []
    const before = own.findLast((b) => {
      const difference = differenceIn(sheet, b.state, o.state)
      return difference?.length && difference.every(([f]) => isLevel(f.control.role))
    })
    byLevel.set(o.level, [...own, o])
    if (!before) continue
    const clicks = new Map(differenceIn(sheet, before.state, o.state)!.map(([f, n]) => [f.key, n]))
    const [a, b] = [drivesOf(before), drivesOf(o)]
    for (const aspect of ASPECTS) {
      const change = b[aspect] - a[aspect]
      if (!Number.isFinite(change)) continue
      const sigma = Math.hypot(2 * a.sigma * a[aspect], 2 * b.sigma * b[aspect]) + 3e-5
      out[aspect].push({ level: o.level, clicks, change, sigma })
    }
  }
  return {
    red: out.red.slice(-MOST_CHANGES),
    blue: out.blue.slice(-MOST_CHANGES),
    tone: out.tone.slice(-MOST_CHANGES),
  }
}
