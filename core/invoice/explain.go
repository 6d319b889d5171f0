package invoice

import (
	"fmt"

	"dorvet/core/explain"
	"dorvet/core/money"
)

// Explain says how the total was made, and what became of it until the amount due.
func (t Totals) Explain() explain.Step {
	step := explain.Step{Label: "Amount due", Figure: t.Due.String()}
	add := func(label, detail string, amount money.Amount, steps ...explain.Step) {
		step.Steps = append(step.Steps, explain.Step{Label: label, Detail: detail, Figure: amount.String(), Steps: steps})
	}
	optional := func(label, detail string, amount money.Amount) {
		if !amount.IsZero() {
			add(label, detail, amount)
		}
	}
	add("Lines", "each with its rounded value, added", t.Lines)
	optional("Discount", "shared over the lines for tax", t.Discount.Neg())
	optional("Surcharge", fmt.Sprintf("%s %% of fees of %s", t.Percent, t.Fees), t.Surcharge)
	add("Net", "", t.Net)
	for _, code := range t.Taxes {
		for _, part := range code.Parts {
			add(part.Name, fmt.Sprintf("%s %% of %s, rounded once for the code %s", part.Percent, part.Base, code.Code), part.Tax)
		}
	}
	add("Total", "net and tax", t.Total)
	optional("Withheld", "lowers what is payable, not the total", t.Withholding.Neg())
	optional("Credit of the client", "", t.Credit.Neg())
	optional("From funds held", "", t.Funds.Neg())
	return step
}
