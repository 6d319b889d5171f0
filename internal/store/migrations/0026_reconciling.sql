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
ALTER TABLE bank_accounts ADD COLUMN told_day TEXT NOT NULL DEFAULT ''; -- the last day of the month of which it was told that nothing is reconciled

-- +goose Down
-- There is no way back from here: a backup was made before, restore that.
SELECT 1;
