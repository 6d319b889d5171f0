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
		sum, err := takeOffAll(tx, slices.DeleteFunc(movements, isNotPutOn))
		if err != nil {
			return nil, err
		}
		if sum == 0 {
			return nil, app.Refuse(app.Conflict, "No funds or credit were put on %s after it was issued.", inv.NumberText)
		}
		tx.LinkTo("clients", inv.ClientID)
		tx.Describe(inv.Amount(sum).String(), nil, "Took %s of funds and credit off %s again", inv.Amount(sum), inv.NumberText)
		if err := drafts.Refresh(tx, store.Account{ClientID: inv.ClientID, EntityID: inv.EntityID, Currency: inv.Currency}); err != nil {
			return nil, err
		}
		return drafts.ChangedBy(tx, inv), nil
	})
}

// UndoApplied takes back what one act put on invoices: it is held again.
func UndoApplied(ctx context.Context, a *app.App, r app.Request, actID int64) error {
	_, err := app.Do(ctx, a, r, "take applied funds back", actID, func(tx *app.Tx) (struct{}, error) {
		movements, err := store.MoneyOfAct(tx.DB, actID)
		if err != nil {
			return struct{}{}, err
		}
		movements = slices.DeleteFunc(movements, isNotPutOn)
		if err := nothingSince(tx, movements); err != nil {
			return struct{}{}, err
		}
		if _, err := takeOffAll(tx, movements); err != nil {
			return struct{}{}, err
		}
		accounts := map[store.Account]bool{}
		for _, m := range movements {
			accounts[store.Account{ClientID: m.ClientID, EntityID: m.EntityID, Currency: m.Currency}] = true
			tx.LinkTo("clients", m.ClientID)
		}
		tx.Describe(nil, nil, "Took funds that were applied back")
		for account := range accounts {
			if err := drafts.Refresh(tx, account); err != nil {
				return struct{}{}, err
			}
		}
		return struct{}{}, nil
	})
	return err
}

// nothingSince refuses to take movements back if there are none, or others have come to
// their invoices since.
func nothingSince(tx *app.Tx, movements []store.MoneyMovement) error {
	if len(movements) == 0 {
		return app.Missing(store.ErrNotFound, "act")
	}
	for _, m := range movements {
		all, err := store.MoneyOf(tx.DB, *m.InvoiceID)
		if err != nil {
			return err
		}
		if last := all[len(all)-1]; last.ActID != m.ActID {
			return app.Refuse(app.Conflict, "Money has moved on an invoice since: take it back on that invoice.")
		}
	}
	return nil
}

// takeOffAll undoes movements that put funds and credit on instalments, and says what
// they came to, in minor units.
func takeOffAll(tx *app.Tx, movements []store.MoneyMovement) (sum int64, err error) {
	undone, err := tx.Undo(movements, "reversed", tx.Today, nil)
	if err != nil {
		return 0, err
	}
	for i := range undone {
		if err := takeOff(tx, &undone[i]); err != nil {
			return 0, err
		}
		sum += undone[i].Amount
	}
	return sum, nil
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
