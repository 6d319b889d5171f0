package receivables

import (
	"context"
	"strings"

	"dorvet/core/day"
	"dorvet/core/funds"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// TypedFunds is money received to be held for a client, as typed.
type TypedFunds struct {
	ClientID     int64          `json:"clientId"`
	EngagementID int64          `json:"engagementId" doc:"0: for the client as such"`
	EntityID     int64          `json:"entityId" doc:"0: that of the engagement, or the only one"`
	RequestID    int64          `json:"requestId" doc:"the deposit request that it answers, or 0"`
	Currency     money.Currency `json:"currency" maxLength:"3"`
	Day          day.Day        `json:"day" format:"date"`
	Amount       string         `json:"amount" maxLength:"30"`
	Method       string         `json:"method" enum:"transfer,cheque,cash,card,debit,other"`
	Reference    string         `json:"reference" maxLength:"100"`
	Minor        int64          `json:"-"` // in place of the typed amount, where a bank says it
}

// ReceiveFunds records money that is held for a client. Drafts that may use it do.
func ReceiveFunds(ctx context.Context, a *app.App, r app.Request, in TypedFunds) (*Payment, error) {
	return app.Do(ctx, a, r, "receive funds", in, func(tx *app.Tx) (*Payment, error) { return HoldFunds(tx, in) })
}

// HoldFunds is [ReceiveFunds] as part of an act.
func HoldFunds(tx *app.Tx, in TypedFunds) (*Payment, error) {
	if err := answer(tx, &in); err != nil {
		return nil, err
	}
	if in.EngagementID != 0 {
		e, err := store.Get[store.Engagement](tx.DB, in.EngagementID)
		if err := app.Unless(err, app.RefuseField("engagementId", "This engagement is not the client's: choose another."),
			func() bool { return e.ClientID == in.ClientID }); err != nil {
			return nil, err
		}
		in.EntityID, in.Currency = e.EntityID, e.Currency
	}
	account, err := accountFor(tx.DB, in.ClientID, in.EntityID, in.Currency, nil)
	if err != nil {
		return nil, err
	}
	row, err := in.payment(tx, account)
	if err != nil {
		return nil, err
	}
	fund, err := fundsFor(tx, account, in.EngagementID)
	if err != nil {
		return nil, err
	}
	fund.Held += row.Amount
	row.Purpose, row.Reference, row.FundsID, row.RequestID = store.ForFunds, strings.TrimSpace(in.Reference), &fund.ID, in.RequestID
	if err := store.Save(tx.DB, fund); err != nil {
		return nil, err
	}
	if err := store.Insert(tx.DB, row); err != nil {
		return nil, err
	}
	if err := post(tx, row, "funds_in", app.Funds, app.Bank, row.Amount); err != nil {
		return nil, err
	}
	if err := received(tx, in.RequestID, row.Amount); err != nil {
		return nil, err
	}
	tx.LinkTo("clients", row.ClientID)
	tx.LinkTo(app.OfPayment, row.ID)
	tx.Describe(nil, amount(row, row.Amount).String(), "Received %s %s to be held", amount(row, row.Amount), row.Currency)
	return finished(tx, row)
}

// payment is the money as typed, or as a bank says that it came.
func (in *TypedFunds) payment(tx *app.Tx, account store.Account) (*store.Payment, error) {
	if in.Minor == 0 {
		return paymentOf(tx, account, in.Day, in.Amount, in.Method)
	}
	row, err := arrived(tx, account, in.Day, in.Minor)
	if err == nil {
		row.Method, row.PersonID = in.Method, &tx.Actor.PersonID
	}
	return row, err
}

// answer fills in what a deposit request says, where money answers one.
func answer(tx *app.Tx, in *TypedFunds) error {
	if in.RequestID == 0 {
		return nil
	}
	request, err := store.Get[store.DepositRequest](tx.DB, in.RequestID)
	if err := app.Unless(err, app.Refuse(app.Conflict, "This deposit is not asked for any more: record the money without it."),
		func() bool { return request.State != "withdrawn" }); err != nil {
		return err
	}
	in.ClientID, in.EntityID, in.Currency = request.ClientID, request.EntityID, request.Currency
	if in.EngagementID = 0; request.EngagementID != nil {
		in.EngagementID = *request.EngagementID
	}
	return nil
}

// received notes that money answered a request, or was taken back (negative).
func received(tx *app.Tx, requestID, minor int64) error {
	if requestID == 0 {
		return nil
	}
	request, err := store.Get[store.DepositRequest](tx.DB, requestID)
	if err != nil {
		return err
	}
	request.Received += minor
	switch {
	case request.State == "withdrawn":
	case request.Received >= request.Amount:
		request.State = "received"
	default:
		request.State = "open"
	}
	return store.Save(tx.DB, request)
}

// fundsFor is the fund of an account and engagement; it is made with its first
// money.
func fundsFor(tx *app.Tx, account store.Account, engagementID int64) (*store.ClientFunds, error) {
	fund, err := store.FundsFor(tx.DB, account, engagementID)
	if err != nil || fund != nil {
		return fund, err
	}
	fund = &store.ClientFunds{EntityID: account.EntityID, ClientID: account.ClientID, Currency: account.Currency}
	if engagementID != 0 {
		fund.EngagementID = &engagementID
	}
	return fund, store.Insert(tx.DB, fund)
}

func fundsAmount(p *store.ClientFundsRow, minor int64) money.Amount {
	return money.Amount{Minor: minor, Currency: p.Currency}
}

func fundsSeen(tx *app.Tx, id int64) (*store.ClientFundsRow, error) {
	fund, err := store.FundsByID(tx.DB, id)
	return fund, app.Missing(err, "money held")
}

// mayLeave refuses to let money leave a fund that drafts reserve, that is not there,
// or that had not come in on the day on which it would leave.
func mayLeave(tx *app.Tx, fund *store.ClientFundsRow, minor int64, on day.Day, field string) error {
	if _, err := funds.Pay(funds.Held{Held: fund.Held, Reserved: fund.Reserved}, fundsAmount(fund, minor)); err != nil {
		return app.InField(field, err)
	}
	changes, err := store.ChangesOfFunds(tx.DB, fund.ID)
	if err != nil {
		return err
	}
	return inTime(changes, fundsAmount(fund, minor), on, "held for the client")
}

// inTime refuses what would leave before it came in.
func inTime(changes []funds.Change, asked money.Amount, on day.Day, what string) error {
	free := funds.FreeOn(changes, on)
	if free >= asked.Minor {
		return nil
	}
	first, is := funds.FirstDay(changes, asked.Minor, on)
	remedy := "give at most that"
	if is {
		remedy = "give " + first.Long() + " or a later day"
	}
	return app.RefuseField("day", "On %s %s was %s that can leave: %s.", on.Long(), money.Amount{Minor: free, Currency: asked.Currency},
		what,
		remedy)
}

// takeOut takes money out of a fund on a day.
func takeOut(tx *app.Tx, fund *store.ClientFundsRow, minor int64, on day.Day) error {
	if err := mayLeave(tx, fund, minor, on, "amount"); err != nil {
		return err
	}
	fund.Held -= minor
	return store.Save(tx.DB, &fund.ClientFunds)
}
