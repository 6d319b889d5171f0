-- +goose Up
-- Out to the bank: what people are paid back, and orders of what is to be paid.
ALTER TABLE people ADD COLUMN iban TEXT NOT NULL DEFAULT ''; -- to which they are paid back what they laid out
CREATE TABLE reimbursements (
	id INTEGER PRIMARY KEY,
	version INTEGER NOT NULL DEFAULT 0,
	person_id INTEGER NOT NULL REFERENCES people(id),
	entity_id INTEGER NOT NULL REFERENCES issuing_entities(id),
	day TEXT NOT NULL,
	amount INTEGER NOT NULL, -- the sum of what the person paid, with tax
	currency TEXT NOT NULL,
	note TEXT NOT NULL,
	by_id INTEGER REFERENCES people(id),
	taken_back BOOLEAN NOT NULL DEFAULT FALSE,
	act_id INTEGER NOT NULL REFERENCES acts(id) DEFERRABLE INITIALLY DEFERRED
);
CREATE INDEX reimbursements_of_person ON reimbursements (person_id);
CREATE TABLE reimbursed (
	reimbursement_id INTEGER NOT NULL REFERENCES reimbursements(id),
	purchase_id INTEGER NOT NULL REFERENCES purchases(id),
	amount INTEGER NOT NULL,
	PRIMARY KEY (reimbursement_id, purchase_id)
);
CREATE INDEX reimbursed_of_purchase ON reimbursed (purchase_id);
CREATE TABLE bank_orders (
	id INTEGER PRIMARY KEY,
	version INTEGER NOT NULL DEFAULT 0,
	account_id INTEGER NOT NULL REFERENCES bank_accounts(id),
	entity_id INTEGER NOT NULL REFERENCES issuing_entities(id),
	name TEXT NOT NULL UNIQUE, -- under which the bank knows it
	day TEXT NOT NULL, -- on which it is to leave
	total INTEGER NOT NULL,
	currency TEXT NOT NULL,
	digest TEXT NOT NULL REFERENCES files(digest),
	made_at TIMESTAMP NOT NULL,
	person_id INTEGER REFERENCES people(id),
	withdrawn BOOLEAN NOT NULL DEFAULT FALSE,
	act_id INTEGER NOT NULL REFERENCES acts(id) DEFERRABLE INITIALLY DEFERRED
);
CREATE TABLE ordered (
	id INTEGER PRIMARY KEY,
	version INTEGER NOT NULL DEFAULT 0,
	order_id INTEGER NOT NULL REFERENCES bank_orders(id),
	entity_id INTEGER NOT NULL REFERENCES issuing_entities(id),
	transfer_id INTEGER REFERENCES transfers(id),
	payment_id INTEGER REFERENCES payments(id),
	reimbursement_id INTEGER REFERENCES reimbursements(id),
	name TEXT NOT NULL,
	iban TEXT NOT NULL,
	amount INTEGER NOT NULL,
	text TEXT NOT NULL,
	CHECK ((transfer_id IS NOT NULL) + (payment_id IS NOT NULL) + (reimbursement_id IS NOT NULL) = 1)
);
CREATE INDEX ordered_of_order ON ordered (order_id);
CREATE INDEX ordered_transfers ON ordered (transfer_id) WHERE transfer_id IS NOT NULL;
-- A transfer has an entry on each of two accounts; what a person is paid back has one, too.
CREATE TABLE matches_of_more (
	id INTEGER PRIMARY KEY,
	version INTEGER NOT NULL DEFAULT 0,
	entry_id INTEGER NOT NULL REFERENCES bank_entries(id),
	entity_id INTEGER NOT NULL REFERENCES issuing_entities(id),
	payment_id INTEGER UNIQUE REFERENCES payments(id),
	transfer_id INTEGER REFERENCES transfers(id),
	reimbursement_id INTEGER UNIQUE REFERENCES reimbursements(id),
	met BOOLEAN NOT NULL,
	CHECK ((transfer_id IS NOT NULL) + (payment_id IS NOT NULL) + (reimbursement_id IS NOT NULL) = 1),
	UNIQUE (transfer_id, entry_id)
);
INSERT INTO matches_of_more SELECT id, version, entry_id, entity_id, payment_id, transfer_id, NULL, met FROM bank_matches;
DROP TABLE bank_matches;
ALTER TABLE matches_of_more RENAME TO bank_matches;
CREATE INDEX bank_matches_of_entry ON bank_matches (entry_id);

-- +goose Down
-- There is no way back from here: a backup was made before, restore that.
SELECT 1;
