package receivables

import (
	"context"

	"dorvet/internal/app"
	"dorvet/internal/app/billing"
	"dorvet/internal/store"
)

// TakeBack takes funds and credit off an issued invoice that were put on it after it
// was issued: it is owed again, and they are free again. What it took at issue stays.
func TakeBack(ctx context.Context, a *app.App, r app.Request, invoiceID int64) (*billing.Invoice, error) {
	return app.Do(ctx, a, r, "take funds and credit back", invoiceID, func(tx *app.Tx) (*billing.Invoice, error) {
		inv, err := store.Get[store.Invoice](tx.DB, invoiceID)
		if err != nil || !tx.Actor.Sight().SeesEntity(inv.EntityID) {
			return nil, app.Missing(store.ErrNotFound, "invoice")
		}
		put, err := store.PutOnInvoice(tx.DB, invoiceID)
		if err != nil {
			return nil, err
		}
		if len(put) == 0 {
			return nil, app.Refuse(app.Conflict, "No funds or credit were put on %s after it was issued.", inv.NumberText)
		}
		sum := int64(0)
		for i := range put {
			if err := takeOff(tx, inv, &put[i]); err != nil {
				return nil, err
			}
			sum += put[i].Amount
		}
		tx.Concerns("clients", inv.ClientID)
		tx.Tell(inv.Amount(sum).String(), nil, "Took %s of funds and credit off %s again", inv.Amount(sum), inv.NumberText)
		if err := billing.Refresh(tx, store.Account{ClientID: inv.ClientID, EntityID: inv.EntityID, Currency: inv.Currency}); err != nil {
			return nil, err
		}
		return billing.Shown(tx, invoiceID)
	})
}

// takeOff posts what was put on an instalment the other way; money goes back into
// its purse, with a transfer back.
func takeOff(tx *app.Tx, inv *store.Invoice, put *store.MoneyMovement) error {
	m := *put
	m.Kind, m.EffectiveDay, m.FromBucket, m.ToBucket = "reversed", tx.Today, put.ToBucket, app.Receivable
	tx.Post(m)
	if err := openAgain(tx, &m); err != nil {
		return err
	}
	if m.PurseID == nil {
		return nil
	}
	purse, err := store.Get[store.Purse](tx.DB, *m.PurseID)
	if err != nil {
		return err
	}
	purse.Held += m.Amount
	if err := store.Save(tx.DB, purse); err != nil {
		return err
	}
	return store.Insert(tx.DB, &store.Transfer{PurseID: purse.ID, InvoiceID: inv.ID, Day: tx.Today, Amount: -m.Amount})
}
