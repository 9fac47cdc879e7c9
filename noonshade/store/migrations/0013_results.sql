-- What the model says of stored revisions, as JSON text. ``fingerprint`` is of everything it was computed
-- from, ``uses`` names the own lamps and species among it.
CREATE TABLE results (
    plan_id     TEXT NOT NULL,
    revision    INTEGER NOT NULL,
    kind        TEXT NOT NULL CHECK (kind IN ('checks', 'forecast')),
    fingerprint TEXT NOT NULL,
    uses        TEXT NOT NULL,
    document    TEXT NOT NULL,
    computed_at TEXT NOT NULL,
    PRIMARY KEY (plan_id, revision, kind),
    FOREIGN KEY (plan_id, revision) REFERENCES revisions (plan_id, number) ON DELETE CASCADE
) STRICT;
