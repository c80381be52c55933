import type { MigrationStep } from './step'

/** What readers say of a guide: no account, no address, nothing but what they chose. */
export const steps: readonly MigrationStep[] = [
  `CREATE TABLE IF NOT EXISTS guide_reports (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, guide_id INT UNSIGNED NOT NULL REFERENCES guide_pages (id),
    revision INT UNSIGNED NOT NULL, viewing_case VARCHAR(40) NOT NULL,
    verdict VARCHAR(10) NOT NULL CHECK (verdict IN ('better', 'same', 'worse')),
    went VARCHAR(10) NOT NULL CHECK (went IN ('all', 'most', 'few')),
    size_inch DOUBLE NULL, region VARCHAR(40) NOT NULL DEFAULT '', firmware VARCHAR(60) NOT NULL DEFAULT '',
    status VARCHAR(10) NOT NULL DEFAULT 'new' CHECK (status IN ('new', 'shown', 'hidden')),
    created_at DATETIME(3) NOT NULL, INDEX guide_reports_by_guide (guide_id, status))
   ENGINE = InnoDB DEFAULT CHARSET = utf8mb4`,
]
