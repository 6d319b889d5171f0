package wip

import (
	"cmp"
	"slices"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// The orders of the list. Nothing asks for that of the clients' names.
const (
	ByValue      = "value"       // most to bill first, in the firm's currency of today
	ByAge        = "oldest"      // oldest work first
	ByLastBilled = "last_billed" // longest since a bill first, never billed before all
	ByBudget     = "budget"      // most of its budget used first
)

// sort puts clients, and the engagements under each, in an order. A client stands
// where the first of its engagements would, or what they come to.
func (l *UnbilledList) sort(tx *store.DB, today day.Day, order string) error {
	if order == "" {
		return nil
	}
	rank, err := ranking(tx, today, order)
	if err != nil {
		return err
	}
	places := map[int64]int64{}
	for i := range l.Clients {
		c := &l.Clients[i]
		ranks := map[int64]int64{}
		for n := range c.Engagements {
			e := &c.Engagements[n]
			if ranks[e.EngagementID], err = rank(e); err != nil {
				return err
			}
			if order == ByValue {
				places[c.ClientID] += ranks[e.EngagementID]
			} else if n == 0 || ranks[e.EngagementID] > places[c.ClientID] {
				places[c.ClientID] = ranks[e.EngagementID]
			}
		}
		slices.SortStableFunc(c.Engagements, func(a,
			b EngagementWork) int {
			return cmp.Compare(ranks[b.EngagementID], ranks[a.EngagementID])
		})
	}
	slices.SortStableFunc(l.Clients, func(a, b ClientWork) int { return cmp.Compare(places[b.ClientID], places[a.ClientID]) })
	return nil
}

// ranking gives what an engagement is ordered by, the first having the most.
func ranking(tx *store.DB, today day.Day, order string) (func(*EngagementWork) (int64, error), error) {
	firm, err := store.TheFirm(tx)
	if err != nil {
		return nil, err
	}
	switch order {
	case ByValue:
		rates := map[money.Currency]money.ExchangeRate{}
		return func(e *EngagementWork) (int64, error) {
			currency := e.Value.Currency
			if _, known := rates[currency]; !known {
				if rates[currency], _, err = setup.Exchange(tx, firm, currency, today); err != nil {
					return 0, err
				}
			}
			inFirm, err := e.Value.Convert(rates[currency], firm.Currency)
			return inFirm.Minor, err
		}, nil
	case ByAge:
		return func(e *EngagementWork) (int64, error) { return int64(e.Oldest), nil }, nil
	case ByLastBilled:
		return func(e *EngagementWork) (int64, error) { return int64(today - e.LastBilled), nil }, nil
	case ByBudget:
		return func(e *EngagementWork) (int64, error) {
			if e.Budget == nil {
				return -1, nil
			}
			return int64(e.Budget.Share), nil
		}, nil
	}
	return nil, app.RefuseField("order", "%q is no order of this list.", order)
}
