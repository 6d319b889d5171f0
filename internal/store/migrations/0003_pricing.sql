-- Proposals: drafts and their versions, links for clients, answers, the plan of
-- bills that an acceptance makes, mail, questionnaires.

-- +goose Up

ALTER TABLE firm ADD COLUMN fee_step INTEGER; -- to which suggested fees are raised, in minor units
ALTER TABLE acts ADD COLUMN outsider TEXT NOT NULL DEFAULT ''; -- who acted through a link, without an account
ALTER TABLE engagements ADD COLUMN proposal_id INTEGER; -- that made it

CREATE TABLE proposal_texts (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, name TEXT NOT NULL UNIQUE,
  purpose TEXT NOT NULL CHECK (purpose IN ('terms', 'opening_new', 'opening_known', 'after_signing', 'mail')), text TEXT NOT NULL, active BOOLEAN NOT NULL
);
INSERT INTO proposal_texts (name, purpose, text, active) VALUES
  ('Standard terms', 'terms', 'A lawyer should read these terms before you use them, and change what does not fit.' || char(10) || char(10) ||
    '1. {firm} does for {client} the work described above, from {start}.' || char(10) || '2. Prices are net of tax. Prices hold for {term}.' || char(10) ||
    '3. Bills are due {payment_terms}.' || char(10) || '4. Either side may end recurring work with a month''s notice, after the least term.', TRUE),
  ('Opening, new client', 'opening_new', 'Thank you for asking us. This is what we propose for {client}, in versions to choose from.', TRUE),
  ('Opening, known client', 'opening_known', 'Thank you for working with us again. This is what we propose next.', TRUE),
  ('After signing', 'after_signing', 'Thank you. {lead} will call you within two working days to begin.', TRUE),
  ('Mail with a proposal', 'mail', 'Dear {contact},' || char(10) || char(10) || 'our proposal “{title}” is ready for you: {link}' || char(10) || char(10) ||
    'You can choose, ask and accept there until {valid_until}.' || char(10) || char(10) || 'Kind regards' || char(10) || '{lead}, {firm}', TRUE);

CREATE TABLE proposals (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, entity_id INTEGER NOT NULL REFERENCES issuing_entities(id),
  client_id INTEGER NOT NULL REFERENCES clients(id), lead_id INTEGER NOT NULL REFERENCES people(id),
  number INTEGER NOT NULL, number_text TEXT NOT NULL, name TEXT NOT NULL, title TEXT NOT NULL, currency TEXT NOT NULL, state TEXT NOT NULL,
  draft INTEGER NOT NULL, -- the newest version of its content
  valid_until TEXT NOT NULL, first_year INTEGER NOT NULL, -- net, of the suggested or the answered tier
  made_from_id INTEGER REFERENCES proposals(id), replaces_id INTEGER REFERENCES proposals(id),
  made_at TIMESTAMP NOT NULL, saved_at TIMESTAMP NOT NULL, sent_day TEXT NOT NULL DEFAULT '', sent_at TIMESTAMP, seen_at TIMESTAMP,
  answered_day TEXT NOT NULL DEFAULT '', answered_at TIMESTAMP, UNIQUE (entity_id, number)
);
CREATE INDEX proposals_of_client ON proposals (client_id);
CREATE TABLE proposal_drafts (
  id INTEGER PRIMARY KEY, proposal_id INTEGER NOT NULL REFERENCES proposals(id), draft INTEGER NOT NULL,
  content TEXT NOT NULL, at TIMESTAMP NOT NULL, person_id INTEGER NOT NULL, UNIQUE (proposal_id, draft)
);
CREATE TABLE proposal_answers ( -- one at most
  proposal_id INTEGER PRIMARY KEY REFERENCES proposals(id), accepted BOOLEAN NOT NULL, tier INTEGER NOT NULL, choice TEXT NOT NULL,
  name TEXT NOT NULL, mail TEXT NOT NULL, at TIMESTAMP NOT NULL, day TEXT NOT NULL, address TEXT NOT NULL, reason TEXT NOT NULL,
  evidence TEXT NOT NULL, evidence_file TEXT NOT NULL DEFAULT '', evidence_name TEXT NOT NULL DEFAULT '', person_id INTEGER REFERENCES people(id), -- who recorded an answer given elsewhere
  way_id INTEGER, content TEXT NOT NULL, document TEXT NOT NULL DEFAULT '', -- digest of the signed copy
  planned INTEGER NOT NULL, deposits INTEGER NOT NULL
);
CREATE TRIGGER proposal_answers_stay BEFORE UPDATE ON proposal_answers BEGIN SELECT RAISE(ABORT, 'an answer is never changed'); END;
CREATE TABLE proposal_questions (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, proposal_id INTEGER NOT NULL REFERENCES proposals(id), name TEXT NOT NULL, mail TEXT NOT NULL,
  text TEXT NOT NULL, at TIMESTAMP NOT NULL, answer TEXT NOT NULL DEFAULT '', answered_at TIMESTAMP, person_id INTEGER REFERENCES people(id)
);
CREATE INDEX questions_of_proposal ON proposal_questions (proposal_id);

CREATE TABLE links ( -- for people without an account
  id INTEGER PRIMARY KEY, digest TEXT NOT NULL UNIQUE, -- of the secret in it
  purpose TEXT NOT NULL CHECK (purpose IN ('proposal', 'questionnaire')), subject_id INTEGER NOT NULL, name TEXT NOT NULL, mail TEXT NOT NULL,
  made_at TIMESTAMP NOT NULL, expires_at TIMESTAMP NOT NULL, withdrawn_at TIMESTAMP, seen_at TIMESTAMP,
  code_digest TEXT NOT NULL DEFAULT '', code_expires_at TIMESTAMP, code_tries INTEGER NOT NULL DEFAULT 0 -- the one-time code before a signature
);
CREATE INDEX links_of_subject ON links (purpose, subject_id);

CREATE TABLE payment_ways ( -- nothing of a card or an account but a token and its end
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, client_id INTEGER NOT NULL REFERENCES clients(id), kind TEXT NOT NULL CHECK (kind IN ('card', 'debit')),
  token TEXT NOT NULL, last_four TEXT NOT NULL, holder TEXT NOT NULL, at TIMESTAMP NOT NULL, active BOOLEAN NOT NULL
);
CREATE INDEX ways_of_client ON payment_ways (client_id);

CREATE TABLE plan_lines ( -- what was agreed, line by line: from it open-ended plans go on
  id INTEGER PRIMARY KEY, engagement_id INTEGER NOT NULL REFERENCES engagements(id), proposal_id INTEGER NOT NULL REFERENCES proposals(id),
  position INTEGER NOT NULL, content TEXT NOT NULL
);
CREATE TABLE charges (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, engagement_id INTEGER NOT NULL REFERENCES engagements(id), proposal_id INTEGER REFERENCES proposals(id),
  position INTEGER NOT NULL, kind TEXT NOT NULL CHECK (kind IN ('fixed', 'recurring', 'deposit')), text TEXT NOT NULL,
  amount INTEGER NOT NULL, currency TEXT NOT NULL, tax_code_id INTEGER NOT NULL REFERENCES tax_codes(id),
  bill_day TEXT NOT NULL, event TEXT NOT NULL, reached_day TEXT NOT NULL DEFAULT '', from_day TEXT NOT NULL, to_day TEXT NOT NULL,
  open BOOLEAN NOT NULL, by_hand BOOLEAN NOT NULL, paused BOOLEAN NOT NULL, state TEXT NOT NULL DEFAULT 'planned'
);
CREATE INDEX charges_of_engagement ON charges (engagement_id);
CREATE INDEX charges_due ON charges (bill_day) WHERE state = 'planned';

CREATE TABLE mails (
  id INTEGER PRIMARY KEY, act_id INTEGER NOT NULL REFERENCES acts(id) DEFERRABLE INITIALLY DEFERRED, client_id INTEGER REFERENCES clients(id),
  proposal_id INTEGER REFERENCES proposals(id), to_name TEXT NOT NULL, to_mail TEXT NOT NULL, copies TEXT NOT NULL DEFAULT '', subject TEXT NOT NULL, body TEXT NOT NULL,
  link_purpose TEXT NOT NULL DEFAULT '', link_subject INTEGER NOT NULL DEFAULT 0, link_expires TIMESTAMP, -- the link is made when it is delivered
  attachment TEXT NOT NULL DEFAULT '', attachment_name TEXT NOT NULL DEFAULT '',
  state TEXT NOT NULL CHECK (state IN ('queued', 'sent', 'failed')), tries INTEGER NOT NULL DEFAULT 0, problem TEXT NOT NULL DEFAULT '',
  made_at TIMESTAMP NOT NULL, sent_at TIMESTAMP
);
CREATE INDEX mails_queued ON mails (id) WHERE state = 'queued';

CREATE TABLE questionnaires (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, name TEXT NOT NULL UNIQUE, opening TEXT NOT NULL, questions TEXT NOT NULL, active BOOLEAN NOT NULL
);
INSERT INTO questionnaires (name, opening, questions, active) VALUES ('New client', 'A few facts, so that our work and our bills begin right.',
  'Your full legal name > invoice_name' || char(10) || 'Registered address > address' || char(10) || 'Where should bills go, if elsewhere? > billing_address' || char(10) ||
  'Tax number > tax_number' || char(10) || 'Your order number or reference' || char(10) || 'Who should we call with questions?', TRUE);
CREATE TABLE client_questionnaires (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, client_id INTEGER NOT NULL REFERENCES clients(id), name TEXT NOT NULL, opening TEXT NOT NULL,
  questions TEXT NOT NULL, sent_at TIMESTAMP NOT NULL, answered_at TIMESTAMP, answers TEXT NOT NULL DEFAULT '', taken TEXT NOT NULL DEFAULT ''
);
CREATE INDEX questionnaires_of_client ON client_questionnaires (client_id);
