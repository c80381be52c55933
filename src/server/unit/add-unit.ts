import type { Transaction } from 'sequelize'
import { believedState, type ControlSheet, controlByRole, knownBy } from '#core/display'
import { type Equipment, type Intake, type IntakeByHand, ON_BENCH, whyNotEquipment } from '#core/entry'
import { slugOf } from '#core/guide/compose'
import { isHdr, type Policy, REFERENCE_POLICY, type ViewingCase } from '#core/judge'
import type { DisplayIdentity } from '#core/protocol'
import { type Database, inTransaction, keepState, memoryOf, type SessionRow } from '#db'
import { heavy } from '../background/offload'
import { type Context, forgetBench, seeBench } from '../base/context'
import { freeSlug } from '../base/free-slug'
import { bad, good, type Result } from '../base/result'
import { benchRow } from '../equipment/bench-row'
import { signalFor } from '../equipment/equipment'
import { findPolicy } from '../equipment/policies'
import { readSheet } from '../model/sheets'
import { targetColumns, whyNotTarget } from '../session/targets'
import { latestFirmware } from './catalog'

/**
 * Takes in the unit that stands on the bench: its model, variant, firmware and control sheet, each made where it is new.
 * Out: unit id, or a sentence that says why not.
 */
export const takeIn = async (ctx: Context, intake: Intake): Promise<Result<number>> => {
  forgetBench()
  const [sight, sheet] = await Promise.all([seeBench(ctx), ctx.bench.sheet()])
  if (!sight.ok) return bad(`${sight.message} Nothing was added.`)
  const display = sight.bench.display
  if (!display) return bad('No display stands on the bench. Nothing was added.')
  if (!sheet.ok) return bad(`${sheet.failure.message} Nothing was added.`)
  return keepUnit(ctx, display, sheet.value, intake)
}

/** A unit that was added by hand. */
export interface AddedUnit {
  readonly id: number
  readonly modelSlug: string
  /** Its model has a control sheet already. */
  readonly hasSheet: boolean
}

/**
 * Takes in a unit by hand.
 * In: what it is; its control sheet as JSON text, empty where the model has one already or it is entered afterwards. Out: the unit, or a
 * sentence that says why not.
 */
export const takeInByHand = async (
  ctx: Context,
  intake: IntakeByHand,
  sheetText: string,
): Promise<Result<AddedUnit>> => {
  const serial = intake.serial
  if (await ctx.db.units.findOne({ where: { serial } }))
    return bad(`A unit with serial number ${serial} is here already. Nothing was added.`, 'serial')
  const known = await ctx.db.models.findOne({ where: { maker: intake.maker, name: intake.model } })
  const newest = known && (await newestSheet(ctx.db, known.id))
  const sheet = sheetText.trim() ? readSheet(sheetText) : good(newest?.document)
  if (!sheet.ok) return bad(`${sheet.error} Nothing was added.`, 'sheet')
  const given = sheet.value
  if (given && (given.maker !== intake.maker || given.model !== intake.model))
    return bad(
      `The sheet is that of ${given.maker} ${given.model}, not of ${intake.maker} ${intake.model}. Nothing was added.`,
      'sheet',
    )
  const unit = await keepUnit(ctx, intake, given, intake)
  if (!unit.ok) return unit
  const model = await ctx.db.models.findOne({ where: { maker: intake.maker, name: intake.model } })
  return good({ id: unit.value, modelSlug: model!.slug, hasSheet: given !== undefined })
}

const newestSheet = (db: Database, modelId: number, transaction?: Transaction) =>
  db.sheets.findOne({ where: { modelId }, order: [['version', 'DESC']], transaction })

const keepUnit = (
  { db }: Context,
  display: DisplayIdentity,
  sheet: ControlSheet | undefined,
  intake: Intake,
): Promise<Result<number>> =>
  inTransaction(db, async (transaction) => {
    const known = await db.units.findOne({ where: { serial: display.serial }, transaction })
    if (known) return good(known.id)
    const [model] = await db.models.findOrCreate({
      where: { maker: display.maker, name: display.model },
      defaults: {
        maker: display.maker,
        name: display.model,
        slug: await freeSlug(db, slugOf(`${display.maker} ${display.model}`, 'model'), transaction),
        panelKind: intake.panelKind,
      },
      transaction,
    })
    const [variant] = await db.variants.findOrCreate({
      where: { modelId: model.id, sizeInch: display.sizeInch, region: intake.region },
      transaction,
    })
    const [firmware] = await db.firmwares.findOrCreate({
      where: { modelId: model.id, version: display.firmware },
      transaction,
    })
    const newest = await newestSheet(db, model.id, transaction)
    if (sheet && (!newest || JSON.stringify(newest.document) !== JSON.stringify(sheet)))
      await db.sheets.create(
        { modelId: model.id, version: (newest?.version ?? 0) + 1, document: sheet },
        { transaction },
      )
    const unit = await db.units.create(
      {
        variantId: variant.id,
        label: intake.label,
        serial: display.serial,
        origin: intake.origin,
        hours: intake.hours ?? null,
        returnsOn: intake.returnsOn ?? null,
      },
      { transaction },
    )
    await db.unitFirmwares.create({ unitId: unit.id, firmwareId: firmware.id }, { transaction })
    return good(unit.id)
  })

interface NewSession {
  readonly viewingCase: ViewingCase
  /** Picture mode to calibrate; null: chosen after the survey. */
  readonly baseMode: string | null
  /** Key of the policy that is followed; the reference where it is left out. */
  readonly policy?: string
  /** Luminance of white, cd/m²; the policy's where it is left out. */
  readonly luminance?: number
  /** Who does each device's part; the bench where it is left out. */
  readonly equipment?: Equipment
  /** The route is gone without anybody pressing a key. */
  readonly unattended?: boolean
  /** A session of the case that nothing was done in yet is gone on with instead of another being begun: for forms, which are sent twice. */
  readonly once?: boolean
}

/** Why a case cannot begin as it is wished for; undefined where it can. */
const whyNotBegun = (
  { viewingCase, luminance, equipment, unattended }: NewSession,
  devices: SessionRow['devices'],
): { readonly why: string; readonly field: string } | undefined => {
  const target =
    luminance === undefined
      ? undefined
      : isHdr(viewingCase)
        ? 'In HDR luminance is absolute: leave the target empty.'
        : whyNotTarget(luminance)
  if (target) return { why: target, field: 'luminance' }
  const unequipped = equipment && whyNotEquipment(equipment)
  if (unequipped) return unequipped
  return unattended && !Object.values(devices).every((d) => d === 'bench')
    ? {
        why: 'Unattended work needs a bench for all of it: display, pattern source and meter.',
        field: 'unattended',
      }
    : undefined
}

/** The firmware that the bench reports, or where the unit is not on the bench, the newest one known. */
const firmwareNow = async (
  ctx: Context,
  { unitId, modelId }: { unitId: number; modelId: number },
  reported: string | undefined,
  transaction: Transaction,
) => {
  if (reported === undefined) return latestFirmware(ctx, unitId)
  const [row] = await ctx.db.firmwares.findOrCreate({
    where: { modelId, version: reported },
    transaction,
  })
  return row
}

/**
 * Begins a viewing case on a unit.
 * Out: session id, or a sentence that says what is wrong with the wish. The firmware is the one that the bench reports,
 * or, where the unit is not on the bench, the newest one known.
 */
export const startSession = async (
  ctx: Context,
  unitId: number,
  wish: NewSession,
): Promise<Result<number>> => {
  const { db } = ctx
  const policy = await findPolicy(ctx, wish.policy ?? REFERENCE_POLICY.key)
  if (!policy) return bad('There is no such policy. Nothing was started.', 'policy')
  const { display: setBy, pattern, meter, ...rest } = wish.equipment ?? ON_BENCH
  const devices = { display: setBy, pattern, meter }
  const problem = whyNotBegun(wish, devices)
  if (problem) return bad(`${problem.why} Nothing was started.`, problem.field)
  const usesBench = Object.values(devices).includes('bench')
  await rememberOthers(ctx, unitId)
  if (usesBench && !ctx.bench.base)
    return bad('This installation has no bench. Set up the equipment first. Nothing was started.', 'display')
  forgetBench()
  const sight = usesBench ? await seeBench(ctx) : ({ ok: false, message: '' } as const)
  const signal = signalFor(wish.viewingCase, pattern, sight.ok ? sight.bench.pattern : undefined)
  if (!signal.ok) return bad(`${signal.error} Nothing was started.`, signal.field)
  return inTransaction(db, async (transaction) => {
    const unit = await db.units.findByPk(unitId, { transaction, lock: true })
    if (!unit) return bad('There is no such unit.')
    const twin = wish.once ? await emptyTwin(db, unitId, wish, policy, transaction) : undefined
    if (twin) return good(twin)
    const variant = (await db.variants.findByPk(unit.variantId, { transaction }))!
    const sheet = await db.sheets.findOne({
      where: { modelId: variant.modelId },
      order: [['version', 'DESC']],
      transaction,
    })
    if (!sheet) return bad('The model has no control sheet yet. Enter its menu first. Nothing was started.')
    const mode = controlByRole(sheet.document, 'picture-mode')
    if (
      mode?.kind === 'choice' &&
      wish.baseMode !== null &&
      !mode.choices.some((c) => c.value === wish.baseMode)
    )
      return bad(`The display has no picture mode “${wish.baseMode}”. Choose one of its own.`, 'baseMode')
    const display = sight.ok && sight.bench.display?.serial === unit.serial ? sight.bench.display : undefined
    const firmware = await firmwareNow(
      ctx,
      { unitId, modelId: variant.modelId },
      display?.firmware,
      transaction,
    )
    if (!firmware) return bad('No firmware is known for this unit. Put it on the bench first.')
    await db.unitFirmwares.findOrCreate({ where: { unitId, firmwareId: firmware.id }, transaction })
    const bench = usesBench ? await benchRow(ctx, sight, transaction) : null
    // It shows what it is believed to hold where this kind of signal chooses; what nobody has seen is confirmed before anything is read.
    const shown = await memoryOf(db, { unitId, sheetId: sheet.id, signalFormat: signal.value }, transaction)
    const { id: stateId } = await keepState(
      db,
      unitId,
      sheet.id,
      believedState(sheet.document, shown.memory, shown.kind),
      transaction,
    )
    const session = await db.sessions.create(
      {
        unitId,
        firmwareId: firmware.id,
        sheetId: sheet.id,
        benchId: bench?.id ?? null,
        devices,
        ...rest,
        viewingCase: wish.viewingCase,
        baseMode: mode ? wish.baseMode : null,
        policy,
        unattended: wish.unattended ?? false,
        ...targetColumns(policy, wish),
        ...(wish.luminance === undefined ? {} : { targetLuminance: wish.luminance }),
        stateId,
        known: knownBy(sheet.document, shown.memory, shown.kind),
        patchPage: null,
        signalFormat: signal.value,
      },
      { transaction },
    )
    return good(session.id)
  })
}

/** The newest session that was begun with the same wish and in which nothing was done yet. Out: its id, or undefined. */
const emptyTwin = async (
  db: Database,
  unitId: number,
  wish: NewSession,
  policy: Policy,
  transaction: Transaction,
): Promise<number | undefined> => {
  const newest = await db.sessions.findOne({
    where: { unitId, viewingCase: wish.viewingCase, archivedAt: null, baseMode: wish.baseMode },
    order: [['id', 'DESC']],
    transaction,
  })
  const alike =
    newest?.policy.key === policy.key &&
    newest.targetLuminance === (wish.luminance ?? targetColumns(policy, wish).targetLuminance) &&
    newest.unattended === (wish.unattended ?? false) &&
    (['display', 'pattern', 'meter'] as const).every(
      (part) => newest.devices[part] === (wish.equipment ?? ON_BENCH)[part],
    )
  if (!newest || !alike) return undefined
  return (await db.runs.count({ where: { sessionId: newest.id }, transaction })) === 0 ? newest.id : undefined
}

/** Response priors of the unit's model are written down before a case begins with them. */
const rememberOthers = async (ctx: Context, unitId: number): Promise<void> => {
  const unit = await ctx.db.units.findByPk(unitId)
  const variant = unit && (await ctx.db.variants.findByPk(unit.variantId))
  if (variant) await heavy.storePriors(ctx, variant.modelId)
}
