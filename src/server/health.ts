import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { ping } from '#db'
import { type Context, seeBench } from './context'

export interface Health {
  readonly status: 'ok' | 'down'
  readonly database: 'ok' | 'down'
  readonly bench: 'ok' | 'down'
  readonly version: string
  /** What is down, in words. */
  readonly down: readonly string[]
}

const version = (): string =>
  (JSON.parse(readFileSync(join(process.cwd(), 'package.json'), 'utf8')) as { version: string }).version

/** Whether database and bench answer. */
export const health = async (ctx: Context): Promise<Health> => {
  const [database, sight] = await Promise.all([
    ping(ctx.db).then(
      () => undefined,
      (error: Error) => `database: ${error.message}`,
    ),
    seeBench(ctx),
  ])
  const down = [...(database ? [database] : []), ...(sight.ok ? [] : [`bench: ${sight.message}`])]
  return {
    status: down.length ? 'down' : 'ok',
    database: database ? 'down' : 'ok',
    bench: sight.ok ? 'ok' : 'down',
    version: version(),
    down,
  }
}
