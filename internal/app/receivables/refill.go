package receivables

import (
	"context"
	"strings"

	"dorvet/core/funds"
	"dorvet/core/money"
	"dorvet/core/wording"
	"dorvet/internal/app"
	"dorvet/internal/app/papers"
	"dorvet/internal/app/profiles"
	"dorvet/internal/store"
)

// refills says of funds what is to be held at least, and what of it is to be asked for.
type refills struct {
	least    func(clientID, engagementID int64) string
	requests []store.RequestRow
}

func readRefills(tx *store.DB, clientIDs []int64) (*refills, error) {
	least, err := profiles.Nearest(tx, "funds_least", clientIDs...)
	if err != nil {
		return nil, err
	}
	requests, err := store.Requests(tx, 0)
	return &refills{least, requests}, err
}

// of is what is to be held of a fund at least, what was asked for and has not come, and what is to be asked for, in minor units. A least in
// decimals that its currency does not have counts as none.
func (r *refills) of(fund *store.ClientFundsRow) (least, asked, refill int64, err error) {
	decimals, err := fund.Currency.Decimals()
	if err != nil {
		return 0, 0, 0, err
	}
	for _, one := range r.requests {
		if one.State == "open" && one.ClientID == fund.ClientID && one.EntityID == fund.EntityID && one.Currency == fund.Currency &&
			store.OrZero(one.EngagementID) == store.OrZero(fund.EngagementID) {
			asked += one.Amount - one.Received
		}
	}
	text := r.least(fund.ClientID, store.OrZero(fund.EngagementID))
	if text == "" {
		return 0, asked, 0, nil
	}
	if least, err = money.ParseFixed(text, money.Point, decimals); err != nil {
		return 0, asked, 0, nil
	}
	return least, asked, funds.Refill(least, fund.Held-fund.Reserved, asked), nil
}

// AskRefills asks clients to bring what is held for them to the least again: a deposit request for each fund that is below it.
func AskRefills(ctx context.Context, a *app.App, r app.Request, fundsIDs []int64) ([]Request, error) {
	return app.Do(ctx, a, r, "ask for refills", fundsIDs, func(tx *app.Tx) ([]Request, error) {
		rules, err := readRefills(tx.DB, nil)
		if err != nil {
			return nil, err
		}
		made, numbers := []Request{}, []string{}
		for _, id := range fundsIDs {
			fund, err := store.FundsByID(tx.DB, id)
			if err != nil {
				return nil, app.Missing(err, "money held")
			}
			least, _, refill, err := rules.of(fund)
			if err != nil {
				return nil, err
			}
			if refill == 0 {
				continue
			}
			row, err := askRefill(tx, fund, least, refill)
			if err != nil {
				return nil, err
			}
			view, err := requestView(tx, row.ID)
			if err != nil {
				return nil, err
			}
			made, numbers = append(made, *view), append(numbers, row.NumberText)
		}
		if len(made) == 0 {
			return nil, app.Refuse(app.Conflict, "Enough is held, or asked for already: load the page again.")
		}
		tx.Describe(nil, nil, "Asked for %s: %s", app.Counted(len(made), "refill", "refills"), strings.Join(numbers, ", "))
		return made, nil
	})
}

func askRefill(tx *app.Tx, fund *store.ClientFundsRow, least, refill int64) (*store.DepositRequest, error) {
	w, err := papers.WordsOf(tx.DB, &store.Invoice{ClientID: fund.ClientID, EntityID: fund.EntityID, Currency: fund.Currency})
	if err != nil {
		return nil, err
	}
	return requested(tx, TypedRequest{ClientID: fund.ClientID, EngagementID: store.OrZero(fund.EngagementID), EntityID: fund.EntityID,
		Currency: fund.Currency, Amount: money.Amount{Minor: refill, Currency: fund.Currency}.Typed(),
		Text: w.Say(wording.Refill, "amount", w.Money(fundsAmount(fund, least)))})
}
