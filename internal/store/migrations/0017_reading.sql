-- +goose Up
-- What is read of many rows stands whole in an index: a table of a million rows is not read for it row by row.
DROP INDEX portions_unbilled;
CREATE INDEX portions_unbilled ON portions (engagement_id, worked_day, source, source_id, treatment, hold, hold_until, without_rate,
  minutes, standard, agreed, billing, removed) WHERE billing = 'unbilled' AND removed = FALSE;
DROP INDEX time_entries_of_engagement;
CREATE INDEX time_entries_of_engagement ON time_entries (engagement_id, removed, day, currency, worked_minutes, expected_minutes, agreed);
DROP INDEX portions_of_source;
CREATE INDEX portions_of_source ON portions (source, source_id, removed, part, billing, treatment, over_cap, engagement_id, agreed);
DROP INDEX time_entries_by_day;
CREATE INDEX time_entries_by_day ON time_entries (day, id, engagement_id, currency, worked_minutes, expected_minutes, agreed, removed)
  WHERE removed = FALSE;
DROP INDEX invoices_by_state; -- two indexes, each with the states that are asked for together
CREATE INDEX invoices_drafts ON invoices (client_id, id) WHERE state IN ('draft', 'in_approval', 'approved');
CREATE INDEX invoices_issued ON invoices (dated DESC, series_id, number DESC, id DESC) WHERE state IN ('issued', 'part_paid', 'paid');
CREATE INDEX invoices_sums ON invoices (client_id, currency, net, tax, total, open, state) WHERE state IN ('issued', 'part_paid', 'paid');
CREATE INDEX invoices_billed ON invoices (client_id, dated) WHERE kind = 'invoice' AND state IN ('issued', 'part_paid', 'paid');
-- What is not simply added up of what is unbilled: few of many.
CREATE INDEX portions_unusual ON portions (engagement_id) WHERE billing = 'unbilled' AND removed = FALSE
  AND (source <> 'time' OR hold <> 'none' OR without_rate OR treatment = 'no_charge');
-- When an engagement was billed stands beside its invoices.
ALTER TABLE invoice_engagements ADD COLUMN billed_day TEXT NOT NULL DEFAULT '';
UPDATE invoice_engagements SET billed_day = COALESCE((SELECT i.dated FROM invoices i WHERE i.id = invoice_id AND i.kind = 'invoice'
  AND i.state IN ('issued', 'part_paid', 'paid')), '');
DROP INDEX invoices_of_engagement;
CREATE INDEX invoices_of_engagement ON invoice_engagements (engagement_id, billed_day, invoice_id);
-- +goose StatementBegin
CREATE TRIGGER billed AFTER UPDATE OF state, dated ON invoices WHEN (NEW.state, NEW.dated) IS NOT (OLD.state, OLD.dated) BEGIN
  UPDATE invoice_engagements SET billed_day = CASE WHEN NEW.kind = 'invoice' AND NEW.state IN ('issued', 'part_paid', 'paid')
    THEN NEW.dated ELSE '' END WHERE invoice_id = NEW.id;
END;
-- +goose StatementEnd
CREATE INDEX instalments_owed ON instalments (invoice_id, due_day, open) WHERE open <> 0;
-- What time comes to, by engagement and month.
CREATE TABLE time_months (
  engagement_id INTEGER NOT NULL REFERENCES engagements(id), month TEXT NOT NULL, currency TEXT NOT NULL,
  entries INTEGER NOT NULL, worked_minutes INTEGER NOT NULL, expected_minutes INTEGER NOT NULL, agreed INTEGER NOT NULL,
  PRIMARY KEY (engagement_id, month, currency)
);
INSERT INTO time_months SELECT engagement_id, substr(day, 1, 7), currency, COUNT(*), SUM(worked_minutes), SUM(expected_minutes), SUM(agreed)
  FROM time_entries WHERE removed = FALSE GROUP BY 1, 2, 3;
-- +goose StatementBegin
CREATE TRIGGER time_added AFTER INSERT ON time_entries WHEN NOT NEW.removed BEGIN
  INSERT INTO time_months VALUES (NEW.engagement_id, substr(NEW.day, 1, 7), NEW.currency, 1, NEW.worked_minutes, NEW.expected_minutes, NEW.agreed)
    ON CONFLICT DO UPDATE SET entries = entries + 1, worked_minutes = worked_minutes + NEW.worked_minutes,
      expected_minutes = expected_minutes + NEW.expected_minutes, agreed = agreed + NEW.agreed;
END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER time_changed AFTER UPDATE OF engagement_id, day, currency, worked_minutes, expected_minutes, agreed, removed ON time_entries BEGIN
  UPDATE time_months SET entries = entries - 1, worked_minutes = worked_minutes - OLD.worked_minutes,
      expected_minutes = expected_minutes - OLD.expected_minutes, agreed = agreed - OLD.agreed
    WHERE NOT OLD.removed AND engagement_id = OLD.engagement_id AND month = substr(OLD.day, 1, 7) AND currency = OLD.currency;
  INSERT INTO time_months SELECT NEW.engagement_id, substr(NEW.day, 1, 7), NEW.currency, 1, NEW.worked_minutes, NEW.expected_minutes, NEW.agreed
    WHERE NOT NEW.removed
    ON CONFLICT DO UPDATE SET entries = entries + 1, worked_minutes = worked_minutes + NEW.worked_minutes,
      expected_minutes = expected_minutes + NEW.expected_minutes, agreed = agreed + NEW.agreed;
END;
-- +goose StatementEnd
-- What names a record of the set-up.
CREATE INDEX time_entries_of_service ON time_entries (service_id);
CREATE INDEX time_entries_of_phase ON time_entries (phase_id) WHERE phase_id IS NOT NULL;
CREATE INDEX lines_of_tax_code ON invoice_lines (tax_code_id);
CREATE INDEX lines_of_kind ON invoice_lines (line_kind_id) WHERE line_kind_id IS NOT NULL;
CREATE INDEX lines_of_picture ON invoice_lines (picture_id) WHERE picture_id IS NOT NULL;
CREATE INDEX acts_of_person ON acts (person_id);
CREATE INDEX invoices_of_entity ON invoices (entity_id);

-- +goose Down
DROP TRIGGER time_changed;
DROP TRIGGER time_added;
DROP TABLE time_months;
DROP TRIGGER billed;
DROP INDEX invoices_of_engagement;
ALTER TABLE invoice_engagements DROP COLUMN billed_day;
CREATE INDEX invoices_of_engagement ON invoice_engagements (engagement_id);
DROP INDEX portions_unusual;
DROP INDEX invoices_billed;
DROP INDEX invoices_of_entity;
DROP INDEX acts_of_person;
DROP INDEX lines_of_picture;
DROP INDEX lines_of_kind;
DROP INDEX lines_of_tax_code;
DROP INDEX time_entries_of_phase;
DROP INDEX time_entries_of_service;
DROP INDEX instalments_owed;
DROP INDEX invoices_sums;
DROP INDEX invoices_issued;
DROP INDEX invoices_drafts;
CREATE INDEX invoices_by_state ON invoices (state);
DROP INDEX time_entries_by_day;
CREATE INDEX time_entries_by_day ON time_entries (day, id) WHERE removed = FALSE;
DROP INDEX portions_of_source;
CREATE INDEX portions_of_source ON portions (source, source_id);
DROP INDEX time_entries_of_engagement;
CREATE INDEX time_entries_of_engagement ON time_entries (engagement_id, day) WHERE removed = FALSE;
DROP INDEX portions_unbilled;
CREATE INDEX portions_unbilled ON portions (engagement_id, worked_day) WHERE billing = 'unbilled' AND removed = FALSE;
