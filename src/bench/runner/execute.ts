import type { BenchClient } from '#bench/client'
import { execute, type RunInput } from '#bench/executor'
import { patchesFor } from '#core/measure'
import type { BenchDescription } from '#core/protocol'
import { type ClaimedRun, completeRun, type Database, renewLease, storeMeter } from '#db'
import { personAtBench } from './person'
import { databaseStore } from './store'
import { HEARTBEAT_MS } from './tuning'

/**
 * Executes a run that was claimed, its lease renewed meanwhile.
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
  try {
    const store = databaseStore(db, claimed, () => own && !leave.aborted)
    const person = personAtBench(db, claimed, store)
    const input = await inputOf(db, claimed)
    const watched = {
      ...bench,
      describe: async () => {
        const described = await bench.describe()
        if (described.ok && described.value.meter) await storeMeter(db, claimed, described.value.meter)
        return described
      },
    }
    if ((await execute(watched, store, person, input)) === 'done') await completeRun(db, claimed)
  } finally {
    clearInterval(heartbeat)
  }
}

const inputOf = async (db: Database, claimed: ClaimedRun): Promise<RunInput> => {
  const { session, run, tasks } = claimed
  const [sheet, state, unit, correction] = await Promise.all([
    db.sheets.findByPk(session.sheetId),
    db.states.findByPk(session.stateId),
    db.units.findByPk(session.unitId),
    session.correctionId ? db.corrections.findByPk(session.correctionId) : null,
  ])
  const variant = (await db.variants.findByPk(unit!.variantId))!
  const model = (await db.models.findByPk(variant.modelId))!
  return {
    devices: session.devices,
    sheet: sheet!.document,
    state: state!.values,
    fresh: (run.purpose === 'prepare' && !session.prepared) || run.purpose === 'read-back',
    serial: unit!.serial,
    signal: session.signalFormat,
    refused: session.refused,
    white: await lastWhite(db, claimed),
    checksFeed: run.purpose === 'feed-check',
    slotOn: (bench) => slotOf(session, bench, model.panelKind),
    correction: correction && { id: correction.id, matrix: correction.matrix },
    tasks: () => tasks,
  }
}

/** The meter's own correction to read with: the session's choice, or the one for this kind of panel. */
const slotOf = (
  { meterSlot, correctionId }: ClaimedRun['session'],
  bench: BenchDescription | undefined,
  panelKind: string,
): string | null => {
  if (meterSlot === 'none') return null
  const slots = bench?.meter?.slots ?? []
  if (meterSlot) return slots.some((s) => s.slot === meterSlot) ? meterSlot : null
  if (correctionId) return null
  return slots.find((s) => s.panelKind === panelKind)?.slot ?? null
}

/** Luminance of white as the run last read it, or as it is aimed at: what dark readings are weighed against. */
const lastWhite = async (db: Database, { session, run }: ClaimedRun): Promise<number> => {
  const [white] = await db.readings.findAll({
    where: {
      runId: run.id,
      patchKey: patchesFor(session.signalFormat).white.key,
      fault: null,
    },
    order: [['id', 'DESC']],
    limit: 1,
  })
  return white?.y ?? session.targetLuminance
}
