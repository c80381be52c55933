import { runnerLoop } from '#bench/runner'
import {
  type Context,
  carryOut,
  composeGuide,
  forgetBench,
  publishGuide,
  type Result,
  sessionView,
  startSession,
  takeIn,
} from '#server'
import { FINISHED, FRESH, LUMINANCE, OTHER_SIZES } from './scenario'

const BEGUN = 'demo-begun'
const READY = 'demo-ready'

/**
 * What a database holds: complete demo data, half-made demo data, data of the user's own, or nothing. Data of the user's
 * own is never thrown away unasked.
 */
export const demoState = async ({ db }: Context): Promise<'ready' | 'half' | 'own' | 'empty'> => {
  if (await db.settings.findByPk(READY)) return 'ready'
  if (await db.settings.findByPk(BEGUN)) return 'half'
  return (await db.units.count()) > 0 ? 'own' : 'empty'
}

const must = <T>(result: Result<T>): T => {
  if (!result.ok) throw new Error(`The demo data could not be made: ${result.error}`)
  return result.value
}

/**
 * Makes the demo data by doing the job: both units are taken in from the simulated bench, the first is calibrated along
 * the whole route and its guide published, the second is left on the stand.
 * In: context of an empty, migrated database and a simulated bench; `say` hears what is going on.
 */
export const makeDemo = async (ctx: Context, speed: number, say: (line: string) => void): Promise<void> => {
  await ctx.db.settings.create({ name: BEGUN, value: new Date().toISOString() })
  const leave = new AbortController()
  const runner = runnerLoop(ctx.db, leave.signal)
  try {
    await place(ctx, FINISHED.serial, 0)
    const finished = must(await takeIn(ctx, FINISHED.intake))
    const variant = (await ctx.db.units.findByPk(finished))!.variantId
    const { modelId } = (await ctx.db.variants.findByPk(variant))!
    await ctx.db.variants.bulkCreate(
      OTHER_SIZES.map((sizeInch) => ({ modelId, sizeInch, region: FINISHED.intake.region })),
    )
    const session = must(
      await startSession(ctx, finished, {
        viewingCase: 'sdr-dark',
        baseMode: 'studio',
        luminance: LUMINANCE,
      }),
    )
    const readings = await calibrate(ctx, session)
    must(await composeGuide(ctx, session))
    must(await publishGuide(ctx, session))
    say(`unit 1 calibrated with ${readings} readings, guide published`)
    await place(ctx, FRESH.serial, speed)
    must(await takeIn(ctx, FRESH.intake))
    say('unit 2 stands on the bench, unread')
    await ctx.db.settings.create({ name: READY, value: new Date().toISOString() })
  } finally {
    leave.abort()
    await runner
  }
}

const place = async (ctx: Context, serial: string, speed: number) => {
  const result = await ctx.bench.simulate({ onStand: serial, speed, faults: [] })
  forgetBench()
  if (!result.ok) throw new Error(result.failure.message)
}

/** Goes along the route of a session, one next move after the other. Out: readings taken. */
export const calibrate = async (ctx: Context, session: number): Promise<number> => {
  for (;;) {
    const view = (await sessionView(ctx, session))!
    if (view.run?.status === 'stopped') throw new Error(view.run.reason)
    if (view.run) {
      await new Promise((resolve) => setTimeout(resolve, 20))
      continue
    }
    if (view.next.kind === 'compose') return view.readings
    must(await carryOut(ctx, session, { type: 'go', revision: view.revision }))
  }
}
