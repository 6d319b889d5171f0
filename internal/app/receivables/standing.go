package receivables

import (
	"fmt"

	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/money"
	core "dorvet/core/receivable"
	"dorvet/core/refusal"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// Standing is what is owed in the firm's currency at the rates of a day. Each currency is
// valued once, its ages by largest remainder: they add up to the total, wherever it stands.
type Standing struct {
	Ages     explain.Totals   `json:"ages" doc:"not due, 1-30, 31-60, 61-90, over 90 days late; at the rates of the day"`
	Total    explain.Total    `json:"total"`
	Late     explain.Total    `json:"late" doc:"without what is disputed"`
	Disputed explain.Total    `json:"disputed" doc:"apart from the ages"`
	Exchange explain.Total    `json:"exchange" doc:"of the total: what rates have made of it since it was issued"`
	Without  []money.Currency `json:"without" doc:"currencies without a rate, left out of the sums"`
}

// StandingOn values everything that is owed, on a day.
func StandingOn(a *app.App, tx *store.DB, firm *store.Firm, on day.Day) (Standing, error) {
	all, err := claimsOf(a, tx, 0)
	if err != nil {
		return Standing{}, err
	}
	return standing(tx, firm, on, allOpen(all))
}

// standing values what is open of some instalments, each currency by itself.
func standing(tx *store.DB, firm *store.Firm, on day.Day, rows []store.OpenInstalment) (s Standing, err error) {
	open, ages, book := explain.Totals{}, map[money.Currency]*core.Owing{}, map[money.Currency]int64{}
	for i := range rows {
		row := &rows[i]
		if ages[row.Currency] == nil {
			none := core.NewOwing(row.Currency)
			ages[row.Currency] = &none
		}
		owed := money.Amount{Minor: row.Open, Currency: row.Currency}
		if err := ages[row.Currency].Add(row.DueDay, on, owed, money.Amount{Minor: row.Aside, Currency: row.Currency}); err != nil {
			return s, err
		}
		if err := open.Add("Owed, gross", explain.Step{Label: row.Client}, owed); err != nil {
			return s, err
		}
		book[row.Currency] += row.OpenFirm
	}
	s = NothingOwed(firm.Currency)
	for _, own := range open {
		rate, source, err := setup.Exchange(tx, firm, own.Currency, on)
		if refusal.Is(err) {
			s.Without = append(s.Without, own.Currency)
			continue
		}
		if err != nil {
			return s, err
		}
		valued, err := ages[own.Currency].In(rate, firm.Currency)
		if err != nil {
			return s, err
		}
		step := setup.AtRate(own, rate, source)
		if err := s.add(step, valued, money.Amount{Minor: book[own.Currency], Currency: firm.Currency}); err != nil {
			return s, err
		}
	}
	return s, nil
}

// NothingOwed is how everything stands when nothing is owed, in the firm's currency.
func NothingOwed(in money.Currency) Standing {
	s := Standing{Total: explain.NoTotal("Owed, gross", in), Late: explain.NoTotal("Late", in), Disputed: explain.NoTotal("Disputed", in),
		Exchange: explain.NoTotal("Exchange", in), Without: []money.Currency{}}
	for _, band := range []string{"Not due", "1 to 30 days late", "31 to 60 days late", "61 to 90 days late", "Over 90 days late"} {
		s.Ages = append(s.Ages, explain.NoTotal(band, in))
	}
	return s
}

// add adds what is owed in one currency: of what step tells, its ages at the rates of the day, and
// what it was booked as.
func (s *Standing) add(step explain.Step, owing core.Owing, booked money.Amount) error {
	total, err := owing.Total()
	if err != nil {
		return err
	}
	late, err := owing.Ages.Late()
	if err != nil {
		return err
	}
	exchange, err := total.Sub(booked)
	if err != nil {
		return err
	}
	of := explain.Step{Label: step.Label, Detail: step.Detail}
	parts := []struct {
		to     *explain.Total
		step   explain.Step
		amount money.Amount
	}{{&s.Total, step, total}, {&s.Late, of, late}, {&s.Disputed, of, owing.Disputed}, {&s.Exchange, explain.Step{Label: of.Label,
		Detail: fmt.Sprintf("%s now, %s when it was issued", total, booked)}, exchange}}
	for _, p := range parts {
		if err := p.to.Add(p.step, p.amount); err != nil {
			return err
		}
	}
	for band := range s.Ages {
		if err := s.Ages[band].Add(of, owing.Ages[band]); err != nil {
			return err
		}
	}
	return nil
}
