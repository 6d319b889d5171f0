package papers

import (
	"encoding/json"
	"fmt"
	"strings"

	"dorvet/core/explain"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/internal/store"
)

// ExplanationOf is how an invoice came to its amount, down to the rate of each
// entry: of an issued one as it was frozen.
func ExplanationOf(tx *store.DB, inv *store.Invoice, on *Content) (explain.Step, error) {
	if inv.Kind == invoice.Opening {
		return explain.Step{Label: "Amount due", Detail: "taken over from before, as it was entered",
			Figure: inv.Amount(inv.Due).String()}, nil
	}
	if inv.State.IsIssued() {
		revision, err := store.RevisionOf(tx, inv.ID)
		if err != nil {
			return explain.Step{}, err
		}
		step := explain.Step{}
		return step, json.Unmarshal([]byte(revision.Explanation), &step)
	}
	totals, err := on.Totals(inv)
	if err != nil {
		return explain.Step{}, err
	}
	return explainDown(inv, on, totals), nil
}

// explainDown adds to the steps of the totals what is under each line.
func explainDown(inv *store.Invoice, on *Content, totals invoice.Totals) explain.Step {
	step := totals.Explain()
	for _, row := range on.Lines {
		line := explain.Step{Label: row.Text, Detail: LineDetail(row), Figure: inv.Amount(row.Amount).String()}
		for i := range on.Portions {
			p := &on.Portions[i]
			if *p.LineID != row.ID {
				continue
			}
			entry := p.Explain()
			if last, is := on.Decided.Last[p.ID]; is {
				entry = explain.Step{Detail: strings.Trim(last.Said+": "+last.Reason, ": "), Figure: inv.Amount(p.Agreed).String(),
					Steps: []explain.Step{entry}}
			} else if p.Part > 0 || p.Agreed != p.AgreedWhole {
				entry = explain.Step{Detail: "a part, cut at the cap", Figure: inv.Amount(p.Agreed).String(), Steps: []explain.Step{entry}}
			}
			entry.Label = fmt.Sprintf("%s · %s · %s", p.WorkedDay.Long(), p.Initials, LineText(*p))
			if !row.Kind.Covers() {
				entry.Label = fmt.Sprintf("%s · %s · %s", p.WorkedDay.Long(), p.Initials, row.Text)
				line = entry
				continue
			}
			line.Steps = append(line.Steps, explain.Step{Label: entry.Label, Detail: "covered, at standard",
				Figure: inv.Amount(p.Standard).String()})
		}
		step.Steps[0].Steps = append(step.Steps[0].Steps, line)
	}
	return step
}

// LineDetail says how a line that no entry explains came about.
func LineDetail(row store.InvoiceLine) string {
	switch {
	case row.UnitPrice != nil:
		return money.TypeFixed(*row.Quantity, money.Point, 4, 0) + " × " + row.UnitPrice.String()
	case row.Done != nil:
		return row.Done.String() + " % of the fee, less what was billed before"
	case row.Kind == invoice.Advance && row.Amount < 0:
		return "invoiced ahead, and taken back here"
	case row.Kind == invoice.Recurring:
		return "for its period, as agreed"
	case row.Kind == invoice.Fixed:
		return "as agreed"
	}
	return "by hand"
}
