// Package onlinepayment is a payment that a client makes on their page, through a payment service: what is offered, what it costs, and
// what becomes of it.
package onlinepayment

import (
	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/receivable"
)

// State is how far a payment has come.
type State string

// The states. Asked is before the service has answered; a bank debit is pending for days, and can come back weeks after it was received.
const (
	Asked    State = "asked"
	Pending  State = "pending"
	Received State = "received"
	Failed   State = "failed"
	Returned State = "returned"
)

// After is the state after the service says that a payment is in one, and whether that changes anything. What it says comes
// late, twice and in any order: each thing acts once, and what has come back stays back.
func (s State) After(said State) (State, bool) {
	switch {
	case s == said, said == Asked, s == Returned, said == Pending && s != Asked, said == Failed && s == Received:
		return s, false
	}
	return said, true
}

// Offer is what a client can pay now.
type Offer struct {
	First int64 // what is due today, or if nothing is, all that can be paid
	All   int64
}

// Offered is what is open of the instalments of an invoice, but for what is disputed, which falls on the last of them first.
//
//	100.00 due and 50.00 later, 60.00 disputed: first 90.00, all 90.00
func Offered(parts []receivable.Open, disputed int64, today day.Day) Offer {
	o, aside := Offer{}, receivable.Aside(parts, disputed)
	for i, part := range parts {
		left := max(part.Owed, 0) - aside[i]
		if o.All += left; part.Due <= today {
			o.First += left
		}
	}
	if o.First == 0 {
		o.First = o.All
	}
	return o
}

// Fee is what paying costs the payer: a share of the amount, rounded once, and a fixed amount in ten-thousandths of the currency's unit.
type Fee struct {
	Percent money.Percent
	Fixed   int64
}

// Of is the fee on an amount.
//
//	1,000.00 at 1.5 % + 0.25 → 15.25
func (f Fee) Of(a money.Amount) (money.Amount, error) {
	share, err := f.Percent.Of(a)
	if err != nil {
		return share, err
	}
	fixed, err := a.Currency.Least(f.Fixed)
	if err != nil {
		return share, err
	}
	return share.Add(money.Amount{Minor: fixed, Currency: a.Currency})
}
