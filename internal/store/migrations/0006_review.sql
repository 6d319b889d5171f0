-- Review and bill: decisions on unbilled work, billing runs, approval, checks
-- before issue, and long work that tells how far it is.

-- +goose Up

ALTER TABLE portions ADD COLUMN written_down BOOLEAN NOT NULL DEFAULT FALSE; -- of what is written off: off a bill, not for good
ALTER TABLE portions ADD COLUMN adjusted INTEGER NOT NULL DEFAULT 0; -- of agreed: what was written up, or taken off at no charge
ALTER TABLE portions ADD COLUMN adjusted_minutes INTEGER NOT NULL DEFAULT 0; -- of minutes: what was written up
ALTER TABLE portions ADD COLUMN own_rate INTEGER; -- ten-thousandths an hour, that somebody decided on
ALTER TABLE portions ADD COLUMN apart INTEGER NOT NULL DEFAULT 0; -- parts that somebody divided are never joined by themselves

-- A decision on a portion, and what it was before, so that it can be undone.
CREATE TABLE decisions (
  id INTEGER PRIMARY KEY, act_id INTEGER NOT NULL REFERENCES acts(id) DEFERRABLE INITIALLY DEFERRED, kind TEXT NOT NULL,
  portion_id INTEGER NOT NULL REFERENCES portions(id), rest_id INTEGER REFERENCES portions(id), -- the part that came off
  before TEXT NOT NULL, said TEXT NOT NULL, undone BOOLEAN NOT NULL DEFAULT FALSE
);
CREATE INDEX decisions_of_portion ON decisions (portion_id);
CREATE INDEX decisions_of_act ON decisions (act_id);
CREATE INDEX decisions_of_rest ON decisions (rest_id) WHERE rest_id IS NOT NULL;

CREATE TABLE billing_runs (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, name TEXT NOT NULL,
  from_day TEXT NOT NULL, up_to_day TEXT NOT NULL, charges_up_to TEXT NOT NULL, dated TEXT NOT NULL,
  terms TEXT NOT NULL, text TEXT NOT NULL, -- empty: as each client has it
  person_id INTEGER REFERENCES people(id), made_at TIMESTAMP NOT NULL, deleted BOOLEAN NOT NULL DEFAULT FALSE
);
CREATE TABLE run_members (
  run_id INTEGER NOT NULL REFERENCES billing_runs(id), engagement_id INTEGER NOT NULL REFERENCES engagements(id),
  time BOOLEAN NOT NULL, expenses BOOLEAN NOT NULL, charges BOOLEAN NOT NULL, -- what of it is taken
  PRIMARY KEY (run_id, engagement_id)
);
ALTER TABLE invoices ADD COLUMN run_id INTEGER REFERENCES billing_runs(id);
CREATE INDEX invoices_of_run ON invoices (run_id) WHERE run_id IS NOT NULL;

-- Whose approval a draft waits for, and what they said.
CREATE TABLE approvals (
  invoice_id INTEGER NOT NULL REFERENCES invoices(id), lead_id INTEGER NOT NULL REFERENCES people(id),
  state TEXT NOT NULL CHECK (state IN ('asked', 'approved', 'sent_back')), note TEXT NOT NULL DEFAULT '',
  by_id INTEGER REFERENCES people(id), at TIMESTAMP NOT NULL, PRIMARY KEY (invoice_id, lead_id)
);
CREATE INDEX approvals_of_lead ON approvals (lead_id) WHERE state = 'asked';

-- How the firm takes each check before issue. Those that guard a rule of the
-- register have no row: they always block.
CREATE TABLE issue_checks (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, code TEXT NOT NULL UNIQUE, name TEXT NOT NULL,
  level TEXT NOT NULL CHECK (level IN ('block', 'warn', 'off'))
);
INSERT INTO issue_checks (code, name, level) VALUES
  ('not_approved', 'Not approved', 'off'),
  ('funds', 'Funds held, and not applied', 'warn'),
  ('credit', 'Credit of the client, not taken off', 'warn'),
  ('surcharge', 'Agreed surcharge missing', 'block'),
  ('no_contact', 'No billing contact', 'warn'),
  ('zero', 'Nothing to pay', 'warn'),
  ('no_text', 'Entry without a text', 'warn'),
  ('duplicate', 'Likely duplicate', 'warn'),
  ('late_entry', 'Work after the cut-off', 'warn'),
  ('cap', 'Above the cap', 'block'),
  ('budget', 'Above the budget', 'warn'),
  ('unbilled_limit', 'Above the limit on unbilled work', 'warn'),
  ('credit_limit', 'Above the credit limit', 'warn'),
  ('old_rate', 'Rate older than a year', 'warn'),
  ('stays', 'Work stays behind', 'warn');
CREATE TABLE finding_waivers ( -- findings of a draft that somebody left as they are
  invoice_id INTEGER NOT NULL REFERENCES invoices(id), code TEXT NOT NULL, subject_id INTEGER NOT NULL, person_id INTEGER REFERENCES people(id), PRIMARY KEY (invoice_id, code, subject_id)
);

-- What a review asks of each engagement: the lines that bill it, and the time that
-- its fees cover.
CREATE INDEX lines_of_engagement ON invoice_lines (engagement_id);
CREATE INDEX work_movements_of_act ON work_movements (act_id); -- looked for when an act is written after what it moved
CREATE INDEX money_movements_of_act ON money_movements (act_id);
CREATE INDEX credit_given ON money_movements (client_id) WHERE from_bucket = 'credit';
CREATE INDEX credit_taken ON money_movements (client_id) WHERE to_bucket = 'credit';
CREATE INDEX revisions_of_act ON invoice_revisions (act_id);
CREATE INDEX notices_of_act ON notices (act_id);
CREATE INDEX mails_of_act ON mails (act_id);
CREATE INDEX budget_alerts_of_act ON budget_alerts (act_id);
CREATE INDEX engagements_going_on ON engagements (id) WHERE active AND (arrangement = 'recurring' OR proposal_id IS NOT NULL); -- whose charges are made as they fall due
CREATE INDEX portions_covered ON portions (engagement_id) WHERE covered;

CREATE TABLE jobs (
  id INTEGER PRIMARY KEY, kind TEXT NOT NULL, person_id INTEGER NOT NULL REFERENCES people(id), subject_id INTEGER NOT NULL DEFAULT 0,
  state TEXT NOT NULL CHECK (state IN ('running', 'done', 'cancelled', 'failed', 'interrupted')),
  whole INTEGER NOT NULL, done INTEGER NOT NULL DEFAULT 0, said TEXT NOT NULL DEFAULT '', file_name TEXT NOT NULL DEFAULT '',
  began_at TIMESTAMP NOT NULL, ended_at TIMESTAMP
);

-- +goose Down
SELECT 1; -- a database never goes back: restore the backup that was made before the migration
