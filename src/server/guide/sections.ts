import type { Transaction } from 'sequelize'
import { QueryTypes } from 'sequelize'
import { unconfirmed } from '#core/display'
import { RowKept } from '#core/entry'
import { type AboutCase, composeByEye, composeCase, slugOf } from '#core/guide/compose'
import type { CaseDocument } from '#core/guide/document'
import type { CheckedCase } from '#core/guide/rules'
import { PanelKind } from '#core/protocol'
import { SDR_SIGNAL, signalDifferences, signalKind } from '#core/signal'
import { type CorrectionRow, type Database, type GuideRow, inTransaction, readable, touchSession } from '#db'
import type { Context } from '../base/context'
import { bad, good, type Result } from '../base/result'
import { storePriors } from '../model/response-priors'
import { strayedFrom } from '../session/cases-in-guide'
import { routeAsLeft, routeOf } from '../session/facts'
import { loadSession, type SessionRecord } from '../session/record'
import { rereadOf } from './rereads'
import { newestRevision } from './session-revision'

/** Name of the review desk that publishes, for headings. */
export const DESK = 'The Pelmar Bench'

/** White out of the box of other units of the same model and size, in the same case and mode. */
const otherWhites = async (ctx: Context, { session, model, variant, unit }: SessionRecord) => {
  const guide = await ctx.db.guides.findOne({ where: { modelId: model.id, sizeInch: variant.sizeInch } })
  const own = guide ? ((await sectionsOf(ctx, guide.id)).get(session.viewingCase) ?? []) : []
  const sessions = await ctx.db.sessions.findAll({
    where: { id: own.flatMap((s) => s.sessionId ?? []), baseMode: session.baseMode },
    attributes: ['id'],
  })
  const alike = new Set(sessions.map((s) => s.id))
  return own.flatMap((s) =>
    s.sessionId !== null &&
    alike.has(s.sessionId) &&
    s.document.display.serial !== unit.serial &&
    s.document.before?.whiteXy
      ? [s.document.before.whiteXy]
      : [],
  )
}

/** What a meter's readings were corrected with, in words. In: correction of Wexmar's own; slot of the meter's. */
const sayCorrection = (own: CorrectionRow | null, slot: string | null): string =>
  own ? `four colours against ${own.reference}` : slot ? `the meter’s own, “${slot}”` : 'none'

/** Composes the document of a session from its route. Out: document, or why it cannot be composed yet. */
const documentOf = async (
  ctx: Context,
  record: SessionRecord,
  byEye: boolean,
): Promise<Result<CaseDocument>> => {
  // As it was left: what another case did with the display since changes nothing of what was measured.
  const { facts, route } = await routeAsLeft(ctx, record)
  const { session, model, variant, unit, firmware, sheet, runs } = record
  const siblings = await ctx.db.variants.findAll({ where: { modelId: model.id } })
  const meter = runs.findLast((r) => r.meter)?.meter
  const bench = session.benchId === null ? null : await ctx.db.benches.findByPk(session.benchId)
  const correction =
    session.correctionId === null ? null : await ctx.db.corrections.findByPk(session.correctionId)
  const room = record.verdicts.findLast((v) => v.conditions)?.conditions
  const about = {
    display: {
      maker: model.maker,
      model: model.name,
      sizeInch: variant.sizeInch,
      region: variant.region,
      unit: unit.label,
      serial: unit.serial,
      origin: unit.origin,
      firmware: firmware.version,
    },
    method: {
      meter: meter ? `${meter.maker} ${meter.model}` : session.meterName || 'unknown',
      patternSource: bench?.description?.pattern?.name ?? 'unknown',
      readings: record.readings.filter((r) => r.fault === null).length,
      measuredOn: (record.readings.at(-1)?.takenAt ?? new Date()).toISOString().slice(0, 10),
      desk: DESK,
      correction: sayCorrection(correction, session.meterSlot),
      ...(room ? { room } : {}),
    },
    panelKind: PanelKind.parse(model.panelKind),
    policy: session.policy,
    sheet: sheet.document,
    baseMode: session.baseMode,
    targetLuminance: session.targetLuminance,
    skipped: session.skippedSteps,
    sizes: siblings.map((v) => v.sizeInch),
    rows: record.entries.flatMap((e) => (e.kind === 'row' ? (RowKept.safeParse(e.document).data ?? []) : [])),
    otherWhites: await otherWhites(ctx, record),
  }
  if (byEye) return byEyeOf(record, about)
  const document = route.next.kind === 'compose' ? composeCase(route, facts, about) : undefined
  const again = document ? undefined : await rereadOf(ctx, record, route)
  if (again) return again
  return document
    ? good(document)
    : bad('The route is not finished: complete the steps before the guide, or skip them with a reason.')
}

/** A case that was set by eye, or why it cannot be composed as one. */
const byEyeOf = (
  { session, state, verdicts, readings }: SessionRecord,
  about: AboutCase,
): Result<CaseDocument> =>
  readings.some((r) => r.fault === null)
    ? bad(
        'Something was measured in this session: go on along its route, or begin another for settings by eye.',
      )
    : good(
        composeByEye(
          {
            viewingCase: session.viewingCase,
            state: state.values,
            signal: session.signalFormat ?? SDR_SIGNAL,
            looked: verdicts.map(
              (v) => `${v.question.replaceAll('-', ' ')}: ${v.answer.replaceAll('-', ' ')}.`,
            ),
          },
          about,
        ),
      )

/** Writes down the values that the route derived, each with the readings it rests on. Out: row id by control. */
const keepDerived = async (ctx: Context, record: SessionRecord): Promise<Map<string, number>> => {
  const { db } = ctx
  const { route, facts } = await routeOf(ctx, record)
  // Of a control that two steps derived, what the later one says.
  const byControl = new Map(route.derived.map((d) => [d.control, d]))
  if (byControl.size === 0) return new Map()
  const own = { sessionId: record.session.id, stateId: record.state.id }
  return inTransaction(db, async (transaction) => {
    await db.derived.bulkCreate(
      [...byControl.values()].map((d) => ({
        ...own,
        controlKey: d.control,
        value: facts.state[d.control]!,
        step: d.step,
        rule: d.rule.slice(0, 500),
      })),
      { updateOnDuplicate: ['value', 'step', 'rule'], transaction },
    )
    const rows = await db.derived.findAll({
      where: { ...own, controlKey: [...byControl.keys()] },
      attributes: ['id', 'controlKey'],
      raw: true,
      transaction,
    })
    // Exactly the readings that each rests on by now: composed again, it may rest on others.
    await db.derivedReadings.destroy({ where: { derivedId: rows.map((r) => r.id) }, transaction })
    await db.derivedReadings.bulkCreate(
      rows.flatMap(({ id: derivedId, controlKey }) =>
        [...new Set(byControl.get(controlKey)!.readingIds)].map((readingId) => ({ derivedId, readingId })),
      ),
      { transaction },
    )
    return new Map(rows.map((r) => [r.controlKey, r.id]))
  })
}

/** The guide of a model and size, made where there is none yet. */
export const guideFor = async (
  db: Database,
  model: { readonly id: number; readonly maker: string; readonly name: string },
  sizeInch: number,
  transaction: Transaction,
): Promise<GuideRow> => {
  const where = { modelId: model.id, sizeInch }
  const here = await db.guides.findOne({ where, transaction })
  if (here) return here
  const slug = slugOf(`${model.maker} ${model.name} ${sizeInch}`)
  // Two models may be written alike: the second gets its number behind the address.
  const taken = await db.guides.findOne({ where: { slug }, attributes: ['id'], transaction })
  const [guide] = await db.guides.findOrCreate({
    where,
    defaults: { ...where, slug: taken ? `${slug}-${model.id}` : slug },
    transaction,
  })
  return guide
}

/**
 * Composes what a session measured as a section of its guide, or gives what is there.
 * In: session id; `anew` takes the present values in place of those of a draft; words that people wrote are kept elsewhere; `byEye`: nothing was measured,
 * and the guide says so.
 * Out: id of the guide, or why it cannot be composed yet.
 */
export const composeGuide = async (
  ctx: Context,
  sessionId: number,
  anew = false,
  byEye = false,
): Promise<Result<number>> => {
  const { db } = ctx
  const existing = await newestRevision(ctx, sessionId)
  const guideOf = async (sectionId: number) =>
    (await db.guideSections.findByPk(sectionId))?.guideId ?? undefined
  if (existing && !anew) {
    const guideId = await guideOf(existing.sectionId)
    if (guideId !== undefined) return good(guideId)
  }
  const record = await loadSession(ctx, sessionId)
  if (!record) return bad('There is no such session.')
  // What was composed by eye stays so as long as nothing is measured.
  const unread = !record.readings.some((r) => r.fault === null)
  const eye = byEye || (unread && existing !== null && !existing.document.after)
  const document = await documentOf(ctx, record, eye)
  if (!document.ok) return document
  const derived = await keepDerived(ctx, record)
  await storePriors(ctx, record.model.id)
  return inTransaction(db, async (transaction) => {
    const guide = await guideFor(db, record.model, record.variant.sizeInch, transaction)
    // What is to become public at a time stays as it was when that was said.
    const scheduled = await db.guideSchedules.findByPk(guide.id, { transaction })
    if (existing?.status === 'draft' && !scheduled?.sections.includes(existing.id)) {
      await db.sectionRevisions.update(
        { document: document.value },
        { where: { id: existing.id }, transaction },
      )
      await keepValues(existing.id, document.value, derived)
      return good(guide.id)
    }
    const slug = slugOf(`${guide.slug} ${document.value.viewingCase.key}`)
    const [section] = await db.guideSections.findOrCreate({
      where: { slug },
      defaults: { slug, modelId: record.model.id, guideId: guide.id },
      transaction,
    })
    if (section.guideId !== guide.id) await section.update({ guideId: guide.id }, { transaction })
    const last = await db.sectionRevisions.findOne({
      where: { sectionId: section.id },
      order: [['number', 'DESC']],
      transaction,
      lock: true,
    })
    const revision = await db.sectionRevisions.create(
      {
        sectionId: section.id,
        sessionId,
        number: (last?.number ?? 0) + 1,
        status: 'draft',
        document: document.value,
        publishedAt: null,
      },
      { transaction },
    )
    await keepValues(revision.id, document.value, derived)
    await touchSession(db, sessionId, transaction)
    return good(guide.id)

    async function keepValues(revisionId: number, of: CaseDocument, ids: Map<string, number>) {
      await db.sectionValues.destroy({ where: { revisionId }, transaction })
      await db.sectionValues.bulkCreate(
        of.values.map((v, position) => ({
          revisionId,
          position,
          controlKey: v.control,
          value: v.value,
          transferClass: v.transfer,
          derivedId: ids.get(v.control) ?? null,
        })),
        { transaction },
      )
    }
  })
}

/** A measured case of a guide: of each unit the newest. */
export interface Section {
  /** Id of its revision; of one that came in a file, the negative of its row. */
  readonly revisionId: number
  /** Null where it came in a file: it was measured elsewhere. */
  readonly sessionId: number | null
  readonly status: 'draft' | 'published'
  readonly document: CaseDocument
}

/** The newest section of each unit for each case of a guide; damaged ones are told of in the log and left out. Out: by case, the newest first. */
export const sectionsOf = async (
  { db }: Context,
  guideId: number,
  transaction?: Transaction,
): Promise<Map<string, Section[]>> => {
  const within = transaction ? { transaction } : {}
  const newest = await db.sequelize.query<{ id: number }>(
    `SELECT MAX(r.id) AS id FROM guide_revisions r JOIN guides g ON g.id = r.guide_id JOIN sessions s ON s.id = r.session_id
      WHERE g.page_id = :guideId GROUP BY g.id, s.unit_id`,
    { type: QueryTypes.SELECT, replacements: { guideId }, ...within },
  )
  const newestFirst = {
    order: [['id', 'DESC'] as [string, string]],
    ...(transaction ? { transaction, lock: true } : {}),
  }
  const rows = readable(
    await db.sectionRevisions.findAll({ where: { id: newest.map((r) => r.id) }, ...newestFirst }),
  )
  const imports = readable(await db.guideImports.findAll({ where: { guideId }, ...newestFirst }))
  const byCase = new Map<string, Section[]>()
  const take = (section: Section) => {
    const { viewingCase, display } = section.document
    const known = byCase.get(viewingCase.key) ?? []
    // What was measured here counts before what came in a file, and the newest file before older ones.
    if (section.sessionId === null && known.some((s) => s.document.display.serial === display.serial)) return
    byCase.set(viewingCase.key, [...known, section])
  }
  for (const { id, sessionId, status, document } of rows)
    take({ revisionId: id, sessionId, status, document })
  for (const { id, status, document } of imports) take({ revisionId: -id, sessionId: null, status, document })
  return byCase
}

/** What the rules have to know of a section beside its document. */
export const checkedCase = async (
  ctx: Context,
  { document, sessionId }: Section,
  newestFirmware: string,
): Promise<CheckedCase | undefined> => {
  const record = sessionId === null ? undefined : await loadSession(ctx, sessionId)
  if (!record) return undefined
  const { facts, route } = await routeAsLeft(ctx, record)
  const { session } = record
  return {
    document,
    sheet: record.sheet.document,
    kind: signalKind(facts.signal),
    verified: route.verify && route.verify.missing.length === 0 ? route.verify.state : undefined,
    outdated: document.values.some(
      (v) => !v.withheld && v.origin !== 'not-measured' && facts.state[v.control] !== v.value,
    ),
    signalProblems: session.seenSignal
      ? signalDifferences(session.signalFormat ?? SDR_SIGNAL, session.seenSignal)
      : [],
    newestFirmware,
    couldGain: Math.max(
      0,
      ...route.more.flatMap((m) => (m.step === 'white' || m.step === 'level-white' ? [m.gain] : [])),
    ),
    strayed: await strayedFrom(ctx, session),
    unseen: session.known
      ? unconfirmed(record.sheet.document, record.state.values, signalKind(facts.signal), session.known)
      : [],
  }
}
