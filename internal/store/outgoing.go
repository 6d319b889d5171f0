package store

import (
	"dorvet/core/day"
	"dorvet/core/money"
)

// Outgoing is what is to be paid out and is in no order that stands: a transfer to the firm's account, a refund, or what people laid out.
type Outgoing struct {
	Kind         string  // transfer, refund, expenses
	ID           int64   // of the transfer or payment; of expenses the person
	Day          day.Day `gorm:"serializer:day"` // since which
	EntityID     int64
	Currency     money.Currency
	Minor        int64
	ToName, IBAN string // to whom; of a transfer nothing
	Text         string
	Number       int  // of purchases
	FromClients  bool // from the clients' account
}

// notOrdered says of a column of ordered rows that no order that stands has it.
func notOrdered(column, id string) string {
	return " NOT EXISTS (SELECT 1 FROM ordered x JOIN bank_orders o ON o.id = x.order_id AND NOT o.withdrawn WHERE x." + column + " = " + id + ") "
}

// ToPayOut reads what is to be paid out, the oldest first: refunds of the last days that no entry of a bank has met.
func ToPayOut(tx *DB, refundedSince day.Day) ([]Outgoing, error) {
	rows := []Outgoing{}
	err := tx.gorm.Raw(`SELECT * FROM (
			SELECT 'transfer' AS kind, t.id, t.day, f.entity_id, f.currency, t.amount AS minor, '' AS to_name, '' AS iban,
				i.number_text || ', ' || c.name AS text, 0 AS number, TRUE AS from_clients
			FROM transfers t JOIN client_funds f ON f.id = t.funds_id JOIN invoices i ON i.id = t.invoice_id JOIN clients c ON c.id = f.client_id
			WHERE t.done_day = '' AND`+notOrdered("transfer_id", "t.id")+`
			UNION ALL SELECT 'refund', p.id, p.day, p.entity_id, p.currency, -p.amount, c.invoice_name,
				COALESCE((SELECT account FROM client_accounts k WHERE k.client_id = p.client_id ORDER BY k.id DESC LIMIT 1), ''),
				CASE p.purpose WHEN 'refund_funds' THEN 'Money held' ELSE 'Credit' END, 0, p.purpose = 'refund_funds'
			FROM payments p JOIN clients c ON c.id = p.client_id
			WHERE p.purpose IN ('refund_funds', 'refund_credit') AND p.reverses_id IS NULL AND p.amount < 0 AND p.day >= @since
				AND p.method = 'transfer' AND NOT EXISTS (SELECT 1 FROM payments z WHERE z.reverses_id = p.id)
				AND NOT EXISTS (SELECT 1 FROM bank_matches b WHERE b.payment_id = p.id) AND`+notOrdered("payment_id", "p.id")+`
			UNION ALL SELECT 'expenses', w.id, MIN(u.day), w.entity_id, u.currency, SUM(CAST(json_extract(u.paid, '$.amount.minor') AS INTEGER)), w.name,
				w.iban, 'Expenses', COUNT(*), FALSE
			FROM purchases u JOIN people w ON w.id = u.person_id
			WHERE u.paid_by = 'person' AND NOT u.removed AND NOT EXISTS (SELECT 1 FROM reimbursed x JOIN reimbursements r ON r.id = x.reimbursement_id
				WHERE x.purchase_id = u.id AND NOT r.taken_back) GROUP BY w.id, u.currency HAVING SUM(CAST(json_extract(u.paid, '$.amount.minor') AS INTEGER)) > 0)
		WHERE minor <> 0 ORDER BY day, kind, id`, map[string]any{"since": refundedSince.String()}).Scan(&rows).Error
	return rows, err
}

// OwedPurchase is a purchase that a person paid and was not paid back.
type OwedPurchase struct {
	ID             int64
	Day            day.Day `gorm:"serializer:day"`
	Supplier, Text string
	Minor          int64
	Currency       money.Currency
}

// OwedPurchases reads what a person paid in a currency and was not paid back, the oldest first.
func OwedPurchases(tx *DB, personID int64, currency money.Currency) ([]OwedPurchase, error) {
	rows := []OwedPurchase{}
	err := tx.gorm.Raw(`SELECT u.id, u.day, u.supplier, u.text, CAST(json_extract(u.paid, '$.amount.minor') AS INTEGER) AS minor, u.currency FROM purchases u
		WHERE u.person_id = ? AND u.currency = ? AND u.paid_by = 'person' AND NOT u.removed AND NOT EXISTS (SELECT 1 FROM reimbursed x
			JOIN reimbursements r ON r.id = x.reimbursement_id WHERE x.purchase_id = u.id AND NOT r.taken_back) ORDER BY u.day, u.id`,
		personID, currency).Scan(&rows).Error
	return rows, err
}

// PaidBackOn is the day on which a purchase was paid back; or none.
func PaidBackOn(tx *DB, purchaseID int64) (day.Day, error) {
	rows := []struct {
		Day day.Day `gorm:"serializer:day"`
	}{}
	err := tx.gorm.Raw(`SELECT r.day FROM reimbursed x JOIN reimbursements r ON r.id = x.reimbursement_id AND NOT r.taken_back WHERE x.purchase_id = ?`,
		purchaseID).Scan(&rows).Error
	if err != nil || len(rows) == 0 {
		return 0, err
	}
	return rows[0].Day, nil
}

// OrderRow is an order with the names around it, and how many of its payments the bank's statement has.
type OrderRow struct {
	BankOrder
	Account, Person string
	Payments, Met   int
}

// BankOrders reads orders, the latest first.
func BankOrders(tx *DB) ([]OrderRow, error) {
	rows := []OrderRow{}
	err := tx.gorm.Raw(`SELECT o.*, a.name AS account, COALESCE(w.name, '') AS person, COUNT(x.id) AS payments,
			COALESCE(SUM(EXISTS (SELECT 1 FROM bank_matches b WHERE b.transfer_id = x.transfer_id OR b.payment_id = x.payment_id
				OR b.reimbursement_id = x.reimbursement_id)), 0) AS met
		FROM bank_orders o JOIN bank_accounts a ON a.id = o.account_id LEFT JOIN people w ON w.id = o.person_id
		LEFT JOIN ordered x ON x.order_id = o.id GROUP BY o.id ORDER BY o.id DESC LIMIT 200`).Scan(&rows).Error
	return rows, err
}

// OrderedIn reads the payments of an order.
func OrderedIn(tx *DB, orderID int64) ([]Ordered, error) {
	rows := []Ordered{}
	return rows, tx.gorm.Order("id").Find(&rows, "order_id = ?", orderID).Error
}

// UnmetReimbursement is what somebody was paid back, with their name.
type UnmetReimbursement struct {
	Reimbursement
	Person string
}

// UnmetReimbursements are those of an issuing entity in a currency since a day that no entry of a bank was taken for.
func UnmetReimbursements(tx *DB, entityID int64, currency money.Currency, since day.Day) ([]UnmetReimbursement, error) {
	rows := []UnmetReimbursement{}
	err := tx.gorm.Raw(`SELECT r.*, w.name AS person FROM reimbursements r JOIN people w ON w.id = r.person_id
		WHERE r.entity_id = ? AND r.currency = ? AND r.day >= ? AND NOT r.taken_back
			AND NOT EXISTS (SELECT 1 FROM bank_matches b WHERE b.reimbursement_id = r.id) ORDER BY r.id`,
		entityID, currency, since.String()).Scan(&rows).Error
	return rows, err
}

// Reimbursements reads what people were paid back, the latest first.
func Reimbursements(tx *DB) ([]UnmetReimbursement, error) {
	rows := []UnmetReimbursement{}
	err := tx.gorm.Raw(`SELECT r.*, w.name AS person FROM reimbursements r JOIN people w ON w.id = r.person_id
		ORDER BY r.id DESC LIMIT 200`).Scan(&rows).Error
	return rows, err
}

// NextOrder is the number of the next order to a bank.
func NextOrder(tx *DB) (int64, error) {
	return Count(tx, "SELECT COALESCE(MAX(id), 0) + 1 FROM main.bank_orders")
}

// PaidBackBy reports whether what a person was paid back is in an order that stands, and whether a bank's statement has it.
func PaidBackBy(tx *DB, reimbursementID int64) (ordered, met bool, err error) {
	found := struct{ Ordered, Met bool }{}
	err = tx.gorm.Raw(`SELECT EXISTS (SELECT 1 FROM ordered x JOIN bank_orders o ON o.id = x.order_id AND NOT o.withdrawn WHERE x.reimbursement_id = @id)
			AS ordered, EXISTS (SELECT 1 FROM bank_matches WHERE reimbursement_id = @id) AS met`, map[string]any{"id": reimbursementID}).Scan(&found).Error
	return found.Ordered, found.Met, err
}

// MetOfOrder is how many payments of an order a bank's statement has.
func MetOfOrder(tx *DB, orderID int64) (int64, error) {
	n := int64(0)
	err := tx.gorm.Raw(`SELECT COUNT(DISTINCT x.id) FROM ordered x JOIN bank_matches b ON b.transfer_id = x.transfer_id OR b.payment_id = x.payment_id
		OR b.reimbursement_id = x.reimbursement_id WHERE x.order_id = ?`, orderID).Scan(&n).Error
	return n, err
}
