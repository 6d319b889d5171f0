package store

import (
	"dorvet/core/day"
	"dorvet/core/money"
)

// LostRow is bad debt of an invoice that an act made, or undid: net and tax are what the ledger says, negative where it came after all; why
// it was written off is that of the last write-off before.
type LostRow struct {
	WriteOff
	NumberText, Client, What string
}

// LostBetween reads bad debt of a period, both days counted, and what came of it, the latest first.
func LostBetween(tx *DB, from, to day.Day) ([]LostRow, error) {
	rows := []LostRow{}
	err := tx.gorm.Raw(`SELECT m.invoice_id, i.number_text, m.client_id, c.name AS client, m.entity_id, m.effective_day AS day, m.currency,
			CASE m.kind WHEN 'reversed' THEN 'written_off' ELSE m.kind END AS what,
			SUM(CASE WHEN m.to_bucket = 'bad_debt' THEN m.amount WHEN m.from_bucket = 'bad_debt' THEN -m.amount ELSE 0 END) AS net,
			SUM(CASE WHEN m.to_bucket = 'bad_debt_tax' THEN m.amount WHEN m.from_bucket = 'bad_debt_tax' THEN -m.amount ELSE 0 END) AS tax,
			w.reason, w.note
		FROM money_movements m JOIN invoices i ON i.id = m.invoice_id JOIN clients c ON c.id = m.client_id
		JOIN write_offs w ON w.id = (SELECT MAX(x.id) FROM write_offs x WHERE x.invoice_id = m.invoice_id AND x.act_id <= m.act_id)
		WHERE m.invoice_id IN (SELECT invoice_id FROM write_offs) AND m.effective_day BETWEEN @from AND @to AND (m.from_bucket IN ('bad_debt', 'bad_debt_tax') OR m.to_bucket IN ('bad_debt', 'bad_debt_tax'))
		GROUP BY m.act_id, m.invoice_id, m.kind ORDER BY m.effective_day DESC, m.act_id DESC, m.invoice_id`,
		map[string]any{"from": from.String(), "to": to.String()}).Scan(&rows).Error
	return rows, err
}

// LostInvoices reads the invoices of a client of which something was written off and has not come.
func LostInvoices(tx *DB, clientID int64) ([]Invoice, error) {
	rows := []Invoice{}
	err := tx.gorm.Order("due_day, id").Find(&rows, "client_id = ? AND written_off <> 0", clientID).Error
	return rows, err
}

// LostOf reads the invoices of an issuing entity in a currency on which nothing is owed, because it was written off and has not come.
func LostOf(tx *DB, entityID int64, currency money.Currency) ([]Invoice, error) {
	rows := []Invoice{}
	err := tx.gorm.Order("due_day, id").Find(&rows, "entity_id = ? AND currency = ? AND written_off <> 0 AND open = 0", entityID, currency).Error
	return rows, err
}
