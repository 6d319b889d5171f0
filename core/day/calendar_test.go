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
