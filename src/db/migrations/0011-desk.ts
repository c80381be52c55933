import type { MigrationStep } from './step'

const TABLE = 'ENGINE = InnoDB DEFAULT CHARSET = utf8mb4'

/** Reviews of a draft by a second name, guides that become public at a time, measured cases that are checked again after a firmware; cases that came in a file. */
export const steps: readonly MigrationStep[] = [
  `CREATE TABLE IF NOT EXISTS guide_reviews (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, guide_id INT UNSIGNED NOT NULL REFERENCES guide_pages (id),
    number INT UNSIGNED NOT NULL, digest CHAR(64) NOT NULL, kind VARCHAR(10) NOT NULL CHECK (kind IN ('asked', 'approved', 'changes')),
    author VARCHAR(120) NOT NULL, note VARCHAR(1000) NOT NULL DEFAULT '', created_at DATETIME(3) NOT NULL,
    INDEX guide_reviews_by_guide (guide_id, id)) ${TABLE}`,
  `CREATE TABLE IF NOT EXISTS guide_schedules (
    guide_id INT UNSIGNED PRIMARY KEY REFERENCES guide_pages (id), publish_at DATETIME(3) NOT NULL, digest CHAR(64) NOT NULL,
    note VARCHAR(1000) NOT NULL DEFAULT '', because VARCHAR(1000) NOT NULL DEFAULT '', author VARCHAR(120) NOT NULL DEFAULT '',
    document JSON NOT NULL, sections JSON NOT NULL, created_at DATETIME(3) NOT NULL,
    INDEX guide_schedules_by_time (publish_at)) ${TABLE}`,
  `CREATE TABLE IF NOT EXISTS rechecks (
    session_id INT UNSIGNED PRIMARY KEY REFERENCES sessions (id) ON DELETE CASCADE,
    revision_id INT UNSIGNED NOT NULL REFERENCES guide_revisions (id), created_at DATETIME(3) NOT NULL,
    INDEX rechecks_by_revision (revision_id)) ${TABLE}`,
  `CREATE TABLE IF NOT EXISTS guide_imports (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, guide_id INT UNSIGNED NOT NULL REFERENCES guide_pages (id),
    viewing_case VARCHAR(40) NOT NULL, serial VARCHAR(120) NOT NULL, digest CHAR(64) NOT NULL, document JSON NOT NULL,
    status VARCHAR(20) NOT NULL DEFAULT 'draft' CHECK (status IN ('draft', 'published')), created_at DATETIME(3) NOT NULL,
    INDEX guide_imports_by_guide (guide_id, viewing_case)) ${TABLE}`,
  `CREATE TABLE IF NOT EXISTS imported_readings (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, import_id INT UNSIGNED NOT NULL REFERENCES guide_imports (id),
    document JSON NOT NULL, INDEX imported_readings_by_import (import_id)) ${TABLE}`,
  // What tells whether a page for readers is still as it was drawn is asked for with every one of them.
  'ALTER TABLE guide_pages ADD INDEX IF NOT EXISTS guide_pages_withdrawn (withdrawn_at)',
  'ALTER TABLE guide_reports ADD INDEX IF NOT EXISTS guide_reports_by_status (status, id)',
  "ALTER TABLE guide_page_revisions ADD COLUMN IF NOT EXISTS reviewer VARCHAR(120) NOT NULL DEFAULT ''",
]
