package store

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

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

// OtherCurrencies is every currency that is not named.
const OtherCurrencies money.Currency = ""

// InvoiceFilter says which invoices are meant; zero values ask for all.
type InvoiceFilter struct {
	ID        int64
	IDs       []int64
	States    []invoice.State
	ClientID  int64
	ClientIDs []int64
	CreditsID int64 // credit notes of an invoice
	RunID     int64
	LeadID    int64   // of one of its engagements
	OnID      int64   // an engagement that is on it
	Beside    string  // open, late, paid, credited, disputed, credit_note, opening
	Handed    string  // not_yet, queued, failed, out, opened, fetched, unopened
	Today     day.Day // on which late is looked at
	From, To  day.Day // of the invoice date
	// Least is what its total comes to at least, in minor units of each currency; of those that are not
	// named, of [OtherCurrencies].
	Least map[money.Currency]int64
	// Words are all in its number, its client or one of its engagements.
	Words []string
}

const invoiceRows = "SELECT i.*, " + aroundInvoice

const aroundInvoice = `c.name AS client,
	(SELECT GROUP_CONCAT(e.name, ', ') FROM invoice_engagements x JOIN engagements e ON e.id = x.engagement_id
		WHERE x.invoice_id = i.id) AS engagements,
	(SELECT COUNT(*) FROM invoice_lines l WHERE l.invoice_id = i.id) AS entries,
	` + NextDue + " AS next_due " + fromClients

// NextDue is when the oldest instalment of an invoice i is due that is open, or else the last.
const NextDue = `COALESCE(CASE WHEN i.open <> 0 THEN (SELECT MIN(n.due_day) FROM instalments n
	WHERE n.invoice_id = i.id AND n.open <> 0) END, i.due_day)`

const fromClients = "FROM invoices i JOIN clients c ON c.id = i.client_id "

// besides are conditions on an invoice i that has been issued.
var besides = map[string]string{
	"open": "i.open <> 0", "paid": "i.open = 0 AND i.kind <> 'credit_note'", "credited": "i.credited <> 0", "disputed": "i.disputed <> ''",
	"credit_note": "i.kind = 'credit_note'", "opening": "i.kind = 'opening'",
	"late": "EXISTS (SELECT 1 FROM instalments n WHERE n.invoice_id = i.id AND n.open <> 0 AND n.due_day < @today)",
}

// handedAs are the choices of invoices by how far they have come to their clients.
var handedAs = map[string]string{
	"not_yet": "i.handed IN ('', 'failed') AND i.kind <> 'opening'", "queued": "i.handed = 'queued'", "failed": "i.handed = 'failed'",
	"out":    "i.handed IN ('taken', 'arrived', 'posted', 'saved', 'opened', 'fetched')",
	"opened": "i.handed IN ('opened', 'fetched')", "fetched": "i.handed = 'fetched'",
	"unopened": "i.handed IN ('taken', 'arrived')",
	"settled":  "i.handed IN ('taken', 'arrived', 'posted', 'saved', 'opened', 'fetched') AND i.open = 0 AND i.kind <> 'credit_note'",
	"on_paper": `i.handed = 'queued' AND EXISTS (SELECT 1 FROM delivered x JOIN deliveries d ON d.id = x.delivery_id
		WHERE x.invoice_id = i.id AND x.revision = i.revision AND d.state = 'queued' AND d.way <> 'mail')`,
}

// inStates holds for an invoice i in some states. They are written out: only so SQLite sees which index
// has just those.
func inStates(states []invoice.State) string {
	words := make([]string, len(states))
	for at, state := range states {
		words[at] = "'" + string(state) + "'"
	}
	return "i.state IN (" + strings.Join(words, ", ") + ")"
}

// where is what is asked for, as conditions: what is not asked for has none, so that
// the index of what is finds the rows.
func (f InvoiceFilter) where() string {
	words := "WHERE " + inStates(f.States) + ` AND (@all OR EXISTS (SELECT 1 FROM invoice_engagements x
		JOIN engagements e ON e.id = x.engagement_id WHERE x.invoice_id = i.id AND e.lead_id IN @leads)) `
	for _, c := range []struct {
		asked     bool
		condition string
	}{
		{f.ID != 0, "i.id = @id"}, {f.IDs != nil, "i.id IN @ids"}, {f.ClientIDs != nil, "i.client_id IN @clients"},
		{f.ClientID != 0, "i.client_id = @client"},
		{f.CreditsID != 0, "i.credits_id = @credits"}, {f.RunID != 0, "i.run_id = @run"},
		{f.LeadID != 0, `EXISTS (SELECT 1 FROM invoice_engagements x JOIN engagements e ON e.id = x.engagement_id
			WHERE x.invoice_id = i.id AND e.lead_id = @lead)`},
		{f.OnID != 0, "EXISTS (SELECT 1 FROM invoice_engagements x WHERE x.invoice_id = i.id AND x.engagement_id = @on)"},
		{!f.From.IsZero(), "i.dated >= @from"}, {!f.To.IsZero(), "i.dated <= @to"}, {besides[f.Beside] != "", besides[f.Beside]},
		{handedAs[f.Handed] != "", handedAs[f.Handed]},
	} {
		if c.asked {
			words += "AND " + c.condition + " "
		}
	}
	if f.Least != nil {
		words += "AND i.total >= CASE i.currency "
		for _, currency := range slices.Sorted(maps.Keys(f.Least)) {
			if currency != OtherCurrencies {
				words += fmt.Sprintf("WHEN '%s' THEN %d ", currency, f.Least[currency])
			}
		}
		words += fmt.Sprintf("ELSE %d END ", f.Least[OtherCurrencies])
	}
	for at := range f.Words {
		words += strings.ReplaceAll(`AND (i.number_text LIKE @word ESCAPE '\' OR c.name LIKE @word ESCAPE '\'
			OR i.id IN (SELECT x.invoice_id FROM engagements e JOIN invoice_engagements x ON x.engagement_id = e.id
				WHERE e.name LIKE @word ESCAPE '\')) `, "@word", fmt.Sprintf("@word%d", at))
	}
	return words
}

func (f InvoiceFilter) arguments(tx *DB) map[string]any {
	named := tx.scoped(map[string]any{"id": f.ID, "ids": many(f.IDs), "clients": many(f.ClientIDs), "client": f.ClientID,
		"credits": f.CreditsID,
		"run":     f.RunID, "lead": f.LeadID, "on": f.OnID, "from": f.From.String(), "to": f.To.String(), "today": f.Today.String()})
	for at, word := range f.Words {
		named[fmt.Sprintf("word%d", at)] = within(word)
	}
	return named
}

// InvoiceIDs reads the numbers of a page of what is asked for, in an order.
func InvoiceIDs(tx *DB, f InvoiceFilter, order string, offset, limit int) (ids []int64, err error) {
	named := f.arguments(tx)
	named["offset"], named["limit"] = offset, limit
	err = tx.gorm.Raw("SELECT i.id "+fromClients+f.where()+"ORDER BY "+order+" LIMIT @limit OFFSET @offset", named).Scan(&ids).Error
	return ids, err
}

// InvoiceSum is what invoices of a client come to in a currency.
type InvoiceSum struct {
	ClientID              int64
	Client                string
	Currency              money.Currency
	Count                 int
	Net, Tax, Total, Open int64
}

// InvoiceSums adds up what is asked for, by currency and client.
func InvoiceSums(tx *DB, f InvoiceFilter) ([]InvoiceSum, error) {
	sums := []InvoiceSum{}
	err := tx.gorm.Raw(`SELECT i.client_id, c.name AS client, i.currency, COUNT(*) AS count, SUM(i.net) AS net, SUM(i.tax) AS tax,
		SUM(i.total) AS total, SUM(i.open) AS open `+fromClients+f.where()+
		"GROUP BY i.client_id, i.currency ORDER BY i.currency, c.name, i.client_id", f.arguments(tx)).Scan(&sums).Error
	return sums, err
}

// LateInvoices counts those of what is asked for that are late, by client.
func LateInvoices(tx *DB, f InvoiceFilter) (map[int64]int, error) {
	rows := []struct {
		ClientID int64
		Count    int
	}{}
	err := tx.gorm.Raw("SELECT i.client_id, COUNT(*) AS count "+fromClients+f.where()+"AND i.open <> 0 AND "+NextDue+" < @today "+
		"GROUP BY i.client_id", f.arguments(tx)).Scan(&rows).Error
	late := map[int64]int{}
	for _, row := range rows {
		late[row.ClientID] = row.Count
	}
	return late, err
}

// HandedCounts is how many invoices there are of each choice by how far they have come to their clients.
type HandedCounts struct {
	ClientID int64 `json:"-"`
	NotYet   int   `json:"not_yet"`
	Queued   int   `json:"queued"`
	Failed   int   `json:"failed"`
	Out      int   `json:"out"`
	Unopened int   `json:"unopened"`
	Opened   int   `json:"opened"`
	Fetched  int   `json:"fetched"`
	Settled  int   `json:"settled"`
	OnPaper  int   `json:"on_paper"`
}

// Handed counts what is asked for by how far it has come, by client; whichever of it is asked for.
func Handed(tx *DB, f InvoiceFilter) ([]HandedCounts, error) {
	f.Handed = ""
	counts, columns := []HandedCounts{}, ""
	for _, choice := range slices.Sorted(maps.Keys(handedAs)) {
		columns += ", COALESCE(SUM(" + handedAs[choice] + "), 0) AS " + choice
	}
	err := tx.gorm.Raw("SELECT i.client_id"+columns+" "+fromClients+f.where()+"GROUP BY i.client_id", f.arguments(tx)).Scan(&counts).Error
	return counts, err
}

// Invoices reads invoices in an order.
func Invoices(tx *DB, f InvoiceFilter, order string) ([]InvoiceRow, error) {
	rows := []InvoiceRow{}
	err := tx.gorm.Raw(invoiceRows+f.where()+"ORDER BY "+order, f.arguments(tx)).Scan(&rows).Error
	return rows, err
}

// InvoiceHeads reads what lists show of invoices, column by column: a register has tens of
// thousands, for which GORM takes five times as long. What lists don't show is left empty.
func InvoiceHeads(tx *DB, f InvoiceFilter, order string) ([]InvoiceRow, error) {
	found, err := tx.gorm.Raw(`SELECT i.id, i.version, i.kind, i.state, i.number_text, i.client_id, i.currency, i.from_day, i.up_to_day,
		i.dated, i.net, i.tax, i.total, i.open, i.credited, i.written_off, i.disputed, i.reopened,
		i.run_id, i.divided, i.handed, `+aroundInvoice+f.where()+"ORDER BY "+order,
		f.arguments(tx)).Rows()
	if err != nil {
		return nil, err
	}
	defer found.Close()
	rows := []InvoiceRow{}
	for found.Next() {
		r := InvoiceRow{}
		engagements := new(string)
		if err := found.Scan(&r.ID, &r.Version, &r.Kind, &r.State, &r.NumberText, &r.ClientID, &r.Currency, dayInto{&r.FromDay},
			dayInto{&r.UpToDay}, dayInto{&r.Dated}, &r.Net, &r.Tax, &r.Total, &r.Open, &r.Credited, &r.WrittenOff, &r.Disputed, &r.Reopened, &r.RunID,
			&r.Divided, &r.Handed, &r.Client, &engagements, &r.Entries, dayInto{&r.NextDue}); err != nil {
			return nil, err
		}
		if engagements != nil {
			r.Engagements = *engagements
		}
		rows = append(rows, r)
	}
	return rows, found.Err()
}

// EngagementsOf lists the engagements of an invoice.
func EngagementsOf(tx *DB, invoiceID int64) (ids []int64, err error) {
	err = tx.gorm.Raw("SELECT engagement_id FROM invoice_engagements WHERE invoice_id = ?", invoiceID).Scan(&ids).Error
	return ids, err
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

// BilledSum is what issued invoices, less what credit notes took back, come to for an
// engagement, in minor units of its currency.
type BilledSum struct {
	EngagementID int64
	// Net is of all lines: work, expenses, fees, advances, lines by hand, after discount and
	// with surcharge.
	Net int64
	// Fees are what was agreed as a fee, before discount: fixed, recurring and progress fees,
	// and what was typed by hand.
	Fees int64
}

// What an issued line comes to. This is the one place that says what counts as billed.
const (
	netOfLine  = "CASE WHEN i.kind = 'credit_note' THEN l.discount - l.amount - l.surcharge ELSE l.amount - l.discount + l.surcharge END"
	feesOfLine = "CASE WHEN i.kind = 'credit_note' THEN -l.amount ELSE l.amount END"
	isIssued   = "i.state IN ('issued', 'part_paid', 'paid')"
	isFee      = "l.kind IN ('fixed', 'progress', 'recurring', 'by_hand') AND l.treatment <> 'out_of_scope'"
)

// BilledSums reads what is billed of some engagements.
func BilledSums(tx *DB, engagementIDs []int64) (map[int64]BilledSum, error) {
	rows := []BilledSum{}
	err := tx.gorm.Raw("SELECT l.engagement_id, SUM("+netOfLine+") AS net, SUM(CASE WHEN "+isFee+" THEN "+feesOfLine+` ELSE 0 END) AS fees
		FROM invoice_lines l JOIN invoices i ON i.id = l.invoice_id WHERE l.engagement_id IN ? AND `+isIssued+" GROUP BY l.engagement_id",
		many(engagementIDs)).Scan(&rows).Error
	sums := map[int64]BilledSum{}
	for _, row := range rows {
		sums[row.EngagementID] = row
	}
	return sums, err
}

// BilledPart is what of an engagement is billed on one invoice, or credited by one credit note.
type BilledPart struct {
	Number string
	Dated  day.Day `gorm:"serializer:day"`
	Net    int64
}

// BilledByInvoice reads what [BilledSums] adds up of an engagement.
func BilledByInvoice(tx *DB, engagementID int64) ([]BilledPart, error) {
	parts := []BilledPart{}
	err := tx.gorm.Raw("SELECT i.number_text AS number, i.dated, SUM("+netOfLine+`) AS net
		FROM invoice_lines l JOIN invoices i ON i.id = l.invoice_id
		WHERE l.engagement_id = ? AND `+isIssued+" GROUP BY i.id ORDER BY i.dated, i.id", engagementID).Scan(&parts).Error
	return parts, err
}

// ProgressOn sums what of an engagement's fixed fee is billed, or on drafts but for one line:
// what the next progress bill comes after. What was credited as a concession is not billed
// again; what was typed by hand may be beside the fee.
func ProgressOn(tx *DB, engagementID, butLineID int64) (sum int64, err error) {
	err = tx.gorm.Raw("SELECT COALESCE(SUM("+feesOfLine+`), 0) FROM invoice_lines l JOIN invoices i ON i.id = l.invoice_id
		WHERE l.engagement_id = ? AND l.id <> ? AND i.state <> 'deleted' AND (i.kind <> 'credit_note' OR l.again)
			AND l.kind IN ('fixed', 'progress')`, engagementID, butLineID).Scan(&sum).Error
	return sum, err
}

// CoveredStandard sums the standard value of the time that issued fees of an
// engagement cover.
func CoveredStandard(tx *DB, engagementID int64) (sum int64, err error) {
	err = tx.gorm.Raw("SELECT COALESCE(SUM(standard), 0) FROM portions WHERE engagement_id = ? AND billing = 'billed' AND covered AND "+
		"treatment <> 'no_charge'", engagementID).Scan(&sum).Error
	return sum, err
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

// RevisionOf is the newest frozen revision of an invoice, or ErrNotFound.
func RevisionOf(tx *DB, invoiceID int64) (*InvoiceRevision, error) {
	revision := new(InvoiceRevision)
	err := tx.gorm.Order("revision DESC").First(revision, "invoice_id = ?", invoiceID).Error
	return revision, err
}

// OffInvoice takes an engagement off an invoice.
func OffInvoice(tx *DB, invoiceID, engagementID int64) error {
	return tx.gorm.Exec("DELETE FROM main.invoice_engagements WHERE invoice_id = ? AND engagement_id = ?", invoiceID, engagementID).Error
}

// NameEngagement says that an engagement is billed on an invoice.
func NameEngagement(tx *DB, invoiceID, engagementID int64) error {
	return tx.gorm.Exec("INSERT INTO main.invoice_engagements (invoice_id, engagement_id) VALUES (?, ?) ON CONFLICT DO NOTHING", invoiceID,
		engagementID).Error
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

// RevisionsDrawn are the newest revisions whose files a way of drawing made.
func RevisionsDrawn(tx *DB, drawing, most int) ([]InvoiceRevision, error) {
	list := []InvoiceRevision{}
	err := tx.gorm.Order("id DESC").Limit(most).Find(&list, "drawing = ? AND drawing <> 0", drawing).Error
	return list, err
}
