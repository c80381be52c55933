import type { Child } from './child'
import type { Config } from './config'
import { databaseUrlOf, startDatabaseServer } from './database-server'
import { endLeftovers, supervisorOf } from './leftovers'

/**
 * Does something with the installation's database, whether Wexmar is running or not: where it is not, the database is started for as
 * long as it takes. In: configuration, `say` hears of what is ended or started, work. Out: what the work gives. Errors: those of the
 * start and of the work.
 */
export const withDatabase = async <T>(
  config: Config,
  say: (line: string) => void,
  work: (url: string, supervisor: number | undefined) => Promise<T>,
): Promise<T> => {
  const supervisor = supervisorOf(config.data)
  if (config.databaseUrl) return work(config.databaseUrl, supervisor)
  if (supervisor) return work(databaseUrlOf(config.data, config.databasePort), supervisor)
  await endLeftovers(config.data, say)
  const started: Child[] = []
  try {
    const { url } = await startDatabaseServer(config.data, config.databasePort, {
      begun: (child) => started.push(child),
    })
    return await work(url, undefined)
  } finally {
    for (const child of started) await child.stop(10_000)
  }
}
