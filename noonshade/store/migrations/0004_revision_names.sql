-- A revision may have a name to find it by; most have none.
ALTER TABLE revisions ADD COLUMN name TEXT NOT NULL DEFAULT '';
