package receivables

import (
	"context"
	"errors"
	"strings"

	"dorvet/core/funds"
	"dorvet/core/invoice"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Reverse takes a payment back: a cheque that bounced, a mistake. What it settled
// is owed again; what it brought as credit, or was held of it, must still be there.
func Reverse(ctx context.Context, a *app.App, r app.Request, id int64, why string) (*Payment, error) {
	return app.Do(ctx, a, r, "reverse payment", []any{id, why}, func(tx *app.Tx) (*Payment, error) { return Bounce(tx, id, why) })
}

// Bounce is [Reverse] as part of an act. A bank's entry that the payment was made of waits again to be told what it is.
func Bounce(tx *app.Tx, id int64, why string) (*Payment, error) {
	back, err := SendBack(tx, id, why)
	if err != nil {
		return nil, err
	}
	return back, store.FreeEntry(tx.DB, id)
}

// SendBack is [Bounce] where the bank says that the money went back: both of its entries stand.
func SendBack(tx *app.Tx, id int64, why string) (*Payment, error) {
	of, err := reversible(tx, id, why)
	if err != nil {
		return nil, err
	}
	back := of.Payment
	back.Row, back.Amount, back.Note, back.ReversesID, back.Day = store.Row{}, -of.Amount, strings.TrimSpace(why), &of.ID, tx.Today
	if err := store.Insert(tx.DB, &back); err != nil {
		return nil, err
	}
	movements, err := store.MoneyOfPayment(tx.DB, of.ID)
	if err != nil {
		return nil, err
	}
	if err := stillHeld(tx, of, movements); err != nil {
		return nil, err
	}
	undone, err := tx.Undo(movements, "reversed", tx.Today, &back.ID)
	if err != nil {
		return nil, err
	}
	for i := range undone {
		if undone[i].Amount != 0 && (undone[i].ToBucket == app.Receivable || undone[i].FromBucket == app.Receivable) {
			err = errors.Join(err, openAgain(tx, &undone[i]))
		}
	}
	if err != nil {
		return nil, err
	}
	if err := received(tx, of.RequestID, -of.Amount); err != nil {
		return nil, err
	}
	if err := stillThere(tx, of); err != nil {
		return nil, err
	}
	tx.LinkTo("clients", of.ClientID)
	tx.LinkTo(app.OfPayment, of.ID, back.ID)
	tx.Describe(amount(&of.Payment, of.Amount).String(), nil, "Reversed %s %s of %s: %s", amount(&of.Payment, of.Amount), of.Currency,
		of.Day.Long(), back.Note)
	return finished(tx, &back)
}

func reversible(tx *app.Tx, id int64, why string) (*store.PaymentRow, error) {
	of, err := store.PaymentByID(tx.DB, id)
	switch {
	case err != nil:
		return nil, app.Missing(err, "payment")
	case of.Reversed:
		return nil, app.Refuse(app.Conflict, "This payment was reversed already.")
	case of.ReversesID != nil:
		return nil, app.Refuse(app.Conflict, "This is a reversal itself: record the payment again instead.")
	case strings.TrimSpace(why) == "":
		return nil, app.RefuseField("reason", "Say why it is reversed: it stands in the history.")
	}
	return of, nil
}

// stillHeld refuses to take money out of a fund again that is on drafts or went on.
func stillHeld(tx *app.Tx, of *store.PaymentRow, movements []store.MoneyMovement) error {
	for _, m := range movements {
		if m.FundsID == nil || m.FromBucket != app.Funds {
			continue
		}
		fund, err := store.FundsByID(tx.DB, *m.FundsID)
		if err != nil {
			return err
		}
		if err := mayLeave(tx, fund, m.Amount, tx.Today, ""); err != nil {
			return err
		}
	}
	return nil
}

// openAgain makes what a movement brings back owed again on its instalment; what it had brought back of bad debt is lost again.
func openAgain(tx *app.Tx, m *store.MoneyMovement) error {
	change, lost := m.Amount, int64(0)
	if m.FromBucket == app.Receivable {
		change, lost = -m.Amount, m.Amount
	}
	part, err := store.InstalmentByID(tx.DB, *m.InstalmentID)
	if err != nil {
		return err
	}
	if err := store.SetOpen(tx.DB, part.ID, part.Open+change); err != nil {
		return err
	}
	inv, err := store.Get[store.Invoice](tx.DB, *m.InvoiceID)
	if err != nil {
		return err
	}
	received, err := store.ReceivedOn(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	inv.Open, inv.WrittenOff = inv.Open+change, inv.WrittenOff+lost
	inv.State = invoice.Standing(inv.Open, received)
	tx.LinkTo(app.OfInvoice, inv.ID)
	return store.Save(tx.DB, inv)
}

// stillThere refuses to take back what was used as credit since.
func stillThere(tx *app.Tx, of *store.PaymentRow) error {
	account := store.Account{ClientID: of.ClientID, EntityID: of.EntityID, Currency: of.Currency}
	changes, err := store.ChangesOfCredit(tx.DB, account)
	if err != nil {
		return err
	}
	if short := funds.Shortest(changes, tx.Today); short < 0 {
		return app.Refuse(app.Conflict, "Of what this payment brought as credit, %s was used on an invoice since: take that off first.",
			amount(&of.Payment, -short))
	}
	return nil
}
