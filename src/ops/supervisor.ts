import { type Database, openDatabase, ping } from '#db'
import { PROGRAMS, type Program, programFile } from './bundle'
import { type Child, killAll, startChild } from './child'
import type { Config } from './config'
import { startDatabaseServer } from './database-server'
import { mainThreadOf } from './hang'
import { forgetProcesses, markOf, rememberProcesses } from './leftovers'

/** How long is waited before a child is started again, at first and at most, ms. */
const RESTART_MS = 400
const LONGEST_RESTART_MS = 30_000
/** So many deaths within a minute are met at once; after that the wait grows. */
const QUICK_DEATHS = 5
/** How often it is looked whether each process still moves, ms. */
const LOOK_MS = 1_000
/** The database is asked instead: so many looks without an answer mean that it hangs. */
const MOST_UNANSWERED = 45
/** Most memory for the values of each, MB. */
const MEGABYTES = { web: 224, pilot: 384, runner: 192, bench: 128 } as const
const DEVELOPED_MB = 1536
const ORDER = ['build', 'backup', 'demo', 'web', 'pilot', 'runner', 'bench', 'database']

/** Starts processes, keeps them running and ends them in order. */
export class Supervisor {
  private readonly children: Child[] = []
  private looking: ReturnType<typeof setInterval> | undefined
  private pulse: { db: Database; unanswered: number; asking: boolean } | undefined
  stopping = false

  constructor(
    private readonly config: Config,
    private readonly say: (line: string) => void,
  ) {}

  /** Takes a child among those that are ended with everything else, and writes its number down at once. */
  take(child: Child): void {
    this.children.push(child)
    const alive = this.children.filter((c) => !c.isGone())
    rememberProcesses(this.config.data, [process.pid, ...alive.map((c) => c.pid)])
    // It was begun while everything was being ended.
    if (this.stopping) child.kill()
  }

  /** Starts one of Wexmar's own programs and keeps it running. In: its name, environment. */
  keep(name: Exclude<Program, 'worker' | 'pulse'>, env: Readonly<Record<string, string>>): void {
    const { root, data, dist } = this.config
    const command: [string, ...string[]] = [
      process.execPath,
      // Compiling pages takes more than serving them.
      `--max-old-space-size=${env.WEXMAR_DEV ? DEVELOPED_MB : MEGABYTES[name]}`,
      '--max-semi-space-size=4',
      '--import',
      programFile(root, dist, 'pulse'),
      programFile(root, dist, name),
      // What it is and whose: for whoever looks at the list of processes, and for the next start.
      PROGRAMS[name],
      markOf(data),
    ]
    const start = async () =>
      startChild(name, command, { env, cwd: root, log: `${data}/log/${name}.log`, pulse: true })
    void start().then((child) => {
      this.take(child)
      this.revive(child, start)
    })
  }

  /** Runs one of Wexmar's own programs once. Out: whether it went well. */
  async once(
    name: string,
    file: string,
    words: readonly string[],
    env: Readonly<Record<string, string>>,
  ): Promise<boolean> {
    const { root, data, dist } = this.config
    const pulse = programFile(root, dist, 'pulse')
    const child = startChild(
      name,
      [process.execPath, '--import', 'tsx', '--import', pulse, `${root}/${file}`, ...words, markOf(data)],
      { env, cwd: root, log: `${data}/log/${name}.log`, pulse: true },
    )
    this.take(child)
    return (await child.gone) === 'exit code 0'
  }

  /** Starts the private database and keeps it running. Out: its address. */
  async keepDatabase(): Promise<string> {
    const { data, databasePort } = this.config
    const start = async () => {
      const server = await startDatabaseServer(data, databasePort, { begun: (child) => this.take(child) })
      if (this.pulse) this.pulse.unanswered = 0
      return server
    }
    const { url, child } = await start()
    this.revive(child, async () => (await start()).child)
    this.pulse = { db: openDatabase(url, { most: 1, patience: 4_000 }), unanswered: 0, asking: false }
    return url
  }

  /** Begins to look whether everything still moves. */
  look(): void {
    this.looking = setInterval(() => {
      for (const child of this.children) {
        if (child.isGone() || !['web', 'pilot', 'runner', 'bench'].includes(child.name)) continue
        if (!child.watch.look(mainThreadOf(child.pid))) continue
        this.say(`The ${child.name} process gives no sign of life; ending it.`)
        child.kill()
      }
      this.askDatabase()
    }, LOOK_MS)
    this.looking.unref()
  }

  private askDatabase(): void {
    const { pulse } = this
    if (!pulse) return
    if (++pulse.unanswered === MOST_UNANSWERED) {
      this.say('The database process gives no answer; ending it.')
      this.children.findLast((c) => c.name === 'database')?.kill()
    }
    if (pulse.asking) return
    pulse.asking = true
    void ping(pulse.db)
      .then(
        () => {
          pulse.unanswered = 0
        },
        // Counted above; whether it is dead or only slow is seen there.
        () => undefined,
      )
      .finally(() => {
        pulse.asking = false
      })
  }

  /** Watches a child, says so when it dies, and starts it again, more slowly the more often it dies, but always. */
  private revive(child: Child, again: () => Promise<Child>, deaths: number[] = []): void {
    void child.gone.then(async (how) => {
      let recent = deaths
      for (let cause = how; !this.stopping; ) {
        const now = performance.now()
        recent = [...recent, now].filter((at) => now - at < 60_000)
        const over = Math.max(0, recent.length - QUICK_DEATHS)
        const rest = Math.min(LONGEST_RESTART_MS, RESTART_MS * 2 ** over)
        this.say(
          `The ${child.name} process died (${cause}); starting it again${over ? ` in ${Math.round(rest / 1000)} s` : ''}.`,
        )
        await new Promise((resolve) => setTimeout(resolve, rest))
        if (this.stopping) return
        try {
          const next = await again()
          if (!this.children.includes(next)) this.take(next)
          this.say(`The ${child.name} process runs again.`)
          this.revive(next, again, recent)
          return
        } catch (error) {
          cause = (error as Error).message
        }
      }
    })
  }

  /** Has what remembers rows begin anew: the rows under it were replaced. */
  renew(): void {
    for (const child of this.children)
      if (!child.isGone() && ['web', 'pilot', 'runner'].includes(child.name)) void child.stop(3_000)
  }

  /** Ends every child in order, the database last. */
  async stop(): Promise<void> {
    this.stopping = true
    clearInterval(this.looking)
    const last = setTimeout(() => killAll(), 4_500)
    for (const name of ORDER)
      await Promise.all(
        this.children.filter((c) => c.name === name).map((c) => c.stop(name === 'database' ? 2_500 : 700)),
      )
    clearTimeout(last)
    await this.pulse?.db.sequelize.close()
    forgetProcesses(this.config.data)
  }
}
