-- The keeper's own instruments. How far one may be off is in the unit of its readings, as its maker states it.
CREATE TABLE instruments (
    id          TEXT PRIMARY KEY,
    label       TEXT NOT NULL,
    kind        TEXT NOT NULL,
    accuracy    REAL CHECK (accuracy > 0),
    calibrated  TEXT,
    updated_at  TEXT NOT NULL,
    removed_at  TEXT
) STRICT;

-- A round of readings that was proposed for a plan, with what each was foreseen to be, as JSON.
CREATE TABLE rounds (
    id          TEXT PRIMARY KEY,
    plan_id     TEXT NOT NULL REFERENCES plans (id) ON DELETE CASCADE,
    revision    INTEGER NOT NULL,
    tasks       TEXT NOT NULL,
    started_at  TEXT NOT NULL,
    closed_at   TEXT
) STRICT;
CREATE INDEX rounds_of_plans ON rounds (plan_id, started_at);

-- Readings. The id is made where the reading was taken, so one that is sent twice is stored once.
CREATE TABLE readings (
    id            TEXT PRIMARY KEY,
    plan_id       TEXT NOT NULL REFERENCES plans (id) ON DELETE CASCADE,
    round_id      TEXT REFERENCES rounds (id) ON DELETE SET NULL,
    task          TEXT,
    revision      INTEGER NOT NULL,
    kind          TEXT NOT NULL,
    value         REAL NOT NULL,
    x_m           REAL,
    y_m           REAL,
    z_m           REAL,
    place         TEXT NOT NULL,
    taken_at      TEXT NOT NULL,
    instrument_id TEXT REFERENCES instruments (id),
    source        TEXT NOT NULL,
    note          TEXT NOT NULL DEFAULT '',
    left_out      INTEGER NOT NULL DEFAULT 0 CHECK (left_out IN (0, 1)),
    stored_at     TEXT NOT NULL,
    removed_at    TEXT
) STRICT;
CREATE INDEX readings_of_plans ON readings (plan_id, taken_at);
