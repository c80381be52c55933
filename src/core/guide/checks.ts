import { type ControlSheet, type State, stateProblems } from '#core/display'
import type { GuideDocument } from './document'

export interface GuideFinding {
  /** `stop`: must be mended before publishing. `look`: worth a look. */
  readonly weight: 'stop' | 'look'
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
  const look = (text: string) => findings.push({ weight: 'look', text })
  const published: State = Object.fromEntries(document.values.map((v) => [v.control, v.value]))

  for (const problem of stateProblems(
    { ...sheet, controls: sheet.controls.filter((c) => c.role !== 'sound') },
    published,
  ))
    stop(problem)
  if (!verifiedState) stop('The final settings were not verified by a sweep.')
  else
    for (const value of document.values)
      if (verifiedState[value.control] !== value.value)
        stop(
          `“${value.label}” was ${verifiedState[value.control]} when it was verified, the guide says ${value.shown}.`,
        )
  for (const value of document.values) {
    const measured = value.role === 'peak-luminance' || value.role === 'gain' || value.role === 'cut'
    if (value.changed && measured && value.readings.length === 0)
      look(`“${value.label}” rests on no reading: it was set by hand.`)
  }
  for (const sentence of document.worse) look(`Worse than before: ${sentence}`)
  if (!document.summary.trim()) stop('The summary is empty.')
  if (document.otherSizes.length > 0)
    look(`Not measured: ${document.otherSizes.join(', ')} inch. The guide says so.`)
  return findings.sort((a, b) => (a.weight === b.weight ? 0 : a.weight === 'stop' ? -1 : 1))
}
