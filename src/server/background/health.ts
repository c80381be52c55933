import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { type Database, openDatabase, ping } from '#db'
import { type Context, seeBench } from '../base/context'
import { diskWarning } from '../base/disk'

interface Health {
  readonly status: 'ok' | 'down'
  readonly database: 'ok' | 'down'
  readonly bench: 'ok' | 'down' | 'none'
  readonly version: string
  /** What is down, in words. */
  readonly down: readonly string[]
  /** What is about to be. */
  readonly warnings?: readonly string[]
}

let own: string | undefined
/** Version of Wexmar that runs, as its package names it; read once. */
export const appVersion = (): string => {
  own ??= (JSON.parse(readFileSync(join(process.cwd(), 'package.json'), 'utf8')) as { version: string })
    .version
  return own
}

/**
 * How long an answer of the database is waited for where it answered a moment ago, and where it did not; how old such an answer may be, ms. A connection that
 * was idle is made anew, which takes longer than an answer.
 */
const QUICK_MS = 80
const PATIENCE_MS = 2_000
const FRESH_MS = 5_000

interface Pulse {
  /** A connection that nothing else waits for, so that a full pool is not taken for a database that is down. */
  readonly db: Database
  /** When it answered last. */
  answered: number
  asking: Promise<boolean> | undefined
  /** When it was asked last. */
  asked: number
}
const shared = globalThis as typeof globalThis & { wexmarPulse?: Map<string, Pulse> }
shared.wexmarPulse ??= new Map()

const pulseOf = ({ db }: Context): Pulse => {
  const { config } = db.sequelize
  const url = `mariadb://${config.username}:${encodeURIComponent(config.password ?? '')}@${config.host}:${config.port}/${config.database}`
  const known = shared.wexmarPulse!.get(url)
  if (known) return known
  const pulse: Pulse = {
    db: openDatabase(url, { most: 1, patience: 2_000 }),
    answered: Number.NEGATIVE_INFINITY,
    asking: undefined,
    asked: Number.NEGATIVE_INFINITY,
  }
  shared.wexmarPulse!.set(url, pulse)
  return pulse
}

/** Whether the database answers: now, or a moment ago where it takes its time. */
const databaseUp = async (ctx: Context): Promise<boolean> => {
  const pulse = pulseOf(ctx)
  pulse.asking ??= ask(pulse)
  const now = performance.now()
  const fresh = now - pulse.answered < FRESH_MS
  const wait = fresh ? QUICK_MS : Math.max(0, PATIENCE_MS - (now - pulse.asked))
  const late = new Promise<boolean>((resolve) => setTimeout(() => resolve(fresh), wait))
  return Promise.race([pulse.asking, late])
}

const ask = (pulse: Pulse): Promise<boolean> => {
  pulse.asked = performance.now()
  return ping(pulse.db)
    .then(
      () => {
        pulse.answered = performance.now()
        return true
      },
      (error: Error) => {
        console.error(`health: ${error.message}`)
        return false
      },
    )
    .finally(() => {
      pulse.asking = undefined
    })
}

/** Whether database and bench answer. Never waits for either for long. */
export const health = async (ctx: Context): Promise<Health> => {
  const [up, sight, disk] = await Promise.all([databaseUp(ctx), seeBench(ctx), diskWarning()])
  const down = [
    ...(up ? [] : ['database: it does not answer']),
    ...(sight.ok || sight.none ? [] : [`bench: ${sight.message}`]),
  ]
  return {
    status: down.length ? 'down' : 'ok',
    database: up ? 'ok' : 'down',
    bench: sight.ok ? 'ok' : sight.none ? 'none' : 'down',
    version: appVersion(),
    down,
    ...(disk ? { warnings: [`disk: ${disk}`] } : {}),
  }
}
