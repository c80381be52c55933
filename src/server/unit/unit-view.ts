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
import type { Policy } from '#core/judge'
import { CASE_LABEL, isHdr, POLICY_QUESTIONS, targetsFor, ViewingCase } from '#core/judge'
import { type Effort, effortOf } from '#core/plan'
import { SDR_SIGNAL, signalKind } from '#core/signal'
import { occupiedBy, overwrittenIn, type StepKey } from '#core/steps'
import { sayTone } from '#core/target'
import type { SessionRow, SheetRow } from '#db'
import type { BenchSight } from '../base/context'
import { type Context, seeBench } from '../base/context'
import { type Paged, pageOf } from '../base/pages'
import { usualEquipment } from '../equipment/equipment'
import { policiesView } from '../equipment/policies'
import { paceHere } from '../session/pace'
import { loadStates } from '../session/record'
import { type UnitCard, unitCards } from './catalog'
import { type NoteView, notesOf } from './notes'

const SESSIONS_ON_PAGE = 20

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

/** Of each viewing case the newest session that is neither verified nor published. */
const openCases = (
  sessions: ReadonlyArray<Pick<SessionRow, 'id' | 'viewingCase' | 'archivedAt' | 'step' | 'createdAt'>>,
  verified: ReadonlySet<number>,
  slugs: ReadonlyMap<number, string>,
): UnitView['open'] => {
  const open: { -readonly [K in keyof UnitView['open']]: UnitView['open'][K] } = {}
  for (const s of sessions)
    if (!s.archivedAt && !verified.has(s.id) && !slugs.has(s.id))
      open[s.viewingCase] ??= { id: s.id, at: s.step ?? null, createdAt: s.createdAt.toISOString() }
  return open
}

/** What a policy aims at in a case, in a line. */
const sayTargets = (policy: Policy, of: ViewingCase): string => {
  const { luminance, tone } = targetsFor(policy, of)
  return isHdr(of)
    ? `PQ, ${policy.white.name}, tone mapping by ${POLICY_QUESTIONS.hdrToneMapping.answers[policy.hdrToneMapping]}`
    : `${luminance} cd/m², ${policy.white.name}, ${sayTone(tone)}`
}

/** Whether a unit is on the bench, in words. */
const placeOnBench = (sight: BenchSight, serial: string): UnitView['bench'] => {
  if (!sight.ok) return { ok: false, simulated: false, message: sight.none ? '' : sight.message }
  const { display, simulated } = sight.bench
  if (!display) return { ok: false, simulated, message: 'The bench has no display.' }
  const ok = display.serial === serial
  return {
    ok,
    simulated,
    message: ok
      ? 'Stands on the bench now.'
      : `${display.maker} ${display.model}, ${display.serial}, stands on the bench now.`,
  }
}

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
  const cases = new Map(sessions.map((s) => [s.id, CASE_LABEL[s.viewingCase]]))
  const [model, firmwares, sheet, counts, slugs, usual, runs, notes, policies] = await Promise.all([
    db.models.findByPk(variant!.modelId),
    db.firmwares.findAll({ where: { id: seen.map((s) => s.firmwareId) } }),
    db.sheets.findOne({ where: { modelId: variant!.modelId }, order: [['version', 'DESC']] }),
    readingsBySession(ctx, id),
    publishedSlugs(ctx, id),
    usualEquipment(ctx),
    db.runs.findAll({
      where: { sessionId: [...cases.keys()] },
      attributes: ['sessionId', 'purpose', 'status'],
      raw: true,
    }),
    notesOf(ctx, id, cases),
    policiesView(ctx),
  ])
  const touched = new Set(runs.map((r) => r.sessionId))
  const verified = new Set(
    runs.flatMap((r) => (r.purpose === 'verify' && r.status === 'done' ? [r.sessionId] : [])),
  )
  const { most, offset, ...listed } = pageOf({ page }, sessions.length, SESSIONS_ON_PAGE)
  const mode = sheet && controlByRole(sheet.document, 'picture-mode')
  const display = sight.ok ? sight.bench.display : null
  const [effort, modes] = await Promise.all([
    sheet ? effortView(ctx, sheet.document, verified.size > 0) : null,
    sheet && mode?.kind === 'choice' ? modesOf(ctx, sheet, mode, sessions) : [],
  ])
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
    open: openCases(sessions, verified, slugs),
    equipment:
      sight.ok && (display?.serial === unit.serial || sight.bench.simulated) ? usual : withoutBench(usual),
    hasBench: !sight.ok ? !sight.none : true,
    notes,
    hasSheet: sheet !== null,
    effort,
    modes,
    policies: policies.map(({ policy }) => ({
      key: policy.key,
      name: policy.name,
      targets: Object.fromEntries(ViewingCase.options.map((c) => [c, sayTargets(policy, c)])),
    })),
    bench: placeOnBench(sight, unit.serial),
  }
}

/** What a case by hand is expected to take, at the pace of the person who works here. */
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
