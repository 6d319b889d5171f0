package receivable

import "dorvet/core/day"

// Expected is when money is likely to come.
type Expected struct{ Early, Mid, Late day.Day }

// Expect says when what is due on a day is likely to come, by the habit of who pays it: the due day and the usual delay, with the quartiles
// as range. What has gone by is not told again: on no day before today.
func Expect(due, today day.Day, h Habit) Expected {
	on := func(days int) day.Day { return max(today, due.AddDays(days)) }
	return Expected{on(h.Low), on(h.Mid), on(h.Top)}
}

// Beyond reports whether what is due on a day is later than three of four payments of who pays it ever were: when it comes, nobody knows.
func Beyond(due, today day.Day, h Habit) bool { return due.AddDays(max(h.Top, 0)) < today }
