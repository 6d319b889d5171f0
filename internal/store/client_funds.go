package store

import (
	"dorvet/core/day"
	"dorvet/core/funds"
	"dorvet/core/money"
)

// ClientFundsRow is a fund of a client with what drafts have reserved of it, and names.
type ClientFundsRow struct {
	ClientFunds
	Reserved           int64
	Client, Engagement string
}

const fundsRows = `SELECT p.*, c.name AS client, COALESCE(e.name, '') AS engagement,
		COALESCE((SELECT SUM(f.amount) FROM invoice_funds f JOIN invoices i ON i.id = f.invoice_id WHERE f.funds_id = p.id AND i.id <> @but
			AND i.state IN ('draft', 'in_approval', 'approved')), 0) AS reserved
	FROM client_funds p JOIN clients c ON c.id = p.client_id LEFT JOIN engagements e ON e.id = p.engagement_id `

// FundsOfAccount reads the funds of a client: those of engagements first, then what is
// held for the client as such. Drafts' reservations count but for one's.
func FundsOfAccount(tx *DB, a Account, butInvoiceID int64) ([]ClientFundsRow, error) {
	rows := []ClientFundsRow{}
	err := tx.gorm.Raw(fundsRows+"WHERE p.client_id = @client AND p.entity_id = @entity AND p.currency = @currency ORDER BY "+
		"p.engagement_id IS NULL, p.id",
		a.with(map[string]any{"but": butInvoiceID})).Scan(&rows).Error
	return rows, err
}

// FundsHeld reads every fund of some clients, or of all (nil), in which something is held, or was, by client.
func FundsHeld(tx *DB, clientIDs []int64) ([]ClientFundsRow, error) {
	rows := []ClientFundsRow{}
	err := tx.gorm.Raw(fundsRows+"WHERE TRUE"+ofClients(clientIDs, "p.client_id")+" ORDER BY c.name, p.engagement_id IS NULL, p.id",
		map[string]any{"but": 0, "clients": many(clientIDs)}).Scan(&rows).Error
	return rows, err
}

// FundsHeldOn is [FundsHeld] as it stood at the end of a day; nothing of it is reserved.
func FundsHeldOn(tx *DB, clientIDs []int64, on day.Day) ([]ClientFundsRow, error) {
	rows, err := FundsHeld(tx, clientIDs)
	if err != nil {
		return nil, err
	}
	sums := []struct{ FundsID, Held int64 }{}
	err = tx.gorm.Raw(`SELECT funds_id, SUM(CASE WHEN from_bucket = 'funds' THEN amount ELSE -amount END) AS held FROM money_movements
		WHERE funds_id IS NOT NULL AND effective_day <= @on AND (from_bucket = 'funds') <> (to_bucket = 'funds')`+ofClients(clientIDs, "client_id")+
		" GROUP BY funds_id", map[string]any{"on": on.String(), "clients": many(clientIDs)}).Scan(&sums).Error
	held := map[int64]int64{}
	for _, s := range sums {
		held[s.FundsID] = s.Held
	}
	for i := range rows {
		rows[i].Held, rows[i].Reserved = held[rows[i].ID], 0
	}
	return rows, err
}

// FundsByID reads one fund with what is reserved of it, or ErrNotFound.
func FundsByID(tx *DB, id int64) (*ClientFundsRow, error) {
	rows := []ClientFundsRow{}
	err := tx.gorm.Raw(fundsRows+"WHERE p.id = @id", map[string]any{"but": 0, "id": id}).Scan(&rows).Error
	if err == nil && len(rows) == 0 {
		err = ErrNotFound
	}
	if err != nil {
		return nil, err
	}
	return &rows[0], nil
}

// FundsFor is the fund of an account and engagement (0: of the client), or nil.
func FundsFor(tx *DB, a Account, engagementID int64) (*ClientFunds, error) {
	rows := []ClientFunds{}
	err := tx.gorm.Raw("SELECT * FROM client_funds WHERE COALESCE(engagement_id, 0) = @engagement AND"+ofAccount,
		a.with(map[string]any{"engagement": engagementID})).Scan(&rows).Error
	if err != nil || len(rows) == 0 {
		return nil, err
	}
	return &rows[0], nil
}

// FundsOf reads what an invoice takes of funds.
func FundsOf(tx *DB, invoiceID int64) ([]InvoiceFund, error) {
	rows := []InvoiceFund{}
	err := tx.gorm.Order("funds_id").Find(&rows, "invoice_id = ?", invoiceID).Error
	return rows, err
}

// SetFunds replaces what an invoice takes of funds.
func SetFunds(tx *DB, invoiceID int64, funds []InvoiceFund) error {
	if err := tx.gorm.Exec("DELETE FROM main.invoice_funds WHERE invoice_id = ?", invoiceID).Error; err != nil {
		return err
	}
	return Insert(tx, funds)
}

// FundsMovement is a movement of a fund with what it was for.
type FundsMovement struct {
	MoneyMovement
	NumberText, Note string
}

// ChangesOfFunds is what came into a fund and went out of it, by day.
func ChangesOfFunds(tx *DB, fundsID int64) ([]funds.Change, error) {
	return changes(tx, `SELECT effective_day AS day, SUM(CASE WHEN from_bucket = 'funds' THEN amount ELSE -amount END) AS minor
		FROM money_movements
		WHERE funds_id = ? AND 'funds' IN (from_bucket, to_bucket) GROUP BY effective_day ORDER BY effective_day`, fundsID)
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

// ChangeFunds adds to what is held in a fund, or takes from it.
func ChangeFunds(tx *DB, id, minor int64) error {
	return tx.gorm.Exec("UPDATE main.client_funds SET held = held + ?, version = version + 1 WHERE id = ?", minor, id).Error
}

// MovementsOfFunds reads the movements of a fund by day, what came in before what
// went out.
func MovementsOfFunds(tx *DB, fundsID int64) ([]FundsMovement, error) {
	rows := []FundsMovement{}
	err := tx.gorm.Raw(`SELECT m.*, COALESCE(i.number_text, '') AS number_text, COALESCE(p.note, '') AS note FROM money_movements m
		LEFT JOIN invoices i ON i.id = m.invoice_id LEFT JOIN payments p ON p.id = m.payment_id
		WHERE m.funds_id = ? AND 'funds' IN (m.from_bucket, m.to_bucket) ORDER BY m.effective_day, m.from_bucket <> 'funds',
			m.id`, fundsID).Scan(&rows).Error
	return rows, err
}

// TransferRow is a transfer with the names around it.
type TransferRow struct {
	Transfer
	EntityID           int64
	Client, NumberText string
	Currency           money.Currency
}

// Transfers reads those still to be made, or all, newest first.
func Transfers(tx *DB, done bool) ([]TransferRow, error) {
	rows := []TransferRow{}
	err := tx.gorm.Raw(`SELECT t.*, c.name AS client, i.number_text, p.currency, p.entity_id FROM transfers t JOIN client_funds p ON p.id = t.funds_id
		JOIN clients c ON c.id = p.client_id
		JOIN invoices i ON i.id = t.invoice_id WHERE (@done OR t.done_day = '') ORDER BY t.day DESC, t.id DESC`,
		map[string]any{"done": done}).Scan(&rows).Error
	return rows, err
}

// MetTransfer is a transfer with whether an entry of the clients' account, or of one of the firm's own, was taken for it.
type MetTransfer struct {
	TransferRow
	Left, Came bool
}

// UnmetTransfers reads the transfers of an issuing entity in a currency of which not both entries are known: still to be made, or made since
// a day.
func UnmetTransfers(tx *DB, entityID int64, currency money.Currency, since day.Day) ([]MetTransfer, error) {
	rows := []MetTransfer{}
	entry := func(of string) string {
		return `EXISTS (SELECT 1 FROM bank_matches b JOIN bank_entries n ON n.id = b.entry_id JOIN bank_accounts a ON a.id = n.account_id
			WHERE b.transfer_id = t.id AND ` + of + "a.clients_money)"
	}
	err := tx.gorm.Raw(`SELECT * FROM (SELECT t.*, c.name AS client, i.number_text, p.currency, p.entity_id, `+entry("")+` AS "left",
				`+entry("NOT ")+` AS came
			FROM transfers t JOIN client_funds p ON p.id = t.funds_id JOIN clients c ON c.id = p.client_id JOIN invoices i ON i.id = t.invoice_id
			WHERE p.entity_id = @entity AND p.currency = @currency AND (t.done_day = '' OR t.done_day >= @since))
		WHERE NOT ("left" AND came) ORDER BY day DESC, id DESC`,
		map[string]any{"entity": entityID, "currency": currency, "since": since.String()}).Scan(&rows).Error
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
