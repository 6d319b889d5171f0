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

-- What is said to whoever writes stands beside a text, never in what a client signs.
ALTER TABLE proposal_texts ADD COLUMN note TEXT NOT NULL DEFAULT '';
UPDATE proposal_texts SET note = 'A lawyer should read these terms before you use them, and change what does not fit.', text = REPLACE(text, 'A lawyer should read these terms before you use them, and change what does not fit.' || char(10) || char(10), '')
  WHERE text LIKE 'A lawyer should read these terms before you use them, and change what does not fit.%';
UPDATE proposal_texts SET text = REPLACE(text, 'This is what we propose for {client}, in versions to choose from.', 'This is what we propose for {client}.');
UPDATE proposal_drafts SET content = REPLACE(content, 'A lawyer should read these terms before you use them, and change what does not fit.\n\n', '')
  WHERE proposal_id IN (SELECT id FROM proposals WHERE state = 'draft');

-- +goose Down
ALTER TABLE proposal_texts DROP COLUMN note;
ALTER TABLE engagements DROP COLUMN done;
ALTER TABLE invoice_lines DROP COLUMN surcharge;
