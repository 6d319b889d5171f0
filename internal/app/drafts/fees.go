package drafts

import (
	"context"
	"slices"
	"strings"

	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/wording"
	"dorvet/internal/app"
	"dorvet/internal/app/papers"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/store"
)

// Fees are lines that do not follow from entries: charges of a billing plan, and
// progress on a fixed fee. The time behind them is covered: it stands on their line
// without a value of its own.

// putCharges puts charges on a draft, each on a line of its own, and the time
// behind them.
func putCharges(tx *app.Tx, inv *store.Invoice, charges []store.Charge) error {
	words, err := papers.WordsOf(tx.DB, inv)
	if err != nil {
		return err
	}
	for i := range charges {
		c := &charges[i]
		if err := reserveCharges(tx, []*store.Charge{c}); err != nil {
			return err
		}
		if err := insertLines(tx, inv, []store.InvoiceLine{chargeLine(inv, c, words)}); err != nil {
			return err
		}
		if err := CoverBy(tx, inv, c.EngagementID); err != nil {
			return err
		}
	}
	return nil
}

// reserveCharges marks charges as being on a draft.
func reserveCharges(tx *app.Tx, charges []*store.Charge) error {
	for _, c := range charges {
		reserved, err := store.ReserveCharge(tx.DB, c.ID)
		if err != nil {
			return err
		}
		if !reserved {
			return app.Refuse(app.Conflict, "“%s” is on a draft or billed already: load the page again.", c.Text)
		}
	}
	return nil
}

// chargeLine is the line of a charge on an invoice.
func chargeLine(inv *store.Invoice, c *store.Charge, w wording.Words) store.InvoiceLine {
	item := unbilled.OfCharge(c, inv.Dated)
	return store.InvoiceLine{EngagementID: c.EngagementID, Kind: item.Kind, TaxCodeID: c.TaxCodeID, Day: item.Day, Text: ChargeText(c, w),
		Amount:   c.Amount,
		Currency: inv.Currency, Treatment: "billable", ChargeID: &c.ID, Confirmed: !c.Open, PayerID: c.PayerID}
}

// ChargeText is what the client reads of a charge, with the period that it is for.
func ChargeText(c *store.Charge, w wording.Words) string {
	if c.FromDay.IsZero() {
		return c.Text
	}
	return w.Say(wording.Span, "what", c.Text, "from", w.Day(c.FromDay), "to", w.Day(c.ToDay))
}

// breaking lets a text that people go on to change have plain spaces.
var breaking = strings.NewReplacer("\u00a0", " ", "\u202f", " ")

// CoverBy lets the first fee of an engagement on a draft cover the unbilled time
// behind it, up to the draft's cut-off.
func CoverBy(tx *app.Tx, inv *store.Invoice, engagementID int64) error {
	lines, err := store.LinesOf(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	fee := slices.IndexFunc(lines, func(l store.InvoiceLine) bool { return l.EngagementID == engagementID && l.Kind.Covers() })
	if fee < 0 {
		return nil
	}
	behind, err := store.UnbilledPortions(tx.DB, store.UnbilledFilter{UpTo: inv.UpToDay, EngagementIDs: []int64{engagementID},
		Behind: true})
	if err != nil {
		return err
	}
	for i := range behind {
		if behind[i].Hold.Holds(behind[i].HoldUntil, tx.Today) {
			continue
		}
		if err := reserve(tx, &behind[i], lines[fee].ID, true); err != nil {
			return err
		}
	}
	return nil
}

// billedBy is a charge that can stand on an invoice.
func billedBy(tx *app.Tx, inv *store.Invoice, chargeID int64) (*store.Charge, error) {
	charge, err := store.Get[store.Charge](tx.DB, chargeID)
	if err != nil {
		return nil, app.Missing(err, "charge")
	}
	if _, err := engagementFor(tx, inv, charge.EngagementID); err != nil {
		return nil, err
	}
	if charge.Kind == "deposit" {
		return nil, app.Refuse(app.Conflict, "A deposit is requested under Receivables, or invoiced as an advance: it is no line of a bill.")
	}
	return charge, nil
}

// confirm gives the amount of a charge: of one whose price was left open until it
// is billed.
func confirm(tx *app.Tx, inv *store.Invoice, line *store.InvoiceLine, in LineTyped) error {
	charge, err := store.Get[store.Charge](tx.DB, *line.ChargeID)
	if err != nil {
		return err
	}
	if !charge.Open {
		return app.RefuseField("amount", "“%s” was agreed at %s. Add a line by hand for a difference.", charge.Text,
			inv.Amount(charge.Amount))
	}
	line.Confirmed = true
	return price(tx.DB, inv, line, in)
}

// AddProgress bills a part of a fixed fee, as typed: 60% done, or an amount.
func AddProgress(ctx context.Context, a *app.App, r app.Request, e Edit, engagementID int64, typed string) (*Changed, error) {
	input := struct {
		EngagementID int64
		Typed        string
	}{engagementID, typed}
	return Change(ctx, a, r, "bill progress", e, input, func(tx *app.Tx, inv *store.Invoice) error {
		if _, err := engagementFor(tx, inv, engagementID); err != nil {
			return err
		}
		g, err := store.Get[store.Engagement](tx.DB, engagementID)
		if err != nil {
			return err
		}
		lines, err := store.LinesOf(tx.DB, inv.ID)
		if err != nil {
			return err
		}
		line := store.InvoiceLine{EngagementID: g.ID, Kind: invoice.Progress, Day: inv.Dated, Treatment: "billable", Confirmed: true}
		at := slices.IndexFunc(lines, func(l store.InvoiceLine) bool { return l.EngagementID == g.ID && l.Kind == invoice.Progress })
		if at >= 0 {
			line = lines[at]
		}
		p, err := progress(tx.DB, g, line.ID, typed)
		if err != nil {
			return err
		}
		w, err := papers.WordsOf(tx.DB, inv)
		if err != nil {
			return err
		}
		line.Amount, line.Done, line.Text = p.Bill.Minor, &p.Done,
			breaking.Replace(w.Say(wording.PercentDone, "what", g.Name, "percent", w.Percent(p.Done)))
		tx.Describe(nil, p.Bill.String(), "Billed %s of the fee of %s: %s %% done", p.Bill, g.Name, p.Done)
		if at >= 0 {
			return store.Save(tx.DB, &line)
		}
		if line.TaxCodeID, err = unbilled.WorkTax(tx.DB, g); err != nil {
			return err
		}
		if err := insertLines(tx, inv, []store.InvoiceLine{line}); err != nil {
			return err
		}
		return CoverBy(tx, inv, g.ID)
	})
}

// progress reads how much of a fixed fee is billed now.
func progress(tx *store.DB, g *store.Engagement, butLineID int64, typed string) (invoice.Progressed, error) {
	if g.Arrangement != setup.FixedFee || g.Fee == nil {
		return invoice.Progressed{}, app.RefuseField("typed",
			"%s has no fixed fee: set its arrangement and fee first, or add a line by hand.",
			g.Name)
	}
	firm, err := store.TheFirm(tx)
	if err != nil {
		return invoice.Progressed{}, err
	}
	billed, err := store.ProgressOn(tx, g.ID, butLineID)
	if err != nil {
		return invoice.Progressed{}, err
	}
	fee, before := money.Amount{Minor: *g.Fee, Currency: g.Currency}, money.Amount{Minor: billed, Currency: g.Currency}
	if percent, is := strings.CutSuffix(strings.TrimSpace(typed), "%"); is {
		n, err := money.ParseFixed(strings.TrimSpace(percent), firm.Mark(), 4)
		if err != nil {
			return invoice.Progressed{}, app.InField("typed", err)
		}
		p, err := invoice.ByPercent(fee, before, money.Percent(n))
		return p, app.InField("typed", err)
	}
	decimals, err := g.Currency.Decimals()
	if err != nil {
		return invoice.Progressed{}, err
	}
	minor, err := money.ParseFixed(typed, firm.Mark(), decimals)
	if err != nil {
		return invoice.Progressed{}, app.RefuseField("typed", "Write how much is done, like 60%%, or an amount to bill, like 1200.00.")
	}
	p, err := invoice.ByAmount(fee, before, money.Amount{Minor: minor, Currency: g.Currency})
	return p, app.InField("typed", err)
}
