import { type GuideDocument, lostFields } from '#core/guide/document'
import { CASE_RULES, caseOf, type Level, type Mend } from './case-rules'
import { figuresOf, strangeFigures, type Unit } from './figures'
import type { CheckedCase } from './published-values'

/** Something that a rule found in a guide. */
export interface GuideFinding {
  /** Id of the rule. */
  readonly rule: string
  readonly level: Level
  readonly text: string
  /** Viewing case and control that it is about; empty where it is about the whole guide. */
  readonly case: string
  readonly control: string
  readonly mend: Mend
}

/** A rule about the whole guide. */
interface GuideRule {
  readonly id: string
  readonly level: Level
  readonly find: (guide: GuideDocument) => ReadonlyArray<{
    readonly text: string
    readonly control?: string
    readonly case?: string
    readonly place?: string
  }>
}

/** Texts that people wrote, by place. */
const proseOf = (guide: GuideDocument): Array<{ place: string; text: string }> => [
  { place: 'title', text: guide.title },
  { place: 'summary', text: guide.summary },
  ...(guide.words ? [{ place: 'guide', text: guide.words }] : []),
  ...guide.cases.flatMap((c) => (c.words ? [{ place: `case:${c.viewingCase.key}`, text: c.words }] : [])),
  ...guide.cases.flatMap((c) =>
    c.values.flatMap((v) =>
      v.words ? [{ place: `value:${c.viewingCase.key}:${v.control}`, text: v.words }] : [],
    ),
  ),
]

/** Rules about the whole guide. */
export const GUIDE_RULES: readonly GuideRule[] = [
  {
    id: 'words-missing',
    level: 'error',
    find: (guide) => (guide.summary.trim() ? [] : [{ text: 'The summary is empty.', place: 'summary' }]),
  },
  {
    id: 'one-memory',
    level: 'warning',
    find: ({ overwritten }) =>
      overwritten.map((o) => ({
        text: `The display keeps one value of “${o.label}” for ${o.cases.map((c) => `${c.label} (${c.shown})`).join(' and ')}. Both tables say so.`,
        control: o.control,
        case: o.cases[0]!.key,
      })),
  },
  {
    id: 'size-claimed',
    level: 'warning',
    find: (guide) =>
      proseOf(guide).flatMap(({ place, text }) =>
        guide.otherSizes
          .filter((size) => new RegExp(`\\b${size}\\b\\s*(?:-?\\s*inch|″|")`, 'i').test(text))
          .map((size) => ({ text: `${size} inch is spoken of, and was not measured.`, place })),
      ),
  },
  {
    id: 'figure-differs',
    level: 'warning',
    find: (guide) => {
      const figures: Record<Unit, number[]> = { kelvin: [], difference: [], other: [] }
      figuresOf(guide, figures)
      return proseOf(guide).flatMap(({ place, text }) =>
        strangeFigures(text, figures).map((figure) => ({
          text: `“${figure}” stands in the text, and nothing that was measured or is set comes to it.`,
          place,
        })),
      )
    },
  },
  {
    id: 'field-lost',
    level: 'error',
    find: (guide) =>
      proseOf(guide).flatMap(({ place, text }) =>
        lostFields(text).map((key) => ({
          text: `The text names a figure that is no longer there: {{${key}}}.`,
          place,
        })),
      ),
  },
  {
    id: 'other-sizes',
    level: 'note',
    find: ({ otherSizes }) =>
      otherSizes.length ? [{ text: `Not measured: ${otherSizes.join(', ')} inch. The guide says so.` }] : [],
  },
]

const WEIGHT: Readonly<Record<Level, number>> = { error: 0, warning: 1, note: 2 }

/** What the desk knows of a draft beside its cases. */
export interface DeskFacts {
  /** Keys of cases whose session is no longer there. */
  readonly gone: readonly string[]
  /** Keys of cases that came in a file: they were measured elsewhere. */
  readonly imported: readonly string[]
  /** A second name has approved it, or nothing in it was measured anew. */
  readonly reviewed: boolean
}

/** Rules about what the desk knows of a draft. */
const deskFindings = ({ cases }: GuideDocument, { gone, imported, reviewed }: DeskFacts): GuideFinding[] => [
  ...imported.map((key): GuideFinding => {
    const of = cases.find((c) => c.viewingCase.key === key)
    return {
      rule: 'measured-elsewhere',
      level: 'note',
      text: `Came in a file from ${of?.method.desk ?? 'another desk'}: its values and figures followed from its readings when it was imported.`,
      case: key,
      control: '',
      mend: { kind: 'write', label: 'Write about it', place: `case:${key}` },
    }
  }),
  ...gone.map(
    (key): GuideFinding => ({
      rule: 'source-gone',
      level: 'error',
      text: `The session that ${cases.find((c) => c.viewingCase.key === key)?.viewingCase.label ?? key} was measured in is no longer there: nothing can be checked. What is public stays as it is.`,
      case: key,
      control: '',
      mend: { kind: 'write', label: 'Write about it', place: `case:${key}` },
    }),
  ),
  ...(reviewed
    ? []
    : [
        {
          rule: 'not-reviewed',
          level: 'warning' as const,
          text: 'New measurements have not been reviewed.',
          case: '',
          control: '',
          mend: { kind: 'review' as const, label: 'Have it reviewed by a second name' },
        },
      ]),
]

/**
 * Checks a guide before it is published. In: draft; its cases with what their sessions know; what the desk knows beside them. Out: findings, errors
 * first.
 */
export const checkGuide = (
  guide: GuideDocument,
  cases: readonly CheckedCase[],
  desk: DeskFacts = { gone: [], imported: [], reviewed: true },
): GuideFinding[] => {
  const ofCases = cases.flatMap((of) =>
    CASE_RULES.flatMap((rule) =>
      rule.find(of).map(
        (found): GuideFinding => ({
          rule: rule.id,
          level: rule.level,
          text: found.text,
          case: caseOf(of),
          control: found.control ?? '',
          mend: rule.mend(of),
        }),
      ),
    ),
  )
  const ofGuide = GUIDE_RULES.flatMap((rule) =>
    rule.find(guide).map(
      (found): GuideFinding => ({
        rule: rule.id,
        level: rule.level,
        text: found.text,
        case: found.case ?? '',
        control: found.control ?? '',
        mend: {
          kind: 'write',
          label: 'Write about it',
          place: found.place ?? (found.case ? `case:${found.case}` : 'summary'),
        },
      }),
    ),
  )
  return [...ofCases, ...ofGuide, ...deskFindings(guide, desk)].toSorted(
    (a, b) => WEIGHT[a.level] - WEIGHT[b.level],
  )
}
