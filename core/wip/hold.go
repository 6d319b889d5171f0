package wip

import "dorvet/core/day"

// Hold says whether work waits before it is billed. It is asked apart from
// approval and billing: held work stays unbilled.
type Hold string

// Work is held until a day has come, or until somebody releases it.
const (
	NoHold        Hold = "none"
	UntilDay      Hold = "until_day"
	UntilReleased Hold = "until_released"
)

// Holds reports whether the hold still stands on a day: one until the 15th is
// over on the 15th.
func (h Hold) Holds(until, on day.Day) bool {
	return h == UntilReleased || h == UntilDay && on < until
}
