package budget

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"dorvet/core/day"
	"dorvet/core/money"

	"github.com/teambition/rrule-go"
)

func ExampleFee() {
	fee, _ := Fee(300, 50_0000, "EUR")
	fmt.Println(fee)
	fmt.Println(Budget{Limit: 300, Renewal: Once}.Stand(0, []Use{{0, 120}}).Share, "%")
	// Output:
	// 250.00
	// 40 %
}

// Oracle: RFC 5545 recurrence for weeks, and for months, quarters and years
// from days that no month lacks; where it skips short months ours is their last
// day.
func TestRenewalsBeginOnTheDatesOfRFC5545(t *testing.T) {
	freq := map[Renewal]rrule.ROption{Week: {Freq: rrule.WEEKLY}, Month: {Freq: rrule.MONTHLY}, Quarter: {Freq: rrule.MONTHLY, Interval: 3},
		Year: {Freq: rrule.YEARLY}}
	for renewal, option := range freq {
		for _, from := range []day.Day{day.Of(2026, 1, 10), day.Of(2024, 2, 28), day.Of(2026, 10, 1)} {
			option.Count, option.Dtstart = 30, from.Time()
			rule, err := rrule.NewRRule(option)
			if err != nil {
				t.Fatal(err)
			}
			b := Budget{Renewal: renewal, From: from}
			for k, instant := range rule.All() {
				start, end, number := b.Period(day.In(instant, time.UTC))
				if start != day.In(instant, time.UTC) || number != k || b.start(k+1)-1 != end {
					t.Fatalf("%s from %s: period %d is %s to %s, number %d, want %s", renewal, from, k, start, end, number, instant)
				}
				if before, _, _ := b.Period(start - 1); k > 0 && before != b.start(k-1) {
					t.Fatalf("the day before %s lies in the period of %s", start, before)
				}
			}
		}
	}
	b := Budget{Renewal: Month, From: day.Of(2026, 1, 31)}
	for k, want := range []day.Day{day.Of(2026, 1, 31), day.Of(2026, 2, 28), day.Of(2026, 3, 31), day.Of(2026, 4, 30)} {
		if start, _, _ := b.Period(want); start != want || b.start(k) != want {
			t.Errorf("period %d begins %s, want %s: the anchor never drifts", k, start, want)
		}
	}
}

// Worked by hand: 100 a month from 1 October. October uses 70, November 150,
// December 20 so far. An overrun does not carry: "unused does not carry over
// unless so set" (rule of the firm).
func TestRenewedBudgetsStartAgainAndCarryOnlyWhatIsUnusedIfSoSet(t *testing.T) {
	october, today := day.Of(2026, 10, 1), day.Of(2026, 12, 5)
	uses := []Use{{day.Of(2026, 9, 30), 500}, {day.Of(2026, 10, 31), 70}, {day.Of(2026, 11, 1), 150}, {today, 20}, {day.Of(2027, 1, 1), 9}}
	for _, c := range []struct {
		name                       string
		carries                    bool
		on                         day.Day
		carried, limit, used, left int64
	}{
		{"October", false, day.Of(2026, 10, 31), 0, 100, 70, 30},
		{"November without carrying", false, day.Of(2026, 11, 30), 0, 100, 150, -50},
		{"November with the 30 of October", true, day.Of(2026, 11, 30), 30, 130, 150, -20},
		{"December, to which an overrun carries nothing", true, today, 0, 100, 20, 80},
	} {
		s := Budget{Limit: 100, Renewal: Month, From: october, Carries: c.carries}.Stand(c.on, uses)
		if s.Carried != c.carried || s.Limit != c.limit || s.Used != c.used || s.Left != c.left {
			t.Errorf("%s: %+v", c.name, s)
		}
	}
	if s := (Budget{Limit: 1000, Renewal: Once, From: october}).Stand(today, uses); s.Used != 749 || !s.End.IsZero() {
		t.Errorf("once counts everything: %+v", s)
	}
}

// Source: "reaching a share counts" and "fire once per threshold and period",
// rules of the firm; 75 % of 9,999 is 7,499.25, which 7,499 does not reach.
func TestAlertsFireWhenAShareIsReachedAndOnlyOnce(t *testing.T) {
	all := []money.Percent{100_0000, 75_0000, 90_0000}
	for _, c := range []struct {
		used, limit int64
		told        []money.Percent
		want        []money.Percent
	}{
		{7499, 9999, nil, nil},
		{7500, 9999, nil, []money.Percent{75_0000}},
		{75, 100, nil, []money.Percent{75_0000}},
		{75, 100, []money.Percent{75_0000}, nil},
		{120, 100, []money.Percent{75_0000}, []money.Percent{90_0000, 100_0000}},
		{0, 0, nil, nil},
		{1, 0, nil, []money.Percent{75_0000, 90_0000, 100_0000}},
		{1 << 62, 1 << 62, nil, []money.Percent{75_0000, 90_0000, 100_0000}},
	} {
		told := map[money.Percent]bool{}
		for _, threshold := range c.told {
			told[threshold] = true
		}
		got := Standing{Used: c.used, Limit: c.limit}.Reached(all, told)
		if !slices.Equal(got, c.want) {
			t.Errorf("%d of %d: %v, want %v", c.used, c.limit, got, c.want)
		}
	}
}

// Worked by hand on a calendar of December 2026: Tuesday 1 December is today,
// Monday to Friday are worked, 8 December is a holiday. 20 working days before
// today begin on Tuesday 3 November. 40 h used in them are 2 h a day; 15 h left
// last 7.5, so 8 working days: 2, 3, 4, 7, 9, 10, 11, 14 December.
func TestTheForecastCountsWorkingDays(t *testing.T) {
	today, holiday := day.Of(2026, 12, 1), day.Of(2026, 12, 8)
	calendar, err := day.NewCalendar("mon tue wed thu fri", []day.Day{holiday})
	if err != nil {
		t.Fatal(err)
	}
	uses := []Use{{day.Of(2026, 11, 2), 9999}, {day.Of(2026, 11, 3), 1200}, {day.Of(2026, 11, 30), 1200}, {today, 9999}}
	f := Preview(today, 900, uses, calendar)
	if f.Since != day.Of(2026, 11, 3) || f.Used != 2400 || f.Days != 8 || f.Exhausted != day.Of(2026, 12, 14) {
		t.Errorf("%+v", f)
	}
	if f := Preview(today, 0, uses, calendar); !f.Known || f.Exhausted != today {
		t.Errorf("what is used up is used up today: %+v", f)
	}
	if f := Preview(today, 900, nil, calendar); f.Known {
		t.Errorf("no use gives no forecast: %+v", f)
	}
	if f := Preview(today, 1<<40, uses, calendar); f.Known {
		t.Errorf("ten years ahead nothing is foreseen: %+v", f)
	}
}

// A second, naive way: use the average day after day until it is gone.
func TestTheForecastAgreesWithUsingTheAverageDayByDay(t *testing.T) {
	today := day.Of(2026, 12, 1)
	calendar, _ := day.NewCalendar("mon tue wed thu fri", nil)
	for left := int64(1); left < 3000; left += 7 {
		for _, used := range []int64{1, 59, 600, 2401} {
			on, gone := today, int64(0)
			for gone*1 < left*Window {
				on++
				if calendar.Works(on) {
					gone += used
				}
				if on > today+4000 {
					break
				}
			}
			f := Preview(today, left, []Use{{today - 1, used}}, calendar)
			if f.Known && f.Exhausted != on {
				t.Fatalf("left %d at %d: %s, day by day %s", left, used, f.Exhausted, on)
			}
		}
	}
}

func TestExplanationsSayHow(t *testing.T) {
	figure := func(n int64) string { return fmt.Sprintf("%d h", n) }
	f := Forecast{Since: day.Of(2026, 11, 3), Used: 40, Days: 8, Exhausted: day.Of(2026, 12, 14), Known: true}
	step := f.Explain(15, figure)
	if step.Figure != "14 Dec 2026" || len(step.Steps) != 3 || step.Steps[2].Detail != "15 h × 20 / 40 h, rounded up" {
		t.Errorf("%+v", step)
	}
	if (Forecast{}).Explain(15, figure).Label != "No forecast" || f.Explain(-1, figure).Label != "Used up" {
		t.Error("without a forecast")
	}
}
