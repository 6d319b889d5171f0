-- +goose Up
-- How often something was written of a client, and of what concerns all of them (0): what was computed of a client holds
-- as long as both counts are the same. Counted by triggers on the connections that write (changes.go).
CREATE TABLE client_changes (client_id INTEGER PRIMARY KEY, count INTEGER NOT NULL);

-- +goose Down
DROP TABLE client_changes;
