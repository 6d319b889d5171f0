-- +goose Up
-- Who pays an engagement, where it is not its client alone.
CREATE TABLE engagement_payers (
	id INTEGER PRIMARY KEY,
	version INTEGER NOT NULL DEFAULT 0,
	engagement_id INTEGER NOT NULL REFERENCES engagements (id),
	client_id INTEGER NOT NULL REFERENCES clients (id),
	share INTEGER NOT NULL,
	reference TEXT NOT NULL DEFAULT '',
	UNIQUE (engagement_id, client_id)
);
CREATE INDEX payers_of_client ON engagement_payers (client_id);
ALTER TABLE portions ADD COLUMN payer_id INTEGER REFERENCES clients (id);
ALTER TABLE charges ADD COLUMN payer_id INTEGER REFERENCES clients (id);
ALTER TABLE invoice_lines ADD COLUMN payer_id INTEGER REFERENCES clients (id);
ALTER TABLE invoices ADD COLUMN divided BOOLEAN NOT NULL DEFAULT FALSE;
INSERT INTO issue_checks (code, name, level) VALUES ('several_payers', 'Not divided among its payers', 'block');

-- Pictures of the firm's own, on documents and their lines.
CREATE TABLE pictures (
	id INTEGER PRIMARY KEY,
	version INTEGER NOT NULL DEFAULT 0,
	name TEXT NOT NULL UNIQUE,
	digest TEXT NOT NULL DEFAULT '',
	active BOOLEAN NOT NULL DEFAULT TRUE
);
ALTER TABLE services ADD COLUMN picture_id INTEGER REFERENCES pictures (id);
ALTER TABLE invoice_lines ADD COLUMN picture_id INTEGER REFERENCES pictures (id);

-- A step of an onboarding has a link, and what was got of it.
ALTER TABLE step_templates ADD COLUMN link TEXT NOT NULL DEFAULT '';
ALTER TABLE client_steps ADD COLUMN link TEXT NOT NULL DEFAULT '';
ALTER TABLE client_steps ADD COLUMN file TEXT NOT NULL DEFAULT '';
ALTER TABLE client_steps ADD COLUMN file_name TEXT NOT NULL DEFAULT '';

-- An entry may span days, name the level that its rate is from, and have fields of the firm's own.
ALTER TABLE time_entries ADD COLUMN until_day TEXT NOT NULL DEFAULT '';
ALTER TABLE time_entries ADD COLUMN rate_from TEXT NOT NULL DEFAULT '';
ALTER TABLE time_entries ADD COLUMN own TEXT NOT NULL DEFAULT '{}'; -- by the number of the field
ALTER TABLE firm ADD COLUMN staff_treats BOOLEAN NOT NULL DEFAULT TRUE; -- staff say how their time is billed
CREATE TABLE abbreviations (
	id INTEGER PRIMARY KEY,
	version INTEGER NOT NULL DEFAULT 0,
	short TEXT NOT NULL UNIQUE,
	text TEXT NOT NULL,
	active BOOLEAN NOT NULL DEFAULT TRUE
);
CREATE TABLE fields_of_own (
	id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, subject TEXT NOT NULL, name TEXT NOT NULL, form TEXT NOT NULL,
	choices TEXT NOT NULL, active BOOLEAN NOT NULL, UNIQUE (subject, name)
);
INSERT INTO fields_of_own SELECT id, version, subject, name, form, choices, active FROM own_fields;
CREATE TABLE values_of_own (
	id INTEGER PRIMARY KEY, field_id INTEGER NOT NULL REFERENCES fields_of_own (id), subject_id INTEGER NOT NULL, value TEXT NOT NULL,
	UNIQUE (field_id, subject_id)
);
INSERT INTO values_of_own SELECT id, field_id, subject_id, value FROM own_values;
DROP TABLE own_values;
DROP TABLE own_fields;
ALTER TABLE fields_of_own RENAME TO own_fields;
ALTER TABLE values_of_own RENAME TO own_values;

-- To what hours are rounded in the lists of who reads them so; nothing: not at all.
ALTER TABLE people ADD COLUMN hours_rounded TEXT NOT NULL DEFAULT '';

ALTER TABLE contacts ADD COLUMN notes TEXT NOT NULL DEFAULT ''; -- for us

CREATE INDEX phases_of_parent ON phases (parent_id) WHERE parent_id IS NOT NULL;

-- Texts are kept for invoices, too: their purposes are checked by the table of fields.
CREATE TABLE kept_texts (
	id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, name TEXT NOT NULL UNIQUE, purpose TEXT NOT NULL,
	text TEXT NOT NULL, active BOOLEAN NOT NULL, note TEXT NOT NULL DEFAULT ''
);
INSERT INTO kept_texts (id, version, name, purpose, text, active, note)
	SELECT id, version, name, purpose, text, active, note FROM proposal_texts;
DROP TABLE proposal_texts;
ALTER TABLE kept_texts RENAME TO proposal_texts;

-- +goose Down
DELETE FROM own_fields WHERE subject = 'entry';
ALTER TABLE people DROP COLUMN hours_rounded;
ALTER TABLE contacts DROP COLUMN notes;
DROP INDEX phases_of_parent;
DROP TABLE abbreviations;
ALTER TABLE firm DROP COLUMN staff_treats;
ALTER TABLE time_entries DROP COLUMN own;
ALTER TABLE time_entries DROP COLUMN rate_from;
ALTER TABLE time_entries DROP COLUMN until_day;
ALTER TABLE client_steps DROP COLUMN file_name;
ALTER TABLE client_steps DROP COLUMN file;
ALTER TABLE client_steps DROP COLUMN link;
ALTER TABLE step_templates DROP COLUMN link;
DELETE FROM proposal_texts WHERE purpose LIKE 'invoice_%';
ALTER TABLE invoice_lines DROP COLUMN picture_id;
ALTER TABLE services DROP COLUMN picture_id;
DROP TABLE pictures;
DELETE FROM issue_checks WHERE code = 'several_payers';
ALTER TABLE invoices DROP COLUMN divided;
ALTER TABLE invoice_lines DROP COLUMN payer_id;
ALTER TABLE charges DROP COLUMN payer_id;
ALTER TABLE portions DROP COLUMN payer_id;
DROP INDEX payers_of_client;
DROP TABLE engagement_payers;
