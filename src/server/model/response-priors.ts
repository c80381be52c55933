import { Op, QueryTypes } from 'sequelize'
import { controlOf, showValue } from '#core/display'
import { CASE_LABEL } from '#core/judge'
import { sayWhole } from '#core/measure'
import { mergePriors, ResponsePrior } from '#core/model'
import { priorsOfRoute } from '#core/plan'
import { inTransaction, type SessionRow } from '#db'
import type { Context } from '../base/context'
import { bad, good, type Result } from '../base/result'
import { routeOf } from '../session/facts'
import { loadSession, type SessionRecord, sheetOf } from '../session/record'
import { priorsOf } from './prior-rows'

/** Sessions that are looked through at once, the newest first. */
const AT_ONCE = 5
/** Looks that are taken before something is forgotten. */
const MOST_ROUNDS = 40

/**
 * Writes down the response priors of a model's sessions that are new since the last time, so that the next case begins with them. A session
 * that has none yet is marked as looked at, too. Sessions with a run going on wait. Out: how many sessions were looked through.
 */
export const storePriors = async (ctx: Context, modelId: number): Promise<number> => {
  const due = await ctx.db.sequelize.query<{ id: number }>(
    `SELECT s.id FROM sessions s JOIN units u ON u.id = s.unit_id JOIN variants v ON v.id = u.variant_id
      WHERE v.model_id = :modelId AND (s.priors_at IS NULL OR s.priors_at < s.revision)
        AND NOT EXISTS (SELECT 1 FROM runs r WHERE r.session_id = s.id AND r.status NOT IN ('done', 'cancelled'))
      ORDER BY s.updated_at DESC LIMIT ${AT_ONCE}`,
    { type: QueryTypes.SELECT, replacements: { modelId } },
  )
  for (const { id } of due) {
    const record = await loadSession(ctx, id)
    if (!record) continue
    // What one session teaches is a help to others; one that cannot be reckoned with is named, and keeps nobody from beginning.
    await rememberSession(ctx, record).catch((error: Error) =>
      console.error(`priors of session ${id} were not written down: ${error.stack ?? error.message}`),
    )
  }
  return due.length
}

/** Writes down the response priors of one session, where they were not yet. */
export const rememberSession = async (ctx: Context, record: SessionRecord): Promise<void> => {
  const { db } = ctx
  const { id, revision, priorsAt } = record.session
  if (priorsAt === revision) return
  const priors = priorsOfRoute((await routeOf(ctx, record)).route).filter(
    // A number that is none would spoil everything that is reckoned with it later.
    (p) => ResponsePrior.safeParse(p).success,
  )
  await inTransaction(db, async (transaction) => {
    const session = (await db.sessions.findByPk(id, { transaction, lock: true })) as SessionRow
    // It went on meanwhile, or somebody else wrote it down.
    if (session.revision !== revision || session.priorsAt === revision) return
    const before = await db.priors.findAll({ where: { sessionId: id }, transaction })
    // What was forgotten of a session stays so until it has read something new of it.
    const forgotten = new Map(
      before.filter((l) => l.forgotten).map((l) => [nameOf(l.document), l.document.readings]),
    )
    await db.priors.destroy({ where: { sessionId: id }, transaction })
    await db.priors.bulkCreate(
      priors.map((document) => ({
        sessionId: id,
        revision,
        controlKey: document.control,
        document,
        forgotten: (forgotten.get(nameOf(document)) ?? -1) >= document.readings,
      })),
      { transaction },
    )
    await db.sessions.update({ priorsAt: revision }, { where: { id }, transaction })
  })
}

const nameOf = (l: ResponsePrior) => `${l.control} ${l.kind} ${l.aspect} ${l.choice ?? ''}`

/** A response prior of a model, as pages show it. */
interface PriorView {
  readonly name: string
  readonly control: string
  readonly path: readonly string[]
  /** What it says, in words with figures and units. */
  readonly says: string
  readonly certainty: string
  readonly readings: number
  readonly sources: readonly string[]
}

const WHAT: Readonly<Record<ResponsePrior['kind'], string>> = {
  effect: 'one click',
  curve: 'luminance by value',
  tone: 'exponent',
  preset: 'white',
  colour: 'one click',
  clipping: 'clipping',
  dimming: 'strength',
}
/** Drive by a click under which a control leaves a channel alone. */
const NO_EFFECT = 2e-4
const CHANNEL: Readonly<Record<string, string>> = { red: 'red', blue: 'blue', tone: 'light' }

/** What a response prior says, in words. */
const sayPrior = (prior: ResponsePrior, choice: string): string => {
  const { kind, mean, at, aspect } = prior
  const signed = (v: number, digits: number) => `${v < 0 ? '−' : '+'}${Math.abs(v).toFixed(digits)}`
  switch (kind) {
    case 'effect': {
      const most = mean.reduce((a, m, i) => (Math.abs(m) > Math.abs(mean[a]!) ? i : a), 0)
      if (Math.abs(mean[most]!) < NO_EFFECT) return `leaves ${CHANNEL[aspect] ?? aspect} alone`
      return `${WHAT.effect} moves ${CHANNEL[aspect] ?? aspect} by ${signed(100 * mean[most]!, 2)} % of drive at ${Math.round(100 * at[most]!)} %`
    }
    case 'curve':
      return `luminance from ${(100 * mean[0]!).toFixed(0)} to ${(100 * mean.at(-1)!).toFixed(0)} % of the highest over its range`
    case 'tone':
      return `${choice}: gamma ${mean[0]!.toFixed(2)}`
    case 'preset':
      return `${choice}: red ${signed(100 * (Math.exp(mean[0]!) - 1), 1)} %, blue ${signed(100 * (Math.exp(mean[1] ?? 0) - 1), 1)} % against green`
    case 'colour':
      return `${WHAT.colour} moves the full colour by ${mean.map((m) => signed(100 * m, 2)).join(', ')} % (red, green, blue)`
    case 'clipping':
      return aspect === 'black'
        ? `shadow detail shifted by ${signed(100 * mean[0]!, 1)} % of signal`
        : 'clipping below white'
    case 'dimming':
      return `${choice}: checkerboard ${sayWhole(mean[0]!)}:1`
  }
}

/** The response priors of a model, control by control. */
export const priorsView = async (
  ctx: Context,
  slug: string,
): Promise<{ model: string; priors: PriorView[] } | undefined> => {
  const model = await ctx.db.models.findOne({ where: { slug } })
  if (!model) return undefined
  const newest = await ctx.db.sheets.findOne({ where: { modelId: model.id }, order: [['version', 'DESC']] })
  const name = `${model.maker} ${model.name}`
  if (!newest) return { model: name, priors: [] }
  const sheet = (await sheetOf(ctx.db, newest.id)).document
  const own = (await priorsOf(ctx, model.id)).filter(
    ({ row }) => !row.forgotten && sheet.controls.some((c) => c.key === row.controlKey),
  )
  const sessionIds = [...new Set(own.map((l) => l.row.sessionId))]
  const sessions = await ctx.db.sessions.findAll({ where: { id: sessionIds } })
  const units = await ctx.db.units.findAll({ where: { id: sessions.map((s) => s.unitId) } })
  const unitOf = (id: number) => {
    const session = sessions.find((s) => s.id === id)!
    const version = firmwares.find((f) => f.id === session.firmwareId)?.version ?? 'unknown'
    const older = session.firmwareId === newestFirmware ? '' : `, older firmware ${version}`
    return `${units.find((u) => u.id === session.unitId)!.label}, ${CASE_LABEL[session.viewingCase]}${older}`
  }
  // The newest firmware is what readers have; a prior from an older one is weaker.
  const newestFirmware = Math.max(0, ...own.map((l) => l.firmwareId))
  const merged = mergePriors(
    own.map(({ row, firmwareId }) => ({
      ...row.document,
      ownUnit: false,
      ownFirmware: firmwareId === newestFirmware,
    })),
  )
  const firmwares = await ctx.db.firmwares.findAll({ where: { modelId: model.id } })
  return {
    model: name,
    priors: merged.map((prior): PriorView => {
      const control = controlOf(sheet, prior.control)
      const rows = own.filter(({ row }) => nameOf(row.document) === nameOf(prior))
      const choice = prior.choice === undefined ? '' : showValue(control, prior.choice)
      return {
        name: nameOf(prior),
        control: control.label,
        path: control.path,
        says: sayPrior(prior, choice),
        certainty: `±${Math.round(100 * prior.sigma)} %`,
        readings: prior.readings,
        sources: [...new Set(rows.map(({ row }) => unitOf(row.sessionId)))],
      }
    }),
  }
}

/** Forgets a response prior of a model, or all of them. Out: how many, or why not. */
export const forgetPriors = async (ctx: Context, slug: string, name?: string): Promise<Result<number>> => {
  const model = await ctx.db.models.findOne({ where: { slug } })
  if (!model) return bad('There is no such model. Nothing was forgotten.')
  // What sessions would still write down is forgotten with the rest, instead of coming back a moment later.
  for (let round = 0; round < MOST_ROUNDS; round++) if ((await storePriors(ctx, model.id)) < AT_ONCE) break
  const own = (await priorsOf(ctx, model.id)).filter(
    ({ row }) => !row.forgotten && (name === undefined || nameOf(row.document) === name),
  )
  if (own.length === 0) return bad('There is nothing of that kind to forget.')
  return inTransaction(ctx.db, async (transaction) => {
    // Nobody writes response priors down from a session meanwhile.
    const sessions = [...new Set(own.map(({ row }) => row.sessionId))]
    await ctx.db.sessions.findAll({ where: { id: sessions }, transaction, lock: true })
    const where = own.map(({ row: { sessionId, controlKey } }) => ({ sessionId, controlKey }))
    const rows = await ctx.db.priors.findAll({ where: { [Op.or]: where }, transaction })
    const ids = rows
      .filter((r) => !r.forgotten && (name === undefined || nameOf(r.document) === name))
      .map((r) => r.id)
    await ctx.db.priors.update({ forgotten: true }, { where: { id: ids }, transaction })
    return good(ids.length)
  })
}
