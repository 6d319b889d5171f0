package worktime

import "dorvet/core/refusal"

// Rounding says which way minutes go to their increment.
type Rounding string

// Up is the default: every started increment counts. Nearest goes half up and
// may give zero. None bills the minutes as they are.
const (
	Up      Rounding = "up"
	Nearest Rounding = "nearest"
	None    Rounding = "none"
)

// Rule is how an engagement bills minutes: in increments (minutes, 6 unless
// set otherwise), with a minimum (minutes) for every entry with billable time.
type Rule struct {
	Increment int      `json:"incrementMinutes"`
	Rounding  Rounding `json:"rounding"`
	Minimum   int      `json:"minimumMinutes"`
}

// Billed is how worked minutes become billed minutes, with each step kept.
type Billed struct {
	Worked      int  `json:"workedMinutes"`
	NotBillable int  `json:"notBillableMinutes"`
	Rule        Rule `json:"rule"`
	Minutes     int  `json:"minutes"`
}

// Bill applies the rule: worked less what is not billable, to the increment,
// then at least the minimum. Zero stays zero. It is an error if the part that
// is not billable is negative or more than what was worked.
func (r Rule) Bill(worked, notBillable int) (Billed, error) {
	if notBillable < 0 || notBillable > worked {
		return Billed{}, refusal.Errorf("%s of %s can't be not billable: give between 0:00 and %s",
			Clock(max(notBillable, 0)), Clock(worked), Clock(worked))
	}
	billed := Billed{Worked: worked, NotBillable: notBillable, Rule: r}
	if billable := worked - notBillable; billable > 0 {
		billed.Minutes = max(r.round(billable), r.Minimum)
	}
	return billed, nil
}

func (r Rule) round(minutes int) int {
	if r.Increment <= 0 {
		return minutes
	}
	switch r.Rounding {
	case None:
		return minutes
	case Nearest:
		return (minutes + r.Increment/2) / r.Increment * r.Increment
	}
	return (minutes + r.Increment - 1) / r.Increment * r.Increment
}
