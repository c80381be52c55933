import { spawnSync } from 'node:child_process'
import { existsSync, readdirSync, readFileSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import { join } from 'node:path'
import { expect, test } from '@playwright/test'
import { type Database, openDatabase } from '#db'
import { databaseUrlOf } from '#ops/database-server'
import { startSession, takeIn } from '#server/unit'
import { removeScratch, scratchEnvironment, spawnDemo, startDemo } from '#tests/demo'
import { startBench, UNIT_1 } from '#tests/environment'

const CHILDREN = ['mariadbd', 'simulated/main', 'runner/main', 'ops/pilot', 'ops/web']
type Env = Readonly<Record<string, string>>

/** Does something with the database of a demo that runs. */
const inDatabase = async <T>(env: Env, work: (db: Database) => Promise<T>): Promise<T> => {
  const db = openDatabase(databaseUrlOf(env.WEXMAR_DATA!, Number(env.WEXMAR_DB_PORT)))
  try {
    return await work(db)
  } finally {
    await db.sequelize.close()
  }
}

/** Processes whose command line holds a text. */
const processesWith = (text: string): number[] =>
  readdirSync('/proc').flatMap((name) => {
    if (!/^\d+$/.test(name)) return []
    try {
      return readFileSync(`/proc/${name}/cmdline`, 'utf8').includes(text) ? [Number(name)] : []
    } catch {
      // It ended between two looks.
      return []
    }
  })

const bin = (name: string, words: readonly string[], env: Env) => {
  const { status, stdout, stderr } = spawnSync(join(process.cwd(), 'bin', name), [...words], {
    env: { ...process.env, ...env },
    encoding: 'utf8',
  })
  return { status, text: stdout + stderr }
}

test('bin/demo says in one line what is in its way, and leaves nothing running', async () => {
  const env = await scratchEnvironment()
  const port = Number(env.WEXMAR_PORT)
  const squatter = createServer()
  await new Promise<void>((done) => squatter.listen(port, '127.0.0.1', done))
  const taken = spawnDemo(env)
  expect(await taken.ended).toBe(1)
  expect(taken.output()).toContain(
    `Port ${port} for the web application is taken by process ${process.pid} (`,
  )
  await new Promise((done) => squatter.close(done))

  const inside = spawnDemo({ ...env, WEXMAR_DATA: `${process.cwd()}/data` })
  expect(await inside.ended).toBe(1)
  expect(inside.output()).toMatch(/inside the checkout\. Set it to a folder elsewhere/)

  const wrong = spawnDemo(env, ['--rest'])
  expect(await wrong.ended).toBe(1)
  expect(wrong.output()).toContain('bin/demo knows --reset and --yes, not --rest.')
  const origin = spawnDemo({ ...env, WEXMAR_ORIGIN: 'here' })
  expect(await origin.ended).toBe(1)
  expect(origin.output()).toContain('WEXMAR_ORIGIN holds “here”, which is not an origin.')
  const unasked = spawnDemo(env, ['--reset'])
  expect(await unasked.ended).toBe(1)
  expect(unasked.output()).toMatch(/A backup is made first\. In a script, say so: bin\/demo --reset --yes/)
  expect(processesWith(env.WEXMAR_DATA!)).toEqual([])
  removeScratch(env)
})

test('a start that is killed while the database starts, or while demo data is made, is gone on with; what a person entered stays', async () => {
  const env = await scratchEnvironment()
  const data = env.WEXMAR_DATA!
  const first = spawnDemo(env)
  await expect
    .poll(() => processesWith(`--datadir=${data}/database\0`).length, { intervals: [5] })
    .toBeGreaterThan(0)
  first.child.kill('SIGKILL')
  await first.ended
  // Its own socket and temporary files lie with its data.
  expect(readFileSync(`/proc/${processesWith(`--datadir=${data}/database\0`)[0]}/cmdline`, 'utf8')).toContain(
    `--tmpdir=${data}/tmp`,
  )

  const second = spawnDemo(env)
  await expect
    .poll(() => second.output(), { timeout: 300_000 })
    .toContain('Demo data are being made in the background')
  expect(second.output()).toMatch(/left process \d+ behind; ending it/)
  await expect
    .poll(() => inDatabase(env, (db) => db.readings.count()), { timeout: 60_000 })
    .toBeGreaterThan(30)
  second.child.kill('SIGINT')
  await second.ended
  expect(processesWith(data)).toEqual([])

  const bench = await startBench()
  let unit = 0
  try {
    const own = await startDemo({ ...env, WEXMAR_BENCH_URL: bench.url })
    await inDatabase(env, async (db) => {
      // One that the demo has not come to.
      await bench.client.simulate({ onStand: 'OM55-44902', speed: 0 })
      const taken = await takeIn({ db, bench: bench.client }, { ...UNIT_1, label: 'my own', origin: 'mine' })
      if (!taken.ok) throw new Error(taken.error)
      unit = taken.value
      const begun = await startSession({ db, bench: bench.client }, unit, {
        viewingCase: 'sdr-bright',
        baseMode: 'studio',
      })
      expect(begun.ok).toBe(true)
    })
    await own.stop()
  } finally {
    await bench.stop()
  }

  const last = await startDemo(env)
  expect(last.output()).toContain('behind the application where it was cut off')
  await inDatabase(env, async (db) => {
    expect(await db.units.findByPk(unit)).toMatchObject({ label: 'my own', origin: 'mine' })
    expect(await db.sessions.count({ where: { unitId: unit, viewingCase: 'sdr-bright' } })).toBe(1)
    expect(await db.sessions.count()).toBe(2)
    expect(await db.guideRevisions.count()).toBe(1)
    // No reading was taken twice for having been cut off.
    expect(await db.sessions.count({ where: { viewingCase: 'sdr-dark' } })).toBe(1)
  })

  // A backup while it runs, brought back in the place of what became of it.
  const file = join(data, 'kept')
  expect(bin('backup', [file], env)).toMatchObject({ status: 0 })
  await inDatabase(env, async (db) => db.units.update({ label: 'changed' }, { where: { id: unit } }))
  const refused = bin('restore', [file], env)
  expect(refused.status).toBe(1)
  expect(refused.text).toMatch(/The database is not empty\. Nothing was changed\./)
  const restored = bin('restore', [file, '--replace'], env)
  expect(restored.text).toMatch(/What it replaced is backed up: .*before-restore-.*\nRestored\./)
  await inDatabase(env, async (db) => expect((await db.units.findByPk(unit))!.label).toBe('my own'))
  await expect.poll(() => last.output()).toContain('The web process runs again.')
  expect(bin('restore', [join(data, 'nowhere')], env).text).toMatch(
    /There is no file .*Nothing was changed\./,
  )
  await last.stop()

  // And where nothing runs: the database is started for as long as it takes.
  expect(bin('backup', [`${file}-2`], env)).toMatchObject({ status: 0 })
  expect(existsSync(`${file}-2`)).toBe(true)
  expect(processesWith(data)).toEqual([])

  const reset = spawnDemo(env, ['--reset', '--yes'])
  await expect.poll(() => reset.output(), { timeout: 120_000 }).toContain('Tables: 0001')
  expect(reset.output()).toMatch(/what was there is backed up: .*before-reset-/)
  reset.child.kill('SIGTERM')
  await reset.ended
  removeScratch(env)
})

test('a start that was killed is tidied up by the next, which keeps the data; what hangs is started again; Ctrl-C ends all', async () => {
  const env = await scratchEnvironment()
  const first = await startDemo(env)
  const database = first.pidOf('mariadbd')
  const before = CHILDREN.map((part) => first.pidOf(part)!)
  // Not even the list of processes is needed for it.
  rmSync(join(env.WEXMAR_DATA!, 'processes.json'))
  first.process.kill('SIGKILL')
  await expect.poll(() => first.process.killed).toBe(true)
  const second = await startDemo(env)
  expect(second.output()).toContain(`left process ${database} behind; ending it`)
  expect(second.output()).toContain('Demo data: there')
  for (const pid of before) expect(() => process.kill(pid, 0)).toThrow()
  const guides = await (await fetch(`${second.address}/guides`)).text()
  expect(guides).toContain('Ostrel Maren 55 settings')
  const again = spawnDemo(env)
  expect(await again.ended).toBe(1)
  expect(again.output()).toMatch(/already running with this WEXMAR_DATA/)

  const children = CHILDREN.map((part) => second.pidOf(part)!)
  process.kill(second.pidOf('runner/main')!, 'SIGKILL')
  await expect.poll(() => second.output()).toContain('The runner process runs again.')
  process.kill(second.pidOf('ops/web')!, 'SIGSTOP')
  await expect.poll(() => second.output()).toContain('The web process gives no sign of life; ending it.')
  await expect.poll(() => second.output()).toContain('The web process runs again.')
  await expect
    .poll(async () => (await fetch(`${second.address}/api/health`).catch(() => undefined))?.status)
    .toBe(200)
  await second.stop()
  for (const pid of children) expect(() => process.kill(pid, 0)).toThrow()
  removeScratch(env)
})
