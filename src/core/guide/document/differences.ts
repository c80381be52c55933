import type { CaseDocument } from './case-document'
import type { GuideDocument } from './guide-document'

/** A value that two revisions of a guide show differently; null where one has no such row. */
export interface ValueDifference {
  readonly case: string
  readonly caseLabel: string
  readonly control: string
  readonly path: string
  readonly before: string | null
  readonly after: string | null
  /** Why, as far as the newer one says. */
  readonly why: string
}

export interface GuideDifferences {
  readonly values: readonly ValueDifference[]
  /** Labels of cases that came, and that went. */
  readonly casesAdded: readonly string[]
  readonly casesRemoved: readonly string[]
  /** What was measured anew, with what: one sentence for each case. */
  readonly measured: readonly string[]
  readonly wordsChanged: boolean
}

const rowsOf = (of: CaseDocument) => new Map(of.values.map((v) => [v.control, v]))

const measuredAnew = (before: CaseDocument, after: CaseDocument): string[] => {
  const [a, b] = [before.display, after.display]
  const what = [
    ...(a.serial === b.serial ? [] : [`unit ${a.unit} → ${b.unit}`]),
    ...(a.firmware === b.firmware ? [] : [`firmware ${a.firmware} → ${b.firmware}`]),
    ...(before.method.measuredOn === after.method.measuredOn &&
    before.method.readings === after.method.readings
      ? []
      : [`measured ${before.method.measuredOn} → ${after.method.measuredOn}`]),
  ]
  return what.length ? [`${after.viewingCase.label}: ${what.join(', ')}.`] : []
}

const textsOf = (guide: GuideDocument) =>
  JSON.stringify([
    guide.title,
    guide.summary,
    guide.words,
    guide.cases.map((c) => [c.words, c.values.map((v) => [v.words, v.transfer, v.transferReason])]),
  ])

/** In what two revisions of a guide differ, by value. In: older and newer. */
export const guideDifferences = (before: GuideDocument, after: GuideDocument): GuideDifferences => {
  const labels = (cases: readonly CaseDocument[]) => cases.map((c) => c.viewingCase.label)
  const of = (guide: GuideDocument, key: string) => guide.cases.find((c) => c.viewingCase.key === key)
  const both = after.cases.flatMap((b) => {
    const a = of(before, b.viewingCase.key)
    return a ? [{ a, b }] : []
  })
  return {
    casesAdded: labels(after.cases.filter((c) => !of(before, c.viewingCase.key))),
    casesRemoved: labels(before.cases.filter((c) => !of(after, c.viewingCase.key))),
    measured: both.flatMap(({ a, b }) => measuredAnew(a, b)),
    wordsChanged: textsOf(before) !== textsOf(after),
    values: both.flatMap(({ a, b }) => {
      const [older, newer] = [rowsOf(a), rowsOf(b)]
      return [...new Set([...newer.keys(), ...older.keys()])].flatMap((control): ValueDifference[] => {
        const [o, n] = [older.get(control), newer.get(control)]
        if (o?.shown === n?.shown) return []
        const row = (n ?? o)!
        return [
          {
            case: b.viewingCase.key,
            caseLabel: b.viewingCase.label,
            control,
            path: [...row.path, row.label].join(' › '),
            before: o?.shown ?? null,
            after: n?.shown ?? null,
            why: n?.rule ?? '',
          },
        ]
      })
    }),
  }
}
