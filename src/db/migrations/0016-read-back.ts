import type { MigrationStep } from './step'

const PURPOSES = [
  'prepare',
  'restore',
  'read-back',
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

/** Runs that only look what a display holds where a finished case keeps its values. */
export const steps: readonly MigrationStep[] = [
  `ALTER TABLE runs MODIFY purpose VARCHAR(20) NOT NULL CHECK (purpose IN (${PURPOSES}))`,
]
