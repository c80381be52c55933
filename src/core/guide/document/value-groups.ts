import type { GuideValue } from './case-document'

/** Values of one page of the menu; or of many pages that are labelled alike, as levels and colours are. */
export interface ValueGroup {
  readonly path: string
  readonly values: GuideValue[]
  /** Path that the pages have in common, where they stand in one table. */
  readonly pages?: string
}

/** Pages from which on they stand in one table. */
const MANY_PAGES = 3

/** Values in menu order by the page that they stand on; many pages that are labelled alike together. */
export const valueGroups = (values: readonly GuideValue[]): ValueGroup[] => {
  const out: Array<ValueGroup & { above: string }> = []
  for (const value of values) {
    const path = value.path.join(' › ')
    if (out.at(-1)?.path === path) out.at(-1)!.values.push(value)
    else out.push({ path, values: [value], above: value.path.slice(0, -1).join(' › ') })
  }
  const labels = (g: ValueGroup) => g.values.map((v) => v.label).join('|')
  const merged: ValueGroup[] = []
  for (let i = 0; i < out.length; ) {
    const first = out[i]!
    let end = i + 1
    while (
      end < out.length &&
      first.above &&
      out[end]!.above === first.above &&
      labels(out[end]!) === labels(first)
    )
      end++
    if (end - i >= MANY_PAGES)
      merged.push({
        path: first.path,
        pages: first.above,
        values: out.slice(i, end).flatMap((g) => g.values),
      })
    else merged.push(...out.slice(i, end))
    i = end
  }
  return merged
}

/** What is to be set of a case, in menu order by page: what was changed, and the mode; of pages that are labelled alike all values, so that they stand in one table. */
export const groupsToSet = (values: readonly GuideValue[]): ValueGroup[] =>
  valueGroups(values).flatMap((group) => {
    const own = group.values.filter((v) => v.changed || v.role === 'picture-mode')
    if (own.length === 0) return []
    return group.pages ? [group] : [{ ...group, values: own }]
  })
