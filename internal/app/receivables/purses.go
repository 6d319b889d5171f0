package receivables

import (
	"context"
	"dorvet/core/funds"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/store"
	"strings"
)

// Purse is money held for a client.
type Purse struct {
	ID         int64        `json:"id"`
	ClientID   int64        `json:"clientId"`
	Client     string       `json:"client"`
	Engagement string       `json:"engagement" doc:"nothing: for the client as such"`
	Held       money.Amount `json:"held"`
	Reserved   money.Amount `json:"reserved" doc:"by drafts"`
	Owed       money.Amount `json:"owed" doc:"by the client in this currency: what it could be applied to"`
}

// Purses lists money that is held; clientID 0 asks for all clients.
func Purses(ctx context.Context, a *app.App, actor app.Actor, clientID int64) ([]Purse, error) {
	tx := a.Read(ctx, actor)
	rows, err := store.Purses(tx, clientID)
	list := make([]Purse, 0, len(rows))
	for i := range rows {
		p := &rows[i]
		owed, err := store.OwedBefore(tx, store.Account{ClientID: p.ClientID, EntityID: p.EntityID, Currency: p.Currency}, 0)
		if err != nil {
			return nil, err
		}
		list = append(list, Purse{ID: p.ID, ClientID: p.ClientID, Client: p.Client, Engagement: p.Engagement, Held: purseAmount(p, p.Held),
			Reserved: purseAmount(p, p.Reserved), Owed: purseAmount(p, owed)})
	}
	return list, err
}

// movementWords say what a movement of a purse was.
var movementWords = map[string]string{"funds_in": "Received", "funds_applied": "Applied to", "refunded": "Refunded",
	"reversed": "Reversed", "reopened": "Given back by"}

// StatementOf is the statement of one purse.
func StatementOf(ctx context.Context, a *app.App, actor app.Actor, purseID int64) (*funds.Statement, error) {
	tx := a.Read(ctx, actor)
	purse, err := store.PurseByID(tx, purseID)
	if err != nil {
		return nil, app.Missing(err, "money held")
	}
	rows, err := store.MovementsOfPurse(tx, purseID)
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
	statement, err := funds.State(money.Zero(purse.Currency), movements)
	return &statement, err
}
