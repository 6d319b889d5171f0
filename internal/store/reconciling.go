package store

import "dorvet/core/day"

// FirstStatement is the statement of an account that began first, or ErrNotFound.
func FirstStatement(tx *DB, accountID int64) (*BankStatement, error) {
	first := new(BankStatement)
	return first, tx.gorm.Order("from_day, id").Take(first, "account_id = ?", accountID).Error
}

// StatementsUntil is the last day that the statements of an account tell of; or none.
func StatementsUntil(tx *DB, accountID int64) (day.Day, error) {
	last, err := LastStatement(tx, accountID)
	if err != nil || last == nil {
		return 0, err
	}
	return last.ToDay, nil
}

// FundsEvent is something that changed what is held for clients of an issuing entity in a currency, in minor units: money that came in or
// went back, or a transfer to the firm's account. Booked entries of banks say what they know of it.
type FundsEvent struct {
	PaymentID, TransferID int64   // one of them
	Day                   day.Day `gorm:"serializer:day"`
	DoneDay               day.Day `gorm:"serializer:day"` // of a transfer
	Minor                 int64
	Client, Number        string
	EntryID               int64 // of the bank; or 0
	AccountID             int64 // on which that is
	AccountName           string
}

// FundsEvents reads them up to a day, and those that an entry of an account names, whenever they are.
func FundsEvents(tx *DB, account *BankAccount, on day.Day) ([]FundsEvent, error) {
	rows := []FundsEvent{}
	err := tx.gorm.Raw(`SELECT f.*, COALESCE(n.id, 0) AS entry_id, COALESCE(n.account_id, 0) AS account_id, COALESCE(a.name, '') AS account_name FROM (
			SELECT m.payment_id, 0 AS transfer_id, m.effective_day AS day, '' AS done_day,
				SUM(CASE WHEN m.from_bucket = 'funds' THEN m.amount ELSE -m.amount END) AS minor, c.name AS client, '' AS number
			FROM money_movements m JOIN clients c ON c.id = m.client_id
			WHERE m.payment_id IS NOT NULL AND m.entity_id = @entity AND m.currency = @currency AND 'funds' IN (m.from_bucket, m.to_bucket)
				AND 'bank' IN (m.from_bucket, m.to_bucket) GROUP BY m.payment_id, m.effective_day
			UNION ALL SELECT 0, t.id, t.day, t.done_day, -t.amount, c.name, i.number_text FROM transfers t JOIN client_funds p ON p.id = t.funds_id
				JOIN clients c ON c.id = p.client_id JOIN invoices i ON i.id = t.invoice_id WHERE p.entity_id = @entity AND p.currency = @currency) f
		LEFT JOIN bank_matches b ON b.payment_id = f.payment_id OR b.transfer_id = f.transfer_id
			AND EXISTS (SELECT 1 FROM bank_entries x WHERE x.id = b.entry_id AND x.account_id = @account)
		LEFT JOIN bank_entries n ON n.id = b.entry_id LEFT JOIN bank_accounts a ON a.id = n.account_id
		WHERE f.day <= @on OR n.account_id = @account ORDER BY f.day, f.payment_id, f.transfer_id`,
		map[string]any{"entity": account.EntityID, "currency": account.Currency, "account": account.ID, "on": on.String()}).Scan(&rows).Error
	return rows, err
}

// EntriesUntil reads the entries of an account up to a day, the oldest first.
func EntriesUntil(tx *DB, accountID int64, on day.Day) ([]BankEntry, error) {
	rows := []BankEntry{}
	err := tx.gorm.Order("booked_day, id").Find(&rows, "account_id = ? AND booked_day <= ?", accountID, on.String()).Error
	return rows, err
}

// AppliedUntil is what funds of an issuing entity in a currency lost to invoices by a day, less what came back of it, in minor units.
func AppliedUntil(tx *DB, account *BankAccount, on day.Day) (minor int64, err error) {
	err = tx.gorm.Raw(`SELECT COALESCE(SUM(CASE WHEN to_bucket = 'funds' THEN amount ELSE -amount END), 0) FROM money_movements
		WHERE entity_id = @entity AND currency = @currency AND effective_day <= @on AND (from_bucket = 'funds') <> (to_bucket = 'funds')
			AND 'bank' NOT IN (from_bucket, to_bucket)`,
		map[string]any{"entity": account.EntityID, "currency": account.Currency, "on": on.String()}).Scan(&minor).Error
	return minor, err
}

// ReconciliationRow is a reconciliation with the names around it.
type ReconciliationRow struct {
	Reconciliation
	Account, Person string
}

// Reconciliations reads what was kept, the latest first.
func Reconciliations(tx *DB) ([]ReconciliationRow, error) {
	rows := []ReconciliationRow{}
	err := tx.gorm.Raw(`SELECT r.*, a.name AS account, COALESCE(p.name, '') AS person FROM reconciliations r
		JOIN bank_accounts a ON a.id = r.account_id LEFT JOIN people p ON p.id = r.person_id ORDER BY r.day DESC, r.id DESC LIMIT 200`).Scan(&rows).Error
	return rows, err
}
