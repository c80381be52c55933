import { z } from 'zod'
import { D65 } from '#core/colorimetry'
import { controlByRole, factoryState } from '#core/display'
import { slugOf, type ViewingCase } from '#core/guide'
import { inTransaction, keepState } from '#db'
import { latestFirmware } from './catalog'
import { whyNotTarget } from './commands'
import { type Context, forgetBench, seeBench } from './context'
import { bad, good, type Result } from './result'

/** What the person who takes a unit in has to say; the rest the bench knows. */
export const Intake = z.object({
  label: z.string().trim().min(1, 'Give the unit a name, such as “unit 2”.').max(80),
  region: z.string().trim().min(1, 'Say for which region it was made.').max(40),
  origin: z.string().trim().min(1, 'Say where it came from: bought, or on loan from whom.').max(120),
  panelKind: z.enum(['lcd-edge-lit', 'lcd-full-array', 'self-emissive', 'projector']),
  returnsOn: z.iso.date().nullish(),
  hours: z.number().nonnegative().nullish(),
})
export type Intake = z.infer<typeof Intake>

/**
 * Takes in the unit that stands on the bench: its model, variant, firmware and control sheet, each made where it is new.
 * Out: unit id, or a sentence that says why not.
 */
export const takeIn = async (ctx: Context, intake: Intake): Promise<Result<number>> => {
  forgetBench()
  const [sight, sheet] = await Promise.all([seeBench(ctx), ctx.bench.sheet()])
  if (!sight.ok) return bad(`${sight.message} Nothing was taken in.`)
  const display = sight.bench.display
  if (!display) return bad('No display stands on the bench. Nothing was taken in.')
  if (!sheet.ok) return bad(`${sheet.failure.message} Nothing was taken in.`)
  const { db } = ctx
  return inTransaction(db, async (transaction) => {
    const known = await db.units.findOne({ where: { serial: display.serial }, transaction })
    if (known) return good(known.id)
    const [model] = await db.models.findOrCreate({
      where: { maker: display.maker, name: display.model },
      defaults: {
        maker: display.maker,
        name: display.model,
        slug: slugOf(`${display.maker} ${display.model}`),
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
    const newest = await db.sheets.findOne({
      where: { modelId: model.id },
      order: [['version', 'DESC']],
      transaction,
    })
    if (!newest || JSON.stringify(newest.document) !== JSON.stringify(sheet.value))
      await db.sheets.create(
        { modelId: model.id, version: (newest?.version ?? 0) + 1, document: sheet.value },
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
}

export interface NewSession {
  readonly viewingCase: ViewingCase
  readonly baseMode: string
  /** cd/m² */
  readonly luminance: number
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
  const problem = whyNotTarget(wish.luminance)
  if (problem) return bad(problem, 'luminance')
  if (wish.viewingCase !== 'sdr-dark')
    return bad('Only “SDR, dark room” can be calibrated so far. Nothing was begun.', 'viewingCase')
  forgetBench()
  const sight = await seeBench(ctx)
  return inTransaction(db, async (transaction) => {
    const unit = await db.units.findByPk(unitId, { transaction })
    if (!unit) return bad('There is no such unit.')
    const variant = (await db.variants.findByPk(unit.variantId, { transaction }))!
    const sheet = await db.sheets.findOne({
      where: { modelId: variant.modelId },
      order: [['version', 'DESC']],
      transaction,
    })
    if (!sheet) return bad('The model has no control sheet yet. Take the unit in from its bench first.')
    const mode = controlByRole(sheet.document, 'picture-mode')
    if (mode?.kind === 'choice' && !mode.choices.some((c) => c.value === wish.baseMode))
      return bad(`The display has no picture mode “${wish.baseMode}”. Choose one of its own.`, 'baseMode')
    const display = sight.ok && sight.bench.display?.serial === unit.serial ? sight.bench.display : undefined
    const firmware = display
      ? (
          await db.firmwares.findOrCreate({
            where: { modelId: variant.modelId, version: display.firmware },
            transaction,
          })
        )[0]
      : await latestFirmware(ctx, unitId)
    if (!firmware) return bad('No firmware is known for this unit. Put it on the bench first.')
    await db.unitFirmwares.findOrCreate({ where: { unitId, firmwareId: firmware.id }, transaction })
    const [bench] = await db.benches.findOrCreate({
      where: { url: ctx.bench.base },
      defaults: {
        url: ctx.bench.base,
        name: sight.ok ? sight.bench.name : 'Bench',
        description: sight.ok ? sight.bench : null,
        seenAt: sight.ok ? new Date() : null,
      },
      transaction,
    })
    const state = await keepState(db, unitId, sheet.id, factoryState(sheet.document), transaction)
    const session = await db.sessions.create(
      {
        unitId,
        firmwareId: firmware.id,
        sheetId: sheet.id,
        benchId: bench.id,
        viewingCase: wish.viewingCase,
        baseMode: wish.baseMode,
        targetLuminance: wish.luminance,
        targetX: D65[0],
        targetY: D65[1],
        tone: 'bt1886',
        stateId: state.id,
      },
      { transaction },
    )
    return good(session.id)
  })
}
