import {
  type Change,
  type Control,
  type ControlSheet,
  controlByRole,
  factoryValue,
  greyedOut,
  type State,
} from '#core/display'
import { settledIn } from '#core/guide/compose'
import type { CaseDocument, GuideValue } from '#core/guide/document'
import type { SignalKind } from '#core/signal'

/** What a table publishes: every control with its value, groups taken apart, values that are kept back left out. */
export const publishedIn = ({ document, sheet }: CheckedCase): State => {
  const chooser = controlByRole(sheet, 'picture-mode')
  const mode = document.values.find((v) => v.control === chooser?.key)?.value
  return Object.fromEntries(
    document.values.flatMap((v) =>
      v.withheld || v.origin === 'not-measured'
        ? []
        : v.covers
          ? sheet.controls
              .filter((c) => v.covers?.includes(c.key))
              .map((c) => [c.key, factoryValue(c, mode === undefined ? undefined : String(mode))])
          : [[v.control, v.value]],
    ),
  )
}

export const withheldIn = ({ document }: CheckedCase): ReadonlySet<string> =>
  new Set(document.values.flatMap((v) => (v.withheld ? (v.covers ?? [v.control]) : [])))

/** Names of controls in a sentence, the first of them where they are many. */
export const namesOf = (of: ReadonlyArray<{ readonly label: string }>): string => {
  const named = of.slice(0, MOST_NAMED).map((c) => `“${c.label}”`)
  const more = of.length - named.length
  if (more > 0) return `${named.join(', ')} and ${more} more`
  return named.length > 1 ? `${named.slice(0, -1).join(', ')} and ${named.at(-1)}` : (named[0] ?? '')
}
export const MOST_NAMED = 3

export const pathOf = (v: Pick<GuideValue, 'path' | 'label'>) => [...v.path, v.label].join(' › ')

/** Rows that a reader who sets the table from the top down finds greyed out at that moment. */
export const outOfOrder = (of: CheckedCase): Array<{ control: Control; reason: string }> => {
  const { sheet, kind, document } = of
  const final = publishedIn(of)
  const chooser = controlByRole(sheet, 'picture-mode')
  // The mode is chosen first, and brings its own values.
  let state: State = {
    ...settledIn(sheet, final, kind).factory,
    ...(chooser ? { [chooser.key]: final[chooser.key]! } : {}),
  }
  return document.values.flatMap((v) => {
    const control = sheet.controls.find((c) => c.key === v.control)
    if (!control || v.covers || v.withheld || !v.changed || control === chooser) return []
    const now = greyedOut(sheet, control, state, kind)
    state = { ...state, [control.key]: v.value }
    // What stays greyed out is another rule's.
    return now && !greyedOut(sheet, control, final, kind) ? [{ control, reason: now }] : []
  })
}

/** A case of a draft, with what only its session knows. */
export interface CheckedCase {
  readonly document: CaseDocument
  readonly sheet: ControlSheet
  readonly kind: SignalKind
  /** State that was verified last; undefined where none was. */
  readonly verified: State | undefined
  /** The session has gone on since this was composed. */
  readonly outdated: boolean
  /** In what the signal that arrived differs from the one that was sent. */
  readonly signalProblems: readonly string[]
  /** The newest firmware that is known of the model. */
  readonly newestFirmware: string
  /** Average ΔE00 of the greys that more adjustments would gain; 0 where none would. */
  readonly couldGain: number
  /** Controls whose value nobody has seen where this case uses it: neither set nor confirmed, read back or left by a reset. */
  readonly unseen: readonly string[]
  /** What the display holds otherwise by now in this case’s own places: `from` is there, `to` is what the case has left. */
  readonly strayed: readonly Change[]
}
