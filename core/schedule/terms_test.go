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

// Source: the table of what fields take; "net 30" is common practice.
func TestTermsAreReadAsPeopleTypeThem(t *testing.T) {
	for typed, want := range map[string]string{"30d": "30d", "45 days": "45d", "1 day": "1d", "Net 30": "30d", "net 14 days": "14d", "2 weeks": "14d",
		"in 3 months": "3m", "2m": "2m", "on receipt": "receipt", "At once": "receipt", "receipt": "receipt", "eom": "eom",
		"end of the month": "eom", "eom + 15d": "eom+15d", "end of month, then 15 days": "eom+15d", "30d+EOM": "30d+eom",
		"30 days, then end of month": "30d+eom", "20th": "day20", "the 1st": "day1", "15.": "day15", "day15": "day15",
		"3rd of the month": "day3"} {
		if got, err := ReadTerms(typed); err != nil || got != want {
			t.Errorf("%q is %q, %v; want %q", typed, got, err, want)
		}
	}
	for _, typed := range []string{"", "30", "soon", "32nd", "day0", "-5 days", "20", "99 weeks of", "eom - 3d"} {
		if got, err := ReadTerms(typed); err == nil {
			t.Errorf("%q is read as %q", typed, got)
		}
	}
}

// What is printed can be typed back, and nothing breaks the reader.
func FuzzTermsThatWereReadAreReadAgain(f *testing.F) {
	for _, typed := range []string{"45 days", "the 20th", "eom + 3d", "in 2 weeks", "30d+eom", "receipt"} {
		f.Add(typed)
	}
	f.Fuzz(func(t *testing.T, typed string) {
		spelling, err := ReadTerms(typed)
		if err != nil {
			return
		}
		terms, err := ParseTerms(spelling)
		if err != nil {
			t.Fatalf("%q is kept as %q: %v", typed, spelling, err)
		}
		again, err := ReadTerms(terms.String())
		if back, _ := ParseTerms(again); err != nil || back != terms {
			t.Fatalf("%q prints %q, which is %q, %v", typed, terms, again, err)
		}
	})
}

func ExampleTerms_Due() {
	terms, _ := ParseTerms("eom+15d")
	issued, _ := day.Parse("2026-11-03")
	fmt.Println(terms, terms.Due(issued))
	// Output: end of month, then 15 days 2026-12-15
}
