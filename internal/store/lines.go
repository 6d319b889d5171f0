package store

import (
	"encoding/json"

	"dorvet/core/invoice"
	"dorvet/core/money"
)

const lineColumns = `id, version, invoice_id, engagement_id, kind, tax_code_id, day, person_id, text, minutes, per_hour,
	amount, currency, treatment, position, quantity, unit, unit_price,
	charge_id, done, confirmed, credits_line_id, again, advance_line_id, discount, surcharge, line_kind_id, payer_id, picture_id`

// LinesOf reads the lines of an invoice in their order: as somebody put them, else
// by engagement and day.
func LinesOf(tx *DB, invoiceID int64) ([]InvoiceLine, error) {
	found, err := tx.gorm.Raw("SELECT "+lineColumns+` FROM invoice_lines WHERE invoice_id = ?
			ORDER BY position, engagement_id, day, id`, invoiceID).Rows()
	if err != nil {
		return nil, err
	}
	defer found.Close()
	lines := []InvoiceLine{}
	for found.Next() {
		l := InvoiceLine{}
		if err := found.Scan(&l.ID, &l.Version, &l.InvoiceID, &l.EngagementID, &l.Kind, &l.TaxCodeID, dayInto{&l.Day}, &l.PersonID, &l.Text,
			&l.Minutes, &l.PerHour, &l.Amount, &l.Currency, &l.Treatment,
			&l.Position, &l.Quantity, &l.Unit, &l.UnitPrice, &l.ChargeID, &l.Done, &l.Confirmed, &l.CreditsLineID, &l.Again,
			&l.AdvanceLineID, &l.Discount, &l.Surcharge, &l.LineKindID, &l.PayerID, &l.PictureID); err != nil {
			return nil, err
		}
		lines = append(lines, l)
	}
	return lines, found.Err()
}

// AmountsOf reads of the lines of an invoice, in their order, what they come to: where
// they stand, the kind, the tax code, the amount and the shares that were computed last.
func AmountsOf(tx *DB, invoiceID int64) ([]InvoiceLine, error) {
	found, err := tx.gorm.Raw(`SELECT id, engagement_id, kind, tax_code_id, day, position, amount, currency, discount,
		surcharge, advance_line_id FROM invoice_lines WHERE invoice_id = ? ORDER BY position, engagement_id, day, id`, invoiceID).Rows()
	if err != nil {
		return nil, err
	}
	defer found.Close()
	lines := []InvoiceLine{}
	for found.Next() {
		l := InvoiceLine{}
		if err := found.Scan(&l.ID, &l.EngagementID, &l.Kind, &l.TaxCodeID, dayInto{&l.Day}, &l.Position, &l.Amount, &l.Currency,
			&l.Discount, &l.Surcharge, &l.AdvanceLineID); err != nil {
			return nil, err
		}
		lines = append(lines, l)
	}
	return lines, found.Err()
}

// SetAmount gives a line another amount.
func SetAmount(tx *DB, lineID, minor int64) error {
	return tx.gorm.Exec("UPDATE main.invoice_lines SET amount = ?, version = version + 1 WHERE id = ?", minor, lineID).Error
}

// DropLine takes a line off that bills no work and no charge.
func DropLine(tx *DB, lineID int64) error {
	return tx.gorm.Delete(&InvoiceLine{}, "id = ?", lineID).Error
}

// SetShares keeps what of a discount and a surcharge is on lines, where it is not there yet.
func SetShares(tx *DB, lines []InvoiceLine, shares []invoice.LineShare) error {
	for i, share := range shares {
		l := &lines[i]
		if l.Discount == share.Discount && l.Surcharge == share.Surcharge {
			continue
		}
		err := tx.gorm.Exec("UPDATE main.invoice_lines SET discount = ?, surcharge = ? WHERE id = ?", share.Discount, share.Surcharge,
			l.ID).Error
		if err != nil {
			return err
		}
	}
	return nil
}

// Reserve puts an unbilled portion on a line, covered by it if the line is a fee;
// false says that it is not unbilled any more.
func Reserve(tx *DB, portionID, lineID int64, covered bool) (bool, error) {
	result := tx.gorm.Exec(`UPDATE main.portions SET billing = 'reserved', line_id = ?, covered = ?, over_cap = FALSE, version = version + 1
		WHERE id = ? AND billing = 'unbilled' AND removed = FALSE`, lineID, covered, portionID)
	return result.RowsAffected == 1, result.Error
}

// ReserveAll puts unbilled portions on lines, each pair a portion and its line; it
// says how many were still unbilled.
func ReserveAll(tx *DB, on [][2]int64) (int, error) {
	pairs, err := json.Marshal(on)
	if err != nil {
		return 0, err
	}
	result := tx.gorm.Exec(`UPDATE main.portions SET billing = 'reserved', line_id = pair.line, covered = FALSE, over_cap = FALSE,
		version = version + 1
		FROM (SELECT value ->> 0 AS portion, value ->> 1 AS line FROM json_each(?)) AS pair
		WHERE portions.id = pair.portion AND billing = 'unbilled' AND removed = FALSE`, string(pairs))
	return int(result.RowsAffected), result.Error
}

// ReleasePortion takes a portion off its line.
func ReleasePortion(tx *DB, portionID int64) error {
	return tx.gorm.Exec("UPDATE main.portions SET billing = 'unbilled', line_id = NULL, covered = FALSE, version = "+
		"version + 1 WHERE id = ?",
		portionID).Error
}

// RemoveLine removes a line of a draft; its portions and its charge are free again.
func RemoveLine(tx *DB, line *InvoiceLine) error {
	err := tx.gorm.Exec("UPDATE main.portions SET billing = 'unbilled', line_id = NULL, covered = FALSE, version = version + "+
		"1 WHERE line_id = ?", line.ID).Error
	if err != nil {
		return err
	}
	if line.ChargeID != nil {
		if err := tx.gorm.Exec("UPDATE main.charges SET state = 'planned', version = version + 1 WHERE id = ?",
			*line.ChargeID).Error; err != nil {
			return err
		}
	}
	return tx.gorm.Delete(&InvoiceLine{}, "id = ?", line.ID).Error
}

// CreditedLines sums what of each line of an invoice is credited.
func CreditedLines(tx *DB, invoiceID int64) (map[int64]int64, error) {
	rows := []struct{ ID, Credited int64 }{}
	err := tx.gorm.Raw(`SELECT c.credits_line_id AS id, SUM(c.amount) AS credited FROM invoice_lines c
		JOIN invoice_lines l ON l.id = c.credits_line_id
		WHERE l.invoice_id = ? GROUP BY c.credits_line_id`, invoiceID).Scan(&rows).Error
	credited := map[int64]int64{}
	for _, row := range rows {
		credited[row.ID] = row.Credited
	}
	return credited, err
}

// OpenAdvance is a line of an issued advance invoice, and how much of it has not
// come back on a bill.
type OpenAdvance struct {
	InvoiceLine
	NumberText string
	ClientID   int64 // who paid it
	Left       int64
}

// OpenAdvances reads the advances of engagements that have still to come back, but
// for what a draft takes back itself. CROSS JOIN has SQLite begin at the few advances, not
// at all invoices that were issued.
func OpenAdvances(tx *DB, engagementIDs []int64, butInvoiceID int64) ([]OpenAdvance, error) {
	rows := []OpenAdvance{}
	err := tx.gorm.Raw(`SELECT * FROM (SELECT l.*, i.number_text, i.client_id,
			l.amount + COALESCE((SELECT SUM(b.amount - COALESCE((SELECT SUM(k.amount) FROM invoice_lines k WHERE k.credits_line_id = b.id),
				0))
				FROM invoice_lines b JOIN invoices j ON j.id = b.invoice_id WHERE b.advance_line_id = l.id AND j.state <> 'deleted'
					AND j.id <> @but), 0)
				- COALESCE((SELECT SUM(c.amount) FROM invoice_lines c WHERE c.credits_line_id = l.id), 0) AS left
		FROM invoice_lines l CROSS JOIN invoices i ON i.id = l.invoice_id
		WHERE l.kind = 'advance' AND l.amount > 0 AND l.engagement_id IN @engagements AND i.kind = 'invoice'
			AND i.state IN ('issued', 'part_paid', 'paid')) WHERE left > 0 ORDER BY id`,
		map[string]any{"engagements": many(engagementIDs), "but": butInvoiceID}).Scan(&rows).Error
	return rows, err
}

// LastPosition is the greatest place that a line of an invoice was put at; 0 if
// they stand by engagement and day.
func LastPosition(tx *DB, invoiceID int64) (last int, err error) {
	err = tx.gorm.Raw("SELECT COALESCE(MAX(position), 0) FROM invoice_lines WHERE invoice_id = ?", invoiceID).Scan(&last).Error
	return last, err
}

// MarkOverCap notes that a cap leaves a portion unbilled.
func MarkOverCap(tx *DB, portionID int64) error {
	return tx.gorm.Exec("UPDATE main.portions SET over_cap = TRUE, version = version + 1 WHERE id = ?", portionID).Error
}

// AdvanceUsed reports whether an advance on an invoice has come back on another.
func AdvanceUsed(tx *DB, invoiceID int64) (bool, error) {
	n, err := Count(tx, `SELECT COUNT(*) FROM invoice_lines b JOIN invoice_lines l ON l.id = b.advance_line_id
		JOIN invoices j ON j.id = b.invoice_id
		WHERE l.invoice_id = ? AND j.state <> 'deleted'`, invoiceID)
	return n > 0, err
}

// PortionsOnLine reads the portions on a line of an invoice.
func PortionsOnLine(tx *DB, lineID int64) ([]Portion, error) {
	portions := []Portion{}
	err := tx.gorm.Order("worked_day, id").Find(&portions, "line_id = ?", lineID).Error
	return portions, err
}

// TaxedLines are the lines of recorded work on a draft that are of one engagement, taxed
// as the same and alike.
type TaxedLines struct {
	InvoiceID, ClientID, EngagementID, TaxCodeID int64
	Taxed                                        string // as time, expense or disbursement
	Now                                          int64  // the tax code that they would have
}

const taxedAs = "CASE WHEN p.source = 'time' THEN 'time' WHEN x.valued ->> '$.disbursement' THEN 'disbursement' ELSE 'expense' END"

// TaxedOnDrafts reads how the recorded work on drafts is taxed.
func TaxedOnDrafts(tx *DB, invoiceIDs []int64) ([]TaxedLines, error) {
	rows := []TaxedLines{}
	err := tx.gorm.Raw(`SELECT DISTINCT i.id AS invoice_id, i.client_id, l.engagement_id, l.tax_code_id, `+taxedAs+` AS taxed
		FROM invoices i CROSS JOIN invoice_lines l ON l.invoice_id = i.id CROSS JOIN portions p ON p.line_id = l.id AND NOT p.covered
		LEFT JOIN expenses x ON p.source = 'expense' AND x.id = p.source_id
		WHERE i.id IN ? AND i.kind = 'invoice'`, many(invoiceIDs)).Scan(&rows).Error
	return rows, err
}

// TaxLines gives lines of a draft the tax code that they would have now.
func TaxLines(tx *DB, of *TaxedLines) error {
	return tx.gorm.Exec(`UPDATE main.invoice_lines SET tax_code_id = @now, version = version + 1 WHERE id IN (
		SELECT l.id FROM invoice_lines l CROSS JOIN portions p ON p.line_id = l.id AND NOT p.covered
		LEFT JOIN expenses x ON p.source = 'expense' AND x.id = p.source_id
		WHERE l.invoice_id = @invoice AND l.engagement_id = @engagement AND l.tax_code_id = @was AND `+taxedAs+` = @taxed)`,
		map[string]any{"now": of.Now, "invoice": of.InvoiceID, "engagement": of.EngagementID, "was": of.TaxCodeID, "taxed": of.Taxed}).Error
}

// LatelyByHand reads the last lines by hand on issued invoices of a client in a currency,
// each text once, the latest first.
func LatelyByHand(tx *DB, clientID int64, currency money.Currency) ([]InvoiceLine, error) {
	lines := []InvoiceLine{}
	err := tx.gorm.Raw(`SELECT l.* FROM invoice_lines l WHERE l.id IN (SELECT MAX(l.id) FROM invoices i
			JOIN invoice_lines l ON l.invoice_id = i.id
			WHERE i.client_id = ? AND i.kind = 'invoice' AND i.currency = ? AND i.number IS NOT NULL AND l.kind = 'by_hand'
			GROUP BY l.text ORDER BY MAX(l.id) DESC LIMIT 20)
		ORDER BY l.id DESC`, clientID, currency).Scan(&lines).Error
	return lines, err
}
