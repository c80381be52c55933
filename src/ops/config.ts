import { homedir } from 'node:os'
import { join, relative, resolve } from 'node:path'
import { type Origins, originsFrom } from './guard'

/** Where Wexmar keeps its things and on which ports it listens, from the environment. */
export interface Config {
  readonly root: string
  readonly data: string
  readonly webPort: number
  readonly databasePort: number
  readonly benchPort: number
  /** A database server to use instead of starting one. */
  readonly databaseUrl?: string
  /** A bench to use instead of the simulated one. */
  readonly benchUrl?: string
  readonly benchSpeed: number
  /** How much demo data is made: all, or one viewing case for a quick look. */
  readonly demo: 'whole' | 'short'
  /** Where browsers reach it, from `WEXMAR_ORIGIN`. */
  readonly origins: Origins
  /** Folder of the built application, in the checkout. */
  readonly dist: string
}

const portOf = (name: string, fallback: number): number => {
  const text = process.env[name]
  if (!text) return fallback
  const port = Number(text)
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    throw new Error(`${name} is “${text}”, which is not a port. Set it to a whole number from 1 to 65535.`)
  return port
}

const demoOf = (text = 'whole'): Config['demo'] => {
  if (text !== 'whole' && text !== 'short')
    throw new Error(`WEXMAR_DEMO is “${text}”. Set it to whole, or to short for one viewing case.`)
  return text
}

/** Reads the configuration. In: folder of the built application, where nothing else is said. Errors: throws a sentence that says what to change. */
export const readConfig = (dist = '.next'): Config => {
  const root = resolve(import.meta.dirname, '../..')
  const base = process.env.XDG_DATA_HOME || join(homedir(), '.local/share')
  const data = resolve(process.env.WEXMAR_DATA || join(base, 'wexmar'))
  const inside = relative(root, data)
  if (inside === '' || (!inside.startsWith('..') && !inside.startsWith('/')))
    throw new Error(`WEXMAR_DATA is ${data}, inside the checkout. Set it to a folder elsewhere.`)
  const webPort = portOf('WEXMAR_PORT', 4310)
  return {
    root,
    data,
    webPort,
    databasePort: portOf('WEXMAR_DB_PORT', 4311),
    benchPort: portOf('WEXMAR_BENCH_PORT', 4312),
    databaseUrl: process.env.DATABASE_URL || undefined,
    benchUrl: process.env.WEXMAR_BENCH_URL || undefined,
    origins: originsFrom(process.env.WEXMAR_ORIGIN, webPort),
    benchSpeed: Number(process.env.WEXMAR_BENCH_SPEED ?? 4),
    demo: demoOf(process.env.WEXMAR_DEMO),
    dist: process.env.WEXMAR_DIST ?? dist,
  }
}
