// Package drafts is the composing of a bill: how it begins, what is put on and taken off,
// what is decided about the work on it, its lines by hand, fees, advances and choices.
//
// Every act ends by computing the draft anew as a whole (core/draft), so that no order of
// acts leads to other figures. What is on a draft is reserved: it stays work in progress,
// and is billed nowhere else.
//
//	done, err := drafts.AddLine(ctx, a, r, drafts.Edit{ID: 7, Version: 3}, drafts.LineTyped{Text: "Chart", Amount: "21.00"})
package drafts

import (
	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/profile"
	"dorvet/core/schedule"
	core "dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/papers"
	"dorvet/internal/app/profiles"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/store"
)

// KeepItems puts on a new draft what was computed for it: portions, cut where a cap cuts
// them, charges with the time behind them, and advances that come back.
func KeepItems(tx *app.Tx, inv *store.Invoice, d *unbilled.Draft) error {
	words, err := papers.WordsOf(tx.DB, inv)
	if err != nil {
		return err
	}
	lines, portions, charges := make([]store.InvoiceLine, len(d.Lines)), map[int]*store.PortionRow{}, []*store.Charge{}
	for i, line := range d.Lines {
		if line.Back {
			lines[i] = backOf(d.Advances[line.Of], inv, -line.Amount)
			continue
		}
		item := d.Items[line.Of]
		if item.Charge != nil {
			lines[i], charges = chargeLine(inv, item.Charge, words), append(charges, item.Charge)
		} else {
			if line.Amount != item.Portion.Agreed {
				if err := cut(tx, &item.Portion.Portion, line.Amount); err != nil {
					return err
				}
			}
			lines[i], portions[i] = lineOf(item.Portion), item.Portion
		}
		lines[i].TaxCodeID, lines[i].Discount, lines[i].Surcharge = item.TaxCodeID, line.Share.Discount, line.Share.Surcharge
	}
	if err := reserveCharges(tx, charges); err != nil {
		return err
	}
	if err := insertLines(tx, inv, lines); err != nil {
		return err
	}
	on, reserved := []store.PortionRow{}, []store.InvoiceLine{}
	for i := range lines {
		if portions[i] != nil {
			on, reserved = append(on, *portions[i]), append(reserved, lines[i])
		}
	}
	if err := reserveAll(tx, on, reserved); err != nil {
		return err
	}
	covered := map[int64]bool{}
	for _, c := range charges {
		if covered[c.EngagementID] {
			continue
		}
		covered[c.EngagementID] = true
		if err := CoverBy(tx, inv, c.EngagementID); err != nil {
			return err
		}
	}
	return nil
}

// Blank is a draft without lines, with what it takes over from a billing profile: what
// holds for several engagements is their client's.
func Blank(key unbilled.Key, p profile.Profile, upTo, dated day.Day) (*store.Invoice, error) {
	inv := &store.Invoice{
		Kind: invoice.Ordinary, EntityID: key.EntityID, SeriesID: key.SeriesID, ClientID: key.ClientID, Currency: key.Currency,
		State:   invoice.Draft,
		UpToDay: upTo, Dated: dated, TaxDay: dated, Terms: p.Text("terms"), Choices: p.Choices(), Fresh: true,
	}
	terms, err := schedule.ParseTerms(inv.Terms)
	if err != nil {
		return nil, app.InField("terms", err)
	}
	inv.DueDay = terms.Due(inv.Dated)
	return inv, nil
}

// blankFor is a draft outside of any run, of an engagement.
func blankFor(tx *app.Tx, e *store.EngagementRow, upTo, dated day.Day) (*store.Invoice, error) {
	if e.Numbered == 0 {
		return nil, unbilled.WithoutSeries(e)
	}
	p, err := profiles.ProfileOf(tx.DB, &e.Engagement)
	if err != nil {
		return nil, err
	}
	return Blank(new(unbilled.Selection).Group(e), p, upTo, dated)
}

// underFee reports whether work counts against a cap, or is covered by a fee: time
// within the scope of the arrangement is, expenses are not.
func underFee(p *store.PortionRow) bool { return !p.IsExpense() && p.Treatment != core.OutOfScope }

// AddPortions reserves portions of an engagement, each on a line of its own, as far as
// a cap goes. It says how many it put on.
func AddPortions(tx *app.Tx, inv *store.Invoice, portions []store.PortionRow) (int, error) {
	if len(portions) == 0 {
		return 0, nil
	}
	e, err := store.Get[store.Engagement](tx.DB, portions[0].EngagementID)
	if err != nil {
		return 0, err
	}
	if unbilled.IsCapped(e) {
		others, err := store.LinesOf(tx.DB, inv.ID)
		if err != nil {
			return 0, err
		}
		fit, err := underCap(tx, inv, e, portions, others)
		if err != nil {
			return 0, err
		}
		if portions, err = cutAtCaps(tx, portions, fit); err != nil || len(portions) == 0 {
			return 0, err
		}
	}
	p, err := profiles.ProfileOf(tx.DB, e)
	if err != nil {
		return 0, err
	}
	lines, taxed := make([]store.InvoiceLine, len(portions)), map[profiles.Taxed]int64{} // asked once for all lines of a kind
	for i := range portions {
		of := unbilled.TaxedAs(&portions[i])
		if taxed[of] == 0 {
			if taxed[of], err = profiles.TaxCode(tx.DB, p, of); err != nil {
				return 0, err
			}
		}
		lines[i] = lineOf(&portions[i])
		lines[i].TaxCodeID = taxed[of]
	}
	if err := insertLines(tx, inv, lines); err != nil {
		return 0, err
	}
	return len(portions), reserveAll(tx, portions, lines)
}

// reserveAll reserves portions, each on the line at its place.
func reserveAll(tx *app.Tx, portions []store.PortionRow, lines []store.InvoiceLine) error {
	on := make([][2]int64, len(portions))
	for i := range portions {
		on[i] = [2]int64{portions[i].ID, lines[i].ID}
		Concerns(tx, &portions[i])
	}
	reserved, err := store.ReserveAll(tx.DB, on)
	if err == nil && reserved != len(portions) {
		err = app.Refuse(app.Conflict, "Some of these entries are not unbilled any more: load the page again.")
	}
	return err
}

// insertLines adds lines to a draft: at its end, if somebody has put its lines in
// an order.
func insertLines(tx *app.Tx, inv *store.Invoice, lines []store.InvoiceLine) error {
	if len(lines) == 0 {
		return nil
	}
	last := 0
	if !inv.Fresh {
		var err error
		if last, err = store.LastPosition(tx.DB, inv.ID); err != nil {
			return err
		}
	}
	for i := range lines {
		lines[i].InvoiceID, lines[i].Currency, lines[i].Confirmed = inv.ID, inv.Currency, lines[i].Confirmed || lines[i].ChargeID == nil
		if last > 0 {
			lines[i].Position = last + 1 + i
		}
	}
	if err := store.Insert(tx.DB, lines); err != nil {
		return err
	}
	named := map[int64]bool{}
	for _, l := range lines {
		if named[l.EngagementID] {
			continue
		}
		named[l.EngagementID] = true
		if err := store.NameEngagement(tx.DB, inv.ID, l.EngagementID); err != nil {
			return err
		}
	}
	return nil
}

func reserve(tx *app.Tx, p *store.PortionRow, lineID int64, covered bool) error {
	reserved, err := store.Reserve(tx.DB, p.ID, lineID, covered)
	if err != nil {
		return err
	}
	if !reserved {
		return app.Refuse(app.Conflict, "The entry of %s is not unbilled any more: load the page again.", p.WorkedDay.Long())
	}
	Concerns(tx, p)
	return nil
}

// lineOf is the line of a portion.
func lineOf(p *store.PortionRow) store.InvoiceLine {
	line := store.InvoiceLine{EngagementID: p.EngagementID, Kind: invoice.Time, Day: p.WorkedDay, PersonID: &p.PersonID,
		Text: papers.LineText(*p), Minutes: p.Minutes,
		Amount: p.Agreed, Currency: p.Currency, Treatment: p.Treatment, PayerID: p.PayerID}
	if p.IsExpense() {
		line.Kind, line.PersonID = invoice.Expense, nil
		return line
	}
	line.PerHour = ShownRate(p)
	return line
}

// ShownRate is the rate that the client reads on the line of a portion: the one
// that it was valued at, or written to. What no rate explains shows none, as a part
// that a cap cuts.
func ShownRate(p *store.PortionRow) *money.Rate {
	if p.OwnRate != nil {
		amount, err := p.OwnRate.ForMinutes(int64(p.Minutes), 0, p.Currency)
		if err == nil && amount.Minor == p.Agreed {
			return p.OwnRate
		}
		return nil
	}
	if p.Part == 0 && p.Agreed == p.AgreedWhole {
		return p.ValuedAt
	}
	return nil
}

// Concerns links an act to the entry or purchase of a portion.
func Concerns(tx *app.Tx, p *store.PortionRow) {
	if p.IsExpense() {
		tx.LinkTo(app.OfPurchase, p.PurchaseID)
		return
	}
	tx.LinkTo(app.OfEntry, p.SourceID)
}
