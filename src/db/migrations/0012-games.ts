import type { MigrationStep } from './step'

const PURPOSES = [
  'prepare',
  'restore',
  'feed-check',
  'survey',
  'out-of-box',
  'adjust',
  'check',
  'verify',
  'sweep',
  'tour',
  'import',
]
  .map((word) => `'${word}'`)
  .join(', ')

/** What the latency probe is asked, and where it sat; settings that are gone round; sources and what displays take. */
export const steps: readonly MigrationStep[] = [
  'ALTER TABLE run_tasks ADD COLUMN IF NOT EXISTS probe JSON NULL',
  'ALTER TABLE latencies ADD COLUMN IF NOT EXISTS position VARCHAR(10) NULL',
  'ALTER TABLE models ADD COLUMN IF NOT EXISTS inputs JSON NULL',
  `CREATE TABLE IF NOT EXISTS sources (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, name VARCHAR(80) NOT NULL, document JSON NOT NULL, created_at DATETIME(3) NOT NULL,
    removed_at DATETIME(3) NULL) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4`,
  `ALTER TABLE runs MODIFY purpose VARCHAR(20) NOT NULL CHECK (purpose IN (${PURPOSES}))`,
]
