import type { Sequelize } from 'sequelize'
import { QueryTypes } from 'sequelize'
import { type MigrationStep, selectAll } from './step'

const TABLE = 'ENGINE = InnoDB DEFAULT CHARSET = utf8mb4'
const ID = 'id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY'

/** Viewing cases in the order of a guide, as it was when guides became one. */
const ORDER = ['sdr-dark', 'sdr-bright', 'hdr-film', 'hdr-film-dynamic', 'sdr-game', 'hdr-game', 'desktop']

interface Case {
  readonly title?: string
  readonly summary?: string
  readonly display?: {
    readonly maker?: string
    readonly model?: string
    readonly sizeInch?: number
    readonly firmware?: string
  }
  readonly viewingCase?: { readonly key?: string }
}

const parsed = (document: unknown): Case =>
  (typeof document === 'string' ? JSON.parse(document) : document) as Case

/** An address part, as addresses were made when guides became one. */
const addressOf = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 80) || 'guide'

/** A page for each model and size of which a case has been composed. */
const makePages = async (sequelize: Sequelize, done: (what: string) => void): Promise<void> => {
  const sections = await selectAll<{
    id: number
    model_id: number
    maker: string
    name: string
    size_inch: number
  }>(
    sequelize,
    `SELECT g.id, g.model_id, m.maker, m.name, v.size_inch
       FROM guides g JOIN models m ON m.id = g.model_id
       JOIN guide_revisions r ON r.id = (SELECT MAX(n.id) FROM guide_revisions n WHERE n.guide_id = g.id)
       JOIN sessions s ON s.id = r.session_id JOIN units u ON u.id = s.unit_id JOIN variants v ON v.id = u.variant_id
      WHERE g.page_id IS NULL ORDER BY g.id`,
  )
  for (const { id, model_id, maker, name, size_inch } of sections) {
    const replacements = { id, model_id, size_inch, slug: addressOf(`${maker} ${name} ${Number(size_inch)}`) }
    // Two models may be written alike: the second gets its number behind the address.
    await sequelize.query(
      `INSERT INTO guide_pages (model_id, size_inch, slug)
       SELECT :model_id, :size_inch, IF(EXISTS (SELECT 1 FROM guide_pages WHERE slug = :slug), CONCAT(:slug, '-', :model_id), :slug)
         FROM DUAL WHERE NOT EXISTS (SELECT 1 FROM guide_pages WHERE model_id = :model_id AND size_inch = :size_inch)`,
      { replacements, type: QueryTypes.INSERT },
    )
    await sequelize.query(
      'UPDATE guides SET page_id = (SELECT id FROM guide_pages WHERE model_id = :model_id AND size_inch = :size_inch) WHERE id = :id',
      { replacements, type: QueryTypes.UPDATE },
    )
    done(`page of guide ${id}`)
  }
}

/** What was published of each case, one after the other, as revisions of the page: each holds what was public at that moment. */
const makeRevisions = async (sequelize: Sequelize, done: (what: string) => void): Promise<void> => {
  const pages = await selectAll<{ id: number }>(sequelize, 'SELECT id FROM guide_pages ORDER BY id')
  for (const { id } of pages) {
    const published = await selectAll<{ guide_id: number; document: unknown; published_at: Date }>(
      sequelize,
      `SELECT r.guide_id, r.document, r.published_at FROM guide_revisions r JOIN guides g ON g.id = r.guide_id
        WHERE g.page_id = ${id} AND r.status = 'published' ORDER BY r.published_at, r.id`,
    )
    const current = new Map<number, Case>()
    for (const [i, { guide_id, document, published_at }] of published.entries()) {
      const own = parsed(document)
      current.set(guide_id, own)
      const place = (c: Case) => ORDER.indexOf(c.viewingCase?.key ?? '')
      const cases = [...current.values()].sort((a, b) => place(a) - place(b))
      const { maker, model, sizeInch } = own.display ?? {}
      const page = {
        format: 'wexmar-guide/2',
        title: own.title ?? '',
        summary: own.summary ?? '',
        display: { maker, model, sizeInch },
        cases,
      }
      const note = i === 0 ? '' : 'Measured again, or for another viewing case.'
      await sequelize.query(
        `INSERT IGNORE INTO guide_page_revisions (guide_id, number, kind, note, author, document, published_at)
         VALUES (:id, :number, 'revision', :note, '', :document, :published_at)`,
        {
          replacements: { id, number: i + 1, note, document: JSON.stringify(page), published_at },
          type: QueryTypes.INSERT,
        },
      )
      await sequelize.query(
        `UPDATE guide_pages SET title = :title, summary = :summary, cases = :cases, firmwares = :firmwares,
           published_number = :number, published_at = :published_at WHERE id = :id`,
        {
          replacements: {
            id,
            title: page.title.slice(0, 300),
            summary: page.summary.slice(0, 1000),
            cases: JSON.stringify(cases.map((c) => c.viewingCase?.key ?? '')),
            firmwares: JSON.stringify([...new Set(cases.map((c) => c.display?.firmware ?? ''))]),
            number: i + 1,
            published_at,
          },
          type: QueryTypes.UPDATE,
        },
      )
    }
    done(`revisions of page ${id}`)
  }
}

/** Titles that editors wrote: words of the page from now on, so that composing anew does not touch them. */
const keepTitles = async (sequelize: Sequelize, done: (what: string) => void): Promise<void> => {
  const newest = await selectAll<{ page_id: number; document: unknown; created_at: Date }>(
    sequelize,
    `SELECT g.page_id, r.document, r.created_at FROM guide_revisions r JOIN guides g ON g.id = r.guide_id
      WHERE g.page_id IS NOT NULL AND r.id = (SELECT MAX(n.id) FROM guide_revisions n JOIN guides o ON o.id = n.guide_id WHERE o.page_id = g.page_id)`,
  )
  for (const { page_id, document, created_at } of newest) {
    const { title = '', display } = parsed(document)
    const usual = `${display?.maker} ${display?.model} ${display?.sizeInch} settings`
    if (title && title !== usual)
      await sequelize.query(
        `INSERT IGNORE INTO guide_words (guide_id, place, body, basis, version, updated_at)
         VALUES (:page_id, 'title', :title, :usual, 1, :created_at)`,
        { replacements: { page_id, title, usual, created_at }, type: QueryTypes.INSERT },
      )
    done(`title of page ${page_id}`)
  }
}

/** One guide for a model and size, with all its viewing cases; what was a guide of one case is a section of it. */
export const steps: readonly MigrationStep[] = [
  `CREATE TABLE IF NOT EXISTS guide_pages (
    ${ID}, model_id INT UNSIGNED NOT NULL REFERENCES models (id), size_inch DOUBLE NOT NULL,
    slug VARCHAR(100) NOT NULL UNIQUE, title VARCHAR(300) NOT NULL DEFAULT '', summary VARCHAR(1000) NOT NULL DEFAULT '',
    cases JSON NOT NULL DEFAULT '[]', firmwares JSON NOT NULL DEFAULT '[]', published_number INT UNSIGNED NULL,
    published_at DATETIME(3) NULL, withdrawn_at DATETIME(3) NULL, withdrawn_why VARCHAR(1000) NOT NULL DEFAULT '',
    UNIQUE (model_id, size_inch), INDEX guide_pages_published (published_at, id)) ${TABLE}`,
  `CREATE TABLE IF NOT EXISTS guide_page_revisions (
    ${ID}, guide_id INT UNSIGNED NOT NULL REFERENCES guide_pages (id), number INT UNSIGNED NOT NULL,
    kind VARCHAR(20) NOT NULL CHECK (kind IN ('revision', 'correction')), note VARCHAR(1000) NOT NULL DEFAULT '',
    author VARCHAR(120) NOT NULL DEFAULT '', because VARCHAR(1000) NOT NULL DEFAULT '', document JSON NOT NULL, published_at DATETIME(3) NOT NULL,
    UNIQUE (guide_id, number)) ${TABLE}`,
  `CREATE TABLE IF NOT EXISTS guide_words (
    guide_id INT UNSIGNED NOT NULL REFERENCES guide_pages (id), place VARCHAR(200) NOT NULL, body MEDIUMTEXT NOT NULL,
    basis TEXT NOT NULL, version INT UNSIGNED NOT NULL, updated_at DATETIME(3) NOT NULL, PRIMARY KEY (guide_id, place)) ${TABLE}`,
  'ALTER TABLE guides ADD COLUMN IF NOT EXISTS page_id INT UNSIGNED NULL',
  'ALTER TABLE guides ADD FOREIGN KEY IF NOT EXISTS guides_of_page (page_id) REFERENCES guide_pages (id)',
  makePages,
  makeRevisions,
  keepTitles,
  'ALTER TABLE guides DROP INDEX IF EXISTS guides_published',
  `ALTER TABLE guides DROP COLUMN IF EXISTS title, DROP COLUMN IF EXISTS summary, DROP COLUMN IF EXISTS published_number,
     DROP COLUMN IF EXISTS published_at`,
]
