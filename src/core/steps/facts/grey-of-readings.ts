import { multiply, xyToXyz } from '#core/colorimetry'
import type { State } from '#core/display'
import { greyLevel, JUDGED_LEVELS, type MeterPrecision, readingSigma } from '#core/measure'
import {
  ASPECTS,
  type Aspect,
  amountsOf,
  type ChannelMatrix,
  type ControlsByRole,
  channelShares,
  type Driven,
  differenceIn,
  drivesAt,
  drivesOfShares,
  type EffectPrior,
  effectPriorOf,
  type FaultKind,
  fitGreyModel,
  type GreyModel,
  type GreyObservation,
  type GreySpread,
  type KnownPage,
  type LevelChange,
  type LevelPage,
  type LuminanceCurve,
  levelShapeOf,
  placeOf,
  RUNS_OUT,
  sigmaAt,
  spreadUnder,
} from '#core/model'
import { type Curve, curveOf } from '#core/target'
import { DRIVEN_AT, MOST_CHANGES, MOST_OF_A_LEVEL } from '../tuning'
import { isMovable, keyOf, type RouteFacts, type SweepReadings, xyzOf } from './facts'
import { patchesOf } from './hdr-reference'

/** Exponent that green follows, by least squares over the levels between black and white in log–log. */
const exponentOf = (
  sweep: SweepReadings,
  whiteKey: string,
  channelMatrix: ChannelMatrix,
  { response }: Curve,
): number => {
  const white = xyzOf(sweep, whiteKey)
  const top = white && channelShares(channelMatrix, white)[1]
  let [xy, xx] = [0, 0]
  for (const { patch, xyz } of sweep.byPatch.values()) {
    const level = greyLevel(patch)
    const green = channelShares(channelMatrix, xyz)[1]
    if (!top || level === undefined || level < 0.09 || level >= 1 || green <= 0) continue
    xy += Math.log(level) * Math.log(green / top)
    xx += Math.log(level) ** 2
  }
  const exponent = xx > 0 ? xy / xx : response.usual
  return exponent > response.least && exponent < response.most ? exponent : response.usual
}

/** Grey readings that belong to the base mode, the newest of each level and state. */
const observationsOf = (facts: RouteFacts, reference: State): GreyObservation[] => {
  const all = newestGreys(facts, reference)
  const counted = new Map<string, number>()
  const known = new Set<string>()
  const kept = all.reverse().filter((o) => {
    const difference = differenceIn(facts.memo, facts.sheet, reference, o.state)!
    // The same settings under another panel light tell nothing more.
    const whole = `${o.level} ${difference.map(([f, n]) => `${f.key}${n}`).join()}`
    if (known.has(whole)) return false
    known.add(whole)
    const others = difference
      .filter(([f]) => f.control.role !== 'level-white' && f.control.role !== 'level-tone')
      .map(([f, n]) => `${f.key}${n}`)
    const key = `${o.level} ${others.join()}`
    const n = (counted.get(key) ?? 0) + 1
    counted.set(key, n)
    return n <= MOST_OF_A_LEVEL
  })
  return kept.reverse()
}

/** Grey readings that belong to the base mode, the newest of each level and state, all of them. */
export const newestGreys = (facts: RouteFacts, reference: State): GreyObservation[] => {
  const newest = new Map<string, GreyObservation>()
  // What was read to compare strengths of processing says nothing new of greys; the model stands while that goes on.
  const aside = new Set(facts.adjustments.filter((m) => m.step === 'processing').map((m) => m.runId))
  for (const r of facts.readings) {
    const level = greyLevel(r.patch)
    if (r.purpose === 'adjust' && aside.has(r.runId)) continue
    if (level === undefined || level < 0.009 || !differenceIn(facts.memo, facts.sheet, reference, r.state))
      continue
    const key = `${level} ${keyOf(facts, r.state)}`
    newest.delete(key)
    newest.set(key, { id: r.id, level, xyz: r.xyz, sigma: r.sigma ?? undefined, state: r.state })
  }
  return [...newest.values()]
}

/**
 * The model of greys from all that was read in the base mode.
 * In: facts; controls; sweep out of the box; channels; luminance by its control; faults that are known; whether level-by-level controls
 * may move; whether only readings from before they moved count. Out: model; undefined as `fitGreyModel`.
 */
export const greyModelOf = (
  facts: RouteFacts,
  byRole: ControlsByRole,
  outOfBox: SweepReadings,
  channelMatrix: ChannelMatrix,
  curve: LuminanceCurve | undefined,
  faults: ReadonlyMap<string, FaultKind>,
  byLevel: boolean,
  plainOnly: boolean,
): GreyModel | undefined => {
  const { sheet, targets, precision } = facts
  const { light } = byRole
  const reference = outOfBox.state
  const at = (state: State) => (light && curve ? curve.at(placeOf(light, state[light.key])) : 1)
  const own = at(reference)
  const lightAt = (state: State) => at(state) / own
  const exponent = exponentOf(outOfBox, patchesOf(facts).white.key, channelMatrix, curveOf(targets.tone))
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
    ? [...new Set([...JUDGED_LEVELS, ...levelControls.map((c) => c.level)])].filter(
        (l) => l >= 0.009 && l <= 1,
      )
    : JUDGED_LEVELS
  // Readings of colours, and settings that leave greys alone, leave the model as it was.
  const key = JSON.stringify([
    observations.map((o) => [o.id, o.level, o.xyz, o.sigma, numberOf(facts, o.state), lightAt(o.state)]),
    numberOf(facts, reference),
    differenceIn(facts.memo, sheet, reference, now)?.map(([f, n]) => [f.key, n]),
    [lightAt(now), exponent, targets.white, targets.luminance, precision],
    levels.length,
    movable.map((c) => c.key),
    [...faults],
    facts.memo.identity(facts.priors),
  ])
  return facts.memo.recall('grey-model', sheet, key, () => {
    const none = { red: [], blue: [], tone: [] }
    // How greys were before single levels were moved tells what they would be without.
    const plain =
      byLevel && levelControls.length && !plainOnly
        ? greyModelOf(facts, byRole, outOfBox, channelMatrix, curve, faults, false, true)
        : undefined
    const changes =
      byLevel && levelControls.length
        ? levelChanges(facts, observations, {
            channelMatrix,
            exponent,
            lightAt,
            precision,
            reference,
            plain,
          })
        : none
    const driven = plain && drivenBy(plain, byRole, now)
    const shapeKey = JSON.stringify([
      driven,
      facts.memo.identity(facts.priors),
      ASPECTS.map((a) => changes[a].map((c) => [c.level, c.change, c.sigma, [...c.clicks]])),
      [...faults],
    ])
    const levelShape = facts.memo.recall('level-shape', sheet, shapeKey, () =>
      levelShapeOf(byRole, changes, (page) => knownPage(facts, byRole, page), faults, driven),
    )
    return fitGreyModel({
      memo: facts.memo,
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
      levelShape,
      learned,
      faults,
      now,
    })
  })
}

/** By how much the gains of a state raise the drive of each channel. */
const drivenBy = (model: GreyModel, { gain }: ControlsByRole, state: State): Driven => {
  const at = model.levels.indexOf(DRIVEN_AT)
  const own = amountsOf(model, state)
  const gains = new Set(Object.values(gain).map((c) => c.key))
  const rest = new Float64Array(model.features.length)
  const raised = Float64Array.from(model.features, ({ key }, f) => (gains.has(key) ? (own?.[f] ?? 0) : 0))
  const share = (aspect: Aspect) =>
    drivesAt(model, at, raised)[aspect] / Math.max(1e-9, drivesAt(model, at, rest)[aspect])
  const green = share('tone')
  return { red: green * share('red'), green, blue: green * share('blue'), tone: 1 }
}

/** What earlier cases told of a page of level-by-level controls: what a click does at its own level, against the level. */
const knownPage = (facts: RouteFacts, byRole: ControlsByRole, page: LevelPage): KnownPage | undefined => {
  const own =
    page === 'tone'
      ? byRole.levelTone.map((c) => c.control)
      : byRole.levelWhite.filter((c) => c.channel === page).map((c) => c.control)
  const aspect: Aspect = page === 'red' || page === 'blue' ? page : 'tone'
  const priors = own.flatMap((c) => effectPriorOf(facts.priors, c.key, aspect) ?? [])
  if (priors.length === 0) return undefined
  return {
    perClick: priors.map((p) => [p.levels[0]!, Math.abs(p.mean[0]!)] as const),
    sigma: priors.reduce((sum, p) => sum + p.sigma, 0) / priors.length,
  }
}

/** A number for a state: its text is long. */
const numberOf = (facts: RouteFacts, state: State): number =>
  facts.memo.about('number', state, () => facts.memo.numberOf(keyOf(facts, state)))

/**
 * Changes of drive that level-by-level clicks made: each reading under such clicks against the newest one at its level that
 * differs in nothing else, or against what is expected there without them.
 */
const levelChanges = (
  facts: RouteFacts,
  observations: readonly GreyObservation[],
  how: {
    channelMatrix: ChannelMatrix
    exponent: number
    lightAt: (state: State) => number
    precision: MeterPrecision
    reference: State
    plain: GreyModel | undefined
  },
): Record<Aspect, LevelChange[]> => {
  const { sheet, targets } = facts
  const wanted = multiply(how.channelMatrix.inverse, xyToXyz(targets.white, 1))
  const isLevel = (role: string) => role === 'level-white' || role === 'level-tone'
  const drivesOf = (o: GreyObservation): Record<Aspect, number> & { sigma: number } => {
    const light = how.lightAt(o.state)
    const shares = channelShares(how.channelMatrix, o.xyz, light)
    const noise =
      Math.hypot(
        ...(o.sigma ?? o.xyz.map((v) => readingSigma(v, how.precision))).map((s, i) => s / o.xyz[i]!),
      ) / how.exponent
    const scale = { wanted, exponent: how.exponent, white: light * targets.luminance }
    return { ...drivesOfShares(o.level, shares, scale), sigma: noise }
  }
  const clicksOf = (state: State): Map<string, number> =>
    new Map(
      (differenceIn(facts.memo, sheet, how.reference, state) ?? []).flatMap(([f, n]) =>
        isLevel(f.control.role) ? [[f.key, n] as const] : [],
      ),
    )
  const spreads = new Map<string, GreySpread>()
  /** What is expected at a reading's level without its level-by-level clicks, with how sure that is as a share. */
  const withoutLevels = (o: GreyObservation): (Record<Aspect, number> & { sigma: number }) | undefined => {
    const { plain } = how
    const amounts = plain && amountsOf(plain, o.state)
    const at = plain?.levels.indexOf(o.level) ?? -1
    if (!plain || !amounts || at < 0) return undefined
    for (const [i, f] of plain.features.entries()) if (isLevel(f.control.role)) amounts[i] = 0
    const key = amounts.join()
    const spread = spreads.get(key) ?? spreadUnder(plain, amounts)
    spreads.set(key, spread)
    // The white that drives are scaled by may be another one; only a ratio of both is the same.
    const scale = (plain.white / targets.luminance) ** (1 / how.exponent)
    const { red, blue, tone } = spread.drives[at]!
    const sigma = Math.max(...ASPECTS.map((a) => sigmaAt(spread, a, at) / Math.max(1e-9, o.level)))
    return { red, blue, tone: tone * scale, sigma }
  }
  const out: Record<Aspect, LevelChange[]> = { red: [], blue: [], tone: [] }
  const byLevel = new Map<number, GreyObservation[]>()
  for (const o of observations) {
    // Near white a channel may have run out, and then tells nothing of the clicks that were made.
    if (o.level > RUNS_OUT) continue
    const own = byLevel.get(o.level) ?? []
    const before = own.findLast((b) => {
      const difference = differenceIn(facts.memo, sheet, b.state, o.state)
      return difference?.length && difference.every(([f]) => isLevel(f.control.role))
    })
    byLevel.set(o.level, [...own, o])
    const now = drivesOf(o)
    const clicks = before
      ? new Map(differenceIn(facts.memo, sheet, before.state, o.state)!.map(([f, n]) => [f.key, n]))
      : clicksOf(o.state)
    // A control that was tried by itself tells of itself, not of its page.
    if (clicks.size === 1) continue
    const was = before ? drivesOf(before) : clicks.size ? withoutLevels(o) : undefined
    if (!was) continue
    for (const aspect of ASPECTS) {
      const change = now[aspect] - was[aspect]
      if (!Number.isFinite(change)) continue
      const sigma = Math.hypot(2 * was.sigma * was[aspect], 2 * now.sigma * now[aspect]) + 3e-5
      out[aspect].push({ level: o.level, clicks, change, sigma })
    }
  }
  return {
    red: out.red.slice(-MOST_CHANGES),
    blue: out.blue.slice(-MOST_CHANGES),
    tone: out.tone.slice(-MOST_CHANGES),
  }
}
