-- Days are ISO 8601 text, instants UTC, amounts whole minor units of the row's
-- currency, rates and percentages in ten-thousandths, exchange rates in
-- hundred-millionths.

-- +goose Up

CREATE TABLE issuing_entities (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0,
  name TEXT NOT NULL, legal_name TEXT NOT NULL, address TEXT NOT NULL, tax_number TEXT NOT NULL, mail TEXT NOT NULL,
  bank_name TEXT NOT NULL, iban TEXT NOT NULL, bic TEXT NOT NULL
);

CREATE TABLE series (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0,
  entity_id INTEGER NOT NULL REFERENCES issuing_entities(id),
  kind TEXT NOT NULL CHECK (kind IN ('invoice', 'credit_note')),
  prefix TEXT NOT NULL, first_number INTEGER NOT NULL, next_number INTEGER NOT NULL,
  UNIQUE (entity_id, kind, prefix)
);

CREATE TABLE tax_codes (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0,
  code TEXT NOT NULL UNIQUE, name TEXT NOT NULL, category TEXT NOT NULL, notice TEXT NOT NULL DEFAULT ''
);

CREATE TABLE tax_rates (
  id INTEGER PRIMARY KEY, tax_code_id INTEGER NOT NULL REFERENCES tax_codes(id),
  from_day TEXT NOT NULL, percent INTEGER NOT NULL, UNIQUE (tax_code_id, from_day)
);

CREATE TABLE firm (
  id INTEGER PRIMARY KEY CHECK (id = 1), version INTEGER NOT NULL DEFAULT 0,
  name TEXT NOT NULL, currency TEXT NOT NULL, time_zone TEXT NOT NULL, decimal_mark TEXT NOT NULL,
  increment_minutes INTEGER NOT NULL, rounding TEXT NOT NULL, minimum_minutes INTEGER NOT NULL,
  terms TEXT NOT NULL, tax_code_id INTEGER NOT NULL REFERENCES tax_codes(id), closing_day TEXT NOT NULL DEFAULT ''
);

CREATE TABLE exchange_rates (
  id INTEGER PRIMARY KEY, currency TEXT NOT NULL, day TEXT NOT NULL, rate INTEGER NOT NULL, source TEXT NOT NULL,
  UNIQUE (currency, day)
);

CREATE TABLE grades (id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, name TEXT NOT NULL UNIQUE);

CREATE TABLE people (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0,
  name TEXT NOT NULL, initials TEXT NOT NULL UNIQUE, mail TEXT NOT NULL UNIQUE, password_hash TEXT NOT NULL,
  role TEXT NOT NULL CHECK (role IN ('administrator', 'lead', 'staff', 'owner')),
  grade_id INTEGER REFERENCES grades(id), entity_id INTEGER NOT NULL REFERENCES issuing_entities(id),
  weekly_minutes INTEGER NOT NULL, active BOOLEAN NOT NULL
);

CREATE TABLE services (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0,
  code TEXT NOT NULL UNIQUE, name TEXT NOT NULL, active BOOLEAN NOT NULL
);

CREATE TABLE clients (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0,
  code TEXT NOT NULL UNIQUE, name TEXT NOT NULL, invoice_name TEXT NOT NULL, address TEXT NOT NULL, tax_number TEXT NOT NULL,
  mail TEXT NOT NULL, currency TEXT NOT NULL, terms TEXT NOT NULL DEFAULT '', tax_code_id INTEGER REFERENCES tax_codes(id),
  combined BOOLEAN NOT NULL, active BOOLEAN NOT NULL
);

CREATE TABLE engagements (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0,
  client_id INTEGER NOT NULL REFERENCES clients(id), entity_id INTEGER NOT NULL REFERENCES issuing_entities(id),
  series_id INTEGER REFERENCES series(id), -- NULL: the first of the entity
  code TEXT NOT NULL UNIQUE, name TEXT NOT NULL, reference TEXT NOT NULL, arrangement TEXT NOT NULL,
  lead_id INTEGER NOT NULL REFERENCES people(id), currency TEXT NOT NULL, terms TEXT NOT NULL DEFAULT '',
  tax_code_id INTEGER REFERENCES tax_codes(id),
  increment_minutes INTEGER, rounding TEXT NOT NULL DEFAULT '', minimum_minutes INTEGER,
  billable BOOLEAN NOT NULL, opened_day TEXT NOT NULL, closed_day TEXT NOT NULL DEFAULT '', active BOOLEAN NOT NULL
);
CREATE INDEX engagements_of_client ON engagements (client_id);

CREATE TABLE rates (
  id INTEGER PRIMARY KEY, kind TEXT NOT NULL CHECK (kind IN ('bill', 'cost')),
  level INTEGER NOT NULL, card INTEGER NOT NULL DEFAULT 0,
  service_id INTEGER REFERENCES services(id), grade_id INTEGER REFERENCES grades(id), person_id INTEGER REFERENCES people(id),
  client_id INTEGER REFERENCES clients(id), engagement_id INTEGER REFERENCES engagements(id),
  currency TEXT NOT NULL, from_day TEXT NOT NULL, per_hour INTEGER -- NULL: none from this day
);
CREATE INDEX rates_by_subject ON rates (kind, currency, level);

-- Acts are the history: one row for everything that somebody did, with the
-- things that it concerned. Movements name the act that made them.

CREATE TABLE acts (
  id INTEGER PRIMARY KEY, kind TEXT NOT NULL, person_id INTEGER REFERENCES people(id),
  at TIMESTAMP NOT NULL, business_day TEXT NOT NULL, summary TEXT NOT NULL, reason TEXT NOT NULL DEFAULT '',
  before TEXT NOT NULL DEFAULT '', after TEXT NOT NULL DEFAULT ''
);

CREATE TABLE act_subjects (
  act_id INTEGER NOT NULL REFERENCES acts(id) DEFERRABLE INITIALLY DEFERRED,
  subject TEXT NOT NULL, subject_id INTEGER NOT NULL, PRIMARY KEY (subject, subject_id, act_id)
);

CREATE TABLE idempotency (
  person_id INTEGER NOT NULL, key TEXT NOT NULL, act TEXT NOT NULL, body_digest TEXT NOT NULL,
  result TEXT NOT NULL, at TIMESTAMP NOT NULL, PRIMARY KEY (person_id, key)
);

CREATE TABLE files (
  digest TEXT PRIMARY KEY, bytes INTEGER NOT NULL, media_type TEXT NOT NULL, at TIMESTAMP NOT NULL
);

-- Sources say what happened; billing acts on portions of them.

CREATE TABLE time_entries (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0,
  person_id INTEGER NOT NULL REFERENCES people(id), engagement_id INTEGER NOT NULL REFERENCES engagements(id),
  service_id INTEGER NOT NULL REFERENCES services(id), day TEXT NOT NULL,
  worked_minutes INTEGER NOT NULL, not_billable_minutes INTEGER NOT NULL, markup INTEGER NOT NULL, treatment TEXT NOT NULL,
  text TEXT NOT NULL, note TEXT NOT NULL, approval TEXT NOT NULL DEFAULT 'open' CHECK (approval IN ('open', 'submitted', 'approved')),
  billed_minutes INTEGER NOT NULL, standard INTEGER NOT NULL, agreed INTEGER NOT NULL, currency TEXT NOT NULL,
  valued TEXT NOT NULL, removed BOOLEAN NOT NULL DEFAULT FALSE
);
CREATE INDEX time_entries_of_week ON time_entries (person_id, day);

CREATE TABLE invoices (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0,
  entity_id INTEGER NOT NULL REFERENCES issuing_entities(id), series_id INTEGER NOT NULL REFERENCES series(id),
  client_id INTEGER NOT NULL REFERENCES clients(id), currency TEXT NOT NULL,
  number INTEGER, number_text TEXT NOT NULL DEFAULT '', state TEXT NOT NULL, revision INTEGER NOT NULL DEFAULT 0,
  up_to_day TEXT NOT NULL, dated TEXT NOT NULL, due_day TEXT NOT NULL, tax_day TEXT NOT NULL, terms TEXT NOT NULL,
  lines INTEGER NOT NULL, net INTEGER NOT NULL, tax INTEGER NOT NULL, total INTEGER NOT NULL, due INTEGER NOT NULL,
  exchange_rate INTEGER NOT NULL, exchange_source TEXT NOT NULL, net_firm INTEGER NOT NULL, total_firm INTEGER NOT NULL,
  UNIQUE (series_id, number)
);
CREATE INDEX invoices_by_state ON invoices (state);
CREATE INDEX invoices_of_client ON invoices (client_id);

CREATE TABLE invoice_engagements (
  invoice_id INTEGER NOT NULL REFERENCES invoices(id), engagement_id INTEGER NOT NULL REFERENCES engagements(id),
  PRIMARY KEY (invoice_id, engagement_id)
);
CREATE INDEX invoices_of_engagement ON invoice_engagements (engagement_id);

CREATE TABLE invoice_lines (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0,
  invoice_id INTEGER NOT NULL REFERENCES invoices(id), engagement_id INTEGER NOT NULL REFERENCES engagements(id),
  kind TEXT NOT NULL, tax_code_id INTEGER NOT NULL REFERENCES tax_codes(id),
  day TEXT NOT NULL, person_id INTEGER REFERENCES people(id), text TEXT NOT NULL,
  minutes INTEGER NOT NULL, per_hour INTEGER, amount INTEGER NOT NULL, currency TEXT NOT NULL, treatment TEXT NOT NULL
);
CREATE INDEX lines_of_invoice ON invoice_lines (invoice_id);

CREATE TABLE portions (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0,
  source TEXT NOT NULL CHECK (source IN ('time', 'expense', 'charge')), source_id INTEGER NOT NULL,
  engagement_id INTEGER NOT NULL REFERENCES engagements(id), worked_day TEXT NOT NULL, treatment TEXT NOT NULL,
  minutes INTEGER NOT NULL, standard INTEGER NOT NULL, agreed INTEGER NOT NULL, currency TEXT NOT NULL, without_rate BOOLEAN NOT NULL,
  hold TEXT NOT NULL DEFAULT 'none' CHECK (hold IN ('none', 'until_day', 'until_released')), hold_until TEXT NOT NULL DEFAULT '',
  billing TEXT NOT NULL CHECK (billing IN ('unbilled', 'reserved', 'billed', 'written_off', 'not_billable')),
  line_id INTEGER REFERENCES invoice_lines(id), removed BOOLEAN NOT NULL DEFAULT FALSE
);
CREATE INDEX portions_of_source ON portions (source, source_id);
CREATE INDEX portions_of_line ON portions (line_id) WHERE line_id IS NOT NULL;
CREATE INDEX portions_unbilled ON portions (engagement_id, worked_day) WHERE billing = 'unbilled' AND removed = FALSE;

CREATE TABLE invoice_revisions (
  id INTEGER PRIMARY KEY, invoice_id INTEGER NOT NULL REFERENCES invoices(id), revision INTEGER NOT NULL,
  act_id INTEGER NOT NULL REFERENCES acts(id) DEFERRABLE INITIALLY DEFERRED,
  content TEXT NOT NULL, explanation TEXT NOT NULL, digest TEXT NOT NULL REFERENCES files(digest), UNIQUE (invoice_id, revision)
);

CREATE TABLE instalments (
  id INTEGER PRIMARY KEY, invoice_id INTEGER NOT NULL REFERENCES invoices(id), revision INTEGER NOT NULL, position INTEGER NOT NULL,
  due_day TEXT NOT NULL, amount INTEGER NOT NULL, currency TEXT NOT NULL, UNIQUE (invoice_id, revision, position)
);

-- The two ledgers. A row moves what it says from one bucket to another.

CREATE TABLE work_movements (
  id INTEGER PRIMARY KEY, act_id INTEGER NOT NULL REFERENCES acts(id) DEFERRABLE INITIALLY DEFERRED,
  kind TEXT NOT NULL, portion_id INTEGER NOT NULL REFERENCES portions(id), engagement_id INTEGER NOT NULL REFERENCES engagements(id),
  invoice_id INTEGER REFERENCES invoices(id), effective_day TEXT NOT NULL, recorded_at TIMESTAMP NOT NULL,
  from_bucket TEXT NOT NULL, to_bucket TEXT NOT NULL,
  minutes INTEGER NOT NULL, standard INTEGER NOT NULL, agreed INTEGER NOT NULL, currency TEXT NOT NULL
);
CREATE INDEX work_movements_of_portion ON work_movements (portion_id);
CREATE INDEX work_movements_of_engagement ON work_movements (engagement_id, effective_day);

CREATE TABLE money_movements (
  id INTEGER PRIMARY KEY, act_id INTEGER NOT NULL REFERENCES acts(id) DEFERRABLE INITIALLY DEFERRED,
  kind TEXT NOT NULL, invoice_id INTEGER REFERENCES invoices(id), instalment_id INTEGER REFERENCES instalments(id),
  client_id INTEGER NOT NULL REFERENCES clients(id), entity_id INTEGER NOT NULL REFERENCES issuing_entities(id),
  effective_day TEXT NOT NULL, recorded_at TIMESTAMP NOT NULL, from_bucket TEXT NOT NULL, to_bucket TEXT NOT NULL,
  amount INTEGER NOT NULL, currency TEXT NOT NULL, firm_amount INTEGER NOT NULL
);
CREATE INDEX money_movements_of_invoice ON money_movements (invoice_id);
CREATE INDEX money_movements_of_client ON money_movements (client_id, effective_day);

CREATE TABLE sessions (token TEXT PRIMARY KEY, data BLOB NOT NULL, expiry REAL NOT NULL);
CREATE INDEX sessions_expiry ON sessions (expiry);

-- What is written in a ledger, in the history or in a revision stays.
-- +goose StatementBegin
CREATE TRIGGER acts_stay BEFORE UPDATE ON acts BEGIN SELECT RAISE(ABORT, 'history is never changed'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER acts_never_go BEFORE DELETE ON acts BEGIN SELECT RAISE(ABORT, 'history is never deleted'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER work_movements_stay BEFORE UPDATE ON work_movements BEGIN SELECT RAISE(ABORT, 'movements are never changed'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER work_movements_never_go BEFORE DELETE ON work_movements BEGIN SELECT RAISE(ABORT, 'movements are never deleted'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER money_movements_stay BEFORE UPDATE ON money_movements BEGIN SELECT RAISE(ABORT, 'movements are never changed'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER money_movements_never_go BEFORE DELETE ON money_movements BEGIN SELECT RAISE(ABORT, 'movements are never deleted'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_revisions_stay BEFORE UPDATE ON invoice_revisions BEGIN SELECT RAISE(ABORT, 'revisions are never changed'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_revisions_never_go BEFORE DELETE ON invoice_revisions BEGIN SELECT RAISE(ABORT, 'revisions are never deleted'); END;
-- +goose StatementEnd

-- +goose Down
SELECT 1; -- a database never goes back: restore the backup that was made before the migration
