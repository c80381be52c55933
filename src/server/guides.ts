import { Op } from 'sequelize'
import { controlByRole, showValue } from '#core/display'
import {
  checkGuide,
  composeValues,
  GuideDocument,
  type GuideFinding,
  GuideWords,
  guideHdrOf,
  measureOf,
  proposeSummary,
  slugOf,
} from '#core/guide'
import { CASE_LABEL } from '#core/judge'
import { endingOf } from '#core/plan'
import { sayTone } from '#core/target'
import type { GuideRevisionRow, GuideRow } from '#db'
import { inTransaction, touchSession } from '#db'
import type { Context } from './context'
import { storePriors } from './priors'
import { bad, good, type Result } from './result'
import { newestRevision } from './revisions'
import { routeOf } from './session-facts'
import { loadSession, type SessionRecord } from './session-record'

/** Name of the review desk that publishes, for headings. */
export const DESK = 'The Pelmar Bench'

/** A draft as its editor sees it. */
interface DraftView {
  readonly revisionId: number
  readonly sessionId: number
  readonly slug: string
  readonly number: number
  readonly status: 'draft' | 'published'
  readonly document: GuideDocument
  readonly findings: readonly GuideFinding[]
  /** The session has gone on since this was composed. */
  readonly outdated: boolean
}

/** A guide as readers get it. */
export interface PublicGuide {
  readonly slug: string
  readonly revision: number
  readonly publishedAt: string
  readonly document: GuideDocument
}

/** Composes the document of a session from its route. Out: document, or why it cannot be composed yet. */
const documentOf = async (ctx: Context, record: SessionRecord): Promise<Result<GuideDocument>> => {
  const { facts, route } = await routeOf(ctx, record)
  const { before, after } = route
  if (route.next.kind !== 'compose' || !before || !after)
    return bad('The route is not finished: complete the steps before the guide, or skip them with a reason.')
  const { session, model, variant, unit, firmware, sheet, runs } = record
  const { policy } = session
  const siblings = await ctx.db.variants.findAll({ where: { modelId: model.id } })
  const [beforeMeasure, afterMeasure] = [measureOf(before), measureOf(after)]
  const { mapping } = route.context.byRole
  const hdr = route.hdr && guideHdrOf(route.hdr, route.mappings ?? [], mapping && facts.state[mapping.key])
  const values = composeValues(sheet.document, facts.state, route.derived, {
    luminance: after.grey.white.luminance,
    ...(hdr ? { peak: Math.max(0, ...hdr.peakByWindow.map((w) => w.sustained)) } : {}),
    publish: policy.publish,
  })
  const mode = controlByRole(sheet.document, 'picture-mode')
  const baseMode = mode && session.baseMode !== null ? showValue(mode, session.baseMode) : 'one mode only'
  const meter = runs.findLast((r) => r.meter)?.meter
  const caseLabel = CASE_LABEL[session.viewingCase]
  const bench = session.benchId === null ? null : await ctx.db.benches.findByPk(session.benchId)
  return good({
    format: 'wexmar-guide/1',
    title: `${model.maker} ${model.name} ${variant.sizeInch} settings`,
    summary: proposeSummary({
      baseMode,
      sizeInch: variant.sizeInch,
      caseLabel,
      before: beforeMeasure,
      after: afterMeasure,
      values,
      hdr,
    }),
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
    viewingCase: { key: session.viewingCase, label: caseLabel },
    baseMode,
    targets: {
      luminance: session.targetLuminance,
      white: policy.white.name,
      tone: hdr ? 'PQ' : sayTone(facts.targets.tone),
    },
    policy: { name: policy.name, preferences: route.preferences.map((p) => p.sentence) },
    limits: route.limits.map((l) => l.sentence),
    ending: [...endingOf(route, session.skippedSteps).sentences],
    method: {
      heading: 'Calibrated with a meter',
      meter: meter ? `${meter.maker} ${meter.model}` : session.meterName || 'unknown',
      patternSource: bench?.description?.pattern?.name ?? 'unknown',
      readings: record.readings.filter((r) => r.fault === null).length,
      measuredOn: (record.readings.at(-1)?.takenAt ?? new Date()).toISOString().slice(0, 10),
      desk: DESK,
    },
    values,
    ...(hdr ? { hdr } : {}),
    before: beforeMeasure,
    after: afterMeasure,
    worse: route.worse.map((w) => w.sentence),
    otherSizes: [...new Set(siblings.map((v) => v.sizeInch))].filter((s) => s !== variant.sizeInch),
  } satisfies GuideDocument)
}

/** Writes down the values that the route derived, each with the readings it rests on. Out: row id by control. */
const keepDerived = async (ctx: Context, record: SessionRecord): Promise<Map<string, number>> => {
  const { db } = ctx
  const { route, facts } = await routeOf(ctx, record)
  const ids = new Map<string, number>()
  await inTransaction(db, async (transaction) => {
    for (const d of route.derived) {
      const where = { sessionId: record.session.id, stateId: record.state.id, controlKey: d.control }
      const [row] = await db.derived.findOrCreate({
        where,
        defaults: {
          ...where,
          value: facts.state[d.control]!,
          step: d.step,
          rule: d.rule.slice(0, 500),
        },
        transaction,
      })
      await row.update(
        { value: facts.state[d.control]!, step: d.step, rule: d.rule.slice(0, 500) },
        { transaction },
      )
      // Exactly those that it rests on by now: composed again, it may rest on others.
      const readingIds = [...new Set(d.readingIds)]
      await db.derivedReadings.destroy({
        where: { derivedId: row.id, readingId: { [Op.notIn]: readingIds } },
        transaction,
      })
      await db.derivedReadings.bulkCreate(
        readingIds.map((readingId) => ({ derivedId: row.id, readingId })),
        { ignoreDuplicates: true, transaction },
      )
      ids.set(d.control, row.id)
    }
  })
  return ids
}

/**
 * Composes a session's guide as a draft, or gives the draft that is there.
 * In: session id; `anew` throws an existing draft's values away (its texts stay) and takes the present ones.
 * Out: revision id, or why it cannot be composed yet.
 */
export const composeGuide = async (
  ctx: Context,
  sessionId: number,
  anew = false,
): Promise<Result<number>> => {
  const { db } = ctx
  const existing = await newestRevision(ctx, sessionId)
  if (existing && !anew) return good(existing.id)
  const record = await loadSession(ctx, sessionId)
  if (!record) return bad('There is no such session.')
  const document = await documentOf(ctx, record)
  if (!document.ok) return document
  const derived = await keepDerived(ctx, record)
  await storePriors(ctx, record.model.id)
  return inTransaction(db, async (transaction) => {
    if (existing?.status === 'draft') {
      const { title, summary } = existing.document
      await db.guideRevisions.update(
        { document: { ...document.value, title, summary } },
        { where: { id: existing.id }, transaction },
      )
      await keepValues(existing.id, document.value, derived)
      return good(existing.id)
    }
    const { display } = document.value
    const base = slugOf(
      `${display.maker} ${display.model} ${display.sizeInch} ${document.value.viewingCase.key}`,
    )
    // One guide for each model, size and case: another unit or a later session makes its next revision.
    const [guide] = await db.guides.findOrCreate({
      where: { slug: base },
      defaults: { slug: base, modelId: record.model.id },
      transaction,
    })
    const last = await db.guideRevisions.findOne({
      where: { guideId: guide.id },
      order: [['number', 'DESC']],
      transaction,
      lock: true,
    })
    const revision = await db.guideRevisions.create(
      {
        guideId: guide.id,
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
    return good(revision.id)

    async function keepValues(revisionId: number, guide: GuideDocument, ids: Map<string, number>) {
      await db.guideValues.destroy({ where: { revisionId }, transaction })
      await db.guideValues.bulkCreate(
        guide.values.map((v, position) => ({
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

const findingsOf = async (
  ctx: Context,
  record: SessionRecord,
  document: GuideDocument,
): Promise<GuideFinding[]> => {
  const { route } = await routeOf(ctx, record)
  const verified = route.verify && route.verify.missing.length === 0 ? route.verify.state : undefined
  return checkGuide(document, record.sheet.document, verified)
}

/** The newest draft or published revision of a session, or undefined where there is none. */
export const draftView = async (ctx: Context, sessionId: number): Promise<DraftView | undefined> => {
  const revision = await newestRevision(ctx, sessionId)
  if (!revision) return undefined
  const [guide, record] = await Promise.all([
    ctx.db.guides.findByPk(revision.guideId),
    loadSession(ctx, sessionId),
  ])
  const { facts } = await routeOf(ctx, record!)
  return {
    revisionId: revision.id,
    sessionId,
    slug: guide!.slug,
    number: revision.number,
    status: revision.status,
    document: revision.document,
    findings: await findingsOf(ctx, record!, revision.document),
    outdated: revision.document.values.some((v) => !v.withheld && facts.state[v.control] !== v.value),
  }
}

/** Writes an editor's words into a draft. Out: nothing, or what is wrong with them; then the draft is as it was. */
export const saveGuideText = async (
  ctx: Context,
  sessionId: number,
  text: { title: string; summary: string },
): Promise<Result<null>> => {
  const parsed = GuideWords.safeParse(text)
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!
    return bad(`${issue.message} The draft is as it was.`, String(issue.path[0]))
  }
  return inTransaction(ctx.db, async (transaction) => {
    const revision = await newestRevision(ctx, sessionId, transaction)
    if (!revision) return bad('This session has no guide yet. Compose it first.')
    if (revision.status === 'published')
      return bad('This revision is published and stays as it is. Compose a new one to change it.')
    await ctx.db.guideRevisions.update(
      { document: { ...revision.document, ...parsed.data } },
      { where: { id: revision.id }, transaction },
    )
    return good(null)
  })
}

/** Publishes a session's draft. Out: the guide's slug, or what stops it. Publishing twice is publishing once. */
export const publishGuide = async (ctx: Context, sessionId: number): Promise<Result<string>> => {
  const record = await loadSession(ctx, sessionId)
  if (!record) return bad('There is no such session.')
  const draft = await newestRevision(ctx, sessionId)
  const findings = draft ? await findingsOf(ctx, record, draft.document) : []
  const stops = findings.filter((f) => f.weight === 'stop')
  return inTransaction(ctx.db, async (transaction): Promise<Result<string>> => {
    await ctx.db.sessions.findByPk(sessionId, { attributes: ['id'], transaction, lock: true })
    const revision = await newestRevision(ctx, sessionId, transaction)
    if (!revision || !draft) return bad('This session has no guide yet. Compose it first.')
    const guide = (await ctx.db.guides.findByPk(revision.guideId, { transaction }))!
    if (revision.status === 'published') return good(guide.slug)
    if (JSON.stringify(revision.document) !== JSON.stringify(draft.document))
      return bad('The draft was changed a moment ago. Look at it again, then publish. The draft is kept.')
    if (stops.length > 0)
      return bad(`Not published: ${stops.map((s) => s.text).join(' ')} The draft is kept.`)
    const publishedAt = new Date()
    await ctx.db.guideRevisions.update(
      { status: 'published', publishedAt },
      { where: { id: revision.id }, transaction },
    )
    const { title, summary } = revision.document
    await ctx.db.guides.update(
      {
        title: title.slice(0, 300),
        summary: summary.slice(0, 1000),
        publishedNumber: revision.number,
        publishedAt,
      },
      { where: { id: guide.id }, transaction },
    )
    await touchSession(ctx.db, sessionId, transaction)
    return good(guide.slug)
  })
}

/**
 * The newest published revision of a guide; undefined where there is none, or where it is damaged: then it is said in the log, and
 * everything else stays as it is.
 */
export const publicGuide = async ({ db }: Context, slug: string): Promise<PublicGuide | undefined> => {
  const guide: GuideRow | null = await db.guides.findOne({ where: { slug } })
  if (!guide?.publishedNumber) return undefined
  const revision: GuideRevisionRow | null = await db.guideRevisions.findOne({
    where: { guideId: guide.id, status: 'published', number: guide.publishedNumber },
  })
  if (!revision) return undefined
  const document = GuideDocument.safeParse(revision.document)
  if (!document.success) {
    console.error(`guides: revision ${revision.id} is damaged: ${document.error.issues[0]?.message}`)
    return undefined
  }
  return {
    slug,
    revision: revision.number,
    publishedAt: revision.publishedAt!.toISOString(),
    document: document.data,
  }
}
