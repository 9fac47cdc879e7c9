-- The picture of a plan in 3D for its report: the last one that was taken, and the revision it shows.
CREATE TABLE pictures (
    plan_id  TEXT NOT NULL PRIMARY KEY REFERENCES plans (id) ON DELETE CASCADE,
    revision INTEGER NOT NULL,
    jpeg     BLOB NOT NULL,
    taken_at TEXT NOT NULL
) STRICT;
