import { type MigrationStep, selectAll, updateRow } from './step'

const ID = 'id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY'
const REF = 'INT UNSIGNED NOT NULL'
const PURPOSES = "'prepare', 'feed-check', 'survey', 'factory', 'move', 'check', 'verify', 'sweep', 'import'"
const STATION = `('prepare', 'signal', 'survey', 'factory', 'levels', 'tone', 'white', 'level-white', 'colour', 'processing',
  'verify', 'guide')`
/** The station of light and of both ends had another name while it knew light alone. */
const RENAMED = { from: 'luminance', to: 'levels' } as const

const CHANGES = [
  `ALTER TABLE sessions MODIFY base_mode VARCHAR(60) NULL,
     ADD COLUMN IF NOT EXISTS policy JSON NOT NULL DEFAULT '{}',
     ADD COLUMN IF NOT EXISTS unattended BOOLEAN NOT NULL DEFAULT 0,
     ADD COLUMN IF NOT EXISTS refused JSON NOT NULL DEFAULT '{}',
     ADD COLUMN IF NOT EXISTS accepted JSON NOT NULL DEFAULT '[]',
     ADD COLUMN IF NOT EXISTS rewritten INT UNSIGNED NOT NULL DEFAULT 0,
     ADD COLUMN IF NOT EXISTS learned_at INT UNSIGNED NULL`,
  `ALTER TABLE runs MODIFY purpose VARCHAR(20) NOT NULL CHECK (purpose IN (${PURPOSES}))`,
  `ALTER TABLE run_steps MODIFY kind VARCHAR(10) NOT NULL
     CHECK (kind IN ('reset', 'set', 'rest', 'settle', 'read', 'control', 'latency'))`,
  `ALTER TABLE moves MODIFY station VARCHAR(20) NOT NULL`,
  `ALTER TABLE derived_values MODIFY station VARCHAR(20) NOT NULL`,
  `UPDATE moves SET station = '${RENAMED.to}' WHERE station = '${RENAMED.from}'`,
  `UPDATE derived_values SET station = '${RENAMED.to}' WHERE station = '${RENAMED.from}'`,
  `ALTER TABLE moves MODIFY station VARCHAR(20) NOT NULL CHECK (station IN ${STATION})`,
  `ALTER TABLE derived_values MODIFY station VARCHAR(20) NOT NULL CHECK (station IN ${STATION}),
     MODIFY rule VARCHAR(500) NOT NULL`,
  `CREATE TABLE IF NOT EXISTS policies (
    ${ID}, name VARCHAR(60) NOT NULL UNIQUE, document JSON NOT NULL, created_at DATETIME(3) NOT NULL,
    updated_at DATETIME(3) NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS lessons (
    ${ID}, session_id ${REF} REFERENCES sessions (id), revision INT UNSIGNED NOT NULL, control_key VARCHAR(60) NOT NULL,
    document JSON NOT NULL, forgotten BOOLEAN NOT NULL DEFAULT 0, INDEX (session_id))`,
  `CREATE TABLE IF NOT EXISTS eye_verdicts (
    ${ID}, session_id ${REF} REFERENCES sessions (id), state_id ${REF} REFERENCES states (id), question VARCHAR(40) NOT NULL,
    pattern VARCHAR(40) NOT NULL, control_key VARCHAR(60) NULL, value JSON NULL, answer VARCHAR(200) NOT NULL,
    conditions VARCHAR(300) NOT NULL, created_at DATETIME(3) NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS latencies (
    ${ID}, run_id ${REF}, step INT UNSIGNED NOT NULL, state_id ${REF} REFERENCES states (id), mode VARCHAR(60) NOT NULL,
    rate DOUBLE NOT NULL CHECK (rate > 0), milliseconds DOUBLE NOT NULL CHECK (milliseconds >= 0), times JSON NOT NULL,
    setting JSON NULL, taken_at DATETIME(3) NOT NULL,
    FOREIGN KEY (run_id, step) REFERENCES run_steps (run_id, ordinal), UNIQUE (run_id, step))`,
]

/** The strict reference, as it stood when sessions began to keep their policy; older sessions followed it without a name. */
const OLD_POLICY = {
  format: 'wexmar-policy/1',
  key: 'strict-reference',
  name: 'Strict reference',
  note: 'As it was mastered: D65, BT.1886 in the dark, 2.2 in the light, no aid left on.',
  luminance: { dark: 100, bright: 200, game: 150 },
  tone: { dark: 'bt1886', bright: 2.2, game: 2.2 },
  white: { x: 0.3127, y: 0.329, name: 'D65' },
  green: 'never',
  levelWhite: 'visible',
  publish: 'all',
  sharpness: 'neutral',
  dynamicContrast: 'off',
  dimming: 'lowest-without-haloing',
  motion: 'none',
  hdrToneMapping: 'clip',
  automaticSwitching: 'off',
  afterAutomatic: 'leave-off',
}

export const steps: readonly MigrationStep[] = [
  ...CHANGES,
  `UPDATE sessions SET policy = '${JSON.stringify(OLD_POLICY)}'`,
  'ALTER TABLE sessions ALTER COLUMN policy DROP DEFAULT',
  async (sequelize, done) => {
    for (const { id, left } of await selectAll<{ id: number; left: string | object }>(
      sequelize,
      'SELECT id, left_stations AS `left` FROM sessions',
    )) {
      const stations = (typeof left === 'string' ? JSON.parse(left) : left) as Record<string, string>
      const { [RENAMED.from]: reason, ...rest } = stations
      if (reason === undefined) continue
      await updateRow(
        sequelize,
        'sessions',
        'left_stations',
        id,
        JSON.stringify({ ...rest, [RENAMED.to]: reason }),
      )
      done(`session ${id}`)
    }
  },
]
