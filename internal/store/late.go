package store

import (
	"dorvet/core/day"
	"dorvet/core/money"
)

// PaidLate reads the invoices of some clients, or of all (nil), that are late on a day, and those that were paid late since another: of
// those whose terms charge for it. What was written off, and opening balances, whose terms are not known, are left out.
func PaidLate(tx *DB, clientIDs []int64, on, paidSince day.Day) ([]InvoiceRow, error) {
	rows := []InvoiceRow{}
	err := tx.gorm.Raw(invoiceRows+`WHERE i.kind = 'invoice' AND i.written_off = 0`+ofClients(clientIDs, "i.client_id")+`
			AND (i.state IN ('issued', 'part_paid') AND EXISTS (SELECT 1 FROM instalments n WHERE n.invoice_id = i.id AND n.revision = i.revision
					AND n.due_day < @on)
				OR i.state = 'paid' AND i.due_day >= @since AND EXISTS (SELECT 1 FROM money_movements m JOIN instalments n ON n.id = m.instalment_id
					WHERE m.invoice_id = i.id AND m.from_bucket = 'receivable' AND m.effective_day > n.due_day AND m.effective_day >= @since))
			AND (COALESCE(json_extract(i.choices, '$.late_percent.value'), '0') NOT IN ('0', '')
				OR COALESCE(json_extract(i.choices, '$.late_yearly.value'), '0') NOT IN ('0', '')
				OR COALESCE(json_extract(i.choices, '$.late_flat.value'), '0') NOT IN ('0', '')
				OR json_extract(i.choices, '$.late_reference.value') = 'yes')
		ORDER BY c.name, i.due_day, i.id`,
		map[string]any{"on": on.String(), "since": paidSince.String(), "clients": many(clientIDs)}).Scan(&rows).Error
	return rows, err
}

// OwedChange is how much more, or less, was owed on an instalment from a day on, in minor units.
type OwedChange struct {
	InvoiceID, InstalmentID int64
	DueDay                  day.Day `gorm:"serializer:day"`
	Day                     day.Day `gorm:"serializer:day"`
	Change                  int64
}

// OwedChanges reads all that happened to what is owed on some invoices, by instalment and day.
func OwedChanges(tx *DB, invoiceIDs []int64) ([]OwedChange, error) {
	rows := []OwedChange{}
	err := tx.gorm.Raw(`SELECT n.invoice_id, n.id AS instalment_id, n.due_day, m.effective_day AS day,
			SUM(CASE WHEN m.to_bucket = 'receivable' THEN m.amount ELSE -m.amount END) AS change
		FROM money_movements m JOIN instalments n ON n.id = m.instalment_id
		WHERE n.invoice_id IN @invoices AND 'receivable' IN (m.from_bucket, m.to_bucket)
		GROUP BY n.id, m.effective_day ORDER BY n.invoice_id, n.due_day, n.id, m.effective_day`,
		map[string]any{"invoices": many(invoiceIDs)}).Scan(&rows).Error
	return rows, err
}

// LateFees reads which of some invoices have late charges on them, and what these come to, net.
func LateFees(tx *DB, invoiceIDs []int64) (map[int64]int64, error) {
	rows := []struct{ InvoiceID, Amount int64 }{}
	err := tx.gorm.Raw("SELECT invoice_id, SUM(amount) AS amount FROM invoice_lines WHERE kind = 'late' AND invoice_id IN ? GROUP BY invoice_id",
		many(invoiceIDs)).Scan(&rows).Error
	fees := map[int64]int64{}
	for _, r := range rows {
		fees[r.InvoiceID] = r.Amount
	}
	return fees, err
}

// LateChargeRow is a late charge with the invoice that was paid late, and the one on which it stands.
type LateChargeRow struct {
	LateCharge
	NumberText, Client string
	State              string // of its charge: planned, reserved, billed, waived; waived, too, where there is none
	OnID               int64
	OnNumber           string
}

// LateCharges reads what was charged or waived for some invoices, or for all (nil), the latest first.
func LateCharges(tx *DB, invoiceIDs []int64) ([]LateChargeRow, error) {
	rows := []LateChargeRow{}
	of, values := "", []any{}
	if invoiceIDs != nil {
		of, values = " WHERE x.invoice_id IN ?", []any{many(invoiceIDs)}
	}
	err := tx.gorm.Raw(`SELECT x.*, i.number_text, c.name AS client, COALESCE(g.state, 'waived') AS state, COALESCE(o.id, 0) AS on_id,
			COALESCE(o.number_text, '') AS on_number
		FROM late_charges x JOIN invoices i ON i.id = x.invoice_id JOIN clients c ON c.id = x.client_id LEFT JOIN charges g ON g.id = x.charge_id
		LEFT JOIN invoices o ON o.id = (SELECT MAX(l.invoice_id) FROM invoice_lines l JOIN invoices k ON k.id = l.invoice_id AND k.state <> 'deleted'
			WHERE l.charge_id = x.charge_id)`+of+" ORDER BY x.id DESC", values...).Scan(&rows).Error
	return rows, err
}

// WaiveCharge takes a planned charge away for good; false says that it is on a draft or billed.
func WaiveCharge(tx *DB, id int64) (bool, error) {
	result := tx.gorm.Exec("UPDATE main.charges SET state = 'waived', version = version + 1 WHERE id = ? AND state = 'planned'", id)
	return result.RowsAffected == 1, result.Error
}

// ReferenceRates reads the reference rates of each currency, the earliest first.
func ReferenceRates(tx *DB) (map[money.Currency][]ReferenceRate, error) {
	rows, err := All[ReferenceRate](tx, "day")
	of := map[money.Currency][]ReferenceRate{}
	for _, r := range rows {
		of[r.Currency] = append(of[r.Currency], r)
	}
	return of, err
}
