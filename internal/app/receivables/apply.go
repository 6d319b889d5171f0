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
func Apply(ctx context.Context, a *app.App, r app.Request, fundsID, invoiceID int64, typed string) (*drafts.Changed, error) {
	return app.Do(ctx, a, r, "apply funds", []any{fundsID, invoiceID, typed}, func(tx *app.Tx) (*drafts.Changed, error) {
		fund, err := fundsSeen(tx, fundsID)
		if err != nil {
			return nil, err
		}
		inv, err := ownOf(tx, invoiceID, fund)
		if err != nil {
			return nil, err
		}
		minor := min(inv.Open, fund.Held-fund.Reserved)
		if typed != "" {
			if minor, err = minorUnits(tx.DB, typed, fund.Currency); err != nil {
				return nil, app.InField("amount", err)
			}
		}
		if err := apply(tx, fund, inv, minor); err != nil {
			return nil, err
		}
		tx.LinkTo("clients", fund.ClientID)
		tx.Describe(nil, inv.Amount(minor).String(), "Applied %s of funds held to %s", inv.Amount(minor), inv.NumberText)
		return drafts.ChangedBy(tx, inv), nil
	})
}

// ownOf is an invoice of the client whose money a fund is.
func ownOf(tx *app.Tx, invoiceID int64, fund *store.ClientFundsRow) (*store.Invoice, error) {
	inv, err := store.Get[store.Invoice](tx.DB, invoiceID)
	if err != nil {
		return nil, app.Missing(err, "invoice")
	}
	if inv.ClientID != fund.ClientID || inv.EntityID != fund.EntityID || inv.Currency != fund.Currency {
		return nil, app.Refuse(app.Invalid, "Money of one client, issuing entity and currency can't pay another's invoice.")
	}
	if fund.EngagementID == nil {
		return inv, nil
	}
	ids, err := store.EngagementsOf(tx.DB, inv.ID)
	for _, id := range ids {
		if id == *fund.EngagementID {
			return inv, err
		}
	}
	return nil, app.Refuse(app.Invalid, "This money is held for %s, which is not on %s: apply other money, or refund it first.",
		fund.Engagement, inv.NumberText)
}

func apply(tx *app.Tx, fund *store.ClientFundsRow, inv *store.Invoice, minor int64) error {
	if err := takeOut(tx, fund, minor, tx.Today); err != nil {
		return err
	}
	if err := ledger.Settle(tx, inv, minor, ledger.Settlement{Kind: "funds_applied", Bucket: app.Funds, Day: tx.Today,
		FundsID: &fund.ID}); err != nil {
		return err
	}
	return store.Insert(tx.DB, &store.Transfer{FundsID: fund.ID, InvoiceID: inv.ID, Day: tx.Today, Amount: minor})
}

// ApplyAll applies what is held for a client to everything that they owe, the oldest
// instalment first; what is held for an engagement before what is held for the client.
func ApplyAll(ctx context.Context, a *app.App, r app.Request, clientID int64) ([]Applied, error) {
	return app.Do(ctx, a, r, "apply all funds", clientID, func(tx *app.Tx) ([]Applied, error) {
		held, err := store.FundsHeld(tx.DB, clientID)
		if err != nil {
			return nil, err
		}
		done := []Applied{}
		for i := range held {
			if err := applyFrom(tx, &held[i], &done); err != nil {
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

func applyFrom(tx *app.Tx, fund *store.ClientFundsRow, done *[]Applied) error {
	all, err := store.OpenInvoices(tx.DB, fund.ClientID)
	if err != nil {
		return err
	}
	own := []store.Invoice{}
	for i := range all {
		_, err := ownOf(tx, all[i].ID, fund)
		if refusal := new(app.Refusal); errors.As(err, &refusal) {
			continue // of another entity, currency or engagement
		}
		if err != nil {
			return err
		}
		own = append(own, all[i])
	}
	puts, err := oldestFirst(tx, max(fund.Held-fund.Reserved, 0), own)
	for _, p := range puts {
		if err := apply(tx, fund, p.inv, p.minor); err != nil {
			return err
		}
		*done = append(*done, Applied{p.inv.NumberText, p.inv.Amount(p.minor)})
	}
	return err
}

// Refund pays money that is held back to the client.
func Refund(ctx context.Context, a *app.App, r app.Request, fundsID int64, typed string, on day.Day) (*Payment, error) {
	return app.Do(ctx, a, r, "refund funds", []any{fundsID, typed, on}, func(tx *app.Tx) (*Payment, error) {
		fund, err := fundsSeen(tx, fundsID)
		if err != nil {
			return nil, err
		}
		account := store.Account{ClientID: fund.ClientID, EntityID: fund.EntityID, Currency: fund.Currency}
		row, err := paymentOf(tx, account, on, typed, "transfer")
		if err != nil {
			return nil, err
		}
		if err := takeOut(tx, fund, row.Amount, on); err != nil {
			return nil, err
		}
		return goOut(tx, row, store.RefundsOfFunds, app.Funds, &fund.ID)
	})
}

// goOut records money that goes back to a client.
func goOut(tx *app.Tx, row *store.Payment, purpose, bucket string, fundsID *int64) (*Payment, error) {
	minor := row.Amount
	if err := mayRefund(tx, row); err != nil {
		return nil, err
	}
	row.Amount, row.Purpose, row.FundsID = -minor, purpose, fundsID
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
