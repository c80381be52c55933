/**
 * `bin/demo`, `bin/start` and `npm run dev` after the packages are there: starts everything, keeps it running, ends it in order. The first word says which:
 * `demo` brings demo data and simulated devices, `own` neither; `dev` is the demo with its pages compiled as they are asked for.
 */
import { randomBytes } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { createInterface } from 'node:readline/promises'
import { benchClient } from '#bench/client'
import { dropAllTables, finishReplacing, isEmpty, migrate, openDatabase } from '#db'
import { demoState, standDemo } from '#demo'
import { isDailyDue, keepBackup, version } from './backups'
import { buildWhereNeeded } from './build'
import { bundlePrograms, programFile } from './bundle'
import { killAll } from './child'
import { type Config, readConfig } from './config'
import { endLeftovers, holdData, holderOf, rememberProcesses } from './leftovers'
import { isPortFree } from './ports'
import { watchReadersStyle } from './readers-style'
import { Supervisor } from './supervisor'

/** Pages are compiled as they are asked for. */
const dev = process.argv[2] === 'dev'
/** With demo data and simulated devices, or an installation of the user's own. */
const demo = process.argv[2] === 'demo' || dev
const PROGRAM = dev ? 'npm run dev' : demo ? 'bin/demo' : 'bin/start'
const STEPS = demo ? 6 : 5
let step = 0
/** Output may go to a disk that is full, or to a terminal that is gone. */
for (const stream of [process.stdout, process.stderr]) stream.on('error', () => undefined)
const say = (line: string) => console.log(line)
const progress = (line: string) => say(`${String(++step).padStart(3)}/${STEPS}  ${line}`)
const detail = (line: string) => say(`       ${line}`)

/** A sentence for the person at the terminal; no stack, since it is nothing that a stack would explain. */
class Refusal extends Error {}

const WORDS: ReadonlySet<string> = new Set(demo ? ['--reset', '--yes'] : [])
let supervisor: Supervisor | undefined

const main = async () => {
  const words = process.argv.slice(3)
  const unknown = words.filter((word) => !WORDS.has(word))
  if (unknown.length)
    throw new Refusal(
      `${PROGRAM} knows ${demo ? '--reset and --yes' : 'no words'}, not ${unknown.join(' ')}.`,
    )
  const reset = words.includes('--reset')
  const config = readConfig(dev ? '.next-dev' : '.next')
  mkdirSync(join(config.data, 'log'), { recursive: true })
  if (reset && !words.includes('--yes')) await askForReset()
  await endLeftovers(config.data, detail)
  await checkPorts(config)
  holdData(config.data)
  rememberProcesses(config.data, [process.pid])
  supervisor = new Supervisor(config, say)
  const temporary = join(config.data, 'tmp', 'files')
  // Files on their way in or out of an earlier start: nobody waits for them any more.
  rmSync(temporary, { recursive: true, force: true })

  progress(
    config.databaseUrl ? 'Database: using DATABASE_URL' : `Database: starting on port ${config.databasePort}`,
  )
  const databaseUrl = config.databaseUrl ?? (await supervisor.keepDatabase())
  const db = openDatabase(databaseUrl, { patience: 0 })
  try {
    // A restore that was cut off has left what it replaced beside.
    await finishReplacing(databaseUrl, async (replaced) => {
      const of = version(config.root)
      const { file } = await keepBackup(config.data, replaced, 'before-restore', of, new Date())
      detail(`what a restore replaced is backed up: ${file}`)
    })
    if (reset) await resetAll(config, databaseUrl, db)
    const ran = await migrate(db, {
      before: async (pending) => {
        if (await isEmpty(databaseUrl)) return
        detail(`backing up before ${pending.join(', ')}`)
        const of = version(config.root)
        const { file } = await keepBackup(config.data, databaseUrl, 'before-upgrade', of, new Date())
        detail(file)
      },
    })
    progress(ran.length ? `Tables: ${ran.join(', ')}` : 'Tables: up to date')

    await buildAll(config)

    const { env, makesDemo } = await startPrograms(config, db, databaseUrl, temporary)
    if (makesDemo) void makeDemoData(config, env)
  } finally {
    await db.sequelize.close()
  }
  void backUpDaily(config, databaseUrl)
}

/** Builds what has to be built; while Wexmar is developed its pages are compiled as they are asked for. */
const buildAll = async (config: Config): Promise<void> => {
  if (dev) {
    progress('Programs: translating')
    await bundlePrograms(config.root, config.dist)
    return watchReadersStyle(config.root, config.dist)
  }
  progress('Application: looking whether it must be built (a minute where it must)')
  const log = join(config.data, 'log', 'build.log')
  if (await buildWhereNeeded(config.root, config.dist, log, (child) => supervisor!.take(child)))
    detail('built')
}

/** Starts the bench where it is simulated, the runner, the pilot and the web application, and waits until they answer. */
const startPrograms = async (
  config: Config,
  db: ReturnType<typeof openDatabase>,
  databaseUrl: string,
  temporary: string,
): Promise<{ readonly env: Readonly<Record<string, string>>; readonly makesDemo: boolean }> => {
  const keep = supervisor!
  const simulated = demo && !config.benchUrl
  progress(
    config.benchUrl
      ? `Bench: using ${config.benchUrl}`
      : simulated
        ? `Bench: simulated, on port ${config.benchPort}`
        : 'Bench: none (WEXMAR_BENCH_URL names one)',
  )
  const benchUrl = config.benchUrl ?? (simulated ? `http://127.0.0.1:${config.benchPort}` : '')
  const token = simulated ? benchToken(config) : process.env.WEXMAR_BENCH_TOKEN
  const env = {
    DATABASE_URL: databaseUrl,
    WEXMAR_BENCH_URL: benchUrl,
    WEXMAR_DATA: config.data,
    ...(token ? { WEXMAR_BENCH_TOKEN: token } : {}),
  }
  const bench = benchClient(benchUrl, token)
  if (simulated)
    keep.keep('bench', {
      ...env,
      WEXMAR_BENCH_PORT: String(config.benchPort),
      WEXMAR_BENCH_SPEED: String(config.benchSpeed),
      WEXMAR_BENCH_MEMORY: join(config.data, 'bench.json'),
    })
  const benchIsUp = async () =>
    simulated ? until('The simulated bench', async () => (await bench.describe()).ok) : undefined
  const makesDemo = demo && (await beginDemo({ db, bench }, config, benchIsUp))

  progress('Starting the runner, the pilot and the web application')
  keep.keep('runner', env)
  keep.keep('pilot', env)
  keep.keep('web', {
    ...env,
    WEXMAR_PORT: String(config.webPort),
    WEXMAR_ORIGIN: config.origins.join(' '),
    WEXMAR_DIST: config.dist,
    WEXMAR_TEMP: temporary,
    // While it is developed the work is done where it stands, in what was compiled last.
    ...(dev
      ? { WEXMAR_DEV: '1', NODE_ENV: 'development' }
      : { WEXMAR_THREADS: programFile(config.root, config.dist, 'worker'), NODE_ENV: 'production' }),
    NEXT_TELEMETRY_DISABLED: '1',
  })
  const own = `http://127.0.0.1:${config.webPort}`
  await Promise.all([
    benchIsUp(),
    until(
      'The web application',
      async () => (await fetch(`${own}/api/health`).catch(() => undefined))?.ok === true,
    ),
  ])
  if (!dev) keep.look()
  say('')
  say(`Wexmar is at ${process.env.WEXMAR_ORIGIN ? config.origins[0] : own}`)
  say('Ctrl-C ends it and everything it started.')
  return { env, makesDemo }
}

/** Puts the first displays of the demo in their place where there is room for demo data. Out: whether the rest has to be made. */
const beginDemo = async (
  ctx: Parameters<typeof standDemo>[0],
  config: Config,
  benchIsUp: () => Promise<void> | undefined,
): Promise<boolean> => {
  const state = await demoState(ctx)
  const none = (why: string): false => {
    progress(`Demo data: ${why}`)
    return false
  }
  if (config.benchUrl) return none('none, since the bench is your own')
  if (state === 'ready') return none('there')
  if (state === 'own')
    return none('none, since the database holds units of your own; bin/demo --reset would replace them')
  progress(
    state === 'half'
      ? 'Demo data: goes on behind the application where it was cut off'
      : 'Demo data: a display on the bench; the rest is made behind the application',
  )
  if (state === 'empty') {
    await benchIsUp()
    await standDemo(ctx, config.benchSpeed)
  }
  return true
}

/** Has the demo data made in a process of its own, which nothing waits for. */
const makeDemoData = async (config: Config, env: Readonly<Record<string, string>>): Promise<void> => {
  say('Demo data are being made in the background; the home page shows how far they are.')
  const made = await supervisor?.once('demo', 'src/ops/demo-data.ts', [], env)
  if (supervisor?.stopping) return
  say(
    made
      ? 'Demo data: complete.'
      : `The demo data could not be completed; ${join(config.data, 'log', 'demo.log')} says why. The next start goes on.`,
  )
}

/** Asks before everything is replaced; a script says --yes. */
const askForReset = async (): Promise<void> => {
  const warning =
    'bin/demo --reset replaces everything in this installation by new demo data: units, readings, policies and guides. A backup is made first.'
  if (!process.stdin.isTTY) throw new Refusal(`${warning} In a script, say so: bin/demo --reset --yes`)
  say(warning)
  const asking = createInterface({ input: process.stdin, output: process.stdout })
  const answer = await asking.question('Type reset to go on: ')
  asking.close()
  if (answer.trim() !== 'reset') throw new Refusal('Nothing was changed.')
}

const resetAll = async (config: Config, url: string, db: ReturnType<typeof openDatabase>): Promise<void> => {
  if (!(await isEmpty(url))) {
    const { file } = await keepBackup(config.data, url, 'before-reset', version(config.root), new Date())
    detail(`what was there is backed up: ${file}`)
  }
  await dropAllTables(db)
  for (const name of ['bench.json', 'demo-bench.json']) rmSync(join(config.data, name), { force: true })
}

/** The token of the simulated bench, made on first use: no other program of this machine drives it by accident. */
const benchToken = (config: Config): string => {
  const file = join(config.data, 'secrets', 'bench-token')
  if (!existsSync(file)) {
    mkdirSync(join(config.data, 'secrets'), { recursive: true, mode: 0o700 })
    writeFileSync(file, randomBytes(24).toString('hex'), { mode: 0o600 })
  }
  return readFileSync(file, 'utf8').trim()
}

const BACKUP_LOOK_MS = 10 * 60_000

/** Has a backup made once a day, in a process of its own; a failure is said and tried again. */
const backUpDaily = async (config: Config, url: string): Promise<void> => {
  for (;;) {
    if (!supervisor || supervisor.stopping) return
    if (
      isDailyDue(config.data, Date.now()) &&
      !(await supervisor.once('backup', 'src/ops/backup.ts', ['--daily'], { DATABASE_URL: url }))
    )
      if (!supervisor.stopping)
        say(
          `The daily backup could not be made; ${join(config.data, 'log', 'backup.log')} says why. It is tried again.`,
        )
    await new Promise((resolve) => setTimeout(resolve, BACKUP_LOOK_MS).unref())
  }
}

const checkPorts = async (config: Config) => {
  const wanted = [
    { port: config.webPort, variable: 'WEXMAR_PORT', what: 'the web application' },
    ...(config.databaseUrl
      ? []
      : [{ port: config.databasePort, variable: 'WEXMAR_DB_PORT', what: 'the database' }]),
    ...(config.benchUrl || !demo
      ? []
      : [{ port: config.benchPort, variable: 'WEXMAR_BENCH_PORT', what: 'the simulated bench' }]),
  ]
  for (const { port, variable, what } of wanted)
    if (!(await isPortFree(port))) {
      const holder = holderOf(port)
      throw new Refusal(
        `Port ${port} for ${what} is taken${holder ? ` by ${holder}` : ''}. End that, or choose another port: ${variable}=${port + 100} ${PROGRAM}`,
      )
    }
}

const until = async (what: string, ready: () => Promise<boolean>) => {
  for (const end = performance.now() + 90_000; performance.now() < end && !supervisor?.stopping; ) {
    if (await ready()) return
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
  if (!supervisor?.stopping)
    throw new Refusal(`${what} did not answer within 90 s; check the log folder under WEXMAR_DATA.`)
}

let ending = false
/** Ends every child in order, the database last, and then this process. */
const stop = async (code: number) => {
  if (ending) return
  ending = true
  const last = setTimeout(() => {
    killAll()
    process.exit(code)
  }, 4_800)
  await supervisor?.stop()
  clearTimeout(last)
  process.exit(code)
}

for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const)
  process.on(signal, () => {
    if (!ending) say('\nEnding everything that was started.')
    void stop(0)
  })
process.on('SIGUSR2', () => {
  say('A backup was restored; starting what remembers the old rows anew.')
  supervisor?.renew()
})

main().catch(async (error: Error) => {
  if (!ending) console.error(error.message)
  if (!(error instanceof Refusal) && process.env.WEXMAR_TRACE) console.error(error.stack)
  await stop(1)
})
