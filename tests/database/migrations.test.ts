import { QueryTypes } from 'sequelize'
import { afterEach, describe, expect, it } from 'vitest'
import { type Database, dropAllTables, MIGRATION_NAMES, migrate, openDatabase } from '#db'

let db: Database
const open = async () => {
  db = openDatabase(process.env.WEXMAR_TEST_DATABASE!, { patience: 0 })
  await dropAllTables(db)
  return db
}
afterEach(() => db.sequelize.close())

const SHEET = JSON.stringify({
  format: 'wexmar-control-sheet/1',
  controls: [
    { key: 'backlight', role: 'peak-luminance', memory: 'display' },
    { key: 'gain-red', role: 'gain', memory: 'mode' },
    { key: 'black', role: 'black-level', memory: 'mode' },
    { key: 'gamut', role: 'gamut', memory: 'mode' },
    { key: 'hue', role: 'hue', memory: 'mode' },
  ],
})
const T = "'2026-01-02 03:04:05.678'"

/** What a bench left in a database of each version: rows that later versions change the shape of, and all that hangs on them. */
const DATA: Readonly<Record<string, readonly string[]>> = {
  '0001-first-tables': [
    "INSERT INTO models VALUES (1, 'Maker', 'Model', 'maker-model', 'lcd-full-array')",
    "INSERT INTO variants VALUES (1, 1, 55, 'Europe')",
    `INSERT INTO units (id, variant_id, label, serial, origin, created_at) VALUES (1, 1, 'unit 1', 'S1', 'bought', ${T})`,
    "INSERT INTO firmwares VALUES (1, 1, '1.0')",
    `INSERT INTO control_sheets VALUES (1, 1, 1, '${SHEET}')`,
    "INSERT INTO benches (id, url, name) VALUES (1, 'http://127.0.0.1:1', 'bench')",
    "INSERT INTO states VALUES (1, 1, 1, 'd', '{}'), (2, 1, 1, 'e', '{}')",
    `INSERT INTO sessions (id, unit_id, firmware_id, sheet_id, bench_id, viewing_case, base_mode, target_luminance, target_x,
       target_y, tone, state_id, prepared, left_stations, revision, created_at, updated_at)
     VALUES (1, 1, 1, 1, 1, 'sdr-dark', 'film', 100, 0.3127, 0.329, 'bt1886', 1, 1, '{"luminance":"in use"}', 9, ${T}, ${T}),
            (2, 1, 1, 1, 1, 'sdr-bright', 'film', 200, 0.3127, 0.329, '2.2', 1, 1, '{}', 3, ${T}, ${T})`,
    `INSERT INTO runs (id, session_id, bench_id, purpose, status, reason, meter, created_at) VALUES
       (1, 1, 1, 'factory', 'done', '', '{"maker":"M","model":"P","serial":"7"}', ${T}), (2, 2, 1, 'move', 'queued', '', NULL, ${T})`,
    `INSERT INTO run_steps (run_id, ordinal, kind, control, value, patch, outcome, finished_at) VALUES
       (1, 0, 'reset', NULL, NULL, NULL, 'done', ${T}), (1, 1, 'read', NULL, NULL, '{"key":"grey-100"}', 'done', ${T}),
       (2, 0, 'set', 'gain-red', '3', NULL, NULL, NULL)`,
    `INSERT INTO readings (id, run_id, step, attempt, state_id, patch_key, patch, x, y, z, duration, bench_seconds, \`signal\`, taken_at)
     VALUES (1, 1, 1, 0, 1, 'grey-100', '{"key":"grey-100"}', 95, 100, 108, 1, 1, '{}', ${T})`,
    `INSERT INTO moves (id, session_id, run_id, kind, station, changes, purpose, predictions, created_at)
     VALUES (1, 2, 2, 'proposed', 'luminance', '[]', 'why', '[]', ${T})`,
    "INSERT INTO derived_values VALUES (1, 1, 1, 'backlight', '30', 'luminance', 'because')",
    'INSERT INTO derived_value_readings VALUES (1, 1)',
    "INSERT INTO guides (id, model_id, slug) VALUES (1, 1, 'maker-model')",
    `INSERT INTO guide_revisions VALUES (1, 1, 1, 1, 'published', '{"title":"Maker Model","summary":"so"}', ${T}, ${T}),
       (2, 1, 1, 2, 'draft', '{"title":"Other","summary":"yet"}', ${T}, NULL)`,
    "INSERT INTO guide_values VALUES (1, 1, 'backlight', '30', 'start-here', 1)",
    "INSERT INTO settings VALUES ('theme', 'dark')",
  ],
  '0002-bench-to-trust': [
    `INSERT INTO meter_corrections VALUES (1, 'one', 'M P 7', 'spectro', 'lcd-full-array', 1, '[]', '[]', ${T})`,
    `INSERT INTO patch_shows VALUES (1, 1, 1, ${T}, 'page')`,
    `UPDATE sessions SET correction_id = 1 WHERE id = 1`,
  ],
  '0003-derived-whole': [
    `INSERT INTO policies VALUES (1, 'House', '{}', ${T}, ${T})`,
    "INSERT INTO lessons (id, session_id, revision, control_key, document) VALUES (1, 1, 9, 'gain-red', '{}')",
    `INSERT INTO eye_verdicts (id, session_id, state_id, question, pattern, answer, conditions, created_at)
     VALUES (1, 1, 1, 'sharpness', 'lines', '10', '', ${T})`,
  ],
  '0004-left-alone': [
    'INSERT INTO lessons (id, session_id, revision, control_key, document) VALUES (2, 1, 9, \'black\', \'{"kind":"ends"}\')',
    `INSERT INTO runs (id, session_id, bench_id, purpose, status, reason, meter, created_at, reading_count, ask) VALUES
       (3, 1, 1, 'move', 'asking', '', NULL, ${T}, 0, '{"kind":"set","step":0,"control":"black","value":50}')`,
    `UPDATE sessions SET left_stations = '{"levels":"in use","tone":"fine"}', station = 'levels',
       patch_page = '{"wanted":{"runId":3,"step":0,"patch":{"key":"grey-100"}}}' WHERE id = 1`,
    `INSERT INTO moves (id, session_id, run_id, kind, station, changes, purpose, predictions, created_at) VALUES
       (2, 1, 3, 'proposed', 'levels', '[{"control":"black","from":50,"to":51}]', 'why', '[]', ${T}),
       (3, 1, 1, 'proposed', 'colour', '[{"control":"gamut","from":"a","to":"b"}]', 'why', '[]', ${T})`,
    "INSERT INTO derived_values VALUES (2, 1, 1, 'gamut', '1', 'colour', 'because'), (3, 1, 1, 'hue', '1', 'colour', 'because')",
  ],
}

/** A database as a version left it, with data of that version. */
const asOf = async (version: string) => {
  for (const name of MIGRATION_NAMES) {
    await migrate(db, { until: name })
    for (const sql of DATA[name] ?? []) await db.sequelize.query(sql)
    if (name === version) return
  }
}

/** Definition and rows of every table, without what hangs on when it was made. */
const contents = async () => {
  const names = (await db.sequelize.query('SHOW TABLES', { type: QueryTypes.SELECT })).map(
    (row) => Object.values(row)[0] as string,
  )
  const out: Record<string, unknown> = {}
  for (const name of names) {
    const [made] = await db.sequelize.query<Record<string, string>>(`SHOW CREATE TABLE \`${name}\``, {
      type: QueryTypes.SELECT,
    })
    const rows = await db.sequelize.query<object>(`SELECT * FROM \`${name}\``, {
      type: QueryTypes.SELECT,
    })
    out[name] = { made: made!['Create Table']!.replace(/ AUTO_INCREMENT=\d+/, ''), rows }
  }
  return out
}

class CutOff extends Error {}

describe('a migration', () => {
  for (const version of ['', ...MIGRATION_NAMES.slice(0, -1)])
    it(`that is cut off at every step goes on when it is started again, from ${version || 'an empty database'}`, async () => {
      await open()
      if (version) await asOf(version)
      await migrate(db)
      const whole = await contents()
      await dropAllTables(db)
      if (version) await asOf(version)
      const survived = new Set<string>()
      const cutOnce = (what: string) => {
        if (survived.has(what)) return
        survived.add(what)
        throw new CutOff(what)
      }
      for (;;)
        try {
          await migrate(db, { each: cutOnce })
          break
        } catch (error) {
          const cause = (error as Error).cause ?? error
          if (!(cause instanceof CutOff)) throw error
        }
      // At every statement at least; a migration has one or more.
      const pending = MIGRATION_NAMES.length - 1 - MIGRATION_NAMES.indexOf(version)
      expect(survived.size).toBeGreaterThanOrEqual(pending)
      expect(await contents()).toEqual(whole)
    }, 120_000)

  it('brings data of the first version up to date, nothing lost', async () => {
    await open()
    await asOf('0001-first-tables')
    let asked: readonly string[] = []
    await migrate(db, {
      before: async (pending) => {
        asked = pending
      },
    })
    expect(asked).toEqual(MIGRATION_NAMES.slice(1))
    const reading = (await db.readings.findByPk(1))!
    expect([reading.x, reading.y, reading.z, reading.meter]).toEqual([95, 100, 108, 'M P 7'])
    expect((await db.sessions.findByPk(1))!.skippedSteps).toEqual({
      luminance: 'in use',
      'black-level': 'in use',
      'white-level': 'in use',
    })
    expect((await db.runs.findByPk(1))!.readingCount).toBe(1)
    expect((await db.sheets.findByPk(1))!.getDataValue('document').controls.map((c) => c.memory)).toEqual([
      [],
      ...Array(4).fill(['mode']),
    ])
    // What was a guide of one case is a section of the display's guide, and its address leads there.
    const guide = (await db.guides.findByPk(1))!
    expect([guide.slug, guide.title, guide.summary, guide.publishedNumber]).toEqual([
      'maker-model-55',
      'Maker Model',
      'so',
      1,
    ])
    expect((await db.guideSections.findByPk(1))!).toMatchObject({ slug: 'maker-model', guideId: 1 })
    expect(await db.sectionRevisions.count()).toBe(2)
    expect((await db.guideWords.findAll()).map((w) => [w.place, w.body])).toEqual([['title', 'Other']])
  })

  it('puts what version 0.3 stored under the names of now, nothing lost', async () => {
    await open()
    await asOf('0004-left-alone')
    await migrate(db)
    expect((await db.adjustments.findAll({ order: ['id'] })).map((a) => a.step)).toEqual([
      // Nothing was moved: shades were read.
      'black-level',
      'black-level',
      'gamut',
    ])
    expect((await db.derived.findAll({ order: ['id'] })).map((d) => d.step)).toEqual([
      'luminance',
      'gamut',
      'colour',
    ])
    const session = (await db.sessions.findByPk(1))!
    expect(session.step).toBe('luminance')
    expect(session.skippedSteps).toEqual({
      tone: 'fine',
      luminance: 'in use',
      'black-level': 'in use',
      'white-level': 'in use',
    })
    expect(session.patchPage!.wanted).toMatchObject({ runId: 3, task: 0 })
    const runs = await db.runs.findAll({ order: ['id'] })
    expect(runs.map((r) => r.purpose)).toEqual(['out-of-box', 'adjust', 'adjust'])
    expect(runs[2]!.ask).toEqual({ kind: 'set', task: 0, control: 'black', value: 50 })
    expect((await db.readings.findByPk(1))!.task).toBe(1)
    expect((await db.priors.findByPk(2))!.getDataValue('document').kind).toBe('clipping')
    expect((await db.visualVerdicts.count()) + (await db.tasks.count())).toBe(4)
  })

  it('leaves no list of viewing cases, purposes or steps in SQL: a new one needs no migration', async () => {
    await migrate(await open())
    const checks = await db.sequelize.query<{ clause: string }>(
      'SELECT check_clause AS clause FROM information_schema.check_constraints WHERE constraint_schema = DATABASE()',
      { type: QueryTypes.SELECT },
    )
    expect(checks.length).toBeGreaterThan(5)
    for (const { clause } of checks) expect(clause).not.toMatch(/sdr-dark|out-of-box|feed-check|level-white/)
  })
  it('says a sentence where a newer version has used the database, and changes nothing', async () => {
    await open()
    await migrate(db)
    await db.sequelize.query("INSERT INTO migrations VALUES ('0999-of-tomorrow')")
    const before = await contents()
    await expect(migrate(db)).rejects.toThrow(/last used by a newer version of Wexmar \(0999-of-tomorrow\)/)
    expect(await contents()).toEqual(before)
  })

  it('that fails says at which step, that nothing is gone, and goes on once the cause is mended', async () => {
    await open()
    await asOf('0003-derived-whole')
    // Something else stands where a column is to be.
    await db.sequelize.query('CREATE VIEW nothing AS SELECT 1')
    await db.sequelize.query('RENAME TABLE guides TO aside')
    await expect(migrate(db)).rejects.toThrow(
      /step \d+ of \d+ of 0004-left-alone failed: .*guides.* Nothing that was entered has been removed/s,
    )
    await db.sequelize.query('RENAME TABLE aside TO guides')
    await db.sequelize.query('DROP VIEW nothing')
    expect(await migrate(db)).toEqual(MIGRATION_NAMES.slice(3))
  })
})
