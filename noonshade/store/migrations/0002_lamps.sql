-- The keeper's own lamps, each a whole lamp document, and every document it ever had.
CREATE TABLE lamps (
    id          TEXT PRIMARY KEY,
    label       TEXT NOT NULL,
    head        INTEGER NOT NULL CHECK (head >= 1),
    updated_at  TEXT NOT NULL,
    removed_at  TEXT
) STRICT;

CREATE TABLE lamp_revisions (
    lamp_id     TEXT NOT NULL REFERENCES lamps (id) ON DELETE CASCADE,
    number      INTEGER NOT NULL CHECK (number >= 1),
    document    TEXT NOT NULL,
    created_at  TEXT NOT NULL,
    PRIMARY KEY (lamp_id, number)
) STRICT;
