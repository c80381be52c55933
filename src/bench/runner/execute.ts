import { type BenchClient, chooseSignal } from '#bench/client'
import type { BenchDescription } from '#core/protocol'
import { type ClaimedRun, completeRun, type Database, type Devices, renewLease, type TaskRow } from '#db'
import { resetTask, restoreState, restTask, setTask } from './change-task'
import { type Execution, type Outcome, stop, untilBenchAnswers } from './execution'
import { latencyTask } from './latency-task'
import { readTask } from './read-task'

const HEARTBEAT_MS = 1_000

/**
 * Executes a run that was claimed, from its first unfinished task to its end, its pause, its question or its halt.
 *
 * Each task's result is in the database before the next begins, so that a runner that is killed loses at most the
 * reading that nobody has seen. While the bench is away the run waits and tries again. A task that the bench refuses and
 * a reading that stays bad stop the run with a sentence for the person at the bench. Where a person stands in for a
 * device, the run asks and is taken up again with the answer.
 *
 * In: database, bench, claimed run, signal to leave (the run is then taken up by the next runner).
 */
export const executeRun = async (
  db: Database,
  bench: BenchClient,
  claimed: ClaimedRun,
  leave: AbortSignal,
): Promise<void> => {
  let own = true
  const heartbeat = setInterval(async () => {
    try {
      own = (await renewLease(db, claimed)) && own
    } catch (error) {
      // The database is away: the lease runs out by itself, and the next task's transaction says so.
      console.error(`runner: ${(error as Error).message}`)
    }
  }, HEARTBEAT_MS)
  const here = () => own && !leave.aborted
  const { devices } = claimed.session
  try {
    let description: BenchDescription | undefined
    if (Object.values(devices).includes('bench')) {
      description = await untilBenchAnswers({ db, claimed, here }, () => bench.describe())
      if (!description || !(await isRightBench(db, claimed, description))) return
    }
    const { session } = claimed
    const [sheet, state, correction] = await Promise.all([
      db.sheets.findByPk(session.sheetId),
      db.states.findByPk(session.stateId),
      session.correctionId ? db.corrections.findByPk(session.correctionId) : null,
    ])
    const run: Execution = {
      db,
      bench,
      claimed,
      devices,
      here,
      description,
      signal: chooseSignal(
        claimed.session.signalFormat,
        devices.pattern === 'bench' ? description?.pattern : undefined,
      ),
      sheet: sheet!.document,
      slot: await slotFor(db, claimed, description),
      correction,
      state: state!.values,
      control: new Map(),
      seen: new Map(),
      drift: null,
      white: await lastWhite(db, claimed),
    }
    if (devices.display === 'bench' && !(await restoreState(run))) return
    for (const task of claimed.tasks) {
      if (task.outcome) continue
      if (!here()) return
      if ((await executeTask(run, task)) === 'left') return
    }
    await completeRun(db, claimed)
  } finally {
    clearInterval(heartbeat)
  }
}

const executeTask = (run: Execution, task: TaskRow): Promise<Outcome> => {
  switch (task.kind) {
    case 'reset':
      return resetTask(run, task)
    case 'set':
      return setTask(run, task)
    case 'rest':
      return restTask(run, task)
    case 'latency':
      return latencyTask(run, task)
    default:
      return readTask(run, task)
  }
}

/** The meter's own correction to read with: the session's choice, or the one for this kind of panel. */
const slotFor = async (
  db: Database,
  { session }: ClaimedRun,
  description: BenchDescription | undefined,
): Promise<string | null> => {
  if (session.meterSlot === 'none') return null
  const slots = description?.meter?.slots ?? []
  if (session.meterSlot) return slots.some((s) => s.slot === session.meterSlot) ? session.meterSlot : null
  if (session.correctionId) return null
  const unit = (await db.units.findByPk(session.unitId))!
  const variant = (await db.variants.findByPk(unit.variantId))!
  const model = (await db.models.findByPk(variant.modelId))!
  return slots.find((s) => s.panelKind === model.panelKind)?.slot ?? null
}

/** Luminance of white as the session last read it, or as it is aimed at: what dark readings are weighed against. */
const lastWhite = async (db: Database, { session, run }: ClaimedRun): Promise<number> => {
  const [white] = await db.readings.findAll({
    where: { runId: run.id, patchKey: 'grey-100', fault: null },
    order: [['id', 'DESC']],
    limit: 1,
  })
  return white?.y ?? session.targetLuminance
}

const isRightBench = async (
  db: Database,
  claimed: ClaimedRun,
  { display, meter, pattern }: BenchDescription,
): Promise<boolean> => {
  const devices: Devices = claimed.session.devices
  const unit = (await db.units.findByPk(claimed.session.unitId))!
  const missing =
    devices.display === 'bench' && !display
      ? 'The bench has no display.'
      : devices.meter === 'bench' && !meter
        ? 'The bench has no meter.'
        : devices.pattern === 'bench' && !pattern
          ? 'The bench has no pattern source.'
          : devices.display === 'bench' && display!.serial !== unit.serial
            ? `Another unit stands on the bench: ${display!.serial}. This session belongs to ${unit.serial}; put it back on the stand and try again.`
            : undefined
  if (missing) await stop({ db, claimed }, missing)
  return !missing
}
