package issuing

import (
	"encoding/json"

	"dorvet/core/invoice"
	"dorvet/internal/app"
	"dorvet/internal/app/papers"
	"dorvet/internal/store"
)

// issue makes the credit note with its number, lines and document.
func (c *crediting) issue(tx *app.Tx, a *app.App, in Crediting) (*store.Invoice, error) {
	series, err := store.CreditSeries(tx.DB, c.of.EntityID)
	if err != nil {
		return nil, err
	}
	note := *c.of
	note.Row, note.Kind, note.SeriesID, note.Number, note.NumberText, note.Revision, note.CreditsID = store.Row{}, invoice.CreditNote,
		series.ID, nil, "", 0, &c.of.ID
	note.Dated, note.State, note.Open, note.Credited, note.Credit, note.Funds = in.Dated, invoice.Paid, 0, 0, 0, 0
	note.Disputed, note.DisputedAmount, note.Reopened = "", 0, false
	if note.Dated.IsZero() {
		note.Dated = tx.Today
	}
	note.DueDay = note.Dated
	t := c.totals
	note.Lines, note.Net, note.Tax, note.Total, note.Due, note.Withholding = t.Lines.Minor, t.Net.Minor, t.Tax.Minor, t.Total.Minor,
		t.Due.Minor, t.Withholding.Minor
	if t.Total.Minor <= 0 {
		return nil, app.RefuseField("lines", "Nothing would be credited: choose lines, or give amounts.")
	}
	if err := c.dated(tx, &note); err != nil {
		return nil, err
	}
	if err := number(tx, &note); err != nil {
		return nil, err
	}
	if err := c.inFirm(tx, &note); err != nil {
		return nil, err
	}
	if err := store.Insert(tx.DB, &note); err != nil {
		return nil, err
	}
	tx.LinkTo(app.OfInvoice, note.ID)
	if err := c.insert(tx, &note); err != nil {
		return nil, err
	}
	doc, err := papers.ComposeNote(tx.DB, &note, c.of, c.totals, in.Reason)
	if err != nil {
		return nil, err
	}
	why, err := json.Marshal(t.Explain())
	if err != nil {
		return nil, err
	}
	if err := keepRevision(tx, a, &note, doc, why, nil); err != nil {
		return nil, err
	}
	return &note, store.Save(tx.DB, &note)
}

// dated refuses a date of a credit note that breaks the order of its series, or is
// in a closed period.
func (c *crediting) dated(tx *app.Tx, note *store.Invoice) error {
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return err
	}
	switch {
	case note.Dated < c.of.Dated:
		return app.RefuseField("dated", "The invoice is dated %s: date its credit note then or later.", c.of.Dated.Long())
	case note.Dated <= firm.ClosingDay:
		return app.RefuseField("dated", "The period up to %s is closed: date the credit note later.", firm.ClosingDay.Long())
	}
	return inOrder(tx, note)
}

// inFirm values the note at the rate of its invoice, so that what is taken back is
// what was booked.
func (c *crediting) inFirm(tx *app.Tx, note *store.Invoice) error {
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return err
	}
	net, err := c.totals.Net.Convert(note.ExchangeRate, firm.Currency)
	if err != nil {
		return err
	}
	total, err := c.totals.Total.Convert(note.ExchangeRate, firm.Currency)
	note.NetFirm, note.TotalFirm = net.Minor, total.Minor
	return err
}

func (c *crediting) insert(tx *app.Tx, note *store.Invoice) error {
	lines, shares := []store.InvoiceLine{}, []invoice.LineShare{}
	for i, l := range c.lines {
		if c.now[i] == 0 && !c.again[i] {
			continue
		}
		shares = append(shares, c.totals.Shares[i])
		credited := l
		credited.Row, credited.CreditsLineID, credited.Again, credited.Amount = store.Row{}, &c.lines[i].ID, c.again[i], c.now[i]
		credited.Discount, credited.Surcharge = c.totals.Shares[i].Discount, c.totals.Shares[i].Surcharge
		credited.ChargeID, credited.AdvanceLineID, credited.Position, credited.Done = nil, nil, len(lines)+1, nil
		if c.now[i] != l.Amount {
			credited.Minutes, credited.Quantity, credited.UnitPrice, credited.PerHour = 0, nil, nil, nil
		}
		credited.InvoiceID = note.ID
		lines = append(lines, credited)
	}
	c.totals.Shares = shares
	if err := store.Insert(tx.DB, lines); err != nil {
		return err
	}
	for _, l := range lines {
		if err := store.NameEngagement(tx.DB, note.ID, l.EngagementID); err != nil {
			return err
		}
	}
	return nil
}
