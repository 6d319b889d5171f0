package pricing

import (
	"fmt"
	"slices"
	"strings"

	core "dorvet/core/pricing"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/app/profiles"
	"dorvet/internal/store"
)

// document is the proposal as it is printed: for a choice, accepted on a day,
// with the record of the answer if there is one.
func (b *proposalContext) document(a *app.App, p *store.Proposal, c Content, choice core.Choice, on day.Day,
	answer *store.ProposalAnswer) (core.Document, error) {
	page, err := b.page(p, c, choice, on)
	if err != nil {
		return core.Document{}, err
	}
	colour, logo, err := b.look(a, p.ClientID)
	if err != nil {
		return core.Document{}, err
	}
	tier := page.Tiers[choice.Tier]
	doc := core.Document{Firm: page.Firm, Colour: colour, Logo: logo,
		Address: strings.Split(page.Address, "\n"), Number: p.NumberText, Title: page.Title,
		Client: page.For,
		Dated:  on, Opening: page.Opening, Tier: tier.Name,
		Columns: string(p.Currency) + ", before tax", Payment: "Payment terms: " + page.Payment, Terms: page.Terms}
	chosen := map[int]bool{}
	for _, i := range choice.Options {
		chosen[i] = true
	}
	for _, l := range tier.Lines {
		if l.Optional && !chosen[l.Line] {
			continue
		}
		doc.Lines = append(doc.Lines, core.DocumentLine{What: l.Description, Note: noteOf(l), When: l.When, Amount: l.Amount})
	}
	for _, row := range page.Chosen.Rows {
		doc.Totals = append(doc.Totals, core.DocumentTotal{Label: row.Label, Figure: row.Figure})
	}
	for _, row := range page.Chosen.Discount {
		doc.Totals = append(doc.Totals, core.DocumentTotal{Label: row.Label, Figure: row.Figure})
	}
	doc.Totals = append(doc.Totals, core.DocumentTotal{Label: page.Chosen.NetLabel, Figure: page.Chosen.Net})
	for _, row := range page.Chosen.Taxes {
		doc.Totals = append(doc.Totals, core.DocumentTotal{Label: row.Label, Figure: row.Figure})
	}
	doc.Totals = append(doc.Totals, core.DocumentTotal{Label: "With tax", Figure: page.Chosen.Gross})
	for _, row := range page.Chosen.Whole {
		doc.Totals = append(doc.Totals, core.DocumentTotal{Label: row.Label, Figure: row.Figure})
	}
	for _, bill := range page.Chosen.Bills {
		doc.Bills = append(doc.Bills, core.DocumentLine{What: bill.What, When: bill.When, Amount: bill.Gross})
	}
	if c.TermsFile.Digest != "" {
		doc.Terms += fmt.Sprintf("\n\nAlso agreed: the document %s, SHA-256 %s.", c.TermsFile.Name, c.TermsFile.Digest)
	}
	if answer != nil {
		doc.Signed = signature(*answer)
	}
	return doc, nil
}

// look is how the firm's documents look for a client: their colour, and the logo as PNG.
func (b *proposalContext) look(a *app.App, clientID int64) (colour string, logo []byte, err error) {
	profile, err := profiles.Profile(b.tx, clientID, 0)
	if err != nil {
		return "", nil, err
	}
	if b.firm.Logo != "" && profile.Text("logo") == "yes" {
		logo, err = a.Store.Content(b.firm.Logo)
	}
	return profile.Text("colour"), logo, err
}

// noteOf is what stands under a line: how its amount comes about, and its text.
func noteOf(l PageLine) string {
	return strings.Join(slices.DeleteFunc([]string{l.About, l.Made, l.Text}, func(part string) bool { return part == "" }), ". ")
}

// signature is what is known of a signature.
func signature(a store.ProposalAnswer) []core.DocumentTotal {
	rows := []core.DocumentTotal{{Label: "Accepted by", Figure: a.Name}, {Label: "On", Figure: a.Day.Long()},
		{Label: "Recorded", Figure: a.At.UTC().Format("2 Jan 2006, 15:04:05") + " UTC"}}
	for _, fact := range [][2]string{{"Code mailed to and typed back", a.Mail}, {"From the address", a.Address}, {"Evidence", a.Evidence}} {
		if fact[1] != "" {
			rows = append(rows, core.DocumentTotal{Label: fact[0], Figure: fact[1]})
		}
	}
	if a.PersonID == nil {
		rows = append(rows, core.DocumentTotal{Label: "Signature", Figure: fmt.Sprintf("name typed on the proposal's page: %s", a.Name)})
	}
	return rows
}
