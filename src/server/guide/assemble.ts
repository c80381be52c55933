import type { Transaction } from 'sequelize'
import { composeGuideDocument, type GuideDocument, withWords } from '#core/guide/document'
import type { GuideWordsRow } from '#db'
import type { Context } from '../base/context'
import { type Section, sectionsOf } from './sections'

/** A measured case of a draft. */
export interface SectionLine {
  readonly case: string
  readonly label: string
  /** Null where it came in a file. */
  readonly sessionId: number | null
  readonly unit: string
  readonly serial: string
  readonly status: 'draft' | 'published'
  /** It is the one that is published; others show how units differ. */
  readonly base: boolean
}

export type Held = ReadonlyMap<string, GuideWordsRow>

/** What is put together from the sections and the words of a guide. */
export interface Put {
  readonly plain: GuideDocument
  readonly document: GuideDocument
  readonly base: readonly Section[]
  readonly sections: readonly SectionLine[]
  readonly words: Held
}

export const heldWords = async (
  { db }: Context,
  guideId: number,
  transaction?: Transaction,
): Promise<Held> => {
  const rows = await db.guideWords.findAll({ where: { guideId }, ...(transaction ? { transaction } : {}) })
  return new Map(rows.map((r) => [r.place, r]))
}

/** Puts a guide together: of each case the newest section, or that of the unit which the editor chose. */
export const putTogether = async (
  ctx: Context,
  guideId: number,
  transaction?: Transaction,
): Promise<Put | undefined> => {
  const [byCase, words] = await Promise.all([
    sectionsOf(ctx, guideId, transaction),
    heldWords(ctx, guideId, transaction),
  ])
  const ordered = [...byCase].map(([key, sections]) => {
    const chosen = words.get(`base:${key}`)?.body
    const base = sections.find((s) => s.document.display.serial === chosen) ?? sections[0]!
    return [base, ...sections.filter((s) => s !== base)]
  })
  const plain = composeGuideDocument(ordered.map((sections) => sections.map((s) => s.document)))
  if (!plain) return undefined
  const placeOf = (key: string) => plain.cases.findIndex((c) => c.viewingCase.key === key)
  const bodies = new Map([...words].map(([place, row]) => [place, row.body]))
  return {
    plain,
    document: withWords(plain, bodies),
    base: plain.cases.flatMap((c) => ordered.map((s) => s[0]!).find((s) => s.document === c) ?? []),
    sections: ordered
      .flatMap((sections) =>
        sections.map((s, i) => ({
          case: s.document.viewingCase.key,
          label: s.document.viewingCase.label,
          sessionId: s.sessionId,
          unit: s.document.display.unit,
          serial: s.document.display.serial,
          status: s.status,
          base: i === 0,
        })),
      )
      .toSorted((a, b) => placeOf(a.case) - placeOf(b.case)),
    words,
  }
}
