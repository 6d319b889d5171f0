-- What an invoice computes and what becomes of it: choices of its own, lines by
-- hand and of fees, credit notes, payments, funds held, transfers, deposits.

-- +goose Up

-- A code can have a second tax, beside the first or on top of it.
ALTER TABLE tax_codes ADD COLUMN second_name TEXT NOT NULL DEFAULT '';
ALTER TABLE tax_codes ADD COLUMN second_compound BOOLEAN NOT NULL DEFAULT FALSE;
ALTER TABLE tax_rates ADD COLUMN second_percent INTEGER NOT NULL DEFAULT 0;

ALTER TABLE invoices ADD COLUMN kind TEXT NOT NULL DEFAULT 'invoice' CHECK (kind IN ('invoice', 'credit_note', 'opening'));
ALTER TABLE invoices ADD COLUMN choices TEXT NOT NULL DEFAULT '{}'; -- what it took over from the billing profile
ALTER TABLE invoices ADD COLUMN credits_id INTEGER REFERENCES invoices(id); -- of a credit note
ALTER TABLE invoices ADD COLUMN withholding INTEGER NOT NULL DEFAULT 0;
ALTER TABLE invoices ADD COLUMN credit INTEGER NOT NULL DEFAULT 0; -- of the client, taken off
ALTER TABLE invoices ADD COLUMN funds INTEGER NOT NULL DEFAULT 0; -- held, taken off
ALTER TABLE invoices ADD COLUMN open INTEGER NOT NULL DEFAULT 0; -- still owed, once it is issued
ALTER TABLE invoices ADD COLUMN credited INTEGER NOT NULL DEFAULT 0; -- by its credit notes
ALTER TABLE invoices ADD COLUMN disputed TEXT NOT NULL DEFAULT ''; -- why
ALTER TABLE invoices ADD COLUMN reopened BOOLEAN NOT NULL DEFAULT FALSE; -- a draft that was issued before
UPDATE invoices SET open = due WHERE state IN ('issued', 'part_paid', 'paid');
CREATE INDEX invoices_open ON invoices (client_id) WHERE open <> 0;
CREATE INDEX credit_notes ON invoices (credits_id) WHERE credits_id IS NOT NULL;

ALTER TABLE invoice_lines ADD COLUMN position INTEGER NOT NULL DEFAULT 0; -- 0: by engagement and day
ALTER TABLE invoice_lines ADD COLUMN quantity INTEGER; -- ten-thousandths, of a line by hand
ALTER TABLE invoice_lines ADD COLUMN unit TEXT NOT NULL DEFAULT '';
ALTER TABLE invoice_lines ADD COLUMN unit_price INTEGER; -- ten-thousandths
ALTER TABLE invoice_lines ADD COLUMN charge_id INTEGER REFERENCES charges(id);
ALTER TABLE invoice_lines ADD COLUMN done INTEGER; -- ten-thousandths of a percent, of a progress line
ALTER TABLE invoice_lines ADD COLUMN confirmed BOOLEAN NOT NULL DEFAULT TRUE; -- an open price waits for somebody to give it
ALTER TABLE invoice_lines ADD COLUMN credits_line_id INTEGER REFERENCES invoice_lines(id);
ALTER TABLE invoice_lines ADD COLUMN again BOOLEAN NOT NULL DEFAULT FALSE; -- credited to be billed again
ALTER TABLE invoice_lines ADD COLUMN advance_line_id INTEGER REFERENCES invoice_lines(id); -- the advance that it takes back
CREATE INDEX lines_of_charge ON invoice_lines (charge_id) WHERE charge_id IS NOT NULL;
CREATE INDEX lines_credited ON invoice_lines (credits_line_id) WHERE credits_line_id IS NOT NULL;
CREATE INDEX lines_of_advance ON invoice_lines (advance_line_id) WHERE advance_line_id IS NOT NULL;

ALTER TABLE instalments ADD COLUMN open INTEGER NOT NULL DEFAULT 0; -- still owed
ALTER TABLE instalments ADD COLUMN words TEXT NOT NULL DEFAULT ''; -- as agreed
UPDATE instalments SET open = amount WHERE EXISTS (SELECT 1 FROM invoices i WHERE i.id = invoice_id AND i.revision = instalments.revision AND i.state IN ('issued', 'part_paid', 'paid'));
CREATE INDEX instalments_open ON instalments (due_day) WHERE open <> 0;

-- When the fee of a recurring arrangement is billed.
ALTER TABLE engagements ADD COLUMN fee_from TEXT NOT NULL DEFAULT ''; -- the first day of its first period
ALTER TABLE engagements ADD COLUMN fee_arrears BOOLEAN NOT NULL DEFAULT FALSE;
ALTER TABLE engagements ADD COLUMN fee_prorated BOOLEAN NOT NULL DEFAULT FALSE;
ALTER TABLE charges ADD COLUMN beyond BOOLEAN NOT NULL DEFAULT FALSE; -- made after the acceptance, as the plan goes on

ALTER TABLE portions ADD COLUMN covered BOOLEAN NOT NULL DEFAULT FALSE; -- by the fee on whose line it is
ALTER TABLE portions ADD COLUMN part INTEGER NOT NULL DEFAULT 0; -- 0 is the first, or the only one
ALTER TABLE portions ADD COLUMN over_cap BOOLEAN NOT NULL DEFAULT FALSE; -- what a cap left unbilled

-- Money that came in, went back or was reversed. What it settles stands in the
-- money ledger.
CREATE TABLE payments (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, entity_id INTEGER NOT NULL REFERENCES issuing_entities(id), client_id INTEGER NOT NULL REFERENCES clients(id),
  purpose TEXT NOT NULL CHECK (purpose IN ('invoices', 'funds', 'refund_funds', 'refund_credit')), purse_id INTEGER REFERENCES purses(id),
  day TEXT NOT NULL, amount INTEGER NOT NULL, currency TEXT NOT NULL, method TEXT NOT NULL, reference TEXT NOT NULL, note TEXT NOT NULL,
  exchange_rate INTEGER NOT NULL, exchange_source TEXT NOT NULL, reverses_id INTEGER UNIQUE REFERENCES payments(id), person_id INTEGER REFERENCES people(id)
);
CREATE INDEX payments_of_client ON payments (client_id, day);
CREATE INDEX payments_by_day ON payments (day);
CREATE TRIGGER payments_never_go BEFORE DELETE ON payments BEGIN SELECT RAISE(ABORT, 'payments are reversed, never deleted'); END;

-- A purse is what is held for a client, or for one engagement of theirs.
CREATE TABLE purses (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, entity_id INTEGER NOT NULL REFERENCES issuing_entities(id), client_id INTEGER NOT NULL REFERENCES clients(id),
  engagement_id INTEGER REFERENCES engagements(id), currency TEXT NOT NULL, held INTEGER NOT NULL DEFAULT 0 CHECK (held >= 0)
);
CREATE UNIQUE INDEX one_purse ON purses (client_id, entity_id, currency, COALESCE(engagement_id, 0));
CREATE TABLE invoice_funds ( -- what a draft reserves of purses, and what was taken at issue
  invoice_id INTEGER NOT NULL REFERENCES invoices(id), purse_id INTEGER NOT NULL REFERENCES purses(id), amount INTEGER NOT NULL, PRIMARY KEY (invoice_id, purse_id)
);
CREATE INDEX invoices_of_purse ON invoice_funds (purse_id);
CREATE TABLE transfers ( -- from the clients' account to the firm's, or back where the amount is negative
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, purse_id INTEGER NOT NULL REFERENCES purses(id), invoice_id INTEGER NOT NULL REFERENCES invoices(id),
  day TEXT NOT NULL, amount INTEGER NOT NULL, done_day TEXT NOT NULL DEFAULT ''
);
CREATE INDEX transfers_to_make ON transfers (id) WHERE done_day = '';
CREATE TABLE deposit_requests (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, entity_id INTEGER NOT NULL REFERENCES issuing_entities(id), client_id INTEGER NOT NULL REFERENCES clients(id),
  engagement_id INTEGER REFERENCES engagements(id), charge_id INTEGER REFERENCES charges(id), number INTEGER NOT NULL, number_text TEXT NOT NULL, text TEXT NOT NULL,
  amount INTEGER NOT NULL, received INTEGER NOT NULL DEFAULT 0, currency TEXT NOT NULL, dated TEXT NOT NULL, due_day TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('open', 'received', 'withdrawn')), UNIQUE (entity_id, number)
);
CREATE INDEX requests_of_client ON deposit_requests (client_id);

ALTER TABLE money_movements ADD COLUMN payment_id INTEGER REFERENCES payments(id);
ALTER TABLE money_movements ADD COLUMN purse_id INTEGER REFERENCES purses(id);
CREATE INDEX money_movements_of_payment ON money_movements (payment_id) WHERE payment_id IS NOT NULL;
CREATE INDEX money_movements_of_instalment ON money_movements (instalment_id) WHERE instalment_id IS NOT NULL;

-- Schedules that invoices can be given, and invoices to begin with.
CREATE TABLE payment_schedules (id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, name TEXT NOT NULL UNIQUE, parts TEXT NOT NULL, active BOOLEAN NOT NULL);
INSERT INTO payment_schedules (name, parts, active) VALUES ('Three equal parts, monthly', 'rest issue; rest monthly; rest monthly', TRUE),
  ('Half at once, half at the end', '50% issue; 50% end', TRUE);
CREATE TABLE invoice_templates (id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, name TEXT NOT NULL UNIQUE, lines TEXT NOT NULL, active BOOLEAN NOT NULL);

-- +goose Down
SELECT 1; -- a database never goes back: restore the backup that was made before the migration
