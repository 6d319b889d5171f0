-- +goose Up
-- Who reads hours as 4:12, not as 4.2.
ALTER TABLE people ADD COLUMN clock_hours BOOLEAN NOT NULL DEFAULT FALSE;

-- What a client gets with a service, in words for proposals.
ALTER TABLE services ADD COLUMN about TEXT NOT NULL DEFAULT '';

-- +goose Down
ALTER TABLE services DROP COLUMN about;
ALTER TABLE people DROP COLUMN clock_hours;
