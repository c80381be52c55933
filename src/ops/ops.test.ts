import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { type AddressInfo, createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { sourceDigest } from '#ops/build'
import { startChild } from '#ops/child'
import { readConfig } from '#ops/config'
import { endLeftovers, holderOf, markOf, rememberProcesses, supervisorOf } from '#ops/leftovers'
import { isFull, writeMemory } from '#ops/memory-file'
import { freePort, isPortFree } from '#ops/ports'

let folder: string
const kept = { ...process.env }
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'wexmar-ops-'))
})
afterEach(() => {
  rmSync(folder, { recursive: true, force: true })
  process.env = { ...kept }
})

describe('the configuration', () => {
  it('has the documented defaults', () => {
    for (const name of [
      'WEXMAR_PORT',
      'WEXMAR_DB_PORT',
      'WEXMAR_BENCH_PORT',
      'DATABASE_URL',
      'WEXMAR_BENCH_URL',
      'WEXMAR_DATA',
      'WEXMAR_ORIGIN',
    ])
      delete process.env[name]
    process.env.XDG_DATA_HOME = folder
    expect(readConfig()).toMatchObject({
      webPort: 4310,
      databasePort: 4311,
      benchPort: 4312,
      data: join(folder, 'wexmar'),
      databaseUrl: undefined,
      benchUrl: undefined,
    })
  })
  it('refuses ports that are none and data inside the checkout, with a sentence', () => {
    process.env.WEXMAR_DATA = folder
    for (const port of ['abc', '0', '70000', '1.5']) {
      process.env.WEXMAR_PORT = port
      expect(() => readConfig()).toThrow(`WEXMAR_PORT is “${port}”, which is not a port`)
    }
    delete process.env.WEXMAR_PORT
    process.env.WEXMAR_DATA = resolve('data')
    expect(() => readConfig()).toThrow(/inside the checkout/)
  })
})

describe('ports', () => {
  it('are free until something listens', async () => {
    const port = await freePort()
    expect(await isPortFree(port)).toBe(true)
    const server = createServer()
    await new Promise<void>((done) => server.listen(port, '127.0.0.1', done))
    expect(await isPortFree(port)).toBe(false)
    await new Promise((done) => server.close(done))
  })
})

describe('the digest of the sources', () => {
  const write = (name: string, text: string) => {
    mkdirSync(join(folder, 'src'), { recursive: true })
    writeFileSync(join(folder, name), text)
  }
  it('changes with a source, not with a test', () => {
    write('package-lock.json', '{}')
    write('src/a.ts', 'one')
    const first = sourceDigest(folder)
    expect(sourceDigest(folder)).toBe(first)
    write('src/a.test.ts', 'a test')
    expect(sourceDigest(folder)).toBe(first)
    write('src/a.ts', 'two')
    expect(sourceDigest(folder)).not.toBe(first)
  })
})

describe('children', () => {
  it('end when asked, and are killed where they do not listen', async () => {
    const log = join(folder, 'log', 'child.log')
    const deaf = startChild(
      'deaf',
      [
        process.execPath,
        '-e',
        "process.on('SIGTERM', () => {}); process.stdout.write('up'); setInterval(() => {}, 1e3)",
      ],
      { log },
    )
    // Asked before it listens it would simply end.
    while (!deaf.isGone() && !readFileSync(log, 'utf8').includes('up'))
      await new Promise((done) => setTimeout(done, 20))
    expect(deaf.isGone()).toBe(false)
    await deaf.stop(200)
    expect(deaf.isGone()).toBe(true)
    expect(await deaf.gone).toBe('SIGKILL')
  })
  it('that cannot be started are gone with the reason', async () => {
    const none = startChild('none', ['/nowhere/at-all'], { log: join(folder, 'log', 'none.log') })
    expect(await none.gone).toMatch(/ENOENT/)
  })
})

describe('a file that is only a memory', () => {
  it('that cannot be written takes nothing down, and is said once and once more when it can be', () => {
    const said: string[] = []
    const blocked = join(folder, 'blocked')
    writeFileSync(blocked, 'a file where a folder should be')
    const file = join(blocked, 'memory.json')
    for (let i = 0; i < 3; i++) expect(writeMemory(file, '{}', (line) => said.push(line))).toBe(false)
    expect(said).toHaveLength(1)
    expect(said[0]).toMatch(/could not be written .*Everything goes on\./)
    rmSync(blocked)
    mkdirSync(blocked)
    expect(writeMemory(file, '{"a":1}', (line) => said.push(line))).toBe(true)
    expect(readFileSync(file, 'utf8')).toBe('{"a":1}')
    expect(said[1]).toMatch(/can be written again/)
  })
  it('is named as what it is where the disk is full', () => {
    expect(isFull(Object.assign(new Error(), { code: 'ENOSPC' }))).toBe(true)
    expect(isFull(new Error('no'))).toBe(false)
  })
})

describe('what holds a port', () => {
  it('is named by its number and its command', async () => {
    const server = createServer()
    await new Promise<void>((done) => server.listen(0, '127.0.0.1', done))
    const { port } = server.address() as AddressInfo
    expect(holderOf(port)).toMatch(new RegExp(`^process ${process.pid} \\(.*node`))
    await new Promise((done) => server.close(done))
    expect(holderOf(port)).toBeUndefined()
  })
})

describe('what an earlier start left behind', () => {
  it('is nothing where there was none, or where the list is torn', async () => {
    const said: string[] = []
    await endLeftovers(folder, (line) => said.push(line))
    writeFileSync(join(folder, 'processes.json'), '[12,')
    await endLeftovers(folder, (line) => said.push(line))
    expect(said).toEqual([])
  })
  it('is ended though nobody wrote it down: it carries the data folder in its command line', async () => {
    const start = (of: string) =>
      startChild(
        'left',
        [process.execPath, '-e', 'setInterval(() => {}, 1e3)', 'x', 'src/ops/pilot.ts', markOf(of)],
        { log: join(folder, 'l.log') },
      )
    const [ours, others] = [start(folder), start(`${folder}-other`)]
    const said: string[] = []
    // It has its command line only once it has begun.
    await expect.poll(() => readFileSync(`/proc/${ours.pid}/cmdline`, 'utf8')).toContain(folder)
    await endLeftovers(folder, (line) => said.push(line))
    expect(ours.isGone() || (await ours.gone)).toBeTruthy()
    expect(said).toEqual([`an earlier start left process ${ours.pid} behind; ending it`])
    expect(others.isGone()).toBe(false)
    await others.stop()
  })
  it('is no supervisor of another installation, whatever number is written down', async () => {
    const start = (of: string) =>
      startChild(
        'supervisor',
        [
          process.execPath,
          '-e',
          "require('fs').openSync(process.argv[1], 'w'); process.stdout.write('up'); setInterval(() => {}, 1e3)",
          join(of, 'running'),
          'src/ops/start.ts',
        ],
        { log: join(of, 's.log') },
      )
    const other = mkdtempSync(join(tmpdir(), 'wexmar-other-'))
    const theirs = start(other)
    await expect.poll(() => readFileSync(join(other, 's.log'), 'utf8')).toBe('up')
    rememberProcesses(folder, [theirs.pid])
    expect(supervisorOf(other)).toBe(theirs.pid)
    expect(supervisorOf(folder)).toBeUndefined()
    await endLeftovers(folder, () => undefined)
    expect(theirs.isGone()).toBe(false)
    await expect(endLeftovers(other, () => undefined)).rejects.toThrow(/already running .*process/)
    await theirs.stop()
    expect(supervisorOf(other)).toBeUndefined()
    rmSync(other, { recursive: true })
  })
  it('is ended only where it is ours: a number may belong to something else by now', async () => {
    const stranger = startChild('stranger', [process.execPath, '-e', 'setInterval(() => {}, 1e3)'], {
      log: join(folder, 'log', 's.log'),
    })
    rememberProcesses(folder, [999_999, stranger.pid])
    await endLeftovers(folder, () => undefined)
    expect(stranger.isGone()).toBe(false)
    await stranger.stop()
  })
})
