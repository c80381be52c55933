import { setTimeout as rest } from 'node:timers/promises'
import type { Store } from '#bench/executor'
import {
  type ClaimedRun,
  type Database,
  finishOwnTask,
  insertTasks,
  noteRun,
  setRunStatus,
  storeLatency,
  storeMeasurement,
  storeState,
} from '#db'
import { RETRY_MS } from './tuning'

/**
 * The database as the place where a run is kept. In: the claimed run, whose tasks follow what is kept; whether it is still the
 * runner's own.
 */
export const databaseStore = (db: Database, claimed: ClaimedRun, here: () => boolean): Store => {
  const { tasks } = claimed
  const finish = (ordinal: number) => {
    const task = tasks.find((t) => t.ordinal === ordinal)
    if (task) task.outcome = 'done'
  }
  return {
    here,
    keepMeasurement: async (task, taken, finishes) => {
      const { own } = await storeMeasurement(db, claimed, taken, finishes)
      if (own && finishes && !taken.fault) finish(task.ordinal)
      return own
    },
    keepState: async (task, state, reset) => {
      const { own } = await storeState(db, claimed, task, state, reset)
      if (own && task) finish(task.ordinal)
      return own
    },
    keepLatency: async (task, latency) => {
      const { mode, rate, milliseconds, times, setting, position = null } = latency
      const { own } = await storeLatency(db, claimed, task, {
        mode,
        rate,
        milliseconds,
        times: [...times],
        setting,
        position,
      })
      if (own) finish(task.ordinal)
      return own
    },
    finish: async (task) => {
      const { own } = await finishOwnTask(db, claimed, task)
      if (own) finish(task.ordinal)
      return own
    },
    insert: async (after, more) => {
      const all = await insertTasks(db, claimed, after.ordinal, more)
      if (all) tasks.splice(0, tasks.length, ...all)
      return all !== undefined
    },
    note: async (sentence) => {
      await noteRun(db, claimed, sentence)
    },
    waiting: async (reason) => {
      await setRunStatus(db, claimed, reason === undefined ? 'running' : 'waiting', reason ?? '')
    },
    untilAskedAgain: async () => {
      await rest(RETRY_MS)
      return true
    },
    stop: async (sentence, about) => {
      await setRunStatus(db, claimed, 'stopped', sentence, about)
    },
  }
}
