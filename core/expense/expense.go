// Package expense is what money spent on a client's behalf is worth, and how one
// purchase is shared over several engagements.
//
// The cost of a purchase is what was paid without the tax that the firm gets
// back. Its shares always add up to it; what is left over after some of them is
// offered for the next:
//
//	of 250.00, a share of 80.00 leaves 170.00
//
// A share is worth its cost and the mark-up on it, rounded once. A disbursement,
// which is paid in the client's name, carries neither mark-up nor tax.
package expense

import (
	"fmt"

	"dorvet/core/explain"
	"dorvet/core/money"
	"dorvet/core/refusal"
	"dorvet/core/wip"
)

// Paid is what a receipt says: an amount, or units at a price each; and the tax
// in it that the firm gets back.
type Paid struct {
	Units   int64        `json:"units,omitempty"`   // ten-thousandths; 0: an amount
	PerUnit *money.Rate  `json:"perUnit,omitempty"` // with Units
	Unit    string       `json:"unit,omitempty"`    // "km"
	Amount  money.Amount `json:"amount"`            // with the tax; units × price, rounded once
	Tax     money.Amount `json:"tax"`               // that is got back
}

// Of is units at a price each, in a currency.
func Of(units int64, unit string, perUnit money.Rate, currency money.Currency) (Paid, error) {
	amount, err := perUnit.ForQuantity(units, 0, currency)
	return Paid{Units: units, PerUnit: &perUnit, Unit: unit, Amount: amount, Tax: money.Zero(currency)}, err
}

// Cost is what the firm bears: the amount less the tax that it gets back.
func (p Paid) Cost() (money.Amount, error) {
	cost, err := p.Amount.Sub(p.Tax)
	switch {
	case err != nil:
		return cost, err
	case p.Tax.Minor < 0 || p.Tax.Minor > p.Amount.Minor:
		return cost, refusal.Errorf("tax of %s does not fit in %s: give the part of the amount that is tax", p.Tax, p.Amount)
	}
	return cost, nil
}

// Valued is the worth of a share, with everything that it was made from.
type Valued struct {
	Paid         *Paid         `json:"paid,omitempty"` // of the whole purchase
	Cost         money.Amount  `json:"cost"`
	Shared       bool          `json:"shared,omitempty"` // the purchase has other shares
	Markup       money.Percent `json:"markup"`
	Disbursement bool          `json:"disbursement,omitempty"`
	Treatment    wip.Treatment `json:"treatment"`
	Agreed       money.Amount  `json:"agreed"`
	Standard     money.Amount  `json:"standard"`
}

// PerUnit is what the client pays for each unit of a purchase that is not shared: its price
// with the mark-up. It is an error where units × that price is not what is agreed.
func (v Valued) PerUnit(paid Paid) (*money.Rate, error) {
	marked, err := money.MulDiv(int64(*paid.PerUnit), int64(money.Hundred+v.Markup), int64(money.Hundred))
	if err != nil {
		return nil, err
	}
	each := money.Rate(marked)
	amount, err := each.ForQuantity(paid.Units, 0, v.Agreed.Currency)
	if err == nil && amount != v.Agreed {
		err = fmt.Errorf("%s units at %s are %s, agreed is %s", money.TypeFixed(paid.Units, money.Point, 4, 0), each, amount, v.Agreed)
	}
	return &each, err
}

// Value computes what a share is worth: cost × (1 + mark-up), rounded once. At
// no charge it keeps its standard value and is billed at zero.
func Value(v Valued) (Valued, error) {
	switch {
	case v.Cost.Minor <= 0:
		return v, refusal.Errorf("a share of %s is nothing to charge: give more than 0", v.Cost)
	case v.Markup < -money.Hundred:
		return v, refusal.Errorf("a mark-down of %s %% is more than everything: give at most 100 %%", -v.Markup)
	case v.Disbursement && v.Markup != 0:
		return v, refusal.Errorf("a disbursement is paid in the client's name and has no mark-up: leave it empty")
	}
	var err error
	if v.Standard, err = (money.Hundred + v.Markup).Of(v.Cost); err != nil {
		return v, err
	}
	v.Agreed = money.Zero(v.Cost.Currency)
	if v.Treatment.Charged() {
		v.Agreed = v.Standard
	}
	return v, nil
}

// Explain says how the value was made.
func (v Valued) Explain() explain.Step {
	step := explain.Step{Label: "Value", Figure: v.Agreed.String(), Steps: []explain.Step{v.cost()}}
	switch {
	case v.Treatment == wip.NotBillable:
		step.Steps = append(step.Steps, explain.Step{Label: "Not billable", Detail: "never on an invoice"})
	case v.Treatment == wip.NoCharge:
		step.Steps = append(step.Steps, explain.Step{Label: "No charge", Detail: "printed on the invoice at zero",
			Figure: v.Agreed.String()})
	case v.Disbursement:
		step.Detail = "a disbursement: neither mark-up nor tax"
	case v.Markup != 0:
		label := "Mark-up"
		if v.Markup < 0 {
			label = "Mark-down"
		}
		step.Steps = append(step.Steps, explain.Step{Label: label, Figure: v.Markup.String() + " %"})
		step.Detail = "cost and mark-up, rounded once"
	}
	return step
}

func (v Valued) cost() explain.Step {
	step := explain.Step{Label: "Cost", Figure: v.Cost.String()}
	if v.Shared {
		step.Label = "Share of the cost"
	}
	if v.Paid == nil {
		return step
	}
	paid := explain.Step{Label: "Paid", Figure: v.Paid.Amount.String()}
	if v.Paid.PerUnit != nil {
		paid.Detail = fmt.Sprintf("%s %s × %s, rounded once", money.TypeFixed(v.Paid.Units, money.Point, 4, 0), v.Paid.Unit,
			*v.Paid.PerUnit)
	}
	step.Steps = append(step.Steps, paid)
	if !v.Paid.Tax.IsZero() {
		step.Steps = append(step.Steps, explain.Step{Label: "Tax in it, got back", Figure: v.Paid.Tax.Neg().String()})
	}
	return step
}
