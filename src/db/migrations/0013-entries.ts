import type { MigrationStep } from './step'

/** What a person enters of a case beside its readings: rows without a measurement, traces of a light sensor with their samples; delays that were typed and taken back. */
export const steps: readonly MigrationStep[] = [
  `CREATE TABLE IF NOT EXISTS entries (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, session_id INT UNSIGNED NOT NULL REFERENCES sessions (id),
    kind VARCHAR(10) NOT NULL CHECK (kind IN ('row', 'trace')), document JSON NOT NULL, samples JSON NULL,
    created_at DATETIME(3) NOT NULL, removed_at DATETIME(3) NULL, INDEX entries_by_session (session_id, id))
    ENGINE = InnoDB DEFAULT CHARSET = utf8mb4`,
  'ALTER TABLE latencies ADD COLUMN IF NOT EXISTS removed_at DATETIME(3) NULL',
]
