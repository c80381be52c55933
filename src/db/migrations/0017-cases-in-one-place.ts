import type { MigrationStep } from './step'

/** Which viewing cases there are is said in one place, where rows are written: a new one needs no migration. */
export const steps: readonly MigrationStep[] = [
  'ALTER TABLE sessions MODIFY viewing_case VARCHAR(40) NOT NULL',
]
