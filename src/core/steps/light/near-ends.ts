import { type Control, type NumberControl, type Role, STRENGTHS, type State } from '#core/display'
import { greyLevel, type Patch } from '#core/measure'
import { affectsGrey } from '#core/model'
import { type Derived, open, type StepPlan } from '../contract'
import type { RouteContext } from '../facts/context'
import { differsIn, type RouteReading } from '../facts/facts'
import { ENDS } from '../rests-on'

export const ONE_CURVE: readonly Role[] = ['picture-mode', 'dynamic-contrast', 'range']
export const ONE_BLACK: readonly Role[] = [...ONE_CURVE, 'tone-curve', ...STRENGTHS]
/** What an end rests on, white balance aside: a few clicks of it hardly move an end. */
export const BUT_WHITE: readonly Role[] = ENDS.filter((role) => role !== 'gain' && role !== 'cut')

export const percentOf = (level: number) => `${Number((100 * level).toFixed(1))} %`

/**
 * Readings near an end that belong together, under whatever panel light: the newest settings, of those that nothing that levels rest on was other than
 * now in, under which all wanted levels were read; else what was read of them in the settings of now.
 */
export const nearReadings = (
  context: RouteContext,
  again: boolean,
  own: Control | undefined,
  wanted: readonly Patch[],
): Map<number, RouteReading> => {
  const { facts, byRole } = context
  const roles = again ? ENDS : BUT_WHITE
  const light = byRole.light?.key
  const groups = new Map<string, Map<number, RouteReading>>()
  const greysKey = (state: State) =>
    [...facts.sheet.controls.filter((c) => affectsGrey(c)).map((c) => c.key), light]
      .map((key) => key && state[key])
      .join(';')
  for (const r of facts.readings) {
    const level = greyLevel(r.patch)
    if (level === undefined) continue
    if (differsIn(facts, roles, r.state, facts.state).length > 0) continue
    if (own && r.state[own.key] !== facts.state[own.key]) continue
    const key = greysKey(r.state)
    const group = groups.get(key) ?? new Map<number, RouteReading>()
    group.set(level, r)
    // The newest group comes last.
    groups.delete(key)
    groups.set(key, group)
  }
  const needed = wanted.filter((p) => !facts.leftOut.includes(p.key)).map((p) => p.signal[0])
  const whole = [...groups.values()].findLast((g) => needed.every((l) => g.has(l)))
  return whole ?? groups.get(greysKey(facts.state)) ?? new Map()
}

/** Steps at an end that are read before anything is moved. */
export const readFirst = (reads: readonly Patch[], purpose: string): StepPlan =>
  open({ kind: 'adjust', adjustment: { changes: [], reads, purpose, predictions: [] } })

/** Whether an earlier case of the unit or model found an end right at the value of now: then it is only checked again after white balance. */
export const knownEnd = (
  { facts }: RouteContext,
  control: NumberControl | undefined,
  which: 'black' | 'white',
  right: (mean: readonly number[]) => boolean,
): boolean =>
  control !== undefined &&
  facts.priors.some(
    (l) =>
      l.kind === 'clipping' &&
      l.control === control.key &&
      l.aspect === which &&
      l.at[0] === Number(facts.state[control.key]) &&
      right(l.mean),
  )
/** The value that an earlier case found right. */
export const keptEnd = ({ facts }: RouteContext, control: NumberControl | undefined): Derived[] =>
  control
    ? [
        {
          control: control.key,
          value: facts.state[control.key]!,
          rule: 'right at this value in an earlier case, checked again after white balance',
          readingIds: [],
        },
      ]
    : []

/** Whether white was moved after both ends were looked at, or they were taken from an earlier case. */
export const whiteMovedSince = ({ facts }: RouteContext): boolean => {
  const near = facts.readings.findLast((r) => r.patch.key === 'grey-98' || r.patch.key === 'grey-2')
  return near === undefined || differsIn(facts, TWO_POINT, near.state, facts.state).length > 0
}
const TWO_POINT: readonly Role[] = ['gain', 'cut']
