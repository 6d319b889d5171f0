// Package day is the calendar of business: days without time or zone.
//
// A [Day] is a date of the Gregorian calendar, the zero Day none at all. Months
// are added with the day of the month clamped: one month after 31 January is
// the last day of February. Weeks are those of ISO 8601: they begin on Monday,
// and week 1 holds the year's first Thursday.
package day

import (
	"regexp"
	"strconv"
	"strings"
	"time"

	"dorvet/core/refusal"
)

// Day counts days from 1 January of year 1, which is 1. The zero value is no day.
type Day int32

const unixEpoch = 719163 // 1 January 1970

// Of is the given date; a day beyond the month's end runs on into the next
// month, as in [time.Date].
func Of(year int, month time.Month, dayOfMonth int) Day {
	return fromUnix(time.Date(year, month, dayOfMonth, 0, 0, 0, 0, time.UTC).Unix())
}

// In is the day that it is at an instant in a time zone.
func In(instant time.Time, zone *time.Location) Day {
	local := instant.In(zone)
	return Of(local.Year(), local.Month(), local.Day())
}

func fromUnix(seconds int64) Day { return Day(seconds/86400 + unixEpoch) }

// Time is midnight UTC of the day.
func (d Day) Time() time.Time { return time.Unix((int64(d)-unixEpoch)*86400, 0).UTC() }

// IsZero reports whether d is no day.
func (d Day) IsZero() bool { return d == 0 }

// Weekday is the day of the week.
func (d Day) Weekday() time.Weekday { return d.Time().Weekday() }

// AddDays is n days later, or earlier for a negative n.
func (d Day) AddDays(n int) Day { return d + Day(n) }

// AddMonths is the same day of the month n months later, or that month's last
// day if it is shorter.
func (d Day) AddMonths(n int) Day {
	t := d.Time()
	first := time.Date(t.Year(), t.Month()+time.Month(n), 1, 0, 0, 0, 0, time.UTC)
	return Of(first.Year(), first.Month(), min(t.Day(), lastOf(first.Year(), first.Month())))
}

// NextYearly is the first day on or after d that is a month and a day of it, like 03-31; 02-29 is
// the last of February in other years. Nothing, or what is no day, gives no day.
func (d Day) NextYearly(monthDay string) Day {
	leap, err := parse("2024-" + monthDay)
	if err != nil || d.IsZero() {
		return 0
	}
	for year := d.Time().Year(); ; year++ {
		on := Of(year, leap.Time().Month(), 1).OnDayOfMonth(leap.Time().Day())
		if on >= d {
			return on
		}
	}
}

// EndOfMonth is the last day of the month of d.
func (d Day) EndOfMonth() Day {
	t := d.Time()
	return Of(t.Year(), t.Month(), lastOf(t.Year(), t.Month()))
}

// OnDayOfMonth is the given day (1 to 31) of the month of d, clamped.
func (d Day) OnDayOfMonth(n int) Day {
	t := d.Time()
	return Of(t.Year(), t.Month(), min(n, lastOf(t.Year(), t.Month())))
}

func lastOf(year int, month time.Month) int {
	return time.Date(year, month+1, 0, 0, 0, 0, 0, time.UTC).Day()
}

// Monday is the first day of the ISO week of d.
func (d Day) Monday() Day {
	return d - Day((int(d.Weekday())+6)%7)
}

// Week is the ISO 8601 year and week of d.
func (d Day) Week() (year, week int) {
	thursday := d.Monday().AddDays(3).Time()
	return thursday.Year(), (thursday.YearDay()-1)/7 + 1
}

// String is the ISO 8601 date, 2026-11-30, or nothing for no day.
func (d Day) String() string {
	if d.IsZero() {
		return ""
	}
	return d.Time().Format(time.DateOnly)
}

// Long is the date as it is read: 30 Nov 2026.
func (d Day) Long() string { return d.Time().Format("2 Jan 2006") }

// The days that can be given: beyond them nobody works or bills, and what counts days
// would not end.
var (
	First = Of(1970, time.January, 1)
	Last  = Of(2199, time.December, 31)
)

// Within refuses a day that can't be given; no day is fine.
func (d Day) Within() error {
	if d.IsZero() || d >= First && d <= Last {
		return nil
	}
	return refusal.Errorf("%s is out of range: give a day from %s to %s", d, First, Last)
}

// Parse reads an ISO 8601 date from 1970 to 2199.
func Parse(iso string) (Day, error) {
	d, err := parse(iso)
	if err == nil {
		err = d.Within()
	}
	return d, err
}

func parse(iso string) (Day, error) {
	t, err := time.Parse(time.DateOnly, iso)
	if err != nil {
		return 0, refusal.Errorf("%q is not a date: type it as year, month and day, like 2026-11-30", iso)
	}
	return fromUnix(t.Unix()), nil
}

// MarshalText writes the ISO date, nothing for no day.
func (d Day) MarshalText() ([]byte, error) { return []byte(d.String()), nil }

// UnmarshalText reads what MarshalText writes, whatever the day: what is kept is read.
func (d *Day) UnmarshalText(text []byte) error {
	if len(text) == 0 {
		*d = 0
		return nil
	}
	parsed, err := parse(string(text))
	*d = parsed
	return err
}

var (
	relative = regexp.MustCompile(`^([+-])(\d{1,4})([dwmy]?)$`)
	dotted   = regexp.MustCompile(`^(\d{1,2})\.\s?(\d{1,2})\.?(?:\s?(\d{4}|\d{2}))?$`)
	slashed  = regexp.MustCompile(`^(\d{1,2})/(\d{1,2})(?:/(\d{4}|\d{2}))?$`)
	named    = regexp.MustCompile(`^(?:(?:mon|tue|wed|thu|fri|sat|sun)[a-z]*,? )?(\d{1,2})\.? ([a-z]{3,9})\.?(?: (\d{4}|\d{2}))?$`)
)

// ParseTyped reads a date as people type it, and every form in which pages print one:
//
//	2026-11-30, 30 Nov 2026, 30 nov, Monday 30 November, 30.11., 30.11.26, 30/11/2026
//	today, yest, tom, eom (the end of this month), fri (the next one; in a week, if today is one)
//	+30d, -2w, +1m, +1y, -3 (days)
//
// A date without a year is the one nearest to today. With a slash, what could be day and
// month or month and day is refused with both readings.
func ParseTyped(typed string, today Day) (Day, error) {
	d, err := parseTyped(typed, today)
	if err == nil {
		err = d.Within()
	}
	return d, err
}

func parseTyped(typed string, today Day) (Day, error) {
	text := strings.Join(strings.Fields(strings.ToLower(typed)), " ")
	if d, err := parse(text); err == nil {
		return d, nil
	}
	switch text {
	case "today":
		return today, nil
	case "yest", "yesterday":
		return today.AddDays(-1), nil
	case "tom", "tomorrow":
		return today.AddDays(1), nil
	case "eom":
		return today.EndOfMonth(), nil
	}
	if weekday, known := weekdays[text]; known {
		return today.AddDays((int(weekday)-int(today.Weekday())+13)%7 + 1), nil
	}
	if found := relative.FindStringSubmatch(text); found != nil {
		n, err := strconv.Atoi(found[1] + found[2])
		switch found[3] {
		case "w":
			return today.AddDays(7 * n), err
		case "m":
			return today.AddMonths(n), err
		case "y":
			return today.AddMonths(12 * n), err
		}
		return today.AddDays(n), err
	}
	if found := dotted.FindStringSubmatch(text); found != nil {
		return dated(typed, found[1], found[2], found[3], today)
	}
	if found := named.FindStringSubmatch(text); found != nil {
		if month := monthOf(found[2]); month > 0 {
			return dated(typed, found[1], strconv.Itoa(month), found[3], today)
		}
	}
	if found := slashed.FindStringSubmatch(text); found != nil {
		return slashedDay(typed, found, today)
	}
	return 0, notRead(typed)
}

func notRead(typed string) error {
	return refusal.Errorf("%q is no date: type it like 30 nov, 30.11., 2026-11-30, +30d, eom or fri", typed)
}

// slashedDay reads 30/11 and 11/30, and refuses what could be either.
func slashedDay(typed string, found []string, today Day) (Day, error) {
	dayFirst, err := dated(typed, found[1], found[2], found[3], today)
	monthFirst, other := dated(typed, found[2], found[1], found[3], today)
	switch {
	case err != nil && other != nil:
		return 0, err
	case err != nil:
		return monthFirst, nil
	case other == nil && dayFirst != monthFirst:
		return 0, refusal.Errorf("%q could be %s or %s: write one of these", typed, dayFirst.Long(), monthFirst.Long())
	}
	return dayFirst, nil
}

// monthOf is the month that a name or its beginning means, or 0.
func monthOf(name string) int {
	for m := time.January; m <= time.December; m++ {
		if strings.HasPrefix(strings.ToLower(m.String()), name) || name == "sept" && m == time.September {
			return int(m)
		}
	}
	return 0
}

// dated is the day of a day and a month in digits; without a year, the one nearest to today.
func dated(typed, dayText, monthText, yearText string, today Day) (Day, error) {
	dayOfMonth, _ := strconv.Atoi(dayText)
	month, _ := strconv.Atoi(monthText)
	years := []int{today.Time().Year() - 1, today.Time().Year(), today.Time().Year() + 1}
	if yearText != "" {
		year, _ := strconv.Atoi(yearText)
		if len(yearText) == 2 {
			year += 2000
		}
		years = []int{year}
	}
	var nearest Day
	for _, year := range years {
		if month < 1 || month > 12 || dayOfMonth < 1 || dayOfMonth > lastOf(year, time.Month(month)) {
			continue
		}
		d := Of(year, time.Month(month), dayOfMonth)
		if nearest == 0 || distance(d, today) < distance(nearest, today) {
			nearest = d
		}
	}
	if nearest == 0 {
		return 0, notRead(typed)
	}
	return nearest, nil
}

func distance(a, b Day) Day { return max(a-b, b-a) }
