package rate

import (
	"fmt"
	"strings"

	"dorvet/core/explain"
)

// Explain says which rate won, since when it holds, and what it beat.
func (r Resolution) Explain() explain.Step {
	if r.Won == nil {
		return explain.Step{Label: "No rate holds", Detail: "Set one for the firm, the grade, the person, the client or the engagement."}
	}
	step := explain.Step{
		Label:  "Rate of " + r.Won.Source(),
		Detail: "holds since " + r.Won.From.Long(),
		Figure: r.Won.PerHour.String(),
	}
	if r.Won.Chosen {
		step.Detail = "chosen; " + step.Detail
	}
	for _, row := range r.Beaten {
		step.Steps = append(step.Steps, explain.Step{
			Label: "beats the rate of " + row.Source(), Detail: "since " + row.From.Long(), Figure: row.PerHour.String(),
		})
	}
	return step
}

// Source is the winner in a few words, such as "client Port of Calderwick".
func (r Resolution) Source() string {
	if r.Won == nil {
		return ""
	}
	return r.Won.Source()
}

// Source is whose rate it is, in a few words.
func (r Row) Source() string {
	if r.Level == Firm {
		return "the firm"
	}
	return strings.TrimSpace(fmt.Sprintf("the %s %s", r.Level, r.Subject))
}
