package day

import (
	"fmt"
	"testing"
	"time"

	"github.com/teambition/rrule-go"
)

// Oracle: ISO 8601 weeks of the standard library, every day of 400 years.
func TestWeeksAreThoseOfISO8601(t *testing.T) {
	for d := Of(1800, time.January, 1); d < Of(2200, time.January, 1); d++ {
		year, week := d.Week()
		if wantYear, want := d.Time().ISOWeek(); year != wantYear || week != want {
			t.Fatalf("%s is in week %d of %d, the library says %d of %d", d, week, year, want, wantYear)
		}
		if monday := d.Monday(); monday.Weekday() != time.Monday || d < monday || d > monday+6 {
			t.Fatalf("the week of %s begins on %s", d, monday)
		}
	}
}

// Oracle: RFC 5545 recurrence; it skips months that are too short, where a
// business month is clamped.
func TestMonthsAreThoseOfRFC5545ExceptWhereItSkipsShortOnes(t *testing.T) {
	for _, start := range []Day{Of(2024, 1, 31), Of(2023, 10, 30), Of(2024, 2, 29), Of(2026, 11, 10)} {
		rule, err := rrule.NewRRule(rrule.ROption{Freq: rrule.MONTHLY, Count: 40, Dtstart: start.Time()})
		if err != nil {
			t.Fatal(err)
		}
		standard := map[Day]bool{}
		for _, instant := range rule.All() {
			standard[In(instant, time.UTC)] = true
		}
		for n := range 40 {
			got := start.AddMonths(n)
			clamped := got.Time().Day() != start.Time().Day()
			if clamped && got != got.EndOfMonth() {
				t.Errorf("%d months after %s is %s, neither the same day nor the month's last", n, start, got)
			}
			if standard[got] == clamped {
				t.Errorf("%d months after %s is %s; RFC 5545 has it: %v", n, start, got, standard[got])
			}
		}
	}
}

// Source: the civil calendar, through the standard library's zone data.
func TestTheZoneSaysWhatDayItIs(t *testing.T) {
	for _, c := range []struct{ instant, zone, want string }{
		{"2026-11-30T23:30:00Z", "Europe/Dublin", "2026-11-30"},
		{"2026-06-30T23:30:00Z", "Europe/Dublin", "2026-07-01"},
		{"2026-12-01T00:30:00Z", "America/New_York", "2026-11-30"},
		{"2026-11-30T12:30:00Z", "Pacific/Auckland", "2026-12-01"},
	} {
		instant, _ := time.Parse(time.RFC3339, c.instant)
		zone, err := time.LoadLocation(c.zone)
		if err != nil {
			t.Fatal(err)
		}
		if got := In(instant, zone).String(); got != c.want {
			t.Errorf("%s in %s is %s, want %s", c.instant, c.zone, got, c.want)
		}
	}
}

func TestDaysAsText(t *testing.T) {
	d, err := Parse("2028-02-29")
	if err != nil || d.String() != "2028-02-29" || d.Long() != "29 Feb 2028" {
		t.Errorf("%v %v", d, err)
	}
	for _, wrong := range []string{"2027-02-29", "30.11.2026", "", "2026-13-01"} {
		if d, err := Parse(wrong); err == nil {
			t.Errorf("%q is read as %s", wrong, d)
		}
	}
	var none Day
	if err := none.UnmarshalText(nil); err != nil || !none.IsZero() || none.String() != "" {
		t.Error("no day must stay none")
	}
}

func ExampleDay_AddMonths() {
	start := Of(2026, time.January, 31)
	fmt.Println(start.AddMonths(1), start.AddMonths(2), start.AddMonths(3))
	// Output: 2026-02-28 2026-03-31 2026-04-30
}

// Source: common practice: a year that ends on 29 February ends on the 28th in other years.
func TestTheNextDayOfTheYear(t *testing.T) {
	for _, c := range []struct{ from, monthDay, want string }{
		{"2026-05-01", "03-31", "2027-03-31"}, {"2026-03-31", "03-31", "2026-03-31"}, {"2026-04-01", "12-31", "2026-12-31"},
		{"2026-01-10", "02-29", "2026-02-28"}, {"2027-03-01", "02-29", "2028-02-29"}, {"2026-01-10", "", ""},
	} {
		from, err := Parse(c.from)
		if err != nil {
			t.Fatal(err)
		}
		if got := from.NextYearly(c.monthDay).String(); got != c.want {
			t.Errorf("%s after %s: %s, want %s", c.monthDay, c.from, got, c.want)
		}
	}
}
