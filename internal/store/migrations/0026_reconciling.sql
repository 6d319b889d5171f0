-- +goose Up
-- Reconciling the clients' account: what was kept of it, and the least that is to be held for a client.
CREATE TABLE reconciliations (
	id INTEGER PRIMARY KEY,
	version INTEGER NOT NULL DEFAULT 0,
	account_id INTEGER NOT NULL REFERENCES bank_accounts(id),
	entity_id INTEGER NOT NULL REFERENCES issuing_entities(id),
	day TEXT NOT NULL,
	bank INTEGER NOT NULL,
	ledger INTEGER NOT NULL, -- and the sum of what is held for clients, which is the same
	differences INTEGER NOT NULL, -- bank less ledger
	open INTEGER NOT NULL, -- differences of which nobody has said what they are
	currency TEXT NOT NULL,
	note TEXT NOT NULL,
	digest TEXT NOT NULL REFERENCES files(digest),
	person_id INTEGER REFERENCES people(id),
	act_id INTEGER NOT NULL REFERENCES acts(id) DEFERRABLE INITIALLY DEFERRED
);
CREATE INDEX reconciliations_of_account ON reconciliations (account_id, day);
-- A transfer has an entry on each of the two accounts.
CREATE TABLE matches_of_both (
	id INTEGER PRIMARY KEY,
	version INTEGER NOT NULL DEFAULT 0,
	entry_id INTEGER NOT NULL REFERENCES bank_entries(id),
	entity_id INTEGER NOT NULL REFERENCES issuing_entities(id),
	payment_id INTEGER UNIQUE REFERENCES payments(id),
	transfer_id INTEGER REFERENCES transfers(id),
	met BOOLEAN NOT NULL,
	CHECK ((payment_id IS NULL) <> (transfer_id IS NULL)),
	UNIQUE (transfer_id, entry_id)
);
INSERT INTO matches_of_both SELECT id, version, entry_id, entity_id, payment_id, transfer_id, met FROM bank_matches;
DROP TABLE bank_matches;
ALTER TABLE matches_of_both RENAME TO bank_matches;
CREATE INDEX bank_matches_of_entry ON bank_matches (entry_id);
ALTER TABLE bank_accounts ADD COLUMN told_day TEXT NOT NULL DEFAULT ''; -- the last day of the month of which it was told that nothing is reconciled

-- +goose Down
-- There is no way back from here: a backup was made before, restore that.
SELECT 1;
