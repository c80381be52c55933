import type { Change, NumberControl } from '#core/display'
import { CHANNELS } from '#core/model'
import type { Derived } from '../contract'
import type { RouteContext } from '../facts/context'

const HALF = { gain: 'the bright half', cut: 'the dark half' } as const

export const purposeOf = (
  controls: readonly NumberControl[],
  changes: readonly Change[],
  green: boolean,
): string => {
  const ofRole = (role: 'gain' | 'cut') =>
    changes.flatMap((change) => {
      const c = controls.find((one) => one.key === change.control)
      return c?.role === role && c.channel
        ? [`${Number(change.to) > Number(change.from) ? 'adds' : 'takes out'} ${c.channel}`]
        : []
    })
  const parts = (['gain', 'cut'] as const).flatMap((role) => {
    const own = ofRole(role)
    return own.length ? [`${own.join(', ')} in ${HALF[role]}`] : []
  })
  const text = parts.join('; ')
  return `${text.charAt(0).toUpperCase()}${text.slice(1)}.${green ? '' : ' Green stays as it is.'}`
}

/** The control that stands at the end of its range where more of it was wanted. */
export const endReached = (
  context: RouteContext,
  controls: readonly NumberControl[],
): NumberControl | undefined =>
  controls.find((c) => {
    const value = Number(context.facts.state[c.key])
    const end = value <= c.range.min || value >= c.range.max
    return end && value !== (c.neutral ?? c.default)
  })

/** Gains and cuts as values that the route derived. */
export const derivedPairs = (
  { facts, scale, patches, byRole }: RouteContext,
  readingIds: readonly number[],
  green: boolean,
  forced = false,
): Derived[] => {
  const how = !green ? 'green left alone' : forced ? scale.sayGreenForced : 'green free'
  return (['gain', 'cut'] as const).flatMap((pair) =>
    CHANNELS.flatMap((channel): Derived[] => {
      const c = byRole[pair][channel]
      return c
        ? [
            {
              control: c.key,
              value: facts.state[c.key]!,
              rule: `least average greyscale ΔE ${scale.sayGreys(patches)}, ${how}`,
              readingIds,
            },
          ]
        : []
    }),
  )
}
