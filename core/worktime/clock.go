package worktime

import (
	"regexp"
	"strconv"
	"strings"

	"dorvet/core/refusal"
)

var timeOfDay = regexp.MustCompile(`^(\d{1,2})(?:[:.]?(\d{2}))? ?(am|pm)?$`)

// ParseTimeOfDay reads a time of day as minutes after midnight, 0 to 1440:
// 9, 9:15, 0915, 9.15 or 9:15pm; 24:00 is the day's end.
func ParseTimeOfDay(typed string) (int, error) {
	found := timeOfDay.FindStringSubmatch(strings.ToLower(strings.TrimSpace(typed)))
	if found == nil {
		return 0, refusal.Errorf("%q is not a time of day: type it like 9:15", typed)
	}
	hour, _ := strconv.Atoi(found[1])
	minute, _ := strconv.Atoi("0" + found[2])
	switch {
	case found[3] != "" && (hour < 1 || hour > 12):
		return 0, refusal.Errorf("%q is not a time of day: before am and pm the hour is 1 to 12", typed)
	case found[3] == "pm":
		hour = hour%12 + 12
	case found[3] == "am":
		hour %= 12
	}
	if minute > 59 || hour*60+minute > MinutesPerDay {
		return 0, refusal.Errorf("%q is not a time of day: give 0:00 to 24:00", typed)
	}
	return hour*60 + minute, nil
}

// Between is the minutes from a start to an end of the same day.
func Between(start, end int) (int, error) {
	if end <= start {
		return 0, refusal.Errorf("the end, %s, is not after the start, %s: work past midnight is two entries, one a day", Clock(end),
			Clock(start))
	}
	return end - start, nil
}
