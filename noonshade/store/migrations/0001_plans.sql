-- Plans, and every document they ever had.
CREATE TABLE plans (
    id          TEXT PRIMARY KEY,
    name        TEXT NOT NULL,
    head        INTEGER NOT NULL,
    created_at  TEXT NOT NULL,
    updated_at  TEXT NOT NULL,
    removed_at  TEXT
) STRICT;

-- kind 'saved': was the head once. kind 'refused': a save against an old revision, kept beside.
CREATE TABLE revisions (
    plan_id     TEXT NOT NULL REFERENCES plans (id) ON DELETE CASCADE,
    number      INTEGER NOT NULL CHECK (number >= 1),
    base        INTEGER,
    kind        TEXT NOT NULL CHECK (kind IN ('saved', 'refused')),
    summary     TEXT NOT NULL,
    document    TEXT NOT NULL,
    created_at  TEXT NOT NULL,
    PRIMARY KEY (plan_id, number)
) STRICT;

CREATE INDEX revisions_newest ON revisions (plan_id, number DESC);
