-- +goose Up
-- Which deposit request money answered, so that the request knows when it is taken back.
ALTER TABLE payments ADD COLUMN request_id INTEGER NOT NULL DEFAULT 0;

-- What of a discount is on a line: a cap counts fees after it.
ALTER TABLE invoice_lines ADD COLUMN discount INTEGER NOT NULL DEFAULT 0;
WITH placed AS (SELECT l.id, l.invoice_id, ROW_NUMBER() OVER (PARTITION BY l.invoice_id ORDER BY l.position, l.engagement_id, l.day, l.id) - 1 AS place
    FROM invoice_lines l JOIN invoices i ON i.id = l.invoice_id AND i.state IN ('issued', 'part_paid', 'paid')),
  shared AS (SELECT p.id, s.value ->> '$.discount' AS discount FROM placed p JOIN invoices i ON i.id = p.invoice_id
    JOIN invoice_revisions r ON r.invoice_id = i.id AND r.revision = i.revision AND COALESCE(r.content ->> '$.totals.discount.minor', 0) <> 0
    JOIN json_each(r.content, '$.totals.shares') s ON s.key = p.place)
UPDATE invoice_lines SET discount = shared.discount FROM shared WHERE shared.id = invoice_lines.id AND shared.discount IS NOT NULL;

-- When a mail that was not taken is tried again.
ALTER TABLE mails ADD COLUMN next_at TIMESTAMP;
CREATE INDEX mails_undelivered ON mails (id) WHERE state = 'failed';

-- Who uploaded a file: there is a most of it in a day, and what nothing names is swept.
ALTER TABLE files ADD COLUMN uploaded_by INTEGER NOT NULL DEFAULT 0;
CREATE INDEX uploads ON files (uploaded_by, at) WHERE uploaded_by <> 0;

-- +goose Down
DROP INDEX uploads;
ALTER TABLE files DROP COLUMN uploaded_by;
DROP INDEX mails_undelivered;
ALTER TABLE mails DROP COLUMN next_at;
ALTER TABLE payments DROP COLUMN request_id;
ALTER TABLE invoice_lines DROP COLUMN discount;
