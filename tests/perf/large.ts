import { readFileSync } from 'node:fs'
import { chromium } from '@playwright/test'
import { QueryTypes } from 'sequelize'
import { type Database, openDatabase } from '#db'
import { startSession } from '#server/unit'
import { CHROMIUM } from '#tests/browser'
import { type Demo, demoBench } from '#tests/demo'

/** Milliseconds for eight modes of sixty patches each, from the command to the page in a browser that shows the end of it. */
export const eightModes = async (demo: Demo): Promise<{ ms: number; readings: number }> => {
  const db = databaseOf(demo)
  const bench = demoBench(demo.benchUrl, demo.data)
  const browser = await chromium.launch(CHROMIUM)
  try {
    await bench.simulate({ speed: 0 })
    const begun = await startSession({ db, bench }, 2, { viewingCase: 'sdr-game', baseMode: 'studio' })
    if (!begun.ok) throw new Error(begun.error)
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    await page.goto(`${demo.address}/sessions/${begun.value}`)
    const command = async (body: object) => {
      const response = await page.request.post(`${demo.address}/api/sessions/${begun.value}/commands`, {
        data: body,
      })
      if (!response.ok()) throw new Error(await response.text())
    }
    const idle = () => page.locator('[data-run="none"]').waitFor({ timeout: 120_000 })
    await page.locator('[data-ready]').waitFor()
    await page.keyboard.press('Space')
    await page.locator('[data-run]:not([data-run="none"])').waitFor()
    await idle()
    const modes = ['studio', 'lounge', 'daylight', 'arena']
    const before = await db.readings.count()
    const begin = performance.now()
    await command({ type: 'sweep', sweep: 'whole-mode', modes: [...modes, ...modes] })
    await page.locator('[data-run]:not([data-run="none"])').waitFor()
    await idle()
    const ms = performance.now() - begin
    return { ms, readings: (await db.readings.count()) - before }
  } finally {
    await browser.close()
    await db.sequelize.close()
  }
}

/** The database of a running demo. */
export const databaseOf = (demo: Demo): Database => {
  const pid = demo.pidOf('runner/main')
  const url = readFileSync(`/proc/${pid}/environ`, 'utf8')
    .split('\0')
    .find((v) => v.startsWith('DATABASE_URL='))
    ?.slice('DATABASE_URL='.length)
  if (!url) throw new Error('The demo’s runner has no database')
  return openDatabase(url, { patience: 0 })
}

const MODELS = 2_000
const UNITS = 2_500
const SESSIONS = 3_000
/** Sessions that have a unit to themselves; the rest lie forty to a unit. */
const ALONE = 2_460
const RUNS = 5
const READINGS = 67
const GUIDES = 300

/** What a desk that has been at work for years holds: rows by their ids, from and to. */
export interface Desk {
  readonly readings: number
  readonly models: readonly string[]
  readonly units: readonly number[]
  readonly busyUnit: number
  readonly sessions: readonly number[]
  readonly runs: readonly number[]
  readonly guides: readonly string[]
}

/** Fills a demo's database with a million readings: models, units, sessions and runs like those of its first session. */
export const millionReadings = async (demo: Demo): Promise<Desk> => {
  const db = databaseOf(demo)
  try {
    const run = async (sql: string) => void (await db.sequelize.query(sql))
    const max = async (table: string) => {
      const [row] = await db.sequelize.query<{ last: number }>(`SELECT MAX(id) AS last FROM ${table}`, {
        type: QueryTypes.SELECT,
      })
      return Number(row?.last ?? 0)
    }
    const [m, v, c, f, u, s, r, g] = await Promise.all(
      ['models', 'variants', 'control_sheets', 'firmwares', 'units', 'sessions', 'runs', 'guide_pages'].map(
        max,
      ),
    )
    await run(`INSERT INTO models (id, maker, name, slug, panel_kind)
      SELECT ${m} + n.seq, CONCAT('Maker ', n.seq % 40), CONCAT('Model ', n.seq), CONCAT('model-', n.seq), 'lcd-full-array'
        FROM seq_1_to_${MODELS} n`)
    await run(`INSERT INTO variants (id, model_id, size_inch, region)
      SELECT ${v} + n.seq, ${m} + n.seq, 55, 'Europe' FROM seq_1_to_${MODELS} n`)
    await run(`INSERT INTO control_sheets (id, model_id, version, document)
      SELECT ${c} + n.seq, ${m} + n.seq, 1, t.document FROM seq_1_to_${MODELS} n
        JOIN control_sheets t ON t.id = (SELECT sheet_id FROM sessions WHERE id = 1)`)
    await run(`INSERT INTO firmwares (id, model_id, version)
      SELECT ${f} + n.seq, ${m} + n.seq, '1.0' FROM seq_1_to_${MODELS} n`)
    const model = `1 + (n.seq - 1) % ${MODELS}`
    await run(`INSERT INTO units (id, variant_id, label, serial, origin, hours, returns_on, created_at)
      SELECT ${u} + n.seq, ${v} + ${model}, CONCAT('unit ', n.seq), CONCAT('PERF-', n.seq), 'bought', 12, NULL, NOW(3)
        FROM seq_1_to_${UNITS} n`)
    await run(`INSERT INTO unit_firmwares (unit_id, firmware_id, seen_at)
      SELECT ${u} + n.seq, ${f} + ${model}, NOW(3) FROM seq_1_to_${UNITS} n`)
    await run(`INSERT INTO states (unit_id, sheet_id, digest, \`values\`)
      SELECT ${u} + n.seq, ${c} + ${model}, t.digest, t.\`values\` FROM seq_1_to_${UNITS} n
        JOIN sessions o ON o.id = 1 JOIN states t ON t.id = o.state_id`)
    const unit = `IF(n.seq <= ${ALONE}, n.seq, ${ALONE} + 1 + FLOOR((n.seq - ${ALONE} - 1) / 40))`
    await run(`INSERT INTO sessions (id, unit_id, firmware_id, sheet_id, bench_id, viewing_case, base_mode, target_luminance,
        target_x, target_y, tone, state_id, prepared, skipped_steps, policy, revision, priors_at, created_at, updated_at)
      SELECT ${s} + n.seq, t.unit_id, ${f} + 1 + (${unit} - 1) % ${MODELS}, t.sheet_id, o.bench_id, o.viewing_case,
             o.base_mode, 100, o.target_x, o.target_y, o.tone, t.id, 1, '{}', o.policy, 1, 1, NOW(3), NOW(3)
        FROM seq_1_to_${SESSIONS} n JOIN sessions o ON o.id = 1 JOIN states t ON t.unit_id = ${u} + ${unit}`)
    const runs = SESSIONS * RUNS
    await run(`INSERT INTO runs (id, session_id, bench_id, purpose, title, reading_count, status, reason, meter, created_at, finished_at)
      SELECT ${r} + n.seq, ${s} + 1 + FLOOR((n.seq - 1) / ${RUNS}), o.bench_id, IF(n.seq % ${RUNS} = 1, 'out-of-box', 'sweep'),
             IF(n.seq % ${RUNS} = 1, '', 'Grey, 21 levels'), ${READINGS}, 'done', '', o.meter, NOW(3), NOW(3)
        FROM seq_1_to_${runs} n JOIN runs o ON o.id = (SELECT MIN(id) FROM runs WHERE purpose = 'out-of-box')`)
    await run(`INSERT INTO run_tasks (run_id, ordinal, kind, patch, outcome, finished_at)
      SELECT ${r} + n.seq, k.seq, 'read', p.patch, 'done', NOW(3) FROM seq_1_to_${runs} n
        JOIN seq_0_to_${READINGS - 1} k JOIN (SELECT ROW_NUMBER() OVER (ORDER BY id) - 1 AS at, patch FROM readings
          WHERE run_id = (SELECT MIN(id) FROM runs WHERE purpose = 'out-of-box') AND kind = 'read') p ON p.at = k.seq % 14`)
    await run(`INSERT INTO readings (run_id, task, attempt, state_id, patch_key, patch, x, y, z, duration, bench_seconds, \`signal\`,
        taken_at, meter, sigma)
      SELECT ${r} + n.seq, k.seq, 0, s.state_id, p.patch_key, p.patch, p.x, p.y, p.z, p.duration, p.bench_seconds + k.seq, p.\`signal\`,
             NOW(3), p.meter, p.sigma FROM seq_1_to_${runs} n JOIN sessions s ON s.id = ${s} + 1 + FLOOR((n.seq - 1) / ${RUNS})
        JOIN seq_0_to_${READINGS - 1} k JOIN (SELECT ROW_NUMBER() OVER (ORDER BY id) - 1 AS at, g.* FROM readings g
          WHERE run_id = (SELECT MIN(id) FROM runs WHERE purpose = 'out-of-box') AND kind = 'read') p ON p.at = k.seq % 14`)
    await run(`INSERT INTO guide_pages (id, model_id, size_inch, slug, title, summary, cases, firmwares, published_number, published_at)
      SELECT ${g} + n.seq, ${m} + n.seq, 55, CONCAT('guide-', n.seq), CONCAT('Maker Model ', n.seq, ' settings'), o.summary, o.cases,
             o.firmwares, 1, NOW(3)
        FROM seq_1_to_${GUIDES} n JOIN guide_pages o ON o.id = 1`)
    await run(`INSERT INTO guide_page_revisions (guide_id, number, kind, document, published_at)
      SELECT ${g} + n.seq, 1, 'revision', o.document, NOW(3)
        FROM seq_1_to_${GUIDES} n JOIN guide_page_revisions o ON o.id = (SELECT MIN(id) FROM guide_page_revisions)`)
    await db.sequelize.query('ANALYZE TABLE units, sessions, runs, readings, models, guide_pages', {
      type: QueryTypes.SELECT,
    })
    const range = (from: number, count: number) => Array.from({ length: count }, (_, i) => from + 1 + i)
    return {
      readings: await db.readings.count(),
      models: range(0, MODELS).map((n) => `model-${n}`),
      units: range(u!, UNITS),
      busyUnit: u! + ALONE + 1,
      sessions: range(s!, SESSIONS),
      runs: range(r!, runs),
      guides: range(0, GUIDES).map((n) => `guide-${n}`),
    }
  } finally {
    await db.sequelize.close()
  }
}

/** Milliseconds for importing ten thousand readings as a person does it: report and storing in one request. */
export const importTenThousand = async (
  demo: Demo,
  session: number,
): Promise<{ ms: number; stored: number }> => {
  const rows = Array.from({ length: 10_000 }, (_, i) => {
    const level = i % 101
    const Y = 100 * (level / 100) ** 2.2 + 0.02
    return `Patch ${i};${level};${(0.95 * Y).toFixed(4)};${Y.toFixed(4)};${(1.09 * Y).toFixed(4)}`
  })
  const form = new FormData()
  form.set('file', new Blob([`Patch;Level;X;Y;Z\n${rows.join('\n')}\n`]), 'readings.csv')
  form.set('what', 'readings')
  form.set('store', 'yes')
  const begin = performance.now()
  const response = await fetch(`${demo.address}/api/sessions/${session}/import`, {
    method: 'POST',
    body: form,
  })
  const body = (await response.json()) as { report?: { runId?: number; usable: number }; error?: string }
  if (!body.report?.runId) throw new Error(body.error ?? 'The import stored nothing')
  return { ms: performance.now() - begin, stored: body.report.usable }
}
