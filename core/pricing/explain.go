package pricing

import (
	"fmt"

	"dorvet/core/explain"
	"dorvet/core/money"
	"dorvet/core/worktime"
)

// Explain says how a total was made: bill by bill, down to the lines.
func (o Offer) Explain(label string, sum Sum) explain.Step {
	step := explain.Step{Label: label, Detail: "net; every bill with its date", Figure: sum.Net.String()}
	for _, b := range sum.Bills {
		step.Steps = append(step.Steps, o.explainBill(b))
	}
	return step
}

// ExplainTax says how the tax of a total was made, bill by bill.
func (o Offer) ExplainTax(label string, sum Sum) explain.Step {
	step := explain.Step{Label: label, Detail: "each bill taxes its own net", Figure: sum.Tax.String()}
	for _, b := range sum.Bills {
		for _, code := range b.Totals.Taxes {
			for _, part := range code.Parts {
				step.Steps = append(step.Steps, explain.Step{Label: b.When() + ": " + part.Name,
					Detail: fmt.Sprintf("%s %% of %s", part.Percent, part.Base), Figure: part.Tax.String()})
			}
		}
	}
	return step
}

// ExplainGross says how a total with tax was made.
func (o Offer) ExplainGross(label string, sum Sum) explain.Step {
	return explain.Step{Label: label, Detail: "with tax", Figure: sum.Gross.String(),
		Steps: []explain.Step{o.Explain("Before tax", sum), o.ExplainTax("Tax", sum)}}
}

func (o Offer) explainBill(b Bill) explain.Step {
	step := explain.Step{Label: b.When(), Figure: b.Totals.Net.String(), Detail: fmt.Sprintf("with tax %s", b.Totals.Total)}
	for _, c := range b.Charges {
		step.Steps = append(step.Steps, explain.Step{Label: o.Lines[c.Line].Description, Detail: c.detail(), Figure: c.Net.String()})
	}
	if !b.Totals.Discount.IsZero() {
		step.Steps = append(step.Steps, explain.Step{Label: "Discount", Detail: fmt.Sprintf("%s %% of the bill", o.Discount.Percent),
			Figure: b.Totals.Discount.Neg().String()})
	}
	for _, code := range b.Totals.Taxes {
		for _, part := range code.Parts {
			step.Steps = append(step.Steps, explain.Step{Label: "Tax: " + part.Name,
				Detail: fmt.Sprintf("%s %% of %s, on top of the net", part.Percent, part.Base), Figure: part.Tax.String()})
		}
	}
	return step
}

// When says when the bill comes.
func (b Bill) When() string {
	if b.Day.IsZero() {
		return b.Event
	}
	return b.Day.Long()
}

func (c Charge) detail() string {
	text := ""
	if c.Period != nil {
		text = fmt.Sprintf("%s to %s", c.Period.From.Long(), c.Period.To.Long())
		if c.Period.IsPart() {
			text += fmt.Sprintf(", %d of %d days", c.Period.Days, c.Period.Whole)
		}
	}
	for _, note := range []struct {
		it    bool
		words string
	}{{!c.Discount.IsZero(), "less " + c.Discount.String() + " of the discount"}, {c.Open, "priced when billed"},
		{c.Estimate, "expected, billed as worked"},
		{!c.Deposit.IsZero(), "of it " + c.Deposit.String() + " asked as deposit"}} {
		if note.it {
			if text != "" {
				text += "; "
			}
			text += note.words
		}
	}
	return text
}

// Explain says how a line's price was made.
func (p Priced) Explain(l Line) explain.Step {
	step := explain.Step{Label: l.Description, Detail: l.Rule.String(), Figure: p.Net.String()}
	add := func(label, detail, figure string) {
		step.Steps = append(step.Steps, explain.Step{Label: label, Detail: detail, Figure: figure})
	}
	switch {
	case p.Kind == Open:
		add("Priced when billed", "counts as nothing until then", "")
	case len(p.Slices) > 0:
		for _, s := range p.Slices {
			add(fmt.Sprintf("%s at %s", Quantity(s.Quantity), s.Price), "a slice of the quantity at its own price", "")
		}
	case p.Kind == Hourly && p.Quantity == 0:
		add(fmt.Sprintf("%d min at %s an hour", p.Minutes, p.Price), "the expected time", p.Gross.String())
	default:
		add(fmt.Sprintf("%s × %s", Quantity(p.Quantity), p.Price), "rounded once", p.Gross.String())
	}
	if !p.Discount.IsZero() {
		add("Discount on the line", "", p.Discount.Neg().String())
	}
	return step
}

// Quantity is a quantity as it is read: 3 or 2.5.
func Quantity(n int64) string { return money.Percent(n).String() }

// Explain says how cost and margin were made.
func (e Earning) Explain(o Offer) explain.Step {
	step := explain.Step{Label: "Margin", Detail: "(net − cost) / net"}
	switch {
	case e.Margin != nil:
		step.Figure = e.Margin.String() + " %"
	case e.WithoutCost > 0:
		step.Figure, step.Detail = "cost unknown", "set what an hour costs of whoever is expected"
	}
	step.Steps = []explain.Step{{Label: "Net fee", Figure: e.Net.String()}, e.ExplainCost(o),
		{Label: "At standard rates", Figure: e.Standard.String()}}
	return step
}

// ExplainCost says what the expected time costs, line by line.
func (e Earning) ExplainCost(o Offer) explain.Step {
	step := explain.Step{Label: "Cost of the expected time", Figure: e.Cost.String()}
	for _, l := range e.ByLine {
		margin := ""
		if l.Margin != nil {
			margin = fmt.Sprintf("; margin %s %%", l.Margin)
		}
		step.Steps = append(step.Steps, explain.Step{Label: o.Lines[l.Line].Description, Figure: l.Cost.String(),
			Detail: fmt.Sprintf("%s; worth %s at standard rates, priced %s%s", worktime.Said(int(l.Minutes)), l.Standard, l.Net, margin)})
	}
	return step
}
