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
	"dorvet/core/money"
	"dorvet/core/rate"
	"dorvet/core/refusal"
	"dorvet/core/worktime"
)

// Treatment says how an entry is billed.
type Treatment string

// Billable work is on the invoice with its value, under a fixed fee as part of
// the fee; work out of the arrangement's scope is billed by itself even then.
// Work at no charge is on the invoice at zero, what is not billable never.
const (
	Billable    Treatment = "billable"
	OutOfScope  Treatment = "out_of_scope"
	NoCharge    Treatment = "no_charge"
	NotBillable Treatment = "not_billable"
)

// ParseTreatment reads a treatment as it is kept.
func ParseTreatment(text string) (Treatment, error) {
	switch t := Treatment(text); t {
	case Billable, OutOfScope, NoCharge, NotBillable:
		return t, nil
	}
	return "", refusal.Errorf("%q is not a way to bill: choose billable, out_of_scope, no_charge or not_billable", text)
}

// Charged reports whether work so treated has an agreed value.
func (t Treatment) Charged() bool { return t == Billable || t == OutOfScope }

// Work is what was recorded, and the rates that hold for it.
type Work struct {
	Worked      int // minutes
	NotBillable int // minutes of Worked
	Treatment   Treatment
	Markup      money.Percent
	Flat        *money.Amount // in place of hours × rate
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
	Flat         *money.Amount   `json:"flat,omitempty"`
	Rate         rate.Resolution `json:"rate"`
	StandardRate rate.Resolution `json:"standardRate"`
	Agreed       money.Amount    `json:"agreed"`
	Standard     money.Amount    `json:"standard"`
	// WithoutRate marks billable work for which no rate holds; it can't be
	// billed until it has one.
	WithoutRate bool `json:"withoutRate,omitempty"`
}

// Value computes an entry's worth. Negative amounts are refused, and so is a
// mark-up that takes away more than there is, or one on a flat amount.
func Value(w Work) (Valued, error) {
	v := Valued{Treatment: w.Treatment, Markup: w.Markup, Flat: w.Flat, Rate: w.Agreed, StandardRate: w.Standard,
		Agreed: money.Zero(w.Currency), Standard: money.Zero(w.Currency)}
	var err error
	if v.Billed, err = w.Rule.Bill(w.Worked, w.NotBillable); err != nil {
		return Valued{}, err
	}
	if w.Markup < -money.Hundred {
		return Valued{}, refusal.Errorf("a mark-down of %s %% is more than everything: give at most 100 %%", -w.Markup)
	}
	if w.Flat != nil {
		return v, v.flat()
	}
	return v, v.byTheHour(w.Currency)
}

// flat values an entry at its flat amount, whatever was worked.
func (v *Valued) flat() error {
	switch {
	case v.Markup != 0:
		return refusal.Errorf("a flat amount has no mark-up: give the amount as it is to be billed")
	case v.Flat.Minor < 0:
		return refusal.Errorf("a flat amount of %s is negative: give 0 or more", v.Flat)
	}
	v.Standard = *v.Flat
	if v.Treatment.Charged() {
		v.Agreed = *v.Flat
	}
	return nil
}

func (v *Valued) byTheHour(currency money.Currency) (err error) {
	standard, hasStandard := v.StandardRate.PerHour()
	agreed, hasAgreed := v.Rate.PerHour()
	v.WithoutRate = v.Treatment.Charged() && !hasAgreed
	if hasAgreed && v.Treatment.Charged() {
		if v.Agreed, err = agreed.ForMinutes(int64(v.Billed.Minutes), v.Markup, currency); err != nil {
			return err
		}
	}
	if !hasStandard { // a client's own rate is then the only measure there is
		standard = agreed
	}
	v.Standard, err = standard.ForMinutes(int64(v.Billed.Minutes), 0, currency)
	return err
}
