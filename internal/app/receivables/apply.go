package receivables

import (
	"context"
	"errors"
	"slices"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/ledger"
	"dorvet/internal/app/setup"
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
			if minor, err = setup.MinorUnits(tx.DB, typed, fund.Currency); err != nil {
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
	return inv, mayPay(tx.DB, inv, fund)
}

// mayPay refuses what a fund can't pay.
func mayPay(tx *store.DB, inv *store.Invoice, fund *store.ClientFundsRow) error {
	if inv.ClientID != fund.ClientID || inv.EntityID != fund.EntityID || inv.Currency != fund.Currency {
		return app.Refuse(app.Invalid, "Money of one client, issuing entity and currency can't pay another's invoice.")
	}
	if fund.EngagementID == nil {
		return nil
	}
	ids, err := store.EngagementsOf(tx, inv.ID)
	if err != nil || slices.Contains(ids, *fund.EngagementID) {
		return err
	}
	return app.Refuse(app.Invalid, "This money is held for %s, which is not on %s: apply other money, or refund it first.",
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

// Putting is money that is held, as it can be put on an invoice.
type Putting struct {
	FundsID   int64        `json:"fundsId"`
	For       string       `json:"for" doc:"the engagement for which it is held; nothing: the client as such"`
	ClientID  int64        `json:"clientId"`
	Client    string       `json:"client"`
	InvoiceID int64        `json:"invoiceId"`
	Number    string       `json:"number"`
	Due       day.Day      `json:"due"`
	Open      money.Amount `json:"open" doc:"before"`
	Amount    money.Amount `json:"amount" doc:"that it would take"`
}

// FundsPlan says how what is held for clients could be put on what they owe: the oldest
// instalment first, what is held for an engagement before what is held for its client.
func FundsPlan(ctx context.Context, a *app.App, actor app.Actor, clientIDs []int64) ([]Putting, error) {
	return plan(a.Read(ctx, actor), clientIDs)
}

func plan(tx *store.DB, clientIDs []int64) ([]Putting, error) {
	all := []Putting{}
	for _, id := range clientIDs {
		held, err := store.FundsHeld(tx, []int64{id})
		if err != nil {
			return nil, err
		}
		owed, err := store.OpenInvoices(tx, id)
		if err != nil {
			return nil, err
		}
		open := opened{}
		if err := open.read(tx, owed); err != nil {
			return nil, err
		}
		for i := range held {
			fund := &held[i]
			own, err := payable(tx, fund, owed)
			if err != nil {
				return nil, err
			}
			for _, p := range open.share(max(fund.Held-fund.Reserved, 0), own) {
				all = append(all, Putting{fund.ID, fund.Engagement, id, fund.Client, p.inv.ID, p.inv.NumberText, p.inv.DueDay,
					p.inv.Amount(p.inv.Open), p.inv.Amount(p.minor)})
			}
		}
	}
	return all, nil
}

// payable are the invoices that a fund can pay.
func payable(tx *store.DB, fund *store.ClientFundsRow, invoices []store.Invoice) ([]store.Invoice, error) {
	own := []store.Invoice{}
	for i := range invoices {
		err := mayPay(tx, &invoices[i], fund)
		if refusal := new(app.Refusal); errors.As(err, &refusal) {
			continue // of another entity, currency or engagement
		}
		if err != nil {
			return nil, err
		}
		own = append(own, invoices[i])
	}
	return own, nil
}

// PutTyped is how much of what is held is put on an invoice.
type PutTyped struct {
	FundsID   int64  `json:"fundsId"`
	InvoiceID int64  `json:"invoiceId"`
	Amount    string `json:"amount" maxLength:"30"`
}

// AppliedFunds is what was put where, and the act that can be taken back.
type AppliedFunds struct {
	ActID   int64     `json:"actId"`
	Applied []Applied `json:"applied"`
}

// ApplyFunds puts what is held on invoices as it was chosen, all of it or nothing.
func ApplyFunds(ctx context.Context, a *app.App, r app.Request, puts []PutTyped) (*AppliedFunds, error) {
	return app.Do(ctx, a, r, "apply funds", puts, func(tx *app.Tx) (*AppliedFunds, error) {
		done := &AppliedFunds{ActID: tx.ActID, Applied: []Applied{}}
		for _, p := range puts {
			fund, err := fundsSeen(tx, p.FundsID)
			if err != nil {
				return nil, err
			}
			inv, err := ownOf(tx, p.InvoiceID, fund)
			if err != nil {
				return nil, err
			}
			minor, err := setup.MinorUnits(tx.DB, p.Amount, fund.Currency)
			if err != nil {
				return nil, app.InField("amount", err)
			}
			if err := apply(tx, fund, inv, minor); err != nil {
				return nil, err
			}
			tx.LinkTo("clients", fund.ClientID)
			done.Applied = append(done.Applied, Applied{inv.NumberText, inv.Amount(minor)})
		}
		if len(done.Applied) == 0 {
			return nil, app.Refuse(app.Invalid, "Choose at least one invoice, and how much is put on it.")
		}
		tx.Describe(nil, done.Applied, "Applied funds held to %s", app.Counted(len(done.Applied), "invoice", "invoices"))
		return done, nil
	})
}

// Applied is money that was put on an invoice.
type Applied struct {
	Number string       `json:"number"`
	Amount money.Amount `json:"amount"`
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
