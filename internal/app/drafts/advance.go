package drafts

import (
	"context"

	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// backOf is the line by which an advance comes back.
func backOf(advance store.OpenAdvance, inv *store.Invoice, amount int64) store.InvoiceLine {
	return store.InvoiceLine{EngagementID: advance.EngagementID, Kind: invoice.Advance, TaxCodeID: advance.TaxCodeID, Day: inv.Dated,
		Text: "Less the advance invoiced on " + advance.NumberText, Amount: -amount, Currency: inv.Currency, Treatment: "billable",
		Confirmed: true, AdvanceLineID: &advance.ID}
}

// Recoup puts an advance that is still open on a draft, with all that is left.
func Recoup(ctx context.Context, a *app.App, r app.Request, e Edit, advanceLineID int64) (*Changed, error) {
	return Change(ctx, a, r, "take back an advance", e, advanceLineID, func(tx *app.Tx, inv *store.Invoice) error {
		advance, err := openAdvance(tx, inv, advanceLineID, 0)
		if err != nil {
			return err
		}
		tx.Describe(nil, inv.Amount(advance.Left).String(), "Took back %s of the advance on %s", inv.Amount(advance.Left),
			advance.NumberText)
		return insertLines(tx, inv, []store.InvoiceLine{backOf(*advance, inv, advance.Left)})
	})
}

func openAdvance(tx *app.Tx, inv *store.Invoice, lineID, butInvoiceID int64) (*store.OpenAdvance, error) {
	ids, err := store.EngagementsOf(tx.DB, inv.ID)
	if err != nil {
		return nil, err
	}
	advances, err := store.OpenAdvances(tx.DB, ids, butInvoiceID)
	if err != nil {
		return nil, err
	}
	for i := range advances {
		if advances[i].ID == lineID {
			return &advances[i], nil
		}
	}
	return nil, app.Refuse(app.Conflict, "Nothing is left of this advance, or it is of another engagement: load the page again.")
}

// lessAdvance takes another part of an advance back.
func lessAdvance(tx *app.Tx, inv *store.Invoice, line *store.InvoiceLine, in LineTyped) error {
	advance, err := openAdvance(tx, inv, *line.AdvanceLineID, inv.ID)
	if err != nil {
		return err
	}
	typed := *line
	if err := price(tx.DB, inv, &typed, in); err != nil {
		return err
	}
	if typed.Amount >= 0 || -typed.Amount > advance.Left {
		return app.RefuseField("amount", "Of this advance %s can come back: give an amount from −%s to −%s.", inv.Amount(advance.Left),
			money.Amount{Minor: 1, Currency: inv.Currency}, inv.Amount(advance.Left))
	}
	line.Amount = typed.Amount
	return nil
}

// BeginAdvance begins an advance invoice for a deposit that a proposal agreed: it is
// taxed when issued, and comes back on the final bill.
func BeginAdvance(ctx context.Context, a *app.App, r app.Request, chargeID int64) (*Changed, error) {
	return app.Do(ctx, a, r, "begin advance invoice", chargeID, func(tx *app.Tx) (*Changed, error) {
		charge, err := store.Get[store.Charge](tx.DB, chargeID)
		if err := app.Unless(err, app.Missing(store.ErrNotFound, "deposit"), func() bool { return charge.Kind == "deposit" }); err != nil {
			return nil, err
		}
		b := Beginning{EngagementID: charge.EngagementID, Take: "nothing", UpTo: tx.Today, Dated: tx.Today}
		engagements, err := engagementsFor(tx, &b)
		if err != nil {
			return nil, err
		}
		reserved, err := store.ReserveCharge(tx.DB, charge.ID)
		if err == nil && !reserved {
			err = app.Refuse(app.Conflict, "This deposit is asked for already, or on a draft.")
		}
		if err != nil {
			return nil, err
		}
		inv, err := blankFor(tx, &engagements[0], tx.Today, tx.Today)
		if err != nil {
			return nil, err
		}
		if err := store.Insert(tx.DB, inv); err != nil {
			return nil, err
		}
		line := store.InvoiceLine{EngagementID: charge.EngagementID, Kind: invoice.Advance, TaxCodeID: charge.TaxCodeID, Day: inv.Dated,
			Text: charge.Text, Amount: charge.Amount,
			Treatment: "billable", ChargeID: &charge.ID, Confirmed: true}
		if err := insertLines(tx, inv, []store.InvoiceLine{line}); err != nil {
			return nil, err
		}
		tx.LinkTo(app.OfInvoice, inv.ID)
		tx.Describe(nil, inv.Amount(charge.Amount).String(), "Began an advance invoice for “%s”", charge.Text)
		firm, err := store.TheFirm(tx.DB)
		if err != nil {
			return nil, err
		}
		if err := Recompute(tx, firm, inv); err != nil {
			return nil, err
		}
		return ChangedBy(tx, inv), nil
	})
}
