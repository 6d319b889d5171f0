package store

import (
	"dorvet/core/day"
	"dorvet/core/funds"
	"dorvet/core/money"
)

// PurseRow is a purse with what drafts have reserved of it, and names.
type PurseRow struct {
	Purse
	Reserved           int64
	Client, Engagement string
}

const purseRows = `SELECT p.*, c.name AS client, COALESCE(e.name, '') AS engagement,
		COALESCE((SELECT SUM(f.amount) FROM invoice_funds f JOIN invoices i ON i.id = f.invoice_id WHERE f.purse_id = p.id AND i.id <> @but
			AND i.state IN ('draft', 'in_approval', 'approved')), 0) AS reserved
	FROM purses p JOIN clients c ON c.id = p.client_id LEFT JOIN engagements e ON e.id = p.engagement_id `

// PursesOf reads the purses of a client: those of engagements first, then what is
// held for the client as such. Drafts' reservations count but for one's.
func PursesOf(tx *DB, a Account, butInvoiceID int64) ([]PurseRow, error) {
	rows := []PurseRow{}
	err := tx.gorm.Raw(purseRows+"WHERE p.client_id = @client AND p.entity_id = @entity AND p.currency = @currency ORDER BY "+
		"p.engagement_id IS NULL, p.id",
		a.with(map[string]any{"but": butInvoiceID})).Scan(&rows).Error
	return rows, err
}

// Purses reads every purse in which something is held, or was, by client.
func Purses(tx *DB, clientID int64) ([]PurseRow, error) {
	rows := []PurseRow{}
	err := tx.gorm.Raw(purseRows+"WHERE (@client = 0 OR p.client_id = @client) ORDER BY c.name, p.engagement_id IS NULL, p.id",
		map[string]any{"but": 0, "client": clientID}).Scan(&rows).Error
	return rows, err
}

// PurseByID reads one purse with what is reserved of it, or ErrNotFound.
func PurseByID(tx *DB, id int64) (*PurseRow, error) {
	rows := []PurseRow{}
	err := tx.gorm.Raw(purseRows+"WHERE p.id = @id", map[string]any{"but": 0, "id": id}).Scan(&rows).Error
	if err == nil && len(rows) == 0 {
		err = ErrNotFound
	}
	if err != nil {
		return nil, err
	}
	return &rows[0], nil
}

// PurseFor is the purse of an account and engagement (0: of the client), or nil.
func PurseFor(tx *DB, a Account, engagementID int64) (*Purse, error) {
	rows := []Purse{}
	err := tx.gorm.Raw("SELECT * FROM purses WHERE COALESCE(engagement_id, 0) = @engagement AND"+ofAccount,
		a.with(map[string]any{"engagement": engagementID})).Scan(&rows).Error
	if err != nil || len(rows) == 0 {
		return nil, err
	}
	return &rows[0], nil
}

// FundsOf reads what an invoice takes of purses.
func FundsOf(tx *DB, invoiceID int64) ([]InvoiceFund, error) {
	rows := []InvoiceFund{}
	err := tx.gorm.Order("purse_id").Find(&rows, "invoice_id = ?", invoiceID).Error
	return rows, err
}

// SetFunds replaces what an invoice takes of purses.
func SetFunds(tx *DB, invoiceID int64, funds []InvoiceFund) error {
	if err := tx.gorm.Exec("DELETE FROM main.invoice_funds WHERE invoice_id = ?", invoiceID).Error; err != nil {
		return err
	}
	return Insert(tx, funds)
}

// PurseMovement is a movement of a purse with what it was for.
type PurseMovement struct {
	MoneyMovement
	NumberText, Note string
}

// ChangesOfPurse is what came into a purse and went out of it, by day.
func ChangesOfPurse(tx *DB, purseID int64) ([]funds.Change, error) {
	return changes(tx, `SELECT effective_day AS day, SUM(CASE WHEN from_bucket = 'funds' THEN amount ELSE -amount END) AS minor
		FROM money_movements
		WHERE purse_id = ? AND 'funds' IN (from_bucket, to_bucket) GROUP BY effective_day ORDER BY effective_day`, purseID)
}

// ChangesOfCredit is what came to the credit of a client and was used of it, by day.
func ChangesOfCredit(tx *DB, a Account) ([]funds.Change, error) {
	return changes(tx, `SELECT effective_day AS day, SUM(CASE WHEN from_bucket = 'credit' THEN amount ELSE -amount END) AS minor
		FROM money_movements
		WHERE 'credit' IN (from_bucket, to_bucket) AND`+ofAccount+`GROUP BY effective_day ORDER BY effective_day`, a.with(map[string]any{}))
}

func changes(tx *DB, query string, argument any) ([]funds.Change, error) {
	rows := []struct {
		Day   day.Day `gorm:"serializer:day"`
		Minor int64
	}{}
	err := tx.gorm.Raw(query, argument).Scan(&rows).Error
	list := make([]funds.Change, len(rows))
	for i, row := range rows {
		list[i] = funds.Change{Day: row.Day, Minor: row.Minor}
	}
	return list, err
}

// ChangePurse adds to what is held in a purse, or takes from it.
func ChangePurse(tx *DB, id, minor int64) error {
	return tx.gorm.Exec("UPDATE main.purses SET held = held + ?, version = version + 1 WHERE id = ?", minor, id).Error
}

// MovementsOfPurse reads the movements of a purse by day, what came in before what
// went out.
func MovementsOfPurse(tx *DB, purseID int64) ([]PurseMovement, error) {
	rows := []PurseMovement{}
	err := tx.gorm.Raw(`SELECT m.*, COALESCE(i.number_text, '') AS number_text, COALESCE(p.note, '') AS note FROM money_movements m
		LEFT JOIN invoices i ON i.id = m.invoice_id LEFT JOIN payments p ON p.id = m.payment_id
		WHERE m.purse_id = ? AND 'funds' IN (m.from_bucket, m.to_bucket) ORDER BY m.effective_day, m.from_bucket <> 'funds',
			m.id`, purseID).Scan(&rows).Error
	return rows, err
}

// TransferRow is a transfer with the names around it.
type TransferRow struct {
	Transfer
	Client, NumberText string
	Currency           money.Currency
}

// Transfers reads those still to be made, or all, newest first.
func Transfers(tx *DB, done bool) ([]TransferRow, error) {
	rows := []TransferRow{}
	err := tx.gorm.Raw(`SELECT t.*, c.name AS client, i.number_text, p.currency FROM transfers t JOIN purses p ON p.id = t.purse_id
		JOIN clients c ON c.id = p.client_id
		JOIN invoices i ON i.id = t.invoice_id WHERE (@done OR t.done_day = '') ORDER BY t.day DESC, t.id DESC`,
		map[string]any{"done": done}).Scan(&rows).Error
	return rows, err
}

// TransfersOf reads the transfers of an invoice.
func TransfersOf(tx *DB, invoiceID int64) ([]Transfer, error) {
	rows := []Transfer{}
	err := tx.gorm.Order("id").Find(&rows, "invoice_id = ?", invoiceID).Error
	return rows, err
}

// DropTransfer forgets a transfer that was not made.
func DropTransfer(tx *DB, id int64) error {
	return tx.gorm.Exec("DELETE FROM main.transfers WHERE id = ?", id).Error
}
