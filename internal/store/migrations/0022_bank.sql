-- +goose Up
-- What banks say: accounts of the firm, their statements, each entry once, and what it was found to be.
CREATE TABLE bank_accounts (
	id INTEGER PRIMARY KEY,
	version INTEGER NOT NULL DEFAULT 0,
	name TEXT NOT NULL UNIQUE,
	entity_id INTEGER NOT NULL REFERENCES issuing_entities(id),
	iban TEXT NOT NULL DEFAULT '', -- or the bank's own number, without spaces
	currency TEXT NOT NULL,
	clients_money BOOLEAN NOT NULL DEFAULT FALSE, -- what is on it is held for clients
	day_column TEXT NOT NULL DEFAULT '', -- how its CSV files are headed
	amount_column TEXT NOT NULL DEFAULT '',
	came_column TEXT NOT NULL DEFAULT '',
	went_column TEXT NOT NULL DEFAULT '',
	text_column TEXT NOT NULL DEFAULT '',
	party_column TEXT NOT NULL DEFAULT '',
	party_account_column TEXT NOT NULL DEFAULT '',
	reference_column TEXT NOT NULL DEFAULT '',
	balance_column TEXT NOT NULL DEFAULT '',
	active BOOLEAN NOT NULL DEFAULT TRUE
);
INSERT INTO bank_accounts (name, entity_id, iban, currency)
	SELECT name || ' ' || id, id, UPPER(REPLACE(iban, ' ', '')), (SELECT currency FROM firm) FROM issuing_entities WHERE iban <> '';

CREATE TABLE bank_statements (
	id INTEGER PRIMARY KEY,
	version INTEGER NOT NULL DEFAULT 0,
	account_id INTEGER NOT NULL REFERENCES bank_accounts(id),
	entity_id INTEGER NOT NULL REFERENCES issuing_entities(id),
	number TEXT NOT NULL,
	from_day TEXT NOT NULL, to_day TEXT NOT NULL,
	opening INTEGER NOT NULL, closing INTEGER NOT NULL, currency TEXT NOT NULL,
	file_name TEXT NOT NULL,
	act_id INTEGER NOT NULL REFERENCES acts(id) DEFERRABLE INITIALLY DEFERRED,
	read_at TIMESTAMP NOT NULL
);
CREATE INDEX bank_statements_of_account ON bank_statements (account_id, to_day);

CREATE TABLE bank_entries (
	id INTEGER PRIMARY KEY,
	version INTEGER NOT NULL DEFAULT 0,
	statement_id INTEGER NOT NULL REFERENCES bank_statements(id),
	account_id INTEGER NOT NULL REFERENCES bank_accounts(id),
	entity_id INTEGER NOT NULL REFERENCES issuing_entities(id),
	key TEXT NOT NULL, -- by what the bank knows it, or a digest of what it says
	booked_day TEXT NOT NULL, value_day TEXT NOT NULL,
	amount INTEGER NOT NULL, currency TEXT NOT NULL, -- negative: it went out
	creditor TEXT NOT NULL, end_to_end TEXT NOT NULL, text TEXT NOT NULL,
	party TEXT NOT NULL, party_account TEXT NOT NULL,
	returned BOOLEAN NOT NULL, reason TEXT NOT NULL,
	state TEXT NOT NULL DEFAULT 'open' CHECK (state IN ('open', 'taken', 'aside')),
	aside TEXT NOT NULL DEFAULT '', -- what it is, where it is none of clients
	UNIQUE (account_id, key)
);
CREATE INDEX bank_entries_of_statement ON bank_entries (statement_id);
CREATE INDEX bank_entries_by_account ON bank_entries (party_account) WHERE party_account <> '';
CREATE INDEX bank_entries_open ON bank_entries (account_id, booked_day) WHERE state = 'open';

-- What an entry was taken for: a payment that it made, one that was recorded before (met), or a transfer that was made.
CREATE TABLE bank_matches (
	id INTEGER PRIMARY KEY,
	version INTEGER NOT NULL DEFAULT 0,
	entry_id INTEGER NOT NULL REFERENCES bank_entries(id),
	entity_id INTEGER NOT NULL REFERENCES issuing_entities(id),
	payment_id INTEGER UNIQUE REFERENCES payments(id),
	transfer_id INTEGER UNIQUE REFERENCES transfers(id),
	met BOOLEAN NOT NULL,
	CHECK ((payment_id IS NULL) <> (transfer_id IS NULL))
);
CREATE INDEX bank_matches_of_entry ON bank_matches (entry_id);

-- From which accounts clients pay.
CREATE TABLE client_accounts (
	id INTEGER PRIMARY KEY,
	version INTEGER NOT NULL DEFAULT 0,
	client_id INTEGER NOT NULL REFERENCES clients(id),
	account TEXT NOT NULL,
	UNIQUE (client_id, account)
);

-- +goose Down
-- There is no way back from here: a backup was made before, restore that.
SELECT 1;
