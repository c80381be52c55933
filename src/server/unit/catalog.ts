import { QueryTypes } from 'sequelize'
import { type ControlSheet, showValue } from '#core/display'
import { panelLabel } from '#core/entry'
import { CASE_LABEL, type ViewingCase } from '#core/judge'
import type { PanelKind } from '#core/protocol'
import type { StepKey } from '#core/steps'
import { type Context, seeBench } from '../base/context'
import { type ListWish, type Paged, pageOf, searching } from '../base/pages'
import { type GuideCard, publishedGuides } from '../guide/lists'
import { newestFirst } from '../model/firmware-versions'
import { type DemoProgress, demoProgress } from './demo-progress'

const UNITS_ON_PAGE = 25
export interface UnitCard {
  readonly id: number
  readonly display: string
  readonly modelSlug: string
  readonly label: string
  readonly serial: string
  readonly firmware: string
  readonly origin: string
  readonly returnsOn: string | null
  readonly readings: number
  readonly onBench: boolean
  /** Its newest session, with the step that it has reached. */
  readonly session: {
    readonly id: number
    readonly caseLabel: string
    readonly at: StepKey | null
    readonly updatedAt: string
  } | null
  readonly guide: { readonly slug: string; readonly published: boolean } | null
}

interface HomeView {
  readonly bench:
    | { readonly ok: false; readonly none: boolean; readonly message: string }
    | {
        readonly ok: true
        readonly simulated: boolean
        readonly name: string
        readonly display: string | null
        readonly serial: string | null
        readonly firmware: string | null
        /** Kind of panel, as the bench says it. */
        readonly panelKind: PanelKind | null
        readonly meter: string | null
        readonly pattern: string | null
      }
  /** The unit on the bench, where it was added. */
  readonly onBench: UnitCard | null
  /** The newest units and guides, and how many there are. */
  readonly units: readonly UnitCard[]
  readonly unitCount: number
  readonly guides: readonly GuideCard[]
  readonly guideCount: number
  /** How far the demo data are; null where none are being made. */
  readonly demo: DemoProgress | null
}

interface CardRow {
  id: number
  maker: string
  model: string
  modelSlug: string
  size: number
  label: string
  serial: string
  origin: string
  returnsOn: string | null
  firmware: string | null
  readings: number | string | null
  sessionId: number | null
  viewingCase: ViewingCase
  step: StepKey | null
  updatedAt: Date
  guideSlug: string | null
  guideStatus: string | null
}

const OF_UNITS = 'FROM units u JOIN variants v ON v.id = u.variant_id JOIN models m ON m.id = v.model_id'

/** Cards of units, the newest first. In: conditions on unit, variant and model; what they are filled with; part of the list. */
export const unitCards = async (
  ctx: Context,
  conditions: readonly string[],
  filled: Readonly<Record<string, unknown>>,
  part: { most: number; offset: number },
): Promise<UnitCard[]> => {
  const where = conditions.length ? `WHERE ${conditions.join(' AND ')}` : ''
  const [rows, sight] = await Promise.all([
    ctx.db.sequelize.query<CardRow>(
      // The units are found first; only for them is the rest looked up.
      `SELECT u.id, m.maker, m.name AS model, m.slug AS modelSlug, v.size_inch AS size, u.label, u.serial, u.origin,
              DATE_FORMAT(u.returns_on, '%Y-%m-%d') AS returnsOn,
              (SELECT f.version FROM unit_firmwares x JOIN firmwares f ON f.id = x.firmware_id
                WHERE x.unit_id = u.id ORDER BY x.seen_at DESC LIMIT 1) AS firmware,
              (SELECT SUM(r.reading_count) FROM sessions o JOIN runs r ON r.session_id = o.id
                WHERE o.unit_id = u.id) AS readings,
              s.id AS sessionId, s.viewing_case AS viewingCase, s.step, s.updated_at AS updatedAt,
              g.slug AS guideSlug, n.status AS guideStatus
         FROM (SELECT u.id ${OF_UNITS} ${where} ORDER BY u.id DESC LIMIT :most OFFSET :offset) chosen
         JOIN units u ON u.id = chosen.id JOIN variants v ON v.id = u.variant_id JOIN models m ON m.id = v.model_id
         LEFT JOIN sessions s ON s.id = (SELECT MAX(o.id) FROM sessions o WHERE o.unit_id = u.id)
         LEFT JOIN guide_revisions n ON n.id = (SELECT MAX(o.id) FROM guide_revisions o WHERE o.session_id = s.id)
         LEFT JOIN guides x ON x.id = n.guide_id LEFT JOIN guide_pages g ON g.id = x.page_id
        ORDER BY u.id DESC`,
      { type: QueryTypes.SELECT, replacements: { ...filled, most: part.most, offset: part.offset } },
    ),
    seeBench(ctx),
  ])
  const serial = sight.ok ? sight.bench.display?.serial : undefined
  return rows.map(
    (r): UnitCard => ({
      id: r.id,
      display: `${r.maker} ${r.model} ${r.size}`,
      modelSlug: r.modelSlug,
      label: r.label,
      serial: r.serial,
      firmware: r.firmware ?? 'unknown',
      origin: r.origin,
      returnsOn: r.returnsOn,
      readings: Number(r.readings ?? 0),
      onBench: r.serial === serial,
      session:
        r.sessionId === null
          ? null
          : {
              id: r.sessionId,
              caseLabel: CASE_LABEL[r.viewingCase],
              at: r.step,
              updatedAt: new Date(r.updatedAt).toISOString(),
            },
      guide: r.guideSlug === null ? null : { slug: r.guideSlug, published: r.guideStatus === 'published' },
    }),
  )
}

interface UnitsView extends Paged {
  readonly search: string
  readonly units: readonly UnitCard[]
}

/** A page of all units, or of those that a search finds by maker, model, label, serial or origin; `model`: of one model, by its slug. */
export const unitsView = async (
  ctx: Context,
  wish: ListWish & { model?: string } = {},
): Promise<UnitsView> => {
  const { sql, filled } = searching(wish.search, ['m.maker', 'm.name', 'u.label', 'u.serial', 'u.origin'])
  const conditions = [...sql, ...(wish.model === undefined ? [] : ['m.slug = :model'])]
  const all = { ...filled, model: wish.model }
  const [counted] = await ctx.db.sequelize.query<{ n: number }>(
    `SELECT COUNT(*) AS n ${conditions.length ? OF_UNITS : 'FROM units u'} ${conditions.length ? `WHERE ${conditions.join(' AND ')}` : ''}`,
    { type: QueryTypes.SELECT, replacements: all },
  )
  const { most, offset, ...paged } = pageOf(wish, Number(counted!.n), UNITS_ON_PAGE)
  const units = await unitCards(ctx, conditions, all, { most, offset })
  return { ...paged, search: wish.search ?? '', units }
}

/** The firmware that was seen last on a unit. */
export const latestFirmware = async ({ db }: Context, unitId: number) => {
  const seen = await db.unitFirmwares.findOne({ where: { unitId }, order: [['seenAt', 'DESC']] })
  return seen && db.firmwares.findByPk(seen.firmwareId)
}

const NEWEST_UNITS = 10
const NEWEST_GUIDES = 5

/** What stands on the bench, the newest units and the newest guides. */
export const homeView = async (ctx: Context): Promise<HomeView> => {
  const [sight, demo, units, guides] = await Promise.all([
    seeBench(ctx),
    demoProgress(ctx),
    unitsView(ctx, { most: NEWEST_UNITS }),
    publishedGuides(ctx, { most: NEWEST_GUIDES }),
  ])
  const display = sight.ok ? sight.bench.display : null
  const serial = display?.serial
  const [onBench] =
    serial === undefined
      ? []
      : await unitCards(ctx, ['u.serial = :serial'], { serial }, { most: 1, offset: 0 })
  return {
    bench: sight.ok
      ? {
          ok: true,
          simulated: sight.bench.simulated,
          name: sight.bench.name,
          display: display ? `${display.maker} ${display.model} ${display.sizeInch}` : null,
          serial: display?.serial ?? null,
          firmware: display?.firmware ?? null,
          panelKind: display?.panelKind ?? null,
          meter: sight.bench.meter && `${sight.bench.meter.maker} ${sight.bench.meter.model}`,
          pattern: sight.bench.pattern?.name ?? null,
        }
      : { ok: false, none: sight.none ?? false, message: sight.message },
    onBench: onBench ?? null,
    demo,
    units: units.units,
    unitCount: units.total,
    guides: guides.guides,
    guideCount: guides.total,
  }
}

interface SheetRowView {
  readonly path: string
  readonly label: string
  readonly role: string
  readonly range: string
  readonly comesAs: string
  readonly memory: string
  readonly caution?: string
}

interface ModelView {
  readonly maker: string
  readonly name: string
  readonly panelKind: string
  readonly variants: ReadonlyArray<{ sizeInch: number; region: string; units: number }>
  /** The newest, and how many there are. */
  readonly units: readonly UnitCard[]
  readonly unitCount: number
  readonly sheet: readonly SheetRowView[]
  readonly sheetVersion: number
  readonly guides: readonly GuideCard[]
  /** Firmware versions that are known, the newest first. */
  readonly firmwares: readonly string[]
}

const sheetRows = (sheet: ControlSheet): SheetRowView[] =>
  sheet.controls.map((c) => ({
    path: c.path.join(' › '),
    label: c.label,
    role: c.channel ? `${c.role.replaceAll('-', ' ')}, ${c.channel}` : c.role.replaceAll('-', ' '),
    range:
      c.kind === 'number'
        ? `${showValue(c, c.range.min)} to ${showValue(c, c.range.max)}`
        : c.choices.map((o) => o.label).join(', '),
    comesAs: showValue(c, c.default),
    memory: c.memory.length ? c.memory.join(', ').replaceAll('-', ' ') : 'display',
    caution: c.caution,
  }))

/** A model with its variants, units, control sheet and guides, or undefined where there is none. */
export const modelView = async (ctx: Context, slug: string): Promise<ModelView | undefined> => {
  const { db } = ctx
  const model = await db.models.findOne({ where: { slug } })
  if (!model) return undefined
  const [variants, sheet, units, guides, firmwares] = await Promise.all([
    db.sequelize.query<{ sizeInch: number; region: string; units: number }>(
      `SELECT v.size_inch AS sizeInch, v.region, COUNT(u.id) AS units
         FROM variants v LEFT JOIN units u ON u.variant_id = v.id WHERE v.model_id = :id GROUP BY v.id ORDER BY v.size_inch`,
      { type: QueryTypes.SELECT, replacements: { id: model.id } },
    ),
    db.sheets.findOne({ where: { modelId: model.id }, order: [['version', 'DESC']] }),
    unitsView(ctx, { model: slug }),
    publishedGuides(ctx, { modelId: model.id }),
    db.firmwares.findAll({ where: { modelId: model.id } }),
  ])
  return {
    maker: model.maker,
    name: model.name,
    panelKind: panelLabel(model.panelKind),
    variants: variants.map((v) => ({ ...v, units: Number(v.units) })),
    units: units.units,
    unitCount: units.total,
    sheet: sheet ? sheetRows(sheet.document) : [],
    sheetVersion: sheet?.version ?? 0,
    guides: guides.guides,
    firmwares: newestFirst(firmwares.map((f) => f.version)),
  }
}
