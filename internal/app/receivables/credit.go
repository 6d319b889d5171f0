package receivables

import (
	"context"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/refusal"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/ledger"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// Credit is unapplied money of a client: overpaid, or credited.
type Credit struct {
	ClientID int64        `json:"clientId"`
	EntityID int64        `json:"entityId"`
	Client   string       `json:"client"`
	Credit   money.Amount `json:"credit"`
	Free     money.Amount `json:"free" doc:"not on a draft"`
}

// Credits lists the credit of clients; clientID 0 asks for all.
func Credits(ctx context.Context, a *app.App, actor app.Actor, clientID int64) ([]Credit, error) {
	tx := a.Read(ctx, actor)
	rows, err := store.AllCredits(tx, only(clientID))
	list := make([]Credit, 0, len(rows))
	for _, c := range rows {
		credit, err := store.CreditOf(tx, store.Account{ClientID: c.ClientID, EntityID: c.EntityID, Currency: c.Currency}, 0)
		if err != nil {
			return nil, err
		}
		list = append(list, Credit{c.ClientID, c.EntityID, c.Client, money.Amount{Minor: c.Credit, Currency: c.Currency},
			money.Amount{Minor: credit.Free(), Currency: c.Currency}})
	}
	return list, err
}

// only is the client that is asked for, or nil, which asks for all, where its number is 0.
func only(clientID int64) []int64 {
	if clientID == 0 {
		return nil
	}
	return []int64{clientID}
}

// Account is whose money it is: a client's with an issuing entity, in a currency.
type Account = store.Account

// UseCredit puts credit of a client on an issued invoice: all that is owed and
// free, unless less is asked.
func UseCredit(ctx context.Context, a *app.App, r app.Request, invoiceID int64, typed string) (*drafts.Changed, error) {
	return app.Do(ctx, a, r, "use credit", []any{invoiceID, typed}, func(tx *app.Tx) (*drafts.Changed, error) {
		inv, err := store.Get[store.Invoice](tx.DB, invoiceID)
		if err != nil {
			return nil, app.Missing(err, "invoice")
		}
		credit, err := store.CreditOf(tx.DB, inv.Account(), 0)
		if err != nil {
			return nil, err
		}
		free := credit.Free()
		minor := min(free, inv.Open)
		if typed != "" {
			if minor, err = setup.MinorUnits(tx.DB, typed, inv.Currency); err != nil {
				return nil, app.InField("amount", err)
			}
		}
		if minor > free || free <= 0 {
			return nil, app.RefuseField("amount", "The client has %s of credit that is free: give at most that.", inv.Amount(free))
		}
		changes, err := store.ChangesOfCredit(tx.DB, inv.Account())
		if err != nil {
			return nil, err
		}
		if err := inTime(changes, inv.Amount(minor), tx.Today, "credit of the client"); err != nil {
			return nil, err
		}
		if err := ledger.Settle(tx, inv, minor, ledger.Settlement{Kind: "credit_used", Bucket: app.Credit, Day: tx.Today}); err != nil {
			return nil, err
		}
		tx.LinkTo("clients", inv.ClientID)
		tx.Describe(nil, inv.Amount(minor).String(), "Put %s of the client's credit on %s", inv.Amount(minor), inv.NumberText)
		return drafts.ChangedBy(tx, inv), nil
	})
}

// RefundCredit pays credit back to a client.
func RefundCredit(ctx context.Context, a *app.App, r app.Request, account store.Account, typed string, on day.Day) (*Payment, error) {
	return app.Do(ctx, a, r, "refund credit", []any{account, typed, on}, func(tx *app.Tx) (*Payment, error) {
		row, err := paymentOf(tx, account, on, typed, "transfer")
		if err != nil {
			return nil, err
		}
		credit, err := store.CreditOf(tx.DB, account, 0)
		if err != nil {
			return nil, err
		}
		if row.Amount > credit.Free() {
			return nil, app.InField("amount", refusal.Errorf("%s is free of the client's credit: give at most that",
				amount(row, credit.Free())))
		}
		changes, err := store.ChangesOfCredit(tx.DB, account)
		if err != nil {
			return nil, err
		}
		if err := inTime(changes, amount(row, row.Amount), on, "credit of the client"); err != nil {
			return nil, err
		}
		return goOut(tx, row, store.RefundsOfCredit, app.Credit, nil)
	})
}
