package store

import (
	"encoding/json"
	"math"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/wip"
)

// InvoiceRow is an invoice with its client and engagements in words, and the day on
// which the oldest of it that is open was due, or the last of it.
type InvoiceRow struct {
	Invoice
	Client      string
	Engagements string
	Entries     int
	NextDue     day.Day `gorm:"serializer:day"`
}

// A plus before a column keeps SQLite from walking the index of what is open for
// every invoice: those of one invoice are few.

// InvoiceFilter says which invoices are meant; zero values ask for all.
type InvoiceFilter struct {
	ID        int64
	IDs       []int64
	States    []invoice.State
	ClientID  int64
	CreditsID int64 // credit notes of an invoice
	RunID     int64
	Beside    string  // open, late, paid, credited, disputed, credit_note, opening
	Today     day.Day // on which late is looked at
	From, To  day.Day // of the invoice date
}

const invoiceRows = `SELECT i.*, c.name AS client,
	(SELECT GROUP_CONCAT(e.name, ', ') FROM invoice_engagements x JOIN engagements e ON e.id = x.engagement_id
		WHERE x.invoice_id = i.id) AS engagements,
	(SELECT COUNT(*) FROM invoice_lines l WHERE l.invoice_id = i.id) AS entries,
	COALESCE((SELECT MIN(n.due_day) FROM instalments n WHERE n.invoice_id = i.id AND +n.open <> 0), i.due_day) AS next_due
	FROM invoices i JOIN clients c ON c.id = i.client_id
	WHERE i.state IN @states AND (@all OR EXISTS (SELECT 1 FROM invoice_engagements x JOIN engagements e ON e.id = x.engagement_id
		WHERE x.invoice_id = i.id AND e.lead_id IN @leads)) `

// besides are conditions on an invoice i that has been issued.
var besides = map[string]string{
	"open": "i.open <> 0", "paid": "i.open = 0 AND i.kind <> 'credit_note'", "credited": "i.credited <> 0", "disputed": "i.disputed <> ''",
	"credit_note": "i.kind = 'credit_note'", "opening": "i.kind = 'opening'",
	"late": "EXISTS (SELECT 1 FROM instalments n WHERE n.invoice_id = i.id AND n.open <> 0 AND n.due_day < @today)",
}

// where is what is asked for, as conditions: what is not asked for has none, so that
// the index of what is finds the rows.
func (f InvoiceFilter) where() string {
	words := ""
	for _, c := range []struct {
		asked     bool
		condition string
	}{
		{f.ID != 0, "i.id = @id"}, {f.IDs != nil, "i.id IN @ids"}, {f.ClientID != 0, "i.client_id = @client"},
		{f.CreditsID != 0, "i.credits_id = @credits"}, {f.RunID != 0, "i.run_id = @run"},
		{!f.From.IsZero(), "i.dated >= @from"}, {!f.To.IsZero(), "i.dated <= @to"}, {besides[f.Beside] != "", besides[f.Beside]},
	} {
		if c.asked {
			words += "AND " + c.condition + " "
		}
	}
	return words
}

func (f InvoiceFilter) arguments(tx *DB) map[string]any {
	return tx.scoped(map[string]any{"id": f.ID, "ids": many(f.IDs), "states": f.States, "client": f.ClientID, "credits": f.CreditsID,
		"run": f.RunID, "from": f.From.String(), "to": f.To.String(), "today": f.Today.String()})
}

// Invoices reads invoices in an order.
func Invoices(tx *DB, f InvoiceFilter, order string) ([]InvoiceRow, error) {
	rows := []InvoiceRow{}
	err := tx.gorm.Raw(invoiceRows+f.where()+"ORDER BY "+order, f.arguments(tx)).Scan(&rows).Error
	return rows, err
}

// EngagementsOf lists the engagements of an invoice.
func EngagementsOf(tx *DB, invoiceID int64) (ids []int64, err error) {
	err = tx.gorm.Raw("SELECT engagement_id FROM invoice_engagements WHERE invoice_id = ?", invoiceID).Scan(&ids).Error
	return ids, err
}

// LinesOf reads the lines of an invoice in their order: as somebody put them, else
// by engagement and day.
func LinesOf(tx *DB, invoiceID int64) ([]InvoiceLine, error) {
	found, err := tx.gorm.Raw(`SELECT id, version, invoice_id, engagement_id, kind, tax_code_id, day, person_id, text, minutes, per_hour,
		amount, currency, treatment, position, quantity, unit, unit_price,
		charge_id, done, confirmed, credits_line_id, again, advance_line_id, discount FROM invoice_lines WHERE invoice_id = ?
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
			&l.AdvanceLineID,
			&l.Discount); err != nil {
			return nil, err
		}
		lines = append(lines, l)
	}
	return lines, found.Err()
}

// AmountsOf reads of the lines of an invoice, in their order, what they come to: where
// they stand, the kind, the tax code, the amount and the discount that was computed last.
func AmountsOf(tx *DB, invoiceID int64) ([]InvoiceLine, error) {
	found, err := tx.gorm.Raw(`SELECT id, engagement_id, kind, tax_code_id, day, position, amount, currency, discount, advance_line_id
		FROM invoice_lines WHERE invoice_id = ? ORDER BY position, engagement_id, day, id`, invoiceID).Rows()
	if err != nil {
		return nil, err
	}
	defer found.Close()
	lines := []InvoiceLine{}
	for found.Next() {
		l := InvoiceLine{}
		if err := found.Scan(&l.ID, &l.EngagementID, &l.Kind, &l.TaxCodeID, dayInto{&l.Day}, &l.Position, &l.Amount, &l.Currency,
			&l.Discount,
			&l.AdvanceLineID); err != nil {
			return nil, err
		}
		lines = append(lines, l)
	}
	return lines, found.Err()
}

// FeesOn sums, by engagement, the fees within scope that are billed of some, or on drafts
// but for one, after their discount, less what is credited to be billed again: what a cap
// covers.
func FeesOn(tx *DB, engagementIDs []int64, butInvoiceID int64) (map[int64]int64, error) {
	rows := []struct{ EngagementID, Sum int64 }{}
	err := tx.gorm.Raw("SELECT l.engagement_id, SUM("+feeOfLine+`) AS sum FROM invoice_lines l JOIN invoices i ON i.id = l.invoice_id
		WHERE l.engagement_id IN ? AND i.id <> ? AND `+countsToCap+" GROUP BY l.engagement_id", many(engagementIDs),
		butInvoiceID).Scan(&rows).Error
	sums := map[int64]int64{}
	for _, row := range rows {
		sums[row.EngagementID] = row.Sum
	}
	return sums, err
}

// What a cap covers: the lines that count, and what one comes to.
const (
	feeOfLine   = "CASE WHEN i.kind = 'credit_note' THEN l.discount - l.amount ELSE l.amount - l.discount END"
	countsToCap = "l.kind NOT IN ('expense', 'advance') AND l.treatment <> 'out_of_scope' AND i.state <> 'deleted' AND (i.kind <> " +
		"'credit_note' OR l.again)"
)

// SetAmount gives a line another amount.
func SetAmount(tx *DB, lineID, minor int64) error {
	return tx.gorm.Exec("UPDATE main.invoice_lines SET amount = ?, version = version + 1 WHERE id = ?", minor, lineID).Error
}

// DropLine takes a line off that bills no work and no charge.
func DropLine(tx *DB, lineID int64) error {
	return tx.gorm.Delete(&InvoiceLine{}, "id = ?", lineID).Error
}

// SetDiscounts keeps what of a discount is on lines, by their numbers.
func SetDiscounts(tx *DB, shares map[int64]int64) error {
	for id, minor := range shares {
		if err := tx.gorm.Exec("UPDATE main.invoice_lines SET discount = ? WHERE id = ?", minor, id).Error; err != nil {
			return err
		}
	}
	return nil
}

// ProgressOn sums what of an engagement's fixed fee is billed, or on drafts but
// for one line.
func ProgressOn(tx *DB, engagementID, butLineID int64) (int64, error) {
	return feesOf(tx, engagementID, butLineID, "l.kind IN ('fixed', 'progress')")
}

// FeesBilled sums the fees of an engagement that are on issued invoices and cover
// time.
func FeesBilled(tx *DB, engagementID int64) (int64, error) {
	return feesOf(tx, engagementID, 0, "l.kind IN ('fixed', 'progress', 'recurring') AND i.state IN ('issued', 'part_paid', 'paid')")
}

func feesOf(tx *DB, engagementID, butLineID int64, which string) (sum int64, err error) {
	err = tx.gorm.Raw(`SELECT COALESCE(SUM(CASE WHEN i.kind = 'credit_note' THEN -l.amount ELSE l.amount END), 0) FROM invoice_lines l
		JOIN invoices i ON i.id = l.invoice_id
		WHERE l.engagement_id = ? AND l.id <> ? AND i.state <> 'deleted' AND (i.kind <> 'credit_note' OR l.again)
			AND `+which, engagementID, butLineID).Scan(&sum).Error
	return sum, err
}

// CoveredStandard sums the standard value of the time that issued fees of an
// engagement cover.
func CoveredStandard(tx *DB, engagementID int64) (sum int64, err error) {
	err = tx.gorm.Raw("SELECT COALESCE(SUM(standard), 0) FROM portions WHERE engagement_id = ? AND billing = 'billed' AND covered AND "+
		"treatment <> 'no_charge'", engagementID).Scan(&sum).Error
	return sum, err
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

// DropIdle forgets the engagements of an invoice of which nothing is left on it.
func DropIdle(tx *DB, invoiceID int64) error {
	return tx.gorm.Exec(`DELETE FROM main.invoice_engagements WHERE invoice_id = @invoice
		AND engagement_id NOT IN (SELECT engagement_id FROM invoice_lines
			WHERE invoice_id = @invoice)`, map[string]any{"invoice": invoiceID}).Error
}

// Billed marks all portions and charges on an invoice as billed, or, of one that
// is reopened, as reserved again.
func Billed(tx *DB, invoiceID int64, billed wip.Billing) error {
	err := tx.gorm.Exec(`UPDATE main.portions SET billing = ?, version = version + 1
		WHERE line_id IN (SELECT id FROM invoice_lines WHERE invoice_id = ?)`, billed, invoiceID).Error
	if err != nil {
		return err
	}
	return tx.gorm.Exec("UPDATE main.charges SET state = ?, version = version + 1 WHERE id IN (SELECT charge_id FROM invoice_lines "+
		"WHERE invoice_id = ?)", billed, invoiceID).Error
}

// DueCharges reads the charges of engagements (nil: of all) that are planned,
// automatic, and to be billed on a day or before it.
func DueCharges(tx *DB, engagementIDs []int64, upTo day.Day) ([]Charge, error) {
	charges := []Charge{}
	q := tx.gorm.Where(`state = 'planned' AND kind <> 'deposit' AND NOT by_hand AND NOT paused
		AND (bill_day <> '' AND bill_day <= ? OR reached_day <> '' AND reached_day <= ?)`, upTo.String(), upTo.String())
	if engagementIDs != nil {
		q = q.Where("engagement_id IN ?", many(engagementIDs))
	}
	err := q.Order("engagement_id, bill_day, id").Find(&charges).Error
	return charges, err
}

// PlannedCharges reads every charge of engagements that is not billed or on a draft.
func PlannedCharges(tx *DB, engagementIDs []int64) ([]Charge, error) {
	charges := []Charge{}
	err := tx.gorm.Order("CASE WHEN bill_day = '' THEN 1 ELSE 0 END, bill_day, id").Find(&charges,
		"engagement_id IN ? AND state = 'planned'",
		many(engagementIDs)).Error
	return charges, err
}

// ReserveCharge marks a planned charge as on a draft; false says that it is not
// planned any more.
func ReserveCharge(tx *DB, id int64) (bool, error) {
	result := tx.gorm.Exec("UPDATE main.charges SET state = 'reserved', version = version + 1 WHERE id = ? AND state = 'planned'", id)
	return result.RowsAffected == 1, result.Error
}

// NeighbourDates are the dates of the numbers before and after one of a series;
// no day where there is none. A number of 0 is the next one.
func NeighbourDates(tx *DB, seriesID, number int64) (before, after day.Day, err error) {
	row := struct {
		Before day.Day `gorm:"serializer:day"`
		After  day.Day `gorm:"serializer:day"`
	}{}
	if number == 0 {
		number = math.MaxInt64
	}
	err = tx.gorm.Raw(`SELECT COALESCE((SELECT dated FROM invoices WHERE series_id = @series AND number < @number
		AND state IN ('issued', 'part_paid', 'paid') ORDER BY number DESC LIMIT 1), '') AS before,
			COALESCE((SELECT dated FROM invoices WHERE series_id = @series AND number > @number AND state IN ('issued', 'part_paid', 'paid')
				ORDER BY number LIMIT 1), '') AS after`,
		map[string]any{"series": seriesID, "number": number}).Scan(&row).Error
	return row.Before, row.After, err
}

// InstalmentsOf reads the instalments of an invoice's newest revision, in their
// order.
func InstalmentsOf(tx *DB, invoiceID int64) ([]Instalment, error) {
	rows := []Instalment{}
	err := tx.gorm.Order("position").Find(&rows, "invoice_id = ? AND revision = (SELECT revision FROM invoices WHERE id = ?)", invoiceID,
		invoiceID).Error
	return rows, err
}

// SetOpen notes what is still owed of an instalment.
func SetOpen(tx *DB, instalmentID, open int64) error {
	return tx.gorm.Exec("UPDATE main.instalments SET open = ? WHERE id = ?", open, instalmentID).Error
}

// CreditNotesOf reads the credit notes of an invoice, oldest first.
func CreditNotesOf(tx *DB, invoiceID int64) ([]Invoice, error) {
	notes := []Invoice{}
	err := tx.gorm.Order("id").Find(&notes, "credits_id = ? AND state <> 'deleted'", invoiceID).Error
	return notes, err
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
	Left       int64
}

// OpenAdvances reads the advances of engagements that have still to come back, but
// for what a draft takes back itself. CROSS JOIN has SQLite begin at the few advances, not
// at all invoices that were issued.
func OpenAdvances(tx *DB, engagementIDs []int64, butInvoiceID int64) ([]OpenAdvance, error) {
	rows := []OpenAdvance{}
	err := tx.gorm.Raw(`SELECT * FROM (SELECT l.*, i.number_text,
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

// RevisionOf is the newest frozen revision of an invoice, or ErrNotFound.
func RevisionOf(tx *DB, invoiceID int64) (*InvoiceRevision, error) {
	revision := new(InvoiceRevision)
	err := tx.gorm.Order("revision DESC").First(revision, "invoice_id = ?", invoiceID).Error
	return revision, err
}

// Receivable is what is owed on an instalment, from the money ledger.
type Receivable struct {
	DueDay     day.Day `gorm:"serializer:day"`
	Currency   money.Currency
	Open       int64
	FirmAmount int64
}

// Receivables reads what is open of each instalment that may be seen.
func Receivables(tx *DB) ([]Receivable, error) {
	rows := []Receivable{}
	err := tx.gorm.Raw(`SELECT n.due_day, m.currency,
			SUM(CASE WHEN m.to_bucket = 'receivable' THEN m.amount ELSE -m.amount END) AS open,
			SUM(CASE WHEN m.to_bucket = 'receivable' THEN m.firm_amount ELSE -m.firm_amount END) AS firm_amount
		FROM money_movements m JOIN instalments n ON n.id = m.instalment_id
		WHERE 'receivable' IN (m.to_bucket, m.from_bucket) GROUP BY n.id, n.due_day, m.currency
		HAVING open <> 0`).Scan(&rows).Error
	return rows, err
}

// LastPosition is the greatest place that a line of an invoice was put at; 0 if
// they stand by engagement and day.
func LastPosition(tx *DB, invoiceID int64) (last int, err error) {
	err = tx.gorm.Raw("SELECT COALESCE(MAX(position), 0) FROM invoice_lines WHERE invoice_id = ?", invoiceID).Scan(&last).Error
	return last, err
}

// NameEngagement says that an engagement is billed on an invoice.
func NameEngagement(tx *DB, invoiceID, engagementID int64) error {
	return tx.gorm.Exec("INSERT INTO main.invoice_engagements (invoice_id, engagement_id) VALUES (?, ?) ON CONFLICT DO NOTHING", invoiceID,
		engagementID).Error
}

// Forget removes a draft that was begun and came to nothing, in the same act.
func Forget(tx *DB, inv *Invoice) error {
	if err := tx.gorm.Exec("DELETE FROM main.invoice_engagements WHERE invoice_id = ?", inv.ID).Error; err != nil {
		return err
	}
	return tx.gorm.Delete(inv).Error
}

// MarkOverCap notes that a cap leaves a portion unbilled.
func MarkOverCap(tx *DB, portionID int64) error {
	return tx.gorm.Exec("UPDATE main.portions SET over_cap = TRUE, version = version + 1 WHERE id = ?", portionID).Error
}

// PlanLines reads the lines that were agreed for engagements, by engagement.
func PlanLines(tx *DB, engagementIDs []int64) (map[int64][]PlanLine, error) {
	lines, of := []PlanLine{}, map[int64][]PlanLine{}
	err := tx.gorm.Order("position").Find(&lines, "engagement_id IN ?", many(engagementIDs)).Error
	for _, l := range lines {
		of[l.EngagementID] = append(of[l.EngagementID], l)
	}
	return of, err
}

// RecurringCharges reads the recurring charges of engagements, in any state, by
// engagement.
func RecurringCharges(tx *DB, engagementIDs []int64) (map[int64][]Charge, error) {
	charges, of := []Charge{}, map[int64][]Charge{}
	err := tx.gorm.Order("from_day, id").Find(&charges, "engagement_id IN ? AND kind = 'recurring'", many(engagementIDs)).Error
	for _, c := range charges {
		of[c.EngagementID] = append(of[c.EngagementID], c)
	}
	return of, err
}

// GoingOn reads the engagements whose charges can go on without an end: active
// ones with a recurring fee, or lines that were agreed. Nil asks for all.
func GoingOn(tx *DB, engagementIDs []int64) ([]Engagement, error) {
	rows := []Engagement{}
	q := tx.gorm.Where("active AND (arrangement = 'recurring' OR proposal_id IS NOT NULL)")
	if engagementIDs != nil {
		q = q.Where("id IN ?", many(engagementIDs))
	}
	err := q.Order("id").Find(&rows).Error
	return rows, err
}

// AdvanceUsed reports whether an advance on an invoice has come back on another.
func AdvanceUsed(tx *DB, invoiceID int64) (bool, error) {
	n, err := Count(tx, `SELECT COUNT(*) FROM invoice_lines b JOIN invoice_lines l ON l.id = b.advance_line_id
		JOIN invoices j ON j.id = b.invoice_id
		WHERE l.invoice_id = ? AND j.state <> 'deleted'`, invoiceID)
	return n > 0, err
}

// CloseInstalments says that nothing is owed on an invoice's instalments any more.
func CloseInstalments(tx *DB, invoiceID int64) error {
	return tx.gorm.Exec("UPDATE main.instalments SET open = 0 WHERE invoice_id = ?", invoiceID).Error
}

// CreditSeries is the series in which an issuing entity numbers credit notes; it is
// made with the first of them.
func CreditSeries(tx *DB, entityID int64) (*Series, error) {
	series := []Series{}
	if err := tx.gorm.Order("id").Limit(1).Find(&series, "entity_id = ? AND kind = 'credit_note'", entityID).Error; err != nil {
		return nil, err
	}
	if len(series) > 0 {
		return &series[0], nil
	}
	first := &Series{EntityID: entityID, Kind: "credit_note", Prefix: "CN", FirstNumber: 1, NextNumber: 1}
	return first, Insert(tx, first)
}

// PortionsOnLine reads the portions on a line of an invoice.
func PortionsOnLine(tx *DB, lineID int64) ([]Portion, error) {
	portions := []Portion{}
	err := tx.gorm.Order("worked_day, id").Find(&portions, "line_id = ?", lineID).Error
	return portions, err
}

// PlanCharge makes a charge planned again.
func PlanCharge(tx *DB, id int64) error {
	return tx.gorm.Exec("UPDATE main.charges SET state = 'planned', version = version + 1 WHERE id = ?", id).Error
}

// RevisionsDrawn are the newest revisions whose files a way of drawing made.
func RevisionsDrawn(tx *DB, drawing, most int) ([]InvoiceRevision, error) {
	list := []InvoiceRevision{}
	err := tx.gorm.Order("id DESC").Limit(most).Find(&list, "drawing = ? AND drawing <> 0", drawing).Error
	return list, err
}
