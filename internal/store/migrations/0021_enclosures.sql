-- +goose Up
-- Files of the firm's own that go along with invoices, as the profile says: terms of business, a leaflet.
CREATE TABLE enclosures (
	id INTEGER PRIMARY KEY,
	version INTEGER NOT NULL DEFAULT 0,
	name TEXT NOT NULL UNIQUE,
	file TEXT NOT NULL DEFAULT '', -- its digest; nothing until it is chosen
	file_name TEXT NOT NULL DEFAULT '',
	active BOOLEAN NOT NULL DEFAULT TRUE
);

-- +goose Down
-- There is no way back from here: a backup was made before, restore that.
SELECT 1;
