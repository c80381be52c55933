import { z } from 'zod'
import { type Change, prepareChanges, STATIONS } from '#core/derive'
import { ControlValue, controlOf, type State, whyRefused } from '#core/display'
import { grey, type Patch } from '#core/measure'
import { inTransaction, type MoveRow, openRun, type RunRow, touchSession } from '#db'
import { type Context, forgetBench } from './context'
import { bad, good, type Result } from './result'
import { loadSession, routeOf, type SessionRecord } from './session-facts'

const whole = z.number().int().positive()

/** What a person at the bench can ask for. `revision` is that of the page that they looked at. */
export const Command = z.discriminatedUnion('type', [
  z.object({ type: z.literal('go'), revision: whole }),
  z.object({ type: z.literal('set'), control: z.string().max(60), value: ControlValue }),
  z.object({ type: z.literal('put-back') }),
  z.object({ type: z.literal('sweep-again') }),
  z.object({
    type: z.literal('leave'),
    station: z.enum(STATIONS),
    reason: z.string().trim().min(1).max(200),
  }),
  z.object({ type: z.literal('return'), station: z.enum(STATIONS) }),
  z.object({ type: z.literal('target'), luminance: z.number().finite() }),
  z.object({ type: z.literal('pause') }),
  z.object({ type: z.literal('resume') }),
  z.object({ type: z.literal('retry') }),
  z.object({ type: z.literal('skip') }),
  z.object({ type: z.literal('cancel') }),
  z.object({ type: z.literal('place-unit') }),
])
export type Command = z.infer<typeof Command>

type Step =
  | { kind: 'reset' }
  | { kind: 'set'; control: string; value: ControlValue }
  | { kind: 'read'; patch: Patch }

/** Lowest and highest luminance of white that anyone would aim at, cd/m². */
export const TARGET_RANGE = { min: 5, max: 4000 } as const

/** Says what is wrong with a target luminance, or undefined. In: cd/m². */
export const whyNotTarget = (luminance: number): string | undefined =>
  Number.isFinite(luminance) && luminance >= TARGET_RANGE.min && luminance <= TARGET_RANGE.max
    ? undefined
    : `The target luminance is a number of cd/m² between ${TARGET_RANGE.min} and ${TARGET_RANGE.max}. Nothing was changed.`

const BUSY = 'A run is going on. Let it end, or cancel it first. Nothing was changed.'

/**
 * Carries out a command on a session.
 * In: context, session id, command. Out: nothing, or a sentence that says why not; then nothing was changed.
 */
export const carryOut = async (ctx: Context, sessionId: number, command: Command): Promise<Result<null>> => {
  if (command.type === 'place-unit') return placeUnit(ctx, sessionId)
  return inTransaction(ctx.db, async (transaction): Promise<Result<null>> => {
    const session = await ctx.db.sessions.findByPk(sessionId, { transaction, lock: true })
    if (!session) return bad('There is no such session. Nothing was changed.')
    const run = await openRun(ctx.db, sessionId, transaction)
    const done = async (): Promise<Result<null>> => {
      await touchSession(ctx.db, sessionId, transaction)
      return good(null)
    }
    const setRun = async (status: RunRow['status'], reason = '') => {
      await ctx.db.runs.update(
        {
          status,
          reason,
          runnerToken: null,
          leaseUntil: null,
          finishedAt: status === 'cancelled' ? new Date() : null,
        },
        { where: { id: run!.id }, transaction },
      )
      return done()
    }
    switch (command.type) {
      case 'pause':
        if (!run || !['queued', 'running', 'waiting'].includes(run.status))
          return bad('No run is going on that could be paused.')
        return setRun('paused')
      case 'resume':
      case 'retry':
        if (!run || !['paused', 'stopped'].includes(run.status)) return bad('No run is waiting to go on.')
        return setRun('queued')
      case 'cancel':
        if (!run) return bad('No run is going on that could be cancelled.')
        return setRun('cancelled')
      case 'skip': {
        if (run?.status !== 'stopped') return bad('No patch is waiting to be left out.')
        const step = await ctx.db.steps.findOne({
          where: { runId: run.id, outcome: null },
          order: ['ordinal'],
          transaction,
        })
        if (step?.kind !== 'read')
          return bad('A control cannot be left out of a move. Retry it, or cancel the run.')
        await ctx.db.steps.update(
          { outcome: 'skipped', finishedAt: new Date() },
          { where: { runId: run.id, ordinal: step.ordinal }, transaction },
        )
        return setRun('queued')
      }
    }
    if (run) return bad(BUSY)
    const record = (await loadSession(ctx, sessionId, transaction))!
    const start = async (
      purpose: RunRow['purpose'],
      steps: readonly Step[],
      move?: Pick<MoveRow, 'kind' | 'station' | 'changes' | 'purpose' | 'expected' | 'predictions'>,
    ): Promise<Result<null>> => {
      const row = await ctx.db.runs.create(
        {
          sessionId,
          benchId: session.benchId,
          purpose,
          runnerToken: null,
          leaseUntil: null,
          meter: null,
          finishedAt: null,
        },
        { transaction },
      )
      await ctx.db.steps.bulkCreate(
        steps.map((s, ordinal) => ({
          runId: row.id,
          ordinal,
          kind: s.kind,
          control: s.kind === 'set' ? s.control : null,
          value: s.kind === 'set' ? s.value : null,
          patch: s.kind === 'read' ? s.patch : null,
          outcome: null,
          finishedAt: null,
        })),
        { transaction },
      )
      if (move) await ctx.db.moves.create({ sessionId, runId: row.id, ...move }, { transaction })
      return done()
    }
    switch (command.type) {
      case 'go': {
        if (command.revision !== session.revision)
          return bad('The page was a moment behind. Look at the move again, then press once more.')
        return go(ctx, record, start)
      }
      case 'sweep-again': {
        const { route } = routeOf(ctx, record)
        const sweep = route.verify ?? route.factory
        if (!sweep) return bad('There is no sweep yet that could be read again.')
        const patches = [...sweep.byPatch.values()].map((r) => r.patch)
        return start(route.verify ? 'verify' : 'factory', patches.map(read))
      }
      case 'set': {
        const control = record.sheet.document.controls.find((c) => c.key === command.control)
        if (!control) return bad('The sheet of this display has no such control. Nothing was changed.')
        const refused = whyRefused(control, command.value)
        if (refused) return bad(`${refused} Nothing was changed.`)
        const from = record.state.values[control.key]!
        if (from === command.value) return bad(`“${control.label}” already has this value.`)
        return byHand(record, start, 'by-hand', [{ control: control.key, from, to: command.value }])
      }
      case 'put-back': {
        const last = record.moves.at(-1)
        if (!last) return bad('No move was made yet that could be put back.')
        const changed = last.changes.some((c) => record.state.values[c.control] !== c.to)
        if (changed || last.kind === 'put-back')
          return bad('The last move was already undone. Nothing was changed.')
        return byHand(
          record,
          start,
          'put-back',
          last.changes.map((c) => ({ control: c.control, from: c.to, to: c.from })),
        )
      }
      case 'leave':
      case 'return': {
        const { [command.station]: _, ...rest } = session.leftStations
        const leftStations = command.type === 'leave' ? { ...rest, [command.station]: command.reason } : rest
        await ctx.db.sessions.update({ leftStations }, { where: { id: sessionId }, transaction })
        return done()
      }
      case 'target': {
        const problem = whyNotTarget(command.luminance)
        if (problem) return bad(problem, 'luminance')
        await ctx.db.sessions.update(
          { targetLuminance: command.luminance },
          { where: { id: sessionId }, transaction },
        )
        return done()
      }
    }
  })
}

const read = (patch: Patch): Step => ({ kind: 'read', patch })
const setAll = (changes: readonly Change[]): Step[] =>
  changes.map((c) => ({ kind: 'set', control: c.control, value: c.to }))

type Start = (
  purpose: RunRow['purpose'],
  steps: readonly Step[],
  move?: Pick<MoveRow, 'kind' | 'station' | 'changes' | 'purpose' | 'expected' | 'predictions'>,
) => Promise<Result<null>>

const go = (ctx: Context, record: SessionRecord, start: Start): Promise<Result<null>> => {
  const { next } = routeOf(ctx, record).route
  switch (next.kind) {
    case 'prepare':
      // The first time the mode is reset; later only what was changed is set again.
      return start('prepare', [
        ...(record.session.prepared ? [] : [{ kind: 'reset' as const }]),
        ...(record.session.prepared ? setAll(next.changes) : setAll(allPrepareChanges(record))),
      ])
    case 'sweep':
      return start(next.purpose, next.patches.map(read))
    case 'move': {
      const { move } = next
      return start('move', [...setAll(move.changes), ...move.reads.map(read)], {
        kind: 'proposed',
        station: move.station,
        changes: move.changes,
        purpose: move.purpose,
        expected: move.expected,
        predictions: move.predictions,
      })
    }
    case 'compose':
      return Promise.resolve(bad('All stations are done. Compose the guide.'))
  }
}

/** What has to be set after a reset, which brings every control back to its default. */
const allPrepareChanges = (record: SessionRecord): Change[] => {
  const sheet = record.sheet.document
  const reset: State = Object.fromEntries(sheet.controls.map((c) => [c.key, c.default]))
  return prepareChanges(sheet, reset, record.session.baseMode)
}

const READS_BY_HAND: Readonly<Record<string, readonly Patch[]>> = {
  'peak-luminance': [grey(100)],
  gain: [100, 60, 30].map(grey),
  cut: [10, 20, 50].map(grey),
}

const byHand = (
  record: SessionRecord,
  start: Start,
  kind: 'by-hand' | 'put-back',
  changes: readonly Change[],
): Promise<Result<null>> => {
  const sheet = record.sheet.document
  const role = controlOf(sheet, changes[0]!.control).role
  const reads = READS_BY_HAND[role] ?? []
  return start('move', [...setAll(changes), ...reads.map(read)], {
    kind,
    station:
      role === 'peak-luminance' ? 'luminance' : role === 'gain' || role === 'cut' ? 'white' : 'prepare',
    changes,
    purpose: kind === 'put-back' ? 'Put back as it was.' : 'Set by hand.',
    expected: null,
    predictions: [],
  })
}

const placeUnit = async (ctx: Context, sessionId: number): Promise<Result<null>> => {
  const session = await ctx.db.sessions.findByPk(sessionId)
  const unit = session && (await ctx.db.units.findByPk(session.unitId))
  if (!unit) return bad('There is no such session.')
  const result = await ctx.bench.simulate({ onStand: unit.serial })
  forgetBench()
  if (!result.ok) return bad(`${result.failure.message} Nothing was changed.`)
  await inTransaction(ctx.db, (transaction) => touchSession(ctx.db, sessionId, transaction))
  return good(null)
}
