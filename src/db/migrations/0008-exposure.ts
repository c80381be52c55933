import type { MigrationStep } from './step'

/** What a meter tells of the exposure of a reading: how long after its patch appeared, and for how long. */
export const steps: readonly MigrationStep[] = [
  'ALTER TABLE readings ADD COLUMN IF NOT EXISTS exposure JSON NULL',
]
