import { QueryTypes } from 'sequelize'
import {
  type ChoiceControl,
  type ControlSheet,
  controlByRole,
  type SignalBank,
  showValue,
  signalBank,
} from '#core/display'
import { type Equipment, panelLabel, withoutBench } from '#core/entry'
import { CASE_LABEL, isHdr, POLICY_QUESTIONS, targetsFor, ViewingCase } from '#core/judge'
import { type Effort, effortOf } from '#core/plan'
import type { PanelKind } from '#core/protocol'
import { SDR_SIGNAL, signalKind } from '#core/signal'
import { occupiedBy, overwrittenIn, type StepKey } from '#core/steps'
import { sayTone } from '#core/target'
import type { SessionRow, SheetRow } from '#db'
import { type Context, seeBench } from '../base/context'
import { type ListWish, type Paged, pageOf, searching } from '../base/pages'
import { usualEquipment } from '../equipment/equipment'
import { policiesView } from '../equipment/policies'
import { type GuideCard, publishedGuides } from '../guide/lists'
import { newestFirst } from '../model/firmware-versions'
import { paceHere } from '../session/pace'
import { loadStates } from '../session/record'
import { type DemoProgress, demoProgress } from './demo-progress'
import { type NoteView, notesOf } from './notes'

const UNITS_ON_PAGE = 25
const SESSIONS_ON_PAGE = 20

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
const unitCards = async (
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
    `SELECT s.id, g.slug FROM sessions s JOIN guide_revisions r ON r.session_id = s.id
       JOIN guides x ON x.id = r.guide_id JOIN guide_pages g ON g.id = x.page_id
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

export interface UnitView {
  /** Part of its sessions that is shown, the newest first. */
  readonly listed: Paged
  /** Viewing cases that it has a session of. */
  readonly begun: readonly ViewingCase[]
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
    /** Step that it has reached; null before it was planned first. */
    readonly at: StepKey | null
    readonly createdAt: string
    readonly guideSlug: string | null
    readonly archived: boolean
    /** Nothing was done in it yet: it may be deleted. */
    readonly empty: boolean
  }>
  /** Sessions that were begun and are not verified, by viewing case: what is gone on with instead of being begun again. */
  readonly open: Readonly<
    Partial<
      Record<ViewingCase, { readonly id: number; readonly at: StepKey | null; readonly createdAt: string }>
    >
  >
  /** The equipment that a case of this unit begins with. */
  readonly equipment: Equipment
  readonly hasBench: boolean
  readonly notes: readonly NoteView[]
  /** What a case by hand is expected to take, with a survey of the modes and without. */
  readonly effort: {
    readonly survey: readonly Effort[]
    readonly chosen: readonly Effort[]
    /** At whose pace the minutes are, in words. */
    readonly pace: string
  } | null
  /** The model has a control sheet. */
  readonly hasSheet: boolean
  /** Picture modes, each with what a new case in it would overwrite, as sentences by viewing case. */
  readonly modes: ReadonlyArray<{
    readonly value: string
    readonly label: string
    /** What cases keep there that another one would overwrite, a row for each kind of signal that the other one has. */
    readonly holds: ReadonlyArray<{
      readonly viewingCase: ViewingCase
      readonly by: SignalBank
      readonly sentence: string
    }>
  }>
  readonly policies: ReadonlyArray<{
    readonly key: string
    readonly name: string
    /** What each case aims at, as a line. */
    readonly targets: Readonly<Partial<Record<ViewingCase, string>>>
  }>
  readonly bench: { readonly ok: boolean; readonly message: string; readonly simulated: boolean }
}

/** What a list needs of a session: not its policy, not what it refused. */
const LISTED_OF_SESSION = [
  'id',
  'sheetId',
  'stateId',
  'viewingCase',
  'baseMode',
  'targetLuminance',
  'step',
  'createdAt',
  'archivedAt',
] as const

/** A unit with its sessions and what a new one needs, or undefined where there is none. */
export const unitView = async (ctx: Context, id: number, page = 1): Promise<UnitView | undefined> => {
  const { db } = ctx
  const unit = await db.units.findByPk(id)
  if (!unit) return undefined
  const [[card], variant, seen, sessions, sight] = await Promise.all([
    unitCards(ctx, ['u.id = :id'], { id }, { most: 1, offset: 0 }),
    db.variants.findByPk(unit.variantId),
    db.unitFirmwares.findAll({ where: { unitId: id }, order: [['seenAt', 'DESC']] }),
    db.sessions.findAll({
      where: { unitId: id },
      order: [['id', 'DESC']],
      attributes: [...LISTED_OF_SESSION],
      raw: true,
    }),
    seeBench(ctx),
  ])
  const [model, firmwares, sheet, counts, slugs] = await Promise.all([
    db.models.findByPk(variant!.modelId),
    db.firmwares.findAll({ where: { id: seen.map((s) => s.firmwareId) } }),
    db.sheets.findOne({ where: { modelId: variant!.modelId }, order: [['version', 'DESC']] }),
    readingsBySession(ctx, id),
    publishedSlugs(ctx, id),
  ])
  const usual = await usualEquipment(ctx)
  const runs = await db.runs.findAll({
    where: { sessionId: sessions.map((s) => s.id) },
    attributes: ['sessionId', 'purpose', 'status'],
    raw: true,
  })
  const touched = new Set(runs.map((r) => r.sessionId))
  const verified = new Set(
    runs.flatMap((r) => (r.purpose === 'verify' && r.status === 'done' ? [r.sessionId] : [])),
  )
  const open: { -readonly [K in keyof UnitView['open']]: UnitView['open'][K] } = {}
  for (const s of sessions)
    if (!s.archivedAt && !verified.has(s.id) && !slugs.has(s.id))
      open[s.viewingCase] ??= { id: s.id, at: s.step ?? null, createdAt: s.createdAt.toISOString() }
  const { most, offset, ...listed } = pageOf({ page }, sessions.length, SESSIONS_ON_PAGE)
  const mode = sheet && controlByRole(sheet.document, 'picture-mode')
  const display = sight.ok ? sight.bench.display : null
  return {
    card: card!,
    panelKind: panelLabel(model!.panelKind),
    sizeInch: variant!.sizeInch,
    region: variant!.region,
    hours: unit.hours,
    firmwares: seen.map((s) => ({
      version: firmwares.find((f) => f.id === s.firmwareId)?.version ?? '',
      seenAt: s.seenAt.toISOString(),
    })),
    listed,
    begun: [...new Set(sessions.map((s) => s.viewingCase))],
    sessions: sessions.slice(offset, offset + most).map((s) => ({
      id: s.id,
      viewingCase: s.viewingCase,
      caseLabel: CASE_LABEL[s.viewingCase],
      baseMode: s.baseMode === null ? '' : mode ? showValue(mode, s.baseMode) : s.baseMode,
      luminance: s.targetLuminance,
      readings: counts.get(s.id) ?? 0,
      at: s.step ?? null,
      createdAt: s.createdAt.toISOString(),
      guideSlug: slugs.get(s.id) ?? null,
      archived: s.archivedAt !== null,
      empty: !touched.has(s.id),
    })),
    open,
    equipment:
      sight.ok && display?.serial === unit.serial
        ? usual
        : sight.ok && sight.bench.simulated
          ? usual
          : withoutBench(usual),
    hasBench: !sight.ok ? !sight.none : true,
    notes: await notesOf(ctx, id, new Map(sessions.map((s) => [s.id, CASE_LABEL[s.viewingCase]]))),
    hasSheet: sheet !== null,
    effort: sheet ? await effortView(ctx, sheet.document, verified.size > 0) : null,
    modes: sheet && mode?.kind === 'choice' ? await modesOf(ctx, sheet, mode, sessions) : [],
    policies: (await policiesView(ctx)).map(({ policy }) => ({
      key: policy.key,
      name: policy.name,
      targets: Object.fromEntries(
        ViewingCase.options.map((c) => {
          const t = targetsFor(policy, c)
          return [
            c,
            isHdr(c)
              ? `PQ, ${policy.white.name}, tone mapping by ${POLICY_QUESTIONS.hdrToneMapping.answers[policy.hdrToneMapping]}`
              : `${t.luminance} cd/m², ${policy.white.name}, ${sayTone(t.tone)}`,
          ]
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
      : { ok: false, simulated: false, message: sight.none ? '' : sight.message },
  }
}

/** What a case by hand is expected to take, at the pace that whoever works here has shown. */
const effortView = async (
  { db }: Context,
  sheet: ControlSheet,
  known: boolean,
): Promise<UnitView['effort']> => {
  const pace = await paceHere(db)
  return {
    survey: effortOf(sheet, { survey: true, known }, pace),
    chosen: effortOf(sheet, { survey: false, known }, pace),
    pace: `at ${pace.own ? 'your pace so far' : 'a usual pace'}, ${Number(pace.perReading.toFixed(pace.perReading < 10 ? 1 : 0))} s a reading`,
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
    occupiedBy(
      sheet.document,
      states.get(s.stateId)!.values,
      s.viewingCase,
      signalKind(s.signalFormat ?? SDR_SIGNAL),
    ),
  )
  return mode.choices.map(({ value, label }) => ({
    value,
    label,
    holds: (['sdr', 'pq'] as const).flatMap((transfer) =>
      overwrittenIn(sheet.document, value, occupied, transfer).map((o) => ({
        viewingCase: o.viewingCase,
        by: signalBank(transfer),
        sentence: `“${label}” already holds ${o.controls.length} ${o.controls.length === 1 ? 'value' : 'values'} of ${CASE_LABEL[o.viewingCase]} (${o.controls
          .slice(0, 2)
          .map((c) => `“${c}”`)
          .join(', ')}${o.controls.length > 2 ? ' …' : ''}): ${o.wayOut}.`,
      })),
    ),
  }))
}
