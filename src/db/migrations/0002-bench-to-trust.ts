import { type MigrationStep, selectAll, updateRow } from './step'

const ID = 'id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY'
const REF = 'INT UNSIGNED NOT NULL'
const PURPOSES = "'prepare', 'feed-check', 'factory', 'move', 'verify', 'sweep', 'import'"
const STATION = "('prepare', 'signal', 'factory', 'luminance', 'white', 'verify', 'guide')"

const CHANGES = [
  // A person may stand in for each device; a session may do without any bench.
  `ALTER TABLE sessions MODIFY bench_id INT UNSIGNED NULL,
     ADD COLUMN IF NOT EXISTS devices JSON NOT NULL DEFAULT '{"display":"bench","pattern":"bench","meter":"bench"}',
     ADD COLUMN IF NOT EXISTS signal_format JSON NULL,
     ADD COLUMN IF NOT EXISTS meter_slot VARCHAR(40) NULL,
     ADD COLUMN IF NOT EXISTS meter_name VARCHAR(120) NOT NULL DEFAULT '',
     ADD COLUMN IF NOT EXISTS correction_id INT UNSIGNED NULL,
     ADD COLUMN IF NOT EXISTS patch_page JSON NULL`,
  `ALTER TABLE runs MODIFY bench_id INT UNSIGNED NULL,
     MODIFY purpose VARCHAR(20) NOT NULL CHECK (purpose IN (${PURPOSES})),
     MODIFY status VARCHAR(20) NOT NULL CHECK (status IN
       ('queued', 'running', 'paused', 'waiting', 'asking', 'stopped', 'done', 'cancelled')),
     ADD COLUMN IF NOT EXISTS title VARCHAR(120) NOT NULL DEFAULT '',
     ADD COLUMN IF NOT EXISTS reading_count INT UNSIGNED NOT NULL DEFAULT 0,
     ADD COLUMN IF NOT EXISTS ask JSON NULL,
     ADD COLUMN IF NOT EXISTS notes JSON NOT NULL DEFAULT '[]'`,
  `ALTER TABLE run_steps
     MODIFY kind VARCHAR(10) NOT NULL CHECK (kind IN ('reset', 'set', 'settle', 'read', 'control')),
     ADD CONSTRAINT IF NOT EXISTS control_has_patch CHECK (kind <> 'control' OR patch IS NOT NULL),
     ADD CONSTRAINT IF NOT EXISTS settle_has_patch CHECK (kind <> 'settle' OR patch IS NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS meter_corrections (
    ${ID}, name VARCHAR(80) NOT NULL, meter VARCHAR(300) NOT NULL, reference VARCHAR(120) NOT NULL,
    panel_kind VARCHAR(40) NOT NULL, unit_id INT UNSIGNED NULL REFERENCES units (id), colours JSON NOT NULL,
    matrix JSON NOT NULL, created_at DATETIME(3) NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS patch_shows (
    session_id ${REF} REFERENCES sessions (id), run_id ${REF} REFERENCES runs (id), step INT UNSIGNED NOT NULL,
    shown_at DATETIME(3) NOT NULL, page VARCHAR(300) NOT NULL, PRIMARY KEY (session_id, run_id, step))`,
  'ALTER TABLE sessions ADD CONSTRAINT session_correction FOREIGN KEY IF NOT EXISTS (correction_id) REFERENCES meter_corrections (id)',
  `ALTER TABLE readings
     ADD COLUMN IF NOT EXISTS kind VARCHAR(10) NOT NULL DEFAULT 'read' CHECK (kind IN ('read', 'control', 'settle')),
     ADD COLUMN IF NOT EXISTS origin VARCHAR(10) NOT NULL DEFAULT 'bench' CHECK (origin IN ('bench', 'typed', 'imported')),
     ADD COLUMN IF NOT EXISTS samples INT UNSIGNED NOT NULL DEFAULT 1 CHECK (samples > 0),
     ADD COLUMN IF NOT EXISTS sigma JSON NULL,
     ADD COLUMN IF NOT EXISTS seen JSON NULL,
     ADD COLUMN IF NOT EXISTS meter VARCHAR(300) NOT NULL DEFAULT '',
     ADD COLUMN IF NOT EXISTS meter_slot VARCHAR(40) NULL,
     ADD COLUMN IF NOT EXISTS correction_id INT UNSIGNED NULL,
     ADD COLUMN IF NOT EXISTS uncorrected JSON NULL,
     ADD COLUMN IF NOT EXISTS on_for DOUBLE NULL,
     ADD COLUMN IF NOT EXISTS drift JSON NULL,
     ADD COLUMN IF NOT EXISTS flags JSON NOT NULL DEFAULT '[]',
     ADD INDEX IF NOT EXISTS readings_of_run (run_id, id)`,
  'ALTER TABLE readings ADD CONSTRAINT reading_correction FOREIGN KEY IF NOT EXISTS (correction_id) REFERENCES meter_corrections (id)',
  `ALTER TABLE moves MODIFY station VARCHAR(20) NOT NULL CHECK (station IN ${STATION})`,
  `ALTER TABLE derived_values MODIFY station VARCHAR(20) NOT NULL CHECK (station IN ${STATION})`,
  `ALTER TABLE sessions ADD INDEX IF NOT EXISTS sessions_of_unit (unit_id, id)`,
]

interface OldControl {
  memory: string | string[]
}

/** Sheets of the first format named one memory for each control; now they name all that a value hangs on. */
const newMemory = (memory: string | string[]): string[] =>
  Array.isArray(memory) ? memory : memory === 'display' ? [] : [memory]

export const steps: readonly MigrationStep[] = [
  ...CHANGES,
  `UPDATE readings g JOIN runs r ON r.id = g.run_id SET g.meter = COALESCE(CONCAT_WS(' ',
     JSON_VALUE(r.meter, '$.maker'), JSON_VALUE(r.meter, '$.model'), JSON_VALUE(r.meter, '$.serial')), '')`,
  'UPDATE runs r SET r.reading_count = (SELECT COUNT(*) FROM readings g WHERE g.run_id = r.id)',
  async (sequelize, done) => {
    for (const { id, document } of await selectAll<{ id: number; document: string | object }>(
      sequelize,
      'SELECT id, document FROM control_sheets',
    )) {
      const sheet = (typeof document === 'string' ? JSON.parse(document) : document) as {
        format: string
        controls: OldControl[]
      }
      if (sheet.format !== 'wexmar-control-sheet/1') continue
      const renewed = {
        ...sheet,
        format: 'wexmar-control-sheet/2',
        controls: sheet.controls.map((c) => ({ ...c, memory: newMemory(c.memory) })),
      }
      await updateRow(sequelize, 'control_sheets', 'document', id, JSON.stringify(renewed))
      done(`sheet ${id}`)
    }
  },
]
