import {
  type CaseDocument,
  type GuideDocument,
  type GuideValue,
  plainProse,
  type TransferClass,
} from '#core/guide/document'

/** One setting of a follow-along. */
export interface FollowStep {
  readonly control: string
  /** Labels of the menu's pages on the way, and of the setting itself. */
  readonly path: readonly string[]
  readonly label: string
  readonly set: string
  /** What the display shows there out of the box. */
  readonly outOfBox: string
  readonly why: string
  readonly words: string
  readonly transfer: TransferClass
  /** Cases for which the display keeps the same value, with what they want; empty where it is this case's own. */
  readonly shares: string
}

const stepOf = (value: GuideValue, of: CaseDocument, guide: GuideDocument): FollowStep => {
  const one = guide.overwritten.find(
    (o) => o.control === value.control && o.cases.some((c) => c.key === of.viewingCase.key),
  )
  const others = one?.cases.filter((c) => c.key !== of.viewingCase.key) ?? []
  return {
    control: value.control,
    path: value.path,
    label: value.label,
    set: value.shown,
    outOfBox: value.comesAs,
    why: value.why,
    words: plainProse(value.words ?? ''),
    transfer: value.transfer,
    shares: others.map((c) => `${c.label} (${c.shown})`).join(', '),
  }
}

/**
 * The settings of a case one after the other, in an order in which none is greyed out: the mode, then the rest in menu order, each after what it
 * waits for. Values that fit one unit alone are left out unless they are asked for. In: guide, its case. Out: steps.
 */
export const followSteps = (guide: GuideDocument, of: CaseDocument, thisUnitToo = false): FollowStep[] => {
  const order = new Map(of.order?.map((control, i) => [control, i]))
  // What nobody measured comes after the picture.
  const place = (v: GuideValue) =>
    order.get(v.control) ?? (v.origin === 'not-measured' ? Number.MAX_SAFE_INTEGER : 0)
  return of.values
    .filter(
      (v) =>
        (v.changed || v.role === 'picture-mode') &&
        !v.covers &&
        !v.withheld &&
        (thisUnitToo || v.transfer !== 'this-unit-only'),
    )
    .toSorted((a, b) => place(a) - place(b))
    .map((v) => stepOf(v, of, guide))
}
