-- Tables and columns under the names the rest of the program uses.
ALTER TABLE trials RENAME TO commissioning_tests;
DROP INDEX trials_of_plans;
CREATE INDEX commissioning_tests_of_plans ON commissioning_tests (plan_id, created_at);

ALTER TABLE units RENAME TO installed_lamps;
ALTER TABLE hangings RENAME TO installations;
ALTER TABLE installations RENAME COLUMN unit_id TO installed_lamp_id;
DROP INDEX hangings_of_units;
DROP INDEX hangings_of_plans;
DROP INDEX hangs_once;
DROP INDEX holds_one;
CREATE INDEX installations_of_lamps ON installations (installed_lamp_id, began_on);
CREATE INDEX installations_of_plans ON installations (plan_id);
-- A lamp is installed in one place at a time, and a fixture holds one lamp.
CREATE UNIQUE INDEX one_place_per_lamp ON installations (installed_lamp_id)
    WHERE ended_on IS NULL AND removed_at IS NULL;
CREATE UNIQUE INDEX one_lamp_per_fixture ON installations (plan_id, fixture_id)
    WHERE ended_on IS NULL AND removed_at IS NULL;

ALTER TABLE readings RENAME COLUMN left_out TO excluded;
ALTER TABLE imports RENAME COLUMN kept TO stored;

UPDATE settings SET name = 'enclosure-roles' WHERE name = 'box-uses';
