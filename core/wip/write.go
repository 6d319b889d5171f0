package wip

import (
	"dorvet/core/money"
	"dorvet/core/refusal"
)

// Target says what work is written down or up to: hours, a rate, or an amount.
// Exactly one of them is given.
type Target struct {
	Minutes *int
	PerHour *money.Rate
	Amount  *money.Amount
}

// ErrNoValue refuses to write work without a value down or up by its hours.
var ErrNoValue = refusal.Errorf("this work has no value of its own: give an amount")

// Written says what each of some pieces in a currency comes to under a target:
// billed minutes and agreed value, standard being theirs as before. New hours and
// a new amount are of all of them together; the difference is shared by value, by
// the rule of splitting. Hours count in proportion: amount × new hours / old hours,
// rounded once.
//
//	4.2 h worth 546.00, to 3.0 h: 390.00
//	100.00 and 50.00, to 120.00: 80.00 and 40.00
func (t Target) Written(pieces []Piece, c money.Currency) ([]Piece, error) {
	written := make([]Piece, len(pieces))
	copy(written, pieces)
	if t.PerHour != nil {
		for i, p := range pieces {
			amount, err := t.PerHour.ForMinutes(int64(p.Minutes), 0, c)
			if err != nil {
				return nil, err
			}
			written[i].Agreed = amount.Minor
		}
		return written, nil
	}
	whole, weights, minutes := Piece{}, make([]int64, len(pieces)), make([]int64, len(pieces))
	for i, p := range pieces {
		whole, weights[i], minutes[i] = whole.Plus(p), max(p.Agreed, 0), int64(p.Minutes)
	}
	to := int64(0)
	switch {
	case t.Amount != nil:
		to = t.Amount.Minor
	case whole.Minutes == 0 || whole.Agreed == 0:
		return nil, ErrNoValue
	default:
		var err error
		if to, err = money.MulDiv(whole.Agreed, int64(*t.Minutes), int64(whole.Minutes)); err != nil {
			return nil, err
		}
		shares, err := money.Split(int64(*t.Minutes), minutes)
		if err != nil {
			return nil, err
		}
		for i := range written {
			written[i].Minutes = int(shares[i])
		}
	}
	differences, err := money.Split(to-whole.Agreed, weights)
	for i := range differences {
		written[i].Agreed += differences[i]
	}
	return written, err
}

// Less divides a piece into what is left of it when it is written down, and what
// comes off: the difference in minutes and value, with its share of the standard
// value.
func (p Piece) Less(to Piece) (left, off Piece, err error) {
	standard, err := money.Split(p.Standard, []int64{to.Agreed, p.Agreed - to.Agreed})
	if err != nil {
		return left, off, err
	}
	return Piece{to.Minutes, standard[0], to.Agreed}, Piece{p.Minutes - to.Minutes, standard[1], p.Agreed - to.Agreed}, nil
}
