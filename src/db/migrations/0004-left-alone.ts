import type { MigrationStep } from './step'

/** Where readings of a unit count from: the newest that was there when its display was reset last. */
const RESETS = `UPDATE units u SET u.reset_after = COALESCE((
    SELECT MAX(g.id) FROM readings g JOIN runs r ON r.id = g.run_id JOIN sessions s ON s.id = r.session_id
     WHERE s.unit_id = u.id AND g.taken_at <= (
       SELECT MAX(p.finished_at) FROM run_steps p JOIN runs w ON w.id = p.run_id JOIN sessions o ON o.id = w.session_id
        WHERE o.unit_id = u.id AND p.kind = 'reset' AND p.outcome = 'done')), 0)`

/** What a list of guides needs of its newest published revision stands in the guide. */
const PUBLISHED = `UPDATE guides g JOIN guide_revisions r ON r.guide_id = g.id AND r.status = 'published'
     AND r.number = (SELECT MAX(n.number) FROM guide_revisions n WHERE n.guide_id = g.id AND n.status = 'published')
     SET g.title = LEFT(COALESCE(JSON_VALUE(r.document, '$.title'), ''), 300),
         g.summary = LEFT(COALESCE(JSON_VALUE(r.document, '$.summary'), ''), 1000),
         g.published_number = r.number, g.published_at = r.published_at`

export const steps: readonly MigrationStep[] = [
  // A heartbeat is counted instead of timed: a clock that is set back keeps nobody waiting.
  `ALTER TABLE runs DROP COLUMN IF EXISTS lease_until,
     ADD COLUMN IF NOT EXISTS beat INT UNSIGNED NOT NULL DEFAULT 0,
     ADD COLUMN IF NOT EXISTS troubles INT UNSIGNED NOT NULL DEFAULT 0,
     ADD COLUMN IF NOT EXISTS trouble_step INT UNSIGNED NULL,
     ADD INDEX IF NOT EXISTS runs_counted (session_id, reading_count),
     ADD INDEX IF NOT EXISTS runs_by_status (status, bench_id)`,
  'ALTER TABLE units ADD COLUMN IF NOT EXISTS reset_after INT UNSIGNED NOT NULL DEFAULT 0',
  RESETS,
  // Lists read the station that was planned last, and never plan.
  `ALTER TABLE sessions
     ADD COLUMN IF NOT EXISTS station VARCHAR(40) NULL,
     ADD COLUMN IF NOT EXISTS summarized INT UNSIGNED NOT NULL DEFAULT 0`,
  `ALTER TABLE sessions
     ADD COLUMN IF NOT EXISTS unsummarized TINYINT UNSIGNED AS (IF(summarized < revision, 1, 0)) STORED,
     ADD INDEX IF NOT EXISTS sessions_unsummarized (unsummarized, id),
     ADD INDEX IF NOT EXISTS sessions_unattended (unattended, id)`,
  `ALTER TABLE guides
     ADD COLUMN IF NOT EXISTS title VARCHAR(300) NOT NULL DEFAULT '',
     ADD COLUMN IF NOT EXISTS summary VARCHAR(1000) NOT NULL DEFAULT '',
     ADD COLUMN IF NOT EXISTS published_number INT UNSIGNED NULL,
     ADD COLUMN IF NOT EXISTS published_at DATETIME(3) NULL,
     ADD INDEX IF NOT EXISTS guides_published (published_at, id)`,
  PUBLISHED,
]
