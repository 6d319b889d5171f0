package receivables

import (
	"context"
	"slices"

	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/store"
)

// TakeBack takes funds and credit off an issued invoice that were put on it after it
// was issued: it is owed again, and they are free again. What it took at issue stays.
func TakeBack(ctx context.Context, a *app.App, r app.Request, invoiceID int64) (*drafts.Changed, error) {
	return app.Do(ctx, a, r, "take funds and credit back", invoiceID, func(tx *app.Tx) (*drafts.Changed, error) {
		inv, err := store.Get[store.Invoice](tx.DB, invoiceID)
		if err != nil {
			return nil, app.Missing(err, "invoice")
		}
		movements, err := store.MoneyOf(tx.DB, invoiceID)
		if err != nil {
			return nil, err
		}
		undone, err := tx.Undo(slices.DeleteFunc(movements, isNotPutOn), "reversed", tx.Today, nil)
		if err != nil {
			return nil, err
		}
		if len(undone) == 0 {
			return nil, app.Refuse(app.Conflict, "No funds or credit were put on %s after it was issued.", inv.NumberText)
		}
		sum := int64(0)
		for i := range undone {
			if err := takeOff(tx, &undone[i]); err != nil {
				return nil, err
			}
			sum += undone[i].Amount
		}
		tx.LinkTo("clients", inv.ClientID)
		tx.Describe(inv.Amount(sum).String(), nil, "Took %s of funds and credit off %s again", inv.Amount(sum), inv.NumberText)
		if err := drafts.Refresh(tx, store.Account{ClientID: inv.ClientID, EntityID: inv.EntityID, Currency: inv.Currency}); err != nil {
			return nil, err
		}
		return drafts.ChangedBy(tx, inv), nil
	})
}

// isNotPutOn reports whether a movement is no putting of funds or credit on an
// instalment, nor the taking off of such.
func isNotPutOn(m store.MoneyMovement) bool {
	other := m.FromBucket
	if other == app.Receivable {
		other = m.ToBucket
	}
	return m.InstalmentID == nil || m.PaymentID != nil || m.Kind == "credit_note" || other != app.Funds && other != app.Credit
}

// takeOff makes owed again what funds or credit had settled; money that went back into
// its fund is transferred back.
func takeOff(tx *app.Tx, undone *store.MoneyMovement) error {
	if err := openAgain(tx, undone); err != nil || undone.FundsID == nil {
		return err
	}
	return store.Insert(tx.DB, &store.Transfer{FundsID: *undone.FundsID, InvoiceID: *undone.InvoiceID, Day: tx.Today,
		Amount: -undone.Amount})
}
