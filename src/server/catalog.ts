import { QueryTypes } from 'sequelize'
import { occupiedBy, overwrittenIn } from '#core/derive'
import { type ChoiceControl, type ControlSheet, controlByRole, showValue } from '#core/display'
import { CASE_LABEL, DERIVED_CASES, roomOf, sayTone, targetsOf, type ViewingCase } from '#core/judge'
import { SDR_SIGNAL } from '#core/signal'
import type { SessionRow, SheetRow } from '#db'
import { type Context, seeBench } from './context'
import { policiesView } from './policies'
import { newestRevision } from './revisions'
import { stationAt } from './session-facts'
import { loadStates } from './session-record'

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
  /** Its newest session, with the station that it has reached. */
  readonly session: {
    readonly id: number
    readonly caseLabel: string
    readonly at: string
    readonly updatedAt: string
  } | null
  readonly guide: { readonly slug: string; readonly published: boolean } | null
}

export interface HomeView {
  readonly bench:
    | { readonly ok: false; readonly message: string }
    | {
        readonly ok: true
        readonly simulated: boolean
        readonly name: string
        readonly display: string | null
        readonly serial: string | null
        readonly firmware: string | null
        readonly meter: string | null
        readonly pattern: string | null
        /** The unit that stands on the bench, where it was taken in. */
        readonly unitId: number | null
      }
  readonly units: readonly UnitCard[]
  readonly guides: readonly GuideCard[]
}

export interface GuideCard {
  readonly slug: string
  readonly title: string
  readonly summary: string
  readonly revision: number
  readonly publishedAt: string
}

const unitCards = async (ctx: Context, unitIds?: readonly number[]): Promise<UnitCard[]> => {
  const { db } = ctx
  const [units, sight] = await Promise.all([
    db.units.findAll({ ...(unitIds ? { where: { id: [...unitIds] } } : {}), order: [['id', 'DESC']] }),
    seeBench(ctx),
  ])
  const serial = sight.ok ? sight.bench.display?.serial : undefined
  return Promise.all(
    units.map(async (unit): Promise<UnitCard> => {
      const variant = (await db.variants.findByPk(unit.variantId))!
      const [model, firmware, session, counted] = await Promise.all([
        db.models.findByPk(variant.modelId),
        latestFirmware(ctx, unit.id),
        db.sessions.findOne({ where: { unitId: unit.id }, order: [['id', 'DESC']] }),
        readingsBySession(ctx, unit.id),
      ])
      const at = session && (await stationAt(ctx, session))
      const revision = session && (await newestRevision(ctx, session.id))
      const guide = revision && (await db.guides.findByPk(revision.guideId))
      return {
        id: unit.id,
        display: `${model!.maker} ${model!.name} ${variant.sizeInch}`,
        modelSlug: model!.slug,
        label: unit.label,
        serial: unit.serial,
        firmware: firmware?.version ?? 'unknown',
        origin: unit.origin,
        returnsOn: unit.returnsOn,
        readings: [...counted.values()].reduce((a, b) => a + b, 0),
        onBench: unit.serial === serial,
        session: session && {
          id: session.id,
          caseLabel: CASE_LABEL[session.viewingCase],
          at: at ?? 'guide',
          updatedAt: session.updatedAt.toISOString(),
        },
        guide: guide ? { slug: guide.slug, published: revision.status === 'published' } : null,
      }
    }),
  )
}

/** Readings of each session of a unit, bad ones included. Out: by session. */
const readingsBySession = async ({ db }: Context, unitId: number): Promise<Map<number, number>> => {
  const rows = await db.sequelize.query<{ id: number; n: number }>(
    `SELECT s.id, SUM(r.reading_count) AS n FROM sessions s JOIN runs r ON r.session_id = s.id
      WHERE s.unit_id = :unitId GROUP BY s.id`,
    { type: QueryTypes.SELECT, replacements: { unitId } },
  )
  return new Map(rows.map((r) => [r.id, Number(r.n)]))
}

/** Where the newest published guide of each session of a unit stands. Out: by session. */
const publishedSlugs = async ({ db }: Context, unitId: number): Promise<Map<number, string>> => {
  const rows = await db.sequelize.query<{ id: number; slug: string }>(
    `SELECT s.id, g.slug FROM sessions s JOIN guide_revisions r ON r.session_id = s.id JOIN guides g ON g.id = r.guide_id
      WHERE s.unit_id = :unitId AND r.status = 'published' ORDER BY r.id`,
    { type: QueryTypes.SELECT, replacements: { unitId } },
  )
  return new Map(rows.map((r) => [r.id, r.slug]))
}

/** The firmware that was seen last on a unit. */
export const latestFirmware = async ({ db }: Context, unitId: number) => {
  const seen = await db.unitFirmwares.findOne({ where: { unitId }, order: [['seenAt', 'DESC']] })
  return seen && db.firmwares.findByPk(seen.firmwareId)
}

/** Published guides, the newest first. */
export const publishedGuides = async ({ db }: Context): Promise<GuideCard[]> => {
  const rows = await db.sequelize.query<{
    slug: string
    number: number
    publishedAt: Date
    title: string
    summary: string
  }>(
    `SELECT g.slug, r.number, r.published_at AS publishedAt,
            JSON_VALUE(r.document, '$.title') AS title, JSON_VALUE(r.document, '$.summary') AS summary
       FROM guides g JOIN guide_revisions r ON r.guide_id = g.id
      WHERE r.status = 'published' AND r.number =
        (SELECT MAX(n.number) FROM guide_revisions n WHERE n.guide_id = g.id AND n.status = 'published')
      ORDER BY r.published_at DESC, g.id DESC`,
    { type: QueryTypes.SELECT },
  )
  return rows.map((r) => ({
    slug: r.slug,
    title: r.title,
    summary: r.summary,
    revision: r.number,
    publishedAt: new Date(r.publishedAt).toISOString(),
  }))
}

/** What stands on the bench, all units and the newest guides. */
export const homeView = async (ctx: Context): Promise<HomeView> => {
  const [sight, units, guides] = await Promise.all([seeBench(ctx), unitCards(ctx), publishedGuides(ctx)])
  const display = sight.ok ? sight.bench.display : null
  return {
    bench: sight.ok
      ? {
          ok: true,
          simulated: sight.bench.simulated,
          name: sight.bench.name,
          display: display ? `${display.maker} ${display.model} ${display.sizeInch}` : null,
          serial: display?.serial ?? null,
          firmware: display?.firmware ?? null,
          meter: sight.bench.meter && `${sight.bench.meter.maker} ${sight.bench.meter.model}`,
          pattern: sight.bench.pattern?.name ?? null,
          unitId: units.find((u) => u.onBench)?.id ?? null,
        }
      : sight,
    units,
    guides,
  }
}

export interface SheetRowView {
  readonly path: string
  readonly label: string
  readonly role: string
  readonly range: string
  readonly comesAs: string
  readonly memory: string
  readonly caution?: string
}

export interface ModelView {
  readonly maker: string
  readonly name: string
  readonly panelKind: string
  readonly variants: ReadonlyArray<{ sizeInch: number; region: string; units: number }>
  readonly units: readonly UnitCard[]
  readonly sheet: readonly SheetRowView[]
  readonly sheetVersion: number
  readonly guides: readonly GuideCard[]
}

const PANEL_KIND: Readonly<Record<string, string>> = {
  'lcd-edge-lit': 'LCD, edge-lit',
  'lcd-full-array': 'LCD, full-array',
  'self-emissive': 'self-emissive',
  projector: 'projector',
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
  const [variants, sheet, guideRows] = await Promise.all([
    db.variants.findAll({ where: { modelId: model.id }, order: ['sizeInch'] }),
    db.sheets.findOne({ where: { modelId: model.id }, order: [['version', 'DESC']] }),
    db.guides.findAll({ where: { modelId: model.id } }),
  ])
  const units = await db.units.findAll({ where: { variantId: variants.map((v) => v.id) } })
  const slugs = new Set(guideRows.map((g) => g.slug))
  return {
    maker: model.maker,
    name: model.name,
    panelKind: PANEL_KIND[model.panelKind] ?? model.panelKind,
    variants: variants.map((v) => ({
      sizeInch: v.sizeInch,
      region: v.region,
      units: units.filter((u) => u.variantId === v.id).length,
    })),
    units: units.length
      ? await unitCards(
          ctx,
          units.map((u) => u.id),
        )
      : [],
    sheet: sheet ? sheetRows(sheet.document) : [],
    sheetVersion: sheet?.version ?? 0,
    guides: (await publishedGuides(ctx)).filter((g) => slugs.has(g.slug)),
  }
}

export interface UnitView {
  readonly card: UnitCard
  readonly panelKind: string
  readonly sizeInch: number
  readonly region: string
  readonly hours: number | null
  readonly firmwares: ReadonlyArray<{ version: string; seenAt: string }>
  readonly sessions: ReadonlyArray<{
    readonly id: number
    readonly viewingCase: ViewingCase
    readonly caseLabel: string
    readonly baseMode: string
    readonly luminance: number
    readonly readings: number
    readonly at: string
    readonly createdAt: string
    readonly guideSlug: string | null
  }>
  /** Picture modes, each with what a new case in it would overwrite, as sentences by viewing case. */
  readonly modes: ReadonlyArray<{
    readonly value: string
    readonly label: string
    readonly holds: ReadonlyArray<{ readonly viewingCase: ViewingCase; readonly sentence: string }>
  }>
  readonly policies: ReadonlyArray<{
    readonly key: string
    readonly name: string
    /** What each case aims at, as a line. */
    readonly targets: Readonly<Partial<Record<ViewingCase, string>>>
  }>
  readonly bench: { readonly ok: boolean; readonly message: string; readonly simulated: boolean }
}

/** A unit with its sessions and what a new one needs, or undefined where there is none. */
export const unitView = async (ctx: Context, id: number): Promise<UnitView | undefined> => {
  const { db } = ctx
  const unit = await db.units.findByPk(id)
  if (!unit) return undefined
  const [[card], variant, seen, sessions, sight] = await Promise.all([
    unitCards(ctx, [id]),
    db.variants.findByPk(unit.variantId),
    db.unitFirmwares.findAll({ where: { unitId: id }, order: [['seenAt', 'DESC']] }),
    db.sessions.findAll({ where: { unitId: id }, order: [['id', 'DESC']] }),
    seeBench(ctx),
  ])
  const [model, firmwares, sheet, counts, slugs] = await Promise.all([
    db.models.findByPk(variant!.modelId),
    db.firmwares.findAll({ where: { id: seen.map((s) => s.firmwareId) } }),
    db.sheets.findOne({ where: { modelId: variant!.modelId }, order: [['version', 'DESC']] }),
    readingsBySession(ctx, id),
    publishedSlugs(ctx, id),
  ])
  const mode = sheet && controlByRole(sheet.document, 'picture-mode')
  const display = sight.ok ? sight.bench.display : null
  return {
    card: card!,
    panelKind: PANEL_KIND[model!.panelKind] ?? model!.panelKind,
    sizeInch: variant!.sizeInch,
    region: variant!.region,
    hours: unit.hours,
    firmwares: seen.map((s) => ({
      version: firmwares.find((f) => f.id === s.firmwareId)?.version ?? '',
      seenAt: s.seenAt.toISOString(),
    })),
    sessions: await Promise.all(
      sessions.map(async (s) => {
        const at = await stationAt(ctx, s)
        const slug = slugs.get(s.id) ?? null
        return {
          id: s.id,
          viewingCase: s.viewingCase,
          caseLabel: CASE_LABEL[s.viewingCase],
          baseMode: s.baseMode === null ? '' : mode ? showValue(mode, s.baseMode) : s.baseMode,
          luminance: s.targetLuminance,
          readings: counts.get(s.id) ?? 0,
          at: slug ? 'published' : at,
          createdAt: s.createdAt.toISOString(),
          guideSlug: slug,
        }
      }),
    ),
    modes: sheet && mode?.kind === 'choice' ? await modesOf(ctx, sheet, mode, sessions) : [],
    policies: (await policiesView(ctx)).map(({ policy }) => ({
      key: policy.key,
      name: policy.name,
      targets: Object.fromEntries(
        DERIVED_CASES.map((c) => {
          const t = targetsOf(policy, roomOf(c)!)
          return [c, `${t.luminance} cd/m², ${policy.white.name}, ${sayTone(t.tone)}`]
        }),
      ),
    })),
    bench: sight.ok
      ? {
          ok: display?.serial === unit.serial,
          simulated: sight.bench.simulated,
          message: display
            ? display.serial === unit.serial
              ? `Stands on the bench now.`
              : `${display.maker} ${display.model}, ${display.serial}, stands on the bench now.`
            : 'The bench has no display.',
        }
      : { ok: false, simulated: false, message: sight.message },
  }
}

/** Modes of a unit, with what finished cases keep in the display's memory there. */
const modesOf = async (
  { db }: Context,
  sheet: SheetRow,
  mode: ChoiceControl,
  sessions: readonly SessionRow[],
): Promise<UnitView['modes']> => {
  const own = sessions.filter((s) => s.sheetId === sheet.id)
  const verified = await db.runs.findAll({
    where: { sessionId: own.map((s) => s.id), purpose: 'verify', status: 'done' },
    attributes: ['sessionId'],
  })
  const finished = own.filter((s) => verified.some((r) => r.sessionId === s.id))
  const states = await loadStates(
    db,
    finished.map((s) => s.stateId),
  )
  const occupied = finished.flatMap((s) =>
    occupiedBy(sheet.document, states.get(s.stateId)!.values, s.viewingCase, SDR_SIGNAL.transfer),
  )
  return mode.choices.map(({ value, label }) => ({
    value,
    label,
    holds: overwrittenIn(sheet.document, value, occupied, SDR_SIGNAL.transfer).map((o) => ({
      viewingCase: o.viewingCase,
      sentence: `“${label}” already holds ${o.controls.length} ${o.controls.length === 1 ? 'value' : 'values'} of ${CASE_LABEL[o.viewingCase]} (${o.controls
        .slice(0, 2)
        .map((c) => `“${c}”`)
        .join(', ')}${o.controls.length > 2 ? ' …' : ''}): ${o.wayOut}.`,
    })),
  }))
}
