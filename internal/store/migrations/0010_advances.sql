-- +goose Up
-- What was invoiced ahead is looked for with every bill: without this, through all lines
-- of an engagement's history.
CREATE INDEX advances_of_engagement ON invoice_lines (engagement_id) WHERE kind = 'advance';

-- +goose Down
DROP INDEX advances_of_engagement;
