// Package worktime turns what people type for time into whole minutes, and
// minutes worked into minutes billed.
//
// A bare number is hours ("1.5", "2"), "90m" is minutes, "1:30" and "1h30" are
// hours and minutes. Billed minutes are the worked minutes less the part that
// is not billable, raised to the engagement's increment:
//
//	7 minutes at increments of 6, up, are 12: 0.2 h
package worktime

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"dorvet/core/money"
	"dorvet/core/refusal"
)

// MinutesPerDay is the most that one entry can hold.
const MinutesPerDay = 24 * 60

// mostHours is the most that a number of hours can be.
const mostHours = 1_000_000

var (
	clock   = regexp.MustCompile(`^(\d{0,7}):(\d{2})$`)
	letters = regexp.MustCompile(`^(?:(\d{1,7})h)? ?(?:(\d{1,8}) ?(m|min)?)?$`)
)

// ParseDuration reads typed time as whole minutes, 0 to 1440. Hours with
// decimals are rounded to the nearest minute, half up. What is meant for no
// time at all ("", "0") is 0.
func ParseDuration(typed string, mark money.Mark) (minutes int, err error) {
	minutes, err = ParseHours(typed, mark)
	if err == nil && minutes > MinutesPerDay {
		remedy := ""
		if _, bare := strconv.Atoi(strings.TrimSpace(typed)); bare == nil {
			remedy = ": for minutes type " + strings.TrimSpace(typed) + "m"
		}
		err = refusal.Errorf("%q is more than the 24 hours of a day%s", typed, remedy)
	}
	return minutes, err
}

// ParseHours reads hours that are not bound to one day, up to a million, as
// whole minutes; they are typed like a duration.
func ParseHours(typed string, mark money.Mark) (minutes int, err error) {
	text := strings.ToLower(strings.TrimSpace(typed))
	switch found := clock.FindStringSubmatch(text); {
	case text == "":
		return 0, nil
	case found != nil:
		minutes, err = hoursAndMinutes(typed, found[1], found[2])
	default:
		minutes, err = decimalOrLetters(typed, text, mark)
	}
	if err == nil && minutes > mostHours*60 {
		err = refusal.Errorf("%q is too long: give at most a million hours", typed)
	}
	return minutes, err
}

func decimalOrLetters(typed, text string, mark money.Mark) (int, error) {
	found := letters.FindStringSubmatch(text)
	if found != nil && (found[1] != "" || found[3] != "") {
		if found[1] == "" {
			return strconv.Atoi(found[2])
		}
		return hoursAndMinutes(typed, found[1], found[2])
	}
	tenThousandths, err := money.ParseFixed(strings.TrimSpace(strings.TrimSuffix(text, "h")), mark, 4)
	if err != nil || tenThousandths < 0 {
		return 0, refusal.Errorf("%q is not a time: type hours and minutes like 1:30, hours like 1%c5, or minutes like 90m", typed, mark)
	}
	minutes, err := money.MulDiv(tenThousandths, 60, 10_000)
	return int(minutes), err
}

func hoursAndMinutes(typed, hours, minutes string) (int, error) {
	h, _ := strconv.Atoi("0" + hours)
	m, _ := strconv.Atoi("0" + minutes)
	if m > 59 {
		return 0, refusal.Errorf("%q has %d minutes after the hour, of at most 59: for %d hours and %d minutes type %s", typed, m, h+m/60,
			m%60,
			Clock(h*60+m))
	}
	return h*60 + m, nil
}

// Clock is minutes as h:mm, such as 1:30.
func Clock(minutes int) string { return fmt.Sprintf("%d:%02d", minutes/60, minutes%60) }

// Said is minutes as sentences of the application have them, exact: 1:30 h. The
// narrow space before the unit is typed by nobody: by it the pages know what to
// write in the form in which a person reads hours.
func Said(minutes int) string { return Clock(minutes) + "\u202fh" }

// Hours is minutes as hours with at least one and at most two decimals, rounded
// for display only: 1.5 or 0.33.
func Hours(minutes int) string {
	hundredths, _ := money.MulDiv(int64(minutes), 100, 60)
	text := fmt.Sprintf("%d.%02d", hundredths/100, hundredths%100)
	return strings.TrimSuffix(text, "0")
}
