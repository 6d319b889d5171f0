package wip

import (
	"fmt"
	"strings"
	"unicode/utf8"

	"dorvet/core/money"
	"dorvet/core/worktime"
)

// Rules are what a client asks of the entries that it is billed, as clients' billing
// guidelines do (common practice). What is zero asks nothing.
//
//	Rules{ShortestText: 20}.Broken(Ruled{Text: "call"}) // a text of 4 characters, 20 are asked
type Rules struct {
	ShortestText   int        // characters
	MostMinutes    int        // of one person a day
	Excluded       []string   // services and categories of expenses that it does not pay, by name
	HighestPerHour money.Rate // in ten-thousandths
}

// Ruled is what the rules look at of an entry. An expense has no minutes and no rate.
type Ruled struct {
	Text       string
	Kind       string // its service or category, by name
	DayMinutes int    // of its person on its day, with the entry itself
	PerHour    money.Rate
}

// None reports whether nothing is asked.
func (r Rules) None() bool {
	return r.ShortestText == 0 && r.MostMinutes == 0 && len(r.Excluded) == 0 && r.HighestPerHour == 0
}

// Broken says which rules an entry breaks, each in words without an end.
func (r Rules) Broken(e Ruled) []string {
	broken := []string{}
	if n := utf8.RuneCountInString(strings.TrimSpace(e.Text)); n < r.ShortestText {
		broken = append(broken, fmt.Sprintf("a text of %d characters, %d are asked", n, r.ShortestText))
	}
	if r.MostMinutes != 0 && e.DayMinutes > r.MostMinutes {
		broken = append(broken, fmt.Sprintf("%s on one day, at most %s are paid", worktime.Said(e.DayMinutes), worktime.Said(r.MostMinutes)))
	}
	for _, name := range r.Excluded {
		if strings.EqualFold(name, e.Kind) {
			broken = append(broken, e.Kind+" is not paid")
		}
	}
	if r.HighestPerHour != 0 && e.PerHour > r.HighestPerHour {
		broken = append(broken, fmt.Sprintf("%s an hour, at most %s are paid", e.PerHour, r.HighestPerHour))
	}
	return broken
}
