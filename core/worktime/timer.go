package worktime

import (
	"time"

	"dorvet/core/day"
)

// Run is a stretch of time in which a timer ran.
type Run struct{ Began, Ended time.Time }

// OfDay is time worked on a day.
type OfDay struct {
	Day     day.Day
	Minutes int
}

// Seconds adds runs, each in whole seconds; one that ends before it began, which
// only a clock that was set back can do, counts as none.
func Seconds(runs []Run) int64 {
	sum := int64(0)
	for _, r := range runs {
		sum += max(0, r.Ended.Unix()-r.Began.Unix())
	}
	return sum
}

// Started counts seconds to the started minute: 1 to 60 seconds are 1 minute.
func Started(seconds int64) int { return int((seconds + 59) / 60) }

// ByDay gives the minutes of a timer to the days on which it ran, by the clock of
// a place. A day has the started minutes up to its end less those before it, so
// that the days add up to the whole; one that begins no minute is left out.
//
//	a run from 23:30:00 to 00:15:30 is 46 minutes: 30 and 16
func ByDay(runs []Run, zone *time.Location) []OfDay {
	days, seconds := []OfDay{}, int64(0)
	for _, r := range runs {
		for began, end := r.Began.Unix(), r.Ended.Unix(); began < end; {
			on, until := dayAt(began, zone)
			until = min(until, end)
			minutes := Started(seconds+until-began) - Started(seconds)
			seconds, began = seconds+until-began, until
			if minutes == 0 {
				continue
			}
			if last := len(days) - 1; last >= 0 && days[last].Day == on {
				days[last].Minutes += minutes
			} else {
				days = append(days, OfDay{on, minutes})
			}
		}
	}
	return days
}

// dayAt is the day at an instant, and the instant at which it ends or the clock
// of the place changes.
func dayAt(unix int64, zone *time.Location) (on day.Day, until int64) {
	local := time.Unix(unix, 0).In(zone)
	_, offset := local.Zone()
	const perDay = 24 * 60 * 60
	until = ((unix+int64(offset))/perDay+1)*perDay - int64(offset)
	if _, change := local.ZoneBounds(); !change.IsZero() {
		until = min(until, change.Unix())
	}
	return day.In(local, zone), until
}
