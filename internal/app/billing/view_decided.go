package billing

import (
	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/invoice"
	"dorvet/internal/store"
)

// decisions are what was decided on the work of an invoice, by portion.
type decisions struct {
	last map[int64]store.StandingDecision
	down map[int64]store.WrittenDown
}

func decisionsOn(tx *store.DB, invoiceID int64) (*decisions, error) {
	rows, err := store.DecisionsOnInvoice(tx, invoiceID)
	d := &decisions{last: map[int64]store.StandingDecision{}}
	if err != nil {
		return nil, err
	}
	for _, row := range rows {
		d.last[row.PortionID] = row
	}
	d.down, err = store.WrittenDownOn(tx, invoiceID)
	return d, err
}

// withDecision is a line with what was decided on its portion.
func withDecision(d *decisions, line Line, p *store.PortionRow) Line {
	line.WasAmount.Minor = p.Agreed - p.Adjusted + d.down[p.ID].Agreed
	if off := d.down[p.ID]; off.Minutes != 0 {
		line.WasMinutes = p.Minutes + off.Minutes
	}
	line.Part = p.Part > 0 || line.WasAmount.Minor != p.AgreedWhole
	last, decided := d.last[p.ID]
	if !decided {
		return line
	}
	line.Decision = &Decided{last.ActID, last.Said, last.Reason, last.Person}
	detail := last.Said
	if last.Reason != "" {
		detail += ": " + last.Reason
	}
	line.Explanation = explain.Step{Label: "Value", Detail: detail + ", " + last.Person, Figure: line.Amount.String(), Steps: []explain.Step{line.Explanation}}
	return line
}

// addReview adds what is to be settled on a draft, what its leads said, and who
// looks after the client.
func (v *Invoice) addReview(tx *store.DB, inv *store.InvoiceRow, today day.Day) error {
	found, err := findingsOf(tx, []store.Invoice{inv.Invoice}, today)
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
		v.Approvals = append(v.Approvals, LeadSaid{s.LeadID, s.Lead, s.State, s.Note, s.By, s.At})
	}
	v.Responsible, v.Introduced, err = store.LooksAfter(tx, inv.ClientID)
	return err
}
