package budget

import (
	"fmt"

	"dorvet/core/day"
	"dorvet/core/explain"
)

// Window is over how many working days the average use is taken; the last of
// them is yesterday.
const Window = 20

// Forecast says when a budget will be used up, if work goes on as it did.
type Forecast struct {
	Since     day.Day // first of the working days that were looked at
	Used      int64   // in them
	Days      int     // working days until it is used up
	Exhausted day.Day
	// Known is false where nothing was used lately, so that nothing can be said.
	Known bool
}

// Preview forecasts from what was used in the last 20 working days: the day on
// which a budget is used up is today + ceil(left / average) working days. What
// is used up already is used up today.
func Preview(today day.Day, left int64, uses []Use, calendar day.Calendar) Forecast {
	f := Forecast{Since: calendar.Add(today, -Window)}
	for _, use := range uses {
		if use.Day >= f.Since && use.Day < today {
			f.Used += use.Amount
		}
	}
	if left <= 0 {
		f.Exhausted, f.Known = today, true
		return f
	}
	if f.Used <= 0 {
		return f
	}
	days := (left*Window + f.Used - 1) / f.Used
	if days > 2500 { // ten years of work: nobody plans by that
		return f
	}
	f.Days, f.Known = int(days), true
	f.Exhausted = calendar.Add(today, f.Days)
	return f
}

// Explain says how the forecast was made; figure writes an amount of the
// budget's unit.
func (f Forecast) Explain(left int64, figure func(int64) string) explain.Step {
	if !f.Known {
		return explain.Step{Label: "No forecast", Detail: fmt.Sprintf("little or nothing was used since %s", f.Since.Long())}
	}
	if left <= 0 {
		return explain.Step{Label: "Used up", Figure: figure(left)}
	}
	return explain.Step{Label: "Used up on", Figure: f.Exhausted.Long(), Steps: []explain.Step{
		{Label: "Left", Figure: figure(left)},
		{Label: fmt.Sprintf("Used in %d working days", Window), Detail: "since " + f.Since.Long() + ", until yesterday",
			Figure: figure(f.Used)},
		{Label: "Lasts, at that pace", Detail: fmt.Sprintf("%s × %d / %s, rounded up", figure(left), Window, figure(f.Used)),
			Figure: fmt.Sprintf("%d working days", f.Days)},
	}}
}
