-- +goose Up
-- Whoever holds a link may pass it on to a contact of the client; to others when the firm has said yes.
CREATE TABLE proposal_passings (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, proposal_id INTEGER NOT NULL REFERENCES proposals(id), by_name TEXT NOT NULL, by_mail TEXT NOT NULL,
  name TEXT NOT NULL, mail TEXT NOT NULL, word TEXT NOT NULL, at TIMESTAMP NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('asked', 'sent', 'refused')), person_id INTEGER REFERENCES people(id)
);
CREATE INDEX proposal_passings_asked ON proposal_passings (proposal_id);
ALTER TABLE firm ADD COLUMN pass_within_domain BOOLEAN NOT NULL DEFAULT FALSE;

-- After how long without a request a session ends, and whether a second administrator agrees to bank details, roles and limits.
ALTER TABLE firm ADD COLUMN idle_minutes INTEGER NOT NULL DEFAULT 240;
ALTER TABLE firm ADD COLUMN two_agree BOOLEAN NOT NULL DEFAULT FALSE;
ALTER TABLE firm ADD COLUMN refund_proof INTEGER DEFAULT 100000; -- a refund above it asks for the password; in minor units
ALTER TABLE signed_in ADD COLUMN asked_at TIMESTAMP; -- last, to a minute
ALTER TABLE signed_in ADD COLUMN proved_at TIMESTAMP; -- when the password was last typed in it

CREATE TABLE recovery_codes ( -- in place of a device that was lost, each once
  person_id INTEGER NOT NULL REFERENCES people(id), digest TEXT NOT NULL, used_at TIMESTAMP, PRIMARY KEY (person_id, digest)
);
CREATE TABLE known_devices ( -- browsers in which a person has signed in
  digest TEXT PRIMARY KEY, person_id INTEGER NOT NULL REFERENCES people(id), made_at TIMESTAMP NOT NULL
);
CREATE INDEX known_devices_of ON known_devices (person_id);
CREATE TABLE wrong_guesses ( -- of passwords and codes, by account and by whence they came
  account TEXT NOT NULL, whence TEXT NOT NULL, number INTEGER NOT NULL, last_at TIMESTAMP NOT NULL, PRIMARY KEY (account, whence)
);
CREATE TABLE security_log (
  id INTEGER PRIMARY KEY, at TIMESTAMP NOT NULL, kind TEXT NOT NULL, person_id INTEGER REFERENCES people(id), account TEXT NOT NULL,
  address TEXT NOT NULL, browser TEXT NOT NULL, said TEXT NOT NULL
);
-- +goose StatementBegin
CREATE TRIGGER security_log_stays BEFORE UPDATE ON security_log BEGIN SELECT RAISE(ABORT, 'the security log is never changed'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER security_log_never_goes BEFORE DELETE ON security_log BEGIN SELECT RAISE(ABORT, 'the security log is never deleted'); END;
-- +goose StatementEnd
CREATE TABLE proposed_changes ( -- that wait for a second administrator
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, kind TEXT NOT NULL, record_id INTEGER NOT NULL, field TEXT NOT NULL, before TEXT NOT NULL, value TEXT NOT NULL,
  person_id INTEGER NOT NULL REFERENCES people(id), at TIMESTAMP NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('waits', 'agreed', 'refused')), answered_by INTEGER REFERENCES people(id)
);
CREATE INDEX proposed_changes_waiting ON proposed_changes (state);

-- +goose Down
DROP TABLE proposed_changes;
DROP TABLE security_log;
DROP TABLE wrong_guesses;
DROP TABLE known_devices;
DROP TABLE recovery_codes;
ALTER TABLE signed_in DROP COLUMN proved_at;
ALTER TABLE signed_in DROP COLUMN asked_at;
ALTER TABLE firm DROP COLUMN refund_proof;
ALTER TABLE firm DROP COLUMN two_agree;
ALTER TABLE firm DROP COLUMN idle_minutes;
ALTER TABLE firm DROP COLUMN pass_within_domain;
DROP TABLE proposal_passings;
