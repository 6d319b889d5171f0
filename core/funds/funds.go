// Package funds is money held for clients: what a bill may take of it, and the
// statement that the client gets. It is the client's until it is applied, and
// never falls below zero.
//
//	10,000.00 held, 3,700.20 applied: 6,299.80 held
package funds

import (
	"fmt"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/refusal"
)

// Held is one fund of a client: what is in it, and what drafts have reserved.
type Held struct {
	ID             int64
	Held, Reserved int64 // minor units
}

// Free is what can still be applied or refunded.
func (h Held) Free() int64 { return max(h.Held-h.Reserved, 0) }

// Take says what each fund gives towards an amount due, in the order given: all
// that is due and free, unless at most so much is asked for; nil asks for all.
func Take(due int64, held []Held, atMost *int64) (taken []int64, sum int64) {
	left := max(due, 0)
	if atMost != nil {
		left = min(left, max(*atMost, 0))
	}
	taken = make([]int64, len(held))
	for i, fund := range held {
		taken[i] = min(left, fund.Free())
		left -= taken[i]
		sum += taken[i]
	}
	return taken, sum
}

// Pay takes an amount out of a fund, or refuses with what is free.
func Pay(h Held, amount money.Amount) (left int64, err error) {
	if amount.Minor <= 0 {
		return h.Held, refusal.Errorf("%s can't be taken: give an amount more than zero", amount)
	}
	if free := h.Free(); amount.Minor > free {
		return h.Held, refusal.Errorf("%s can't be taken: %s of it is free, %s is on drafts", amount,
			money.Amount{Minor: free, Currency: amount.Currency}, money.Amount{Minor: h.Reserved, Currency: amount.Currency})
	}
	return h.Held - amount.Minor, nil
}

// Movement is money that came or went.
type Movement struct {
	Day    day.Day      `json:"day"`
	Text   string       `json:"text"`
	Amount money.Amount `json:"amount"` // negative where it went
	After  money.Amount `json:"after"`  // held from then on
}

// Statement is what is held for a client, and how it came about.
type Statement struct {
	Opening   money.Amount `json:"opening"`
	Movements []Movement   `json:"movements"`
	Closing   money.Amount `json:"closing"`
}

// State adds movements up, from an opening balance. It is an error if money was
// taken that was not there.
func State(opening money.Amount, movements []Movement) (Statement, error) {
	s := Statement{Opening: opening, Movements: movements, Closing: opening}
	for i := range movements {
		var err error
		if s.Closing, err = s.Closing.Add(movements[i].Amount); err != nil {
			return s, err
		}
		if s.Closing.Minor < 0 {
			return s, fmt.Errorf("%s took %s more than was held on %s", movements[i].Text, s.Closing.Neg(), movements[i].Day.Long())
		}
		movements[i].After = s.Closing
	}
	return s, nil
}

// Refill is what is to be asked of a client so that what is free of the money held for them comes to the least again, in minor units, less
// what was asked for already. Nothing, where no least is set.
//
//	at least 1,000.00, free 350.00, asked for 200.00: 450.00
func Refill(least, free, asked int64) int64 { return max(0, least-free-asked) }
