package receivables

import (
	"context"
	"errors"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/ledger"
	"dorvet/internal/store"
)

// Apply applies money that is held to an issued invoice: all that is owed and free,
// unless less is asked. It leaves a bank transfer to make.
func Apply(ctx context.Context, a *app.App, r app.Request, purseID, invoiceID int64, typed string) (*drafts.Changed, error) {
	return app.Do(ctx, a, r, "apply funds", []any{purseID, invoiceID, typed}, func(tx *app.Tx) (*drafts.Changed, error) {
		purse, err := purseSeen(tx, purseID)
		if err != nil {
			return nil, err
		}
		inv, err := ownOf(tx, invoiceID, purse)
		if err != nil {
			return nil, err
		}
		minor := min(inv.Open, purse.Held-purse.Reserved)
		if typed != "" {
			if minor, err = minorUnits(tx.DB, typed, purse.Currency); err != nil {
				return nil, app.InField("amount", err)
			}
		}
		if err := apply(tx, purse, inv, minor); err != nil {
			return nil, err
		}
		tx.LinkTo("clients", purse.ClientID)
		tx.Describe(nil, inv.Amount(minor).String(), "Applied %s of funds held to %s", inv.Amount(minor), inv.NumberText)
		return drafts.ChangedBy(tx, inv), nil
	})
}

// ownOf is an invoice of the client whose money a purse is.
func ownOf(tx *app.Tx, invoiceID int64, purse *store.PurseRow) (*store.Invoice, error) {
	inv, err := store.Get[store.Invoice](tx.DB, invoiceID)
	if err != nil {
		return nil, app.Missing(err, "invoice")
	}
	if inv.ClientID != purse.ClientID || inv.EntityID != purse.EntityID || inv.Currency != purse.Currency {
		return nil, app.Refuse(app.Invalid, "Money of one client, issuing entity and currency can't pay another's invoice.")
	}
	if purse.EngagementID == nil {
		return inv, nil
	}
	ids, err := store.EngagementsOf(tx.DB, inv.ID)
	for _, id := range ids {
		if id == *purse.EngagementID {
			return inv, err
		}
	}
	return nil, app.Refuse(app.Invalid, "This money is held for %s, which is not on %s: apply other money, or refund it first.",
		purse.Engagement, inv.NumberText)
}

func apply(tx *app.Tx, purse *store.PurseRow, inv *store.Invoice, minor int64) error {
	if err := takeOut(tx, purse, minor, tx.Today); err != nil {
		return err
	}
	if err := ledger.Settle(tx, inv, minor, ledger.Settlement{Kind: "funds_applied", Bucket: app.Funds, Day: tx.Today,
		PurseID: &purse.ID}); err != nil {
		return err
	}
	return store.Insert(tx.DB, &store.Transfer{PurseID: purse.ID, InvoiceID: inv.ID, Day: tx.Today, Amount: minor})
}

// ApplyAll applies what is held for a client to everything that they owe, the oldest
// instalment first; what is held for an engagement before what is held for the client.
func ApplyAll(ctx context.Context, a *app.App, r app.Request, clientID int64) ([]Applied, error) {
	return app.Do(ctx, a, r, "apply all funds", clientID, func(tx *app.Tx) ([]Applied, error) {
		purses, err := store.Purses(tx.DB, clientID)
		if err != nil {
			return nil, err
		}
		done := []Applied{}
		for i := range purses {
			if err := applyPurse(tx, &purses[i], &done); err != nil {
				return nil, err
			}
		}
		if len(done) == 0 {
			return nil, app.Refuse(app.Conflict, "Nothing that is held and free can be put on what this client owes.")
		}
		tx.LinkTo("clients", clientID)
		tx.Describe(nil, done, "Applied funds held to %d invoices", len(done))
		return done, nil
	})
}

// Applied is money that was put on an invoice.
type Applied struct {
	Number string       `json:"number"`
	Amount money.Amount `json:"amount"`
}

func applyPurse(tx *app.Tx, purse *store.PurseRow, done *[]Applied) error {
	all, err := store.OpenInvoices(tx.DB, purse.ClientID)
	if err != nil {
		return err
	}
	own := []store.Invoice{}
	for i := range all {
		_, err := ownOf(tx, all[i].ID, purse)
		if refusal := new(app.Refusal); errors.As(err, &refusal) {
			continue // of another entity, currency or engagement
		}
		if err != nil {
			return err
		}
		own = append(own, all[i])
	}
	puts, err := oldestFirst(tx, max(purse.Held-purse.Reserved, 0), own)
	for _, p := range puts {
		if err := apply(tx, purse, p.inv, p.minor); err != nil {
			return err
		}
		*done = append(*done, Applied{p.inv.NumberText, p.inv.Amount(p.minor)})
	}
	return err
}

// Refund pays money that is held back to the client.
func Refund(ctx context.Context, a *app.App, r app.Request, purseID int64, typed string, on day.Day) (*Payment, error) {
	return app.Do(ctx, a, r, "refund funds", []any{purseID, typed, on}, func(tx *app.Tx) (*Payment, error) {
		purse, err := purseSeen(tx, purseID)
		if err != nil {
			return nil, err
		}
		account := store.Account{ClientID: purse.ClientID, EntityID: purse.EntityID, Currency: purse.Currency}
		row, err := paymentOf(tx, account, on, typed, "transfer")
		if err != nil {
			return nil, err
		}
		if err := takeOut(tx, purse, row.Amount, on); err != nil {
			return nil, err
		}
		return goOut(tx, row, store.RefundsOfFunds, app.Funds, &purse.ID)
	})
}

// goOut records money that goes back to a client.
func goOut(tx *app.Tx, row *store.Payment, purpose, bucket string, purseID *int64) (*Payment, error) {
	minor := row.Amount
	if err := mayRefund(tx, row); err != nil {
		return nil, err
	}
	row.Amount, row.Purpose, row.PurseID = -minor, purpose, purseID
	if err := store.Insert(tx.DB, row); err != nil {
		return nil, err
	}
	if err := post(tx, row, "refunded", app.Bank, bucket, minor); err != nil {
		return nil, err
	}
	tx.LinkTo("clients", row.ClientID)
	tx.LinkTo(app.OfPayment, row.ID)
	tx.Describe(nil, amount(row, minor).String(), "Refunded %s %s", amount(row, minor), row.Currency)
	return finished(tx, row)
}

// mayRefund asks for the password before a refund above what the firm has set.
func mayRefund(tx *app.Tx, row *store.Payment) error {
	firm, err := store.TheFirm(tx.DB)
	if err != nil || firm.RefundProof == nil {
		return err
	}
	inFirm, err := amount(row, row.Amount).Convert(row.ExchangeRate, firm.Currency)
	if err != nil || inFirm.Minor <= *firm.RefundProof {
		return err
	}
	return tx.Actor.Prove()
}
