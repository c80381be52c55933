import type { MigrationStep } from './step'

/** What the page of a session showed when it was left (gzip, base64), so that it opens at once; what Wexmar failed at while nobody asked, until it succeeds; who alone drives a bench. */
export const steps: readonly MigrationStep[] = [
  `CREATE TABLE IF NOT EXISTS session_views (
    session_id INT UNSIGNED PRIMARY KEY REFERENCES sessions (id) ON DELETE CASCADE,
    revision INT UNSIGNED NOT NULL, made_by VARCHAR(40) NOT NULL, packed LONGTEXT NOT NULL, made_at DATETIME(3) NOT NULL)
    ENGINE = InnoDB DEFAULT CHARSET = utf8mb4`,
  `CREATE TABLE IF NOT EXISTS troubles (
    work VARCHAR(20) NOT NULL CHECK (work IN ('unattended', 'summary', 'schedule')), item INT UNSIGNED NOT NULL,
    times INT UNSIGNED NOT NULL, message VARCHAR(500) NOT NULL, since DATETIME(3) NOT NULL, again_at DATETIME(3) NOT NULL,
    PRIMARY KEY (work, item)) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4`,
  'ALTER TABLE settings MODIFY COLUMN value TEXT NOT NULL',
  // A bench that one process drives for itself, as that of the demo data: no other runner takes its runs.
  'ALTER TABLE benches ADD COLUMN IF NOT EXISTS driven_by VARCHAR(40) NULL',
]
