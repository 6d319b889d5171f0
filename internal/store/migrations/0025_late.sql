-- +goose Up
-- Charges for paying late: what each came to, or was waived of it.
CREATE TABLE reference_rates (
	id INTEGER PRIMARY KEY,
	version INTEGER NOT NULL DEFAULT 0,
	currency TEXT NOT NULL,
	day TEXT NOT NULL, -- from which it holds
	percent INTEGER NOT NULL, -- a year, in ten-thousandths
	source TEXT NOT NULL,
	UNIQUE (currency, day)
);
ALTER TABLE charges ADD COLUMN late_id INTEGER REFERENCES invoices(id); -- the invoice that was paid late
CREATE INDEX charges_late ON charges (late_id) WHERE late_id IS NOT NULL;
CREATE TABLE late_charges (
	id INTEGER PRIMARY KEY,
	version INTEGER NOT NULL DEFAULT 0,
	invoice_id INTEGER NOT NULL REFERENCES invoices(id),
	client_id INTEGER NOT NULL REFERENCES clients(id),
	entity_id INTEGER NOT NULL REFERENCES issuing_entities(id),
	day TEXT NOT NULL, -- up to which it counts, that day counted
	amount INTEGER NOT NULL, -- accrued up to the day, less what was charged or waived before
	currency TEXT NOT NULL,
	steps TEXT NOT NULL, -- how the whole of it came about, JSON
	charge_id INTEGER REFERENCES charges(id), -- NULL: it was waived before it was charged
	waived TEXT NOT NULL DEFAULT '', -- why; nothing: it was not
	act_id INTEGER NOT NULL REFERENCES acts(id) DEFERRABLE INITIALLY DEFERRED
);
CREATE INDEX late_charges_of_invoice ON late_charges (invoice_id);
CREATE INDEX late_charges_of_charge ON late_charges (charge_id) WHERE charge_id IS NOT NULL;
INSERT INTO ledger_accounts (posting, name) VALUES ('late', 'Charges for paying late');

-- +goose Down
-- There is no way back from here: a backup was made before, restore that.
SELECT 1;
