package papers

import (
	"strings"

	"dorvet/core/invoice"
	"dorvet/core/money"
	core "dorvet/core/wip"
	"dorvet/internal/store"
)

// billedOf are the lines of a document as structured formats have them: one for
// each line that was billed, in the order of the totals, whatever is printed.
func billedOf(tx *store.DB, on *Content) ([]invoice.Billed, error) {
	behind := map[int64]*store.PortionRow{}
	for i := range on.Portions {
		if p := &on.Portions[i]; behind[*p.LineID] == nil {
			behind[*p.LineID] = p
		}
	}
	leads, err := leadsOf(tx, on.Engagements)
	if err != nil {
		return nil, err
	}
	list := make([]invoice.Billed, 0, len(on.Lines))
	for _, row := range on.Lines {
		e := on.Engagements[row.EngagementID]
		b := invoice.Billed{Kind: row.Kind, Engagement: e.Name, Code: e.Code, Reference: e.Reference, Lead: leads[e.LeadID], Day: row.Day,
			Text: invoice.Plain(row.Text), Minutes: row.Minutes,
			Amount: money.Amount{Minor: row.Amount, Currency: row.Currency}, TaxCode: on.Codes[row.TaxCodeID].Code}
		if row.Treatment != core.NoCharge {
			b.Price = row.PerHour
		}
		if row.UnitPrice != nil {
			b.Price, b.Quantity, b.Unit = row.UnitPrice, *row.Quantity, row.Unit
		}
		if p := behind[row.ID]; p != nil && !row.Kind.Covers() {
			told(&b, p)
		}
		list = append(list, b)
	}
	return list, nil
}

// told adds what the source of a line says in files.
func told(b *invoice.Billed, p *store.PortionRow) {
	b.Task, b.Activity, b.Expense = p.Codes.Task, p.Codes.Activity, p.Codes.Expense
	b.Worked = invoice.Timekeeper{Initials: p.Initials, Name: p.Person, Class: p.Codes.Class}
	if p.IsExpense() {
		b.Category = p.Service
		if units, unit, price := p.Units(); price != nil {
			b.Quantity, b.Unit, b.Price = units, unit, price
		}
		return
	}
	b.Service = p.Service
}

// leadsOf are the leads of engagements, as timekeepers.
func leadsOf(tx *store.DB, engagements map[int64]*store.Engagement) (map[int64]invoice.Timekeeper, error) {
	leads := map[int64]invoice.Timekeeper{}
	for _, e := range engagements {
		if _, known := leads[e.LeadID]; known {
			continue
		}
		person, class, err := store.Timekeeper(tx, e.LeadID)
		if err != nil {
			return nil, err
		}
		leads[e.LeadID] = invoice.Timekeeper{Initials: person.Initials, Name: person.Name, Class: strings.ToUpper(class)}
	}
	return leads, nil
}
