package store

import "dorvet/core/day"

// AccountMovement is what changed the balance of a client's account on a day, in minor units: what is owed less the client's credit.
type AccountMovement struct {
	Day                   day.Day `gorm:"serializer:day"`
	What                  string  // invoice, credit_note, opening, withheld, funds, payment, refund, written_off, owed_again, reversed
	InvoiceID             int64
	NumberText, Reference string // of the invoice, of the payment
	Change                int64
}

// balanced are the buckets of which a client's balance is made: what passes between them does not change it.
const balanced = "('receivable', 'issued', 'credit')"

const changed = `CASE WHEN m.to_bucket IN ` + balanced + ` THEN m.amount ELSE -m.amount END`

// AccountMovements reads what changed the balance of a client's account in a period, both days counted, by day.
func AccountMovements(tx *DB, a Account, from, to day.Day) ([]AccountMovement, error) {
	rows := []AccountMovement{}
	err := tx.gorm.Raw(`SELECT day, what, invoice_id, number_text, reference, SUM(change) AS change FROM (
			SELECT m.id, m.act_id, m.effective_day AS day, COALESCE(m.payment_id, 0) AS payment_id, `+changed+` AS change,
				CASE WHEN m.kind = 'reversed' THEN 'reversed' WHEN m.kind IN ('written_off', 'owed_again', 'recovered') THEN m.kind
					WHEN m.from_bucket = 'withheld' OR m.to_bucket = 'withheld' THEN 'withheld'
					WHEN m.from_bucket = 'funds' OR m.to_bucket = 'funds' THEN 'funds'
					WHEN m.payment_id IS NOT NULL THEN CASE WHEN p.amount < 0 THEN 'refund' ELSE 'payment' END
					WHEN i.kind = 'opening' THEN 'opening' ELSE COALESCE(i.kind, 'other') END AS what,
				CASE WHEN m.payment_id IS NULL THEN COALESCE(m.invoice_id, 0) ELSE 0 END AS invoice_id,
				CASE WHEN m.payment_id IS NULL THEN COALESCE(i.number_text, '') ELSE '' END AS number_text, COALESCE(p.reference, '') AS reference
			FROM money_movements m LEFT JOIN invoices i ON i.id = m.invoice_id LEFT JOIN payments p ON p.id = m.payment_id
			WHERE m.client_id = @client AND m.entity_id = @entity AND m.currency = @currency AND m.effective_day BETWEEN @from AND @to
				AND (m.to_bucket IN `+balanced+`) <> (m.from_bucket IN `+balanced+`))
		GROUP BY day, what, invoice_id, payment_id, CASE WHEN payment_id = 0 THEN act_id ELSE 0 END HAVING SUM(change) <> 0 ORDER BY day, MIN(id)`,
		a.with(map[string]any{"from": from.String(), "to": to.String()})).Scan(&rows).Error
	return rows, err
}

// BalanceBefore is the balance of a client's account at the beginning of a day, in minor units.
func BalanceBefore(tx *DB, a Account, on day.Day) (minor int64, err error) {
	err = tx.gorm.Raw(`SELECT COALESCE(SUM(`+changed+`), 0) FROM money_movements m WHERE m.client_id = @client AND m.entity_id = @entity
			AND m.currency = @currency AND m.effective_day < @on AND (m.to_bucket IN `+balanced+`) <> (m.from_bucket IN `+balanced+`)`,
		a.with(map[string]any{"on": on.String()})).Scan(&minor).Error
	return minor, err
}
