package wip

import (
	"dorvet/core/day"
	"dorvet/core/money"
)

// Ages is unbilled value by its age in days at a day: 0–30, 31–60, 61–90, over 90.
type Ages [4]money.Amount

// NewAges has nothing in any band.
func NewAges(c money.Currency) Ages {
	return Ages{money.Zero(c), money.Zero(c), money.Zero(c), money.Zero(c)}
}

// Band is 0 to 3 for an age in days. Work of the future has no age: band 0.
func Band(days int) int {
	switch {
	case days <= 30:
		return 0
	case days <= 60:
		return 1
	case days <= 90:
		return 2
	}
	return 3
}

// Days is how old work of a day is at another.
func Days(worked, at day.Day) int { return max(0, int(at-worked)) }

// Add puts value of a worked day into its band.
func (a *Ages) Add(worked, at day.Day, value money.Amount) (err error) {
	band := Band(Days(worked, at))
	a[band], err = a[band].Add(value)
	return err
}
