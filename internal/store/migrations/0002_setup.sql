-- What a firm sets up: the billing profile that stacks up from firm to client to
-- engagement, contacts, phases, budgets, rate cards, accounts, imports.

-- +goose Up

-- One row is one value that was set on one layer; what is not here is inherited.
CREATE TABLE profile_values (
  id INTEGER PRIMARY KEY, scope TEXT NOT NULL CHECK (scope IN ('firm', 'client', 'engagement')),
  subject_id INTEGER NOT NULL, name TEXT NOT NULL, value TEXT NOT NULL, UNIQUE (scope, subject_id, name)
);

CREATE INDEX profile_values_by_name ON profile_values (name);

INSERT INTO profile_values (scope, subject_id, name, value) SELECT 'firm', 1, 'terms', terms FROM firm;
INSERT INTO profile_values (scope, subject_id, name, value) SELECT 'firm', 1, 'increment', increment_minutes FROM firm;
INSERT INTO profile_values (scope, subject_id, name, value) SELECT 'firm', 1, 'rounding', rounding FROM firm;
INSERT INTO profile_values (scope, subject_id, name, value) SELECT 'firm', 1, 'minimum', minimum_minutes FROM firm;
INSERT INTO profile_values (scope, subject_id, name, value)
  SELECT 'firm', 1, 'tax_code', t.code FROM firm f JOIN tax_codes t ON t.id = f.tax_code_id;
INSERT INTO profile_values (scope, subject_id, name, value) SELECT 'client', id, 'terms', terms FROM clients WHERE terms <> '';
INSERT INTO profile_values (scope, subject_id, name, value)
  SELECT 'client', id, 'combined', CASE WHEN combined THEN 'yes' ELSE 'no' END FROM clients;
INSERT INTO profile_values (scope, subject_id, name, value)
  SELECT 'client', c.id, 'tax_code', t.code FROM clients c JOIN tax_codes t ON t.id = c.tax_code_id;
INSERT INTO profile_values (scope, subject_id, name, value) SELECT 'engagement', id, 'terms', terms FROM engagements WHERE terms <> '';
INSERT INTO profile_values (scope, subject_id, name, value)
  SELECT 'engagement', id, 'increment', increment_minutes FROM engagements WHERE increment_minutes IS NOT NULL;
INSERT INTO profile_values (scope, subject_id, name, value) SELECT 'engagement', id, 'rounding', rounding FROM engagements WHERE rounding <> '';
INSERT INTO profile_values (scope, subject_id, name, value)
  SELECT 'engagement', id, 'minimum', minimum_minutes FROM engagements WHERE minimum_minutes IS NOT NULL;
INSERT INTO profile_values (scope, subject_id, name, value)
  SELECT 'engagement', e.id, 'tax_code', t.code FROM engagements e JOIN tax_codes t ON t.id = e.tax_code_id;

ALTER TABLE firm DROP COLUMN terms;
ALTER TABLE firm DROP COLUMN increment_minutes;
ALTER TABLE firm DROP COLUMN rounding;
ALTER TABLE firm DROP COLUMN minimum_minutes;
ALTER TABLE firm DROP COLUMN tax_code_id;
ALTER TABLE clients DROP COLUMN terms;
ALTER TABLE clients DROP COLUMN combined;
ALTER TABLE clients DROP COLUMN tax_code_id;
ALTER TABLE engagements DROP COLUMN terms;
ALTER TABLE engagements DROP COLUMN increment_minutes;
ALTER TABLE engagements DROP COLUMN rounding;
ALTER TABLE engagements DROP COLUMN minimum_minutes;
ALTER TABLE engagements DROP COLUMN tax_code_id;

-- The firm's own.
ALTER TABLE firm ADD COLUMN address TEXT NOT NULL DEFAULT '';
ALTER TABLE firm ADD COLUMN web TEXT NOT NULL DEFAULT '';
ALTER TABLE firm ADD COLUMN tax_registrations TEXT NOT NULL DEFAULT '';
ALTER TABLE firm ADD COLUMN logo TEXT NOT NULL DEFAULT ''; -- digest of a file
ALTER TABLE firm ADD COLUMN fiscal_year_start TEXT NOT NULL DEFAULT '01-01'; -- month and day
ALTER TABLE firm ADD COLUMN working_days TEXT NOT NULL DEFAULT 'mon tue wed thu fri';
ALTER TABLE firm ADD COLUMN engagement_word TEXT NOT NULL DEFAULT 'engagement';
ALTER TABLE firm ADD COLUMN phase_word TEXT NOT NULL DEFAULT 'phase';
ALTER TABLE firm ADD COLUMN proposal_days INTEGER NOT NULL DEFAULT 30;
ALTER TABLE firm ADD COLUMN proposal_text TEXT NOT NULL DEFAULT '';
ALTER TABLE issuing_entities ADD COLUMN active BOOLEAN NOT NULL DEFAULT TRUE;
ALTER TABLE issuing_entities ADD COLUMN proposal_prefix TEXT NOT NULL DEFAULT 'P';
ALTER TABLE issuing_entities ADD COLUMN proposal_first INTEGER NOT NULL DEFAULT 1;
ALTER TABLE issuing_entities ADD COLUMN proposal_next INTEGER NOT NULL DEFAULT 1;
ALTER TABLE tax_codes ADD COLUMN places TEXT NOT NULL DEFAULT ''; -- countries for which it is proposed
ALTER TABLE tax_codes ADD COLUMN active BOOLEAN NOT NULL DEFAULT TRUE;
ALTER TABLE tax_rates ADD COLUMN version INTEGER NOT NULL DEFAULT 0;
ALTER TABLE exchange_rates ADD COLUMN version INTEGER NOT NULL DEFAULT 0;
ALTER TABLE grades ADD COLUMN active BOOLEAN NOT NULL DEFAULT TRUE;

CREATE TABLE offices (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, name TEXT NOT NULL UNIQUE, address TEXT NOT NULL, active BOOLEAN NOT NULL
);
CREATE TABLE holidays (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, day TEXT NOT NULL, name TEXT NOT NULL,
  office_id INTEGER REFERENCES offices(id) -- NULL: all of them
);
CREATE TABLE client_statuses (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, name TEXT NOT NULL UNIQUE, warns BOOLEAN NOT NULL, active BOOLEAN NOT NULL
);
INSERT INTO client_statuses (name, warns, active) VALUES ('current', FALSE, TRUE), ('prospect', FALSE, TRUE), ('former', FALSE, TRUE), ('not again', TRUE, TRUE);

-- People and their accounts.
ALTER TABLE people ADD COLUMN office_id INTEGER REFERENCES offices(id);
ALTER TABLE people ADD COLUMN phone TEXT NOT NULL DEFAULT '';
ALTER TABLE people ADD COLUMN sees_rates BOOLEAN NOT NULL DEFAULT FALSE;
ALTER TABLE people ADD COLUMN sees_times BOOLEAN NOT NULL DEFAULT FALSE;
ALTER TABLE people ADD COLUMN second_factor TEXT NOT NULL DEFAULT ''; -- shared secret, base32; empty: none
ALTER TABLE people ADD COLUMN second_factor_step INTEGER NOT NULL DEFAULT 0; -- the last step that was used, so that no code works twice
ALTER TABLE people ADD COLUMN stand_in_id INTEGER REFERENCES people(id);
ALTER TABLE people ADD COLUMN stand_in_from TEXT NOT NULL DEFAULT '';
ALTER TABLE people ADD COLUMN stand_in_to TEXT NOT NULL DEFAULT '';

CREATE TABLE person_entities (
  person_id INTEGER NOT NULL REFERENCES people(id), entity_id INTEGER NOT NULL REFERENCES issuing_entities(id), PRIMARY KEY (person_id, entity_id)
); -- to which a person is limited; none here: all
CREATE TABLE account_links (
  digest TEXT PRIMARY KEY, -- of the secret in the link
  person_id INTEGER NOT NULL REFERENCES people(id), made_at TIMESTAMP NOT NULL, expires_at TIMESTAMP NOT NULL, used_at TIMESTAMP
);
CREATE TABLE signed_in (
  id INTEGER PRIMARY KEY, person_id INTEGER NOT NULL REFERENCES people(id), began_at TIMESTAMP NOT NULL, expires_at TIMESTAMP NOT NULL,
  address TEXT NOT NULL, browser TEXT NOT NULL, ended_at TIMESTAMP
);
CREATE INDEX signed_in_of_person ON signed_in (person_id) WHERE ended_at IS NULL;
CREATE TABLE notices (
  id INTEGER PRIMARY KEY, person_id INTEGER NOT NULL REFERENCES people(id), act_id INTEGER NOT NULL REFERENCES acts(id) DEFERRABLE INITIALLY DEFERRED,
  business_day TEXT NOT NULL, sentence TEXT NOT NULL, engagement_id INTEGER REFERENCES engagements(id), seen BOOLEAN NOT NULL DEFAULT FALSE
);
CREATE INDEX notices_unseen ON notices (person_id) WHERE seen = FALSE;

-- Clients.
ALTER TABLE clients ADD COLUMN form TEXT NOT NULL DEFAULT 'organisation';
ALTER TABLE clients ADD COLUMN status_id INTEGER REFERENCES client_statuses(id);
ALTER TABLE clients ADD COLUMN industry TEXT NOT NULL DEFAULT '';
ALTER TABLE clients ADD COLUMN class_code TEXT NOT NULL DEFAULT '';
ALTER TABLE clients ADD COLUMN office_id INTEGER REFERENCES offices(id);
ALTER TABLE clients ADD COLUMN department TEXT NOT NULL DEFAULT '';
ALTER TABLE clients ADD COLUMN work_type TEXT NOT NULL DEFAULT '';
ALTER TABLE clients ADD COLUMN opened_day TEXT NOT NULL DEFAULT '';
ALTER TABLE clients ADD COLUMN ended_day TEXT NOT NULL DEFAULT '';
ALTER TABLE clients ADD COLUMN fiscal_year_end TEXT NOT NULL DEFAULT ''; -- month and day
ALTER TABLE clients ADD COLUMN other_tax_numbers TEXT NOT NULL DEFAULT '';
ALTER TABLE clients ADD COLUMN phones TEXT NOT NULL DEFAULT '';
ALTER TABLE clients ADD COLUMN web TEXT NOT NULL DEFAULT '';
ALTER TABLE clients ADD COLUMN mailing_address TEXT NOT NULL DEFAULT '';
ALTER TABLE clients ADD COLUMN billing_address TEXT NOT NULL DEFAULT '';
ALTER TABLE clients ADD COLUMN shipping_address TEXT NOT NULL DEFAULT '';
ALTER TABLE clients ADD COLUMN country TEXT NOT NULL DEFAULT '';
ALTER TABLE clients ADD COLUMN language TEXT NOT NULL DEFAULT 'en';
ALTER TABLE clients ADD COLUMN responsible_id INTEGER REFERENCES people(id);
ALTER TABLE clients ADD COLUMN second_id INTEGER REFERENCES people(id);
ALTER TABLE clients ADD COLUMN originator_id INTEGER REFERENCES people(id);
ALTER TABLE clients ADD COLUMN onboarded BOOLEAN NOT NULL DEFAULT FALSE; -- said by hand
UPDATE clients SET status_id = (SELECT id FROM client_statuses WHERE name = 'current');

CREATE TABLE contacts (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, client_id INTEGER NOT NULL REFERENCES clients(id),
  engagement_id INTEGER REFERENCES engagements(id), -- NULL: of the client
  name TEXT NOT NULL, title TEXT NOT NULL, mail TEXT NOT NULL, copies TEXT NOT NULL, phones TEXT NOT NULL,
  gets_invoices BOOLEAN NOT NULL, gets_statements BOOLEAN NOT NULL, gets_reminders BOOLEAN NOT NULL, gets_proposals BOOLEAN NOT NULL,
  active BOOLEAN NOT NULL
);
CREATE INDEX contacts_of_client ON contacts (client_id);
CREATE TABLE client_notes (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, client_id INTEGER NOT NULL REFERENCES clients(id),
  person_id INTEGER NOT NULL REFERENCES people(id), day TEXT NOT NULL, text TEXT NOT NULL
);
CREATE INDEX notes_of_client ON client_notes (client_id);
CREATE TABLE step_templates (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, name TEXT NOT NULL UNIQUE, days INTEGER NOT NULL, document TEXT NOT NULL, active BOOLEAN NOT NULL
);
INSERT INTO step_templates (name, days, document, active) VALUES ('Contract signed', 7, '', TRUE), ('Welcome call', 10, '', TRUE), ('Billing contact known', 14, '', TRUE);
CREATE TABLE client_steps (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, client_id INTEGER NOT NULL REFERENCES clients(id),
  name TEXT NOT NULL, owner_id INTEGER REFERENCES people(id), due_day TEXT NOT NULL, document TEXT NOT NULL, done_day TEXT NOT NULL
);
CREATE INDEX steps_of_client ON client_steps (client_id);

-- Services and rates.
ALTER TABLE services ADD COLUMN kind TEXT NOT NULL DEFAULT 'time';
ALTER TABLE services ADD COLUMN currency TEXT NOT NULL DEFAULT '';
ALTER TABLE services ADD COLUMN price INTEGER; -- per unit, or the fixed price; ten-thousandths
ALTER TABLE services ADD COLUMN unit TEXT NOT NULL DEFAULT '';
ALTER TABLE services ADD COLUMN text TEXT NOT NULL DEFAULT '';
ALTER TABLE services ADD COLUMN minutes INTEGER NOT NULL DEFAULT 0;
ALTER TABLE services ADD COLUMN tax_code_id INTEGER REFERENCES tax_codes(id);
ALTER TABLE services ADD COLUMN terms_text TEXT NOT NULL DEFAULT '';
ALTER TABLE services ADD COLUMN task_code TEXT NOT NULL DEFAULT '';
ALTER TABLE services ADD COLUMN activity_code TEXT NOT NULL DEFAULT '';
CREATE TABLE bundles (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, name TEXT NOT NULL UNIQUE, services TEXT NOT NULL, active BOOLEAN NOT NULL -- codes, one a line
);
CREATE TABLE rate_cards (id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, name TEXT NOT NULL UNIQUE, active BOOLEAN NOT NULL);
ALTER TABLE rates ADD COLUMN version INTEGER NOT NULL DEFAULT 0;
ALTER TABLE rates ADD COLUMN card_id INTEGER REFERENCES rate_cards(id);
ALTER TABLE rates ADD COLUMN phase_id INTEGER REFERENCES phases(id);

-- Engagements.
ALTER TABLE engagements ADD COLUMN colour TEXT NOT NULL DEFAULT '';
ALTER TABLE engagements ADD COLUMN fee INTEGER; -- fixed or recurring fee, or the cap, in minor units
ALTER TABLE engagements ADD COLUMN fee_period TEXT NOT NULL DEFAULT ''; -- of a recurring fee
ALTER TABLE engagements ADD COLUMN service_id INTEGER REFERENCES services(id); -- default when recording
ALTER TABLE engagements ADD COLUMN due_day TEXT NOT NULL DEFAULT '';
ALTER TABLE engagements ADD COLUMN stage TEXT NOT NULL DEFAULT 'running';
ALTER TABLE engagements ADD COLUMN renews TEXT NOT NULL DEFAULT ''; -- made again each month, quarter or year
ALTER TABLE engagements ADD COLUMN made_from_id INTEGER REFERENCES engagements(id);
ALTER TABLE engagements ADD COLUMN notes TEXT NOT NULL DEFAULT '';
CREATE TABLE engagement_people (
  engagement_id INTEGER NOT NULL REFERENCES engagements(id), person_id INTEGER NOT NULL REFERENCES people(id), PRIMARY KEY (engagement_id, person_id)
); -- who may record; nobody here: everyone
CREATE TABLE phases ( -- a phase, or a task of a phase
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, engagement_id INTEGER NOT NULL REFERENCES engagements(id),
  parent_id INTEGER REFERENCES phases(id), name TEXT NOT NULL, status TEXT NOT NULL, due_day TEXT NOT NULL,
  billable BOOLEAN NOT NULL, notes TEXT NOT NULL, active BOOLEAN NOT NULL
);
CREATE INDEX phases_of_engagement ON phases (engagement_id);
CREATE TABLE phase_people (
  phase_id INTEGER NOT NULL REFERENCES phases(id), person_id INTEGER NOT NULL REFERENCES people(id), PRIMARY KEY (phase_id, person_id)
);
ALTER TABLE time_entries ADD COLUMN phase_id INTEGER REFERENCES phases(id);
ALTER TABLE time_entries ADD COLUMN valued_before TEXT; -- before the last re-rating, so that it can be undone
CREATE INDEX time_entries_of_engagement ON time_entries (engagement_id, day) WHERE removed = FALSE;
CREATE TABLE engagement_templates (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, name TEXT NOT NULL UNIQUE, engagement_id INTEGER NOT NULL REFERENCES engagements(id), active BOOLEAN NOT NULL
);
CREATE TABLE own_fields (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, subject TEXT NOT NULL CHECK (subject IN ('client', 'engagement')),
  name TEXT NOT NULL, form TEXT NOT NULL, choices TEXT NOT NULL, active BOOLEAN NOT NULL, UNIQUE (subject, name)
);
CREATE TABLE own_values (
  id INTEGER PRIMARY KEY, field_id INTEGER NOT NULL REFERENCES own_fields(id), subject_id INTEGER NOT NULL, value TEXT NOT NULL, UNIQUE (field_id, subject_id)
);

-- Budgets.
CREATE TABLE budgets (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, engagement_id INTEGER NOT NULL REFERENCES engagements(id), phase_id INTEGER REFERENCES phases(id),
  measure TEXT NOT NULL CHECK (measure IN ('hours', 'fees', 'expenses', 'total', 'invoiced')),
  minutes INTEGER NOT NULL, -- of hours, or expected for a fee budget
  per_hour INTEGER, -- expected rate of a fee budget
  amount INTEGER NOT NULL, currency TEXT NOT NULL, -- minor units; nothing for hours
  renewal TEXT NOT NULL CHECK (renewal IN ('once', 'week', 'month', 'quarter', 'year')), from_day TEXT NOT NULL, carries BOOLEAN NOT NULL,
  thresholds TEXT NOT NULL, active BOOLEAN NOT NULL
);
CREATE INDEX budgets_of_engagement ON budgets (engagement_id);
CREATE TABLE budget_people (
  budget_id INTEGER NOT NULL REFERENCES budgets(id), person_id INTEGER NOT NULL REFERENCES people(id), PRIMARY KEY (budget_id, person_id)
); -- who is told; nobody here: the lead
CREATE TABLE budget_alerts (
  budget_id INTEGER NOT NULL REFERENCES budgets(id), threshold INTEGER NOT NULL, period_start TEXT NOT NULL,
  act_id INTEGER NOT NULL REFERENCES acts(id) DEFERRABLE INITIALLY DEFERRED, PRIMARY KEY (budget_id, threshold, period_start)
);

-- Imports, each undone as one.
CREATE TABLE imports (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, kind TEXT NOT NULL, name TEXT NOT NULL, at TIMESTAMP NOT NULL, person_id INTEGER NOT NULL REFERENCES people(id),
  rows INTEGER NOT NULL, made TEXT NOT NULL, undone BOOLEAN NOT NULL
);

-- +goose Down
SELECT 1; -- a database never goes back: restore the backup that was made before the migration
