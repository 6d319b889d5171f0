-- +goose Up
-- What else is handed over: deposit requests, statements, reminders and receipts by the same deliveries; the client's account, which opens
-- after a code; ways of paying that are kept; notices that go by mail, too.
ALTER TABLE deliveries ADD COLUMN name TEXT NOT NULL DEFAULT ''; -- of what is handed over, where it is no invoice
ALTER TABLE deliveries ADD COLUMN deposit_id INTEGER REFERENCES deposit_requests(id);
ALTER TABLE mails ADD COLUMN kind TEXT NOT NULL DEFAULT ''; -- of one that is no delivery: proposal, answer, notice …
ALTER TABLE mails ADD COLUMN ends_reminders BOOLEAN NOT NULL DEFAULT FALSE; -- who gets it can end reminders with one click
UPDATE mails SET kind = 'proposal' WHERE proposal_id IS NOT NULL;
CREATE INDEX mails_of_client ON mails (client_id, id) WHERE client_id IS NOT NULL AND delivery_id IS NULL;

ALTER TABLE links RENAME TO links_before;
CREATE TABLE links ( -- for people without an account
  id INTEGER PRIMARY KEY, digest TEXT NOT NULL UNIQUE, -- of the secret in it
  purpose TEXT NOT NULL CHECK (purpose IN ('proposal', 'questionnaire', 'invoice', 'account', 'reminders')), subject_id INTEGER NOT NULL,
  name TEXT NOT NULL, mail TEXT NOT NULL, delivery_id INTEGER REFERENCES deliveries(id), -- with which it went out
  made_at TIMESTAMP NOT NULL, expires_at TIMESTAMP NOT NULL, withdrawn_at TIMESTAMP, seen_at TIMESTAMP,
  code_digest TEXT NOT NULL DEFAULT '', code_expires_at TIMESTAMP, code_tries INTEGER NOT NULL DEFAULT 0, -- a one-time code
  code_mail TEXT NOT NULL DEFAULT '', -- to whom it went
  from_id INTEGER REFERENCES links(id) -- the account from which it was opened, with which it ends
);
INSERT INTO links (id, digest, purpose, subject_id, name, mail, delivery_id, made_at, expires_at, withdrawn_at, seen_at, code_digest,
    code_expires_at, code_tries)
  SELECT id, digest, purpose, subject_id, name, mail, delivery_id, made_at, expires_at, withdrawn_at, seen_at, code_digest, code_expires_at,
    code_tries FROM links_before;
DROP TABLE links_before;
CREATE INDEX links_of_subject ON links (purpose, subject_id);

ALTER TABLE claims RENAME TO claims_before;
CREATE TABLE claims (
  id INTEGER PRIMARY KEY, version INTEGER NOT NULL DEFAULT 0, invoice_id INTEGER NOT NULL REFERENCES invoices(id), revision INTEGER NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('question', 'dispute', 'promise')),
  section INTEGER NOT NULL, line INTEGER NOT NULL, -- of the printed document, from 0; -1: all of it
  line_text TEXT NOT NULL DEFAULT '', amount INTEGER NOT NULL, -- what is disputed, gross, in minor units of the invoice
  text TEXT NOT NULL, day TEXT NOT NULL DEFAULT '', -- on which it will be paid
  name TEXT NOT NULL, mail TEXT NOT NULL, at TIMESTAMP NOT NULL,
  outcome TEXT NOT NULL DEFAULT '' CHECK (outcome IN ('', 'answered', 'kept', 'written_down', 'credited', 'moved', 'withdrawn')),
  answer TEXT NOT NULL DEFAULT '', person_id INTEGER REFERENCES people(id), answered_at TIMESTAMP,
  note_id INTEGER REFERENCES invoices(id) -- the credit note that came of it
);
INSERT INTO claims (id, version, invoice_id, revision, kind, section, line, line_text, amount, text, day, name, mail, at, outcome, answer, person_id,
    answered_at)
  SELECT id, version, invoice_id, revision, kind, section, line, line_text, amount, text, day, name, mail, at, outcome, answer, person_id,
    answered_at FROM claims_before;
DROP TABLE claims_before;
CREATE INDEX claims_of_invoice ON claims (invoice_id, id);
CREATE INDEX claims_open ON claims (id) WHERE outcome = '';

-- What was issued before deliveries were noted stays known as that, whatever letters of it are called back.
ALTER TABLE invoices ADD COLUMN handed_before BOOLEAN NOT NULL DEFAULT FALSE;
UPDATE invoices SET handed_before = TRUE WHERE handed = 'before';

ALTER TABLE payment_methods ADD COLUMN agreed TEXT NOT NULL DEFAULT ''; -- what its holder agreed to when it was kept, in the words shown
ALTER TABLE payment_methods ADD COLUMN mail TEXT NOT NULL DEFAULT ''; -- of whoever gave it, who alone can use it again
ALTER TABLE payment_methods ADD COLUMN ended_at TIMESTAMP;
INSERT INTO ledger_accounts (posting, name) VALUES ('gifts', 'Gifts of thanks');
ALTER TABLE online_payments ADD COLUMN gift INTEGER NOT NULL DEFAULT 0; -- of thanks, on top of what is paid
ALTER TABLE online_payments ADD COLUMN method_id INTEGER REFERENCES payment_methods(id); -- that was kept before

ALTER TABLE people ADD COLUMN notice_mails TEXT NOT NULL DEFAULT '' CHECK (notice_mails IN ('', 'once', 'daily'));
ALTER TABLE notices ADD COLUMN mail TEXT NOT NULL DEFAULT '' CHECK (mail IN ('', 'waits', 'sent')); -- whether it goes by mail, too
CREATE INDEX notices_to_mail ON notices (person_id) WHERE mail = 'waits';

INSERT INTO issue_checks (code, name, level) VALUES ('no_mail_server', 'Its mail would stay here', 'warn');
ALTER TABLE letter_texts ADD COLUMN tone TEXT NOT NULL DEFAULT '' CHECK (tone IN ('', 'warm', 'firm'));
INSERT INTO letter_texts (name, kind, language, tone, subject, text, active) VALUES
  ('Deposit request', 'deposit', '', '', 'Deposit request {number}: {what}', 'Dear {name},' || char(10) || char(10) ||
    'before we begin we ask for a deposit of {amount} by {due}: {what}. It is held for you and taken off your bill; it is no invoice.' || char(10) || char(10) ||
    '{signature}', TRUE),
  ('Deposit request, German', 'deposit', 'de', '', 'Anzahlung {number}: {what}', 'Guten Tag {name},' || char(10) || char(10) ||
    'bevor wir beginnen, bitten wir um eine Anzahlung von {amount} bis {due}: {what}. Sie wird für Sie verwahrt und mit Ihrer Rechnung verrechnet; dies ist keine Rechnung.' || char(10) || char(10) ||
    '{signature}', TRUE),
  ('Deposit request, French', 'deposit', 'fr', '', 'Acompte {number} : {what}', 'Bonjour {name},' || char(10) || char(10) ||
    'avant de commencer, nous vous demandons un acompte de {amount} pour le {due} : {what}. Il est conservé pour vous et déduit de votre facture ; ceci n’est pas une facture.' || char(10) || char(10) ||
    '{signature}', TRUE),
  ('Deposit request, Spanish', 'deposit', 'es', '', 'Anticipo {number}: {what}', 'Estimado/a {name}:' || char(10) || char(10) ||
    'antes de empezar le pedimos un anticipo de {amount} hasta el {due}: {what}. Se guarda para usted y se descuenta de su factura; esto no es una factura.' || char(10) || char(10) ||
    '{signature}', TRUE),
  ('Deposit request, Polish', 'deposit', 'pl', '', 'Zaliczka {number}: {what}', 'Dzień dobry, {name},' || char(10) || char(10) ||
    'zanim zaczniemy, prosimy o zaliczkę w wysokości {amount} do {due}: {what}. Jest przechowywana dla Państwa i zostanie odliczona od faktury; to nie jest faktura.' || char(10) || char(10) ||
    '{signature}', TRUE),
  ('Deposit request, Greek', 'deposit', 'el', '', 'Προκαταβολή {number}: {what}', 'Αγαπητέ/ή {name},' || char(10) || char(10) ||
    'πριν ξεκινήσουμε, ζητούμε προκαταβολή {amount} έως {due}: {what}. Φυλάσσεται για εσάς και αφαιρείται από τον λογαριασμό σας· δεν είναι τιμολόγιο.' || char(10) || char(10) ||
    '{signature}', TRUE),
  ('Statement of account', 'statement', '', '', 'Your account with {firm} on {dated}', 'Dear {name},' || char(10) || char(10) ||
    'here is what is open between us on {dated}: {amount}, of which {late} is late.' || char(10) || char(10) ||
    '{account}' || char(10) || char(10) ||
    'If your books say otherwise, please tell us.' || char(10) || char(10) ||
    '{signature}', TRUE),
  ('Statement of account, German', 'statement', 'de', '', 'Ihr Konto bei {firm} am {dated}', 'Guten Tag {name},' || char(10) || char(10) ||
    'anbei, was am {dated} zwischen uns offen ist: {amount}, davon überfällig {late}.' || char(10) || char(10) ||
    '{account}' || char(10) || char(10) ||
    'Falls Ihre Bücher etwas anderes sagen, melden Sie sich bitte.' || char(10) || char(10) ||
    '{signature}', TRUE),
  ('Statement of account, French', 'statement', 'fr', '', 'Votre compte chez {firm} au {dated}', 'Bonjour {name},' || char(10) || char(10) ||
    'voici ce qui est ouvert entre nous au {dated} : {amount}, dont {late} en retard.' || char(10) || char(10) ||
    '{account}' || char(10) || char(10) ||
    'Si vos livres disent autre chose, écrivez-nous.' || char(10) || char(10) ||
    '{signature}', TRUE),
  ('Statement of account, Spanish', 'statement', 'es', '', 'Su cuenta con {firm} a {dated}', 'Estimado/a {name}:' || char(10) || char(10) ||
    'esto es lo que está abierto entre nosotros a {dated}: {amount}, de ello vencido {late}.' || char(10) || char(10) ||
    '{account}' || char(10) || char(10) ||
    'Si sus libros dicen otra cosa, escríbanos.' || char(10) || char(10) ||
    '{signature}', TRUE),
  ('Statement of account, Polish', 'statement', 'pl', '', 'Państwa konto w {firm} na {dated}', 'Dzień dobry, {name},' || char(10) || char(10) ||
    'oto co jest między nami otwarte na {dated}: {amount}, w tym po terminie {late}.' || char(10) || char(10) ||
    '{account}' || char(10) || char(10) ||
    'Jeśli Państwa księgi mówią inaczej, prosimy o wiadomość.' || char(10) || char(10) ||
    '{signature}', TRUE),
  ('Statement of account, Greek', 'statement', 'el', '', 'Ο λογαριασμός σας με {firm} στις {dated}', 'Αγαπητέ/ή {name},' || char(10) || char(10) ||
    'αυτά είναι ανοιχτά μεταξύ μας στις {dated}: {amount}, εκ των οποίων ληξιπρόθεσμα {late}.' || char(10) || char(10) ||
    '{account}' || char(10) || char(10) ||
    'Αν τα βιβλία σας λένε κάτι άλλο, γράψτε μας.' || char(10) || char(10) ||
    '{signature}', TRUE),
  ('Reminder', 'reminder', '', '', 'Still open: {amount}', 'Dear {name},' || char(10) || char(10) ||
    'these are past their day, and we have no payment for them yet:' || char(10) || char(10) ||
    '{list}' || char(10) || char(10) ||
    '{amount} together. If it crossed with this letter, thank you. If something stands in the way, please tell us: each link leads to where you can.' || char(10) || char(10) ||
    '{signature}', TRUE),
  ('Reminder, warm', 'reminder', '', 'warm', 'A small reminder: {amount}', 'Dear {name},' || char(10) || char(10) ||
    'perhaps it has slipped by in busy days:' || char(10) || char(10) ||
    '{list}' || char(10) || char(10) ||
    'It comes to {amount}. If it is on its way already, thank you. And if anything is not as you expected, just answer.' || char(10) || char(10) ||
    '{signature}', TRUE),
  ('Reminder, firm', 'reminder', '', 'firm', 'Overdue: {amount}', 'Dear {name},' || char(10) || char(10) ||
    'the following are overdue:' || char(10) || char(10) ||
    '{list}' || char(10) || char(10) ||
    'Please pay {amount} within seven days, or tell us by then what prevents it.' || char(10) || char(10) ||
    '{signature}', TRUE),
  ('Reminder, German', 'reminder', 'de', '', 'Noch offen: {amount}', 'Guten Tag {name},' || char(10) || char(10) ||
    'diese Rechnungen sind überfällig, und wir haben noch keine Zahlung dazu:' || char(10) || char(10) ||
    '{list}' || char(10) || char(10) ||
    'Zusammen {amount}. Falls sich Ihre Zahlung mit diesem Schreiben überschneidet: danke. Falls etwas im Wege steht, sagen Sie es uns bitte: Jeder Link führt dorthin.' || char(10) || char(10) ||
    '{signature}', TRUE),
  ('Reminder, warm, German', 'reminder', 'de', 'warm', 'Eine kleine Erinnerung: {amount}', 'Guten Tag {name},' || char(10) || char(10) ||
    'vielleicht ist es in vollen Tagen untergegangen:' || char(10) || char(10) ||
    '{list}' || char(10) || char(10) ||
    'Es geht um {amount}. Falls es schon unterwegs ist: danke. Und wenn etwas nicht so ist, wie Sie es erwartet haben, antworten Sie einfach.' || char(10) || char(10) ||
    '{signature}', TRUE),
  ('Reminder, firm, German', 'reminder', 'de', 'firm', 'Überfällig: {amount}', 'Guten Tag {name},' || char(10) || char(10) ||
    'folgende Beträge sind überfällig:' || char(10) || char(10) ||
    '{list}' || char(10) || char(10) ||
    'Bitte zahlen Sie {amount} binnen sieben Tagen, oder sagen Sie uns bis dahin, was dem entgegensteht.' || char(10) || char(10) ||
    '{signature}', TRUE),
  ('Reminder, French', 'reminder', 'fr', '', 'Encore ouvert : {amount}', 'Bonjour {name},' || char(10) || char(10) ||
    'ces factures ont dépassé leur échéance et nous n’avons pas encore reçu de paiement :' || char(10) || char(10) ||
    '{list}' || char(10) || char(10) ||
    '{amount} au total. Si votre paiement a croisé cette lettre, merci. Si quelque chose s’y oppose, dites-le-nous : chaque lien y mène.' || char(10) || char(10) ||
    '{signature}', TRUE),
  ('Reminder, Spanish', 'reminder', 'es', '', 'Aún abierto: {amount}', 'Estimado/a {name}:' || char(10) || char(10) ||
    'estas facturas han vencido y aún no tenemos su pago:' || char(10) || char(10) ||
    '{list}' || char(10) || char(10) ||
    '{amount} en total. Si su pago se ha cruzado con esta carta, gracias. Si algo lo impide, díganoslo: cada enlace lleva a donde puede hacerlo.' || char(10) || char(10) ||
    '{signature}', TRUE),
  ('Reminder, Polish', 'reminder', 'pl', '', 'Wciąż otwarte: {amount}', 'Dzień dobry, {name},' || char(10) || char(10) ||
    'te faktury są po terminie, a nie mamy jeszcze płatności:' || char(10) || char(10) ||
    '{list}' || char(10) || char(10) ||
    'Razem {amount}. Jeśli płatność minęła się z tym pismem, dziękujemy. Jeśli coś stoi na przeszkodzie, prosimy dać znać: każdy link prowadzi tam, gdzie to możliwe.' || char(10) || char(10) ||
    '{signature}', TRUE),
  ('Reminder, Greek', 'reminder', 'el', '', 'Ακόμη ανοιχτό: {amount}', 'Αγαπητέ/ή {name},' || char(10) || char(10) ||
    'αυτά έχουν λήξει και δεν έχουμε ακόμη πληρωμή:' || char(10) || char(10) ||
    '{list}' || char(10) || char(10) ||
    'Συνολικά {amount}. Αν η πληρωμή διασταυρώθηκε με αυτή την επιστολή, ευχαριστούμε. Αν κάτι εμποδίζει, πείτε μας: κάθε σύνδεσμος οδηγεί εκεί.' || char(10) || char(10) ||
    '{signature}', TRUE),
  ('Invoice, warm', 'invoice', '', 'warm', 'Our work for you: invoice {number}', 'Dear {name},' || char(10) || char(10) ||
    'thank you for working with us. Here is our invoice {number} of {dated} over {amount}, for {what}. {payable}' || char(10) || char(10) ||
    'What it is made of, a question about a line, or paying: {link}' || char(10) || char(10) ||
    '{account}' || char(10) || char(10) ||
    '{signature}', TRUE),
  ('Invoice, warm, German', 'invoice', 'de', 'warm', 'Unsere Arbeit für Sie: Rechnung {number}', 'Guten Tag {name},' || char(10) || char(10) ||
    'danke für die Zusammenarbeit. Anbei unsere Rechnung {number} vom {dated} über {amount}, für {what}. {payable}' || char(10) || char(10) ||
    'Woraus sie besteht, eine Frage zu einer Zeile oder Bezahlen: {link}' || char(10) || char(10) ||
    '{account}' || char(10) || char(10) ||
    '{signature}', TRUE);

-- +goose Down
-- There is no way back from here: a backup was made before, restore that.
SELECT 1;
