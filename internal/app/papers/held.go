package papers

import (
	"cmp"
	"slices"

	"dorvet/core/funds"
	"dorvet/core/wording"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// mostMovements is how many movements of funds a document lists; what was before is its
// opening balance.
const mostMovements = 12

// heldFor is the statement of what is held for a client, with what an invoice takes of it;
// nothing where nothing is held.
func heldFor(tx *store.DB, inv *store.Invoice, held []store.ClientFundsRow, w wording.Words) (*funds.Statement, error) {
	movements, sum := []funds.Movement{}, int64(0)
	for _, fund := range held {
		sum += fund.Held
		rows, err := store.MovementsOfFunds(tx, fund.ID)
		if err != nil {
			return nil, err
		}
		for i := range rows {
			movements = append(movements, movementOf(inv, &rows[i], w))
		}
	}
	if sum == 0 {
		return nil, nil
	}
	slices.SortStableFunc(movements, func(a, b funds.Movement) int { return cmp.Compare(a.Day, b.Day) })
	opening := inv.Amount(0)
	if first := len(movements) - mostMovements; first > 0 {
		before, err := funds.State(opening, movements[:first])
		if err != nil {
			return nil, err
		}
		opening, movements = before.Closing, movements[first:]
	}
	if inv.Funds != 0 {
		movements = append(movements, funds.Movement{Day: inv.Dated, Text: w.Say(wording.Applied), Amount: inv.Amount(-inv.Funds)})
	}
	statement, err := funds.State(opening, movements)
	return &statement, err
}

func movementOf(inv *store.Invoice, m *store.FundsMovement, w wording.Words) funds.Movement {
	one := funds.Movement{Day: m.EffectiveDay, Amount: inv.Amount(m.Amount)}
	if m.ToBucket == app.Funds {
		one.Amount = one.Amount.Neg()
	}
	switch {
	case m.Kind == "funds_in":
		one.Text = w.Say(wording.Received)
	case m.Kind == "funds_applied" || m.NumberText != "" && m.ToBucket == app.Funds:
		one.Text = w.Say(wording.AppliedTo, "number", m.NumberText)
	case m.Kind == "refunded":
		one.Text = w.Say(wording.Refunded)
	default:
		one.Text = w.Say(wording.PutBack)
	}
	return one
}
