package worktime

import (
	"fmt"
	"strings"
	"testing"

	"dorvet/core/money"
)

// Source: the six-minute table of tenths of an hour, common practice.
func TestTenthsOfAnHour(t *testing.T) {
	for minute := 1; minute <= 60; minute++ {
		billed, err := Rule{Increment: 6, Rounding: Up}.Bill(minute, 0)
		if want := (minute + 5) / 6 * 6; err != nil || billed.Minutes != want {
			t.Errorf("%d min bill %d, want %d", minute, billed.Minutes, want)
		}
	}
	for _, c := range []struct {
		from, to int
		tenths   string
	}{{1, 6, "0.1"}, {7, 12, "0.2"}, {13, 18, "0.3"}, {19, 24, "0.4"}, {25, 30, "0.5"},
		{31, 36, "0.6"}, {37, 42, "0.7"}, {43, 48, "0.8"}, {49, 54, "0.9"}, {55, 60, "1.0"}} {
		for minute := c.from; minute <= c.to; minute++ {
			billed, _ := Rule{Increment: 6}.Bill(minute, 0)
			if got := Hours(billed.Minutes); got != c.tenths {
				t.Errorf("%d min are %s h, the table says %s", minute, got, c.tenths)
			}
		}
	}
}

func TestBilledMinutes(t *testing.T) {
	for _, c := range []struct {
		name                string
		rule                Rule
		worked, not, billed int
	}{
		{"61 up", Rule{6, Up, 0}, 61, 0, 66},
		{"85 up", Rule{6, Up, 0}, 85, 0, 90},
		{"20 without increment", Rule{6, None, 0}, 20, 0, 20},
		{"no increment set", Rule{0, Up, 0}, 20, 0, 20},
		{"nearest, half up", Rule{6, Nearest, 0}, 9, 0, 12},
		{"nearest, below half", Rule{6, Nearest, 0}, 8, 0, 6},
		{"nearest may give zero", Rule{6, Nearest, 0}, 2, 0, 0},
		{"nearest of 15, half is 7.5", Rule{15, Nearest, 0}, 7, 0, 0},
		{"nearest of 15, above half", Rule{15, Nearest, 0}, 8, 0, 15},
		{"a minimum applies to any billable time", Rule{6, Nearest, 15}, 2, 0, 15},
		{"a minimum does not lower", Rule{6, Up, 15}, 61, 0, 66},
		{"zero stays zero", Rule{6, Up, 15}, 0, 0, 0},
		{"nothing billable stays zero", Rule{6, Up, 15}, 30, 30, 0},
		{"part is not billable", Rule{6, Up, 0}, 61, 20, 42},
	} {
		got, err := c.rule.Bill(c.worked, c.not)
		if err != nil || got.Minutes != c.billed {
			t.Errorf("%s: %d, %v; want %d", c.name, got.Minutes, err, c.billed)
		}
	}
	for _, not := range []int{-1, 31} {
		if _, err := (Rule{}).Bill(30, not); err == nil {
			t.Errorf("%d of 30 minutes not billable is taken", not)
		}
	}
}

func TestTypedDurations(t *testing.T) {
	for _, c := range []struct {
		typed string
		mark  money.Mark
		want  int
	}{
		{"1:30", '.', 90}, {"1.5", '.', 90}, {"90m", '.', 90}, {"90 min", '.', 90}, {"2", '.', 120},
		{"1,5", ',', 90}, {"1h30", '.', 90}, {"1h 30m", '.', 90}, {"2h", '.', 120}, {"1.5h", '.', 90}, {":45", '.', 45},
		{"0", '.', 0}, {"", '.', 0}, {" 0.1 ", '.', 6}, {"0.33", '.', 20}, {"24:00", '.', 1440}, {".25", '.', 15},
	} {
		if got, err := ParseDuration(c.typed, c.mark); err != nil || got != c.want {
			t.Errorf("%q is %d minutes, %v; want %d", c.typed, got, err, c.want)
		}
	}
	for typed, want := range map[string]string{
		"1:75": "75 minutes after the hour", "25": "for minutes type 25m", "25:00": "24 hours", "1,5": "not a time",
		"soon": "not a time", "-1": "not a time", "1500m": "24 hours", "1:5": "not a time", "1h75": "75 minutes",
	} {
		if got, err := ParseDuration(typed, money.Point); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%q: %d, %v; want a sentence with %q", typed, got, err, want)
		}
	}
}

func TestHoursOfMoreThanADay(t *testing.T) {
	for typed, want := range map[string]int{"37.5": 2250, "37:30": 2250, "340": 20400, "340 h": 20400, "1000:05": 60005, "12000m": 12000,
		"1h30": 90, "": 0} {
		if got, err := ParseHours(typed, money.Point); err != nil || got != want {
			t.Errorf("%q is %d minutes, %v; want %d", typed, got, err, want)
		}
	}
	for _, typed := range []string{"-1", "many", "1:75", "1000001", "9999999:00", "37,5"} {
		if got, err := ParseHours(typed, money.Point); err == nil {
			t.Errorf("%q is taken as %d minutes", typed, got)
		}
	}
}

// Two decimals of an hour tell every minute apart, so that what a page writes so is read as the same.
func TestHoursThatWereWrittenAreReadAgain(t *testing.T) {
	for minutes := range 2 * MinutesPerDay {
		for _, text := range []string{Hours(minutes), Clock(minutes)} {
			if got, err := ParseHours(text, money.Point); err != nil || got != minutes {
				t.Fatalf("%d minutes are written %s and read as %d, %v", minutes, text, got, err)
			}
		}
	}
}

func ExampleRule_Bill() {
	billed, _ := Rule{Increment: 6, Rounding: Up}.Bill(7, 0)
	fmt.Println(Clock(billed.Minutes), Hours(billed.Minutes))
	// Output: 0:12 0.2
}

// Whatever is typed is a time of a day or a refusal, and what is written by
// Clock is read as the same.
func FuzzTypedDurationsAreOfADay(f *testing.F) {
	for _, typed := range []string{"1:30", "1.5", "90m", "1h30", "", "-1", "24:01", "9999999999", "1,5", "½", "1:3", "h", "m", ".", "1e3"} {
		f.Add(typed)
	}
	f.Fuzz(func(t *testing.T, typed string) {
		for _, mark := range []money.Mark{money.Point, money.Comma} {
			minutes, err := ParseDuration(typed, mark)
			if err != nil {
				continue
			}
			if minutes < 0 || minutes > MinutesPerDay {
				t.Errorf("%q is %d minutes", typed, minutes)
			}
			if again, err := ParseDuration(Clock(minutes), mark); err != nil || again != minutes {
				t.Errorf("%q is %d minutes, written %s and read as %d, %v", typed, minutes, Clock(minutes), again, err)
			}
		}
	})
}
