package billing

import (
	"encoding/json"
	"fmt"
	"strings"

	"dorvet/core/explain"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/schedule"
	"dorvet/core/tax"
	"dorvet/core/wip"
	"dorvet/core/worktime"
	"dorvet/internal/store"

	"gorm.io/gorm"
)

// compute asks the core what an invoice comes to, from its lines.
func compute(tx *gorm.DB, inv *store.Invoice) (invoice.Totals, error) {
	lines, err := store.LinesOf(tx, inv.ID)
	if err != nil {
		return invoice.Totals{}, err
	}
	byID, err := store.TaxCodes(tx)
	if err != nil {
		return invoice.Totals{}, err
	}
	asked := invoice.Asked{Currency: inv.Currency, TaxDate: inv.TaxDay, Codes: map[string]tax.Code{}}
	for _, code := range byID {
		asked.Codes[code.Code] = code
	}
	for _, l := range lines {
		asked.Lines = append(asked.Lines, invoice.Line{Kind: l.Kind, TaxCode: byID[l.TaxCodeID].Code, Amount: money.Amount{Minor: l.Amount, Currency: l.Currency}})
	}
	return invoice.Compute(asked)
}

// documentOf is what the client sees: of an issued invoice the frozen
// revision, of a draft what it would be.
func documentOf(tx *gorm.DB, inv *store.Invoice) (*invoice.Document, error) {
	if inv.State.IsIssued() {
		revision, err := store.RevisionOf(tx, inv.ID)
		if err != nil {
			return nil, err
		}
		doc := new(invoice.Document)
		return doc, json.Unmarshal([]byte(revision.Content), doc)
	}
	totals, err := compute(tx, inv)
	if err != nil {
		return nil, err
	}
	return compose(tx, inv, totals)
}

func compose(tx *gorm.DB, inv *store.Invoice, totals invoice.Totals) (*invoice.Document, error) {
	entity, err := store.Get[store.IssuingEntity](tx, inv.EntityID)
	if err != nil {
		return nil, err
	}
	client, err := store.Get[store.Client](tx, inv.ClientID)
	if err != nil {
		return nil, err
	}
	terms, err := schedule.ParseTerms(inv.Terms)
	if err != nil {
		return nil, err
	}
	doc := &invoice.Document{
		Number: inv.NumberText, Dated: inv.Dated, Due: inv.DueDay, Terms: terms.String(), UpTo: inv.UpToDay, Currency: inv.Currency, Totals: totals,
		Issuer:   invoice.Party{Name: entity.LegalName, Address: lines(entity.Address), TaxNumber: entity.TaxNumber, Mail: entity.Mail},
		Client:   invoice.Party{Name: client.InvoiceName, Address: lines(client.Address), TaxNumber: client.TaxNumber},
		Bank:     invoice.Bank{Name: entity.BankName, IBAN: entity.IBAN, BIC: entity.BIC},
		Payable:  []invoice.Instalment{{Due: inv.DueDay, Amount: totals.Due}},
		Sections: []invoice.Section{},
	}
	return doc, addSections(tx, inv, doc)
}

func lines(address string) []string { return strings.Split(address, "\n") }

func addSections(tx *gorm.DB, inv *store.Invoice, doc *invoice.Document) error {
	rows, err := store.LinesOf(tx, inv.ID)
	if err != nil {
		return err
	}
	people, err := store.All[store.Person](tx, "id")
	if err != nil {
		return err
	}
	names := map[int64]string{}
	for _, p := range people {
		names[p.ID] = p.Name
	}
	engagementID := int64(0)
	for _, row := range rows {
		if row.EngagementID != engagementID {
			e, err := store.Get[store.Engagement](tx, row.EngagementID)
			if err != nil {
				return err
			}
			engagementID = row.EngagementID
			doc.Sections = append(doc.Sections, invoice.Section{Title: e.Name, Reference: e.Reference, Sum: money.Zero(inv.Currency)})
		}
		section := &doc.Sections[len(doc.Sections)-1]
		line := printed(row)
		if row.PersonID != nil {
			line.Who = names[*row.PersonID]
		}
		section.Lines = append(section.Lines, line)
		if section.Sum, err = section.Sum.Add(line.Amount); err != nil {
			return err
		}
	}
	return nil
}

func printed(row store.InvoiceLine) invoice.DocumentLine {
	line := invoice.DocumentLine{Day: row.Day, Text: row.Text, Amount: money.Amount{Minor: row.Amount, Currency: row.Currency}}
	if row.Minutes > 0 {
		line.Hours = worktime.Hours(row.Minutes)
	}
	if row.PerHour != nil {
		line.Rate = row.PerHour.String()
	}
	if row.Treatment == wip.NoCharge {
		line.Rate, line.Note = "", "no charge"
	}
	return line
}

// explanationOf is how an invoice came to its amount, down to the rate of each
// entry: of an issued one as it was frozen.
func explanationOf(tx *gorm.DB, inv *store.Invoice) (explain.Step, error) {
	if inv.State.IsIssued() {
		revision, err := store.RevisionOf(tx, inv.ID)
		if err != nil {
			return explain.Step{}, err
		}
		step := explain.Step{}
		return step, json.Unmarshal([]byte(revision.Explanation), &step)
	}
	totals, err := compute(tx, inv)
	if err != nil {
		return explain.Step{}, err
	}
	return explainDown(tx, inv, totals)
}

func explainDown(tx *gorm.DB, inv *store.Invoice, totals invoice.Totals) (explain.Step, error) {
	step := totals.Explain()
	portions, err := store.PortionsOn(tx, inv.ID)
	for _, p := range portions {
		entry := p.Explain()
		entry.Label = fmt.Sprintf("%s · %s · %s", p.WorkedDay.Long(), p.Initials, p.LineText)
		step.Steps[0].Steps = append(step.Steps[0].Steps, entry)
	}
	return step, err
}
