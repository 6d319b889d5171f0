package setup

import (
	"strings"

	"dorvet/core/budget"
	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

func budgetKind() registry.AnyKind {
	type B = store.Budget
	d := &registry.Definition[B]{
		Kind: registry.Kind{Name: "budgets", One: "budget", Many: "budgets",
			First: []string{"engagement", "measure", "hours", "per_hour", "amount"},
			About: "What may be used of hours, fees, expenses or invoices, once or again each period."},
		Belongs: func(v *B) int64 { return v.EngagementID },
		Table: registry.Concat(
			registry.Group("Budget",
				registry.Must("engagement", "Engagement", "engagements", func(b *B) *int64 { return &b.EngagementID }).Permanent(),
				registry.Ref("phase", "Only the phase or task", "phases", func(b *B) **int64 { return &b.PhaseID }).Listed(),
				registry.Choice("measure", "Of", func(b *B) *string { return (*string)(&b.Measure) }, string(budget.Hours), "hours",
					string(budget.Fees), "fees", string(budget.Expenses), "expenses", string(budget.Total), "fees and expenses",
					string(budget.Invoiced),
					"what is invoiced").Listed(),
				registry.HoursOf("hours", "Hours", func(b *B) *int64 { return &b.Minutes }).Hinted("of fees: expected").Listed(),
				registry.RateOf("per_hour", "Expected rate",
					func(b *B) **money.Rate { return &b.PerHour }).Hinted("with hours it gives the fee budget"),
				amountField(),
				registry.Choice("renewal", "Again", func(b *B) *string { return (*string)(&b.Renewal) }, string(budget.Once), "no, once",
					string(budget.Week), "each week", string(budget.Month), "each month", string(budget.Quarter), "each quarter",
					string(budget.Year),
					"each year").Listed(),
				registry.DayOf("from", "From", func(b *B) *day.Day { return &b.FromDay }).Listed(),
				registry.YesNo("carries", "What is left carries over", func(b *B) *bool { return &b.Carries })),
			registry.Group("Alerts",
				registry.Line("thresholds", "At, %", func(b *B) *string { return &b.Thresholds }).Hinted("like 75, 90, 100").Listed(),
				registry.LinkedPeople[B]("people", "Told to", store.BudgetPeople).Hinted("initials; nobody: the lead"))),
		Blank: func(e *registry.Env) (B, error) {
			return B{Measure: budget.Hours, Renewal: budget.Once, FromDay: e.Today, Thresholds: "75, 90, 100", Active: true}, nil
		},
		Check: checkBudget,
		// What was reached before is no news.
		After:  func(tx *app.Tx, e *registry.Env, _, b *B) error { return alertBudget(tx, e, b, tx.Today, false) },
		Active: func(b *B) *bool { return &b.Active },
	}
	return d.Ready()
}

func amountField() registry.FieldOf[store.Budget] {
	amount := func(b *store.Budget) *int64 {
		if b.Amount == 0 {
			return nil
		}
		return &b.Amount
	}
	f := registry.MoneyOf("amount", "Amount, net", func(b *store.Budget) **int64 { at := amount(b); return &at },
		func(_ *registry.Env, b *store.Budget) (money.Currency, error) { return b.Currency, nil })
	f.Column = true
	f.Write = func(e *registry.Env, b *store.Budget, text string) error {
		if b.Amount = 0; strings.TrimSpace(text) == "" {
			return nil
		}
		g, err := store.Get[store.Engagement](e.Tx, b.EngagementID)
		if err != nil {
			return err
		}
		decimals, err := g.Currency.Decimals()
		if err != nil {
			return err
		}
		b.Amount, err = money.ParseFixed(text, e.Firm.Mark(), decimals)
		return err
	}
	return f
}

func checkBudget(e *registry.Env, b *store.Budget) error {
	g, err := store.Get[store.Engagement](e.Tx, b.EngagementID)
	if err := app.Found(err, app.RefuseField("engagement", "Choose the engagement that this is for.")); err != nil {
		return err
	}
	b.Currency = g.Currency
	if b.PhaseID != nil {
		phase, err := store.Get[store.Phase](e.Tx, *b.PhaseID)
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
func thresholds(e *registry.Env, text string) ([]money.Percent, error) {
	shares := []money.Percent{}
	for _, word := range strings.FieldsFunc(text, func(r rune) bool {
		return r == ',' && e.Firm.Mark() != money.Comma || r == ';' ||
			r == ' ' || r == '%'
	}) {
		n, err := money.ParseFixed(strings.Trim(word, ","), e.Firm.Mark(), 4)
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
