import { runnerLoop } from '#bench/runner'
import { CASE_LABEL, type ViewingCase } from '#core/judge'
import { inTransaction } from '#db'
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
import { CASES, FINISHED, FRESH, OTHER_SIZES, POLICY } from './scenario'

const BEGUN = 'demo-begun'
const READY = 'demo-ready'
/** The sessions that the demo calibrates, by viewing case: no other is ever touched by it. */
const sessionName = (viewingCase: ViewingCase) =>
  viewingCase === CASES[0] ? 'demo-session' : `demo-session-${viewingCase}`

/**
 * What a database holds: complete demo data, demo data that was begun, data of the user's own alone, or nothing. Whatever was begun is
 * gone on with beside whatever else is there; nothing is ever thrown away by a start.
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

const remember = async ({ db }: Context, name: string, value: string): Promise<void> => {
  await db.settings.findOrCreate({ where: { name }, defaults: { name, value } })
}

/**
 * Makes the demo data by doing the job: both units are taken in from the simulated bench, the first is calibrated along
 * the whole route of each viewing case and its guide published, the second is left on the stand. Each step is taken once: where it was cut off it goes on,
 * beside whatever a person has entered meanwhile.
 * In: context of a migrated database and a simulated bench; `say` hears what is going on.
 */
export const makeDemo = async (ctx: Context, speed: number, say: (line: string) => void): Promise<void> => {
  await remember(ctx, BEGUN, new Date().toISOString())
  await place(ctx, FINISHED.serial, 0)
  const finished = must(await takeIn(ctx, FINISHED.intake))
  const variant = (await ctx.db.units.findByPk(finished))!.variantId
  const { modelId } = (await ctx.db.variants.findByPk(variant))!
  await ctx.db.variants.bulkCreate(
    OTHER_SIZES.map((sizeInch) => ({ modelId, sizeInch, region: FINISHED.intake.region })),
    { ignoreDuplicates: true },
  )
  for (const viewingCase of CASES) {
    const session = await demoSession(ctx, finished, viewingCase)
    const leave = new AbortController()
    const runner = runnerLoop(ctx.db, leave.signal, session)
    try {
      const readings = await calibrate(ctx, session)
      must(
        await publishGuide(ctx, must(await composeGuide(ctx, session)), {
          author: 'Editor of the demo',
          note: `Measured for ${CASE_LABEL[viewingCase]} as well.`,
          because: 'The demo shows what is there.',
        }),
      )
      say(`unit 1 calibrated with ${readings} readings for ${CASE_LABEL[viewingCase]}, guide published`)
    } finally {
      leave.abort()
      await runner
    }
  }
  await place(ctx, FRESH.serial, speed)
  must(await takeIn(ctx, FRESH.intake))
  say('unit 2 stands on the bench, unread')
  await remember(ctx, READY, new Date().toISOString())
}

/** The demo's own session for a case, begun where it was not yet. It is begun and written down in one, so that there is never a second. */
const demoSession = (ctx: Context, unit: number, viewingCase: ViewingCase): Promise<number> =>
  inTransaction(ctx.db, async () => {
    const name = sessionName(viewingCase)
    const known = await ctx.db.settings.findByPk(name)
    if (known) return Number(known.value)
    const session = must(await startSession(ctx, unit, { viewingCase, baseMode: null, policy: POLICY }))
    await remember(ctx, name, String(session))
    return session
  })

const place = async (ctx: Context, serial: string, speed: number) => {
  const result = await ctx.bench.simulate({ onStand: serial, speed, faults: [] })
  forgetBench()
  if (!result.ok) throw new Error(result.failure.message)
}

/**
 * Goes along the route of a session as a reviewer would: one next adjustment after the other, the proposed mode, patterns looked at, and
 * what got worse accepted with open eyes. Out: readings taken.
 */
export const calibrate = async (ctx: Context, session: number): Promise<number> => {
  for (;;) {
    const view = (await sessionView(ctx, session))!
    if (view.run?.status === 'stopped') throw new Error(view.run.reason)
    if (view.run?.status === 'paused') must(await carryOut(ctx, session, { type: 'resume' }))
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
    case 'visual-check': {
      const { question, answers, control, begin } = next.look
      return {
        type: 'visual-check',
        question,
        answer: answers[0]?.key ?? '',
        value: control ? (begin ?? control.value) : null,
        conditions: 'dark room, from 2.4 m',
      }
    }
    case 'choose-mapping':
      return { type: 'decide', revision, question: 'mapping', answer: String(next.proposed) }
    case 'choose-depth':
      return { type: 'decide', revision, question: 'depth', answer: next.proposed }
    case 'choose-green':
      return { type: 'decide', revision, question: 'green', answer: 'lower' }
    case 'worse':
      return { type: 'accept', keys: next.worse.map((w) => w.key) }
    default:
      return { type: 'go', revision }
  }
}
