import type { MigrationStep } from './step'

/** Control sheets while they are entered; notes on units; sessions that are put away; when a display that no bench watches was switched on. */
export const steps: readonly MigrationStep[] = [
  `CREATE TABLE IF NOT EXISTS sheet_drafts (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, model_id INT UNSIGNED NOT NULL UNIQUE REFERENCES models (id),
    document JSON NOT NULL, revision INT UNSIGNED NOT NULL DEFAULT 1, updated_at DATETIME(3) NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS notes (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, unit_id INT UNSIGNED NOT NULL REFERENCES units (id),
    session_id INT UNSIGNED NULL REFERENCES sessions (id) ON DELETE SET NULL, step VARCHAR(40) NULL,
    text VARCHAR(2000) NOT NULL, created_at DATETIME(3) NOT NULL, INDEX (unit_id, id))`,
  `ALTER TABLE sessions
     ADD COLUMN IF NOT EXISTS archived_at DATETIME(3) NULL,
     ADD COLUMN IF NOT EXISTS scatter DOUBLE NULL,
     ADD COLUMN IF NOT EXISTS seen_signal JSON NULL`,
  'ALTER TABLE units ADD COLUMN IF NOT EXISTS switched_on_at DATETIME(3) NULL',
]
