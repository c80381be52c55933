import type { ControlSheet } from '#core/display'
import { STEP_TITLE, type StepKey } from '#core/steps'
import type { Route } from './route'

/** Below this gain in average ΔE00 nobody sees what more readings would bring. */
const SEEN = 0.15

/** What keeps a step from its aim for good, rather than being left out or not judged. */
const ENDS: ReadonlySet<string> = new Set(['end-of-range', 'primaries-alike', 'white-outside'])

const NOTHING_SEEN = `Going on would gain less than ΔE00 ${SEEN} at every step that can still be adjusted.`

/** A step that ended before all was gained, and what going on would gain, average ΔE00. */
export type GoingOn = Route['more'][number]

/** Why a case is at its end. */
export interface Ending {
  /** One sentence for each reason, the weightiest first; never empty. */
  readonly sentences: readonly string[]
  readonly goingOn?: GoingOn
}

/** What going on would gain most, where somebody would see it. */
const goingOnAt = ({ more }: Pick<Route, 'more'>): GoingOn | undefined => {
  const [most] = more.filter((m) => m.gain > SEEN && m.readings > 0).sort((a, b) => b.gain - a.gain)
  return most
}

/** When rows of the menu that copy values elsewhere are used: once everything is set; undefined where the menu has none. */
export const sayCopy = (sheet: ControlSheet): string | undefined => {
  const labels = sheet.controls
    .filter((c) => c.role === 'copy')
    .map((c) => `“${[...c.path, c.label].join(' › ')}”`)
  return labels.length
    ? `${labels.join(' and ')} ${labels.length === 1 ? 'brings' : 'bring'} these values to other inputs: use ${labels.length === 1 ? 'it' : 'them'} now, not before.`
    : undefined
}

/**
 * Why a case ends where it does: steps that stopped, with what going on would gain; controls at the end of their range, each named;
 * steps that were left out by choice; or that nothing is left to be gained. In: route that has nothing more to do, reasons by step that was skipped.
 */
export const endingOf = (
  route: Pick<Route, 'more' | 'limits'>,
  skipped: Readonly<Partial<Record<StepKey, string>>>,
): Ending => {
  const goingOn = goingOnAt(route)
  const stopped = [...route.more]
    .filter((m) => m.gain > SEEN)
    .sort((a, b) => b.gain - a.gain)
    .map((m) => m.sentence)
  const ends = route.limits.filter((l) => ENDS.has(l.kind)).map((l) => l.sentence)
  const left = Object.keys(skipped).map((key) => STEP_TITLE[key as StepKey])
  const sentences = [
    ...stopped,
    ...ends,
    ...(left.length ? [`Left out by choice: ${left.join(', ')}.`] : []),
    ...(stopped.length || ends.length
      ? []
      : [route.more.length ? NOTHING_SEEN : 'Every step of the case was gone through.']),
  ]
  return { sentences: [...new Set(sentences)], ...(goingOn ? { goingOn } : {}) }
}
