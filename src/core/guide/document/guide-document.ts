import { z } from 'zod'
import { ControlValue, ROLES, Role } from '#core/display'
import { ViewingCase } from '#core/judge'
import { CaseDocument, type GuideValue } from './case-document'

/** A value that the display keeps once for all its cases, and that all of them set alike. */
const SharedValue = z.object({ control: z.string(), cases: z.array(z.string()).min(1) })

/** A control of which the display keeps one value for cases that want different ones. */
const Overwritten = z.object({
  control: z.string(),
  path: z.array(z.string()),
  label: z.string(),
  role: Role,
  /** What each of the cases sets, in their order. */
  cases: z.array(z.object({ key: z.string(), label: z.string(), shown: z.string() })).min(2),
})
export type Overwritten = z.infer<typeof Overwritten>

/** A unit that was measured, and for which cases. */
const MeasuredUnit = z.object({
  unit: z.string(),
  serial: z.string(),
  region: z.string(),
  firmware: z.string(),
  cases: z.array(z.string()),
})

/** How far values of several units of one size lie apart. */
const Spread = z.object({
  case: z.string(),
  control: z.string(),
  label: z.string(),
  /** Unit and the value that it ended at, the base unit first. */
  units: z.array(z.object({ unit: z.string(), value: ControlValue, shown: z.string() })).min(2),
})
export type Spread = z.infer<typeof Spread>

/** A guide for a model and size as it is published: all its viewing cases, complete in itself. */
export const GuideDocument = z.object({
  format: z.literal('wexmar-guide/2'),
  title: z.string().min(1).max(120),
  /** Summary of the guide in a sentence or two. */
  summary: z.string().min(1).max(600),
  /** What an editor wrote about the whole guide, in Markdown. */
  words: z.string().optional(),
  display: z.object({ maker: z.string(), model: z.string(), sizeInch: z.number() }),
  /** In the order of use. */
  cases: z.array(CaseDocument).min(1),
  shared: z.array(SharedValue).default([]),
  overwritten: z.array(Overwritten).default([]),
  units: z.array(MeasuredUnit).default([]),
  spread: z.array(Spread).default([]),
  otherSizes: z.array(z.number()).default([]),
})
export type GuideDocument = z.infer<typeof GuideDocument>

/** Items by a key of theirs, in the order in which they come. */
const grouped = <T>(items: readonly T[], keyOf: (item: T) => string): Map<string, T[]> => {
  const out = new Map<string, T[]>()
  for (const item of items) out.set(keyOf(item), [...(out.get(keyOf(item)) ?? []), item])
  return out
}

const orderOf = ({ viewingCase }: Pick<CaseDocument, 'viewingCase'>): number => {
  const order: readonly string[] = ViewingCase.options
  const at = order.indexOf(viewingCase.key)
  return at < 0 ? order.length : at
}

/** The row of a case's table in which a control stands: its own, or that of a group. */
export const rowOf = (of: CaseDocument, control: string): GuideValue | undefined =>
  of.values.find((v) => v.control === control || v.covers?.includes(control))

/** Values that the display keeps once, and that every case with them sets alike: they stand once in a guide. */
const sharedIn = (cases: readonly CaseDocument[]): GuideDocument['shared'] => {
  if (cases.length < 2) return []
  const first = cases.find((c) => c.memory)?.memory ?? {}
  return Object.entries(first).flatMap(([control, { place, value }]) => {
    // Kept once for the whole display: its place hangs on nothing.
    if (place !== control) return []
    const own = cases.filter((c) => c.memory?.[control])
    const alike = own.every((c) => c.memory![control]!.value === value)
    const row = rowOf(cases[0]!, control)
    if (own.length < cases.length || !alike || !row || row.covers || row.role === 'picture-mode') return []
    return [{ control, cases: own.map((c) => c.viewingCase.key) }]
  })
}

/** Controls of which cases want different values though the display keeps one for them. The mode is what tells cases apart, and is none. */
const overwrittenIn = (cases: readonly CaseDocument[]): Overwritten[] => {
  const controls = [...new Set(cases.flatMap((c) => Object.keys(c.memory ?? {})))]
  return controls.flatMap((control): Overwritten[] => {
    const row = cases.map((c) => rowOf(c, control)).find((r) => r?.control === control)
    if (!row || row.role === 'picture-mode' || row.withheld) return []
    const places = grouped(
      cases.flatMap((c) => (c.memory?.[control] ? [{ of: c, ...c.memory[control]! }] : [])),
      (m) => m.place,
    )
    return [...places.values()].flatMap((together): Overwritten[] => {
      if (new Set(together.map((m) => m.value)).size < 2) return []
      return [
        {
          control,
          path: row.path,
          label: row.label,
          role: row.role,
          cases: together.map(({ of, value }) => ({
            key: of.viewingCase.key,
            label: of.viewingCase.label,
            shown: shownIn(of, control, value),
          })),
        },
      ]
    })
  })
}

/** A value as its case shows it. */
const shownIn = (of: CaseDocument, control: string, value: ControlValue): string => {
  const row = rowOf(of, control)
  return row?.control === control && !row.covers ? row.shown : String(value)
}

/** How far values that a meter tells lie apart between the units of one size. In: cases by viewing case, of which the first is published. */
const spreadOf = (byCase: ReadonlyArray<readonly CaseDocument[]>): Spread[] =>
  byCase.flatMap((documents) => {
    const [base] = documents
    if (!base || documents.length < 2) return []
    return base.values
      .filter((v) => v.readings.length > 0 && !v.covers && !v.withheld && v.role !== 'picture-mode')
      .flatMap((v): Spread[] => {
        const units = documents.flatMap((d) => {
          const own = d.values.find((o) => o.control === v.control && !o.covers)
          return own ? [{ unit: d.display.unit, value: own.value, shown: own.shown }] : []
        })
        return units.length > 1
          ? [{ case: base.viewingCase.key, control: v.control, label: v.label, units }]
          : []
      })
  })

const unitsOf = (documents: readonly CaseDocument[]): GuideDocument['units'] =>
  [...grouped(documents, (d) => d.display.serial).values()].map((own) => {
    const { unit, serial, region, firmware } = own[0]!.display
    return { unit, serial, region, firmware, cases: own.map((d) => d.viewingCase.key) }
  })

/** First words for a guide that its editor may change. */
const proposedWords = (cases: readonly CaseDocument[]): Pick<GuideDocument, 'title' | 'summary'> => {
  const { maker, model, sizeInch } = cases[0]!.display
  const first = cases[0]!.summary
  const others = cases.slice(1).map((c) => c.viewingCase.label)
  // Labels hold commas of their own.
  const summary = others.length ? `${first} Also for: ${others.join('; ')}.` : first
  return {
    title: `${maker} ${model} ${sizeInch} settings`,
    summary: summary.length <= SUMMARY_MOST ? summary : first,
  }
}
const SUMMARY_MOST = 600

/**
 * A guide from its measured cases. In: for each viewing case the documents of all units that were measured, the one to publish first; words that an editor wrote.
 * Out: guide; undefined where there is no case.
 */
export const composeGuideDocument = (
  byCase: ReadonlyArray<readonly CaseDocument[]>,
  words: { readonly title?: string; readonly summary?: string } = {},
): GuideDocument | undefined => {
  const ordered = byCase
    .filter((documents) => documents.length > 0)
    .toSorted((a, b) => orderOf(a[0]!) - orderOf(b[0]!))
  const cases = ordered.map((documents) => documents[0]!)
  if (cases.length === 0) return undefined
  const { maker, model, sizeInch } = cases[0]!.display
  const measured = new Set(ordered.flat().map((d) => d.display.sizeInch))
  return {
    format: 'wexmar-guide/2',
    ...proposedWords(cases),
    ...Object.fromEntries(Object.entries(words).filter(([, text]) => text)),
    display: { maker, model, sizeInch },
    cases,
    shared: sharedIn(cases),
    overwritten: overwrittenIn(cases),
    units: unitsOf(ordered.flat()),
    spread: spreadOf(ordered),
    otherSizes: [...new Set(cases.flatMap((c) => c.otherSizes))].filter((s) => !measured.has(s)),
  }
}

/** A guide of any format as it would be published today; undefined where it is none. */
export const renewedGuide = (document: unknown): GuideDocument | undefined => {
  const now = GuideDocument.safeParse(document)
  if (now.success) return now.data
  const single = CaseDocument.safeParse(document)
  if (!single.success) return undefined
  const { title, summary } = single.data
  return composeGuideDocument([[single.data]], { title, summary })
}

/** The rows that do most of a case, first the mode: what a reader in a hurry sets. */
export const hurriedRows = ({ values }: CaseDocument, most = 5): GuideValue[] => {
  const weighed = values.flatMap((v) => {
    const weight = ROLES[v.role].weight
    return weight && !v.withheld && !v.covers && (v.changed || v.role === 'picture-mode')
      ? [{ v, weight }]
      : []
  })
  return weighed
    .toSorted((a, b) => b.weight - a.weight)
    .slice(0, most)
    .map(({ v }) => v)
}

/** What each adjustment of a case bought, in a sentence; undefined where nothing tells. */
export const sayBought = ({ bought }: CaseDocument): string | undefined => {
  if (!bought || bought.length < 2) return undefined
  const [first, ...then] = bought
  const steps = then.filter(
    (b, i) => i === then.length - 1 || b.error < (i ? then[i - 1]!.error : first!.error) - 0.05,
  )
  return `Greyscale ΔE00 out of the box ${first!.error.toFixed(1)}; ${steps
    .map((b) => `${b.title.charAt(0).toLowerCase()}${b.title.slice(1)} ${b.error.toFixed(1)}`)
    .join('; ')}.`
}
