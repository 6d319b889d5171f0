-- +goose Up
-- Which deposit request money answered, so that the request knows when it is taken back.
ALTER TABLE payments ADD COLUMN request_id INTEGER NOT NULL DEFAULT 0;

-- +goose Down
ALTER TABLE payments DROP COLUMN request_id;
