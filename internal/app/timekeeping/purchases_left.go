package timekeeping

import (
	"context"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// PurchaseLeft is a purchase that is not used up: something of it is on no engagement yet.
type PurchaseLeft struct {
	ID       int64        `json:"id"`
	Day      day.Day      `json:"day"`
	Person   string       `json:"person"`
	Initials string       `json:"initials"`
	Category string       `json:"category"`
	Supplier string       `json:"supplier"`
	Text     string       `json:"text"`
	Units    string       `json:"units" doc:"how many were bought, or nothing"`
	Cost     money.Amount `json:"cost"`
	Used     money.Amount `json:"used" doc:"on engagements"`
	Left     money.Amount `json:"left"`
}

// PurchasesLeft lists the purchases that are not used up: of which something was used, and
// of the last twelve months those of which nothing was.
func PurchasesLeft(ctx context.Context, a *app.App, actor app.Actor) ([]PurchaseLeft, error) {
	rows, err := store.PurchasesLeft(a.Read(ctx, actor), a.Clock.Today().AddMonths(-12))
	list := []PurchaseLeft{}
	for i := range rows {
		r := &rows[i]
		if !actor.SeesPerson(r.PersonID) {
			continue
		}
		amount := func(minor int64) money.Amount { return money.Amount{Minor: minor, Currency: r.Currency} }
		one := PurchaseLeft{ID: r.ID, Day: r.Day, Person: r.Person, Initials: r.Initials, Category: r.Category, Supplier: r.Supplier,
			Text: r.Text, Cost: amount(r.Cost), Used: amount(r.Cost - r.Left), Left: amount(r.Left)}
		if r.Units != 0 {
			one.Units = money.TypeFixed(r.Units, money.Point, 4, 0) + " " + r.Unit
		}
		list = append(list, one)
	}
	return list, err
}
