import { QueryTypes } from 'sequelize'
import { heavy, TooBusy } from '../background/offload'
import type { Context } from '../base/context'
import { seeBench } from '../base/context'
import { isAway } from '../base/failures'
import { type WantedPatch, wantedPatch } from '../equipment/patch-page'
import { type SessionChange, sightMark } from './session-view'

/** How often the database is looked at, for all pages that are open together, ms. */
const TICK_MS = 100
/** After a failure it is looked at more rarely. */
const TROUBLE_MS = 1_000

type Ring = (mark: string | undefined) => void

/** The one look at the database for all pages of a process that follow a session. */
class Lookout {
  private readonly bells = new Map<number, Set<Ring>>()
  private readonly marks = new Map<number, string>()
  private timer: ReturnType<typeof setTimeout> | undefined
  constructor(private readonly ctx: Context) {}

  /** Rings with each change of a session, and with undefined where there is none any more. Out: how to stop. */
  listen(id: number, ring: Ring): () => void {
    const bells = this.bells.get(id) ?? new Set()
    this.bells.set(id, bells)
    bells.add(ring)
    const known = this.marks.get(id)
    if (known !== undefined) ring(known)
    this.timer ??= setTimeout(() => void this.look(), 0)
    return () => {
      bells.delete(ring)
      if (bells.size > 0) return
      this.bells.delete(id)
      this.marks.delete(id)
    }
  }

  /** Looks at once instead of at the next tick: something was just changed here. */
  nudge(): void {
    if (!this.timer) return
    clearTimeout(this.timer)
    this.timer = setTimeout(() => void this.look(), 0)
  }

  private async look(): Promise<void> {
    let rest = TICK_MS
    try {
      const ids = [...this.bells.keys()]
      if (ids.length) {
        const [rows, sight] = await Promise.all([
          this.ctx.db.sequelize.query<{ id: number; revision: number }>(
            'SELECT id, revision FROM sessions WHERE id IN (:ids)',
            { type: QueryTypes.SELECT, replacements: { ids } },
          ),
          seeBench(this.ctx),
        ])
        const seen = sightMark(sight)
        const now = new Map(rows.map((r) => [r.id, `${r.revision}/${seen}`]))
        for (const id of ids) {
          const mark = now.get(id)
          if (mark !== undefined && mark === this.marks.get(id)) continue
          if (mark === undefined) this.marks.delete(id)
          else this.marks.set(id, mark)
          for (const ring of this.bells.get(id) ?? []) ring(mark)
        }
      }
    } catch (error) {
      // The database is away: pages keep what they show, and hear of it once it is back.
      console.error(`events: ${(error as Error).message}`)
      rest = TROUBLE_MS
    }
    this.timer = this.bells.size ? setTimeout(() => void this.look(), rest) : undefined
  }
}

/** One for each context, and across reloads of this module. */
const shared = globalThis as typeof globalThis & { wexmarLookouts?: WeakMap<object, Lookout> }
shared.wexmarLookouts ??= new WeakMap()
const lookoutOf = (ctx: Context): Lookout => {
  const known = shared.wexmarLookouts!.get(ctx.db) ?? new Lookout(ctx)
  shared.wexmarLookouts!.set(ctx.db, known)
  return known
}

/** Has everybody who follows a session look at once. */
export const nudgeWatchers = (ctx: Context): void => lookoutOf(ctx).nudge()

/** Follows the marks of a session until told to stop; undefined every two seconds where nothing changed. */
async function* marksOf(ctx: Context, id: number, stop: AbortSignal): AsyncGenerator<string | undefined> {
  let newest: { mark: string | undefined } | undefined
  let wake: () => void = () => undefined
  const silence = lookoutOf(ctx).listen(id, (mark) => {
    newest = { mark }
    wake()
  })
  const stopped = () => wake()
  stop.addEventListener('abort', stopped)
  try {
    while (!stop.aborted) {
      const told = newest
      newest = undefined
      if (told) {
        if (told.mark === undefined) return
        yield told.mark
      } else {
        let timer: ReturnType<typeof setTimeout> | undefined
        await new Promise<void>((resolve) => {
          wake = resolve
          timer = setTimeout(resolve, ALIVE_MS)
        })
        clearTimeout(timer)
        if (!newest && !stop.aborted) yield undefined
      }
    }
  } finally {
    stop.removeEventListener('abort', stopped)
    silence()
  }
}
const ALIVE_MS = 2_000

/** What a page that follows a session is told: what has changed; or that it cannot be worked out, in the words of what failed. */
export type SessionNews =
  | { readonly kind: 'change'; readonly change: SessionChange }
  | { readonly kind: 'failed'; readonly message: string }

/**
 * Follows a session: what has changed since the page's view, at once and again whenever something changes, until told to stop. In:
 * context, session id, mark of the view that the page has (empty: none), signal to stop; `left`: revision of a finished session that the page shows as it was
 * left, which is not worked out again before something of it changes. Undefined in between is a sign of life.
 */
export async function* watchSession(
  ctx: Context,
  id: number,
  mark: string,
  stop: AbortSignal,
  left?: number,
): AsyncGenerator<SessionNews | undefined> {
  let has = mark
  for await (const rung of marksOf(ctx, id, stop)) {
    if (rung === undefined || (left !== undefined && rung.startsWith(`${left}/`))) {
      yield undefined
      continue
    }
    let change: SessionChange | undefined
    try {
      change = await heavy.sessionChange(ctx, id, has)
    } catch (error) {
      // While the database is away, or too much is asked, the page connects again; what is wrong with the session itself stays wrong.
      if (isAway(error) || error instanceof TooBusy) throw error
      console.error(`events: session ${id}: ${(error as Error).stack}`)
      yield { kind: 'failed', message: (error as Error).message }
      continue
    }
    if (!change) return
    if (change.mark === has) continue
    has = change.mark
    yield { kind: 'change', change }
  }
}

/** Follows what a patch page should show, until told to stop: at once, and with each change; undefined in between. */
export async function* watchPatch(
  ctx: Context,
  id: number,
  stop: AbortSignal,
): AsyncGenerator<{ wanted: WantedPatch | null } | undefined> {
  let last = ''
  for await (const rung of marksOf(ctx, id, stop)) {
    if (rung === undefined) {
      yield undefined
      continue
    }
    const wanted = await wantedPatch(ctx, id)
    if (wanted === undefined) return
    const mark = JSON.stringify(wanted)
    if (mark === last) continue
    last = mark
    yield { wanted }
  }
}
