-- A box run for some days before an animal moves in, and the sheet it was signed off with (JSON).
CREATE TABLE trials (
    id          TEXT PRIMARY KEY,
    plan_id     TEXT NOT NULL REFERENCES plans (id) ON DELETE CASCADE,
    started_on  TEXT NOT NULL,
    days        INTEGER NOT NULL CHECK (days BETWEEN 1 AND 60),
    created_at  TEXT NOT NULL,
    signed_at   TEXT,
    signed_by   TEXT,
    remarks     TEXT NOT NULL DEFAULT '',
    revision    INTEGER,
    sheet       TEXT
) STRICT;
CREATE INDEX trials_of_plans ON trials (plan_id, created_at);

-- What the animal was seen to do: minutes basking in an hour, or where it sat at a time.
CREATE TABLE sightings (
    id          TEXT PRIMARY KEY,
    plan_id     TEXT NOT NULL REFERENCES plans (id) ON DELETE CASCADE,
    kind        TEXT NOT NULL CHECK (kind IN ('basking', 'seat', 'gaping', 'hidden')),
    at          TEXT NOT NULL,
    minutes     REAL,
    x_m         REAL,
    y_m         REAL,
    z_m         REAL,
    note        TEXT NOT NULL DEFAULT '',
    stored_at   TEXT NOT NULL,
    removed_at  TEXT
) STRICT;
CREATE INDEX sightings_of_plans ON sightings (plan_id, at);
