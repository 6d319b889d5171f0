package store

import (
	"errors"
	"slices"

	"dorvet/core/day"
	"dorvet/core/money"

	"gorm.io/gorm"
)

// AccountOfNumber is the active account of an IBAN or number, or nil.
func AccountOfNumber(tx *DB, number string) (*BankAccount, error) {
	found := []BankAccount{}
	err := tx.gorm.Order("id").Limit(1).Find(&found, "iban = ? AND iban <> '' AND active", number).Error
	if err != nil || len(found) == 0 {
		return nil, err
	}
	return &found[0], nil
}

// LastStatement is the statement of an account that ended last, or nil.
func LastStatement(tx *DB, accountID int64) (*BankStatement, error) {
	last := new(BankStatement)
	err := tx.gorm.Order("to_day DESC, id DESC").Take(last, "account_id = ?", accountID).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return nil, nil
	}
	return last, err
}

// KnownEntries are those of some keys that are there already.
func KnownEntries(tx *DB, accountID int64, keys []string) (map[string]bool, error) {
	known := map[string]bool{}
	for some := range slices.Chunk(keys, 1000) { // a statement takes only so many values
		found := []string{}
		err := tx.gorm.Raw("SELECT key FROM bank_entries WHERE account_id = ? AND key IN ?", accountID, some).Scan(&found).Error
		if err != nil {
			return nil, err
		}
		for _, key := range found {
			known[key] = true
		}
	}
	return known, nil
}

// BankEntryRow is an entry with what it was taken for.
type BankEntryRow struct {
	BankEntry
	Account      string
	ClientsMoney bool  // what is on its account is held for clients
	PaymentID    int64 // or 0
	Client       string
	ClientID     int64
	On           string // numbers of the invoices that it pays
	Purpose      string // of the payment
	Transfers    int    // that it was taken for
	PaidBack     string // to whom, of what people laid out
}

// EntryFilter says which entries are asked for.
type EntryFilter struct {
	AccountID int64 // 0: of all accounts
	ID        int64 // 0: any
	State     string
}

// BankEntries reads entries, the oldest first: all that are open, of others the newest 500.
func BankEntries(tx *DB, f EntryFilter) ([]BankEntryRow, error) {
	rows := []BankEntryRow{}
	err := tx.gorm.Raw(`SELECT * FROM (SELECT n.*, a.name AS account, a.clients_money, COALESCE(p.id, 0) AS payment_id, COALESCE(c.name, '') AS client,
			COALESCE(c.id, 0) AS client_id, COALESCE(p.purpose, '') AS purpose,
			(SELECT COUNT(*) FROM bank_matches x WHERE x.entry_id = n.id AND x.transfer_id IS NOT NULL) AS transfers,
			COALESCE((SELECT w.name FROM bank_matches x JOIN reimbursements r ON r.id = x.reimbursement_id JOIN people w ON w.id = r.person_id
				WHERE x.entry_id = n.id), '') AS paid_back,
			COALESCE((SELECT GROUP_CONCAT(DISTINCT i.number_text) FROM money_movements m JOIN invoices i ON i.id = m.invoice_id
				WHERE m.payment_id = p.id), '') AS "on"
		FROM bank_entries n JOIN bank_accounts a ON a.id = n.account_id
		LEFT JOIN bank_matches b ON b.entry_id = n.id AND b.payment_id IS NOT NULL LEFT JOIN payments p ON p.id = b.payment_id
		LEFT JOIN clients c ON c.id = p.client_id
		WHERE (@account = 0 OR n.account_id = @account) AND (@id = 0 OR n.id = @id) AND (@state = '' OR n.state = @state)
		ORDER BY n.booked_day DESC, n.id DESC LIMIT @most) ORDER BY booked_day, id`,
		map[string]any{"account": f.AccountID, "id": f.ID, "state": f.State, "most": map[bool]int{true: 5000, false: 500}[f.State == EntryOpen]}).
		Scan(&rows).Error
	return rows, err
}

// StatementRow is a statement with its account and how far its entries are.
type StatementRow struct {
	BankStatement
	Account               string
	Entries, Open, Asides int
}

// BankStatements reads statements, the newest first.
func BankStatements(tx *DB, accountID int64) ([]StatementRow, error) {
	rows := []StatementRow{}
	err := tx.gorm.Raw(`SELECT s.*, a.name AS account, COUNT(n.id) AS entries, COALESCE(SUM(n.state = 'open'), 0) AS open,
			COALESCE(SUM(n.state = 'aside'), 0) AS asides
		FROM bank_statements s JOIN bank_accounts a ON a.id = s.account_id LEFT JOIN bank_entries n ON n.statement_id = s.id
		WHERE @account = 0 OR s.account_id = @account GROUP BY s.id ORDER BY s.to_day DESC, s.id DESC LIMIT 200`,
		map[string]any{"account": accountID}).Scan(&rows).Error
	return rows, err
}

// OpenPart is what is open of an instalment, with its invoice.
type OpenPart struct {
	InvoiceID, ClientID int64
	NumberText          string
	Open                int64
}

// OpenParts reads what is open of the instalments of an issuing entity in a currency, the oldest invoice first.
func OpenParts(tx *DB, entityID int64, currency money.Currency) ([]OpenPart, error) {
	rows := []OpenPart{}
	err := tx.gorm.Raw(`SELECT i.id AS invoice_id, i.client_id, i.number_text, p.open FROM invoices i JOIN instalments p ON p.invoice_id = i.id
			AND p.revision = i.revision
		WHERE i.entity_id = ? AND i.currency = ? AND i.state IN ('issued', 'part_paid') AND i.open > 0 AND p.open > 0
		ORDER BY i.due_day, i.id, p.position`, entityID, currency).Scan(&rows).Error
	return rows, err
}

// PayerRow is a client with what they are called and an account from which they pay, or none.
type PayerRow struct {
	ID                         int64
	Name, InvoiceName, Account string
}

// Payers reads the clients that an issuing entity bills or has billed, a row for each account from which one pays.
func Payers(tx *DB, entityID int64) ([]PayerRow, error) {
	rows := []PayerRow{}
	err := tx.gorm.Raw(`SELECT c.id, c.name, c.invoice_name, COALESCE(a.account, '') AS account FROM clients c
		LEFT JOIN client_accounts a ON a.client_id = c.id
		WHERE c.id IN (SELECT client_id FROM engagements WHERE entity_id = @entity) OR c.id IN (SELECT client_id FROM invoices WHERE entity_id = @entity)
		ORDER BY c.id, a.id`, map[string]any{"entity": entityID}).Scan(&rows).Error
	return rows, err
}

// LearnAccount notes that a client pays from an account.
func LearnAccount(tx *DB, clientID int64, account string) error {
	return tx.gorm.Exec("INSERT INTO main.client_accounts (client_id, account) VALUES (?, ?) ON CONFLICT DO NOTHING", clientID, account).Error
}

// ForgetAccount forgets of whom an account is, where no entry tells any more.
func ForgetAccount(tx *DB, account string) error {
	return tx.gorm.Exec(`DELETE FROM main.client_accounts WHERE account = @account AND NOT EXISTS (SELECT 1 FROM bank_entries n
		JOIN bank_matches b ON b.entry_id = n.id JOIN payments p ON p.id = b.payment_id
		WHERE n.party_account = @account AND p.client_id = main.client_accounts.client_id)`, map[string]any{"account": account}).Error
}

// UnmatchedPayments are payments of an issuing entity in a currency since a day that no entry of a bank was taken for, and that still stand.
func UnmatchedPayments(tx *DB, entityID int64, currency money.Currency, since day.Day) ([]PaymentRow, error) {
	rows := []PaymentRow{}
	err := tx.gorm.Raw(paymentRows+`AND p.entity_id = @entity AND p.currency = @currency AND p.day >= @since AND p.reverses_id IS NULL
		AND p.method IN ('transfer', 'debit', 'other')
		AND NOT EXISTS (SELECT 1 FROM bank_matches b WHERE b.payment_id = p.id) AND NOT EXISTS (SELECT 1 FROM payments z WHERE z.reverses_id = p.id)
		ORDER BY p.day, p.id`, map[string]any{"client": 0, "entity": entityID, "currency": currency, "since": since.String()}).Scan(&rows).Error
	return rows, err
}

// PaymentsSince are the payments of an issuing entity in a currency since a day that still stand, whatever met them: what a bank may send back.
func PaymentsSince(tx *DB, entityID int64, currency money.Currency, since day.Day) ([]PaymentRow, error) {
	rows := []PaymentRow{}
	err := tx.gorm.Raw(paymentRows+`AND p.entity_id = @entity AND p.currency = @currency AND p.day >= @since AND p.reverses_id IS NULL AND p.amount > 0
		AND NOT EXISTS (SELECT 1 FROM payments z WHERE z.reverses_id = p.id) ORDER BY p.day, p.id`,
		map[string]any{"client": 0, "entity": entityID, "currency": currency, "since": since.String()}).Scan(&rows).Error
	return rows, err
}

// MatchesOf is what an entry was taken for.
func MatchesOf(tx *DB, entryID int64) ([]BankMatch, error) {
	rows := []BankMatch{}
	return rows, tx.gorm.Order("id").Find(&rows, "entry_id = ?", entryID).Error
}

// TransferOnStatement reports whether a bank's entry says that a transfer was made.
func TransferOnStatement(tx *DB, transferID int64) (bool, error) {
	n, err := Count(tx, "SELECT COUNT(*) FROM bank_matches WHERE transfer_id = ?", transferID)
	return n > 0, err
}

// EntriesOfTransfer reports whether an entry of the clients' account, and one of the firm's own, was taken for a transfer.
func EntriesOfTransfer(tx *DB, transferID int64) (left, came bool, err error) {
	rows := []struct{ ClientsMoney bool }{}
	err = tx.gorm.Raw(`SELECT a.clients_money FROM bank_matches b JOIN bank_entries n ON n.id = b.entry_id JOIN bank_accounts a ON a.id = n.account_id
		WHERE b.transfer_id = ?`, transferID).Scan(&rows).Error
	for _, r := range rows {
		left, came = left || r.ClientsMoney, came || !r.ClientsMoney
	}
	return left, came, err
}

// FreeEntry opens the entry of a bank again that a payment was made of or met.
func FreeEntry(tx *DB, paymentID int64) error {
	freed := []BankEntry{}
	err := tx.gorm.Find(&freed, "id IN (SELECT entry_id FROM bank_matches WHERE payment_id = ?)", paymentID).Error
	for i := range freed {
		if err == nil {
			err = OpenEntry(tx, &freed[i])
		}
	}
	return err
}

// OpenEntry makes an entry open again, and forgets what it was taken for.
func OpenEntry(tx *DB, e *BankEntry) error {
	e.State, e.Aside = EntryOpen, ""
	if err := tx.gorm.Exec("DELETE FROM main.bank_matches WHERE entry_id = ?", e.ID).Error; err != nil {
		return err
	}
	if err := ForgetAccount(tx, e.PartyAccount); err != nil {
		return err
	}
	return Save(tx, e)
}
