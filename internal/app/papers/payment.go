package papers

import (
	"errors"

	"dorvet/core/money"
	"dorvet/core/schedule"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Payable says how an amount due is paid, for the document; a schedule that does
// not fit is a problem, in words.
func Payable(tx *store.DB, inv *store.Invoice, due money.Amount) (parts []schedule.Instalment, problem string, err error) {
	parts, err = Instalments(tx, inv, due)
	if refused := new(app.Refusal); errors.As(err, &refused) {
		return nil, app.InField("", err).Error(), nil
	}
	return parts, "", err
}

// Instalments are how the amount due of a draft would be paid.
func Instalments(tx *store.DB, inv *store.Invoice, due money.Amount) ([]schedule.Instalment, error) {
	plan, err := schedule.ParsePlan(inv.Choices.Text("schedule"), money.Point)
	if err != nil {
		return nil, err
	}
	terms, err := schedule.ParseTerms(inv.Terms)
	if err != nil {
		return nil, err
	}
	around := schedule.Around{Issued: inv.Dated, Terms: terms}
	if len(plan) == 0 { // as one amount, whenever the work begins and ends
		return plan.Divide(due, around)
	}
	ids, err := store.EngagementsOf(tx, inv.ID)
	if err != nil {
		return nil, err
	}
	for _, id := range ids {
		e, err := store.Get[store.Engagement](tx, id)
		if err != nil {
			return nil, err
		}
		if around.Start.IsZero() || e.OpenedDay < around.Start {
			around.Start = e.OpenedDay
		}
		around.End = max(around.End, e.DueDay)
	}
	return plan.Divide(due, around)
}
