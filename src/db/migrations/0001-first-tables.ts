import type { MigrationStep } from './step'

const ID = 'id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY'
const REF = 'INT UNSIGNED NOT NULL'
const STATION = "('prepare', 'factory', 'luminance', 'white', 'verify', 'guide')"
const TABLES = [
  `CREATE TABLE IF NOT EXISTS models (
    ${ID}, maker VARCHAR(80) NOT NULL, name VARCHAR(80) NOT NULL, slug VARCHAR(80) NOT NULL UNIQUE,
    panel_kind VARCHAR(40) NOT NULL CHECK (panel_kind IN ('lcd-edge-lit', 'lcd-full-array', 'self-emissive', 'projector')),
    UNIQUE (maker, name))`,
  `CREATE TABLE IF NOT EXISTS variants (
    ${ID}, model_id ${REF} REFERENCES models (id), size_inch DOUBLE NOT NULL CHECK (size_inch > 0),
    region VARCHAR(40) NOT NULL, UNIQUE (model_id, size_inch, region))`,
  `CREATE TABLE IF NOT EXISTS units (
    ${ID}, variant_id ${REF} REFERENCES variants (id), label VARCHAR(80) NOT NULL, serial VARCHAR(120) NOT NULL UNIQUE,
    origin VARCHAR(120) NOT NULL, hours DOUBLE NULL CHECK (hours IS NULL OR hours >= 0), returns_on DATE NULL,
    created_at DATETIME(3) NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS firmwares (
    ${ID}, model_id ${REF} REFERENCES models (id), version VARCHAR(120) NOT NULL, UNIQUE (model_id, version))`,
  `CREATE TABLE IF NOT EXISTS unit_firmwares (
    unit_id ${REF} REFERENCES units (id), firmware_id ${REF} REFERENCES firmwares (id), seen_at DATETIME(3) NOT NULL,
    PRIMARY KEY (unit_id, firmware_id))`,
  `CREATE TABLE IF NOT EXISTS control_sheets (
    ${ID}, model_id ${REF} REFERENCES models (id), version INT NOT NULL CHECK (version > 0), document JSON NOT NULL,
    UNIQUE (model_id, version))`,
  `CREATE TABLE IF NOT EXISTS benches (
    ${ID}, url VARCHAR(200) NOT NULL UNIQUE, name VARCHAR(120) NOT NULL, description JSON NULL, seen_at DATETIME(3) NULL)`,
  `CREATE TABLE IF NOT EXISTS states (
    ${ID}, unit_id ${REF} REFERENCES units (id), sheet_id ${REF} REFERENCES control_sheets (id), digest CHAR(64) NOT NULL,
    \`values\` JSON NOT NULL, UNIQUE (unit_id, sheet_id, digest))`,
  `CREATE TABLE IF NOT EXISTS sessions (
    ${ID}, unit_id ${REF} REFERENCES units (id), firmware_id ${REF} REFERENCES firmwares (id),
    sheet_id ${REF} REFERENCES control_sheets (id), bench_id ${REF} REFERENCES benches (id),
    viewing_case VARCHAR(40) NOT NULL CHECK (viewing_case IN
      ('sdr-dark', 'sdr-bright', 'hdr-film', 'hdr-film-dynamic', 'sdr-game', 'hdr-game', 'desktop')),
    base_mode VARCHAR(60) NOT NULL, target_luminance DOUBLE NOT NULL CHECK (target_luminance > 0),
    target_x DOUBLE NOT NULL CHECK (target_x BETWEEN 0 AND 1), target_y DOUBLE NOT NULL CHECK (target_y BETWEEN 0 AND 1),
    tone VARCHAR(20) NOT NULL, state_id ${REF} REFERENCES states (id), prepared BOOLEAN NOT NULL,
    left_stations JSON NOT NULL, revision INT UNSIGNED NOT NULL, created_at DATETIME(3) NOT NULL,
    updated_at DATETIME(3) NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS runs (
    ${ID}, session_id ${REF} REFERENCES sessions (id), bench_id ${REF} REFERENCES benches (id),
    purpose VARCHAR(20) NOT NULL CHECK (purpose IN ('prepare', 'factory', 'move', 'verify')),
    status VARCHAR(20) NOT NULL CHECK (status IN
      ('queued', 'running', 'paused', 'waiting', 'stopped', 'done', 'cancelled')),
    reason VARCHAR(500) NOT NULL, runner_token CHAR(36) NULL, lease_until DATETIME(3) NULL, meter JSON NULL,
    created_at DATETIME(3) NOT NULL, finished_at DATETIME(3) NULL,
    open_session INT UNSIGNED AS (IF(status IN ('done', 'cancelled'), NULL, session_id)) STORED UNIQUE,
    INDEX (status, lease_until), INDEX (session_id))`,
  `CREATE TABLE IF NOT EXISTS run_steps (
    run_id ${REF} REFERENCES runs (id), ordinal INT UNSIGNED NOT NULL,
    kind VARCHAR(10) NOT NULL CHECK (kind IN ('reset', 'set', 'read')), control VARCHAR(60) NULL, value JSON NULL,
    patch JSON NULL, outcome VARCHAR(10) NULL CHECK (outcome IS NULL OR outcome IN ('done', 'skipped')),
    finished_at DATETIME(3) NULL, PRIMARY KEY (run_id, ordinal),
    CHECK (kind <> 'set' OR (control IS NOT NULL AND value IS NOT NULL)), CHECK (kind <> 'read' OR patch IS NOT NULL))`,
  `CREATE TABLE IF NOT EXISTS readings (
    ${ID}, run_id ${REF}, step INT UNSIGNED NOT NULL, attempt INT UNSIGNED NOT NULL,
    state_id ${REF} REFERENCES states (id), patch_key VARCHAR(40) NOT NULL, patch JSON NOT NULL,
    x DOUBLE NULL, y DOUBLE NULL, z DOUBLE NULL, fault VARCHAR(20) NULL, raw VARCHAR(500) NULL,
    duration DOUBLE NOT NULL CHECK (duration >= 0), bench_seconds DOUBLE NOT NULL, \`signal\` JSON NOT NULL,
    taken_at DATETIME(3) NOT NULL,
    FOREIGN KEY (run_id, step) REFERENCES run_steps (run_id, ordinal),
    UNIQUE (run_id, step, attempt), INDEX (state_id),
    CHECK (fault IS NOT NULL OR (x IS NOT NULL AND y IS NOT NULL AND z IS NOT NULL)))`,
  `CREATE TABLE IF NOT EXISTS moves (
    ${ID}, session_id ${REF} REFERENCES sessions (id), run_id ${REF} UNIQUE REFERENCES runs (id),
    kind VARCHAR(20) NOT NULL CHECK (kind IN ('proposed', 'by-hand', 'put-back')),
    station VARCHAR(20) NOT NULL CHECK (station IN ${STATION}), changes JSON NOT NULL, purpose VARCHAR(300) NOT NULL,
    expected JSON NULL, predictions JSON NOT NULL, created_at DATETIME(3) NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS derived_values (
    ${ID}, session_id ${REF} REFERENCES sessions (id), state_id ${REF} REFERENCES states (id),
    control_key VARCHAR(60) NOT NULL, value JSON NOT NULL, station VARCHAR(20) NOT NULL CHECK (station IN ${STATION}),
    rule VARCHAR(300) NOT NULL, UNIQUE (session_id, state_id, control_key))`,
  `CREATE TABLE IF NOT EXISTS derived_value_readings (
    derived_id ${REF} REFERENCES derived_values (id), reading_id ${REF} REFERENCES readings (id),
    PRIMARY KEY (derived_id, reading_id))`,
  `CREATE TABLE IF NOT EXISTS guides (
    ${ID}, model_id ${REF} REFERENCES models (id), slug VARCHAR(100) NOT NULL UNIQUE)`,
  `CREATE TABLE IF NOT EXISTS guide_revisions (
    ${ID}, guide_id ${REF} REFERENCES guides (id), session_id ${REF} REFERENCES sessions (id),
    number INT UNSIGNED NOT NULL CHECK (number > 0), status VARCHAR(20) NOT NULL CHECK (status IN ('draft', 'published')),
    document JSON NOT NULL, created_at DATETIME(3) NOT NULL, published_at DATETIME(3) NULL,
    UNIQUE (guide_id, number), CHECK (status <> 'published' OR published_at IS NOT NULL))`,
  `CREATE TABLE IF NOT EXISTS guide_values (
    revision_id ${REF} REFERENCES guide_revisions (id), position INT UNSIGNED NOT NULL, control_key VARCHAR(60) NOT NULL,
    value JSON NOT NULL,
    transfer_class VARCHAR(20) NOT NULL CHECK (transfer_class IN ('copy', 'start-here', 'this-unit-only')),
    derived_id INT UNSIGNED NULL REFERENCES derived_values (id), PRIMARY KEY (revision_id, control_key))`,
  'CREATE TABLE IF NOT EXISTS settings (name VARCHAR(60) NOT NULL PRIMARY KEY, value VARCHAR(500) NOT NULL)',
]

export const steps: readonly MigrationStep[] = TABLES.map(
  (table) => `${table} ENGINE = InnoDB DEFAULT CHARSET = utf8mb4`,
)
