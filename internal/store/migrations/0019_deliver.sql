-- +goose Up
-- Handing documents over: what was handed to whom, by which way, and what became of it. A mail can have several files and
-- several links, and is known to its mail server by a key, under which reports on it come back.
ALTER TABLE mails RENAME TO mails_before;
CREATE TABLE deliveries (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, entity_id INTEGER NOT NULL REFERENCES issuing_entities(id),
  client_id INTEGER NOT NULL REFERENCES clients(id), act_id INTEGER NOT NULL REFERENCES acts(id) DEFERRABLE INITIALLY DEFERRED,
  kind TEXT NOT NULL CHECK (kind IN ('invoice', 'credit_note', 'deposit', 'receipt', 'statement', 'reminder')),
  way TEXT NOT NULL CHECK (way IN ('mail', 'print', 'post', 'download')),
  state TEXT NOT NULL CHECK (state IN ('queued', 'taken', 'arrived', 'failed', 'called_back', 'posted', 'saved')),
  to_name TEXT NOT NULL, to_mail TEXT NOT NULL DEFAULT '', day TEXT NOT NULL DEFAULT '', -- on which it left the house
  made_at TIMESTAMP NOT NULL
);
CREATE INDEX deliveries_of_client ON deliveries (client_id, id);
CREATE TABLE delivered (
  delivery_id INTEGER NOT NULL REFERENCES deliveries(id), invoice_id INTEGER NOT NULL REFERENCES invoices(id), revision INTEGER NOT NULL,
  opened_at TIMESTAMP, fetched_at TIMESTAMP, PRIMARY KEY (delivery_id, invoice_id)
);
CREATE INDEX delivered_of_invoice ON delivered (invoice_id, delivery_id);
CREATE TABLE mails (
  id INTEGER PRIMARY KEY, act_id INTEGER NOT NULL REFERENCES acts(id) DEFERRABLE INITIALLY DEFERRED, client_id INTEGER REFERENCES clients(id),
  proposal_id INTEGER REFERENCES proposals(id), delivery_id INTEGER REFERENCES deliveries(id), entity_id INTEGER REFERENCES issuing_entities(id),
  to_name TEXT NOT NULL, to_mail TEXT NOT NULL, copies TEXT NOT NULL DEFAULT '', blind TEXT NOT NULL DEFAULT '',
  subject TEXT NOT NULL, body TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('queued', 'sent', 'arrived', 'failed', 'called_back')),
  tries INTEGER NOT NULL DEFAULT 0, problem TEXT NOT NULL DEFAULT '', return_key TEXT NOT NULL DEFAULT '',
  made_at TIMESTAMP NOT NULL, sent_at TIMESTAMP, next_at TIMESTAMP
);
INSERT INTO mails (id, act_id, client_id, proposal_id, to_name, to_mail, copies, subject, body, state, tries, problem, made_at, sent_at, next_at)
  SELECT id, act_id, client_id, proposal_id, to_name, to_mail, copies, subject, body, state, tries, problem, made_at, sent_at, next_at
  FROM mails_before;
CREATE TABLE mail_links ( -- made when the mail is delivered, in the place of {mark}
  mail_id INTEGER NOT NULL REFERENCES mails(id), mark TEXT NOT NULL, purpose TEXT NOT NULL, subject_id INTEGER NOT NULL,
  expires_at TIMESTAMP NOT NULL, PRIMARY KEY (mail_id, mark)
);
INSERT INTO mail_links SELECT id, 'link', link_purpose, link_subject, link_expires FROM mails_before WHERE link_purpose <> '';
CREATE TABLE mail_files (
  mail_id INTEGER NOT NULL REFERENCES mails(id), position INTEGER NOT NULL, digest TEXT NOT NULL REFERENCES files(digest),
  name TEXT NOT NULL, media_type TEXT NOT NULL, PRIMARY KEY (mail_id, position)
);
CREATE INDEX mail_files_by_digest ON mail_files (digest);
INSERT INTO mail_files SELECT m.id, 0, m.attachment, m.attachment_name, 'application/pdf' FROM mails_before m
  WHERE m.attachment <> '' AND EXISTS (SELECT 1 FROM files f WHERE f.digest = m.attachment);
DROP TABLE mails_before;
CREATE INDEX mails_queued ON mails (id) WHERE state = 'queued';
CREATE INDEX mails_of_delivery ON mails (delivery_id) WHERE delivery_id IS NOT NULL;
CREATE UNIQUE INDEX mails_by_key ON mails (return_key) WHERE return_key <> '';
ALTER TABLE links RENAME TO links_before;
CREATE TABLE links ( -- for people without an account
  id INTEGER PRIMARY KEY, digest TEXT NOT NULL UNIQUE, -- of the secret in it
  purpose TEXT NOT NULL CHECK (purpose IN ('proposal', 'questionnaire', 'invoice')), subject_id INTEGER NOT NULL,
  name TEXT NOT NULL, mail TEXT NOT NULL, delivery_id INTEGER REFERENCES deliveries(id), -- with which it went out
  made_at TIMESTAMP NOT NULL, expires_at TIMESTAMP NOT NULL, withdrawn_at TIMESTAMP, seen_at TIMESTAMP,
  code_digest TEXT NOT NULL DEFAULT '', code_expires_at TIMESTAMP, code_tries INTEGER NOT NULL DEFAULT 0 -- the one-time code before a signature
);
INSERT INTO links (id, digest, purpose, subject_id, name, mail, made_at, expires_at, withdrawn_at, seen_at, code_digest, code_expires_at, code_tries)
  SELECT id, digest, purpose, subject_id, name, mail, made_at, expires_at, withdrawn_at, seen_at, code_digest, code_expires_at, code_tries FROM links_before;
DROP TABLE links_before;
CREATE INDEX links_of_subject ON links (purpose, subject_id);
-- How far the newest revision of an invoice has come to its client: what stands in the deliveries, kept for the register. What was issued
-- before deliveries were noted counts as handed over.
ALTER TABLE invoices ADD COLUMN handed TEXT NOT NULL DEFAULT '';
UPDATE invoices SET handed = 'before' WHERE state IN ('issued', 'part_paid', 'paid');
CREATE INDEX invoices_handed ON invoices (handed, dated DESC) WHERE state IN ('issued', 'part_paid', 'paid') AND handed IN ('', 'queued', 'failed');
INSERT INTO issue_checks (code, name, level) VALUES ('no_addressee', 'Nobody gets it by mail', 'warn');
-- What letters say, by what they bring and in which language; the firm changes them.
CREATE TABLE letter_texts (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, name TEXT NOT NULL UNIQUE, kind TEXT NOT NULL, language TEXT NOT NULL,
  subject TEXT NOT NULL, text TEXT NOT NULL, active BOOLEAN NOT NULL
);
INSERT INTO letter_texts (name, kind, language, subject, text, active) VALUES
  ('Invoice', 'invoice', '', 'Invoice {number} from {firm}', 'Dear {name},' || char(10) || char(10) ||
    'here is our invoice {number} of {dated} over {amount}, for {what}. {payable}' || char(10) || char(10) ||
    'See what it is made of, ask about a line, or pay: {link}' || char(10) || char(10) || '{account}' || char(10) || char(10) || '{signature}', TRUE),
  ('Several invoices', 'several', '', '{count} invoices from {firm}', 'Dear {name},' || char(10) || char(10) ||
    'here are {count} invoices, over {amount} together:' || char(10) || char(10) || '{list}' || char(10) || char(10) ||
    '{account}' || char(10) || char(10) || '{signature}', TRUE),
  ('Credit note', 'credit_note', '', 'Credit note {number} from {firm}', 'Dear {name},' || char(10) || char(10) ||
    'here is our credit note {number} of {dated} over {amount}. You need not do anything.' || char(10) || char(10) || '{link}' || char(10) || char(10) ||
    '{signature}', TRUE),
  ('Receipt', 'receipt', '', 'Received: {amount} for {number}', 'Dear {name},' || char(10) || char(10) ||
    'thank you: we received {amount} for our invoice {number} on {day}. {rest}' || char(10) || char(10) || '{signature}', TRUE),
  ('Receipt, German', 'receipt', 'de', 'Erhalten: {amount} für {number}', 'Guten Tag {name},' || char(10) || char(10) ||
    'danke: Wir haben am {day} {amount} für unsere Rechnung {number} erhalten. {rest}' || char(10) || char(10) || '{signature}', TRUE),
  ('Invoice, German', 'invoice', 'de', 'Rechnung {number} von {firm}', 'Guten Tag {name},' || char(10) || char(10) ||
    'anbei unsere Rechnung {number} vom {dated} über {amount}, für {what}. {payable}' || char(10) || char(10) ||
    'Woraus sie besteht, Fragen dazu und Bezahlen: {link}' || char(10) || char(10) || '{account}' || char(10) || char(10) || '{signature}', TRUE),
  ('Several invoices, German', 'several', 'de', '{count} Rechnungen von {firm}', 'Guten Tag {name},' || char(10) || char(10) ||
    'anbei {count} Rechnungen über zusammen {amount}:' || char(10) || char(10) || '{list}' || char(10) || char(10) ||
    '{account}' || char(10) || char(10) || '{signature}', TRUE),
  ('Credit note, German', 'credit_note', 'de', 'Gutschrift {number} von {firm}', 'Guten Tag {name},' || char(10) || char(10) ||
    'anbei unsere Gutschrift {number} vom {dated} über {amount}. Sie müssen nichts tun.' || char(10) || char(10) || '{link}' || char(10) || char(10) ||
    '{signature}', TRUE),
  ('Invoice, French', 'invoice', 'fr', 'Facture {number} de {firm}', 'Bonjour {name},' || char(10) || char(10) || 
    'voici notre facture {number} du {dated} de {amount}, pour {what}. {payable}' || char(10) || char(10) || 'De quoi elle se compose, poser une question ou payer : {link}' || char(10) || char(10) || '{account}' || char(10) || char(10) || '{signature}', TRUE),
  ('Several invoices, French', 'several', 'fr', '{count} factures de {firm}', 'Bonjour {name},' || char(10) || char(10) || 
    'voici {count} factures, de {amount} au total :' || char(10) || char(10) || '{list}' || char(10) || char(10) || '{account}' || char(10) || char(10) || '{signature}', TRUE),
  ('Credit note, French', 'credit_note', 'fr', 'Avoir {number} de {firm}', 'Bonjour {name},' || char(10) || char(10) || 
    'voici notre avoir {number} du {dated} de {amount}. Vous n’avez rien à faire.' || char(10) || char(10) || '{link}' || char(10) || char(10) || '{signature}', TRUE),
  ('Receipt, French', 'receipt', 'fr', 'Reçu : {amount} pour {number}', 'Bonjour {name},' || char(10) || char(10) || 
    'merci : nous avons reçu {amount} le {day} pour notre facture {number}. {rest}' || char(10) || char(10) || '{signature}', TRUE),
  ('Invoice, Spanish', 'invoice', 'es', 'Factura {number} de {firm}', 'Estimado/a {name}:' || char(10) || char(10) || 
    'le enviamos nuestra factura {number} del {dated} por {amount}, por {what}. {payable}' || char(10) || char(10) || 'De qué se compone, preguntar o pagar: {link}' || char(10) || char(10) || '{account}' || char(10) || char(10) || '{signature}', TRUE),
  ('Several invoices, Spanish', 'several', 'es', '{count} facturas de {firm}', 'Estimado/a {name}:' || char(10) || char(10) || 
    'le enviamos {count} facturas, por {amount} en total:' || char(10) || char(10) || '{list}' || char(10) || char(10) || '{account}' || char(10) || char(10) || '{signature}', TRUE),
  ('Credit note, Spanish', 'credit_note', 'es', 'Abono {number} de {firm}', 'Estimado/a {name}:' || char(10) || char(10) || 
    'le enviamos nuestro abono {number} del {dated} por {amount}. No tiene que hacer nada.' || char(10) || char(10) || '{link}' || char(10) || char(10) || '{signature}', TRUE),
  ('Receipt, Spanish', 'receipt', 'es', 'Recibido: {amount} por {number}', 'Estimado/a {name}:' || char(10) || char(10) || 
    'gracias: hemos recibido {amount} el {day} por nuestra factura {number}. {rest}' || char(10) || char(10) || '{signature}', TRUE),
  ('Invoice, Polish', 'invoice', 'pl', 'Faktura {number} od {firm}', 'Dzień dobry, {name},' || char(10) || char(10) || 
    'przesyłamy naszą fakturę {number} z dnia {dated} na kwotę {amount}, za: {what}. {payable}' || char(10) || char(10) || 'Z czego się składa, pytania i płatność: {link}' || char(10) || char(10) || '{account}' || char(10) || char(10) || '{signature}', TRUE),
  ('Several invoices, Polish', 'several', 'pl', 'Faktury od {firm}: {count}', 'Dzień dobry, {name},' || char(10) || char(10) || 
    'przesyłamy faktury ({count}) na łączną kwotę {amount}:' || char(10) || char(10) || '{list}' || char(10) || char(10) || '{account}' || char(10) || char(10) || '{signature}', TRUE),
  ('Credit note, Polish', 'credit_note', 'pl', 'Korekta {number} od {firm}', 'Dzień dobry, {name},' || char(10) || char(10) || 
    'przesyłamy naszą korektę {number} z dnia {dated} na kwotę {amount}. Nie trzeba nic robić.' || char(10) || char(10) || '{link}' || char(10) || char(10) || '{signature}', TRUE),
  ('Receipt, Polish', 'receipt', 'pl', 'Otrzymano: {amount} za {number}', 'Dzień dobry, {name},' || char(10) || char(10) || 
    'dziękujemy: {day} otrzymaliśmy {amount} za naszą fakturę {number}. {rest}' || char(10) || char(10) || '{signature}', TRUE),
  ('Invoice, Greek', 'invoice', 'el', 'Τιμολόγιο {number} από {firm}', 'Αγαπητέ/ή {name},' || char(10) || char(10) || 
    'σας στέλνουμε το τιμολόγιό μας {number} της {dated} για {amount}, για: {what}. {payable}' || char(10) || char(10) || 'Από τι αποτελείται, ερωτήσεις και πληρωμή: {link}' || char(10) || char(10) || '{account}' || char(10) || char(10) || '{signature}', TRUE),
  ('Several invoices, Greek', 'several', 'el', '{count} τιμολόγια από {firm}', 'Αγαπητέ/ή {name},' || char(10) || char(10) || 
    'σας στέλνουμε {count} τιμολόγια, συνολικά {amount}:' || char(10) || char(10) || '{list}' || char(10) || char(10) || '{account}' || char(10) || char(10) || '{signature}', TRUE),
  ('Credit note, Greek', 'credit_note', 'el', 'Πιστωτικό {number} από {firm}', 'Αγαπητέ/ή {name},' || char(10) || char(10) || 
    'σας στέλνουμε το πιστωτικό μας {number} της {dated} για {amount}. Δεν χρειάζεται να κάνετε τίποτα.' || char(10) || char(10) || '{link}' || char(10) || char(10) || '{signature}', TRUE),
  ('Receipt, Greek', 'receipt', 'el', 'Ελήφθη: {amount} για {number}', 'Αγαπητέ/ή {name},' || char(10) || char(10) || 
    'ευχαριστούμε: λάβαμε {amount} στις {day} για το τιμολόγιό μας {number}. {rest}' || char(10) || char(10) || '{signature}', TRUE);
-- What clients say of an invoice on its page, and what became of it.
CREATE TABLE claims (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, invoice_id INTEGER NOT NULL REFERENCES invoices(id), revision INTEGER NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('question', 'dispute', 'promise')),
  section INTEGER NOT NULL, line INTEGER NOT NULL, -- of the printed document, from 0; -1: all of it
  line_text TEXT NOT NULL DEFAULT '', amount INTEGER NOT NULL, -- what is disputed, gross, in minor units of the invoice
  text TEXT NOT NULL, day TEXT NOT NULL DEFAULT '', -- on which it will be paid
  name TEXT NOT NULL, mail TEXT NOT NULL, at TIMESTAMP NOT NULL,
  outcome TEXT NOT NULL DEFAULT '' CHECK (outcome IN ('', 'answered', 'kept', 'credited', 'withdrawn')),
  answer TEXT NOT NULL DEFAULT '', person_id INTEGER REFERENCES people(id), answered_at TIMESTAMP
);
CREATE INDEX claims_of_invoice ON claims (invoice_id, id);
CREATE INDEX revisions_by_digest ON invoice_revisions (digest);
CREATE INDEX claims_open ON claims (id) WHERE outcome = '';
-- What clients pay on the page, through a payment service: known to it by our key, and to us by its reference.
CREATE TABLE online_payments (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, entity_id INTEGER NOT NULL REFERENCES issuing_entities(id),
  client_id INTEGER NOT NULL REFERENCES clients(id), invoice_id INTEGER NOT NULL REFERENCES invoices(id),
  key TEXT NOT NULL UNIQUE, reference TEXT NOT NULL DEFAULT '', kind TEXT NOT NULL CHECK (kind IN ('card', 'debit')),
  state TEXT NOT NULL CHECK (state IN ('asked', 'pending', 'received', 'failed', 'returned')),
  amount INTEGER NOT NULL CHECK (amount > 0), fee INTEGER NOT NULL, currency TEXT NOT NULL, last_four TEXT NOT NULL,
  problem TEXT NOT NULL DEFAULT '', payment_id INTEGER UNIQUE REFERENCES payments(id), name TEXT NOT NULL, mail TEXT NOT NULL,
  made_at TIMESTAMP NOT NULL, told_at TIMESTAMP
);
CREATE INDEX online_payments_of_invoice ON online_payments (invoice_id, id);
CREATE INDEX online_payments_open ON online_payments (id) WHERE state IN ('asked', 'pending');
ALTER TABLE invoices ADD COLUMN disputed_amount INTEGER NOT NULL DEFAULT 0; -- of what is disputed in part, gross; 0: all of it, where it is
ALTER TABLE issuing_entities ADD COLUMN signature TEXT NOT NULL DEFAULT ''; -- under letters

-- +goose Down
-- There is no way back from here: a backup was made before, restore that.
SELECT 1;
