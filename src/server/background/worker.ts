import { setPriority } from 'node:os'

/** What a thread of the web application does: one piece of work at a time, with connections of its own. */
import { context, rememberSight } from '../base/context'
import { HEAVY } from './heavy'
import { runJob } from './jobs'
import type { Work } from './offload'

// Whoever answers requests goes first. On Linux this is the priority of the thread alone.
setPriority(0, 5)

export default async (work: Work): Promise<unknown> => {
  const ctx = context()
  if (work.kind === 'job') return runJob(ctx, work.job)
  rememberSight(ctx, work.sight)
  return (HEAVY[work.name] as (ctx: unknown, ...args: readonly unknown[]) => Promise<unknown>)(
    ctx,
    ...work.args,
  )
}
