package invoices

import (
	"dorvet/core/explain"
	"dorvet/core/invoice"
	"dorvet/internal/app"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/papers"
	"dorvet/internal/store"
)

// withDecision is a line with what was decided on its portion.
func withDecision(d *papers.Decisions, line Line, p *store.PortionRow) Line {
	line.WasAmount.Minor = p.Agreed - p.Adjusted + d.Down[p.ID].Agreed
	if off := d.Down[p.ID]; off.Minutes != 0 {
		line.WasMinutes = p.Minutes + off.Minutes
	}
	line.Part = partOf(p, line.WasAmount.Minor)
	last, decided := d.Last[p.ID]
	if !decided {
		return line
	}
	line.Decision = &Decided{last.ActID, last.Said, last.Reason, last.Person}
	detail := last.Said
	if last.Reason != "" {
		detail += ": " + last.Reason
	}
	line.Explanation = explain.Step{Label: "Value", Detail: detail + ", " + last.Person, Figure: line.Amount.String(),
		Steps: []explain.Step{line.Explanation}}
	return line
}

// addReview adds what is to be settled on a draft, what its leads said, and who
// looks after the client.
func (v *Invoice) addReview(a *app.App, tx *store.DB, inv *store.InvoiceRow) error {
	found, err := issuing.FindingsOf(a, tx, []store.Invoice{inv.Invoice})
	if err != nil {
		return err
	}
	for _, f := range found[inv.ID] {
		v.Findings = append(v.Findings, f)
		v.Found++
		if f.Level == invoice.Block {
			v.Blocking++
		}
	}
	said, err := store.ApprovalsOf(tx, inv.ID)
	if err != nil {
		return err
	}
	for _, s := range said {
		v.Approvals = append(v.Approvals, issuing.LeadSaid{LeadID: s.LeadID, Lead: s.Lead, State: s.State, Note: s.Note, By: s.By,
			At: s.At})
	}
	v.Responsible, v.Introduced, err = store.LooksAfter(tx, inv.ClientID)
	return err
}
