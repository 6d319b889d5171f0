-- +goose Up
-- Reminding by plan: what was reminded of, what is left alone, and what was said on the telephone.
CREATE TABLE reminders (
	id INTEGER PRIMARY KEY,
	invoice_id INTEGER NOT NULL REFERENCES invoices(id),
	client_id INTEGER NOT NULL REFERENCES clients(id),
	entity_id INTEGER NOT NULL REFERENCES issuing_entities(id),
	due_day TEXT NOT NULL, -- of the oldest instalment that it asked for
	days INTEGER NOT NULL, -- after that day: the step that it came to
	day TEXT NOT NULL,
	act_id INTEGER NOT NULL REFERENCES acts(id) DEFERRABLE INITIALLY DEFERRED
);
CREATE INDEX reminders_of_client ON reminders (client_id, day);
CREATE INDEX reminders_of_invoice ON reminders (invoice_id);
CREATE INDEX deliveries_of_act ON deliveries (act_id);
-- Letters of before are known by what they were about.
INSERT INTO reminders (invoice_id, client_id, entity_id, due_day, days, day, act_id)
	SELECT x.invoice_id, d.client_id, d.entity_id, i.due_day, MAX(CAST(julianday(a.business_day) - julianday(i.due_day) AS INTEGER)), a.business_day, d.act_id
	FROM deliveries d JOIN delivered x ON x.delivery_id = d.id JOIN invoices i ON i.id = x.invoice_id JOIN acts a ON a.id = d.act_id
	WHERE d.kind = 'reminder' GROUP BY x.invoice_id, d.act_id;

CREATE TABLE reminder_holds (
	id INTEGER PRIMARY KEY,
	version INTEGER NOT NULL DEFAULT 0,
	client_id INTEGER NOT NULL REFERENCES clients(id),
	invoice_id INTEGER REFERENCES invoices(id), -- NULL: nothing of the client is reminded of
	until TEXT NOT NULL DEFAULT '', -- its last day; nothing: until it is lifted
	reason TEXT NOT NULL,
	person_id INTEGER REFERENCES people(id),
	at TIMESTAMP NOT NULL,
	lifted_at TIMESTAMP
);
CREATE INDEX reminder_holds_of_client ON reminder_holds (client_id);
CREATE INDEX reminder_holds_of_invoice ON reminder_holds (invoice_id) WHERE invoice_id IS NOT NULL;

CREATE TABLE calls (
	id INTEGER PRIMARY KEY,
	version INTEGER NOT NULL DEFAULT 0,
	client_id INTEGER NOT NULL REFERENCES clients(id),
	person_id INTEGER REFERENCES people(id),
	day TEXT NOT NULL,
	at TIMESTAMP NOT NULL,
	with_name TEXT NOT NULL,
	outcome TEXT NOT NULL CHECK (outcome IN ('promised', 'unreached', 'asked', 'disputes')),
	promised_day TEXT NOT NULL DEFAULT '',
	again_day TEXT NOT NULL DEFAULT '', -- from which on they are called again
	text TEXT NOT NULL
);
CREATE INDEX calls_of_client ON calls (client_id, day);

-- What was “a reminder every so many days” is the plan that it meant.
INSERT INTO profile_values (scope, subject_id, name, value)
	SELECT scope, subject_id, 'reminder_plan', value || '; ' || 2 * value || '; ' || 3 * value || ' firm' FROM profile_values
	WHERE name = 'reminder_days' AND scope <> 'engagement' AND CAST(value AS INTEGER) BETWEEN 1 AND 300;
DELETE FROM profile_values WHERE name = 'reminder_days';
UPDATE invoices SET choices = json_remove(choices, '$.reminder_days') WHERE json_extract(choices, '$.reminder_days') IS NOT NULL;
UPDATE invoice_templates SET choices = json_remove(choices, '$.reminder_days') WHERE json_extract(choices, '$.reminder_days') IS NOT NULL;

ALTER TABLE firm ADD COLUMN reminder_hour TEXT NOT NULL DEFAULT 'hand'; -- of the day in the firm's zone; hand: nothing goes by itself
ALTER TABLE firm ADD COLUMN reminded_day TEXT NOT NULL DEFAULT ''; -- on which that was last done

-- +goose Down
-- There is no way back from here: a backup was made before, restore that.
SELECT 1;
