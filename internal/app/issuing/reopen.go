package issuing

import (
	"context"

	"dorvet/core/delivery"
	"dorvet/core/invoice"
	core "dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/drafts"
	"dorvet/internal/store"
)

// Reopen makes an issued invoice a draft again: nothing was paid on it, and its
// period is open. It keeps its number, and the issued revision stays in the
// history; its funds go back, its work is reserved for it.
func Reopen(ctx context.Context, a *app.App, r app.Request, e drafts.Edit) (*drafts.Changed, error) {
	return app.Do(ctx, a, r, "reopen invoice", e, func(tx *app.Tx) (*drafts.Changed, error) {
		inv, err := drafts.Step(tx, e, invoice.Reopen)
		if err != nil {
			return nil, err
		}
		if err := reopenable(tx, inv); err != nil {
			return nil, err
		}
		if err := unbill(tx, inv); err != nil {
			return nil, err
		}
		if err := takeBackPosting(tx, inv); err != nil {
			return nil, err
		}
		if err := recall(tx, inv); err != nil {
			return nil, err
		}
		firm, err := store.TheFirm(tx.DB)
		if err != nil {
			return nil, err
		}
		inv.Open, inv.Reopened, inv.Handed = 0, true, delivery.Nowhere
		if err := drafts.Recompute(tx, firm, inv); err != nil { // it reserves again what it may
			return nil, err
		}
		tx.Describe(inv.Amount(inv.Total).String(), nil, "Reopened %s; it keeps its number", inv.NumberText)
		return drafts.ChangedBy(tx, inv), nil
	})
}

// recall calls back what of an invoice is still on its way, and ends the links to its page.
func recall(tx *app.Tx, inv *store.Invoice) error {
	deliveries, err := store.DeliveriesOf(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	for _, d := range deliveries {
		if d.State == delivery.Queued {
			if err := correspondence.CallBack(tx, &d.Delivery); err != nil {
				return err
			}
		}
	}
	return store.WithdrawLinks(tx.DB, store.ForInvoice, inv.ID, tx.Now)
}

func reopenable(tx *app.Tx, inv *store.Invoice) error {
	received, err := store.ReceivedOn(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	notes, err := store.CreditNotesOf(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return err
	}
	used, err := store.AdvanceUsed(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	exported, err := store.Acted(tx.DB, store.ExportAct, app.OfInvoice, inv.ID)
	if err != nil {
		return err
	}
	switch {
	case inv.Kind != invoice.Ordinary:
		return app.Refuse(app.Conflict, "Only an invoice that was issued here can be reopened.")
	case received != 0:
		return app.Refuse(app.Conflict, "Something was paid on %s: make a credit note, or reverse the payment first.", inv.NumberText)
	case inv.WrittenOff != 0:
		return app.Refuse(app.Conflict, "%s of %s is written off: take that back first.", inv.Amount(inv.WrittenOff), inv.NumberText)
	case len(notes) > 0:
		return app.Refuse(app.Conflict, "%s was credited by %s: credit the rest of it instead.", inv.NumberText, notes[0].NumberText)
	case inv.Dated <= firm.ClosingDay:
		return app.Refuse(app.Conflict, "The period of %s, up to %s, is closed: make a credit note instead.", inv.NumberText,
			firm.ClosingDay.Long())
	case inv.Handed.IsOut():
		return app.Refuse(app.Conflict, "%s was handed over to the client: make a credit note instead.", inv.NumberText)
	case exported:
		return app.Refuse(app.Conflict, "%s was made into a file for the client, who may have it: make a credit note instead.",
			inv.NumberText)
	case used:
		return app.Refuse(app.Conflict, "The advance on %s has come back on another bill: take it off there first.", inv.NumberText)
	}
	return nil
}

// unbill moves the work on an invoice back into work in progress, reserved for it.
func unbill(tx *app.Tx, inv *store.Invoice) error {
	portions, err := store.PortionsOn(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	for i := range portions {
		p := &portions[i]
		from := p.Bucket()
		if p.Billing, err = p.Billing.After(core.Reopen); err != nil {
			return app.AsConflict(err)
		}
		tx.Move("reopened", tx.Today, p.Portion, from, p.Bucket(), &inv.ID)
		drafts.Concerns(tx, p)
	}
	return store.Billed(tx.DB, inv.ID, core.Reserved)
}

// takeBackPosting reverses what stands of the issued revision in the ledger, and
// gives back what it took of the client's funds.
func takeBackPosting(tx *app.Tx, inv *store.Invoice) error {
	movements, err := store.MoneyOf(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	if _, err := tx.Undo(movements, "reopened", max(tx.Today, inv.Dated), nil); err != nil {
		return err
	}
	if err := store.CloseInstalments(tx.DB, inv.ID); err != nil {
		return err
	}
	return untransfer(tx, inv)
}

// untransfer takes transfers back that funds asked for: one that was not made is
// not to be made any more, one that was made is to be made the other way.
func untransfer(tx *app.Tx, inv *store.Invoice) error {
	transfers, err := store.TransfersOf(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	net := map[int64]int64{}
	for i := range transfers {
		t := &transfers[i]
		if !t.DoneDay.IsZero() {
			net[t.FundsID] += t.Amount
			continue
		}
		if err := store.DropTransfer(tx.DB, t.ID); err != nil {
			return err
		}
	}
	for fund, amount := range net {
		if amount == 0 {
			continue
		}
		if err := store.Insert(tx.DB, &store.Transfer{FundsID: fund, InvoiceID: inv.ID, Day: tx.Today, Amount: -amount}); err != nil {
			return err
		}
	}
	return nil
}
