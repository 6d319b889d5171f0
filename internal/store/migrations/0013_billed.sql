-- +goose Up
-- What of a surcharge is on a line: what is billed of an engagement counts it.
ALTER TABLE invoice_lines ADD COLUMN surcharge INTEGER NOT NULL DEFAULT 0;
WITH placed AS (SELECT l.id, l.invoice_id, ROW_NUMBER() OVER (PARTITION BY l.invoice_id ORDER BY l.position, l.engagement_id, l.day, l.id) - 1 AS place
    FROM invoice_lines l JOIN invoices i ON i.id = l.invoice_id AND i.state IN ('issued', 'part_paid', 'paid')),
  shared AS (SELECT p.id, s.value ->> '$.surcharge' AS surcharge FROM placed p JOIN invoices i ON i.id = p.invoice_id
    JOIN invoice_revisions r ON r.invoice_id = i.id AND r.revision = i.revision AND COALESCE(r.content ->> '$.totals.surcharge.minor', 0) <> 0
    JOIN json_each(r.content, '$.totals.shares') s ON s.key = p.place)
UPDATE invoice_lines SET surcharge = shared.surcharge FROM shared WHERE shared.id = invoice_lines.id AND shared.surcharge IS NOT NULL;

-- How much of the work behind a fixed fee is done, as somebody says.
ALTER TABLE engagements ADD COLUMN done INTEGER NOT NULL DEFAULT 0;

-- +goose Down
ALTER TABLE engagements DROP COLUMN done;
ALTER TABLE invoice_lines DROP COLUMN surcharge;
