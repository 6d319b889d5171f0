// Package budget sets what is used against what was planned: of hours, fees,
// expenses, both, or of what was invoiced; once, or again each period.
//
//	300 minutes expected at 50.00 an hour are a fee budget of 250.00
//	120 of 300 minutes are 40 %
package budget

import (
	"cmp"
	"math/bits"
	"slices"

	"dorvet/core/day"
	"dorvet/core/money"
)

// Measure is what a budget counts.
type Measure string

// Hours are billable and not billable worked minutes, fees agreed values,
// expenses at cost, the total fees and expenses; invoiced is net less credits.
const (
	Hours    Measure = "hours"
	Fees     Measure = "fees"
	Expenses Measure = "expenses"
	Total    Measure = "total"
	Invoiced Measure = "invoiced"
)

// Renewal says how often a budget starts again.
type Renewal string

// Renewed budgets start again each period, counted from their start.
const (
	Once    Renewal = "once"
	Week    Renewal = "week"
	Month   Renewal = "month"
	Quarter Renewal = "quarter"
	Year    Renewal = "year"
)

// Budget is a limit, in minutes for hours and in minor units for money.
type Budget struct {
	Limit   int64
	Renewal Renewal
	From    day.Day
	// Carries lets what one period leaves unused add to the next. An overrun
	// never carries.
	Carries bool
}

// Use is what one day used of a budget, in its unit.
type Use struct {
	Day    day.Day
	Amount int64
}

// Standing is how a budget stands on a day.
type Standing struct {
	Start, End day.Day // of the period; End is zero for a budget that is not renewed
	Carried    int64
	Limit      int64 // with what was carried
	Used       int64
	Left       int64         // negative when it is overrun
	Share      money.Percent // used of the limit, rounded half away from zero
}

// Fee is the fee budget that expected work gives: minutes × rate, rounded once.
func Fee(minutes int64, perHour money.Rate, currency money.Currency) (money.Amount, error) {
	return perHour.ForMinutes(minutes, 0, currency)
}

// start is the first day of period k.
func (b Budget) start(k int) day.Day {
	switch b.Renewal {
	case Week:
		return b.From.AddDays(7 * k)
	case Month:
		return b.From.AddMonths(k)
	case Quarter:
		return b.From.AddMonths(3 * k)
	case Year:
		return b.From.AddMonths(12 * k)
	}
	return b.From
}

// Period is the first and the last day of the period in which a day lies, and
// its number from 0. Before the budget begins, that is its first period; the
// last day is zero for a budget that is not renewed.
func (b Budget) Period(on day.Day) (start, end day.Day, k int) {
	if b.Renewal == Once {
		return b.From, 0, 0
	}
	for b.start(k+1) <= on {
		k++
	}
	return b.start(k), b.start(k+1) - 1, k
}

// Stand adds up what was used in the period of a day. A budget that is not
// renewed counts everything, also from before it began.
func (b Budget) Stand(on day.Day, uses []Use) Standing {
	start, end, k := b.Period(on)
	s := Standing{Start: start, End: end, Limit: b.Limit}
	perPeriod := make([]int64, k+1)
	for _, use := range uses {
		if b.Renewal == Once {
			perPeriod[0] += use.Amount
		} else if _, _, period := b.Period(use.Day); use.Day >= b.From && period <= k {
			perPeriod[period] += use.Amount
		}
	}
	if b.Carries {
		for _, used := range perPeriod[:k] {
			s.Carried = max(0, b.Limit+s.Carried-used)
		}
		s.Limit += s.Carried
	}
	s.Used = perPeriod[k]
	s.Left, s.Share = s.Limit-s.Used, share(s.Used, s.Limit)
	return s
}

// share is used of limit in ten-thousandths of a percent; of nothing planned,
// anything used is all of it.
func share(used, limit int64) money.Percent {
	switch {
	case limit > 0:
		p, err := money.MulDiv(used, 100_0000, limit)
		if err == nil {
			return money.Percent(p)
		}
	case used == 0:
		return 0
	}
	return 100_0000
}

// Reached lists the thresholds that a standing has reached, lowest first:
// reaching counts. Each is told once per period; what was told before is left
// out.
func (s Standing) Reached(thresholds []money.Percent, told map[money.Percent]bool) []money.Percent {
	reached := []money.Percent{}
	for _, threshold := range thresholds {
		if s.atLeast(threshold) && !told[threshold] {
			reached = append(reached, threshold)
		}
	}
	slices.SortFunc(reached, cmp.Compare[money.Percent])
	return reached
}

// atLeast compares used × 100 % with limit × threshold, without rounding.
func (s Standing) atLeast(threshold money.Percent) bool {
	if s.Limit <= 0 || s.Used <= 0 {
		return s.Used > 0
	}
	usedHigh, usedLow := bits.Mul64(uint64(s.Used), 100_0000)
	limitHigh, limitLow := bits.Mul64(uint64(s.Limit), uint64(threshold))
	return usedHigh > limitHigh || usedHigh == limitHigh && usedLow >= limitLow
}
