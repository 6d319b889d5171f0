package schedule

import (
	"fmt"
	"testing"

	"dorvet/core/day"
)

// Source: common practice of terms of payment; the calendar days by RFC 5545
// arithmetic, as in package day.
func TestDueDays(t *testing.T) {
	for _, c := range []struct{ terms, issued, due, words string }{
		{"receipt", "2026-12-01", "2026-12-01", "on receipt"},
		{"30d", "2026-12-01", "2026-12-31", "30 days"},
		{"30d", "2027-01-31", "2027-03-02", "30 days"},
		{"1m", "2027-01-31", "2027-02-28", "1 month"},
		{"1m", "2028-01-31", "2028-02-29", "1 month"},
		{"eom", "2026-11-03", "2026-11-30", "end of month"},
		{"eom+15d", "2026-11-03", "2026-12-15", "end of month, then 15 days"},
		{"30d+eom", "2026-11-03", "2026-12-31", "30 days, then end of month"},
		{"day15", "2026-12-01", "2026-12-15", "the next day 15 of a month"},
		{"day15", "2026-12-15", "2027-01-15", "the next day 15 of a month"},
		{"day15", "2026-12-31", "2027-01-15", "the next day 15 of a month"},
		{"day31", "2027-01-31", "2027-02-28", "the next day 31 of a month"},
	} {
		terms, err := ParseTerms(c.terms)
		if err != nil {
			t.Errorf("%s: %v", c.terms, err)
			continue
		}
		issued, _ := day.Parse(c.issued)
		if due := terms.Due(issued).String(); due != c.due {
			t.Errorf("%s, %s: due %s, want %s", c.issued, c.terms, due, c.due)
		}
		if terms.String() != c.words {
			t.Errorf("%s reads %q, want %q", c.terms, terms, c.words)
		}
	}
	for _, wrong := range []string{"", "30", "net 30", "day32", "day0", "-5d"} {
		if _, err := ParseTerms(wrong); err == nil {
			t.Errorf("%q is taken for terms", wrong)
		}
	}
}

func ExampleTerms_Due() {
	terms, _ := ParseTerms("eom+15d")
	issued, _ := day.Parse("2026-11-03")
	fmt.Println(terms, terms.Due(issued))
	// Output: end of month, then 15 days 2026-12-15
}
