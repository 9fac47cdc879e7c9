-- Lamps as things: one row each, whatever box it hangs in. hours_before is what it had burned before it was registered.
CREATE TABLE units (
    id            TEXT PRIMARY KEY,
    label         TEXT NOT NULL,
    lamp_id       TEXT NOT NULL,
    power_w       REAL NOT NULL CHECK (power_w > 0),
    installed_on  TEXT,
    hours_before  REAL NOT NULL CHECK (hours_before >= 0),
    retired_on    TEXT,
    note          TEXT NOT NULL DEFAULT '',
    stored_at     TEXT NOT NULL,
    removed_at    TEXT
) STRICT;

-- Where each hung, from a day to a day; ended_on is none while it hangs there.
CREATE TABLE hangings (
    id            TEXT PRIMARY KEY,
    unit_id       TEXT NOT NULL REFERENCES units (id) ON DELETE CASCADE,
    plan_id       TEXT NOT NULL REFERENCES plans (id) ON DELETE CASCADE,
    fixture_id    TEXT NOT NULL,
    began_on      TEXT NOT NULL,
    ended_on      TEXT,
    stored_at     TEXT NOT NULL,
    removed_at    TEXT
) STRICT;
CREATE INDEX hangings_of_units ON hangings (unit_id, began_on);
CREATE INDEX hangings_of_plans ON hangings (plan_id);
-- A lamp hangs in one place at a time, and a fixture holds one lamp.
CREATE UNIQUE INDEX hangs_once ON hangings (unit_id) WHERE ended_on IS NULL AND removed_at IS NULL;
CREATE UNIQUE INDEX holds_one ON hangings (plan_id, fixture_id) WHERE ended_on IS NULL AND removed_at IS NULL;
