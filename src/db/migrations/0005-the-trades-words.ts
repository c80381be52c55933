import { type MigrationStep, selectAll, updateRow } from './step'

/** Tables under the names that they had until this version: a database of an earlier one still has them. */
export const FORMER_TABLES: readonly string[] = ['run_steps', 'moves', 'lessons', 'eye_verdicts']

/** Purposes of runs, under the names that the trade has for them. */
const PURPOSES =
  "'prepare', 'feed-check', 'survey', 'out-of-box', 'adjust', 'check', 'verify', 'sweep', 'import', 'restore'"

/** What was one step of the route until now, by the role of the control that was moved or derived. */
const PARTS: Readonly<Record<string, Readonly<Record<string, string>>>> = {
  levels: { 'peak-luminance': 'luminance', 'black-level': 'black-level', 'white-level': 'white-level' },
  colour: { gamut: 'gamut' },
}
/** The part that a step without a control was: shades were read, nothing was moved. */
const WITHOUT_CONTROL: Readonly<Record<string, string>> = { levels: 'black-level', colour: 'colour' }

/**
 * The key of a step of the route as it is from this version on.
 * In: its key before, role of the control that it moved; undefined where it moved none. Out: key.
 */
export const stepFromNowOn = (step: string, role: string | undefined): string => {
  if (step === 'factory') return 'out-of-box'
  const parts = PARTS[step]
  if (!parts) return step
  return (
    (role === undefined ? WITHOUT_CONTROL[step] : parts[role]) ?? (step === 'levels' ? 'luminance' : step)
  )
}

/** Reasons why steps were skipped, under the keys of this version. In: reasons by key before. */
export const skippedFromNowOn = (skipped: Readonly<Record<string, string>>): Record<string, string> => {
  const { levels, ...rest } = skipped
  return levels === undefined
    ? rest
    : { ...rest, luminance: levels, 'black-level': levels, 'white-level': levels }
}

const parsed = <T>(value: unknown): T => (typeof value === 'string' ? JSON.parse(value) : value) as T

/** Puts the steps of a table under their new keys, by the role of each row's control. */
const renameSteps =
  (table: string, control: string): MigrationStep =>
  async (sequelize, done) => {
    const rows = await selectAll<{ id: number; step: string; control: string | null; document: unknown }>(
      sequelize,
      `SELECT t.id, t.step, ${control} AS control, c.document FROM ${table} t JOIN sessions s ON s.id = t.session_id
         JOIN control_sheets c ON c.id = s.sheet_id WHERE t.step IN ('factory', 'levels', 'colour')`,
    )
    for (const { id, step, control: key, document } of rows) {
      const { controls } = parsed<{ controls: Array<{ key: string; role?: string }> }>(document)
      const role = key === null ? undefined : (controls.find((c) => c.key === key)?.role ?? '')
      const next = stepFromNowOn(step, role)
      if (next === step) continue
      await updateRow(sequelize, table, 'step', id, next)
      done(`${table} ${id}`)
    }
  }

/** A property of a JSON column under another name. */
const renameInJson = (table: string, column: string, from: string, to: string): MigrationStep =>
  `UPDATE ${table} SET ${column} = JSON_REMOVE(JSON_INSERT(${column}, '${to}', JSON_EXTRACT(${column}, '${from}')), '${from}')
    WHERE ${column} IS NOT NULL AND JSON_EXISTS(${column}, '${from}')`

export const steps: readonly MigrationStep[] = [
  // A run has tasks, the route has steps; the keys of steps are checked in code, so that a new one needs no migration.
  'RENAME TABLE IF EXISTS run_steps TO run_tasks',
  'RENAME TABLE IF EXISTS moves TO adjustments',
  'RENAME TABLE IF EXISTS lessons TO response_priors',
  'RENAME TABLE IF EXISTS eye_verdicts TO visual_verdicts',
  'ALTER TABLE readings CHANGE COLUMN IF EXISTS step task INT UNSIGNED NOT NULL',
  'ALTER TABLE latencies CHANGE COLUMN IF EXISTS step task INT UNSIGNED NOT NULL',
  'ALTER TABLE patch_shows CHANGE COLUMN IF EXISTS step task INT UNSIGNED NOT NULL',
  'ALTER TABLE runs CHANGE COLUMN IF EXISTS trouble_step trouble_task INT UNSIGNED NULL',
  'ALTER TABLE adjustments CHANGE COLUMN IF EXISTS station step VARCHAR(40) NOT NULL',
  'ALTER TABLE derived_values CHANGE COLUMN IF EXISTS station step VARCHAR(40) NOT NULL',
  `ALTER TABLE sessions CHANGE COLUMN IF EXISTS station step VARCHAR(40) NULL,
     CHANGE COLUMN IF EXISTS left_stations skipped_steps JSON NOT NULL,
     CHANGE COLUMN IF EXISTS learned_at priors_at INT UNSIGNED NULL`,
  // What a display stands at is known once for the unit, whichever session changed it last.
  `ALTER TABLE units ADD COLUMN IF NOT EXISTS state_id INT UNSIGNED NULL,
     ADD COLUMN IF NOT EXISTS stated_by INT UNSIGNED NULL,
     ADD FOREIGN KEY IF NOT EXISTS units_state (state_id) REFERENCES states (id)`,
  `UPDATE units u JOIN sessions s ON s.id = (
       SELECT t.id FROM sessions t WHERE t.unit_id = u.id ORDER BY t.updated_at DESC, t.id DESC LIMIT 1)
     SET u.state_id = s.state_id, u.stated_by = s.id WHERE u.state_id IS NULL`,
  'ALTER TABLE runs MODIFY purpose VARCHAR(20) NOT NULL',
  "UPDATE runs SET purpose = 'adjust' WHERE purpose = 'move'",
  "UPDATE runs SET purpose = 'out-of-box' WHERE purpose = 'factory'",
  `ALTER TABLE runs MODIFY purpose VARCHAR(20) NOT NULL CHECK (purpose IN (${PURPOSES}))`,
  renameInJson('runs', 'ask', '$.step', '$.task'),
  renameInJson('sessions', 'patch_page', '$.wanted.step', '$.wanted.task'),
  "UPDATE response_priors SET document = JSON_SET(document, '$.kind', 'clipping') WHERE JSON_VALUE(document, '$.kind') = 'ends'",
  renameSteps('adjustments', "JSON_VALUE(t.changes, '$[0].control')"),
  renameSteps('derived_values', 't.control_key'),
  "UPDATE sessions SET step = 'out-of-box' WHERE step = 'factory'",
  "UPDATE sessions SET step = 'luminance' WHERE step = 'levels'",
  async (sequelize, done) => {
    for (const { id, skipped } of await selectAll<{ id: number; skipped: unknown }>(
      sequelize,
      "SELECT id, skipped_steps AS skipped FROM sessions WHERE JSON_EXISTS(skipped_steps, '$.levels')",
    )) {
      const next = skippedFromNowOn(parsed<Record<string, string>>(skipped))
      await updateRow(sequelize, 'sessions', 'skipped_steps', id, JSON.stringify(next))
      done(`session ${id}`)
    }
  },
]
