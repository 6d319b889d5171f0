package day

import (
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
// Tuesday.
func TestDatesAreReadAsPeopleTypeThem(t *testing.T) {
	today := Of(2026, 12, 1)
	for typed, want := range map[string]Day{"2026-11-30": Of(2026, 11, 30), " 30 Nov 2026 ": Of(2026, 11, 30), "Today": today,
		"eom":  Of(2026, 12, 31),
		"+30d": Of(2026, 12, 31), "-1d": Of(2026, 11, 30), "+2w": Of(2026, 12, 15), "+3m": Of(2027, 3, 1),
		"wed": Of(2026, 12, 2), "fri": Of(2026, 12, 4), "sun": Of(2026, 12, 6), "mon": Of(2026, 12, 7), "tue": Of(2026, 12, 8)} {
		if got, err := ParseTyped(typed, today); err != nil || got != want {
			t.Errorf("%q is %s, %v; want %s", typed, got, err, want)
		}
	}
	for _, typed := range []string{"", "soon", "30.11.2026", "2026-02-30", "+d", "11/30/2026"} {
		if got, err := ParseTyped(typed, today); err == nil {
			t.Errorf("%q is read as %s", typed, got)
		}
	}
}
