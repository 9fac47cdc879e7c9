-- Loggers that stay in a box: where, how their files are read (JSON), and the key by which a device posts.
CREATE TABLE loggers (
    id          TEXT PRIMARY KEY,
    plan_id     TEXT NOT NULL REFERENCES plans (id) ON DELETE CASCADE,
    label       TEXT NOT NULL,
    place       TEXT NOT NULL,
    x_m         REAL NOT NULL,
    y_m         REAL NOT NULL,
    z_m         REAL NOT NULL,
    zone        TEXT NOT NULL,
    mapping     TEXT,
    key_hash    TEXT UNIQUE,
    created_at  TEXT NOT NULL,
    removed_at  TEXT
) STRICT;
CREATE INDEX loggers_of_plans ON loggers (plan_id);

-- Files that were taken in, so that one can be taken out again.
CREATE TABLE imports (
    id          TEXT PRIMARY KEY,
    logger_id   TEXT NOT NULL REFERENCES loggers (id) ON DELETE CASCADE,
    name        TEXT NOT NULL,
    kept        INTEGER NOT NULL,
    repeated    INTEGER NOT NULL,
    refused     INTEGER NOT NULL,
    taken_at    TEXT NOT NULL
) STRICT;
CREATE INDEX imports_of_loggers ON imports (logger_id, taken_at);

-- What loggers recorded; one row a time, so that the same is never taken twice. Times are UTC to the second.
CREATE TABLE logged (
    logger_id         TEXT NOT NULL REFERENCES loggers (id) ON DELETE CASCADE,
    at                TEXT NOT NULL,
    temperature_c     REAL,
    relative_humidity REAL,
    import_id         TEXT REFERENCES imports (id) ON DELETE CASCADE,
    PRIMARY KEY (logger_id, at)
) STRICT, WITHOUT ROWID;
CREATE INDEX logged_of_imports ON logged (import_id);
