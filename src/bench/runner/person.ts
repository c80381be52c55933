import { setTimeout as rest } from 'node:timers/promises'
import type { Person, Store } from '#bench/executor'
import type { Ask } from '#core/plan'
import { askPerson, type ClaimedRun, type Database, patchStands, wantPatch } from '#db'
import { PAGE_LOOK_MS, PAGE_PATIENCE_MS } from './tuning'

/**
 * The person at the bench, asked through the database: what is asked stands in the run, which no runner holds until it is
 * answered. A page on the display is waited for.
 */
export const personAtBench = (db: Database, claimed: ClaimedRun, store: Store): Person => {
  const { session, run } = claimed
  const { devices } = session
  const ask = async (what: Ask): Promise<void> => {
    await askPerson(db, claimed, what)
  }
  return {
    show: async (task, patch) => {
      if (devices.pattern === 'hand') {
        // Where a person also reads the meter, one question does for both.
        if (devices.meter === 'hand') return 'done'
        const answered = run.ask
        if (answered?.kind === 'show' && answered.task === task.ordinal && answered.confirmed) return 'done'
        await ask({ kind: 'show', task: task.ordinal, patch, confirmed: false })
        return 'asked'
      }
      await wantPatch(db, claimed, { runId: run.id, task: task.ordinal, patch })
      if (devices.meter === 'hand') return 'done'
      const began = performance.now()
      for (let waiting = false; store.here(); await rest(PAGE_LOOK_MS)) {
        if (await patchStands(db, session.id, run.id, task.ordinal)) {
          if (waiting) await store.waiting(undefined)
          return 'done'
        }
        if (!waiting && performance.now() - began > PAGE_PATIENCE_MS) {
          waiting = true
          await store.waiting(
            'The patch page is not open on the display. Open it there, full screen; the run goes on by itself.',
          )
        }
      }
      return 'asked'
    },
    read: (task, patch) => ask({ kind: 'read', task: task.ordinal, patch }),
    set: (task, control, value) => ask({ kind: 'set', task: task.ordinal, control, value }),
    reset: (task) => ask({ kind: 'reset', task: task.ordinal, mode: null }),
  }
}
