package setup

import (
	"fmt"

	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/money"
	"dorvet/core/refusal"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Exchange is the rate by which an amount of a day counts in the firm's
// currency, and where that rate comes from.
func Exchange(tx *store.DB, firm *store.Firm, currency money.Currency, on day.Day) (money.ExchangeRate, string, error) {
	if currency == firm.Currency {
		return money.Par, "the firm's own currency", nil
	}
	found, err := store.Exchange(tx, currency, on)
	if err := app.Found(err, app.Refuse(app.Invalid, "There is no exchange rate of %s for %s or before: record one first.", currency,
		on.Long())); err != nil {
		return 0, "", err
	}
	return found.Rate, fmt.Sprintf("%s, %s", found.Source, found.Day.Long()), nil
}

// InFirm adds totals up in the firm's currency, at the rates of a day; those without a rate are
// left out, and said.
func InFirm(tx *store.DB, firm *store.Firm, on day.Day, label string, totals explain.Totals) (explain.Total, []money.Currency, error) {
	all, without := explain.NoTotal(label, firm.Currency), []money.Currency(nil)
	for _, total := range totals {
		rate, source, err := Exchange(tx, firm, total.Currency, on)
		if refusal.Is(err) {
			without = append(without, total.Currency)
			continue
		}
		if err != nil {
			return all, without, err
		}
		valued, err := total.Convert(rate, firm.Currency)
		if err != nil {
			return all, without, err
		}
		if err := all.Add(AtRate(total, rate, source), valued); err != nil {
			return all, without, err
		}
	}
	return all, without, nil
}

// AtRate is the step that values a total at a rate: what it is in its own currency, and what that is
// made of.
func AtRate(total explain.Total, rate money.ExchangeRate, source string) explain.Step {
	step := explain.Step{Label: fmt.Sprintf("%s %s", total.Currency, total), Steps: total.Shortened().Explanation.Steps}
	if rate != money.Par {
		step.Detail = fmt.Sprintf("× %s, %s", money.TypeFixed(int64(rate), money.Point, 8, 4), source)
	}
	return step
}
