package setup

import (
	"strings"

	"dorvet/core/budget"
	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

func budgetKind() kind {
	type B = store.Budget
	d := &definition[B]{
		Kind:    Kind{Name: "budgets", One: "budget", Many: "budgets", First: []string{"engagement", "measure", "hours", "amount"}, About: "What may be used of hours, fees, expenses or invoices, once or again each period."},
		belongs: func(v *B) int64 { return v.EngagementID },
		fields: concat(
			group("Budget",
				must("engagement", "Engagement", "engagements", func(b *B) *int64 { return &b.EngagementID }).fixed(),
				ref("phase", "Only the phase or task", "phases", func(b *B) **int64 { return &b.PhaseID }).column(),
				choice("measure", "Of", func(b *B) *string { return (*string)(&b.Measure) }, string(budget.Hours), "hours", string(budget.Fees), "fees", string(budget.Expenses), "expenses", string(budget.Total), "fees and expenses", string(budget.Invoiced), "what is invoiced").column(),
				hoursOf("hours", "Hours", func(b *B) *int64 { return &b.Minutes }).hint("of fees: expected").column(),
				rateOf("per_hour", "Expected rate", func(b *B) **money.Rate { return &b.PerHour }).hint("with hours it gives the fee budget"),
				amountField(),
				choice("renewal", "Again", func(b *B) *string { return (*string)(&b.Renewal) }, string(budget.Once), "no, once", string(budget.Week), "each week", string(budget.Month), "each month", string(budget.Quarter), "each quarter", string(budget.Year), "each year").column(),
				dayOf("from", "From", func(b *B) *day.Day { return &b.FromDay }).column(),
				yesNo("carries", "What is left carries over", func(b *B) *bool { return &b.Carries })),
			group("Alerts",
				line("thresholds", "At, %", func(b *B) *string { return &b.Thresholds }).hint("like 75, 90, 100").column(),
				people[B]("people", "Told to", store.BudgetPeople).hint("initials; nobody: the lead"))),
		blank: func(e *env) (B, error) {
			return B{Measure: budget.Hours, Renewal: budget.Once, FromDay: e.today, Thresholds: "75, 90, 100", Active: true}, nil
		},
		check: checkBudget,
		// What was reached before is no news.
		after:  func(tx *app.Tx, e *env, _, b *B) error { return alertBudget(tx, e, b, tx.Today, false) },
		active: func(b *B) *bool { return &b.Active },
	}
	return d.ready()
}

func amountField() field[store.Budget] {
	amount := func(b *store.Budget) *int64 {
		if b.Amount == 0 {
			return nil
		}
		return &b.Amount
	}
	f := moneyOf("amount", "Amount, net", func(b *store.Budget) **int64 { at := amount(b); return &at }, func(_ *env, b *store.Budget) (money.Currency, error) { return b.Currency, nil })
	f.Column = true
	f.set = func(e *env, b *store.Budget, text string) error {
		if b.Amount = 0; strings.TrimSpace(text) == "" {
			return nil
		}
		g, err := store.Get[store.Engagement](e.tx, b.EngagementID)
		if err != nil {
			return err
		}
		decimals, err := g.Currency.Decimals()
		if err != nil {
			return err
		}
		b.Amount, err = money.ParseFixed(text, e.firm.Mark(), decimals)
		return err
	}
	return f
}

func checkBudget(e *env, b *store.Budget) error {
	g, err := store.Get[store.Engagement](e.tx, b.EngagementID)
	if err := app.Found(err, app.RefuseField("engagement", "Choose the engagement that this is for.")); err != nil {
		return err
	}
	b.Currency = g.Currency
	if b.PhaseID != nil {
		phase, err := store.Get[store.Phase](e.tx, *b.PhaseID)
		if err := app.Unless(err, app.RefuseField("phase", "This phase is of another engagement: choose one of %s.", g.Name),
			func() bool { return phase.EngagementID == b.EngagementID }); err != nil {
			return err
		}
		if b.Measure == budget.Invoiced {
			return app.RefuseField("measure", "Invoices are counted for the whole engagement: leave the phase out.")
		}
	}
	if _, err := thresholds(e, b.Thresholds); err != nil {
		return err
	}
	limit, err := limitOf(b)
	if err == nil && limit <= 0 {
		field := map[bool]string{true: "hours", false: "amount"}[b.Measure == budget.Hours]
		err = app.RefuseField(field, "A budget needs a limit: give its hours, an amount, or expected hours with a rate.")
	}
	return err
}

// thresholds reads the shares at which a budget alerts.
func thresholds(e *env, text string) ([]money.Percent, error) {
	shares := []money.Percent{}
	for _, word := range strings.FieldsFunc(text, func(r rune) bool { return r == ',' && e.firm.Mark() != money.Comma || r == ';' || r == ' ' || r == '%' }) {
		n, err := money.ParseFixed(strings.Trim(word, ","), e.firm.Mark(), 4)
		if err != nil || n <= 0 {
			return nil, app.RefuseField("thresholds", "%q is no share: write percentages like 75, 90, 100.", word)
		}
		shares = append(shares, money.Percent(n))
	}
	return shares, nil
}

// limitOf is the limit of a budget in its unit: an amount as typed, or else
// expected hours × rate.
func limitOf(b *store.Budget) (int64, error) {
	switch {
	case b.Measure == budget.Hours:
		return b.Minutes, nil
	case b.Amount != 0 || b.PerHour == nil:
		return b.Amount, nil
	}
	fee, err := budget.Fee(b.Minutes, *b.PerHour, b.Currency)
	return fee.Minor, err
}
