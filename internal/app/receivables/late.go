package receivables

import (
	"context"
	"encoding/json"
	"strconv"

	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/money"
	core "dorvet/core/receivable"
	"dorvet/core/refusal"
	"dorvet/internal/app"
	"dorvet/internal/app/papers"
	"dorvet/internal/store"
)

// LateInvoice is an invoice that is, or was, paid late, and what that has come to.
type LateInvoice struct {
	InvoiceID   int64        `json:"invoiceId"`
	Number      string       `json:"number"`
	ClientID    int64        `json:"clientId"`
	Client      string       `json:"client"`
	Due         day.Day      `json:"due" doc:"of its oldest open instalment, or of the last"`
	DaysLate    int          `json:"daysLate" doc:"0: it is paid"`
	Open        money.Amount `json:"open"`
	Accrued     money.Amount `json:"accrued" doc:"up to today"`
	Before      money.Amount `json:"before" doc:"charged or waived before"`
	Charge      money.Amount `json:"charge" doc:"to be charged now"`
	Explanation explain.Step `json:"explanation"`
	Why         string       `json:"why" doc:"why nothing can be charged; or nothing"`
}

// LateCharge is what was charged for paying late, or waived of it.
type LateCharge struct {
	ID        int64        `json:"id"`
	InvoiceID int64        `json:"invoiceId"`
	Number    string       `json:"number"`
	Client    string       `json:"client"`
	Day       day.Day      `json:"day" doc:"up to which it counts"`
	Amount    money.Amount `json:"amount"`
	State     string       `json:"state" enum:"planned,reserved,billed,waived"`
	OnID      int64        `json:"onId" doc:"the invoice on which it stands; or 0"`
	OnNumber  string       `json:"onNumber"`
	Waived    string       `json:"waived" doc:"why; nothing: it was not"`
}

// LateCharges is what has come to be charged for paying late, and what was.
type LateCharges struct {
	Due     []LateInvoice `json:"due"`
	Charged []LateCharge  `json:"charged" doc:"the latest 500"`
}

// paidLately is for how many days after it came a late payment is still charged for.
const paidLately = 60

// LateNow reads what has come to be charged for paying late up to today, and what was charged.
func LateNow(ctx context.Context, a *app.App, actor app.Actor) (*LateCharges, error) {
	tx := a.Read(ctx, actor)
	found, err := lateInvoices(tx, nil, a.Clock.Today())
	if err != nil {
		return nil, err
	}
	list := &LateCharges{Due: []LateInvoice{}, Charged: []LateCharge{}}
	for i := range found {
		if found[i].view.Charge.Minor > 0 || found[i].view.Why != "" {
			list.Due = append(list.Due, found[i].view)
		}
	}
	charged, err := store.LateCharges(tx, nil)
	for _, c := range charged[:min(len(charged), 500)] {
		list.Charged = append(list.Charged, LateCharge{c.ID, c.InvoiceID, c.NumberText, c.Client, c.Day,
			money.Amount{Minor: c.Amount, Currency: c.Currency}, c.State, c.OnID, c.OnNumber, c.Waived})
	}
	return list, err
}

// lateInvoice is an invoice with what its being late has come to.
type lateInvoice struct {
	row  *store.InvoiceRow
	view LateInvoice
}

// lateInvoices reads those of some clients, or of all (nil), that are or lately were paid late, with what that has come to.
func lateInvoices(tx *store.DB, clientIDs []int64, today day.Day) ([]lateInvoice, error) {
	rows, err := store.PaidLate(tx, clientIDs, today, today.AddDays(-paidLately))
	if err != nil || len(rows) == 0 {
		return nil, err
	}
	l, err := readLate(tx, rows)
	if err != nil {
		return nil, err
	}
	list := make([]lateInvoice, len(rows))
	for i := range rows {
		if list[i], err = l.of(tx, &rows[i], today); err != nil {
			return nil, err
		}
	}
	return list, nil
}

// lateness is what is known of invoices to charge for their being late.
type lateness struct {
	parts  map[int64][]core.LateInstalment // by invoice
	fees   map[int64]int64
	before map[int64]int64
	rates  map[money.Currency][]store.ReferenceRate
	aside  map[int64]int64 // disputed of what is open, by invoice
}

func readLate(tx *store.DB, rows []store.InvoiceRow) (*lateness, error) {
	ids := make([]int64, len(rows))
	l := &lateness{parts: map[int64][]core.LateInstalment{}, before: map[int64]int64{}, aside: map[int64]int64{}}
	for i := range rows {
		ids[i] = rows[i].ID
		if inv := &rows[i]; inv.Disputed != "" {
			if l.aside[inv.ID] = inv.DisputedAmount; inv.DisputedAmount == 0 {
				l.aside[inv.ID] = inv.Open
			}
		}
	}
	changes, err := store.OwedChanges(tx, ids)
	if err != nil {
		return nil, err
	}
	last := int64(0)
	for _, c := range changes {
		of := l.parts[c.InvoiceID]
		if c.InstalmentID != last {
			of, last = append(of, core.LateInstalment{Due: c.DueDay}), c.InstalmentID
		}
		part := &of[len(of)-1]
		open := core.Owed{From: c.Day + 1, Minor: c.Change} // it was open, or missing, until the end of that day
		if n := len(part.Open); n > 0 {
			open.Minor += part.Open[n-1].Minor
		}
		part.Open, l.parts[c.InvoiceID] = append(part.Open, open), of
	}
	if l.fees, err = store.LateFees(tx, ids); err != nil {
		return nil, err
	}
	if l.rates, err = store.ReferenceRates(tx); err != nil {
		return nil, err
	}
	charged, err := store.LateCharges(tx, ids)
	for _, c := range charged {
		l.before[c.InvoiceID] += c.Amount
	}
	return l, err
}

// withoutDisputed takes what is disputed of an invoice now off what was ever open of it, of what is due last first.
func (l *lateness) withoutDisputed(invoiceID int64) []core.LateInstalment {
	aside, parts := l.aside[invoiceID], l.parts[invoiceID]
	if aside == 0 {
		return parts
	}
	open := make([]core.Open, len(parts))
	for i, p := range parts {
		open[i] = core.Open{Due: p.Due, Owed: p.Open[len(p.Open)-1].Minor}
	}
	for i, off := range core.Aside(open, aside) {
		for n := range parts[i].Open {
			parts[i].Open[n].Minor = max(0, parts[i].Open[n].Minor-off)
		}
	}
	return parts
}

// of is what an invoice has come to up to a day.
func (l *lateness) of(tx *store.DB, inv *store.InvoiceRow, today day.Day) (lateInvoice, error) {
	v := LateInvoice{InvoiceID: inv.ID, Number: inv.NumberText, ClientID: inv.ClientID, Client: inv.Client, Due: inv.NextDue,
		Open: inv.Amount(inv.Open), Accrued: inv.Amount(0), Before: inv.Amount(l.before[inv.ID]), Charge: inv.Amount(0)}
	if inv.Open > 0 {
		v.DaysLate = max(0, core.DaysLate(inv.NextDue, today))
	}
	terms, err := termsOf(&inv.Invoice)
	if err != nil {
		return lateInvoice{}, err
	}
	late := core.Late{Terms: terms, Parts: l.withoutDisputed(inv.ID), Currency: inv.Currency}
	for _, r := range l.rates[inv.Currency] {
		late.Rates = append(late.Rates, core.ReferenceRate{From: r.Day, Percent: r.Percent})
	}
	if fees := l.fees[inv.ID]; fees != 0 {
		gross, err := grossOf(tx, &inv.Invoice, fees)
		if err != nil {
			return lateInvoice{}, err
		}
		late.Counts, late.Of = max(0, inv.Total-gross), max(inv.Total, 1)
	}
	accrued, err := late.Accrue(today)
	if refusal.Is(err) {
		v.Why = app.AsConflict(err).Error()
		return lateInvoice{inv, v}, nil
	}
	if err != nil {
		return lateInvoice{}, err
	}
	v.Accrued = accrued.Amount
	v.Charge.Minor = max(0, accrued.Amount.Minor-v.Before.Minor)
	v.Explanation = explain.Step{Label: "Paying " + inv.NumberText + " late", Detail: "up to " + today.Long() + ", rounded once",
		Figure: accrued.Amount.String(), Steps: accrued.Steps}
	return lateInvoice{inv, v}, nil
}

// termsOf are the terms of an invoice for paying it late: those that it was issued with.
func termsOf(inv *store.Invoice) (core.LateTerms, error) {
	c := inv.Choices
	grace, err := strconv.Atoi(c.Text("late_grace"))
	if err != nil {
		return core.LateTerms{}, err
	}
	flat, _, err := c.Amount("late_flat", inv.Currency)
	return core.LateTerms{Monthly: c.Percent("late_percent"), Yearly: c.Percent("late_yearly"), Reference: c.Text("late_reference") == "yes",
		LeapYears: c.Text("late_year") == "calendar", Flat: flat, Grace: grace}, err
}

// grossOf is what late charges on an invoice come to with their tax, from what they are net.
func grossOf(tx *store.DB, inv *store.Invoice, net int64) (int64, error) {
	doc, err := papers.DocumentOf(tx, inv)
	if err != nil {
		return 0, err
	}
	lines, err := store.LinesOf(tx, inv.ID)
	if err != nil {
		return 0, err
	}
	codes, err := store.TaxCodes(tx)
	if err != nil {
		return 0, err
	}
	gross := net
	for _, l := range papers.CoreLines(lines, codes) {
		for _, of := range doc.Totals.Taxes {
			if l.Kind != "late" || of.Code != l.TaxCode || of.Taxable.Minor == 0 {
				continue
			}
			for _, part := range of.Parts {
				tax, err := money.MulDiv(part.Tax.Minor, l.Amount.Minor, of.Taxable.Minor)
				if err != nil {
					return 0, err
				}
				gross += tax
			}
		}
	}
	return gross, nil
}

func asJSON(steps explain.Step) (string, error) {
	text, err := json.Marshal(steps)
	return string(text), err
}
