// Package wip is work in progress: what an entry is worth, what can happen to
// it, and how old it is.
//
// An entry has two values, each rounded once, on the entry. The agreed value is
// what is billed: billed hours × winning rate × (1 + mark-up). The standard
// value is what anybody would pay: billed hours × standard rate. Whatever
// groups entries adds these values.
//
//	85 minutes at 6-minute increments are 90; 1.5 h × 142.50 = 213.75
package wip

import (
	"fmt"

	"dorvet/core/money"
	"dorvet/core/rate"
	"dorvet/core/worktime"
)

// Treatment says how an entry is billed.
type Treatment string

// Billable work is on the invoice with its value, work at no charge at zero;
// what is not billable is never on one.
const (
	Billable    Treatment = "billable"
	NoCharge    Treatment = "no_charge"
	NotBillable Treatment = "not_billable"
)

// ParseTreatment reads a treatment as it is kept.
func ParseTreatment(text string) (Treatment, error) {
	switch t := Treatment(text); t {
	case Billable, NoCharge, NotBillable:
		return t, nil
	}
	return "", fmt.Errorf("%q is not a way to bill: choose billable, no_charge or not_billable", text)
}

// Work is what was recorded, and the rates that hold for it.
type Work struct {
	Worked      int // minutes
	NotBillable int // minutes of Worked
	Treatment   Treatment
	Markup      money.Percent
	Rule        worktime.Rule
	Currency    money.Currency
	Agreed      rate.Resolution
	Standard    rate.Resolution
}

// Valued is the worth of an entry with everything it was made from.
type Valued struct {
	Billed       worktime.Billed `json:"billed"`
	Treatment    Treatment       `json:"treatment"`
	Markup       money.Percent   `json:"markup"`
	Rate         rate.Resolution `json:"rate"`
	StandardRate rate.Resolution `json:"standardRate"`
	Agreed       money.Amount    `json:"agreed"`
	Standard     money.Amount    `json:"standard"`
	// WithoutRate marks billable work for which no rate holds; it can't be
	// billed until it has one.
	WithoutRate bool `json:"withoutRate,omitempty"`
}

// Value computes an entry's worth.
func Value(w Work) (Valued, error) {
	v := Valued{Treatment: w.Treatment, Markup: w.Markup, Rate: w.Agreed, StandardRate: w.Standard,
		Agreed: money.Zero(w.Currency), Standard: money.Zero(w.Currency)}
	var err error
	if v.Billed, err = w.Rule.Bill(w.Worked, w.NotBillable); err != nil {
		return Valued{}, err
	}
	standard, hasStandard := w.Standard.PerHour()
	agreed, hasAgreed := w.Agreed.PerHour()
	v.WithoutRate = w.Treatment == Billable && !hasAgreed
	if hasAgreed && w.Treatment == Billable {
		if v.Agreed, err = agreed.ForMinutes(int64(v.Billed.Minutes), w.Markup, w.Currency); err != nil {
			return Valued{}, err
		}
	}
	if !hasStandard { // a client's own rate is then the only measure there is
		standard = agreed
	}
	v.Standard, err = standard.ForMinutes(int64(v.Billed.Minutes), 0, w.Currency)
	return v, err
}
