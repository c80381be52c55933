import { z } from 'zod'
import { type CaseDocument, type GuideValue, TransferClass } from './case-document'
import { fieldsOf, withFields } from './fields'
import type { GuideDocument } from './guide-document'

/** Most characters of what an editor writes, by the kind of place. */
export const WORDS_MOST = {
  title: 120,
  summary: 600,
  guide: 8000,
  case: 4000,
  value: 600,
  desk: 8000,
  base: 120,
  class: 700,
} as const
type Kind = keyof typeof WORDS_MOST
const WHAT: Readonly<Record<Kind, string>> = {
  title: 'The title',
  summary: 'The summary',
  guide: 'The text of the guide',
  case: 'The text of the case',
  value: 'The text of the value',
  desk: 'The note for the desk',
  base: 'The base unit',
  class: 'The reason',
}

/** What words of an editor are about: `title`, `summary`, `guide`, `desk`, `case:KEY`, `value:KEY:CONTROL`, `class:KEY:CONTROL`, `base:KEY`. */
export const WordsPlace = z
  .string()
  .max(200)
  .regex(
    /^(title|summary|guide|desk|(case|base):[a-z0-9-]{1,40}|(value|class):[a-z0-9-]{1,40}:[a-z0-9-]{1,60})$/,
    'is no place of a guide',
  )

/** A raised or lowered caution of a value: its class and, where it says that the value travels better, why. */
export const ClassEntry = z.object({ transfer: TransferClass, reason: z.string().trim().max(600) })
export type ClassEntry = z.infer<typeof ClassEntry>

/** How cautious a class is. */
const CAUTION: Readonly<Record<TransferClass, number>> = { copy: 0, 'start-here': 1, 'this-unit-only': 2 }

/** What is wrong with words for a place. In: place, words, the value that they class where they do. Out: a sentence, or undefined. */
export const wordsProblem = (place: string, body: string, value?: GuideValue): string | undefined => {
  const parsed = WordsPlace.safeParse(place)
  if (!parsed.success) return `“${place.slice(0, 60)}” is no place of a guide.`
  const kind = place.split(':')[0] as Kind
  if (body.length > WORDS_MOST[kind])
    return `${WHAT[kind]} is too long: ${WORDS_MOST[kind]} characters at most.`
  if (kind !== 'class' || !body) return undefined
  const entry = classOf(body)
  if (!entry) return 'The class is not understood.'
  if (!value) return 'The guide has no such value.'
  return CAUTION[entry.transfer] < CAUTION[value.transfer] && !entry.reason
    ? 'A value is said to travel better than its role does only with a reason, which readers see.'
    : undefined
}

const classOf = (body: string): ClassEntry | undefined => {
  try {
    return ClassEntry.safeParse(JSON.parse(body)).data
  } catch {
    // Not JSON: whoever wrote it is told.
    return undefined
  }
}

/** Words by place. */
export type Words = ReadonlyMap<string, string>

const caseWithWords = (of: CaseDocument, words: Words, fields: ReadonlyMap<string, string>): CaseDocument => {
  const { key } = of.viewingCase
  const own = words.get(`case:${key}`)
  return {
    ...of,
    ...(own ? { words: withFields(own, fields, true) } : {}),
    values: of.values.map((v): GuideValue => {
      const said = words.get(`value:${key}:${v.control}`)
      const classed = classOf(words.get(`class:${key}:${v.control}`) ?? '')
      return {
        ...v,
        ...(said ? { words: withFields(said, fields, true) } : {}),
        ...(classed
          ? { transfer: classed.transfer, ...(classed.reason ? { transferReason: classed.reason } : {}) }
          : {}),
      }
    }),
  }
}

/**
 * A guide with what an editor wrote, the figures that it names put in. What is about a case or a value that is no longer there is kept, and not shown.
 */
export const withWords = (guide: GuideDocument, words: Words): GuideDocument => {
  const fields = new Map(fieldsOf(guide).map((f) => [f.key, f.shown]))
  const own = words.get('guide')
  return {
    ...guide,
    title: words.get('title') || guide.title,
    summary: withFields(words.get('summary') ?? '', fields) || guide.summary,
    ...(own ? { words: withFields(own, fields, true) } : {}),
    cases: guide.cases.map((c) => caseWithWords(c, words, fields)),
  }
}

/** What words for a place rest on: what was proposed or computed there. In: guide without words; place. Out: text; empty where it rests on nothing. */
export const basisOf = (guide: GuideDocument, place: string): string => {
  const [kind, key, control] = place.split(':')
  const of = guide.cases.find((c) => c.viewingCase.key === key)
  const value = of?.values.find((v) => v.control === control)
  switch (kind) {
    case 'title':
      return guide.title
    case 'summary':
    case 'guide':
      return guide.summary
    case 'case':
      return of?.summary ?? ''
    case 'value':
      return value ? `${value.shown}. ${value.why}` : ''
    case 'class':
      return value?.transfer ?? ''
    default:
      return ''
  }
}
