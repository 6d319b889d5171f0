package delivery

import (
	"slices"

	core "dorvet/core/delivery"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/wording"
	"dorvet/internal/app"
	"dorvet/internal/app/ledger"
	"dorvet/internal/store"
)

// addMoney adds what is to be paid and when, and what happened.
func (g *guest) addMoney(a *app.App, tx *store.DB, p *InvoicePage, doc *invoice.Document, on day.Day) error {
	inv, w, next := &g.invoice.Invoice, doc.Words(), invoice.Instalment{}
	if inv.Open > 0 {
		p.Open = w.Money(inv.Amount(inv.Open))
	}
	if inv.State.IsDraft() && inv.Revision == 0 { // as it would be owed
		p.wouldBeOwed(doc, on)
		return nil
	}
	parts, err := store.InstalmentsOf(tx, inv.ID)
	if err != nil {
		return err
	}
	for _, part := range parts {
		shown := InvoicePagePart{Due: w.Day(part.DueDay), Amount: w.Money(inv.Amount(part.Amount))}
		if part.Open != 0 {
			shown.Open, shown.Late = w.Money(inv.Amount(part.Open)), part.DueDay < on
			if next.Amount.IsZero() {
				next = invoice.Instalment{Due: part.DueDay, Amount: inv.Amount(part.Open)}
			}
		}
		p.Late = p.Late || shown.Late
		p.Instalments = append(p.Instalments, shown)
	}
	if err := p.addCode(a, doc, next); err != nil {
		return err
	}
	return g.addHistory(tx, p, w)
}

// wouldBeOwed says of a draft what would be to pay and when, were it issued now.
func (p *InvoicePage) wouldBeOwed(doc *invoice.Document, on day.Day) {
	w := doc.Words()
	for _, part := range doc.Payable {
		amount := w.Money(part.Amount)
		p.Instalments = append(p.Instalments, InvoicePagePart{Due: w.Day(part.Due), Amount: amount, Open: amount, Late: part.Due < on})
		p.Late = p.Late || part.Due < on
	}
	if !doc.Totals.Due.IsZero() {
		p.Open = w.Money(doc.Totals.Due)
	}
}

// addCode adds the code by which what is due next is paid: on paper it is for the first instalment, here for
// what is still open of them.
func (p *InvoicePage) addCode(a *app.App, doc *invoice.Document, next invoice.Instalment) error {
	now := *doc
	now.Payable = []invoice.Instalment{next}
	text := now.TransferCode()
	if p.Printed.Code == "" || a.Code == nil || text == "" {
		return nil
	}
	picture, err := a.Code(text)
	p.Code = asURL(picture)
	return err
}

func (g *guest) addHistory(tx *store.DB, p *InvoicePage, w wording.Words) error {
	type event struct {
		on   day.Day
		what InvoiceEvent
	}
	inv, events := &g.invoice.Invoice, []event{}
	add := func(on day.Day, what InvoiceEvent) {
		what.Day = w.Day(on)
		events = append(events, event{on, what})
	}
	if inv.State.IsIssued() {
		add(inv.Dated, InvoiceEvent{What: "issued"})
	}
	deliveries, err := store.DeliveriesOf(tx, inv.ID)
	if err != nil {
		return err
	}
	for _, d := range slices.Backward(deliveries) {
		switch {
		case !d.State.IsOut() || d.Day.IsZero() || d.State == core.Saved || d.Kind != core.Invoice && d.Kind != core.CreditNote:
		case d.Way == core.Mail:
			add(d.Day, InvoiceEvent{What: "sent"})
		default:
			add(d.Day, InvoiceEvent{What: "posted"})
		}
	}
	movements, err := store.MoneyOf(tx, inv.ID)
	if err != nil {
		return err
	}
	for _, line := range ledger.Settled(movements) {
		add(line.Day, InvoiceEvent{What: line.Kind, Amount: w.Money(line.Amount)})
	}
	slices.SortStableFunc(events, func(a, b event) int { return int(a.on - b.on) })
	for _, e := range events {
		p.History = append(p.History, e.what)
	}
	return nil
}
