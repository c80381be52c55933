import { ROLES, type State } from '#core/display'
import type { Patch } from '#core/measure'
import { quoted } from '#core/model'
import { adjust, type StepPlan } from '../contract'
import type { WatchValue } from '../facts/asked'
import type { RouteContext } from '../facts/context'
import { changeTo } from '../facts/each-value'
import { keyOf, measuringStateOf, type RouteReading } from '../facts/facts'

/** White in the settings for watching: it counts among no greys, which are read for measuring. */
const WATCHED_KEY = 'white-watched'
const watchedWhite = ({ patches }: RouteContext): Patch => ({
  ...patches.white,
  key: WATCHED_KEY,
  label: 'White as it is watched',
  level: null,
})

/** How much of the light that is measured the picture gives while it is watched. */
export interface WatchedShare {
  /** 1 where nothing is lost. */
  readonly share: number
  readonly measured: RouteReading
  readonly watched: RouteReading
}

/** White that was read exactly in a state. */
const whiteIn = ({ facts, patches }: RouteContext, state: State): RouteReading | undefined => {
  const key = keyOf(facts, state)
  return facts.readings.findLast((r) => r.patch.key === patches.white.key && keyOf(facts, r.state) === key)
}

/**
 * What stays on while it is watched takes of white, as it was read last in this mode, whatever luminance stood at. Out: undefined where nothing stays on
 * that was off while it was measured, or it was not read.
 */
export const watchedShare = (context: RouteContext): WatchedShare | undefined => {
  const { facts, byRole } = context
  const mode = byRole.mode?.key
  const watched = facts.readings.findLast(
    (r) => r.patch.key === WATCHED_KEY && (mode === undefined || r.state[mode] === facts.state[mode]),
  )
  const measured = watched && whiteIn(context, measuringStateOf(facts, watched.state))
  if (!watched || !measured || measured.xyz[1] <= 0) return undefined
  return { share: watched.xyz[1] / measured.xyz[1], measured, watched }
}

/**
 * White with all that stays on while it is watched beside white as it is measured, so that the target is met in the state that is watched.
 * In: context with the state for watching; values for watching. Out: the next thing to read; undefined where all is known, or nothing that stays on acts on
 * light.
 */
export const watchedPart = (context: RouteContext, watch: readonly WatchValue[]): StepPlan | undefined => {
  const { facts, scale, patches } = context
  if (scale.absolute || facts.leftOut.includes(WATCHED_KEY) || facts.leftOut.includes(patches.white.key))
    return undefined
  const rest = measuringStateOf(facts, facts.state)
  const on = watch.filter(
    ({ control, value }) =>
      ROLES[control.role].measuring !== undefined && rest[control.key] !== value && context.movable(control),
  )
  if (on.length === 0) return undefined
  const known = watchedShare(context)
  if (known && on.every(({ control, value }) => known.watched.state[control.key] === value)) return undefined
  const names = on.map(({ control }) => quoted(control)).join(', ')
  const measured = whiteIn(context, rest) !== undefined
  return adjust({
    changes: facts.sheet.controls.flatMap((c) =>
      changeTo(
        facts.state,
        c,
        (measured ? on.find(({ control }) => control.key === c.key)?.value : undefined) ??
          rest[c.key] ??
          facts.state[c.key]!,
      ),
    ),
    reads: [measured ? watchedWhite(context) : patches.white],
    purpose: measured
      ? `Reads white as it is watched, with ${names}.`
      : `Reads white as it is measured, before it is read with ${names}.`,
    predictions: [],
  })
}
