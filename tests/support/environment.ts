import { mkdtempSync, rmSync } from 'node:fs'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { benchClient } from '#bench/client'
import { benchServer, makeBench, SHELF } from '#bench/simulated'
import type { Intake } from '#core/entry'
import { type Database, dropAllTables, migrate, openDatabase } from '#db'
import { startDatabaseServer } from '#ops/database-server'
import { freePort } from '#ops/ports'
import type { Context } from '#server/base'
import { carryOut } from '#server/session'
import { startSession, takeIn } from '#server/unit'

/** A database server of its own, in a folder that goes with it. */
export const startScratchDatabase = async () => {
  const data = mkdtempSync(join(tmpdir(), 'wexmar-test-'))
  const server = await startDatabaseServer(data, await freePort())
  return {
    url: server.url,
    stop: async () => {
      await server.child.stop()
      rmSync(data, { recursive: true, force: true })
    },
  }
}

/** An empty database with tables, in the server that the tests share. In: its address, where it is not the usual one. */
export const freshDatabase = async (url = process.env.WEXMAR_TEST_DATABASE): Promise<Database> => {
  if (!url) throw new Error('The tests were started without their database')
  const usual = openDatabase(process.env.WEXMAR_TEST_DATABASE ?? url)
  await usual.sequelize.query(`CREATE DATABASE IF NOT EXISTS \`${new URL(url).pathname.slice(1)}\``)
  await usual.sequelize.close()
  const db = openDatabase(url)
  await dropAllTables(db)
  await migrate(db)
  return db
}

/** A simulated bench in this process, on a port of its own, as fast as it goes. In: port to take, 0 for any. */
export const startBench = async (port = 0) => {
  const bench = makeBench({
    shelf: SHELF,
    seed: 7,
    speed: 0,
    sleep: async () => undefined,
    keep: () => undefined,
  })
  const server = benchServer(bench)
  await new Promise<void>((resolve) => server.listen(port, '127.0.0.1', resolve))
  const url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
  return {
    bench,
    url,
    client: benchClient(url),
    stop: () =>
      new Promise<void>((resolve) => {
        server.close(() => resolve())
        server.closeAllConnections()
      }),
    /** Listens again on the same port after `stop`. */
    again: () =>
      new Promise<void>((resolve) => {
        server.listen(Number(new URL(url).port), '127.0.0.1', () => resolve())
      }),
  }
}

/**
 * Takes in the unit on the bench and begins SDR, dark room on it, the feed taken on trust unless it is to be checked. Out:
 * id of the session.
 */
export const beginOn = async (ctx: Context, checkFeed = false): Promise<number> => {
  const unit = await takeIn(ctx, UNIT_1)
  if (!unit.ok) throw new Error(unit.error)
  const begun = await startSession(ctx, unit.value, {
    viewingCase: 'sdr-dark',
    baseMode: 'studio',
    luminance: 100,
  })
  if (!begun.ok) throw new Error(begun.error)
  if (!checkFeed) {
    const left = await carryOut(ctx, begun.value, { type: 'leave', step: 'signal', reason: 'known feed' })
    if (!left.ok) throw new Error(left.error)
  }
  return begun.value
}
export const UNIT_1: Intake = {
  label: 'unit 1',
  region: 'Europe',
  origin: 'bought',
  panelKind: 'lcd-full-array',
}

/** Waits until something holds. In: question, what it is in words, patience in ms. Errors: throws when it never holds. */
export const until = async <T>(
  ask: () => Promise<T | undefined | false>,
  what: string,
  patience = 90_000,
): Promise<T> => {
  for (const end = Date.now() + patience; Date.now() < end; ) {
    const answer = await ask()
    if (answer) return answer
    await new Promise((resolve) => setTimeout(resolve, 20))
  }
  throw new Error(`Waited in vain until ${what}`)
}
