-- Tasks that come back. plan_id is none for those of the whole room; origin says which usual task it was made from.
CREATE TABLE tasks (
    id          TEXT PRIMARY KEY,
    plan_id     TEXT REFERENCES plans (id) ON DELETE CASCADE,
    animal_id   TEXT REFERENCES animals (id),
    kind        TEXT NOT NULL,
    title       TEXT NOT NULL,
    note        TEXT NOT NULL DEFAULT '',
    rule        TEXT NOT NULL,
    starts_on   TEXT NOT NULL,
    after_done  INTEGER NOT NULL CHECK (after_done IN (0, 1)),
    ends_on     TEXT,
    origin      TEXT NOT NULL DEFAULT '',
    stored_at   TEXT NOT NULL,
    removed_at  TEXT
) STRICT;
CREATE INDEX tasks_of_plans ON tasks (plan_id);

-- That a task was done or skipped: the day it was due, and the day that was. Days are those of the calendar.
CREATE TABLE marks (
    task_id     TEXT NOT NULL REFERENCES tasks (id) ON DELETE CASCADE,
    due_on      TEXT NOT NULL,
    kind        TEXT NOT NULL CHECK (kind IN ('done', 'skipped')),
    done_on     TEXT NOT NULL,
    reason      TEXT NOT NULL DEFAULT '',
    stored_at   TEXT NOT NULL,
    PRIMARY KEY (task_id, due_on)
) STRICT, WITHOUT ROWID;
CREATE INDEX marks_by_day ON marks (done_on);
