package profiles

import (
	"context"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/profile"
	"dorvet/core/schedule"
	"dorvet/core/worktime"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Typed is something that was typed: in the spelling in which it is kept, and as it is understood.
type Typed struct {
	Value string `json:"value"`
	Said  string `json:"said"`
}

// ReadTyped reads what is typed into a field, as day, hours (of one day), terms, schedule, amount or
// percent, by the function of the core that reads it when it is kept. An amount has at most four
// decimals here: whether its currency has them, and whether it may be negative, is seen when it is
// kept. The refusal has an example.
func ReadTyped(ctx context.Context, a *app.App, as, typed string) (*Typed, error) {
	firm, err := store.TheFirm(a.Store.Read(ctx, store.Everything))
	if err != nil {
		return nil, err
	}
	mark := firm.Mark()
	switch as {
	case "day":
		d, err := day.ParseTyped(typed, a.Clock.Today())
		return &Typed{Value: d.String(), Said: d.Time().Format("Mon 2 Jan 2006")}, err
	case "hours":
		minutes, err := worktime.ParseDuration(typed, mark)
		return &Typed{Value: worktime.Clock(minutes), Said: worktime.Said(minutes)}, err
	case "amount":
		n, err := money.ParseFixed(typed, mark, 4)
		return &Typed{Value: money.TypeFixed(n, money.Point, 4, 2), Said: money.TypeFixed(n, mark, 4, 2)}, err
	}
	value, err := profile.Item{Label: "It", Form: profile.Form(as)}.Parse(typed, mark)
	if err != nil {
		return nil, err
	}
	said, err := saidAs(as, value, mark)
	return &Typed{Value: value, Said: said}, err
}

func saidAs(as, value string, mark money.Mark) (string, error) {
	item := profile.Item{Form: profile.Form(as)}
	switch item.Form {
	case profile.Terms:
		terms, err := schedule.ParseTerms(value)
		return terms.String(), err
	case profile.Schedule:
		plan, err := schedule.ParsePlan(value, money.Point)
		return plan.Words(), err
	case profile.Percent:
		return item.Typed(value, mark) + " %", nil
	}
	return item.Typed(value, mark), nil
}
