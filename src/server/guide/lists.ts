import { QueryTypes } from 'sequelize'
import { CASE_LABEL, ViewingCase } from '#core/judge'
import { PanelKind } from '#core/protocol'
import type { Context } from '../base/context'
import { type ListWish, type Paged, pageOf, searching } from '../base/pages'
import { isNewer, newestVersion } from '../model/firmware-versions'

const GUIDES_ON_PAGE = 20

export interface GuideCard {
  readonly slug: string
  readonly title: string
  readonly summary: string
  /** Labels of its viewing cases, in the order of use. */
  readonly cases: readonly string[]
  readonly firmwares: readonly string[]
  readonly revision: number
  readonly publishedAt: string
}

/** What published guides are filtered by; empty where all are wanted. */
export interface GuideFilter {
  readonly maker: string
  readonly panel: string
  readonly size: string
  readonly case: string
  readonly firmware: string
}
export const ALL_GUIDES: GuideFilter = { maker: '', panel: '', size: '', case: '', firmware: '' }

export interface GuidesView extends Paged {
  readonly search: string
  readonly guides: readonly GuideCard[]
}

/** Viewing cases as a column keeps them; what is none is left out. */
const casesIn = (column: unknown): ViewingCase[] =>
  listIn(column).flatMap((key) => ViewingCase.safeParse(key).data ?? [])
const listIn = (column: unknown): unknown[] => {
  const list: unknown = typeof column === 'string' ? JSON.parse(column) : column
  return Array.isArray(list) ? list : []
}

/** What guides stand in the lists of readers. */
const PUBLIC = ['g.published_at IS NOT NULL', 'g.withdrawn_at IS NULL']
const FROM = 'FROM guide_pages g JOIN models m ON m.id = g.model_id'

/** Conditions of a filter; a filter that names nothing there is finds nothing. */
const filtering = (filter: GuideFilter): string[] => [
  ...(filter.maker ? ['m.maker = :maker'] : []),
  ...(filter.panel ? ['m.panel_kind = :panel'] : []),
  ...(filter.size ? ['g.size_inch = :size'] : []),
  ...(filter.case ? ['JSON_CONTAINS(g.cases, JSON_QUOTE(:case))'] : []),
  ...(filter.firmware ? ['JSON_CONTAINS(g.firmwares, JSON_QUOTE(:firmware))'] : []),
]

/**
 * A page of the published guides, the newest first; `modelId`: of one model. What it shows was written into the guide as it was published,
 * so that no document has to be read for it.
 */
export const publishedGuides = async (
  { db }: Context,
  wish: ListWish & { modelId?: number; filter?: GuideFilter } = {},
): Promise<GuidesView> => {
  const { filter = ALL_GUIDES } = wish
  const { sql, filled } = searching(wish.search, ['g.title', 'g.summary', 'm.maker', 'm.name'])
  const conditions = [
    ...PUBLIC,
    ...sql,
    ...filtering(filter),
    ...(wish.modelId === undefined ? [] : ['g.model_id = :modelId']),
  ].join(' AND ')
  const all = { ...filled, ...filter, modelId: wish.modelId }
  const [counted] = await db.sequelize.query<{ n: number }>(
    `SELECT COUNT(*) AS n ${FROM} WHERE ${conditions}`,
    {
      type: QueryTypes.SELECT,
      replacements: all,
    },
  )
  const { most, offset, ...paged } = pageOf(wish, Number(counted!.n), GUIDES_ON_PAGE)
  const rows = await db.sequelize.query<{
    slug: string
    number: number
    publishedAt: Date
    title: string
    summary: string
    cases: unknown
    firmwares: unknown
  }>(
    `SELECT g.slug, g.published_number AS number, g.published_at AS publishedAt, g.title, g.summary, g.cases, g.firmwares ${FROM}
      WHERE ${conditions} ORDER BY g.published_at DESC, g.id DESC LIMIT :most OFFSET :offset`,
    { type: QueryTypes.SELECT, replacements: { ...all, most, offset } },
  )
  return {
    ...paged,
    search: wish.search ?? '',
    guides: rows.map((r) => ({
      slug: r.slug,
      title: r.title,
      summary: r.summary,
      cases: casesIn(r.cases).map((key) => CASE_LABEL[key]),
      firmwares: listIn(r.firmwares).map(String),
      revision: r.number,
      publishedAt: new Date(r.publishedAt).toISOString(),
    })),
  }
}

/** What there is to filter published guides by. */
export interface GuideChoices {
  readonly makers: readonly string[]
  readonly panels: readonly PanelKind[]
  readonly sizes: readonly number[]
  readonly cases: ReadonlyArray<{ readonly key: ViewingCase; readonly label: string }>
}

/** What published guides can be filtered by: only what some of them have. */
export const guideChoices = async ({ db }: Context): Promise<GuideChoices> => {
  const rows = await db.sequelize.query<{ maker: string; panel: string; size: number; cases: unknown }>(
    `SELECT DISTINCT m.maker, m.panel_kind AS panel, g.size_inch AS size, g.cases ${FROM} WHERE ${PUBLIC.join(' AND ')}`,
    { type: QueryTypes.SELECT },
  )
  const cases = new Set(rows.flatMap((r) => casesIn(r.cases)))
  return {
    makers: [...new Set(rows.map((r) => r.maker))].sort(),
    panels: PanelKind.options.filter((p) => rows.some((r) => r.panel === p)),
    sizes: [...new Set(rows.map((r) => r.size))].sort((a, b) => a - b),
    cases: ViewingCase.options.filter((c) => cases.has(c)).map((key) => ({ key, label: CASE_LABEL[key] })),
  }
}

interface DeskGuidesView extends Paged {
  readonly search: string
  readonly guides: ReadonlyArray<{
    readonly id: number
    readonly display: string
    readonly cases: readonly string[]
    readonly revision: number | null
    readonly publishedAt: string | null
    readonly withdrawn: boolean
    /** A firmware of the model that is newer than one it was measured with; empty where there is none. */
    readonly newerFirmware: string
  }>
}

/** The newest firmware that is known, where a case of a guide was measured with an older one. */
const newerThan = (measured: readonly string[], known: readonly string[]): string => {
  const newest = newestVersion([...measured, ...known])
  return measured.some((version) => isNewer(newest, version)) ? newest : ''
}

/** A page of all guides, those that were changed last first: drafts, published and withdrawn ones. */
export const deskGuides = async ({ db }: Context, wish: ListWish = {}): Promise<DeskGuidesView> => {
  const { sql, filled } = searching(wish.search, ['m.maker', 'm.name', 'g.title'])
  const from = `FROM guide_pages g JOIN models m ON m.id = g.model_id ${sql.length ? `WHERE ${sql.join(' AND ')}` : ''}`
  const [counted] = await db.sequelize.query<{ n: number }>(`SELECT COUNT(*) AS n ${from}`, {
    type: QueryTypes.SELECT,
    replacements: filled,
  })
  const { most, offset, ...paged } = pageOf(wish, Number(counted!.n), GUIDES_ON_PAGE)
  const rows = await db.sequelize.query<{
    id: number
    maker: string
    name: string
    size: number
    cases: unknown
    revision: number | null
    publishedAt: Date | null
    withdrawnAt: Date | null
    firmwares: unknown
    known: string | null
  }>(
    `SELECT g.id, m.maker, m.name, g.size_inch AS size, g.cases, g.published_number AS revision,
            g.published_at AS publishedAt, g.withdrawn_at AS withdrawnAt, g.firmwares,
            (SELECT GROUP_CONCAT(f.version SEPARATOR '\n') FROM firmwares f WHERE f.model_id = g.model_id) AS known
       ${from} ORDER BY COALESCE(g.published_at, '9999-12-31') DESC, g.id DESC LIMIT :most OFFSET :offset`,
    { type: QueryTypes.SELECT, replacements: { ...filled, most, offset } },
  )
  return {
    ...paged,
    search: wish.search ?? '',
    guides: rows.map((r) => ({
      id: r.id,
      display: `${r.maker} ${r.name} ${r.size}`,
      cases: casesIn(r.cases).map((key) => CASE_LABEL[key]),
      revision: r.revision,
      publishedAt: r.publishedAt && new Date(r.publishedAt).toISOString(),
      withdrawn: r.withdrawnAt !== null,
      newerFirmware: newerThan(listIn(r.firmwares).map(String), r.known?.split('\n') ?? []),
    })),
  }
}
