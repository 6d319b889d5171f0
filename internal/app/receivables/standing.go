package receivables

import (
	"dorvet/core/day"
	"dorvet/core/money"
	core "dorvet/core/receivable"
	"dorvet/core/refusal"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// Standing is what is owed in the firm's currency at the rates of a day. Each currency is
// valued once, its ages by largest remainder: they add up to the total, wherever it stands.
type Standing struct {
	Ages     []money.Amount   `json:"ages" doc:"not due, 1-30, 31-60, 61-90, over 90 days late; at the rates of the day"`
	Total    money.Amount     `json:"total"`
	Late     money.Amount     `json:"late"`
	Exchange money.Amount     `json:"exchange" doc:"of the total: what rates have made of it since it was issued"`
	Without  []money.Currency `json:"without" doc:"currencies without a rate, left out of the sums"`
}

// StandingOn values everything that is owed, on a day.
func StandingOn(tx *store.DB, firm *store.Firm, on day.Day) (Standing, error) {
	rows, err := store.OpenInstalments(tx, 0)
	if err != nil {
		return Standing{}, err
	}
	return standing(tx, firm, on, rows)
}

func standing(tx *store.DB, firm *store.Firm, on day.Day, rows []store.OpenInstalment) (s Standing, err error) {
	order, open, book := []money.Currency{}, map[money.Currency]*core.Ages{}, map[money.Currency]int64{}
	for i := range rows {
		in := rows[i].Currency
		if open[in] == nil {
			none := core.NewAges(in)
			order, open[in] = append(order, in), &none
		}
		if err := open[in].Add(rows[i].DueDay, on, money.Amount{Minor: rows[i].Open, Currency: in}); err != nil {
			return s, err
		}
		book[in] += rows[i].OpenFirm
	}
	all, booked := core.NewAges(firm.Currency), money.Zero(firm.Currency)
	s.Without = []money.Currency{}
	for _, in := range order {
		rate, _, err := setup.Exchange(tx, firm, in, on)
		if refusal.Is(err) {
			s.Without = append(s.Without, in)
			continue
		}
		if err != nil {
			return s, err
		}
		valued, err := open[in].In(rate, firm.Currency)
		if err != nil {
			return s, err
		}
		if all, err = all.Plus(valued); err != nil {
			return s, err
		}
		booked.Minor += book[in]
	}
	s.Ages = all[:]
	if s.Total, err = all.Total(); err != nil {
		return s, err
	}
	if s.Late, err = all.Late(); err != nil {
		return s, err
	}
	s.Exchange, err = s.Total.Sub(booked)
	return s, err
}
