import { runnerLoop } from '#bench/runner'
import { BY_HAND, type Equipment } from '#core/entry'
import { CASE_LABEL, type ViewingCase } from '#core/judge'
import { inTransaction, openRun } from '#db'
import { heavy } from '#server/background'
import { type Context, forgetBench, type Result } from '#server/base'
import { seenIn } from '#server/guide'
import { addSource } from '#server/model'
import { byEyeRows, type Command, carryOut, setByEye, startRecheck } from '#server/session'
import { keepProgress, startSession, takeIn } from '#server/unit'
import type { SessionView } from '#server/view'
import {
  BY_EYE,
  FINISHED,
  FRESH,
  INPUTS,
  NEW_FIRMWARE,
  OTHER_SIZES,
  OTHERS,
  POLICY,
  SOURCES,
} from './scenario'

const BEGUN = 'demo-begun'
const READY = 'demo-ready'
/** Under which name the demo remembers a session of its own: no other is ever touched by it. */
const sessionName = (serial: string, viewingCase: ViewingCase) =>
  serial !== FINISHED.serial
    ? `demo-session-${serial}-${viewingCase}`
    : viewingCase === FINISHED.cases[0]
      ? 'demo-session'
      : `demo-session-${viewingCase}`

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
 * Puts the first two units of the demo in their place, so that there is something to begin with before any of the rest is made: both known, the second on the
 * stand, unread. In: context with the bench that people use, its speed.
 */
export const standDemo = async (ctx: Context, speed: number): Promise<void> => {
  await remember(ctx, BEGUN, new Date().toISOString())
  for (const unit of [FINISHED, FRESH]) {
    await place(ctx, unit.serial, speed)
    must(await takeIn(ctx, unit.intake))
  }
}

interface DemoStep {
  readonly label: string
  readonly work: (begun: (session: number) => Promise<void>) => Promise<string>
}

/** What the demo data are made of, in order. */
const demoSteps = (ctx: Context, scope: 'whole' | 'short'): DemoStep[] => {
  const units = scope === 'whole' ? [FINISHED, ...OTHERS] : [FINISHED]
  return [
    ...units.flatMap((unit) =>
      (scope === 'whole' ? unit.cases : unit.cases.slice(0, 1)).map(
        (viewingCase): DemoStep => ({
          label: `${unit.name}, ${unit.intake.label}: ${CASE_LABEL[viewingCase]}`,
          work: async (begun) => {
            await place(ctx, unit.serial, 0)
            const id = must(await takeIn(ctx, unit.intake))
            if (unit === FINISHED) await otherSizes(ctx, id)
            const readings = await calibrated(ctx, unit.serial, id, viewingCase, begun)
            return `${readings} readings, guide published`
          },
        }),
      ),
    ),
    ...(scope === 'whole'
      ? [
          {
            label: `${BY_EYE.name}: a guide by eye`,
            work: async () => {
              await byEye(ctx)
              return 'published'
            },
          },
          {
            label: `${FINISHED.name}, ${FINISHED.intake.label}: checked again with firmware ${NEW_FIRMWARE}`,
            work: async (begun: (session: number) => Promise<void>) => {
              await readAgain(ctx, begun)
              return 'the next revision is published'
            },
          },
        ]
      : []),
  ]
}

/** Sizes of the first model that nobody has measured. */
const otherSizes = async (ctx: Context, unit: number): Promise<void> => {
  const variant = (await ctx.db.units.findByPk(unit))!.variantId
  const { modelId } = (await ctx.db.variants.findByPk(variant))!
  await ctx.db.variants.bulkCreate(
    OTHER_SIZES.map((sizeInch) => ({ modelId, sizeInch, region: FINISHED.intake.region })),
    { ignoreDuplicates: true },
  )
}

/**
 * Makes the demo data by doing the job: the units are taken in from a simulated bench, calibrated along the whole route of each of their viewing cases and
 * their guides published. Then a firmware comes out, and one case is read again with it. Each step is taken once:
 * where it was cut off it goes on, beside whatever a person has entered meanwhile.
 * In: context of a migrated database and a simulated bench; `say` hears what is going on; whether all of it is made, or, for a quick look, the first case alone.
 */
export const makeDemo = async (
  ctx: Context,
  say: (line: string) => void,
  scope: 'whole' | 'short' = 'whole',
): Promise<void> => {
  await remember(ctx, BEGUN, new Date().toISOString())
  const steps = demoSteps(ctx, scope)
  const sessions = new Map<number, number>()
  const tell = async (at: number) => {
    await keepProgress(ctx, {
      steps: steps.map(({ label }, i) => ({
        label,
        state: i < at ? 'done' : i === at ? 'now' : 'todo',
        ...(sessions.has(i) ? { session: sessions.get(i)! } : {}),
      })),
    })
  }
  for (const [i, step] of steps.entries()) {
    await tell(i)
    const done = await step.work(async (session) => {
      sessions.set(i, session)
      await tell(i)
    })
    say(`${step.label}: ${done}`)
  }
  await signalPath(ctx)
  await tell(steps.length)
}

/** Says that the demo data are complete. */
export const finishDemo = async (ctx: Context): Promise<void> => {
  await remember(ctx, READY, new Date().toISOString())
  await keepProgress(ctx, undefined)
}

/** Sources and sockets, each once; what a person has changed of them stays. */
const signalPath = async (ctx: Context): Promise<void> => {
  for (const source of SOURCES)
    if (!(await ctx.db.sources.findOne({ where: { name: source.name } }))) must(await addSource(ctx, source))
  for (const [slug, inputs] of Object.entries(INPUTS))
    await ctx.db.models.update({ inputs }, { where: { slug, inputs: null } })
}

/** Work with a runner of a session's own, which ends with it. */
const withRunner = async <T>(ctx: Context, session: number, work: () => Promise<T>): Promise<T> => {
  const leave = new AbortController()
  const runner = runnerLoop(ctx.db, leave.signal, session)
  try {
    return await work()
  } finally {
    leave.abort()
    await runner
  }
}

/** Publishes what a session measured, looked at by a second name. A step that was taken already changes nothing. */
const publish = async (ctx: Context, session: number, note: string): Promise<void> => {
  const guide = must(await heavy.composeGuide(ctx, session))
  const draft = (await heavy.guideDraft(ctx, guide))!
  if (draft.published) return
  for (const [kind, author] of [
    ['asked', EDITOR],
    ['approved', REVIEWER],
  ] as const)
    must(await heavy.reviewGuide(ctx, guide, { kind, author, note: '', seen: seenIn(draft) }))
  must(
    await heavy.publishGuide(ctx, guide, { author: EDITOR, note, because: 'The demo shows what is there.' }),
  )
}
const EDITOR = 'Editor of the demo'
const REVIEWER = 'Reviewer of the demo'

/** Calibrates a unit on the stand for a case and publishes it. Out: readings taken. */
const calibrated = async (
  ctx: Context,
  serial: string,
  unit: number,
  viewingCase: ViewingCase,
  begun: (session: number) => Promise<void>,
): Promise<number> => {
  const session = await demoSession(ctx, serial, unit, viewingCase)
  await begun(session)
  return withRunner(ctx, session, async () => {
    const readings = await calibrate(ctx, session)
    // Another unit of a size shows how units differ: the one that was published first stays the base.
    await keepBase(ctx, session, serial)
    await publish(ctx, session, `Measured for ${CASE_LABEL[viewingCase]} as well.`)
    return readings
  })
}

/** Says which unit is published where another of the same size was calibrated first. */
const keepBase = async (ctx: Context, session: number, serial: string): Promise<void> => {
  const guide = must(await heavy.composeGuide(ctx, session))
  const draft = (await heavy.guideDraft(ctx, guide))!
  const first = draft.sections.find((s) => s.serial === FINISHED.serial)
  if (!first || serial === FINISHED.serial) return
  const place = `base:${first.case}`
  if (draft.words[place]) return
  const saved = await heavy.saveWords(ctx, guide, { place, body: first.serial, version: 0 })
  if (!saved.ok) throw new Error(`The demo data could not be made: ${saved.error}`)
}

/** A display is set by eye, with no meter, and its guide published. */
const byEye = async (ctx: Context): Promise<void> => {
  await place(ctx, BY_EYE.serial, 0)
  const unit = must(await takeIn(ctx, BY_EYE.intake))
  const session = await demoSession(ctx, BY_EYE.serial, unit, BY_EYE.viewingCase, {
    ...BY_HAND,
    meterName: 'none',
  })
  must(await setByEye(ctx, session, BY_EYE.values))
  // Then the rest of the menu is looked through: it shows what it should.
  const rows = (await byEyeRows(ctx, session))!
  must(await setByEye(ctx, session, Object.fromEntries(rows.map((row) => [row.key, row.value]))))
  must(await heavy.composeGuide(ctx, session, false, true))
  await publish(ctx, session, '')
}

/** A firmware comes out for the first model; the first case of its guide is read again with it and becomes the next revision. */
const readAgain = async (ctx: Context, begun: (session: number) => Promise<void>): Promise<void> => {
  await place(ctx, FINISHED.serial, 0)
  await ctx.bench.simulate({ firmware: NEW_FIRMWARE })
  forgetBench()
  const first = Number(
    (await ctx.db.settings.findByPk(sessionName(FINISHED.serial, FINISHED.cases[0]!)))!.value,
  )
  const section = (await ctx.db.sectionRevisions.findOne({
    where: { sessionId: first },
    order: [['id', 'DESC']],
  }))!
  const again = must(await startRecheck(ctx, section.id))
  await begun(again)
  await withRunner(ctx, again, async () => {
    while (await openRun(ctx.db, again)) await new Promise((resolve) => setTimeout(resolve, 20))
  })
  await publish(ctx, again, `Read again with firmware ${NEW_FIRMWARE}: the settings still hold.`)
}

/** The demo's own session for a case, begun where it was not yet. It is begun and written down in one, so that there is never a second. */
const demoSession = (
  ctx: Context,
  serial: string,
  unit: number,
  viewingCase: ViewingCase,
  equipment?: Equipment,
): Promise<number> =>
  inTransaction(ctx.db, async () => {
    const name = sessionName(serial, viewingCase)
    const known = await ctx.db.settings.findByPk(name)
    if (known) return Number(known.value)
    const session = must(
      await startSession(ctx, unit, {
        viewingCase,
        baseMode: null,
        policy: POLICY,
        ...(equipment ? { equipment } : {}),
      }),
    )
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
  // What stopped an earlier start may be over.
  if ((await openRun(ctx.db, session))?.status === 'stopped')
    must(await carryOut(ctx, session, { type: 'retry' }))
  for (;;) {
    // A view is planned anew after every reading: as long as a run goes on only its row is looked at.
    const run = await openRun(ctx.db, session)
    if (run?.status === 'stopped') throw new Error(run.reason)
    if (run?.status === 'paused') must(await carryOut(ctx, session, { type: 'resume' }))
    if (run) {
      await new Promise((resolve) => setTimeout(resolve, 20))
      continue
    }
    const view = (await heavy.sessionView(ctx, session))!
    if (view.run) continue
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
    case 'confirm-values':
      return {
        type: 'shows',
        revision,
        values: Object.fromEntries(next.rows.map((row) => [row.key, row.value])),
      }
    case 'choose-mapping':
      return { type: 'decide', revision, question: 'mapping', answer: String(next.proposed) }
    case 'choose-depth':
      return { type: 'decide', revision, question: 'depth', answer: next.proposed }
    case 'choose-flashes':
      return { type: 'decide', revision, question: 'flashes', answer: 'yes' }
    case 'choose-green':
      return { type: 'decide', revision, question: 'green', answer: 'lower' }
    case 'worse':
      return { type: 'accept', keys: next.worse.map((w) => w.key) }
    default:
      return { type: 'go', revision }
  }
}
