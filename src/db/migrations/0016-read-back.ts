import type { MigrationStep } from './step'

/** Runs that only look what a display holds. Which purposes there are is said in one place, where rows are written. */
export const steps: readonly MigrationStep[] = ['ALTER TABLE runs MODIFY purpose VARCHAR(20) NOT NULL']
