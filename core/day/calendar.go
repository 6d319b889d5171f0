package day

import (
	"strings"
	"time"

	"dorvet/core/refusal"
)

// Calendar says on which days a firm works.
type Calendar struct {
	working  [7]bool // by time.Weekday
	holidays map[Day]bool
}

var weekdays = map[string]time.Weekday{"mon": time.Monday, "tue": time.Tuesday, "wed": time.Wednesday, "thu": time.Thursday,
	"fri": time.Friday, "sat": time.Saturday, "sun": time.Sunday}

// NewCalendar reads a working week, such as "mon tue wed thu fri", and takes
// the holidays out of it. A week without a working day is an error.
func NewCalendar(week string, holidays []Day) (Calendar, error) {
	c := Calendar{holidays: map[Day]bool{}}
	words := strings.Fields(strings.ToLower(strings.ReplaceAll(week, ",", " ")))
	for _, word := range words {
		weekday, known := weekdays[word]
		if !known {
			return c, refusal.Errorf("%q is no day of the week: write them like mon tue wed thu fri", word)
		}
		c.working[weekday] = true
	}
	if len(words) == 0 {
		return c, refusal.Errorf("a working week has at least one day: write them like mon tue wed thu fri")
	}
	for _, holiday := range holidays {
		c.holidays[holiday] = true
	}
	return c, nil
}

// Works reports whether d is a working day.
func (c Calendar) Works(d Day) bool { return c.working[d.Weekday()] && !c.holidays[d] }

// Add is the n-th working day after d (before it, if n is negative); with 0 it
// is d itself.
func (c Calendar) Add(d Day, n int) Day {
	step := Day(1)
	if n < 0 {
		step, n = -1, -n
	}
	for n > 0 {
		d += step
		if c.Works(d) {
			n--
		}
	}
	return d
}
