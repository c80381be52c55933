import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { type Database, openDatabase, ping } from '#db'
import { type Context, seeBench } from './context'
import { diskWarning } from './disk'

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

const version = (): string =>
  (JSON.parse(readFileSync(join(process.cwd(), 'package.json'), 'utf8')) as { version: string }).version

/** How long an answer of the database is waited for, and how old a known one may be, ms. */
const PATIENCE_MS = 80
const FRESH_MS = 5_000

interface Pulse {
  /** A connection that nothing else waits for, so that a full pool is not taken for a database that is down. */
  readonly db: Database
  /** When it answered last. */
  answered: number
  asking: Promise<boolean> | undefined
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
  }
  shared.wexmarPulse!.set(url, pulse)
  return pulse
}

/** Whether the database answers: now, or a moment ago where it takes its time. */
const databaseUp = async (ctx: Context): Promise<boolean> => {
  const pulse = pulseOf(ctx)
  pulse.asking ??= ping(pulse.db)
    .then(
      () => true,
      (error: Error) => {
        console.error(`health: ${error.message}`)
        return false
      },
    )
    .then((up) => {
      if (up) pulse.answered = performance.now()
      pulse.asking = undefined
      return up
    })
  const late = new Promise<undefined>((resolve) => setTimeout(() => resolve(undefined), PATIENCE_MS))
  const now = await Promise.race([pulse.asking, late])
  if (now !== undefined) return now
  return performance.now() - pulse.answered < FRESH_MS
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
    version: version(),
    down,
    ...(disk ? { warnings: [`disk: ${disk}`] } : {}),
  }
}
