import {
  type ControlSheet,
  controlByRole,
  controlOf,
  factoryValue,
  type Role,
  type State,
  showValue,
  stateProblems,
} from '#core/display'
import type { GuideDocument } from './document'

/** Values that a meter tells: one that rests on no reading was set by hand. */
const MEASURED: ReadonlySet<Role> = new Set<Role>([
  'peak-luminance',
  'black-level',
  'white-level',
  'gain',
  'cut',
  'level-white',
  'level-tone',
  'colour-amount',
  'colour-luminance',
])

export interface GuideFinding {
  /** `stop`: must be mended before publishing. `look`: worth a look. */
  readonly weight: 'stop' | 'visual-check'
  readonly text: string
}

/**
 * Checks a guide before it is published.
 * In: document, the sheet it was made from, the state that was verified last (undefined: none). Out: findings, stops first.
 */
export const checkGuide = (
  document: GuideDocument,
  sheet: ControlSheet,
  verifiedState: State | undefined,
): GuideFinding[] => {
  const findings: GuideFinding[] = []
  const stop = (text: string) => findings.push({ weight: 'stop', text })
  const look = (text: string) => findings.push({ weight: 'visual-check', text })
  const chooser = controlByRole(sheet, 'picture-mode')
  const mode = document.values.find((v) => v.control === chooser?.key)?.value
  const withheld = new Set(document.values.flatMap((v) => (v.withheld ? (v.covers ?? [v.control]) : [])))
  const published: State = Object.fromEntries(
    document.values.flatMap((v) =>
      v.withheld
        ? []
        : v.covers
          ? sheet.controls
              .filter((c) => v.covers?.includes(c.key))
              .map((c) => [c.key, factoryValue(c, mode === undefined ? undefined : String(mode))])
          : [[v.control, v.value]],
    ),
  )

  for (const problem of stateProblems(
    { ...sheet, controls: sheet.controls.filter((c) => c.role !== 'sound' && !withheld.has(c.key)) },
    published,
  ))
    stop(problem)
  if (!verifiedState) stop('The final settings were not verified by a sweep.')
  else
    for (const [key, value] of Object.entries(published))
      if (verifiedState[key] !== value) {
        const control = controlOf(sheet, key)
        const was = verifiedState[key] === undefined ? 'unknown' : showValue(control, verifiedState[key])
        stop(
          `“${control.label}” was ${was} when it was verified, the guide says ${showValue(control, value)}.`,
        )
      }
  for (const value of document.values) {
    if (value.changed && MEASURED.has(value.role) && value.readings.length === 0)
      look(`“${value.label}” rests on no reading: it was set by hand.`)
  }
  for (const sentence of document.worse) look(`Worse than before: ${sentence}`)
  if (!document.summary.trim()) stop('The summary is empty.')
  if (document.otherSizes.length > 0)
    look(`Not measured: ${document.otherSizes.join(', ')} inch. The guide says so.`)
  return findings.sort((a, b) => (a.weight === b.weight ? 0 : a.weight === 'stop' ? -1 : 1))
}
