import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { gunzipSync, gzipSync } from 'node:zlib'
import { QueryTypes } from 'sequelize'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { runnerLoop } from '#bench/runner'
import {
  backUp,
  checkBackup,
  type Database,
  finishReplacing,
  MIGRATION_NAMES,
  migrate,
  openDatabase,
  restore,
} from '#db'
import { isDailyDue, keepBackup } from '#ops/backups'
import { heavy } from '#server/background'
import type { Context } from '#server/base'
import { copyPolicy } from '#server/equipment'
import { carryOut } from '#server/session'
import { beginOn, freshDatabase, startBench, until } from '#tests/environment'

let db: Database
let bench: Awaited<ReturnType<typeof startBench>>
let ctx: Context
let folder: string
const url = () => process.env.WEXMAR_TEST_DATABASE!
const otherUrl = () => `${url()}_backup`
const file = (name: string) => join(folder, name)
/** Backs up what a restore replaced. */
const keep = async (replaced: string) => void (await backUp(replaced, file('replaced'), '0.0.0'))

/** Definition and rows of every table. */
const contents = async (of: Database) => {
  const names = (await of.sequelize.query('SHOW TABLES', { type: QueryTypes.SELECT })).map(
    (row) => Object.values(row)[0] as string,
  )
  const out: Record<string, unknown> = {}
  for (const name of names) {
    const [made] = await of.sequelize.query<Record<string, string>>(`SHOW CREATE TABLE \`${name}\``, {
      type: QueryTypes.SELECT,
    })
    const [, key] = /PRIMARY KEY \(([^)]+)\)/.exec(made!['Create Table']!) ?? []
    out[name] = {
      made: made!['Create Table'],
      rows: await of.sequelize.query(`SELECT * FROM \`${name}\` ORDER BY ${key}`, {
        type: QueryTypes.SELECT,
      }),
    }
  }
  return out
}

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'wexmar-backup-'))
  db = await freshDatabase()
  bench = await startBench()
  ctx = { db, bench: bench.client }
  const session = await beginOn(ctx)
  const leave = new AbortController()
  const runner = runnerLoop(db, leave.signal)
  const { revision } = (await heavy.sessionView(ctx, session))!
  await carryOut(ctx, session, { type: 'go', revision })
  await until(async () => (await db.readings.count()) > 3, 'a few readings are there')
  leave.abort()
  await runner
  await copyPolicy(ctx, 'impact')
  // A model that has no unit, text with everything in it, and a number with all its digits.
  await db.models.create({ maker: 'M', name: 'without a unit', slug: 'm', panelKind: 'projector' })
  await db.units.update({ origin: "it's “ours” \\ \n\u0000 \u{1F4FA}", hours: 1 / 3 }, { where: {} })
})
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true })
  await bench.stop()
  await db.sequelize.close()
})

describe('a backup', () => {
  it('brought back into an empty database gives equal tables', async () => {
    const made = await backUp(url(), file('one'), '0.0.0')
    expect(made.rows).toBeGreaterThan(20)
    expect(await checkBackup(file('one'))).toEqual(made)
    const other = await freshDatabase(otherUrl())
    try {
      await restore(otherUrl(), file('one'))
      expect(await contents(other)).toEqual(await contents(db))
      // A second time it is not empty any more.
      await expect(restore(otherUrl(), file('one'))).rejects.toThrow(/not empty\. Nothing was changed/)
      await other.policies.destroy({ where: {} })
      await restore(otherUrl(), file('one'), keep)
      expect(await contents(other)).toEqual(await contents(db))
    } finally {
      await other.sequelize.close()
    }
  })

  it('is of one moment, though readings come in meanwhile', async () => {
    const before = await db.policies.count()
    const backups = Promise.all([1, 2, 3].map((n) => backUp(url(), file(`busy-${n}`), '0.0.0')))
    for (let i = 0; i < 20; i++) await copyPolicy(ctx, 'impact')
    for (const { rows } of await backups) expect(rows).toBeGreaterThan(20)
    expect(await db.policies.count()).toBe(before + 20)
  })

  it('put in the place of what is used meanwhile loses nothing that was stored', async () => {
    const other = await freshDatabase(otherUrl())
    try {
      await restore(otherUrl(), file('one'), keep)
      const unit = (await other.units.findOne())!
      const stored: string[] = []
      let goes = true
      const writers = [1, 2, 3].map(async (writer) => {
        for (let n = 0; goes; n++) {
          const body = `note ${writer}-${n}`
          try {
            await other.notes.create({ unitId: unit.id, text: body, sessionId: null, step: null })
            stored.push(body)
            await new Promise((resolve) => setTimeout(resolve, 2))
          } catch (error) {
            // What is refused while tables change places was not acknowledged.
            expect(String(error)).toMatch(/Table|Sequelize/)
            await new Promise((resolve) => setTimeout(resolve, 2))
          }
        }
      })
      await until(async () => stored.length > 20, 'notes are being stored')
      await restore(otherUrl(), file('one'), keep)
      const atTheEnd = stored.length
      await until(async () => stored.length > atTheEnd + 20, 'notes go on being stored')
      goes = false
      await Promise.all(writers)
      const now = new Set((await other.notes.findAll()).map((n) => n.text))
      const backedUp = gunzipSync(readFileSync(file('replaced'))).toString('utf8')
      expect(stored.filter((body) => !now.has(body) && !backedUp.includes(`"${body}"`))).toEqual([])
      // Written into the old tables after the new ones were made, and there all the same.
      expect(backedUp).toContain('"note 1-')
    } finally {
      await other.sequelize.close()
    }
  })

  it('whose predecessor could not be kept leaves it beside, for the next start', async () => {
    const other = await freshDatabase(otherUrl())
    try {
      await restore(otherUrl(), file('one'), keep)
      await other.units.update({ origin: 'before it was replaced' }, { where: {} })
      const full = async () => {
        throw new Error('The disk is full')
      }
      await expect(restore(otherUrl(), file('one'), full)).rejects.toThrow('The disk is full')
      await expect(finishReplacing(otherUrl(), full)).rejects.toThrow('The disk is full')
      rmSync(file('replaced'))
      expect(await finishReplacing(otherUrl(), keep)).toBe(true)
      expect(gunzipSync(readFileSync(file('replaced'))).toString('utf8')).toContain('before it was replaced')
      expect(await finishReplacing(otherUrl(), keep)).toBe(false)
    } finally {
      await other.sequelize.close()
    }
  })

  it('that was just made is never removed, whatever times the others carry', async () => {
    const data = join(folder, 'data')
    const now = new Date('2026-05-01T12:00:00Z')
    mkdirSync(join(data, 'backups'), { recursive: true })
    for (let day = 10; day < 20; day++)
      for (const kind of ['daily', 'before-restore'])
        writeFileSync(join(data, 'backups', `${kind}-2027-01-${day}T120000Z.wexmar-backup`), 'ahead')
    expect(isDailyDue(data, +now)).toBe(true)
    const made: string[] = []
    for (let day = 0; day < 3; day++) {
      const at = new Date(+now + day * 24.5 * 3600 * 1000)
      made.push((await keepBackup(data, url(), 'daily', '0.0.0', at)).file)
      made.push((await keepBackup(data, url(), 'before-restore', '0.0.0', at)).file)
      for (const file of made) expect(existsSync(file), file).toBe(true)
      expect(isDailyDue(data, +at + 600_000)).toBe(false)
    }
    const once = await keepBackup(data, url(), 'before-restore', '0.0.0', now)
    const again = await keepBackup(data, url(), 'before-restore', '0.0.0', now)
    expect(again.file).not.toBe(once.file)
    expect(readdirSync(join(data, 'backups')).filter((f) => f.startsWith('daily'))).toHaveLength(7)
  })

  it('of an earlier version is brought up to this one', async () => {
    const other = openDatabase(otherUrl(), { patience: 0 })
    try {
      await db.sequelize.query(`DROP DATABASE IF EXISTS ${new URL(otherUrl()).pathname.slice(1)}`)
      await db.sequelize.query(`CREATE DATABASE ${new URL(otherUrl()).pathname.slice(1)}`)
      await migrate(other, { until: '0001-first-tables' })
      await other.sequelize.query("INSERT INTO settings VALUES ('theme', 'dark')")
      // Some of its tables have other names by now: they are none the less its own.
      await other.sequelize.query("INSERT INTO models VALUES (1, 'M', 'N', 'm-n', 'projector')")
      await other.sequelize.query('INSERT INTO variants VALUES (1, 1, 55, "Europe")')
      await other.sequelize.query(
        "INSERT INTO units (id, variant_id, label, serial, origin, created_at) VALUES (1, 1, 'unit 1', 'S', '', NOW(3))",
      )
      await other.sequelize.query("INSERT INTO firmwares VALUES (1, 1, '1.0')")
      await other.sequelize.query('INSERT INTO control_sheets VALUES (1, 1, 1, \'{"controls":[]}\')')
      await other.sequelize.query("INSERT INTO benches (id, url, name) VALUES (1, 'http://127.0.0.1:1', 'b')")
      await other.sequelize.query("INSERT INTO states VALUES (1, 1, 1, 'd', '{}')")
      await other.sequelize.query(
        `INSERT INTO sessions (id, unit_id, firmware_id, sheet_id, bench_id, viewing_case, base_mode, target_luminance,
           target_x, target_y, tone, state_id, prepared, left_stations, revision, created_at, updated_at)
         VALUES (1, 1, 1, 1, 1, 'sdr-dark', 'film', 100, 0.31, 0.33, '2.2', 1, 1, '{}', 1, NOW(3), NOW(3))`,
      )
      await other.sequelize.query(
        "INSERT INTO runs (id, session_id, bench_id, purpose, status, reason, created_at) VALUES (1, 1, 1, 'move', 'done', '', NOW(3))",
      )
      await other.sequelize.query(
        "INSERT INTO moves (id, session_id, run_id, kind, station, changes, purpose, predictions, created_at) VALUES (1, 1, 1, 'by-hand', 'white', '[]', 'why', '[]', NOW(3))",
      )
      await backUp(otherUrl(), file('old'), '0.1.0')
      await restore(otherUrl(), file('old'), keep)
      expect(await other.settings.findAll({ raw: true })).toEqual([{ name: 'theme', value: 'dark' }])
      expect((await checkBackup(file('old'))).migrations).toEqual(MIGRATION_NAMES.slice(0, 1))
      expect((await other.adjustments.findOne())?.purpose).toBe('why')
      expect(await migrate(other)).toEqual([])
    } finally {
      await other.sequelize.close()
    }
  })

  it('that is damaged, newer or something else is refused before anything is touched', async () => {
    const good = readFileSync(file('one'))
    const lines = gunzipSync(good).toString('utf8').trimEnd().split('\n')
    const header = JSON.parse(lines[0]!) as { migrations: string[]; format: string }
    const packed = (text: string[]) => gzipSync(`${text.join('\n')}\n`)
    const cases: Array<[string, Buffer, RegExp]> = [
      ['cut', good.subarray(0, good.length - 30), /is damaged/],
      ['flipped', Buffer.from(good).fill(7, good.length >> 1, (good.length >> 1) + 3), /is damaged/],
      ['other', gzipSync('hello\n'), /is damaged|is no backup/],
      ['text', Buffer.from('hello'), /is damaged/],
      ['short', packed(lines.slice(0, -1)), /is damaged: it is cut off/],
      ['row gone', packed(lines.filter((_, i) => i !== 3)), /is damaged/],
      [
        'changed',
        packed(lines.map((l) => l.replace('without a unit', 'without a unit!'))),
        /check sum is wrong/,
      ],
      [
        'newer',
        packed([
          JSON.stringify({ ...header, migrations: [...header.migrations, '0999-of-tomorrow'] }),
          ...lines.slice(1),
        ]),
        /made by a newer version/,
      ],
      [
        'newer format',
        packed([JSON.stringify({ ...header, format: 'wexmar-backup/2' }), ...lines.slice(1)]),
        /newer version/,
      ],
      [
        'other tables',
        packed([
          JSON.stringify({ ...header, tables: [{ name: 'x`; DROP', columns: [] }] }),
          ...lines.slice(1),
        ]),
        /is no backup/,
      ],
    ]
    const before = await contents(db)
    for (const [name, bytes, sentence] of cases) {
      writeFileSync(file('bad'), bytes)
      await expect(restore(url(), file('bad'), keep), name).rejects.toThrow(sentence)
    }
    await expect(restore(url(), file('nowhere'), keep)).rejects.toThrow(/There is no file/)
    expect(await contents(db)).toEqual(before)
  })

  it('that is refused at its first line and damaged further on ends no process', async () => {
    const header = { format: 'wexmar-backup/2', version: '9', migrations: [], tables: [] }
    const faults: Error[] = []
    const heard = (error: Error) => void faults.push(error)
    process.on('uncaughtException', heard)
    try {
      // From what is unpacked at once to what takes several pieces.
      for (let rows = 0; rows <= 20_000; rows += 1_000) {
        const bytes = gzipSync(`${JSON.stringify(header)}\n${'row\n'.repeat(rows)}`)
        bytes.fill(7, bytes.length - 8)
        writeFileSync(file('twice'), bytes)
        await expect(checkBackup(file('twice'))).rejects.toThrow(/newer version|is damaged/)
      }
      // What is still under way would be heard by now.
      await checkBackup(file('one'))
    } finally {
      process.off('uncaughtException', heard)
    }
    expect(faults).toEqual([])
  })
})
