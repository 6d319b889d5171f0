-- +goose Up
-- How often something was written of a client, and of what concerns all of them (0): what was computed of a client holds
-- as long as both counts are the same. Counted by triggers on the connections that write (changes.go).
CREATE TABLE client_changes (client_id INTEGER PRIMARY KEY, count INTEGER NOT NULL);
-- What moved the money held.
CREATE INDEX movements_of_funds ON money_movements (funds_id) WHERE funds_id IS NOT NULL;

-- +goose Down
DROP INDEX movements_of_funds;
DROP TABLE client_changes;
