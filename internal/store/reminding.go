package store

import (
	"time"

	"dorvet/core/day"
	"dorvet/core/money"
)

// RemindedRow is how far an instalment has come: the highest step of which a letter left, or is about to, and the day of the last letter.
type RemindedRow struct {
	InvoiceID int64
	DueDay    day.Day `gorm:"serializer:day"`
	Days      int
	Day       day.Day `gorm:"serializer:day"`
}

// Reminded reads how far the instalments of some clients have come, or of all (nil). A letter that failed or was called back counts as none.
func Reminded(tx *DB, clientIDs []int64) ([]RemindedRow, error) {
	rows := []RemindedRow{}
	err := tx.gorm.Raw(`SELECT r.invoice_id, r.due_day, MAX(r.days) AS days, MAX(r.day) AS day FROM reminders r WHERE EXISTS (SELECT 1 FROM deliveries d
		WHERE d.act_id = r.act_id AND d.state NOT IN ('failed', 'called_back'))`+ofClients(clientIDs, "r.client_id")+` GROUP BY r.invoice_id, r.due_day`,
		ofThem(clientIDs)...).Scan(&rows).Error
	return rows, err
}

// Holds are those that hold on a day, of some clients or of all (nil).
func Holds(tx *DB, clientIDs []int64, on day.Day) ([]ReminderHold, error) {
	rows := []ReminderHold{}
	err := tx.gorm.Raw(`SELECT h.* FROM reminder_holds h WHERE h.lifted_at IS NULL AND (h.until = '' OR h.until >= @on)`+ofClients(clientIDs, "h.client_id")+
		` ORDER BY h.id`, map[string]any{"on": on.String(), "clients": many(clientIDs)}).Scan(&rows).Error
	return rows, err
}

// LastCalls are the last calls of each client.
func LastCalls(tx *DB) ([]Call, error) {
	rows := []Call{}
	err := tx.gorm.Raw(`SELECT k.* FROM calls k WHERE k.id = (SELECT MAX(x.id) FROM calls x WHERE x.client_id = k.client_id)`).Scan(&rows).Error
	return rows, err
}

// LastWord is the last day on which a client was written to about what it owes.
type LastWord struct {
	ClientID int64
	Day      day.Day `gorm:"serializer:day"`
}

// LastReminders are the days on which clients were last reminded.
func LastReminders(tx *DB) ([]LastWord, error) {
	rows := []LastWord{}
	err := tx.gorm.Raw("SELECT client_id, MAX(day) AS day FROM reminders GROUP BY client_id").Scan(&rows).Error
	return rows, err
}

// PaidRow is what was paid of an instalment, and how late that was.
type PaidRow struct {
	ClientID int64
	Late     int // days after it was due; negative: before
	Currency money.Currency
	Amount   int64 // in the firm's currency, at the rate of the invoice
}

// PaidSince reads what clients paid on instalments since a day, and still stands.
func PaidSince(tx *DB, since day.Day) ([]PaidRow, error) {
	rows := []PaidRow{}
	err := tx.gorm.Raw(`SELECT m.client_id, CAST(julianday(m.effective_day) - julianday(n.due_day) AS INTEGER) AS late, m.currency,
			ABS(m.firm_amount) AS amount
		FROM money_movements m JOIN instalments n ON n.id = m.instalment_id JOIN payments p ON p.id = m.payment_id
		WHERE m.from_bucket = 'receivable' AND m.effective_day >= ? AND p.amount > 0
			AND NOT EXISTS (SELECT 1 FROM payments x WHERE x.reverses_id = p.id)
		ORDER BY m.client_id, late`, since.String()).Scan(&rows).Error
	return rows, err
}

// Dealing is something that was said between the firm and a client about money.
type Dealing struct {
	At        time.Time
	What      string // letter, said, call, payment, hold
	Kind      string // of letters, of what was said, of the outcome of a call
	Numbers   string // of invoices
	InvoiceID int64
	Who       string
	State     string  // of a letter
	Day       day.Day `gorm:"serializer:day"`
	Amount    int64
	Currency  money.Currency
	Text      string
}

// Dealings is all that was said with a client about money, the latest first.
func Dealings(tx *DB, clientID int64, limit int) ([]Dealing, error) {
	rows := []Dealing{}
	err := tx.gorm.Raw(`SELECT * FROM (
		SELECT d.made_at AS at, 'letter' AS what, d.kind, COALESCE(NULLIF(d.name, ''), (SELECT GROUP_CONCAT(i.number_text, ', ') FROM delivered x
				JOIN invoices i ON i.id = x.invoice_id WHERE x.delivery_id = d.id), '') AS numbers,
			COALESCE((SELECT MIN(x.invoice_id) FROM delivered x WHERE x.delivery_id = d.id), 0) AS invoice_id, d.to_mail AS who, d.state,
			d.day, 0 AS amount, '' AS currency, COALESCE(m.subject, '') AS text, d.id AS place
		FROM deliveries d LEFT JOIN mails m ON m.delivery_id = d.id WHERE d.client_id = @client
		UNION ALL
		SELECT k.at, 'said', k.kind, i.number_text, i.id, k.name, k.outcome, k.day, k.amount, i.currency, k.text, k.id FROM claims k
		JOIN invoices i ON i.id = k.invoice_id WHERE i.client_id = @client AND (k.person_id IS NULL OR k.outcome <> 'answered' OR k.kind <> 'promise')
		UNION ALL
		SELECT k.at, 'call', k.outcome, '', 0, k.with_name, COALESCE(p.name, ''), k.promised_day, 0, '', k.text, k.id FROM calls k
		LEFT JOIN people p ON p.id = k.person_id WHERE k.client_id = @client
		UNION ALL
		SELECT a.at, 'payment', p.purpose, p.reference, 0, p.method, CASE WHEN p.reverses_id IS NULL THEN '' ELSE 'reversed' END, p.day, p.amount,
			p.currency, p.note, p.id FROM payments p JOIN acts a ON a.id = (SELECT MIN(m.act_id) FROM money_movements m WHERE m.payment_id = p.id)
		WHERE p.client_id = @client
		UNION ALL
		SELECT h.at, 'hold', CASE WHEN h.lifted_at IS NULL THEN 'set' ELSE 'lifted' END, COALESCE(i.number_text, ''), COALESCE(i.id, 0),
			COALESCE(p.name, ''), '', h.until, 0, '', h.reason, h.id FROM reminder_holds h LEFT JOIN invoices i ON i.id = h.invoice_id
		LEFT JOIN people p ON p.id = h.person_id WHERE h.client_id = @client
	) ORDER BY at DESC, place DESC LIMIT @limit`, map[string]any{"client": clientID, "limit": limit}).Scan(&rows).Error
	return rows, err
}
