-- The keeper's own species and own views of shipped ones, each a whole species document, with every
-- document it ever had.
CREATE TABLE species (
    id          TEXT PRIMARY KEY,
    label       TEXT NOT NULL,
    head        INTEGER NOT NULL CHECK (head >= 1),
    updated_at  TEXT NOT NULL,
    removed_at  TEXT
) STRICT;

CREATE TABLE species_revisions (
    species_id  TEXT NOT NULL REFERENCES species (id) ON DELETE CASCADE,
    number      INTEGER NOT NULL CHECK (number >= 1),
    document    TEXT NOT NULL,
    created_at  TEXT NOT NULL,
    PRIMARY KEY (species_id, number)
) STRICT;
