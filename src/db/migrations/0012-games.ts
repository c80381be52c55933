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

/** What the latency probe is asked, where it sat and who read it; settings that are gone round. */
export const steps: readonly MigrationStep[] = [
  'ALTER TABLE run_tasks ADD COLUMN IF NOT EXISTS probe JSON NULL',
  'ALTER TABLE latencies ADD COLUMN IF NOT EXISTS position VARCHAR(10) NULL',
  'ALTER TABLE latencies ADD COLUMN IF NOT EXISTS typed BOOLEAN NOT NULL DEFAULT FALSE',
  `ALTER TABLE runs MODIFY purpose VARCHAR(20) NOT NULL CHECK (purpose IN (${PURPOSES}))`,
]
