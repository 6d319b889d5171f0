package receivables

import (
	"context"
	"strconv"

	"dorvet/core/day"
	"dorvet/internal/app"
)

// bandWords are the ages of what is owed, in the order of their bands.
var bandWords = []string{"not due", "1-30 days late", "31-60 days late", "61-90 days late", "over 90 days late"}

// OwedTable is what [Owed] reads as a table, an open instalment a row.
func OwedTable(ctx context.Context, a *app.App, actor app.Actor, f Filter) (on day.Day, header []string, rows [][]string, err error) {
	owed, err := Owed(ctx, a, actor, f)
	if err != nil {
		return 0, nil, nil, err
	}
	header = []string{"Client", "Invoice", "Part", "Lead", "Dated", "Due", "Days late", "Age", "Currency", "Amount", "Open", "Of it disputed"}
	for i := range owed.Clients {
		for _, p := range owed.Clients[i].Open {
			rows = append(rows, []string{owed.Clients[i].Client, p.Number, p.Part, p.Lead, p.Dated.String(), p.Due.String(),
				strconv.Itoa(max(0, p.DaysLate)), bandWords[p.Band], string(p.Open.Currency), p.Amount.Typed(), p.Open.Typed(),
				p.Disputed.Typed()})
		}
	}
	return owed.AsOf, header, rows, nil
}
