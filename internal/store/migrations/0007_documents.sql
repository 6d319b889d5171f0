-- +goose Up

-- Where a party is: an e-invoice can't do without.
ALTER TABLE issuing_entities ADD COLUMN country TEXT NOT NULL DEFAULT ''; -- ISO 3166

-- How files that name people classify them: PT, AS, PL, LA, OC, OT.
ALTER TABLE grades ADD COLUMN file_class TEXT NOT NULL DEFAULT 'OT';

-- The firm's own words on documents, in place of ours.
CREATE TABLE wordings (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0,
  language TEXT NOT NULL, label TEXT NOT NULL, text TEXT NOT NULL, UNIQUE (language, label)
);

-- Under which number the bookkeeper has what the money ledger moves.
CREATE TABLE ledger_accounts (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0,
  posting TEXT NOT NULL UNIQUE, name TEXT NOT NULL, account TEXT NOT NULL DEFAULT ''
);
INSERT INTO ledger_accounts (posting, name) VALUES
  ('receivable', 'Receivables'),
  ('bank', 'Bank'),
  ('funds', 'Funds held for clients'),
  ('credit', 'Credit of clients'),
  ('time', 'Fees by the hour'),
  ('fixed', 'Fixed fees'),
  ('recurring', 'Recurring fees'),
  ('progress', 'Progress fees'),
  ('expense', 'Expenses charged on'),
  ('by_hand', 'Other lines'),
  ('surcharge', 'Surcharges'),
  ('discount', 'Discounts given'),
  ('advances', 'Advances invoiced'),
  ('tax_payable', 'Tax, where the tax code has no account of its own'),
  ('withheld', 'Tax withheld by clients'),
  ('exchange', 'Exchange differences'),
  ('opening_balance', 'Opening balances');
ALTER TABLE tax_codes ADD COLUMN account TEXT NOT NULL DEFAULT '';

INSERT INTO issue_checks (code, name, level) VALUES ('no_einvoice', 'No e-invoice inside the PDF', 'off');

-- Which drawing of documents made the file of a revision: the present one makes the
-- same bytes again. 0: before it was noted.
ALTER TABLE invoice_revisions ADD COLUMN drawing INTEGER NOT NULL DEFAULT 0;

-- +goose Down
SELECT 1; -- a database never goes back: restore the backup that was made before the migration
