-- Recording in full: entries with a flat amount, expected time, a reference and
-- files; timers; week sheets; purchases that are shared out as expenses.

-- +goose Up

ALTER TABLE time_entries ADD COLUMN started_minute INTEGER; -- after midnight; NULL: a duration was given
ALTER TABLE time_entries ADD COLUMN ended_minute INTEGER;
ALTER TABLE time_entries ADD COLUMN expected_minutes INTEGER NOT NULL DEFAULT 0;
ALTER TABLE time_entries ADD COLUMN flat INTEGER; -- in place of hours × rate
ALTER TABLE time_entries ADD COLUMN reference TEXT NOT NULL DEFAULT '';
ALTER TABLE time_entries ADD COLUMN returns BOOLEAN NOT NULL DEFAULT FALSE; -- comes back on every bill
ALTER TABLE time_entries ADD COLUMN returned_from INTEGER REFERENCES time_entries(id); -- the one on the bill before
CREATE INDEX time_entries_by_day ON time_entries (day, id) WHERE removed = FALSE;

CREATE TABLE expense_categories (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, name TEXT NOT NULL UNIQUE, unit TEXT NOT NULL, per_unit INTEGER, markup INTEGER NOT NULL,
  disbursement BOOLEAN NOT NULL, expense_code TEXT NOT NULL, active BOOLEAN NOT NULL
);
INSERT INTO expense_categories (name, unit, per_unit, markup, disbursement, expense_code, active) VALUES
  ('Travel', '', NULL, 0, FALSE, 'E110', TRUE), ('Mileage', 'km', 3000, 0, FALSE, 'E109', TRUE), ('Meals', '', NULL, 0, FALSE, 'E111', TRUE),
  ('Copies and prints', '', NULL, 0, FALSE, 'E101', TRUE), ('Post and courier', '', NULL, 0, FALSE, 'E107', TRUE),
  ('Materials', '', NULL, 0, FALSE, 'E124', TRUE), ('Fee paid for the client', '', NULL, 0, TRUE, 'E112', TRUE);

-- A purchase is what was paid; its shares are the expenses, each on an engagement
-- or, without one, the firm's own cost.
CREATE TABLE purchases (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, person_id INTEGER NOT NULL REFERENCES people(id), category_id INTEGER NOT NULL REFERENCES expense_categories(id),
  day TEXT NOT NULL, supplier TEXT NOT NULL, text TEXT NOT NULL, reference TEXT NOT NULL, paid TEXT NOT NULL, cost INTEGER NOT NULL, currency TEXT NOT NULL,
  paid_by TEXT NOT NULL CHECK (paid_by IN ('firm', 'person')), removed BOOLEAN NOT NULL DEFAULT FALSE
);
CREATE INDEX purchases_of_person ON purchases (person_id, day);
CREATE TABLE expenses (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, purchase_id INTEGER NOT NULL REFERENCES purchases(id), position INTEGER NOT NULL,
  engagement_id INTEGER REFERENCES engagements(id), phase_id INTEGER REFERENCES phases(id), day TEXT NOT NULL, -- of use: a bill's cut-off looks at it
  text TEXT NOT NULL, note TEXT NOT NULL, treatment TEXT NOT NULL, markup INTEGER NOT NULL,
  cost INTEGER NOT NULL, standard INTEGER NOT NULL, agreed INTEGER NOT NULL, currency TEXT NOT NULL, valued TEXT NOT NULL,
  returns BOOLEAN NOT NULL DEFAULT FALSE, returned_from INTEGER REFERENCES expenses(id), removed BOOLEAN NOT NULL DEFAULT FALSE
);
CREATE INDEX expenses_of_purchase ON expenses (purchase_id);
CREATE INDEX expenses_by_day ON expenses (day, id) WHERE removed = FALSE;
CREATE INDEX expenses_of_engagement ON expenses (engagement_id, day) WHERE removed = FALSE;

CREATE TABLE source_files (
  source TEXT NOT NULL CHECK (source IN ('time', 'purchase')), source_id INTEGER NOT NULL, position INTEGER NOT NULL,
  digest TEXT NOT NULL REFERENCES files(digest), name TEXT NOT NULL, PRIMARY KEY (source, source_id, position)
);
CREATE INDEX source_files_by_digest ON source_files (digest);

CREATE TABLE timers (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, person_id INTEGER NOT NULL REFERENCES people(id), engagement_id INTEGER NOT NULL REFERENCES engagements(id),
  service_id INTEGER NOT NULL REFERENCES services(id), phase_id INTEGER REFERENCES phases(id), treatment TEXT NOT NULL, text TEXT NOT NULL,
  entry_id INTEGER REFERENCES time_entries(id), -- the entry that it goes on with
  running_since TIMESTAMP, stopped BOOLEAN NOT NULL DEFAULT FALSE
);
CREATE INDEX timers_of_person ON timers (person_id) WHERE stopped = FALSE;
CREATE UNIQUE INDEX one_timer_runs ON timers (person_id) WHERE running_since IS NOT NULL AND stopped = FALSE;
CREATE TABLE timer_runs (timer_id INTEGER NOT NULL REFERENCES timers(id), began_at TIMESTAMP NOT NULL, ended_at TIMESTAMP NOT NULL);
CREATE INDEX runs_of_timer ON timer_runs (timer_id);

CREATE TABLE week_sheets (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, person_id INTEGER NOT NULL REFERENCES people(id), monday TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('open', 'submitted', 'approved')), sent_back TEXT NOT NULL DEFAULT '', UNIQUE (person_id, monday)
);
CREATE INDEX week_sheets_submitted ON week_sheets (monday) WHERE state = 'submitted';

-- What many entries were before an act changed them together, so that the act can
-- be undone as one.
CREATE TABLE changes_together (act_id INTEGER NOT NULL, entry_id INTEGER NOT NULL, before TEXT NOT NULL, after_version INTEGER NOT NULL, PRIMARY KEY (act_id, entry_id));

-- +goose Down
SELECT 1; -- a database never goes back: restore the backup that was made before the migration
