/** `bin/demo` after the packages are there: starts everything, keeps it running, ends it in order. */
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { benchClient } from '#bench/client'
import { dropAllTables, migrate, openDatabase } from '#db'
import { demoState, makeDemo } from '#demo'
import { buildWhereNeeded } from './build'
import { type Child, killAll, startChild } from './child'
import { type Config, readConfig } from './config'
import { startDatabaseServer } from './database-server'
import { endLeftovers, rememberProcesses } from './leftovers'
import { isPortFree } from './ports'

const STEPS = 6
let step = 0
const say = (line: string) => console.log(line)
const progress = (line: string) => say(`${String(++step).padStart(3)}/${STEPS}  ${line}`)
const detail = (line: string) => say(`       ${line}`)

/** A sentence for the person at the terminal; no stack, since it is nothing that a stack would explain. */
class Refusal extends Error {}

const children: Child[] = []
let stopping = false

const main = async () => {
  const unknown = process.argv.slice(2).filter((a) => a !== '--reset')
  if (unknown.length) throw new Refusal(`bin/demo knows --reset, not ${unknown.join(' ')}.`)
  const reset = process.argv.includes('--reset')
  const config = readConfig()
  mkdirSync(join(config.data, 'log'), { recursive: true })
  await endLeftovers(config.data, detail)
  await checkPorts(config)
  rememberProcesses(config.data, [process.pid])

  progress(
    config.databaseUrl ? 'Database: using DATABASE_URL' : `Database: starting on port ${config.databasePort}`,
  )
  const databaseUrl = config.databaseUrl ?? (await superviseDatabase(config))
  const db = openDatabase(databaseUrl)
  try {
    if (reset) await dropAllTables(db)
    const ran = await migrate(db)
    progress(ran.length ? `Tables: ${ran.join(', ')}` : 'Tables: up to date')

    const log = join(config.data, 'log', 'build.log')
    progress('Application: looking whether it must be built (a minute where it must)')
    if (buildWhereNeeded(config.root, config.dist, log)) detail('built')

    progress(
      config.benchUrl ? `Bench: using ${config.benchUrl}` : `Bench: simulated, on port ${config.benchPort}`,
    )
    const benchUrl = config.benchUrl ?? `http://127.0.0.1:${config.benchPort}`
    if (!config.benchUrl) {
      const memory = join(config.data, 'bench.json')
      if (reset) rmSync(memory, { force: true })
      await supervise(config, 'bench', tsx(config, 'src/bench/simulated/main.ts'), {
        WEXMAR_BENCH_PORT: String(config.benchPort),
        WEXMAR_BENCH_SPEED: String(config.benchSpeed),
        WEXMAR_BENCH_MEMORY: memory,
      })
      await until('The simulated bench', async () => (await benchClient(benchUrl).describe()).ok)
    }
    const env = { DATABASE_URL: databaseUrl, WEXMAR_BENCH_URL: benchUrl }
    const ctx = { db, bench: benchClient(benchUrl) }
    const state = await demoState(ctx)
    if (config.benchUrl) progress('Demo data: none, since the bench is your own')
    else if (state === 'ready') progress('Demo data: there')
    else if (state === 'own')
      progress(
        'Demo data: none, since the database holds units of your own; bin/demo --reset would replace them',
      )
    else {
      progress('Demo data: calibrating a simulated display along the whole route')
      if (state === 'half') {
        // What an earlier start left half-made goes first.
        await dropAllTables(db)
        await migrate(db)
      }
      await makeDemo(ctx, config.benchSpeed, detail)
    }

    progress('Starting the runner, the pilot and the web application')
    await supervise(config, 'runner', tsx(config, 'src/bench/runner/main.ts'), env)
    await supervise(config, 'pilot', tsx(config, 'src/ops/pilot.ts'), env)
    await supervise(config, 'web', tsx(config, 'src/ops/web.ts'), {
      ...env,
      WEXMAR_PORT: String(config.webPort),
      WEXMAR_DIST: config.dist,
      NODE_ENV: 'production',
      NEXT_TELEMETRY_DISABLED: '1',
    })
    const address = `http://127.0.0.1:${config.webPort}`
    await until(
      'The web application',
      async () => (await fetch(`${address}/api/health`).catch(() => undefined))?.ok === true,
    )
    say('')
    say(`Wexmar is at ${address}`)
    say('Ctrl-C ends it and everything it started.')
  } finally {
    await db.sequelize.close()
  }
}

const tsx = (config: Config, file: string): [string, ...string[]] => [
  process.execPath,
  '--import',
  'tsx',
  join(config.root, file),
]

const checkPorts = async (config: Config) => {
  const wanted = [
    { port: config.webPort, variable: 'WEXMAR_PORT', what: 'the web application' },
    ...(config.databaseUrl
      ? []
      : [{ port: config.databasePort, variable: 'WEXMAR_DB_PORT', what: 'the database' }]),
    ...(config.benchUrl
      ? []
      : [{ port: config.benchPort, variable: 'WEXMAR_BENCH_PORT', what: 'the simulated bench' }]),
  ]
  for (const { port, variable, what } of wanted)
    if (!(await isPortFree(port)))
      throw new Refusal(
        `Port ${port} for ${what} is taken. End what uses it, or choose another: ${variable}=${port + 100} bin/demo`,
      )
}

const until = async (what: string, ready: () => Promise<boolean>) => {
  for (const end = Date.now() + 90_000; Date.now() < end && !stopping; ) {
    if (await ready()) return
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
  if (!stopping)
    throw new Refusal(`${what} did not answer within 90 s; look into the log folder under WEXMAR_DATA.`)
}

const keep = (config: Config, child: Child) => {
  children.push(child)
  rememberProcesses(config.data, [process.pid, ...children.filter((c) => !c.isGone()).map((c) => c.pid)])
}

const RESTART_MS = 400
/** Restarts of one child within a minute after which it is not tried again. */
const MOST_RESTARTS = 20

/** Watches a child, says so when it dies, and starts it again. */
const revive = (config: Config, child: Child, again: () => Promise<Child>, deaths: number[] = []) => {
  void child.gone.then(async (how) => {
    if (stopping) return
    const recent = [...deaths, Date.now()].filter((at) => Date.now() - at < 60_000)
    if (recent.length > MOST_RESTARTS) {
      say(`The ${child.name} process died ${recent.length} times within a minute; giving up.`)
      await stop(1)
      return
    }
    say(`The ${child.name} process died (${how}); starting it again.`)
    await new Promise((resolve) => setTimeout(resolve, RESTART_MS))
    if (stopping) return
    try {
      const next = await again()
      keep(config, next)
      say(`The ${child.name} process runs again.`)
      revive(config, next, again, recent)
    } catch (error) {
      say((error as Error).message)
      await stop(1)
    }
  })
}

const supervise = async (
  config: Config,
  name: string,
  command: [string, ...string[]],
  env: Readonly<Record<string, string>>,
): Promise<void> => {
  const start = async () =>
    startChild(name, command, { env, cwd: config.root, log: join(config.data, 'log', `${name}.log`) })
  const child = await start()
  keep(config, child)
  revive(config, child, start)
}

const superviseDatabase = async (config: Config): Promise<string> => {
  const start = () => startDatabaseServer(config.data, config.databasePort)
  const { url, child } = await start()
  keep(config, child)
  revive(config, child, async () => (await start()).child)
  return url
}

const ORDER = ['web', 'pilot', 'runner', 'bench', 'database']

/** Ends every child in order, the database last, and then this process. */
const stop = async (code: number) => {
  if (stopping) return
  stopping = true
  const last = setTimeout(() => {
    killAll()
    process.exit(code)
  }, 4_500)
  for (const name of ORDER)
    await Promise.all(
      children.filter((c) => c.name === name).map((c) => c.stop(name === 'database' ? 2_500 : 700)),
    )
  clearTimeout(last)
  const pids = join(readConfig().data, 'processes.json')
  if (existsSync(pids) && (JSON.parse(readFileSync(pids, 'utf8')) as number[])[0] === process.pid)
    rmSync(pids, { force: true })
  process.exit(code)
}

for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const)
  process.on(signal, () => {
    if (!stopping) say('\nEnding everything that was started.')
    void stop(0)
  })

main().catch(async (error: Error) => {
  console.error(error.message)
  if (!(error instanceof Refusal) && process.env.WEXMAR_TRACE) console.error(error.stack)
  await stop(1)
})
