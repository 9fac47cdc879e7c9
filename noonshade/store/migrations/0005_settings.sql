-- What is set once for the whole room, one JSON text a name.
CREATE TABLE settings (
    name        TEXT PRIMARY KEY,
    document    TEXT NOT NULL,
    updated_at  TEXT NOT NULL
) STRICT;
