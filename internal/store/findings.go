package store

import (
	"dorvet/core/invoice"
	"dorvet/core/money"
)

// FindingRow is what a check found on a draft: on a portion or a line of it, or on it as
// such.
type FindingRow struct {
	InvoiceID, PortionID, LineID, EngagementID int64
	EntityID                                   int64 // whose record lacks something
	Text                                       string
	Amount                                     int64
}

// checks find, of some drafts, what their names say. Each is one statement over all
// of the drafts, so that looking at three hundred costs little more than at one. They
// begin at the lines of the drafts: a cross join says so to SQLite, which would
// begin at all time that was ever billed.
var checks = map[string]string{
	"no_lines": `SELECT i.id AS invoice_id FROM invoices i WHERE i.id IN @ids AND NOT EXISTS (SELECT 1 FROM invoice_lines l
		WHERE l.invoice_id = i.id)`,
	"negative": `SELECT i.id AS invoice_id, i.total AS amount FROM invoices i WHERE i.id IN @ids AND i.total < 0`,
	"zero": `SELECT i.id AS invoice_id FROM invoices i WHERE i.id IN @ids AND i.total = 0 AND EXISTS (SELECT 1 FROM invoice_lines l
		WHERE l.invoice_id = i.id)`,
	"open_price": `SELECT l.invoice_id, l.id AS line_id, l.text FROM invoice_lines l WHERE l.invoice_id IN @ids AND NOT l.confirmed`,
	"several_payers": `SELECT l.invoice_id, (SELECT group_concat(c.name, ', ') FROM engagement_payers y JOIN clients c ON c.id = y.client_id
			WHERE y.engagement_id = l.engagement_id) AS text
		FROM invoice_lines l CROSS JOIN invoices i ON i.id = l.invoice_id
		WHERE l.invoice_id IN @ids AND i.number IS NULL AND l.advance_line_id IS NULL AND COALESCE(l.payer_id, 0) <> i.client_id
			AND EXISTS (SELECT 1 FROM engagement_payers y WHERE y.engagement_id = l.engagement_id AND y.client_id <> i.client_id)
		GROUP BY l.invoice_id`,
	"no_text": `SELECT l.invoice_id, l.id AS line_id, p.id AS portion_id, l.text FROM invoice_lines l JOIN portions p ON p.line_id = l.id
		LEFT JOIN time_entries t ON p.source = 'time' AND t.id = p.source_id LEFT JOIN services s ON s.id = t.service_id
		WHERE l.invoice_id IN @ids AND l.kind = 'time' AND (l.text = '' OR t.text = '' AND l.text = s.name)`,
	"duplicate": `SELECT l.invoice_id, l.id AS line_id, p.id AS portion_id, l.text, t.worked_minutes AS amount FROM invoice_lines l
		CROSS JOIN portions p ON p.line_id = l.id AND p.source = 'time' AND p.part = 0 AND NOT p.covered
		JOIN time_entries t ON t.id = p.source_id JOIN time_entries o ON o.person_id = t.person_id AND o.day = t.day AND o.id < t.id
			AND o.removed = FALSE
			AND o.engagement_id = t.engagement_id AND o.worked_minutes = t.worked_minutes AND o.text = t.text
				AND o.service_id = t.service_id
		WHERE l.invoice_id IN @ids AND t.text <> '' AND EXISTS (SELECT 1 FROM portions q WHERE q.source = 'time' AND q.source_id = o.id
			AND q.removed = FALSE AND q.billing IN ('unbilled', 'reserved', 'billed')) GROUP BY p.id
		UNION ALL SELECT l.invoice_id, l.id, p.id, l.text, 0 FROM invoice_lines l CROSS JOIN portions p ON p.line_id = l.id
			AND p.source = 'expense' AND p.part = 0 JOIN expenses x ON x.id = p.source_id
		JOIN expenses o ON o.engagement_id = x.engagement_id AND o.day = x.day AND o.agreed = x.agreed AND o.text = x.text AND o.id < x.id
			AND o.removed = FALSE AND o.purchase_id <> x.purchase_id
		JOIN purchases u ON u.id = x.purchase_id JOIN purchases v ON v.id = o.purchase_id AND v.category_id = u.category_id
			AND v.supplier = u.supplier
		WHERE l.invoice_id IN @ids GROUP BY p.id`,
	"late_entry": `SELECT l.invoice_id, l.id AS line_id, p.id AS portion_id, l.text FROM invoices i
		JOIN invoice_lines l ON l.invoice_id = i.id JOIN portions p ON p.line_id = l.id
		WHERE i.id IN @ids AND (p.worked_day > i.up_to_day OR p.worked_day < i.from_day)`,
	"old_rate": `SELECT l.invoice_id, l.id AS line_id, p.id AS portion_id, (t.valued ->> '$.rate.won.from') AS text, COUNT(*) AS amount
		FROM invoice_lines l CROSS JOIN portions p ON p.line_id = l.id AND p.source = 'time' AND p.own_rate IS NULL
		JOIN time_entries t ON t.id = p.source_id
		WHERE l.invoice_id IN @ids AND l.kind = 'time' AND l.amount <> 0 AND t.flat IS NULL AND t.valued ->> '$.rate.won.from' < date(t.day,
			'-1 year') GROUP BY l.invoice_id`,
	"not_approved":  `SELECT i.id AS invoice_id FROM invoices i WHERE i.id IN @ids AND i.state <> 'approved'`,
	"closed_period": `SELECT i.id AS invoice_id FROM invoices i, firm f WHERE i.id IN @ids AND i.dated <= f.closing_day`,
	// The invoice before it is looked up by its number: as a join, SQLite begins at all
	// that were ever issued, once for each draft.
	"date_order": `SELECT * FROM (SELECT i.id AS invoice_id, i.dated, (SELECT j.dated FROM invoices j WHERE j.series_id = i.series_id
		AND j.state IN ('issued', 'part_paid', 'paid')
			AND j.number = COALESCE(i.number, (SELECT s.next_number FROM series s WHERE s.id = i.series_id)) - 1) AS text
		FROM invoices i WHERE i.id IN @ids) WHERE text > dated`,
	"no_contact": `SELECT i.id AS invoice_id FROM invoices i JOIN clients c ON c.id = i.client_id WHERE i.id IN @ids AND c.mail = ''
		AND c.address = '' AND c.billing_address = ''
		AND NOT EXISTS (SELECT 1 FROM contacts k WHERE k.client_id = c.id AND k.active AND k.gets_invoices AND k.mail <> '')`,
	"funds": `SELECT * FROM (SELECT i.id AS invoice_id, MIN(i.due, SUM(MAX(p.held - COALESCE((SELECT SUM(f.amount) FROM invoice_funds f
		JOIN invoices d ON d.id = f.invoice_id
			WHERE f.funds_id = p.id AND d.state IN ('draft', 'in_approval', 'approved')), 0), 0))) AS amount
		FROM invoices i JOIN client_funds p ON p.client_id = i.client_id AND p.entity_id = i.entity_id AND p.currency = i.currency AND p.held > 0
			AND (p.engagement_id IS NULL OR p.engagement_id IN (SELECT x.engagement_id FROM invoice_engagements x
				WHERE x.invoice_id = i.id))
		WHERE i.id IN @ids AND i.due > 0 GROUP BY i.id) WHERE amount > 0`,
	"credit": `SELECT * FROM (SELECT i.id AS invoice_id, MIN(i.due, SUM(CASE WHEN m.from_bucket = 'credit' THEN m.amount ELSE -m.amount END)
			- COALESCE((SELECT SUM(d.credit) FROM invoices d WHERE d.client_id = i.client_id AND d.entity_id = i.entity_id
				AND d.currency = i.currency AND d.state IN ('draft', 'in_approval', 'approved')), 0)) AS amount
		FROM invoices i JOIN money_movements m ON m.client_id = i.client_id AND m.entity_id = i.entity_id AND m.currency = i.currency
			AND 'credit' IN (m.from_bucket, m.to_bucket)
		WHERE i.id IN @ids AND i.due > 0 AND i.choices ->> '$.use_credit.value' = 'no' GROUP BY i.id) WHERE amount > 0`,
	"no_einvoice": `SELECT i.id AS invoice_id, CASE WHEN c.country = '' THEN 'The client has no country'
		WHEN e.country = '' THEN 'The issuing entity has no country' ELSE 'The issuing entity has no tax number' END AS text
		FROM invoices i JOIN clients c ON c.id = i.client_id JOIN issuing_entities e ON e.id = i.entity_id WHERE i.id IN @ids
			AND (c.country = ''
			OR e.country = '' OR e.tax_number = '')`,
	"no_issuer_address": `SELECT i.id AS invoice_id, e.id AS entity_id FROM invoices i JOIN issuing_entities e ON e.id = i.entity_id
		WHERE i.id IN @ids AND TRIM(e.address) = ''`,
	"no_issuer_tax_number": `SELECT i.id AS invoice_id, e.id AS entity_id FROM invoices i JOIN issuing_entities e ON e.id = i.entity_id
		WHERE i.id IN @ids AND i.tax <> 0 AND TRIM(e.tax_number) = ''`,
	"no_way_to_pay": `SELECT i.id AS invoice_id, e.id AS entity_id FROM invoices i JOIN issuing_entities e ON e.id = i.entity_id
		WHERE i.id IN @ids AND i.due > 0 AND TRIM(e.iban) = ''`,
	"stays": `SELECT x.invoice_id, COUNT(*) AS amount FROM invoices i JOIN invoice_engagements x ON x.invoice_id = i.id
		JOIN portions p ON p.engagement_id = x.engagement_id AND p.billing = 'unbilled' AND p.removed = FALSE AND p.without_rate
			AND p.worked_day <= i.up_to_day
		WHERE i.id IN @ids GROUP BY x.invoice_id`,
	"cap": `SELECT * FROM (SELECT x.invoice_id, x.engagement_id, e.name AS text, SUM(` + feeOfLine + `) - e.fee AS amount
		FROM invoice_engagements x
		JOIN engagements e ON e.id = x.engagement_id AND e.arrangement = 'capped' AND e.fee IS NOT NULL
		JOIN invoice_lines l ON l.engagement_id = e.id JOIN invoices i ON i.id = l.invoice_id AND ` + countsToCap + `
		WHERE x.invoice_id IN @ids GROUP BY x.invoice_id, e.id) WHERE amount > 0`,
}

// Findings runs a check over drafts.
func Findings(tx *DB, code string, invoiceIDs []int64) ([]FindingRow, error) {
	rows := []FindingRow{}
	err := tx.gorm.Raw(checks[code], map[string]any{"ids": many(invoiceIDs)}).Scan(&rows).Error
	return rows, err
}

// DraftSum is the net amount of an engagement on a draft.
type DraftSum struct {
	InvoiceID, EngagementID, ClientID int64
	Currency                          money.Currency
	Amount                            int64
}

// DraftSums sums what is on drafts, by engagement.
func DraftSums(tx *DB, invoiceIDs []int64) ([]DraftSum, error) {
	rows := []DraftSum{}
	err := tx.gorm.Raw(`SELECT l.invoice_id, l.engagement_id, i.client_id, l.currency, SUM(l.amount) AS amount FROM invoice_lines l
		JOIN invoices i ON i.id = l.invoice_id
		WHERE l.invoice_id IN ? GROUP BY l.invoice_id, l.engagement_id`, many(invoiceIDs)).Scan(&rows).Error
	return rows, err
}

// OwedBy sums what the accounts of some clients owe, by account.
func OwedBy(tx *DB, clientIDs []int64) (map[Account]int64, error) {
	rows := []struct {
		Account
		Open int64
	}{}
	err := tx.gorm.Raw("SELECT client_id, entity_id, currency, SUM(open) AS open FROM invoices WHERE client_id IN ? AND open <> 0 AND "+
		"state IN ('issued', 'part_paid') GROUP BY 1, 2, 3", many(clientIDs)).Scan(&rows).Error
	owed := map[Account]int64{}
	for _, row := range rows {
		owed[row.Account] = row.Open
	}
	return owed, err
}

// CheckLevels are the levels that the firm gave to checks.
func CheckLevels(tx *DB) (map[string]invoice.Level, error) {
	rows, err := All[IssueCheck](tx, "id")
	levels := map[string]invoice.Level{}
	for _, row := range rows {
		levels[row.Code] = invoice.Level(row.Level)
	}
	return levels, err
}

// Waived are the findings that somebody left as they are.
func Waived(tx *DB, invoiceIDs []int64) (map[FindingWaiver]bool, error) {
	rows := []FindingWaiver{}
	err := tx.gorm.Find(&rows, "invoice_id IN ?", many(invoiceIDs)).Error
	waived := map[FindingWaiver]bool{}
	for _, row := range rows {
		row.PersonID = nil
		waived[row] = true
	}
	return waived, err
}

// Waive leaves a finding as it is.
func Waive(tx *DB, w FindingWaiver) error {
	return tx.gorm.Exec("INSERT INTO main.finding_waivers (invoice_id, code, subject_id, person_id) VALUES (?, ?, ?, ?) ON "+
		"CONFLICT DO NOTHING", w.InvoiceID, w.Code, w.SubjectID, w.PersonID).Error
}

// DraftText is something that people wrote and a draft prints: on a line of it, or, with
// line 0, on it as such.
type DraftText struct {
	InvoiceID, LineID int64
	Text              string
}

// TextsOf are the texts on some drafts that are no choices of theirs.
func TextsOf(tx *DB, ids []int64) ([]DraftText, error) {
	rows, err := tx.gorm.Raw(`SELECT invoice_id, id, text || ' ' || unit FROM invoice_lines WHERE invoice_id IN @ids
		UNION ALL SELECT i.id, 0, c.invoice_name || ' ' || CASE WHEN c.billing_address <> '' THEN c.billing_address
			ELSE c.address END || ' ' || c.tax_number FROM invoices i JOIN clients c ON c.id = i.client_id WHERE i.id IN @ids
		UNION ALL SELECT i.id, 0, e.legal_name || ' ' || e.address || ' ' || e.bank_name FROM invoices i
			JOIN issuing_entities e ON e.id = i.entity_id WHERE i.id IN @ids
		UNION ALL SELECT x.invoice_id, 0, g.name || ' ' || g.reference FROM invoice_engagements x
			JOIN engagements g ON g.id = x.engagement_id
			WHERE x.invoice_id IN @ids`, map[string]any{"ids": many(ids)}).Rows()
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	texts := []DraftText{}
	for rows.Next() {
		t := DraftText{}
		if err := rows.Scan(&t.InvoiceID, &t.LineID, &t.Text); err != nil {
			return nil, err
		}
		texts = append(texts, t)
	}
	return texts, rows.Err()
}
