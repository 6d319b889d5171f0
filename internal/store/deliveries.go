package store

import (
	"time"

	"dorvet/core/day"
	"dorvet/core/delivery"
	"dorvet/core/money"
)

// DeliveryRow is a delivery of one invoice, with what became of its mail.
type DeliveryRow struct {
	Delivery
	InvoiceID           int64
	Number              string
	Revision            int
	OpenedAt, FetchedAt *time.Time
	Copies, Subject     string
	Problem             string
	SentAt, NextAt      *time.Time
	Person              string // who handed it over
}

const deliveryRows = `SELECT d.*, x.invoice_id, x.revision, x.opened_at, x.fetched_at, i.number_text AS number, COALESCE(m.copies, '') AS copies,
	COALESCE(m.subject, '') AS subject, COALESCE(m.problem, '') AS problem, m.sent_at, m.next_at, COALESCE(p.name, '') AS person
	FROM deliveries d JOIN delivered x ON x.delivery_id = d.id JOIN invoices i ON i.id = x.invoice_id LEFT JOIN mails m ON m.delivery_id = d.id
	JOIN acts a ON a.id = d.act_id LEFT JOIN people p ON p.id = a.person_id `

// DeliveriesOf lists what was done to hand an invoice over, latest first.
func DeliveriesOf(tx *DB, invoiceID int64) ([]DeliveryRow, error) {
	rows := []DeliveryRow{}
	err := tx.gorm.Raw(deliveryRows+"WHERE x.invoice_id = ? ORDER BY d.id DESC", invoiceID).Scan(&rows).Error
	return rows, err
}

// LetterRow is a letter to a client: a delivery with all that it hands over, or a mail that is none.
type LetterRow struct {
	DeliveryRow
	MailID int64 // 0: it went by no mail
	Client string
	Kind   string
}

const letterRows = `SELECT * FROM (
	SELECT d.id, COALESCE(m.id, 0) AS mail_id, d.client_id, d.kind, d.way, d.state, d.to_name, d.to_mail, d.day, d.made_at,
		COALESCE(NULLIF(d.name, ''), y.numbers, '') AS number, COALESCE(x.invoice_id, 0) AS invoice_id, x.opened_at, x.fetched_at,
		COALESCE(m.copies, '') AS copies, COALESCE(m.subject, '') AS subject, COALESCE(m.problem, '') AS problem, m.sent_at, m.next_at,
		COALESCE(p.name, '') AS person, c.name AS client
	FROM deliveries d JOIN clients c ON c.id = d.client_id LEFT JOIN mails m ON m.delivery_id = d.id
	LEFT JOIN (SELECT x.delivery_id, GROUP_CONCAT(i.number_text, ', ') AS numbers FROM delivered x JOIN invoices i ON i.id = x.invoice_id
		WHERE @client = 0 OR i.client_id = @client GROUP BY x.delivery_id) y ON y.delivery_id = d.id
	LEFT JOIN delivered x ON x.delivery_id = d.id AND x.invoice_id = (SELECT z.invoice_id FROM delivered z WHERE z.delivery_id = d.id
		ORDER BY z.fetched_at IS NULL, z.opened_at IS NULL, z.invoice_id LIMIT 1)
	JOIN acts a ON a.id = d.act_id LEFT JOIN people p ON p.id = a.person_id WHERE @client = 0 OR d.client_id = @client
	UNION ALL
	SELECT 0, m.id, m.client_id, COALESCE(NULLIF(m.kind, ''), 'word'), 'mail', CASE m.state WHEN 'sent' THEN 'taken' ELSE m.state END, m.to_name,
		m.to_mail, '', m.made_at, COALESCE(q.number_text, ''), 0, z.opened_at, z.fetched_at, m.copies, m.subject, m.problem, m.sent_at, m.next_at,
		COALESCE(p.name, ''), c.name
	FROM mails m JOIN clients c ON c.id = m.client_id LEFT JOIN proposals q ON q.id = m.proposal_id
	LEFT JOIN delivered z ON z.delivery_id = 0 -- none: a column has its type only if all parts do
	JOIN acts a ON a.id = m.act_id
	LEFT JOIN people p ON p.id = a.person_id WHERE m.delivery_id IS NULL AND (@client = 0 OR m.client_id = @client)
	) WHERE (@kind = '' OR kind = @kind) `

// Letters lists what went to a client or to all (0), latest first; of a kind and a state, or any.
func Letters(tx *DB, clientID int64, kind string, state delivery.State, offset, limit int) ([]LetterRow, error) {
	rows := []LetterRow{}
	err := tx.gorm.Raw(letterRows+`AND (@state = '' OR state = @state) ORDER BY made_at DESC, mail_id DESC, id DESC LIMIT @limit OFFSET @offset`,
		map[string]any{"client": clientID, "kind": kind, "state": state, "limit": limit, "offset": offset}).Scan(&rows).Error
	return rows, err
}

// LetterCounts is how many letters there are to a client, or to all (0), in each state; of a kind, or any.
func LetterCounts(tx *DB, clientID int64, kind string) (map[string]int, error) {
	rows := []struct {
		State string
		Count int
	}{}
	err := tx.gorm.Raw("SELECT state, COUNT(*) AS count FROM ("+letterRows+") GROUP BY state",
		map[string]any{"client": clientID, "kind": kind}).Scan(&rows).Error
	counts := map[string]int{}
	for _, r := range rows {
		counts[r.State] = r.Count
	}
	return counts, err
}

// StepsOf are the deliveries of some invoices as they are now, by invoice; of one that is being changed there are none.
func StepsOf(tx *DB, invoiceIDs []int64) (map[int64][]delivery.Step, error) {
	rows := []struct {
		InvoiceID       int64
		State           delivery.State
		Opened, Fetched bool
	}{}
	err := tx.gorm.Raw(`SELECT x.invoice_id, d.state, x.opened_at IS NOT NULL AS opened, x.fetched_at IS NOT NULL AS fetched FROM delivered x
		JOIN deliveries d ON d.id = x.delivery_id JOIN invoices i ON i.id = x.invoice_id AND i.revision = x.revision
			AND i.state IN ('issued', 'part_paid', 'paid')
		WHERE x.invoice_id IN ? AND d.kind IN ('invoice', 'credit_note')`, many(invoiceIDs)).Scan(&rows).Error
	steps := map[int64][]delivery.Step{}
	for _, r := range rows {
		steps[r.InvoiceID] = append(steps[r.InvoiceID], delivery.Step{State: r.State, Opened: r.Opened, Fetched: r.Fetched})
	}
	return steps, err
}

// InvoicesOfDelivery are the numbers of the invoices that a delivery hands over.
func InvoicesOfDelivery(tx *DB, deliveryID int64) ([]Delivered, error) {
	rows := []Delivered{}
	err := tx.gorm.Order("invoice_id").Find(&rows, "delivery_id = ?", deliveryID).Error
	return rows, err
}

// SetDeliveryState writes how far a delivery has come, and on which day it left the house.
func SetDeliveryState(tx *DB, id int64, state delivery.State, left day.Day) error {
	if left.IsZero() {
		return tx.gorm.Exec("UPDATE main.deliveries SET state = ?, version = version + 1 WHERE id = ?", state, id).Error
	}
	return tx.gorm.Exec("UPDATE main.deliveries SET state = ?, day = ?, version = version + 1 WHERE id = ?", state, left.String(), id).Error
}

// SetHanded writes how far an invoice has come to its client; what was issued before deliveries were noted has come that far at least.
func SetHanded(tx *DB, invoiceID int64, handed delivery.Standing) error {
	return tx.gorm.Exec(`UPDATE main.invoices SET handed = x.now FROM (SELECT id, CASE WHEN @handed = '' AND handed_before THEN 'before'
			ELSE @handed END AS now FROM invoices WHERE id = @id) x WHERE invoices.id = x.id AND handed <> x.now`,
		map[string]any{"handed": handed, "id": invoiceID}).Error
}

// SetOpened notes that the page of an invoice was opened, or a file of it fetched, by who got a delivery. False says that it was
// noted before.
func SetOpened(tx *DB, deliveryID, invoiceID int64, fetched bool, at time.Time) (bool, error) {
	column := "opened_at"
	if fetched {
		column = "fetched_at"
	}
	done := tx.gorm.Exec("UPDATE main.delivered SET "+column+" = ? WHERE delivery_id = ? AND invoice_id = ? AND "+column+" IS NULL", at,
		deliveryID, invoiceID)
	return done.RowsAffected == 1, done.Error
}

// LetterTexts are the active texts of letters.
func LetterTexts(tx *DB) ([]LetterText, error) {
	texts := []LetterText{}
	err := tx.gorm.Order("id").Find(&texts, "active").Error
	return texts, err
}

// EnclosureNamed is the firm's own file of a name, or nil.
func EnclosureNamed(tx *DB, name string) (*Enclosure, error) {
	found := []Enclosure{}
	err := tx.gorm.Limit(1).Find(&found, "name = ?", name).Error
	if err != nil || len(found) == 0 {
		return nil, err
	}
	return &found[0], nil
}

// AllContactsOf lists the active contacts of clients, those of one engagement alone too, the main one first.
func AllContactsOf(tx *DB, clientIDs []int64) ([]Contact, error) {
	contacts := []Contact{}
	err := tx.gorm.Order("client_id, id").Find(&contacts, "client_id IN ? AND active", many(clientIDs)).Error
	return contacts, err
}

// Receipt is a file of an expense.
type Receipt struct{ Digest, Name, MediaType string }

// ReceiptsOn are the receipts of the expenses that are on an invoice, each once.
func ReceiptsOn(tx *DB, invoiceID int64) ([]Receipt, error) {
	rows := []Receipt{}
	err := tx.gorm.Raw(`SELECT k.digest, k.name, f.media_type FROM invoice_lines l JOIN portions p ON p.line_id = l.id AND p.source = 'expense'
		JOIN expenses e ON e.id = p.source_id JOIN source_files k ON k.source = 'purchase' AND k.source_id = e.purchase_id
		JOIN files f ON f.digest = k.digest WHERE l.invoice_id = ? GROUP BY k.digest ORDER BY MIN(p.worked_day), MIN(k.position), k.digest`,
		invoiceID).Scan(&rows).Error
	return rows, err
}

// SizeOf is what files come to, in bytes.
func SizeOf(tx *DB, digests []string) (int64, error) {
	return Count(tx, "SELECT COALESCE(SUM(bytes), 0) FROM files WHERE digest IN ?", digests)
}

// DeliveryOf reads a delivery, or ErrNotFound.
func DeliveryOf(tx *DB, id int64) (*Delivery, error) { return Get[Delivery](tx, id) }

// WaitingOnPaper lists the deliveries of an invoice that are to be printed, posted or fetched and have not left yet.
func WaitingOnPaper(tx *DB, invoiceID int64) ([]DeliveryRow, error) {
	rows := []DeliveryRow{}
	err := tx.gorm.Raw(deliveryRows+"WHERE d.state = 'queued' AND d.way <> 'mail' AND x.invoice_id = ? ORDER BY d.id", invoiceID).Scan(&rows).Error
	return rows, err
}

// ClaimsOn lists what a client said of an invoice, in order.
func ClaimsOn(tx *DB, invoiceID int64) ([]Claim, error) {
	rows := []Claim{}
	err := tx.gorm.Order("id").Find(&rows, "invoice_id = ?", invoiceID).Error
	return rows, err
}

// ClaimRow is a claim with whose invoice it is of.
type ClaimRow struct {
	Claim
	Number, Client string
	ClientID       int64
	Currency       money.Currency
}

// OpenClaims lists what clients said that nobody has answered, oldest first.
func OpenClaims(tx *DB) ([]ClaimRow, error) {
	rows := []ClaimRow{}
	err := tx.gorm.Raw(`SELECT k.*, i.number_text AS number, i.client_id, i.currency, c.name AS client FROM claims k
		JOIN invoices i ON i.id = k.invoice_id JOIN clients c ON c.id = i.client_id WHERE k.outcome = '' ORDER BY k.id`).Scan(&rows).Error
	return rows, err
}

// PromisedOn are the days, from one on, on which clients say that they pay invoices, by invoice: the last where they said several. Of some
// clients, or of all (nil).
func PromisedOn(tx *DB, clientIDs []int64, from day.Day) (map[int64]day.Day, error) {
	rows := []Claim{}
	err := tx.gorm.Raw(`SELECT k.* FROM claims k JOIN invoices i ON i.id = k.invoice_id WHERE k.kind = @promise AND k.day >= @from
		AND k.outcome <> @withdrawn`+ofClients(clientIDs, "i.client_id")+" ORDER BY k.id", map[string]any{"promise": Promise, "from": from.String(),
		"withdrawn": Withdrawn, "clients": many(clientIDs)}).Scan(&rows).Error
	days := map[int64]day.Day{}
	for _, c := range rows {
		days[c.InvoiceID] = c.Day
	}
	return days, err
}

// InvoicesNotReminded are open invoices that have it of their own that nobody is reminded of them; of some clients, or of all (nil).
func InvoicesNotReminded(tx *DB, clientIDs []int64) ([]int64, error) {
	ids := []int64{}
	err := tx.gorm.Raw(`SELECT i.id FROM invoices i WHERE i.open <> 0 AND json_extract(i.choices, '$.reminders') = 'no'`+
		ofClients(clientIDs, "i.client_id"), ofThem(clientIDs)...).Scan(&ids).Error
	return ids, err
}

// WhoCaresFor are the people who are told what a client says of an invoice: the leads of its engagements, and whoever issued it.
func WhoCaresFor(tx *DB, invoiceID int64) ([]int64, error) {
	ids := []int64{}
	err := tx.gorm.Raw(`SELECT e.lead_id FROM invoice_engagements x JOIN engagements e ON e.id = x.engagement_id JOIN people p ON p.id = e.lead_id
			AND p.active WHERE x.invoice_id = @invoice
		UNION SELECT a.person_id FROM invoice_revisions r JOIN acts a ON a.id = r.act_id JOIN people p ON p.id = a.person_id AND p.active
			WHERE r.invoice_id = @invoice AND r.revision = (SELECT MAX(revision) FROM invoice_revisions WHERE invoice_id = @invoice)`,
		map[string]any{"invoice": invoiceID}).Scan(&ids).Error
	return ids, err
}

// RevisionByDigest finds the revision whose document has a digest: the newest, or ErrNotFound.
func RevisionByDigest(tx *DB, digest string) (*InvoiceRevision, error) {
	r := new(InvoiceRevision)
	err := tx.gorm.Order("id DESC").First(r, "digest = ?", digest).Error
	return r, err
}
