import { deltaE2000, type XYZ, xyToXyz, xyzToLab } from '#core/colorimetry'
import { type ControlSheet, type ControlValue, type Role, type State, stateKey } from '#core/display'
import { colourError } from '#core/judge'
import { greyLevel, MEMORY_COLOURS, type Patch, SIX_COLOURS, SIX_MUTED } from '#core/measure'
import { type Target, targetOn } from '#core/target'
import type { Adjustment, Change } from './adjustment'
import { type ChannelMatrix, channelMatrixOf } from './channel-matrix'
import {
  responseOfAll,
  type ColourModel,
  type ColourObservation,
  channelsUnder,
  fitColourModel,
  lightOfPatch,
} from './colour-model'
import type { RouteContext } from './context'
import { type ColourControl, quoted, reachOf, shown, valueAt } from './controls-by-role'
import { differsIn, type RouteReading } from './facts'
import { amountsOf, drivesAt, type GreyModel } from './grey'
import { done, type Limit, open, type StepPlan } from './plan'
import { identityOf, rememberFor } from './remember'
import { RESTS_ON } from './step-keys'

/** Weights of patches in what colour management is judged by: skin counts most, full colours less than things. */
const weightOf = (patch: Patch): number =>
  patch.key.startsWith('natural-skin') ? 1.4 : patch.key.startsWith('natural-') ? 1 : 0.5

/** Smallest gain in weighted average ΔE00 that is worth touching colour management at all, and worth another move. */
const WORTH_BEGINNING = 0.25
const WORTH_GOING_ON = 0.12
const WORTH_AGAIN = 0.5
const MOST_ADJUSTMENTS = 3
/** Error of the primaries from which another gamut is looked at, ΔE00 with luminance aside. */
const GAMUT_FROM = 2.2

export interface ColourFindings {
  readonly model?: ColourModel
  /** Weighted average ΔE00 of six and natural colours as the model expects it now, and after the best further clicks. */
  readonly error: number
  readonly best: number
  readonly errors: ReadonlyArray<{ readonly patch: string; readonly label: string; readonly error: number }>
  readonly gamuts: ReadonlyArray<{
    readonly value: ControlValue
    readonly label: string
    readonly error: number
  }>
}

/** Target of colours at the present white. */
export const colourTarget = (context: RouteContext, white: number): Target => {
  const { facts, factory } = context
  const w = factory?.byPatch.get('grey-100')?.xyz[1]
  const b = factory?.byPatch.get('grey-0')?.xyz[1]
  return targetOn(facts.targets, { white, black: w && b ? (Math.max(0, b) / w) * white : 0 })
}

const MOST_WHITES = 60
const whites = rememberFor<GreyModel, { readonly white: number | undefined }>(MOST_WHITES)

const whiteOf = (context: RouteContext, state: State): number | undefined => {
  const model = context.grey()
  if (!model) return undefined
  return whites(model, stateKey(state), () => {
    const amounts = amountsOf(model, state)
    if (!amounts) return { white: undefined }
    const at = model.levels.length - 1
    return {
      white: model.white * model.lightOf(state) * drivesAt(model, at, amounts).tone ** model.exponent,
    }
  }).white
}

// ---------------------------------------------------------------- gamut

/** Chromatic error of the three primaries against the target, ΔE00 at the target's luminance. */
const primariesError = (
  context: RouteContext,
  readings: ReadonlyMap<string, XYZ>,
  white: number,
): number | undefined => {
  const target = colourTarget(context, white)
  const errors = ['red', 'green', 'blue'].flatMap((key) => {
    const xyz = readings.get(key)
    const patch = SIX_COLOURS.find((p) => p.key === key)!
    if (!xyz) return []
    const wanted = target.xyzOf(patch.signal)
    const same = xyz.map((v) => (v * wanted[1]) / Math.max(1e-9, xyz[1])) as unknown as XYZ
    return [colourError(same, wanted, target).deltaE]
  })
  return errors.length === 3 ? errors.reduce((a, b) => a + b, 0) / 3 : undefined
}

/** What may not differ where gamuts are compared. */
const BESIDE_GAMUT: readonly Role[] = [
  'picture-mode',
  'range',
  'saturation',
  'hue',
  'colour-amount',
  'colour-luminance',
]

/**
 * The gamut, before white: as it comes where its primaries are near enough, else the choice that comes nearest by measurement.
 * Out: a plan, done or open; undefined where the sheet has no such control.
 */
export const gamutPart = (
  context: RouteContext,
): { plan: StepPlan; options: ColourFindings['gamuts'] } | undefined => {
  const { facts, byRole } = context
  const control = byRole.gamut
  if (!control || !context.movable(control)) return undefined
  const byValue = new Map<ControlValue, { xyz: Map<string, XYZ>; white: number; ids: number[] }>()
  for (const r of facts.readings) {
    if (!['red', 'green', 'blue', 'grey-100'].includes(r.patch.key)) continue
    if (differsIn(facts.sheet, BESIDE_GAMUT, r.state, facts.state).length > 0) continue
    const value = r.state[control.key]!
    const own = byValue.get(value) ?? { xyz: new Map<string, XYZ>(), white: 0, ids: [] }
    if (r.patch.key === 'grey-100') own.white = r.xyz[1]
    else own.xyz.set(r.patch.key, r.xyz)
    own.ids.push(r.id)
    byValue.set(value, own)
  }
  const options = control.choices.flatMap(({ value, label }) => {
    const own = byValue.get(value)
    const error = own && primariesError(context, own.xyz, own.white || facts.targets.luminance)
    return error === undefined ? [] : [{ value, label, error, ids: own!.ids }]
  })
  const now = facts.state[control.key]!
  const own = options.find((o) => o.value === now)
  // Once colours were moved in this gamut, it is not reopened.
  const begun = facts.adjustments.some((m) =>
    m.changes.some((c) => byRole.colours.some((a) => a.control.key === c.control)),
  )
  if (begun) return { plan: done(shown(control, now)), options }
  const adjustment = (to: ControlValue, purpose: string): StepPlan =>
    open({
      kind: 'adjust',
      adjustment: {
        step: 'colour',
        changes: to === now ? [] : [{ control: control.key, from: now, to }],
        reads: SIX_COLOURS.slice(0, 3),
        purpose,
        predictions: [],
      },
    })
  const finish = (): StepPlan =>
    done(shown(control, now), {
      derived: [
        {
          control: control.key,
          step: 'colour',
          value: now,
          rule:
            options.length > 1
              ? `primaries nearest to BT.709 of ${options.length} measured (ΔE00 ${own?.error.toFixed(1)})`
              : `primaries near enough as it comes (ΔE00 ${own?.error.toFixed(1)})`,
          readingIds: options.flatMap((o) => o.ids),
        },
      ],
    })
  if (!own) return { plan: adjustment(now, 'Reads the primaries of this gamut.'), options }
  if (own.error < GAMUT_FROM && options.length === 1) return { plan: finish(), options }
  const missing = control.choices.find((c) => !options.some((o) => o.value === c.value))
  const best = options.reduce((a, b) => (b.error < a.error ? b : a))
  if (missing && best.error > 1)
    return {
      plan: adjustment(
        missing.value,
        `Reads the primaries of ${quoted(control)} ${shown(control, missing.value)}.`,
      ),
      options,
    }
  if (best.value !== now && own.error - best.error > 0.3)
    return { plan: adjustment(best.value, `Chooses the gamut nearest to BT.709: ${best.label}.`), options }
  return { plan: finish(), options }
}

// ---------------------------------------------------------------- readings brought over

type Curves = ReadonlyArray<ReadonlyArray<readonly [number, number]>>
const MOST_CURVES = 40
const curvesOf = rememberFor<GreyModel, { readonly curves: Curves | undefined }>(MOST_CURVES)

/** Light of each channel of grey by level in a state, white being 1, for bringing a colour over from one white to another. */
const channelCurves = (model: GreyModel, state: State): Curves | undefined =>
  curvesOf(model, stateKey(state), () => ({ curves: curvesIn(model, state) })).curves

const curvesIn = (model: GreyModel, state: State): Curves | undefined => {
  const amounts = amountsOf(model, state)
  if (!amounts) return undefined
  const drives = model.levels.map((_, at) => drivesAt(model, at, amounts))
  const top = drives.at(-1)!
  const g = (d: typeof top) => Math.max(1e-9, d.tone / top.tone) ** model.exponent
  const ratio = (drive: number, level: number) => Math.max(1e-9, drive / level) ** model.exponent
  const curve = (of: (d: typeof top, level: number) => number) =>
    model.levels.map((level, at) => [level, of(drives[at]!, level)] as const)
  return [
    curve((d, l) => g(d) * ratio(d.red, l)),
    curve((d) => g(d)),
    curve((d, l) => g(d) * ratio(d.blue, l)),
  ]
}

/** Level at which a rising curve has a value, and its value at a level; on log scales, held in proportion beyond the ends. */
const levelAt = (
  curve: ReadonlyArray<readonly [number, number]>,
  value: number,
  exponent: number,
): number => {
  const [l0, v0] = curve[0]!
  if (value <= v0) return l0 * (Math.max(1e-12, value) / v0) ** (1 / exponent)
  for (let i = 1; i < curve.length; i++) {
    const [a, va] = curve[i - 1]!
    const [b, vb] = curve[i]!
    if (value <= vb) return a * (b / a) ** (Math.log(value / va) / Math.log(vb / va))
  }
  const [l1, v1] = curve.at(-1)!
  return l1 * (value / v1) ** (1 / exponent)
}
const valueAtLevel = (
  curve: ReadonlyArray<readonly [number, number]>,
  level: number,
  exponent: number,
): number => {
  const [l0, v0] = curve[0]!
  if (level <= l0) return v0 * (level / l0) ** exponent
  for (let i = 1; i < curve.length; i++) {
    const [a, va] = curve[i - 1]!
    const [b, vb] = curve[i]!
    if (level <= b) return va * (vb / va) ** (Math.log(level / a) / Math.log(b / a))
  }
  const [l1, v1] = curve.at(-1)!
  return v1 * (level / l1) ** exponent
}

/** A colour reading as it would read in the present white and tone: channel by channel along the grey curves. */
const broughtOver = (context: RouteContext, model: GreyModel, reading: RouteReading): XYZ | undefined => {
  const { facts, channelMatrix } = context
  if (!channelMatrix) return undefined
  const then = channelCurves(model, reading.state)
  const here = channelCurves(model, facts.state)
  const [whiteThen, whiteNow] = [whiteOf(context, reading.state), whiteOf(context, facts.state)]
  if (!then || !here || !whiteThen || !whiteNow) return undefined
  const lights = [model.lightOf(reading.state), model.lightOf(facts.state)] as const
  const shares = channelMatrix.inverse.map((row) =>
    row.reduce((s, m, j) => s + m * (reading.xyz[j]! - lights[0] * channelMatrix.black[j]!), 0),
  )
  const moved = shares.map((share, c) => {
    const value = share / (model.wanted[c]! * whiteThen)
    if (value <= 0) return share * (whiteNow / whiteThen)
    const level = levelAt(then[c]!, value, model.exponent)
    return valueAtLevel(here[c]!, level, model.exponent) * model.wanted[c]! * whiteNow
  })
  const [X, Y, Z] = channelMatrix.matrix.map((row) => row.reduce((s, m, j) => s + m * moved[j]!, 0))
  return [X! + lights[1] * channelMatrix.black[0], Y! + lights[1] * channelMatrix.black[1], Z! + lights[1] * channelMatrix.black[2]]
}

/** Roles that set readings of colours apart altogether, and those that make white another one. */
const APART: readonly Role[] = ['picture-mode', 'gamut', 'range', 'dynamic-contrast']
const ONE_WHITE: readonly Role[] = [...RESTS_ON.colour, 'peak-luminance']

/** Readings of colours: those in the present white as they are, the newest other one of each patch brought over. */
const observationsOf = (context: RouteContext, model: GreyModel | undefined): ColourObservation[] => {
  const { facts } = context
  const fresh = new Map<string, ColourObservation>()
  const other = new Map<string, RouteReading>()
  for (const r of facts.readings) {
    if (
      greyLevel(r.patch) !== undefined ||
      r.patch.layout ||
      r.patch.window ||
      r.patch.key.startsWith('feed-')
    )
      continue
    if (differsIn(facts.sheet, APART, r.state, facts.state).length) continue
    const same = differsIn(facts.sheet, ONE_WHITE, r.state, facts.state).length === 0
    if (same) {
      const key = `${r.patch.key} ${colourKey(context, r.state)}`
      fresh.set(key, { patch: r.patch, xyz: r.xyz, sigma: r.sigma, state: r.state, brought: false })
    } else other.set(r.patch.key, r)
  }
  const out = [...fresh.values()]
  for (const [key, r] of other) {
    if (
      out.some((o) => o.patch.key === key && colourKey(context, o.state) === colourKey(context, facts.state))
    )
      continue
    const xyz = model && broughtOver(context, model, r)
    if (xyz) out.push({ patch: r.patch, xyz, state: r.state, brought: true })
  }
  return out
}

const colourKey = ({ byRole }: RouteContext, state: State): string =>
  byRole.colours.map((c) => state[c.control.key]).join(';')

// ---------------------------------------------------------------- solving

const errorsUnder = (model: ColourModel, target: Target, clicks: readonly number[]): number[] =>
  model.patches.map(
    (patch, p) =>
      colourError(model.toXyz(channelsUnder(model, p, clicks)), target.xyzOf(patch.signal), target).deltaE,
  )

const weightedMean = (patches: readonly Patch[], errors: readonly number[]): number => {
  const weights = patches.map(weightOf)
  const total = weights.reduce((a, b) => a + b, 0)
  return errors.reduce((s, e, i) => s + e * weights[i]!, 0) / total
}

const PER_CLICK = 0.0008
/** Average error that a control has to bring so that it is moved at all, ΔE00. */
const TAKEN_BACK = 0.007
/** Share of a control's reach that it is moved by at most in one move. */
const AT_ONCE = 0.35
const NEAR = 3

/**
 * Whole clicks of colour management with the least weighted error over all patches.
 * In: model, target, controls that may be moved. Out: clicks from now, and the error.
 */
const solveColours = (
  model: ColourModel,
  target: Target,
  allowed: readonly ColourControl[],
): { clicks: number[]; error: number } => {
  const { controls, patches } = model
  const ranges = controls.map((c, q) => {
    if (!allowed.includes(c)) return { low: 0, high: 0 }
    const { min, max, step } = c.control.range
    const neutral = Number(c.control.neutral ?? c.control.default)
    // Not further at once than what was read can answer for.
    const most = Math.max(3, Math.round(reachOf(c.control) * AT_ONCE))
    return {
      low: Math.max(-most, Math.ceil((min - neutral) / step) - model.clicks[q]!),
      high: Math.min(most, Math.floor((max - neutral) / step) - model.clicks[q]!),
    }
  })
  const clicks = controls.map(() => 0)
  const channels = patches.map((_, p) => channelsUnder(model, p, clicks))
  const wanted = patches.map((p) => target.xyzOf(p.signal))
  const weights = patches.map(weightOf)
  const total = weights.reduce((a, b) => a + b, 0)
  const point = xyToXyz(target.whitePoint, target.white)
  const wantedLab = wanted.map((xyz) => xyzToLab(xyz, point))
  const errorAt = (p: number) => deltaE2000(wantedLab[p]!, xyzToLab(model.toXyz(channels[p]!), point))
  const errors = patches.map((_, p) => errorAt(p))
  const perClick = controls.map((c) => PER_CLICK / Math.sqrt(reachOf(c.control)))
  let sum = errors.reduce((s, e, p) => s + e * weights[p]!, 0)
  let away = 0
  let best = sum / total
  const touched = controls.map((_, q) =>
    patches.flatMap((_p, p) => (model.response[p]![q]!.some((v) => Math.abs(v) > 1e-7) ? [p] : [])),
  )
  /** Adds clicks of a control, and reckons anew what it moves. */
  const shift = (q: number, n: number) => {
    away += perClick[q]! * (Math.abs(clicks[q]! + n) - Math.abs(clicks[q]!))
    clicks[q] = clicks[q]! + n
    for (const p of touched[q]!) {
      const [own, response] = [channels[p]!, model.response[p]![q]!]
      own[0] += n * response[0]
      own[1] += n * response[1]
      own[2] += n * response[2]
    }
  }
  const reckon = (list: readonly number[]) => {
    for (const p of list) {
      const error = errorAt(p)
      sum += weights[p]! * (error - errors[p]!)
      errors[p] = error
    }
  }
  const fits = (q: number, n: number) => clicks[q]! + n >= ranges[q]!.low && clicks[q]! + n <= ranges[q]!.high
  const attempt = (q: number, n: number, r = -1, m = 0): boolean => {
    if (!fits(q, n) || (r >= 0 && !fits(r, m))) return false
    const affected = r < 0 ? touched[q]! : touched[q]!.length > touched[r]!.length ? touched[q]! : touched[r]!
    const saved = affected.map((p) => errors[p]!)
    const before = sum
    shift(q, n)
    if (r >= 0) shift(r, m)
    reckon(affected)
    if (sum / total + away < best - 1e-6) {
      best = sum / total + away
      return true
    }
    shift(q, -n)
    if (r >= 0) shift(r, -m)
    affected.forEach((p, i) => {
      errors[p] = saved[i]!
    })
    sum = before
    return false
  }
  for (let round = 0; round < 10; round++) {
    let improved = false
    for (let q = 0; q < controls.length; q++)
      for (let n = 1; n <= NEAR; n++) {
        while (attempt(q, n)) improved = true
        while (attempt(q, -n)) improved = true
      }
    // Two controls of one colour against each other.
    for (let q = 0; q < controls.length; q++)
      for (let r = q + 1; r < controls.length; r++) {
        if (controls[q]!.colour !== controls[r]!.colour) continue
        for (const n of [-1, 1]) for (const m of [-1, 1]) while (attempt(q, n, r, m)) improved = true
      }
    if (!improved) break
  }
  // What brings less than anybody sees is taken back.
  for (const [q, n] of [...clicks.entries()].sort((a, b) => Math.abs(a[1]) - Math.abs(b[1]))) {
    if (n === 0) continue
    const before = sum / total
    shift(q, -n)
    reckon(touched[q]!)
    if (sum / total <= before + TAKEN_BACK) continue
    shift(q, n)
    reckon(touched[q]!)
  }
  return { clicks, error: weightedMean(patches, errors) }
}

/** Turns of hue whose direction nobody knows yet: a few clicks where a colour's hue is off, to learn which way they go. */
const exploreHue = (
  context: RouteContext,
  model: ColourModel,
  target: Target,
  allowed: readonly ColourControl[],
  clicks: readonly number[],
): readonly number[] => {
  const out = [...clicks]
  for (const [q, control] of model.controls.entries()) {
    if (control.kind !== 'hue' || !allowed.includes(control)) continue
    const known =
      context.facts.priors.some((l) => l.kind === 'colour' && l.control === control.control.key) ||
      context.facts.readings.some(
        (r) => clicksOfState(control, r.state) !== clicksOfState(control, context.facts.state),
      )
    if (known) continue
    const own = model.patches.flatMap((p, i) => {
      if (control.colour && p.key !== `muted-${control.colour}`) return []
      const off = channelsUnder(model, i, clicks).map((v, c) => v - lightOfPatch(p, target)[c]!)
      const size = Math.hypot(...off)
      return [size]
    })
    const off = own.length ? Math.max(...own) : 0
    const reach = reachOf(control.control)
    // A muted colour is moved by its own control about half as far as a full one.
    const size = Math.round((off / 0.1) * reach * 0.6)
    if (size >= 1) out[q] = Math.min(size, Math.round(reach / 4))
  }
  return out
}
const clicksOfState = (control: ColourControl, state: State): number => Number(state[control.control.key])

/** Share by which all colours may be too strong or too weak together before the control for all of them is used first. */
const STRENGTH_OFF = 0.05
/** Most moves of it. */
const MOST_FOR_ALL = 2

/**
 * The controls that colour is adjusted with now. Where each colour has its own they do the work, and those for all colours stay where they
 * are; but strength that is off for all colours alike is first mended where it belongs.
 */
const controlsAtHand = (
  context: RouteContext,
  model: ColourModel,
  target: Target,
  movable: readonly ColourControl[],
): readonly ColourControl[] => {
  const { facts } = context
  const single = movable.filter((c) => c.colour)
  if (single.length < 3) return movable
  const strength = movable.find((c) => !c.colour && c.kind === 'saturation')
  const begun = facts.adjustments.some((m) =>
    m.changes.some((c) => single.some((s) => s.control.key === c.control)),
  )
  const made = facts.adjustments.filter((m) =>
    m.changes.some((c) => c.control === strength?.control.key),
  ).length
  if (!strength || begun || made >= MOST_FOR_ALL) return single
  let [xy, xx] = [0, 0]
  for (const [p, patch] of model.patches.entries()) {
    // Full colours end where the panel ends: what is between them tells.
    if (!model.observed.has(patch.key) || SIX_COLOURS.some((one) => one.key === patch.key)) continue
    const light = lightOfPatch(patch, target)
    const response = responseOfAll(strength, light)
    for (const c of [0, 1, 2] as const) {
      xy += response[c] * (model.base[p]![c] - light[c])
      xx += response[c] ** 2
    }
  }
  return Math.abs(xy / Math.max(1e-12, xx)) > STRENGTH_OFF ? [strength] : single
}

/**
 * What colours are made of under the gamut that is on, and the light of the panel then: the factory's primaries, or those that were read
 * under another gamut. A colour that was not read yet is expected to be mixed of them.
 */
const matrixOfGamut = (
  context: RouteContext,
  model: GreyModel | undefined,
): { channelMatrix: ChannelMatrix; light: number } | undefined => {
  const { byRole, facts, factory, channelMatrix } = context
  if (!channelMatrix || !factory) return undefined
  const lightOf = (state: State) => model?.lightOf(state) ?? 1
  const now = lightOf(facts.state)
  const { gamut } = byRole
  if (!gamut || factory.state[gamut.key] === facts.state[gamut.key]) return { channelMatrix, light: now }
  const atRest = (state: State) =>
    byRole.colours.every((c) => state[c.control.key] === (c.control.neutral ?? c.control.default))
  const [red, green, blue] = ['red', 'green', 'blue'].map((key) =>
    facts.readings.findLast(
      (r) =>
        r.patch.key === key &&
        differsIn(facts.sheet, APART, r.state, facts.state).length === 0 &&
        atRest(r.state),
    ),
  )
  if (!red || !green || !blue) return { channelMatrix, light: now }
  const then = lightOf(red.state)
  const black = channelMatrix.black.map((v) => v * then) as unknown as XYZ
  const own = channelMatrixOf(red.xyz, green.xyz, blue.xyz, black)
  return own ? { channelMatrix: own, light: now / then } : { channelMatrix, light: now }
}

// ---------------------------------------------------------------- the step

/** Models of colours and their solutions are kept: readings of greys and of processing leave them as they were. */
const colourModels = rememberFor<ControlSheet, ColourModel>(6)
const colourSolutions = rememberFor<
  ColourModel,
  { readonly clicks: readonly number[]; readonly error: number }
>(4)

/**
 * The colour step: colour management, or colour and hue of everything, for the least error of natural and full colours; no change
 * where none is needed.
 */
export const colourStep = (
  context: RouteContext,
  verified: boolean,
): { plan: StepPlan; findings?: ColourFindings } => {
  const { facts, byRole } = context
  const gamut = gamutPart(context)
  const model = context.grey()
  const white = whiteOf(context, facts.state)
  const mixed = matrixOfGamut(context, model)
  if (!mixed || !white) return { plan: done('') }
  const target = colourTarget(context, white)
  const movable = byRole.colours.filter((c) => context.movable(c.control))
  const patches = [...SIX_MUTED, ...SIX_COLOURS, ...MEMORY_COLOURS].filter(
    (p) => !facts.leftOut.includes(p.key),
  )
  const observations = observationsOf(context, model)
  const learned = colourModels(
    facts.sheet,
    JSON.stringify([
      mixed.channelMatrix.matrix,
      mixed.channelMatrix.black,
      [mixed.light, white, target.black, facts.targets, facts.precision],
      patches.map((p) => p.key),
      movable.map((c) => c.control.key),
      observations.map((o) => [o.patch.key, o.xyz, o.sigma, o.brought, colourKey(context, o.state)]),
      colourKey(context, facts.state),
      identityOf(facts.priors),
    ]),
    () =>
      fitColourModel({
        channelMatrix: mixed.channelMatrix,
        light: mixed.light,
        white,
        target,
        patches,
        controls: movable,
        observations,
        precision: facts.precision,
        priors: facts.priors,
        now: facts.state,
      }),
  )
  const still = learned.clicks.map(() => 0)
  const errors = errorsUnder(learned, target, still)
  const error = weightedMean(patches, errors)
  const controls = controlsAtHand(context, learned, target, movable)
  const keys = new Set(controls.map((c) => c.control.key))
  const adjustments = facts.adjustments.filter((m) => m.changes.some((c) => keys.has(c.control)))
  const worth = verified ? WORTH_AGAIN : adjustments.length === 0 ? WORTH_BEGINNING : WORTH_GOING_ON
  // No search can gain more than there is.
  const solved =
    controls.length && error > worth
      ? colourSolutions(
          learned,
          JSON.stringify([target.white, target.black, facts.targets, controls.map((c) => c.control.key)]),
          () => solveColours(learned, target, controls),
        )
      : { clicks: still, error }
  const findings: ColourFindings = {
    model: learned,
    error,
    best: solved.error,
    errors: patches.map((p, i) => ({ patch: p.key, label: p.label, error: errors[i]! })),
    gamuts: gamut?.options ?? [],
  }
  const readingIds = facts.readings.filter((r) => greyLevel(r.patch) === undefined).map((r) => r.id)
  const natural = patches.flatMap((p, i) => (p.key.startsWith('natural-') ? [errors[i]!] : []))
  const mean = natural.reduce((a, b) => a + b, 0) / Math.max(1, natural.length)
  const finish = (note: string, limits: Limit[] = []): { plan: StepPlan; findings: ColourFindings } => {
    const changed = movable.filter(
      (c) => facts.state[c.control.key] !== (c.control.neutral ?? c.control.default),
    )
    return {
      plan: done(note, {
        derived: [
          ...(gamut?.plan.derived ?? []),
          ...changed.map((c) => ({
            control: c.control.key,
            step: 'colour' as const,
            value: facts.state[c.control.key]!,
            rule: 'least error of natural colours and the six full ones',
            readingIds: readingIds,
          })),
        ],
        limits,
        more: { gain: Math.max(0, error - solved.error), readings: SIX_COLOURS.length },
      }),
      findings,
    }
  }
  if (controls.length === 0)
    return finish(
      `average ΔE00 ${mean.toFixed(1)}`,
      mean > 1.5
        ? [
            {
              step: 'colour',
              sentence:
                'There is nothing to adjust colour with here: it ends where white and gamut leave it.',
            },
          ]
        : [],
    )
  const read = (p: Patch) =>
    facts.readings.some(
      (r) =>
        r.patch.key === p.key && differsIn(facts.sheet, RESTS_ON.colour, r.state, facts.state).length === 0,
    )
  const gain = error - solved.error
  if (gain < worth || adjustments.length >= MOST_ADJUSTMENTS)
    return finish(
      adjustments.length === 0
        ? `no change needed: average ΔE00 ${mean.toFixed(1)}`
        : `average ΔE00 ${mean.toFixed(1)}`,
    )
  const missing = SIX_MUTED.filter((p) => !facts.leftOut.includes(p.key) && !read(p))
  // Colours that were read under another white and cannot be brought over have to be read first.
  const known = patches.every(
    (p) => observations.some((o) => o.patch.key === p.key) || p.key.startsWith('muted-'),
  )
  if (missing.length > 0 && adjustments.length === 0 && !known)
    return {
      plan: open({
        kind: 'adjust',
        adjustment: {
          step: 'colour',
          changes: [],
          reads: missing,
          purpose: 'Reads the six colours, muted, under the new white before anything is moved.',
          predictions: [],
        },
      }),
      findings,
    }
  const clicks =
    adjustments.length === 0 ? exploreHue(context, learned, target, controls, solved.clicks) : solved.clicks
  const changes = movable.flatMap((c, q): Change[] => {
    if (clicks[q] === 0) return []
    const from = facts.state[c.control.key]!
    const to = valueAt(c.control, Number(from) + clicks[q]! * c.control.range.step)
    return from === to ? [] : [{ control: c.control.key, from, to }]
  })
  if (changes.length === 0) return finish(`average ΔE00 ${mean.toFixed(1)}`)
  const colours = new Set(changes.map((ch) => controls.find((c) => c.control.key === ch.control)?.colour))
  const reads = colours.has(undefined)
    ? [...SIX_MUTED]
    : SIX_MUTED.filter((p) => colours.has(p.key.replace('muted-', '') as never))
  const after = errorsUnder(learned, target, clicks)
  const adjustment: Adjustment = {
    step: 'colour',
    changes,
    reads,
    purpose: colours.has(undefined)
      ? 'Brings all colours nearer to their targets.'
      : `Brings ${[...colours].join(', ')} nearer, and what is mixed of ${colours.size > 1 ? 'them' : 'it'}.`,
    expected: {
      quantity: 'colour-error',
      before: error,
      after: weightedMean(patches, after),
      sigma: Math.max(0.05, 0.3 * Math.abs(error - weightedMean(patches, after))),
    },
    predictions: reads.map((p) => {
      const i = patches.findIndex((one) => one.key === p.key)
      return {
        patch: p.key,
        quantity: 'colour-error' as const,
        before: errors[i]!,
        after: after[i]!,
        sigma: 0.15 + 0.35 * Math.abs(errors[i]! - after[i]!),
      }
    }),
  }
  return { plan: open({ kind: 'adjust', adjustment }), findings }
}
