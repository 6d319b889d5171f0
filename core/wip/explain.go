package wip

import (
	"fmt"

	"dorvet/core/explain"
	"dorvet/core/worktime"
)

// Explain says how the value was made: minutes, rate, what it beat, treatment.
func (v Valued) Explain() explain.Step {
	step := explain.Step{Label: "Value", Figure: v.Agreed.String(), Steps: []explain.Step{v.minutes()}}
	switch {
	case v.Treatment == NotBillable:
		step.Steps = append(step.Steps, explain.Step{Label: "Not billable", Detail: "never on an invoice"})
	case v.Treatment == NoCharge:
		step.Steps = append(step.Steps, explain.Step{Label: "No charge", Detail: "printed on the invoice at zero",
			Figure: v.Agreed.String()})
	case v.Flat != nil:
		step.Steps = append(step.Steps, explain.Step{Label: "Flat amount", Detail: "in place of hours × rate", Figure: v.Flat.String()})
	default:
		v.explainRate(&step)
	}
	if v.Treatment == OutOfScope {
		step.Steps = append(step.Steps, explain.Step{Label: "Outside the fee", Detail: "billed by itself, whatever the arrangement covers"})
	}
	if v.Standard != v.Agreed {
		step.Steps = append(step.Steps, v.explainStandard())
	}
	return step
}

func (v Valued) explainRate(step *explain.Step) {
	step.Steps = append(step.Steps, v.Rate.Explain())
	words := "rounded once"
	switch {
	case v.Markup > 0:
		step.Steps = append(step.Steps, explain.Step{Label: "Mark-up", Figure: v.Markup.String() + " %"})
		words = fmt.Sprintf("plus %s %%, rounded once", v.Markup)
	case v.Markup < 0:
		step.Steps = append(step.Steps, explain.Step{Label: "Mark-down", Figure: v.Markup.String() + " %"})
		words = fmt.Sprintf("less %s %%, rounded once", -v.Markup)
	}
	if perHour, ok := v.Rate.PerHour(); ok {
		step.Detail = fmt.Sprintf("%s × %s, %s", worktime.Said(v.Billed.Minutes), perHour, words)
	}
}

func (v Valued) explainStandard() explain.Step {
	step := explain.Step{Label: "Standard value", Figure: v.Standard.String(),
		Detail: "what anybody would pay; realisation is measured against it"}
	if v.Flat == nil {
		standard := v.StandardRate.Explain()
		standard.Label = "At standard: " + lowerFirst(standard.Label)
		step.Steps = []explain.Step{standard}
	}
	return step
}

func (v Valued) minutes() explain.Step {
	b := v.Billed
	step := explain.Step{Label: worktime.Said(b.Worked) + " worked", Figure: worktime.Said(b.Minutes)}
	if b.NotBillable > 0 {
		step.Label += ", " + worktime.Said(b.NotBillable) + " of it not billable"
	}
	if b.Rule.Increment > 0 && b.Rule.Rounding != worktime.None {
		way := "up to the next"
		if b.Rule.Rounding == worktime.Nearest {
			way = "to the nearest"
		}
		step.Detail = fmt.Sprintf("%s %d min", way, b.Rule.Increment)
	}
	if b.Minutes > 0 && b.Minutes == b.Rule.Minimum {
		step.Detail = fmt.Sprintf("at least %d min an entry", b.Rule.Minimum)
	}
	return step
}

func lowerFirst(s string) string {
	return string(s[0]|0x20) + s[1:]
}
