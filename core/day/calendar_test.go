package day

import (
	"strings"
	"testing"
	"time"
)

func TestWorkingDaysSkipWeekendsAndHolidays(t *testing.T) {
	friday := Of(2026, 12, 4)
	c, err := NewCalendar("Mon, Tue, Wed, Thu, Fri", []Day{friday + 4})
	if err != nil {
		t.Fatal(err)
	}
	for n, want := range map[int]Day{0: friday, 1: friday + 3, 2: friday + 5, -1: friday - 1, -5: friday - 7} {
		if got := c.Add(friday, n); got != want {
			t.Errorf("%d working days from %s is %s, want %s", n, friday, got, want)
		}
	}
	for d := friday; d < friday+14; d++ {
		weekend := d.Weekday() == time.Saturday || d.Weekday() == time.Sunday
		if c.Works(d) == (weekend || d == friday+4) {
			t.Errorf("%s", d)
		}
	}
	for _, week := range []string{"", "mon someday"} {
		if _, err := NewCalendar(week, nil); err == nil {
			t.Errorf("%q is taken as a week", week)
		}
	}
}

// Oracle for the weekdays: the calendar of December 2026, in which the 1st is a
// Tuesday. Day before month with dots is DIN 1355-1 and common practice on the continent.
func TestDatesAreReadAsPeopleTypeThem(t *testing.T) {
	today := Of(2026, 12, 1)
	for typed, want := range map[string]Day{"2026-11-30": Of(2026, 11, 30), " 30 Nov 2026 ": Of(2026, 11, 30), "Today": today,
		"eom": Of(2026, 12, 31), "yest": Of(2026, 11, 30), "tomorrow": Of(2026, 12, 2),
		"+30d": Of(2026, 12, 31), "-1d": Of(2026, 11, 30), "+2w": Of(2026, 12, 15), "+3m": Of(2027, 3, 1), "-1y": Of(2025, 12, 1),
		"-3": Of(2026, 11, 28), "+3": Of(2026, 12, 4),
		"wed": Of(2026, 12, 2), "fri": Of(2026, 12, 4), "sun": Of(2026, 12, 6), "mon": Of(2026, 12, 7), "tue": Of(2026, 12, 8),
		"15.11.": Of(2026, 11, 15), "15.11": Of(2026, 11, 15), "15. 11. 2025": Of(2025, 11, 15), "15.11.24": Of(2024, 11, 15),
		"30.11.2026": Of(2026, 11, 30), "15/11": Of(2026, 11, 15), "11/30/2026": Of(2026, 11, 30), "12/12": Of(2026, 12, 12),
		"15 nov": Of(2026, 11, 15), "15 NOVEMBER 26": Of(2026, 11, 15), "3 sept": Of(2026, 9, 3), "Monday 30 November": Of(2026, 11, 30),
		"Thu, 31 Dec 2026": Of(2026, 12, 31), "10 jan": Of(2027, 1, 10)} {
		if got, err := ParseTyped(typed, today); err != nil || got != want {
			t.Errorf("%q is %s, %v; want %s", typed, got, err, want)
		}
	}
	for typed, said := range map[string]string{"": "no date", "soon": "like 30 nov", "2026-02-30": "no date", "+d": "no date",
		"31.4.": "no date", "29 feb": "no date", "3 m": "no date", "30/31": "no date",
		"11/12": "11 Dec 2026 or 12 Nov 2026", "3/4/2027": "3 Apr 2027 or 4 Mar 2027"} {
		if got, err := ParseTyped(typed, today); err == nil || !strings.Contains(err.Error(), said) {
			t.Errorf("%q is read as %s, %v", typed, got, err)
		}
	}
}

// What is read can be typed back in every form in which pages print it, and nothing breaks the reader.
func FuzzDatesThatWereReadAreReadAgain(f *testing.F) {
	for _, typed := range []string{"30 nov", "15.11.26", "11/30", "-3", "Mon 30 Nov 2026", "31/12/99", "0.0.", "99 may"} {
		f.Add(typed, int64(20_000))
	}
	f.Fuzz(func(t *testing.T, typed string, days int64) {
		today := Of(2000, 1, 1).AddDays(int(days % 40_000))
		d, err := ParseTyped(typed, today)
		if err != nil {
			return
		}
		for _, printed := range []string{d.String(), d.Long(), d.Time().Format("2.1.2006"), d.Time().Format("Monday 2 January 2006")} {
			if again, err := ParseTyped(printed, today); err != nil || again != d {
				t.Fatalf("%q, read as %s, prints %q, which is %s, %v", typed, d, printed, again, err)
			}
		}
	})
}
