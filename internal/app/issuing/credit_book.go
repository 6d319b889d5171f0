package issuing

import (
	"dorvet/core/invoice"
	core "dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/ledger"
	"dorvet/internal/app/wip"
	"dorvet/internal/store"
)

// post posts the note: revenue and tax fall, the client has credit, of which as
// much as is owed settles the invoice; what is billed again is unbilled.
func (c *crediting) post(tx *app.Tx, note *store.Invoice) error {
	p, err := ledger.NewPosting(tx, note)
	if err != nil {
		return err
	}
	advance := int64(0)
	for i, l := range c.lines {
		if l.Kind == invoice.Advance {
			advance += c.now[i]
		}
	}
	t := c.totals
	post := func(kind, from, to string, minor, firm int64) {
		tx.Post(p.Movement(kind, from, to, minor, firm))
	}
	advanceFirm, withheldFirm := p.InFirm(advance), p.InFirm(t.Withholding.Minor)
	post("credited_net", app.Issued, app.Revenue, t.Net.Minor-advance, note.NetFirm-advanceFirm)
	post("credited_advance", app.Issued, app.Advances, advance, advanceFirm)
	post("credited_tax", app.Issued, app.TaxPayable, t.Tax.Minor, note.TotalFirm-note.NetFirm)
	post("credited_withheld", app.Withheld, app.Issued, t.Withholding.Minor, withheldFirm)
	post("credit", app.Credit, app.Issued, t.Due.Minor, note.TotalFirm-withheldFirm)
	if p.Err != nil {
		return p.Err
	}
	for i := range c.lines {
		if !c.again[i] {
			continue
		}
		if err := c.billAgain(tx, note, i); err != nil {
			return err
		}
	}
	c.of.Credited += t.Total.Minor
	if settles := min(t.Due.Minor, c.of.Open); settles > 0 {
		err = ledger.Settle(tx, c.of, settles, ledger.Settlement{Kind: "credit_note", Bucket: app.Credit, Day: note.Dated})
	} else {
		err = store.Save(tx.DB, c.of)
	}
	if err != nil {
		return err
	}
	return drafts.Refresh(tx, c.of.Account())
}

// billAgain makes the work behind a credited line unbilled; of a line that is
// credited in part, so much of it.
func (c *crediting) billAgain(tx *app.Tx, note *store.Invoice, i int) error {
	line := &c.lines[i]
	portions, err := store.PortionsOnLine(tx.DB, line.ID)
	if err != nil {
		return err
	}
	left := c.now[i]
	whole := left == line.Amount || line.Kind.Covers() && left == 0
	if line.Kind.Covers() && !whole {
		return nil // the fee that is left covers the time
	}
	for n := range portions {
		p := &portions[n]
		if !whole && p.Agreed > left {
			first, rest, err := p.Piece().Cut(p.Agreed - left)
			if err != nil {
				return err
			}
			if p, err = wip.Divide(tx, p, first, rest); err != nil {
				return err
			}
		}
		left -= p.Agreed
		if err := giveBack(tx, note, p); err != nil {
			return err
		}
		if !whole && left <= 0 {
			break
		}
	}
	if line.ChargeID != nil && whole {
		return store.PlanCharge(tx.DB, *line.ChargeID)
	}
	return nil
}

func giveBack(tx *app.Tx, note *store.Invoice, p *store.Portion) (err error) {
	from := p.Bucket()
	if p.Billing, err = p.Billing.After(core.BillAgain); err != nil {
		return app.AsConflict(err)
	}
	p.Covered, p.LineID = false, nil
	tx.Move("credited to bill again", note.Dated, *p, from, p.Bucket(), &note.ID)
	if p.Source == "time" {
		tx.LinkTo(app.OfEntry, p.SourceID)
	}
	if err := store.Save(tx.DB, p); err != nil {
		return err
	}
	return wip.Join(tx, p)
}
