-- +goose Up
-- Who reads hours as 4:12, not as 4.2.
ALTER TABLE people ADD COLUMN clock_hours BOOLEAN NOT NULL DEFAULT FALSE;

-- +goose Down
ALTER TABLE people DROP COLUMN clock_hours;
