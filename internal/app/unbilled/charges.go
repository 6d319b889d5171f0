package unbilled

import (
	"encoding/json"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/pricing"
	"dorvet/internal/app"
	"dorvet/internal/app/profiles"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// ChargesDue makes the charges that plans without an end still lack, and reads
// those of engagements that are due on a day.
func ChargesDue(tx *app.Tx, engagementIDs []int64, upTo day.Day) ([]store.Charge, error) {
	lacking, err := lacking(tx.DB, engagementIDs, upTo)
	if err != nil {
		return nil, err
	}
	if err := store.Insert(tx.DB, lacking); err != nil {
		return nil, err
	}
	return store.DueCharges(tx.DB, engagementIDs, upTo)
}

// ChargesForeseen reads the charges that are due on a day, and those that
// [ChargesDue] would make; nil asks for those of all engagements.
func ChargesForeseen(tx *store.DB, engagementIDs []int64, upTo day.Day) ([]store.Charge, error) {
	due, err := store.DueCharges(tx, engagementIDs, upTo)
	if err != nil {
		return nil, err
	}
	lacking, err := lacking(tx, engagementIDs, upTo)
	for _, c := range lacking {
		if !c.ByHand {
			due = append(due, c)
		}
	}
	return due, err
}

// lacking are the recurring charges of engagements that are billed up to a day and
// not made yet: as a proposal agreed, or from the fee that stands on the engagement.
func lacking(tx *store.DB, engagementIDs []int64, upTo day.Day) ([]store.Charge, error) {
	engagements, err := store.GoingOn(tx, engagementIDs)
	if err != nil || len(engagements) == 0 {
		return nil, err
	}
	ids := make([]int64, len(engagements))
	for i, e := range engagements {
		ids[i] = e.ID
	}
	agreed, err := store.PlanLines(tx, ids)
	if err != nil {
		return nil, err
	}
	there, err := store.RecurringCharges(tx, ids)
	if err != nil {
		return nil, err
	}
	charges := []store.Charge{}
	for i := range engagements {
		e := &engagements[i]
		own, err := goOn(e, agreed[e.ID], there[e.ID], upTo)
		if err != nil {
			return nil, err
		}
		if len(own) == 0 {
			continue
		}
		taxed, err := WorkTax(tx, e)
		if err != nil {
			return nil, err
		}
		for n := range own {
			own[n].TaxCodeID = taxed
		}
		charges = append(charges, own...)
	}
	return charges, nil
}

// WorkTax is how work of an engagement is taxed.
func WorkTax(tx *store.DB, e *store.Engagement) (int64, error) {
	p, err := profiles.ProfileOf(tx, e)
	if err != nil {
		return 0, err
	}
	return profiles.TaxCode(tx, p, profiles.Work)
}

func goOn(e *store.Engagement, agreed []store.PlanLine, there []store.Charge, upTo day.Day) ([]store.Charge, error) {
	if len(agreed) == 0 {
		return fromFee(e, there, upTo)
	}
	charges := []store.Charge{}
	for _, row := range agreed {
		line := struct {
			pricing.Line
			Net money.Amount `json:"net"`
		}{}
		if err := json.Unmarshal([]byte(row.Content), &line); err != nil {
			return nil, err
		}
		if line.Rule.When != pricing.Recurring || line.Rule.ToTerm || line.Kind == pricing.Hourly && e.Arrangement == setup.Hourly {
			continue // a plan that ends was made whole; hours are billed as they are worked
		}
		like := store.Charge{EngagementID: e.ID, ProposalID: &row.ProposalID, Position: row.Position, Text: line.Description,
			Currency: e.Currency,
			Amount:   line.Net.Minor, ByHand: line.Rule.Hand, Beyond: true}
		more, err := recur(like, line.Rule, e, there, upTo)
		if err != nil {
			return nil, err
		}
		charges = append(charges, more...)
	}
	return charges, nil
}

var feeMonths = map[string]int{"month": 1, "quarter": 3, "year": 12}

// fromFee are charges of a recurring arrangement that no proposal made.
func fromFee(e *store.Engagement, there []store.Charge, upTo day.Day) ([]store.Charge, error) {
	if e.Arrangement != setup.Recurring || e.Fee == nil || feeMonths[e.FeePeriod] == 0 {
		return nil, nil
	}
	rule := pricing.Rule{When: pricing.Recurring, Every: feeMonths[e.FeePeriod], Unit: pricing.Month, Arrears: e.FeeArrears,
		Prorated: e.FeeProrated, ToTerm: true}
	return recur(store.Charge{EngagementID: e.ID, Text: e.Name, Currency: e.Currency, Amount: *e.Fee, Beyond: true}, rule, e, there, upTo)
}

// recur are the charges of a rule that are billed up to a day, after those that are
// there. What a charge covers is never charged again, whatever the work is called
// now or its fee begins.
func recur(like store.Charge, rule pricing.Rule, e *store.Engagement, there []store.Charge, upTo day.Day) ([]store.Charge, error) {
	start := e.FeeFrom
	if start.IsZero() {
		start = e.OpenedDay
	}
	charged := day.Day(0)
	for _, c := range there {
		if like.ProposalID == nil && c.ProposalID == nil || like.ProposalID != nil && c.ProposalID != nil && c.Text == like.Text {
			charged = max(charged, c.ToDay)
		}
	}
	charges := []store.Charge{}
	for _, period := range rule.Periods(start, upTo.AddDays(1), e.ClosedDay) {
		if period.From <= charged || period.Bill > upTo {
			continue
		}
		charge := like
		charge.Kind, charge.FromDay, charge.ToDay, charge.BillDay, charge.State = "recurring", period.From, period.To, period.Bill,
			"planned"
		net, err := pricing.Prorate(money.Amount{Minor: like.Amount, Currency: like.Currency}, period.Days, period.Whole)
		if err != nil {
			return nil, err
		}
		charge.Amount = net.Minor
		charges = append(charges, charge)
	}
	return charges, nil
}
