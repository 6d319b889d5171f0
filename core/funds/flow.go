package funds

import (
	"math"
	"slices"

	"dorvet/core/day"
)

// Change is what came into a fund, or went out of it (negative), on a day, in minor
// units.
type Change struct {
	Day   day.Day
	Minor int64
}

// FreeOn is what can be taken out of a fund on a day, so that it falls below zero
// neither then nor later: what is received tomorrow can't be paid back today.
//
//	100.00 in on the 1st, 40.00 out on the 10th: 60.00 are free on the 5th
func FreeOn(changes []Change, on day.Day) int64 {
	sum, later := int64(0), []Change{}
	for _, c := range changes {
		if c.Day <= on {
			sum += c.Minor
		} else {
			later = append(later, c)
		}
	}
	slices.SortStableFunc(later, byDay)
	free := sum
	for i, c := range later {
		sum += c.Minor
		if i == len(later)-1 || later[i+1].Day != c.Day { // a day counts as a whole
			free = min(free, sum)
		}
	}
	return max(free, 0)
}

// FirstDay is the first day, from a day on, on which so much can be taken out of a
// fund; there is none where it never holds as much.
func FirstDay(changes []Change, minor int64, from day.Day) (first day.Day, is bool) {
	days := []day.Day{from}
	for _, c := range changes {
		if c.Day > from {
			days = append(days, c.Day)
		}
	}
	slices.Sort(days)
	for _, on := range days {
		if FreeOn(changes, on) >= minor {
			return on, true
		}
	}
	return 0, false
}

// Shortest is what is there on the day that has the least, from a day on: less than
// nothing says that something leaves before it came.
func Shortest(changes []Change, from day.Day) int64 {
	changes = slices.Clone(changes)
	slices.SortStableFunc(changes, byDay)
	sum, least := int64(0), int64(math.MaxInt64)
	for i, c := range changes {
		sum += c.Minor
		dayIsWhole := i+1 == len(changes) || changes[i+1].Day > c.Day
		stillFrom := i+1 == len(changes) || changes[i+1].Day > from
		if dayIsWhole && stillFrom {
			least = min(least, sum)
		}
	}
	if len(changes) == 0 {
		return 0
	}
	return least
}

func byDay(a, b Change) int { return int(a.Day - b.Day) }
