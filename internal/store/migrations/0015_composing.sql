-- +goose Up
UPDATE issue_checks SET name = 'Work of other days' WHERE code = 'late_entry' AND name = 'Work after the cut-off';

-- What an invoice needs before it goes out.
INSERT INTO issue_checks (code, name, level) VALUES
	('no_issuer_address', 'No address of ours on it', 'block'),
	('no_issuer_tax_number', 'No tax number of ours on it', 'block'),
	('no_way_to_pay', 'No way to pay it', 'block'),
	('other_tax', 'Taxed otherwise than agreed', 'warn'),
	('client_rules', 'Not as the client asks', 'warn');

-- What lines by hand are for: each is taxed as work, as goods or as expenses.
CREATE TABLE line_kinds (
	id INTEGER PRIMARY KEY,
	version INTEGER NOT NULL DEFAULT 0,
	name TEXT NOT NULL UNIQUE,
	taxed TEXT NOT NULL DEFAULT 'work',
	active BOOLEAN NOT NULL DEFAULT TRUE
);
INSERT INTO line_kinds (name, taxed) VALUES ('Service', 'work'), ('Product', 'goods');
ALTER TABLE invoice_lines ADD COLUMN line_kind_id INTEGER REFERENCES line_kinds (id);
ALTER TABLE services ADD COLUMN line_kind_id INTEGER REFERENCES line_kinds (id);

-- The first day of work that a draft takes; nothing: since the last bill.
ALTER TABLE invoices ADD COLUMN from_day TEXT NOT NULL DEFAULT '';

-- What an invoice that begins with a template takes besides its lines: texts, look, schedule.
ALTER TABLE invoice_templates ADD COLUMN choices TEXT NOT NULL DEFAULT '{}';

-- The invoice that comes back as a planned charge.
ALTER TABLE charges ADD COLUMN like_id INTEGER REFERENCES invoices (id);
CREATE INDEX charges_like ON charges (like_id) WHERE like_id IS NOT NULL;

-- +goose Down
DROP INDEX charges_like;
ALTER TABLE charges DROP COLUMN like_id;
ALTER TABLE invoice_templates DROP COLUMN choices;
ALTER TABLE invoices DROP COLUMN from_day;
ALTER TABLE services DROP COLUMN line_kind_id;
ALTER TABLE invoice_lines DROP COLUMN line_kind_id;
DROP TABLE line_kinds;
DELETE FROM issue_checks WHERE code IN ('no_issuer_address', 'no_issuer_tax_number', 'no_way_to_pay', 'other_tax', 'client_rules');
