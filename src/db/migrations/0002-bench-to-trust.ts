import { QueryTypes, type Sequelize } from 'sequelize'

const ID = 'id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY'
const REF = 'INT UNSIGNED NOT NULL'
const PURPOSES = "'prepare', 'feed-check', 'factory', 'move', 'verify', 'sweep', 'import'"
const STATION = "('prepare', 'signal', 'factory', 'luminance', 'white', 'verify', 'guide')"

const CHANGES = [
  // A person may stand in for each device; a session may do without any bench.
  `ALTER TABLE sessions MODIFY bench_id INT UNSIGNED NULL,
     ADD COLUMN devices JSON NOT NULL DEFAULT '{"display":"bench","pattern":"bench","meter":"bench"}',
     ADD COLUMN signal_format JSON NULL,
     ADD COLUMN meter_slot VARCHAR(40) NULL,
     ADD COLUMN meter_name VARCHAR(120) NOT NULL DEFAULT '',
     ADD COLUMN correction_id INT UNSIGNED NULL,
     ADD COLUMN patch_page JSON NULL`,
  `ALTER TABLE runs MODIFY bench_id INT UNSIGNED NULL,
     MODIFY purpose VARCHAR(20) NOT NULL CHECK (purpose IN (${PURPOSES})),
     MODIFY status VARCHAR(20) NOT NULL CHECK (status IN
       ('queued', 'running', 'paused', 'waiting', 'asking', 'stopped', 'done', 'cancelled')),
     ADD COLUMN title VARCHAR(120) NOT NULL DEFAULT '',
     ADD COLUMN reading_count INT UNSIGNED NOT NULL DEFAULT 0,
     ADD COLUMN ask JSON NULL,
     ADD COLUMN notes JSON NOT NULL DEFAULT '[]'`,
  `ALTER TABLE run_steps
     MODIFY kind VARCHAR(10) NOT NULL CHECK (kind IN ('reset', 'set', 'settle', 'read', 'control')),
     ADD CHECK (kind <> 'control' OR patch IS NOT NULL), ADD CHECK (kind <> 'settle' OR patch IS NOT NULL)`,
  `CREATE TABLE meter_corrections (
    ${ID}, name VARCHAR(80) NOT NULL, meter VARCHAR(300) NOT NULL, reference VARCHAR(120) NOT NULL,
    panel_kind VARCHAR(40) NOT NULL, unit_id INT UNSIGNED NULL REFERENCES units (id), colours JSON NOT NULL,
    matrix JSON NOT NULL, created_at DATETIME(3) NOT NULL)`,
  `CREATE TABLE patch_shows (
    session_id ${REF} REFERENCES sessions (id), run_id ${REF} REFERENCES runs (id), step INT UNSIGNED NOT NULL,
    shown_at DATETIME(3) NOT NULL, page VARCHAR(300) NOT NULL, PRIMARY KEY (session_id, run_id, step))`,
  'ALTER TABLE sessions ADD FOREIGN KEY (correction_id) REFERENCES meter_corrections (id)',
  `ALTER TABLE readings
     ADD COLUMN kind VARCHAR(10) NOT NULL DEFAULT 'read' CHECK (kind IN ('read', 'control', 'settle')),
     ADD COLUMN origin VARCHAR(10) NOT NULL DEFAULT 'bench' CHECK (origin IN ('bench', 'typed', 'imported')),
     ADD COLUMN samples INT UNSIGNED NOT NULL DEFAULT 1 CHECK (samples > 0),
     ADD COLUMN sigma JSON NULL,
     ADD COLUMN seen JSON NULL,
     ADD COLUMN meter VARCHAR(300) NOT NULL DEFAULT '',
     ADD COLUMN meter_slot VARCHAR(40) NULL,
     ADD COLUMN correction_id INT UNSIGNED NULL REFERENCES meter_corrections (id),
     ADD COLUMN uncorrected JSON NULL,
     ADD COLUMN on_for DOUBLE NULL,
     ADD COLUMN drift JSON NULL,
     ADD COLUMN flags JSON NOT NULL DEFAULT '[]',
     ADD INDEX (run_id, id)`,
  `ALTER TABLE moves MODIFY station VARCHAR(20) NOT NULL CHECK (station IN ${STATION})`,
  `ALTER TABLE derived_values MODIFY station VARCHAR(20) NOT NULL CHECK (station IN ${STATION})`,
  `ALTER TABLE sessions ADD INDEX (unit_id, id)`,
]

interface OldControl {
  memory: string | string[]
}

/** Sheets of the first format named one memory for each control; now they name all that a value hangs on. */
const newMemory = (memory: string | string[]): string[] =>
  Array.isArray(memory) ? memory : memory === 'display' ? [] : [memory]

export const up = async (sequelize: Sequelize): Promise<void> => {
  for (const change of CHANGES) await sequelize.query(change)
  await sequelize.query(
    "UPDATE readings g JOIN runs r ON r.id = g.run_id SET g.meter = COALESCE(CONCAT_WS(' ', JSON_VALUE(r.meter, '$.maker'), JSON_VALUE(r.meter, '$.model'), JSON_VALUE(r.meter, '$.serial')), '')",
  )
  await sequelize.query(
    'UPDATE runs r SET r.reading_count = (SELECT COUNT(*) FROM readings g WHERE g.run_id = r.id)',
  )
  const sheets = await sequelize.query<{ id: number; document: string | object }>(
    'SELECT id, document FROM control_sheets',
    { type: QueryTypes.SELECT },
  )
  for (const { id, document } of sheets) {
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
    await sequelize.query('UPDATE control_sheets SET document = :document WHERE id = :id', {
      replacements: { id, document: JSON.stringify(renewed) },
      type: QueryTypes.UPDATE,
    })
  }
}
