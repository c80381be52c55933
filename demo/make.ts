import { runnerLoop } from '#bench/runner'
import {
  type Command,
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
import type { SessionView } from '#server/views'
import { FINISHED, FRESH, OTHER_SIZES, POLICY } from './scenario'

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
        baseMode: null,
        policy: POLICY,
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

/**
 * Goes along the route of a session as a reviewer would: one next move after the other, the proposed mode, patterns looked at, and
 * what got worse accepted with open eyes. Out: readings taken.
 */
export const calibrate = async (ctx: Context, session: number): Promise<number> => {
  for (;;) {
    const view = (await sessionView(ctx, session))!
    if (view.run?.status === 'stopped') throw new Error(view.run.reason)
    if (view.run) {
      await new Promise((resolve) => setTimeout(resolve, 20))
      continue
    }
    const { next } = view
    if (next.kind === 'compose') return view.readings
    must(await carryOut(ctx, session, answerTo(view)))
  }
}

/** What a reviewer who takes what is proposed does next. */
export const answerTo = ({ next, revision, findings }: SessionView): Command => {
  switch (next.kind) {
    case 'choose-mode':
      return {
        type: 'choose-mode',
        mode: (findings.survey.find((m) => !m.against) ?? findings.survey[0]!).mode,
      }
    case 'look': {
      const { question, answers, control, begin } = next.look
      return {
        type: 'look',
        question,
        answer: answers[0]?.key ?? '',
        value: control ? (begin ?? control.value) : null,
        conditions: 'dark room, from 2.4 m',
      }
    }
    case 'worse':
      return { type: 'accept', keys: next.worse.map((w) => w.key) }
    default:
      return { type: 'go', revision }
  }
}
