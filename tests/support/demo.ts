import { type ChildProcess, spawn } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync, rmSync, statfsSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { type BenchClient, benchClient } from '#bench/client'
import { freePort } from '#ops/ports'

/** A demo of the tests' own: real database, bench, runner and built application on free ports. */
export interface Demo {
  readonly address: string
  readonly benchUrl: string
  readonly data: string
  readonly env: Readonly<Record<string, string>>
  /** Everything it has printed so far. */
  readonly output: () => string
  readonly process: ChildProcess
  /** Process number of one of its children, by a part of its command line. */
  readonly pidOf: (part: string) => number | undefined
  /** Ends it as Ctrl-C would. Out: milliseconds until it was gone. */
  readonly stop: () => Promise<number>
}

const root = resolve(import.meta.dirname, '../..')

/** Environment of a demo on free ports with data of its own. */
export const scratchEnvironment = async (): Promise<Record<string, string>> => ({
  WEXMAR_DATA: mkdtempSync(join(tmpdir(), 'wexmar-demo-')),
  WEXMAR_PORT: String(await freePort()),
  WEXMAR_DB_PORT: String(await freePort()),
  WEXMAR_BENCH_PORT: String(await freePort()),
  WEXMAR_DIST: '.next-test',
  WEXMAR_BENCH_SPEED: '12',
  WEXMAR_DEMO: 'short',
})

/** The same, with all of the demo data. */
export const wholeDemo = async (): Promise<Record<string, string>> => ({
  ...(await scratchEnvironment()),
  WEXMAR_DEMO: 'whole',
})

/** Room left on the disk, and the last lines that the processes of a demo printed, for a test that failed. In: its data folder. */
export const lastLines = (data: string, count = 15): string =>
  [
    `${existsSync(data) ? Math.round((statfsSync(data).bavail * statfsSync(data).bsize) / 1e6) : '?'} MB free`,
    ...['web', 'runner', 'pilot', 'bench', 'database']
      .map((name) => join(data, 'log', `${name}.log`))
      .filter((file) => existsSync(file))
      .map((file) => `${file}\n${readFileSync(file, 'utf8').split('\n').slice(-count).join('\n')}`),
  ].join('\n')

/** Starts `bin/demo`, or another of its kind. In: environment, words after it. Out: the process and what it prints. */
export const spawnDemo = (
  env: Readonly<Record<string, string>>,
  words: readonly string[] = [],
  program: 'demo' | 'start' = 'demo',
) => {
  let text = ''
  const child = spawn(join(root, 'bin', program), [...words], {
    env: { ...process.env, ...env },
    stdio: ['ignore', 'pipe', 'pipe'],
    detached: true,
  })
  const hear = (chunk: Buffer) => {
    text += chunk.toString('utf8')
  }
  child.stdout.on('data', hear)
  child.stderr.on('data', hear)
  const ended = new Promise<number>((done) => child.once('exit', (code) => done(code ?? -1)))
  return { child, output: () => text, ended }
}

/** Whether the demo data that a start is making behind the application are complete. In: what it printed. */
export const dataDone = (output: string): boolean =>
  !output.includes('Demo data are being made') || output.includes('Demo data: complete')

/**
 * Starts a demo and waits until its first page can be asked for and, but where the test is about that, its demo data are complete. Errors: throws with all that
 * it printed.
 */
export const startDemo = async (
  env: Readonly<Record<string, string>>,
  program: 'demo' | 'start' = 'demo',
  whole = true,
): Promise<Demo> => {
  const { child, output, ended } = spawnDemo(env, [], program)
  let over = false
  void ended.then(() => {
    over = true
  })
  const isThere = () => output().includes('Wexmar is at') && (!whole || dataDone(output()))
  for (const end = Date.now() + 900_000; !isThere(); ) {
    if (over || Date.now() > end || output().includes('could not be completed'))
      throw new Error(`bin/${program} did not start:\n${output()}`)
    await new Promise((done) => setTimeout(done, 50))
  }
  const data = env.WEXMAR_DATA ?? ''
  return {
    address: `http://127.0.0.1:${env.WEXMAR_PORT}`,
    benchUrl: `http://127.0.0.1:${env.WEXMAR_BENCH_PORT}`,
    data,
    env,
    output,
    process: child,
    pidOf: (part) =>
      (JSON.parse(readFileSync(join(data, 'processes.json'), 'utf8')) as number[]).find((pid) =>
        commandOf(pid).includes(part),
      ),
    stop: async () => {
      const begin = Date.now()
      child.kill('SIGTERM')
      await ended
      return Date.now() - begin
    },
  }
}

/** The simulated bench of a demo, with the token that it asks for. */
export const demoBench = (url: string, data: string): BenchClient =>
  benchClient(url, readFileSync(join(data, 'secrets', 'bench-token'), 'utf8').trim())

/** Removes what a scratch demo left on the disk. */
export const removeScratch = (env: Readonly<Record<string, string>>): void =>
  rmSync(env.WEXMAR_DATA ?? '', { recursive: true, force: true })

const commandOf = (pid: number): string => {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' ')
  } catch (error) {
    // Gone since the list was written.
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return ''
    throw error
  }
}
