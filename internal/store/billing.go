package store

import (
	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/wip"

	"gorm.io/gorm"
)

// InvoiceRow is an invoice with its client and engagements in words.
type InvoiceRow struct {
	Invoice
	Client      string
	Engagements string
	Entries     int
}

// InvoiceFilter says which invoices are meant; zero values ask for all.
type InvoiceFilter struct {
	ID       int64
	States   []invoice.State
	ClientID int64
	Sight    Sight
}

const invoiceRows = `SELECT i.*, c.name AS client,
	(SELECT GROUP_CONCAT(e.name, ', ') FROM invoice_engagements x JOIN engagements e ON e.id = x.engagement_id WHERE x.invoice_id = i.id) AS engagements,
	(SELECT COUNT(*) FROM invoice_lines l WHERE l.invoice_id = i.id) AS entries
	FROM invoices i JOIN clients c ON c.id = i.client_id
	WHERE i.state IN @states AND (@id = 0 OR i.id = @id) AND (@client = 0 OR i.client_id = @client)
	AND (@all OR EXISTS (SELECT 1 FROM invoice_engagements x JOIN engagements e ON e.id = x.engagement_id
		WHERE x.invoice_id = i.id AND e.lead_id IN @leads)) AND (@everywhere OR i.entity_id IN @entities) `

func (f InvoiceFilter) arguments() map[string]any {
	return f.Sight.with(map[string]any{"id": f.ID, "states": f.States, "client": f.ClientID})
}

// Invoices reads invoices in an order.
func Invoices(tx *gorm.DB, f InvoiceFilter, order string) ([]InvoiceRow, error) {
	rows := []InvoiceRow{}
	err := tx.Raw(invoiceRows+"ORDER BY "+order, f.arguments()).Scan(&rows).Error
	return rows, err
}

// EngagementsOf lists the engagements of an invoice.
func EngagementsOf(tx *gorm.DB, invoiceID int64) (ids []int64, err error) {
	err = tx.Raw("SELECT engagement_id FROM invoice_engagements WHERE invoice_id = ?", invoiceID).Scan(&ids).Error
	return ids, err
}

// LinesOf reads the lines of an invoice, by engagement and day.
func LinesOf(tx *gorm.DB, invoiceID int64) ([]InvoiceLine, error) {
	lines := []InvoiceLine{}
	err := tx.Order("engagement_id, day, id").Find(&lines, "invoice_id = ?", invoiceID).Error
	return lines, err
}

// FeesOn sums the fees within scope that are billed of an engagement, or on
// drafts: what a cap covers.
func FeesOn(tx *gorm.DB, engagementID int64) (sum int64, err error) {
	err = tx.Raw(`SELECT COALESCE(SUM(l.amount), 0) FROM invoice_lines l JOIN invoices i ON i.id = l.invoice_id
		WHERE l.engagement_id = ? AND i.state <> 'deleted' AND l.kind <> 'expense' AND l.treatment <> 'out_of_scope'`, engagementID).Scan(&sum).Error
	return sum, err
}

// Reserve puts an unbilled portion on a line; false says that it is not
// unbilled any more.
func Reserve(tx *gorm.DB, portionID, lineID int64) (bool, error) {
	result := tx.Exec(`UPDATE portions SET billing = 'reserved', line_id = ?, version = version + 1
		WHERE id = ? AND billing = 'unbilled' AND removed = FALSE`, lineID, portionID)
	return result.RowsAffected == 1, result.Error
}

// Release takes the portions of a line off it and removes the line.
func Release(tx *gorm.DB, lineID int64) error {
	err := tx.Exec("UPDATE portions SET billing = 'unbilled', line_id = NULL, version = version + 1 WHERE line_id = ?", lineID).Error
	if err != nil {
		return err
	}
	return tx.Delete(&InvoiceLine{}, "id = ?", lineID).Error
}

// ReleaseAll takes all portions off an invoice and removes its lines.
func ReleaseAll(tx *gorm.DB, invoiceID int64) error {
	err := tx.Exec(`UPDATE portions SET billing = 'unbilled', line_id = NULL, version = version + 1
		WHERE line_id IN (SELECT id FROM invoice_lines WHERE invoice_id = ?)`, invoiceID).Error
	if err != nil {
		return err
	}
	return tx.Delete(&InvoiceLine{}, "invoice_id = ?", invoiceID).Error
}

// DropIdle forgets the engagements of an invoice of which nothing is left on it.
func DropIdle(tx *gorm.DB, invoiceID int64) error {
	return tx.Exec(`DELETE FROM invoice_engagements WHERE invoice_id = @invoice
		AND engagement_id NOT IN (SELECT engagement_id FROM invoice_lines WHERE invoice_id = @invoice)`, map[string]any{"invoice": invoiceID}).Error
}

// Bill marks all portions on an invoice as billed.
func Bill(tx *gorm.DB, invoiceID int64) error {
	return tx.Exec(`UPDATE portions SET billing = ?, version = version + 1
		WHERE line_id IN (SELECT id FROM invoice_lines WHERE invoice_id = ?)`, wip.Billed, invoiceID).Error
}

// LastDated is the date of the newest invoice of a series, or no day.
func LastDated(tx *gorm.DB, seriesID int64) (day.Day, error) {
	var iso string
	err := tx.Raw("SELECT COALESCE(MAX(dated), '') FROM invoices WHERE series_id = ? AND number IS NOT NULL", seriesID).Scan(&iso).Error
	if err != nil || iso == "" {
		return 0, err
	}
	return day.Parse(iso)
}

// RevisionOf is the newest frozen revision of an invoice, or ErrNotFound.
func RevisionOf(tx *gorm.DB, invoiceID int64) (*InvoiceRevision, error) {
	revision := new(InvoiceRevision)
	err := tx.Order("revision DESC").First(revision, "invoice_id = ?", invoiceID).Error
	return revision, err
}

// Receivable is what is owed on an instalment, from the money ledger.
type Receivable struct {
	DueDay     day.Day `gorm:"serializer:day"`
	Currency   money.Currency
	Open       int64
	FirmAmount int64
}

// Receivables reads what is open of each instalment that may be seen.
func Receivables(tx *gorm.DB, sight Sight) ([]Receivable, error) {
	rows := []Receivable{}
	err := tx.Raw(`SELECT n.due_day, m.currency,
			SUM(CASE WHEN m.to_bucket = 'receivable' THEN m.amount ELSE -m.amount END) AS open,
			SUM(CASE WHEN m.to_bucket = 'receivable' THEN m.firm_amount ELSE -m.firm_amount END) AS firm_amount
		FROM money_movements m JOIN instalments n ON n.id = m.instalment_id
		WHERE 'receivable' IN (m.to_bucket, m.from_bucket) AND (@everywhere OR m.entity_id IN @entities) GROUP BY n.id, n.due_day, m.currency
		HAVING open <> 0`, sight.Arguments()).Scan(&rows).Error
	return rows, err
}
