package worktime

import (
	"math/rand/v2"
	"slices"
	"testing"
	"time"
	_ "time/tzdata" // the same zones on every machine

	"dorvet/core/day"
)

func place(t *testing.T, name string) *time.Location {
	t.Helper()
	zone, err := time.LoadLocation(name)
	if err != nil {
		t.Fatal(err)
	}
	return zone
}

func at(t *testing.T, zone *time.Location, text string) time.Time {
	t.Helper()
	instant, err := time.ParseInLocation("2006-01-02 15:04:05", text, zone)
	if err != nil {
		t.Fatal(err)
	}
	return instant
}

// The rule: runs are summed in seconds, then counted up to the started minute.
func TestRunsAreSummedThenCountedUpToTheStartedMinute(t *testing.T) {
	began := time.Unix(1_800_000_000, 0)
	for _, c := range []struct {
		name    string
		seconds []int
		minutes int
	}{
		{"nothing", nil, 0}, {"a second", []int{1}, 1}, {"a minute", []int{60}, 1}, {"a minute and a second", []int{61}, 2},
		{"three runs of 20 seconds are one minute", []int{20, 20, 20}, 1}, {"a clock that was set back", []int{-30, 90}, 2},
	} {
		runs := []Run{}
		for _, s := range c.seconds {
			runs = append(runs, Run{began, began.Add(time.Duration(s) * time.Second)})
		}
		if got := Started(Seconds(runs)); got != c.minutes {
			t.Errorf("%s: %d minutes, want %d", c.name, got, c.minutes)
		}
	}
}

// The figures follow from the standard library's zone data.
func TestATimerIsSplitAtMidnightByTheClockOfThePlace(t *testing.T) {
	for _, c := range []struct {
		name, zone, from, to string
		days                 []OfDay
	}{
		{"within a day", "Europe/Dublin", "2026-11-30 09:00:00", "2026-11-30 10:30:00", []OfDay{{day.Of(2026, 11, 30), 90}}},
		{"past midnight", "Europe/Dublin", "2026-11-30 23:30:00", "2026-12-01 00:15:30",
			[]OfDay{{day.Of(2026, 11, 30), 30}, {day.Of(2026, 12, 1), 16}}},
		{"a minute around midnight is one minute", "Europe/Dublin", "2026-11-30 23:59:30", "2026-12-01 00:00:30",
			[]OfDay{{day.Of(2026, 11, 30), 1}}},
		{"the clock goes forward: a day of 23 hours", "Europe/Dublin", "2026-03-29 00:00:00", "2026-03-30 00:00:00",
			[]OfDay{{day.Of(2026, 3, 29), 23 * 60}}},
		{"the clock goes back: a day of 25 hours", "Europe/Dublin", "2026-10-25 00:00:00", "2026-10-26 00:00:00",
			[]OfDay{{day.Of(2026, 10, 25), 25 * 60}}},
		{"a half-hour zone", "Asia/Kolkata", "2026-11-30 23:45:00", "2026-12-01 00:45:00",
			[]OfDay{{day.Of(2026, 11, 30), 15}, {day.Of(2026, 12, 1), 45}}},
		{"three days", "UTC", "2026-11-29 22:00:00", "2026-12-01 01:00:00",
			[]OfDay{{day.Of(2026, 11, 29), 120}, {day.Of(2026, 11, 30), 1440}, {day.Of(2026, 12, 1), 60}}},
	} {
		zone := place(t, c.zone)
		days := ByDay([]Run{{at(t, zone, c.from), at(t, zone, c.to)}}, zone)
		if !slices.Equal(days, c.days) {
			t.Errorf("%s: %+v, want %+v", c.name, days, c.days)
		}
	}
}

// Oracle: every second asked for its day by the standard library's zone data. In
// some of these places the clock changes at midnight, or a minute past it.
func TestEverySecondCountsOnItsDay(t *testing.T) {
	random := rand.New(rand.NewPCG(5, 6))
	zones := []string{"Europe/Dublin", "America/Sao_Paulo", "America/St_Johns", "Pacific/Apia", "Africa/Cairo", "Australia/Lord_Howe",
		"Asia/Beirut"}
	changes := []time.Time{}
	for _, name := range zones {
		zone := place(t, name)
		for at := time.Date(2005, 1, 1, 0, 0, 0, 0, zone); at.Year() < 2012; {
			_, end := at.ZoneBounds()
			if end.IsZero() {
				break
			}
			changes, at = append(changes, end), end
		}
	}
	cases := 400
	if testing.Short() {
		cases = 40
	}
	for range cases {
		zone := place(t, zones[random.IntN(len(zones))])
		began := changes[random.IntN(len(changes))].Add(-time.Duration(random.IntN(100_000)) * time.Second)
		run := Run{began, began.Add(time.Duration(random.IntN(180_000)) * time.Second)}
		perDay := map[day.Day]int64{}
		for unix := run.Began.Unix(); unix < run.Ended.Unix(); unix++ {
			perDay[day.In(time.Unix(unix, 0), zone)]++
		}
		days := ByDay([]Run{run}, zone)
		sum, got := 0, map[day.Day]int{}
		for _, d := range days {
			sum += d.Minutes
			got[d.Day] += d.Minutes
		}
		if sum != Started(Seconds([]Run{run})) {
			t.Fatalf("%v in %s: the days have %d minutes", run, zone, sum)
		}
		for on, seconds := range perDay {
			if off := int64(got[on])*60 - seconds; off <= -60 || off >= 60 {
				t.Fatalf("%v in %s: %s has %d minutes, the zone data says %d seconds", run, zone, on, got[on], seconds)
			}
		}
	}
}

func TestTimesOfDayAsPeopleTypeThem(t *testing.T) {
	for typed, want := range map[string]int{"9": 540, "9:15": 555, "0915": 555, "09.15": 555, "21:05": 1265, "9:15pm": 1275, "12am": 0,
		"12 pm": 720, "24:00": 1440, "0": 0} {
		if got, err := ParseTimeOfDay(typed); err != nil || got != want {
			t.Errorf("%q: %d, %v; want %d", typed, got, err, want)
		}
	}
	for _, typed := range []string{"", "soon", "9:60", "25:00", "24:01", "13pm", "0am", "9:5"} {
		if got, err := ParseTimeOfDay(typed); err == nil {
			t.Errorf("%q is taken as %d", typed, got)
		}
	}
	if minutes, err := Between(540, 630); err != nil || minutes != 90 {
		t.Errorf("9:00 to 10:30: %d, %v", minutes, err)
	}
	for _, end := range []int{540, 30} {
		if _, err := Between(540, end); err == nil {
			t.Errorf("9:00 to %s is taken", Clock(end))
		}
	}
}
