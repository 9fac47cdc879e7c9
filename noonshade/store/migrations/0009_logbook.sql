-- Animals as individuals. plan_id is the box one lives in now, none when it left or waits.
CREATE TABLE animals (
    id          TEXT PRIMARY KEY,
    name        TEXT NOT NULL,
    plan_id     TEXT REFERENCES plans (id) ON DELETE SET NULL,
    species_id  TEXT NOT NULL,
    sex         TEXT NOT NULL CHECK (sex IN ('unknown', 'female', 'male')),
    hatched_on  TEXT,
    came_on     TEXT,
    left_on     TEXT,
    note        TEXT NOT NULL DEFAULT '',
    stored_at   TEXT NOT NULL,
    removed_at  TEXT
) STRICT;
CREATE INDEX animals_of_plans ON animals (plan_id);

-- The logbook. at is as it was written, with its offset; at_utc orders. value is g for a weight, m for a length.
CREATE TABLE entries (
    number      INTEGER PRIMARY KEY,
    id          TEXT NOT NULL UNIQUE,
    plan_id     TEXT REFERENCES plans (id) ON DELETE CASCADE,
    animal_id   TEXT REFERENCES animals (id),
    kind        TEXT NOT NULL,
    at          TEXT NOT NULL,
    at_utc      TEXT NOT NULL,
    value       REAL,
    food        TEXT NOT NULL DEFAULT '',
    outcome     TEXT NOT NULL DEFAULT '',
    text        TEXT NOT NULL DEFAULT '',
    stored_at   TEXT NOT NULL,
    removed_at  TEXT
) STRICT;
CREATE INDEX entries_of_plans ON entries (plan_id, at_utc);
CREATE INDEX entries_of_animals ON entries (animal_id, at_utc);
CREATE INDEX entries_in_order ON entries (at_utc);

-- The words of the logbook, kept in step by the triggers.
CREATE VIRTUAL TABLE entry_words USING fts5 (
    text, food, content = 'entries', content_rowid = 'number', tokenize = 'unicode61 remove_diacritics 2'
);
CREATE TRIGGER entries_written AFTER INSERT ON entries BEGIN
    INSERT INTO entry_words (rowid, text, food) VALUES (new.number, new.text, new.food);
END;
CREATE TRIGGER entries_erased AFTER DELETE ON entries BEGIN
    INSERT INTO entry_words (entry_words, rowid, text, food) VALUES ('delete', old.number, old.text, old.food);
END;
CREATE TRIGGER entries_changed AFTER UPDATE ON entries BEGIN
    INSERT INTO entry_words (entry_words, rowid, text, food) VALUES ('delete', old.number, old.text, old.food);
    INSERT INTO entry_words (rowid, text, food) VALUES (new.number, new.text, new.food);
END;

-- Photographs of entries. The picture itself is a file named by its hash, which never changes.
CREATE TABLE photos (
    id          TEXT PRIMARY KEY,
    entry_id    TEXT NOT NULL REFERENCES entries (id) ON DELETE CASCADE,
    hash        TEXT NOT NULL CHECK (length(hash) = 64),
    width       INTEGER NOT NULL,
    height      INTEGER NOT NULL,
    caption     TEXT NOT NULL DEFAULT '',
    stored_at   TEXT NOT NULL,
    removed_at  TEXT
) STRICT;
CREATE INDEX photos_of_entries ON photos (entry_id);
