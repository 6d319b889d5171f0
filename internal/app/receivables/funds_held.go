package receivables

import (
	"context"
	"dorvet/core/funds"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/store"
	"strings"
)

// ClientFunds is money held for a client.
type ClientFunds struct {
	ID         int64        `json:"id"`
	ClientID   int64        `json:"clientId"`
	Client     string       `json:"client"`
	Engagement string       `json:"engagement" doc:"nothing: for the client as such"`
	Held       money.Amount `json:"held"`
	Reserved   money.Amount `json:"reserved" doc:"by drafts"`
	Owed       money.Amount `json:"owed" doc:"by the client in this currency: what it could be applied to"`
	Least      money.Amount `json:"least" doc:"that is to be held; nothing: no least"`
	Asked      money.Amount `json:"asked" doc:"of the client and not received yet"`
	Refill     money.Amount `json:"refill" doc:"to be asked for: the least, less what is held and free, and asked for"`
}

// FundsHeld lists money that is held; clientID 0 asks for all clients.
func FundsHeld(ctx context.Context, a *app.App, actor app.Actor, clientID int64) ([]ClientFunds, error) {
	tx := a.Read(ctx, actor)
	rows, err := store.FundsHeld(tx, only(clientID))
	if err != nil {
		return nil, err
	}
	refills, err := readRefills(tx, only(clientID))
	if err != nil {
		return nil, err
	}
	list := make([]ClientFunds, 0, len(rows))
	for i := range rows {
		p := &rows[i]
		owed, err := store.OwedBefore(tx, store.Account{ClientID: p.ClientID, EntityID: p.EntityID, Currency: p.Currency}, 0)
		if err != nil {
			return nil, err
		}
		least, asked, refill, err := refills.of(p)
		if err != nil {
			return nil, err
		}
		list = append(list, ClientFunds{Least: fundsAmount(p, least), Asked: fundsAmount(p, asked), Refill: fundsAmount(p, refill), ID: p.ID, ClientID: p.ClientID, Client: p.Client, Engagement: p.Engagement, Held: fundsAmount(p, p.Held),
			Reserved: fundsAmount(p, p.Reserved), Owed: fundsAmount(p, owed)})
	}
	return list, err
}

// movementWords say what a movement of a fund was.
var movementWords = map[string]string{"funds_in": "Received", "funds_applied": "Applied to", "refunded": "Refunded",
	"reversed": "Reversed", "reopened": "Given back by"}

// StatementOf is the statement of one fund.
func StatementOf(ctx context.Context, a *app.App, actor app.Actor, fundsID int64) (*funds.Statement, error) {
	tx := a.Read(ctx, actor)
	fund, err := store.FundsByID(tx, fundsID)
	if err != nil {
		return nil, app.Missing(err, "money held")
	}
	rows, err := store.MovementsOfFunds(tx, fundsID)
	if err != nil {
		return nil, err
	}
	movements := make([]funds.Movement, 0, len(rows))
	for _, m := range rows {
		one := funds.Movement{Day: m.EffectiveDay, Text: strings.TrimSpace(movementWords[m.Kind] + " " + m.NumberText),
			Amount: money.Amount{Minor: m.Amount, Currency: m.Currency}}
		if m.ToBucket == app.Funds {
			one.Amount = one.Amount.Neg()
		}
		movements = append(movements, one)
	}
	statement, err := funds.State(money.Zero(fund.Currency), movements)
	return &statement, err
}
