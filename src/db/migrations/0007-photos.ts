import type { MigrationStep } from './step'

/** Photographs that belong to notes, as base64: a backup is made of texts, and an archive of JSON. */
export const steps: readonly MigrationStep[] = [
  `CREATE TABLE IF NOT EXISTS photos (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, note_id INT UNSIGNED NOT NULL UNIQUE REFERENCES notes (id) ON DELETE CASCADE,
    width SMALLINT UNSIGNED NOT NULL, height SMALLINT UNSIGNED NOT NULL, jpeg MEDIUMTEXT NOT NULL)`,
]
