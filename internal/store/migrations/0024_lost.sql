-- +goose Up
-- Bad debt: what of an invoice is given up, with its tax, and what comes of it after all.
CREATE TABLE write_offs (
	id INTEGER PRIMARY KEY,
	version INTEGER NOT NULL DEFAULT 0,
	invoice_id INTEGER NOT NULL REFERENCES invoices(id),
	client_id INTEGER NOT NULL REFERENCES clients(id),
	entity_id INTEGER NOT NULL REFERENCES issuing_entities(id),
	day TEXT NOT NULL,
	net INTEGER NOT NULL,
	tax INTEGER NOT NULL, -- its part of the invoice's tax; net and tax are what was owed
	currency TEXT NOT NULL,
	reason TEXT NOT NULL CHECK (reason IN ('insolvent', 'unwilling', 'untraceable', 'too_small', 'goodwill', 'other')),
	note TEXT NOT NULL,
	person_id INTEGER REFERENCES people(id),
	act_id INTEGER NOT NULL REFERENCES acts(id) DEFERRABLE INITIALLY DEFERRED
);
CREATE INDEX write_offs_of_client ON write_offs (client_id, day);
CREATE INDEX write_offs_of_invoice ON write_offs (invoice_id);
-- What is written off of an invoice and has not come after all, with its tax.
ALTER TABLE invoices ADD COLUMN written_off INTEGER NOT NULL DEFAULT 0;
CREATE INDEX invoices_written_off ON invoices (client_id) WHERE written_off <> 0;
INSERT INTO ledger_accounts (posting, name) VALUES
	('bad_debt', 'Bad debt'),
	('bad_debt_tax', 'Tax on bad debt');

-- +goose Down
-- There is no way back from here: a backup was made before, restore that.
SELECT 1;
