package pricing

import (
	"fmt"
	"strings"

	"dorvet/core/letter"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Placeholders are the names that can stand in texts, as {name}, with what they
// become.
var Placeholders = [][2]string{{"client", "the client's name"}, {"address", "the client's address"}, {"contact", "who gets the mail"},
	{"firm", "our name"}, {"lead", "who leads the work"},
	{"title", "the title of the proposal"}, {"number", "its number"}, {"start", "the first day of service"}, {"term", "the least term"},
	{"valid_until", "the last day to accept"},
	{"payment_terms", "when bills are due"}, {"link", "the client's page; in mails only"}}

// values are what the placeholders become for a client.
func (b *proposalContext) values(p *store.Proposal, c Content, contact string) (map[string]string, error) {
	client, err := store.Get[store.Client](b.tx, p.ClientID)
	if err != nil {
		return nil, err
	}
	lead, err := store.Get[store.Person](b.tx, p.LeadID)
	if err != nil {
		return nil, err
	}
	payment, err := b.paymentWords(p.ClientID, c)
	if err != nil {
		return nil, err
	}
	start := "the day of acceptance"
	if !c.Offer.StartsOn.IsZero() {
		start = c.Offer.StartsOn.Long()
	}
	term := "an open term"
	if n := c.Offer.TermMonths; n > 0 {
		term = fmt.Sprintf("at least %d months", n)
	}
	name := client.InvoiceName
	if name == "" {
		name = client.Name
	}
	return map[string]string{"client": name, "address": inOneLine(client.InvoiceAddress()), "contact": contact,
		"firm": b.firm.Name, "lead": lead.Name, "title": c.ForClient(),
		"number": p.NumberText, "start": start, "term": term, "valid_until": c.ValidUntil.Long(), "payment_terms": "in these terms: " +
			payment, "payment": payment}, nil
}

// inOneLine joins the lines of an address; an empty one leaves no comma.
func inOneLine(address string) string {
	return strings.Join(strings.FieldsFunc(address, func(r rune) bool { return r == '\n' || r == '\r' }), ", ")
}

// openPlaces lists what in the texts can't be filled: with any, nothing is sent.
func (b *proposalContext) openPlaces(p *store.Proposal, c Content, contact string, mail bool) ([]Finding, error) {
	values, err := b.values(p, c, contact)
	if err != nil {
		return nil, err
	}
	found := []Finding{}
	look := func(where, words, text string, values map[string]string) {
		_, open := letter.Fill(text, values)
		for _, name := range open {
			what := "is not a placeholder"
			for _, known := range Placeholders {
				if known[0] == name {
					what = "has nothing to be filled with (" + known[1] + ")"
				}
			}
			found = append(found, Finding{where, fmt.Sprintf("{%s} in the %s %s: mend it, or it can't be sent.", name, words, what), true})
		}
	}
	for _, t := range []struct{ where, words, text string }{{"opening", "opening text", c.Opening}, {"terms", "terms", c.Terms},
		{"after", "text after signing", c.After}} {
		look(t.where, t.words, t.text, values)
	}
	if mail {
		values["link"] = "the link"
		if values["contact"] == "" {
			values["contact"] = "whoever gets it"
		}
		look("subject", "subject of the mail", c.Subject, values)
		look("mail", "mail", c.Mail, values)
	}
	return found, nil
}

// refuseOpen refuses to send what has anything that stops it.
func refuseOpen(found []Finding) error {
	for _, f := range found {
		if f.Stops {
			return app.RefuseField(f.Where, "%s", f.Sentence)
		}
	}
	return nil
}
