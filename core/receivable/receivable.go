// Package receivable knows what is owed: how late it is, in which band of age it
// lies, and which instalments a payment settles.
//
// Days late are counted from the day on which an instalment was due. A payment
// settles the oldest first, unless somebody says otherwise:
//
//	150.00 for 100.00 due 1 Nov and 100.00 due 1 Dec: 100.00 and 50.00
package receivable

import (
	"cmp"
	"slices"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/refusal"
)

// DaysLate is how many days after its due day an instalment is open; negative
// before it.
func DaysLate(due, asOf day.Day) int { return int(asOf - due) }

// Band is a band of age. Source: common practice, 1–30, 31–60, 61–90, over 90.
type Band int

// The bands.
const (
	NotDue Band = iota
	To30
	To60
	To90
	Over90
	bands
)

// BandOf is the band of a number of days late: day 90 is in the fourth, day 91
// in the last.
func BandOf(daysLate int) Band {
	if daysLate <= 0 {
		return NotDue
	}
	return min(Band((daysLate+29)/30), Over90)
}

// Ages is what is open in each band.
type Ages [bands]money.Amount

// NewAges has nothing in any band.
func NewAges(c money.Currency) Ages {
	var ages Ages
	for i := range ages {
		ages[i] = money.Zero(c)
	}
	return ages
}

// Add puts an open amount into its band.
func (a *Ages) Add(due, asOf day.Day, open money.Amount) (err error) {
	band := BandOf(DaysLate(due, asOf))
	a[band], err = a[band].Add(open)
	return err
}

// Late is what is open after its due day.
func (a Ages) Late() (money.Amount, error) { return money.Sum(a[0].Currency, a[To30:]...) }

// Owing is what is open by age, and apart from it what its clients dispute, which has no age as long as they do.
type Owing struct {
	Ages     Ages
	Disputed money.Amount
}

// NewOwing has nothing in it.
func NewOwing(c money.Currency) Owing { return Owing{NewAges(c), money.Zero(c)} }

// Add puts what is open of an instalment into its band, and what of it is disputed apart.
func (o *Owing) Add(due, asOf day.Day, open, disputed money.Amount) error {
	rest, err := open.Sub(disputed)
	if err != nil {
		return err
	}
	if o.Disputed, err = o.Disputed.Add(disputed); err != nil {
		return err
	}
	return o.Ages.Add(due, asOf, rest)
}

// Total is everything open.
func (o Owing) Total() (money.Amount, error) {
	return money.Sum(o.Disputed.Currency, append(o.Ages[:], o.Disputed)...)
}

// In values what is open at a rate, once for all of it, so that the bands and what is disputed add up to it:
// 10.00, 20.00 and 30.00 at 0.3333 are 20.00 in all, 3.33, 6.67 and 10.00.
func (o Owing) In(rate money.ExchangeRate, c money.Currency) (Owing, error) {
	total, err := o.Total()
	if err != nil {
		return o, err
	}
	if total, err = total.Convert(rate, c); err != nil {
		return o, err
	}
	weights := []int64{}
	for _, open := range o.Ages {
		weights = append(weights, open.Minor)
	}
	parts, err := money.Split(total.Minor, append(weights, o.Disputed.Minor))
	if err != nil {
		return o, err
	}
	valued := NewOwing(c)
	for i := range valued.Ages {
		valued.Ages[i].Minor = parts[i]
	}
	valued.Disputed.Minor = parts[bands]
	return valued, nil
}

// Aside is how much of each instalment of an invoice is disputed: it falls on those that are due last first.
//
//	100.00 due and 50.00 later, 60.00 disputed: 10.00 and 50.00
//
// Source: rules of this product, disputed in part.
func Aside(open []Open, disputed int64) []int64 {
	order := make([]int, len(open))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(open[b].Due, open[a].Due) })
	aside := make([]int64, len(open))
	for _, i := range order {
		aside[i] = min(max(open[i].Owed, 0), disputed)
		disputed -= aside[i]
	}
	return aside
}

// Open is an instalment of which something is owed, in minor units, and the invoice
// that it is of.
type Open struct {
	Due    day.Day
	Owed   int64
	Dated  day.Day
	Number int64 // of the invoice in its series; 0: it has none
}

// Allocate settles instalments with an amount, the oldest due first; of one due day the
// older invoice first, then the lower number, then in the order given. It gives what
// each gets, and what is left over.
func Allocate(amount int64, open []Open) (parts []int64, left int64) {
	order := make([]int, len(open))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int {
		x, y := open[a], open[b]
		return cmp.Or(cmp.Compare(x.Due, y.Due), cmp.Compare(x.Dated, y.Dated), cmp.Compare(x.Number, y.Number))
	})
	parts = make([]int64, len(open))
	for _, i := range order {
		parts[i] = min(max(open[i].Owed, 0), amount)
		amount -= parts[i]
	}
	return parts, amount
}

// Rest is what stays of an amount after it settled others: an error that says so
// if they take more than there is.
func Rest(amount money.Amount, parts []money.Amount) (money.Amount, error) {
	sum, err := money.Sum(amount.Currency, parts...)
	if err != nil {
		return amount, err
	}
	rest, err := amount.Sub(sum)
	if err == nil && rest.Minor < 0 {
		err = refusal.Errorf("%s is put on invoices, but the payment is %s: take %s away", sum, amount, rest.Neg())
	}
	return rest, err
}
