import type { State } from '#core/display'
import { colourError } from '#core/judge'
import { isMuted, type Patch } from '#core/measure'
import {
  type ColourControl,
  type ColourModel,
  channelsUnder,
  lightOfPatch,
  reachOf,
  turnOf,
} from '#core/model'
import { errorsUnder, weightedMean } from '#core/solve'
import type { Target } from '#core/target'
import type { RouteContext } from '../facts/context'
import { differsIn, type RouteReading } from '../facts/facts'
import { COLOUR } from '../rests-on'
import { colourKey } from './colour-readings'

type Kind = ColourControl['kind']
/** Kinds of which a display does not say beforehand what they do to a colour, in the order in which they are tried. */
const TO_BE_LEARNED: readonly Kind[] = ['saturation', 'hue', 'luminance']

/** Whether it was seen already what a control does, here or in an earlier case. */
export const isLearned = ({ facts }: RouteContext, control: ColourControl): boolean =>
  facts.priors.some((l) => l.kind === 'colour' && l.control === control.control.key) ||
  facts.readings.some((r) => clicksOfState(control, r.state) !== clicksOfState(control, facts.state))

/** A state of colour management in which all that is checked was read, and the weighted average ΔE00 that was measured in it. */
interface MeasuredState {
  readonly key: string
  readonly state: State
  readonly error: number
}

/** States of colour management under the present white that were read whole, oldest first. In: context, target, patches that count. */
export const measuredStates = (
  context: RouteContext,
  target: Target,
  checks: readonly Patch[],
): readonly MeasuredState[] => {
  const { facts } = context
  const states = new Map<string, { state: State; readonly read: Map<string, RouteReading> }>()
  for (const r of facts.readings) {
    if (!checks.some((p) => p.key === r.patch.key)) continue
    if (differsIn(facts, COLOUR, r.state, facts.state).length) continue
    const key = colourKey(context, r.state)
    const one = states.get(key) ?? { state: r.state, read: new Map<string, RouteReading>() }
    one.read.set(r.patch.key, r)
    states.set(key, one)
  }
  return [...states].flatMap(([key, { state, read }]) =>
    checks.every((p) => read.has(p.key))
      ? [
          {
            key,
            state,
            error: weightedMean(
              checks,
              checks.map((p) => colourError(read.get(p.key)!.xyz, target.xyzOf(p.signal), target).deltaE),
              { absolute: context.scale.absolute },
            ),
          },
        ]
      : [],
  )
}

/** Moves beyond the usual: one for each kind but the first that has to be learned before it is of use. */
export const learnedKinds = (controls: readonly ColourControl[]): number =>
  Math.max(0, TO_BE_LEARNED.filter((kind) => controls.some((c) => c.colour && c.kind === kind)).length - 1)

/**
 * Error of the six colours that turning their hue might take away, average ΔE00, as long as nobody knows which way the controls turn: half of
 * what lies along the turn. 0 where there is no such control, or it is known. In: context, model, target, controls.
 */
export const hueOff = (
  context: RouteContext,
  model: ColourModel,
  target: Target,
  controls: readonly ColourControl[],
): number => {
  const turns = controls.filter((c) => c.colour && c.kind === 'hue' && !isLearned(context, c))
  if (turns.length === 0) return 0
  const errors = errorsUnder(
    model,
    target,
    model.clicks.map(() => 0),
  )
  const along = turns.map(({ colour }) => {
    const p = model.patches.findIndex((patch) => isMuted(patch, colour))
    if (p < 0) return 0
    const light = lightOfPatch(model.patches[p]!, target)
    const off = model.base[p]!.map((v, c) => v - light[c]!)
    const turn = turnOf(colour!)
    const size = Math.hypot(...off) * Math.hypot(...turn)
    return size > 0 ? (errors[p]! * Math.abs(off.reduce((sum, v, c) => sum + v * turn[c]!, 0))) / size : 0
  })
  return along.reduce((a, b) => a + b, 0) / 2 / along.length
}

/**
 * Turns of hue whose direction nobody knows yet: a few clicks where a colour's hue is off, to learn which way they go. In: context, model,
 * target, controls that may be moved, clicks so far. Out: clicks with those turns.
 */
export const exploreHue = (
  context: RouteContext,
  model: ColourModel,
  target: Target,
  allowed: readonly ColourControl[],
  clicks: readonly number[],
): readonly number[] => {
  const out = [...clicks]
  for (const [q, control] of model.controls.entries()) {
    if (control.kind !== 'hue' || !allowed.includes(control) || isLearned(context, control)) continue
    const own = model.patches.flatMap((p, i) => {
      if (control.colour && !isMuted(p, control.colour)) return []
      const off = channelsUnder(model, i, clicks).map((v, c) => v - lightOfPatch(p, target)[c]!)
      return [Math.hypot(...off)]
    })
    const off = own.length ? Math.max(...own) : 0
    const reach = reachOf(control.control)
    // A muted colour is moved by its own control about half as far as a full one.
    const size = Math.round((off / 0.1) * reach * 0.6)
    if (size >= 1) out[q] = Math.min(size, Math.round(reach / 6))
  }
  return out
}

/**
 * Controls in sets of which the first that gains enough is moved: where each colour has hue, saturation and luminance, six readings cannot tell
 * three unknown kinds apart, so each unknown kind is first moved by itself. In: context, controls at hand.
 */
export const setsToTry = (
  context: RouteContext,
  controls: readonly ColourControl[],
): ReadonlyArray<readonly ColourControl[]> => {
  const unknown = TO_BE_LEARNED.filter((kind) => {
    const own = controls.filter((c) => c.colour && c.kind === kind)
    return own.length > 0 && !own.some((c) => isLearned(context, c))
  })
  const kinds = new Set(controls.filter((c) => c.colour).map((c) => c.kind))
  if (unknown.length === 0 || kinds.size < 2) return [controls]
  return unknown.map((kind) => controls.filter((c) => c.colour && c.kind === kind))
}
const clicksOfState = (control: ColourControl, state: State): number => Number(state[control.control.key])
