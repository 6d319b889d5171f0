// Package setup is the firm and what it works with: people, clients,
// engagements, services, rates, and who may sign in.
package setup

import (
	"context"
	"fmt"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/schedule"
	"dorvet/core/worktime"
	"dorvet/internal/app"
	"dorvet/internal/store"

	"gorm.io/gorm"
)

// Foundation is what a firm starts with. Its rows are numbered by the store; the
// firm's tax code and the series' entity name the codes and entities by their
// place in the lists, from 1.
type Foundation struct {
	Firm     store.Firm
	Entities []store.IssuingEntity
	Series   []store.Series
	Codes    []store.TaxCode
	Rates    []store.TaxRate
	Exchange []store.ExchangeRate
}

// Establish writes the firm into an empty database.
func Establish(ctx context.Context, a *app.App, f Foundation) error {
	_, err := app.Do(ctx, a, app.Request{}, "establish the firm", nil, func(tx *app.Tx) (struct{}, error) {
		tx.Tell(nil, f.Firm.Name, "Established %s", f.Firm.Name)
		tx.Concerns(app.OfSetup, 1)
		f.Firm.ID = 1
		for _, rows := range []any{f.Entities, f.Series, f.Codes, f.Rates, &f.Firm, f.Exchange} {
			if err := store.Insert(tx.DB, rows); err != nil {
				return struct{}{}, err
			}
		}
		return struct{}{}, nil
	})
	return err
}

// Record is a row of the set-up that can be added.
type Record interface {
	store.Grade | store.Person | store.Service | store.Client | store.Engagement | store.Rate
}

// Add writes a new row of the set-up with its history.
func Add[T Record](ctx context.Context, a *app.App, r app.Request, what string, record T) (T, error) {
	return app.Do(ctx, a, r, "add "+what, nil, func(tx *app.Tx) (T, error) {
		tx.Tell(nil, nil, "Added %s", what)
		tx.Concerns(app.OfSetup, 1)
		if err := check(record); err != nil {
			return record, err
		}
		err := store.Insert(tx.DB, &record)
		return record, err
	})
}

// check refuses values that computation could not use.
func check(record any) error {
	switch r := record.(type) {
	case store.Client:
		return checkMoney(r.Currency, r.Terms)
	case store.Engagement:
		return checkMoney(r.Currency, r.Terms)
	case store.Rate:
		return checkMoney(r.Currency, "")
	}
	return nil
}

func checkMoney(currency money.Currency, terms string) error {
	if _, err := currency.Decimals(); err != nil {
		return app.InField("currency", err)
	}
	if terms == "" {
		return nil
	}
	_, err := schedule.ParseTerms(terms)
	return app.InField("terms", err)
}

// Rule is how an engagement bills minutes: its own values over the firm's.
func Rule(firm *store.Firm, e *store.Engagement) worktime.Rule {
	rule := worktime.Rule{Increment: firm.IncrementMinutes, Rounding: firm.Rounding, Minimum: firm.MinimumMinutes}
	if e.IncrementMinutes != nil {
		rule.Increment = *e.IncrementMinutes
	}
	if e.Rounding != "" {
		rule.Rounding = e.Rounding
	}
	if e.MinimumMinutes != nil {
		rule.Minimum = *e.MinimumMinutes
	}
	return rule
}

// Terms are the payment terms of an engagement, of its client or of the firm.
func Terms(firm *store.Firm, client *store.Client, e *store.Engagement) string {
	for _, terms := range []string{e.Terms, client.Terms} {
		if terms != "" {
			return terms
		}
	}
	return firm.Terms
}

// TaxCode is the code of an engagement, of its client or of the firm.
func TaxCode(firm *store.Firm, client *store.Client, e *store.Engagement) int64 {
	for _, code := range []*int64{e.TaxCodeID, client.TaxCodeID} {
		if code != nil {
			return *code
		}
	}
	return firm.TaxCodeID
}

// Exchange is the rate by which an amount of a day counts in the firm's
// currency, and where that rate comes from.
func Exchange(tx *gorm.DB, firm *store.Firm, currency money.Currency, on day.Day) (money.ExchangeRate, string, error) {
	if currency == firm.Currency {
		return money.Par, "the firm's own currency", nil
	}
	found, err := store.Exchange(tx, currency, on)
	if err != nil {
		return 0, "", app.Refuse(app.Invalid, "There is no exchange rate of %s for %s or before: record one first.", currency, on.Long())
	}
	return found.Rate, fmt.Sprintf("%s, %s", found.Source, found.Day), nil
}
