package store

import (
	"dorvet/core/day"
	"dorvet/core/funds"
	"dorvet/core/money"
	"fmt"
	"maps"
	"strings"
)

// Balance is what lies in a bucket of the money ledger, in the invoice's currency
// and the firm's.
type Balance struct{ Amount, FirmAmount int64 }

// BalanceOf sums a bucket over the movements of an invoice, of one instalment
// alone if its number is given.
func BalanceOf(tx *DB, bucket string, invoiceID, instalmentID int64) (b Balance, err error) {
	err = tx.gorm.Raw(`SELECT COALESCE(SUM(CASE WHEN to_bucket = @bucket THEN amount ELSE -amount END), 0) AS amount,
			COALESCE(SUM(CASE WHEN to_bucket = @bucket THEN firm_amount ELSE -firm_amount END), 0) AS firm_amount
		FROM money_movements WHERE invoice_id = @invoice AND @bucket IN (to_bucket, from_bucket) AND (@instalment = 0
			OR instalment_id = @instalment)`,
		map[string]any{"bucket": bucket, "invoice": invoiceID, "instalment": instalmentID}).Scan(&b).Error
	return b, err
}

// MoneyOf reads the movements of an invoice, oldest first.
func MoneyOf(tx *DB, invoiceID int64) ([]MoneyMovement, error) {
	rows := []MoneyMovement{}
	err := tx.gorm.Order("id").Find(&rows, "invoice_id = ?", invoiceID).Error
	return rows, err
}

// MoneyOfAct reads the movements of an act, oldest first.
func MoneyOfAct(tx *DB, actID int64) ([]MoneyMovement, error) {
	rows := []MoneyMovement{}
	err := tx.gorm.Order("id").Find(&rows, "act_id = ?", actID).Error
	return rows, err
}

// MoneyOfPayment reads the movements of a payment, oldest first.
func MoneyOfPayment(tx *DB, paymentID int64) ([]MoneyMovement, error) {
	rows := []MoneyMovement{}
	err := tx.gorm.Order("id").Find(&rows, "payment_id = ?", paymentID).Error
	return rows, err
}

// Account is where money of a client lies apart: nothing is combined across
// issuing entities or currencies.
type Account struct {
	ClientID, EntityID int64
	Currency           money.Currency
}

func (a Account) with(arguments map[string]any) map[string]any {
	arguments["client"], arguments["entity"], arguments["currency"] = a.ClientID, a.EntityID, a.Currency
	return arguments
}

const ofAccount = " client_id = @client AND entity_id = @entity AND currency = @currency "

// CreditOf is the credit of a client: what there is, and what drafts have reserved of it, but
// for one. What is free of it is the core's to say.
func CreditOf(tx *DB, a Account, butInvoiceID int64) (funds.Held, error) {
	credit := funds.Held{}
	err := tx.gorm.Raw(`SELECT
			COALESCE((SELECT SUM(CASE WHEN from_bucket = 'credit' THEN amount ELSE -amount END) FROM money_movements
				WHERE 'credit' IN (from_bucket, to_bucket) AND`+ofAccount+`), 0) AS held,
			COALESCE((SELECT SUM(credit) FROM invoices
				WHERE state IN ('draft', 'in_approval', 'approved') AND id <> @but AND`+ofAccount+`), 0) AS reserved`,
		a.with(map[string]any{"but": butInvoiceID})).Scan(&credit).Error
	return credit, err
}

// AccountsWithMoney are the accounts that have credit, or ever had a fund.
func AccountsWithMoney(tx *DB) (map[Account]bool, error) {
	rows := []Account{}
	err := tx.gorm.Raw(`SELECT client_id, entity_id, currency FROM client_funds
		UNION SELECT client_id, entity_id, currency FROM money_movements WHERE from_bucket = 'credit' UNION SELECT client_id, entity_id,
			currency
			FROM money_movements WHERE to_bucket = 'credit'`).Scan(&rows).Error
	with := map[Account]bool{}
	for _, row := range rows {
		with[row] = true
	}
	return with, err
}

// PaymentRow is a payment with the names around it and how it was used.
type PaymentRow struct {
	Payment
	Client, Person string
	Reversed       bool
	OnInvoices     string // the numbers
	Unapplied      int64  // what became credit of the client
}

const paymentRows = `SELECT p.*, c.name AS client, COALESCE(w.name, '') AS person,
		EXISTS (SELECT 1 FROM payments r WHERE r.reverses_id = p.id) AS reversed,
		COALESCE((SELECT GROUP_CONCAT(DISTINCT i.number_text) FROM money_movements m JOIN invoices i ON i.id = m.invoice_id
			WHERE m.payment_id = p.id), '') AS on_invoices,
		COALESCE((SELECT SUM(CASE WHEN m.from_bucket = 'credit' THEN m.amount ELSE -m.amount END) FROM money_movements m
			WHERE m.payment_id = p.id AND 'credit' IN (m.from_bucket, m.to_bucket)), 0) AS unapplied
	FROM payments p JOIN clients c ON c.id = p.client_id LEFT JOIN people w ON w.id = p.person_id
	WHERE (@client = 0 OR p.client_id = @client) `

// Payments reads payments, newest first; clientID 0 asks for all clients. Each word is in client, reference, note, way or the numbers of
// invoices, or is the amount, with or without its decimals.
func Payments(tx *DB, clientID int64, words []string, limit int) ([]PaymentRow, error) {
	rows, named, found := []PaymentRow{}, map[string]any{"client": clientID, "limit": limit}, ""
	for i, word := range words {
		said, digits := fmt.Sprintf("said%d", i), strings.NewReplacer(",", "", ".", "", "−", "", "-", "").Replace(word)
		named[said], named["digits"+said] = strings.ToLower(word), digits
		found += fmt.Sprintf(` AND (INSTR(LOWER(c.name || ' ' || p.reference || ' ' || p.note || ' ' || p.method), @%[1]s) > 0
			OR EXISTS (SELECT 1 FROM money_movements m JOIN invoices i ON i.id = m.invoice_id WHERE m.payment_id = p.id AND INSTR(LOWER(i.number_text), @%[1]s) > 0)
			OR CAST(ABS(p.amount) AS TEXT) IN (@digits%[1]s, @digits%[1]s || '00', @digits%[1]s || '000'))`, said)
	}
	err := tx.gorm.Raw(paymentRows+found+" ORDER BY p.day DESC, p.id DESC LIMIT @limit", named).Scan(&rows).Error
	return rows, err
}

// PaymentByID reads one payment that may be seen, or ErrNotFound.
func PaymentByID(tx *DB, id int64) (*PaymentRow, error) {
	rows := []PaymentRow{}
	err := tx.gorm.Raw(paymentRows+"AND p.id = @id", map[string]any{"client": 0, "id": id}).Scan(&rows).Error
	if err == nil && len(rows) == 0 {
		err = ErrNotFound
	}
	if err != nil {
		return nil, err
	}
	return &rows[0], nil
}

// OpenInstalment is an instalment of which something is owed, with its invoice.
type OpenInstalment struct {
	Instalment
	NumberText, Client         string
	ClientID, EntityID, LeadID int64
	Lead                       string
	Dated                      day.Day `gorm:"serializer:day"`
	Parts                      int     // of the invoice's schedule
	Disputed                   string
	DisputedAmount             int64 // of the invoice, gross; 0: all of it, where it is disputed
	Aside                      int64 // of what is open here: disputed
	Kind                       string
	OpenFirm                   int64
}

// OpenInstalments reads what is owed, by client and due day, of some clients or of all (nil). The lead is of the invoice's first engagement.
func OpenInstalments(tx *DB, clientIDs []int64) ([]OpenInstalment, error) {
	return openInstalments(tx, "instalments", "n.open",
		`(SELECT COALESCE(SUM(CASE WHEN m.to_bucket = 'receivable' THEN m.firm_amount ELSE -m.firm_amount END), 0)
		FROM money_movements m WHERE m.instalment_id = n.id AND 'receivable' IN (m.to_bucket, m.from_bucket))`, clientIDs, nil)
}

// OpenInstalmentsOn is [OpenInstalments] as it stood at the end of a day, by the movements up to it: for ever the same, but for what is entered
// later with an earlier day. What is disputed is not told: that is known of today alone.
func OpenInstalmentsOn(tx *DB, clientIDs []int64, on day.Day) ([]OpenInstalment, error) {
	rows, err := openInstalments(tx, `(SELECT p.id, p.invoice_id, p.revision, p.position, p.due_day, p.amount, p.currency, p.words,
			SUM(CASE WHEN m.to_bucket = 'receivable' THEN m.amount ELSE -m.amount END) AS open,
			SUM(CASE WHEN m.to_bucket = 'receivable' THEN m.firm_amount ELSE -m.firm_amount END) AS open_firm
		FROM money_movements m JOIN instalments p ON p.id = m.instalment_id
		WHERE m.effective_day <= @on AND 'receivable' IN (m.to_bucket, m.from_bucket)`+ofClients(clientIDs, "m.client_id")+` GROUP BY p.id)`,
		"n.open", "n.open_firm", clientIDs, map[string]any{"on": on.String()})
	for i := range rows {
		rows[i].Disputed, rows[i].DisputedAmount = "", 0
	}
	return rows, err
}

// openInstalments reads what is owed from rows n of a source, with what is open of them.
func openInstalments(tx *DB, from, open, openFirm string, clientIDs []int64, values map[string]any) ([]OpenInstalment, error) {
	named := map[string]any{}
	maps.Copy(named, values)
	if clientIDs != nil {
		named["clients"] = many(clientIDs)
	}
	given := []any{}
	if len(named) > 0 {
		given = append(given, named)
	}
	found, err := tx.gorm.Raw(`SELECT n.id, n.invoice_id, n.revision, n.position, n.due_day, n.amount, n.currency, `+open+`, n.words,
			i.number_text,
			c.name, i.client_id, i.entity_id, i.dated, i.disputed, i.disputed_amount, i.kind, COALESCE(e.lead_id, 0), COALESCE(w.name, ''),
			(SELECT COUNT(*) FROM instalments a WHERE a.invoice_id = n.invoice_id AND a.revision = n.revision), `+openFirm+`
		FROM `+from+` n JOIN invoices i ON i.id = n.invoice_id JOIN clients c ON c.id = i.client_id
		LEFT JOIN engagements e ON e.id = (SELECT MIN(x.engagement_id) FROM invoice_engagements x WHERE x.invoice_id = i.id)
			LEFT JOIN people w ON w.id = e.lead_id
		WHERE `+open+` <> 0`+ofClients(clientIDs, "i.client_id")+" ORDER BY c.name, n.due_day, n.id", given...).Rows()
	if err != nil {
		return nil, err
	}
	defer found.Close()
	rows := []OpenInstalment{}
	for found.Next() {
		r := OpenInstalment{}
		if err := found.Scan(&r.ID, &r.InvoiceID, &r.Revision, &r.Position, dayInto{&r.DueDay}, &r.Amount, &r.Currency, &r.Open, &r.Words,
			&r.NumberText, &r.Client, &r.ClientID, &r.EntityID, dayInto{&r.Dated}, &r.Disputed, &r.DisputedAmount, &r.Kind, &r.LeadID, &r.Lead, &r.Parts,
			&r.OpenFirm); err != nil {
			return nil, err
		}
		rows = append(rows, r)
	}
	return rows, found.Err()
}

// Credits is the credit of a client that stands in the ledger.
type Credits struct {
	ClientID, EntityID int64
	Client             string
	Currency           money.Currency
	Credit             int64
}

// AllCredits reads the credit of some clients that have some, or of all (nil).
func AllCredits(tx *DB, clientIDs []int64) ([]Credits, error) {
	return AllCreditsOn(tx, clientIDs, latest)
}

// latest is after every day that can be.
const latest = day.Day(1 << 30)

// AllCreditsOn is [AllCredits] as it stood at the end of a day.
func AllCreditsOn(tx *DB, clientIDs []int64, on day.Day) ([]Credits, error) {
	rows, whose, named := []Credits{}, ofClients(clientIDs, "client_id"), map[string]any{}
	if clientIDs != nil {
		named["clients"] = many(clientIDs)
	}
	if on != latest {
		whose += " AND effective_day <= @on"
		named["on"] = on.String()
	}
	of := []any{}
	if len(named) > 0 {
		of = append(of, named)
	}
	err := tx.gorm.Raw(`SELECT g.client_id, g.entity_id, c.name AS client, g.currency, SUM(g.amount) AS credit FROM (
			SELECT client_id, entity_id, currency, amount FROM money_movements WHERE from_bucket = 'credit'`+whose+`
			UNION ALL SELECT client_id, entity_id, currency, -amount FROM money_movements
				WHERE to_bucket = 'credit' AND from_bucket <> 'credit'`+whose+`) g JOIN clients c ON c.id = g.client_id
		GROUP BY g.client_id, g.entity_id, g.currency HAVING SUM(g.amount) <> 0 ORDER BY c.name`,
		of...).Scan(&rows).Error
	return rows, err
}

// RequestRow is a deposit request with the names around it.
type RequestRow struct {
	DepositRequest
	Client, Engagement string
}

// Requests reads deposit requests, newest first; clientID 0 asks for all clients.
func Requests(tx *DB, clientID int64) ([]RequestRow, error) {
	rows := []RequestRow{}
	err := tx.gorm.Raw(`SELECT r.*, c.name AS client, COALESCE(e.name, '') AS engagement FROM deposit_requests r
		JOIN clients c ON c.id = r.client_id
		LEFT JOIN engagements e ON e.id = r.engagement_id WHERE (@client = 0 OR r.client_id = @client) ORDER BY r.id DESC`,
		map[string]any{"client": clientID}).Scan(&rows).Error
	return rows, err
}

// NextRequest is the next number of an issuing entity's deposit requests.
func NextRequest(tx *DB, entityID int64) (next int64, err error) {
	err = tx.gorm.Raw("SELECT COALESCE(MAX(number), 0) + 1 FROM deposit_requests WHERE entity_id = ?", entityID).Scan(&next).Error
	return next, err
}

// DraftsOfAccount are the drafts of an account, which money that comes in may change.
func DraftsOfAccount(tx *DB, a Account) ([]Invoice, error) {
	drafts := []Invoice{}
	err := tx.gorm.Order("id").Find(&drafts, "state IN ('draft', 'in_approval', 'approved') AND client_id = ? AND entity_id "+
		"= ? AND currency = ?", a.ClientID, a.EntityID, a.Currency).Error
	return drafts, err
}

// OwedBefore is what a client owes on invoices other than one.
func OwedBefore(tx *DB, a Account, butInvoiceID int64) (owed int64, err error) {
	err = tx.gorm.Raw("SELECT COALESCE(SUM(open), 0) FROM invoices WHERE id <> @but AND open <> 0 AND state IN ('issued', 'part_paid') AND"+
		ofAccount,
		a.with(map[string]any{"but": butInvoiceID})).Scan(&owed).Error
	return owed, err
}

// ReceivedOn is what has come in for an invoice since it was issued: payments,
// credit and funds, less what was reversed.
func ReceivedOn(tx *DB, invoiceID int64) (received int64, err error) {
	err = tx.gorm.Raw(`SELECT COALESCE(SUM(CASE WHEN from_bucket = 'receivable' THEN amount ELSE -amount END), 0) FROM money_movements
		WHERE invoice_id = ? AND instalment_id IS NOT NULL AND 'receivable' IN (from_bucket, to_bucket)
			AND 'bad_debt' NOT IN (from_bucket, to_bucket) AND 'bad_debt_tax' NOT IN (from_bucket, to_bucket)
			AND kind IN ('payment', 'funds_applied', 'credit_used', 'reversed')`, invoiceID).Scan(&received).Error
	return received, err
}

// OpenInvoices reads the invoices on which a client owes something, the oldest due
// first.
func OpenInvoices(tx *DB, clientID int64) ([]Invoice, error) {
	rows := []Invoice{}
	err := tx.gorm.Order("due_day, id").Find(&rows, "client_id = ? AND open <> 0 AND state IN ('issued', 'part_paid')", clientID).Error
	return rows, err
}

// InstalmentByID reads one instalment.
func InstalmentByID(tx *DB, id int64) (*Instalment, error) { return Get[Instalment](tx, id) }

// EntityOf is the issuing entity that a client usually deals with: of its newest
// engagement, else the firm's first.
func EntityOf(tx *DB, clientID int64) (id int64, err error) {
	err = tx.gorm.Raw(`SELECT COALESCE((SELECT entity_id FROM engagements WHERE client_id = ? ORDER BY active DESC, id DESC LIMIT 1),
		(SELECT MIN(id) FROM issuing_entities WHERE active))`, clientID).Scan(&id).Error
	return id, err
}

// HasNumber reports whether a client has an invoice of a number already.
func HasNumber(tx *DB, clientID int64, number string) (bool, error) {
	n, err := Count(tx, "SELECT COUNT(*) FROM invoices WHERE client_id = ? AND number_text = ? AND state <> 'deleted'", clientID, number)
	return n > 0, err
}

// FirstSeries is the first series of invoices of an issuing entity, or ErrNotFound.
func FirstSeries(tx *DB, entityID int64) (int64, error) {
	series := new(Series)
	err := tx.gorm.Order("id").First(series, "entity_id = ? AND kind = 'invoice'", entityID).Error
	return series.ID, err
}

// RequestCharge marks a planned deposit as asked for; false says that it is not
// planned any more.
func RequestCharge(tx *DB, id int64) (bool, error) {
	result := tx.gorm.Exec("UPDATE main.charges SET state = 'requested', version = version + 1 WHERE id = ? AND state = 'planned'", id)
	return result.RowsAffected == 1, result.Error
}

// DepositRow is a deposit that was agreed, with the names around it.
type DepositRow struct {
	Charge
	ClientID           int64
	Client, Engagement string
}

// PlannedDeposits reads the deposits that were agreed and not asked for.
func PlannedDeposits(tx *DB) ([]DepositRow, error) {
	rows := []DepositRow{}
	err := tx.gorm.Raw(`SELECT g.*, e.client_id, e.name AS engagement, c.name AS client FROM charges g
		JOIN engagements e ON e.id = g.engagement_id JOIN clients c ON c.id = e.client_id
		WHERE g.kind = 'deposit' AND g.state = 'planned' AND g.amount <> 0 AND `+inSight+" ORDER BY g.id", tx.scoped(nil)).Scan(&rows).Error
	return rows, err
}

// JournalRow is a movement of money with what a journal says of it.
type JournalRow struct {
	MoneyMovement
	Document   string // number of the invoice, or nothing
	ClientCode string
	Client     string
	Summary    string // of the act
	RevisionID int64  // of the invoice, the newest when the act was done; 0: none
}

// MoneyBetween are the movements of money of a period, of some clients or all (nil), in the order in which a journal has them: by day, then as they
// were recorded. They are read column by column, for a year has tens of thousands; what a journal does not say is left
// empty.
func MoneyBetween(tx *DB, from, to day.Day, clientIDs []int64) ([]JournalRow, error) {
	found, err := tx.gorm.Raw(`SELECT m.id, m.act_id, m.invoice_id, m.client_id, m.effective_day, m.from_bucket, m.to_bucket, m.amount, m.currency,
			m.firm_amount, m.payment_id, COALESCE(i.number_text, ''), c.code, c.name, a.summary,
			COALESCE((SELECT r.id FROM invoice_revisions r WHERE r.invoice_id = m.invoice_id AND r.act_id <= m.act_id
				ORDER BY r.revision DESC LIMIT 1), 0)
		FROM money_movements m JOIN clients c ON c.id = m.client_id JOIN acts a ON a.id = m.act_id
		LEFT JOIN invoices i ON i.id = m.invoice_id WHERE m.effective_day BETWEEN @from AND @to`+
		ofClients(clientIDs, "m.client_id")+` ORDER BY m.effective_day, m.act_id, COALESCE(m.invoice_id, 0), COALESCE(m.payment_id, 0), m.id`,
		map[string]any{"from": from.String(), "to": to.String(), "clients": many(clientIDs)}).Rows()
	if err != nil {
		return nil, err
	}
	defer found.Close()
	rows := []JournalRow{}
	for found.Next() {
		r := JournalRow{}
		if err := found.Scan(&r.ID, &r.ActID, &r.InvoiceID, &r.ClientID, dayInto{&r.EffectiveDay}, &r.FromBucket, &r.ToBucket, &r.Amount,
			&r.Currency, &r.FirmAmount, &r.PaymentID, &r.Document, &r.ClientCode, &r.Client, &r.Summary, &r.RevisionID); err != nil {
			return nil, err
		}
		rows = append(rows, r)
	}
	return rows, found.Err()
}

// RevisionContents reads what some revisions froze, by their numbers.
func RevisionContents(tx *DB, ids []int64) (map[int64][]byte, error) {
	found, err := tx.gorm.Raw("SELECT id, content FROM invoice_revisions WHERE id IN ?", many(ids)).Rows()
	if err != nil {
		return nil, err
	}
	defer found.Close()
	contents := make(map[int64][]byte, len(ids))
	for found.Next() {
		var id int64
		var content []byte
		if err := found.Scan(&id, &content); err != nil {
			return nil, err
		}
		contents[id] = content
	}
	return contents, found.Err()
}
