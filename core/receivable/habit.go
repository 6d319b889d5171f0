package receivable

import "slices"

// Paid is money that came for an instalment, and how late: its amount is its weight.
type Paid struct {
	Late   int // days after it was due; negative: before
	Amount int64
}

// Habit is how late a client pays as a rule: the median of the days, and the quartiles, each weighted by amount.
type Habit struct {
	Payments      int
	Low, Mid, Top int // days late
}

// HabitOf is the habit that payments show. The weighted quantile is the least value at which the weights up to it come to the share of
// their sum (the inverse of the empirical distribution; R's type 1, with weights). Without payments it is none.
func HabitOf(payments []Paid) Habit {
	sorted := slices.SortedStableFunc(slices.Values(payments), func(a, b Paid) int { return a.Late - b.Late })
	all := int64(0)
	for _, p := range sorted {
		all += p.Amount
	}
	quantile := func(quarters int64) int {
		sum := int64(0)
		for _, p := range sorted {
			if sum += p.Amount; sum*4 >= all*quarters {
				return p.Late
			}
		}
		return 0
	}
	return Habit{len(payments), quantile(1), quantile(2), quantile(3)}
}

// Enough is how many payments make a habit; below, that of the whole firm is taken.
const Enough = 5

// Worth is what a call is worth: what is late, times the days, less as long as the client is only as late as ever. In units of
// the amount times days; a client that pays 30 days late as a rule is, after 10, worth a third of its lateness.
func Worth(late int64, days int, habit Habit) int64 {
	if days <= 0 || late <= 0 {
		return 0
	}
	if usual := habit.Mid; usual > days {
		return late * int64(days) / int64(usual) * int64(days)
	}
	return late * int64(days)
}
