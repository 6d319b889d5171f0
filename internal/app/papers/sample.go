package papers

import (
	"context"

	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/profile"
	"dorvet/core/schedule"
	"dorvet/core/tax"
	"dorvet/core/wording"
	"dorvet/internal/app"
	"dorvet/internal/app/profiles"
	"dorvet/internal/store"
)

// Sample draws an invoice that nobody gets, in the firm's look, so that it is seen
// before the first one is issued. Values in place of the firm's are tried on.
func Sample(ctx context.Context, a *app.App, actor app.Actor, tried map[string]string) ([]byte, error) {
	tx := a.Read(ctx, actor)
	p, err := profiles.Profile(tx, 0, 0)
	if err != nil {
		return nil, err
	}
	c := p.Choices()
	for name, value := range tried {
		item, known := profile.Named(name)
		if !known || item.Group != "Look of documents" {
			return nil, app.RefuseField(name, "Documents have no %q that could be tried on.", name)
		}
		kept, err := item.Parse(value, money.Point)
		if err != nil {
			return nil, app.InField(name, err)
		}
		c[name] = profile.Source{Scope: profile.Invoice, Value: kept}
	}
	doc, err := sample(tx, a, c)
	if err != nil {
		return nil, err
	}
	return Drawn(a, doc)
}

func sample(tx *store.DB, a *app.App, c profile.BillingTerms) (*invoice.Document, error) {
	firm, err := store.TheFirm(tx)
	if err != nil {
		return nil, err
	}
	entities, err := store.All[store.IssuingEntity](tx, "id")
	if err != nil {
		return nil, err
	}
	today := a.Clock.Today()
	doc := &invoice.Document{Kind: "invoice", Number: "1001", Dated: today, Due: today.AddDays(30), UpTo: today.AddDays(-1),
		Currency: firm.Currency, Columns: []string{"date", "hours", "rate"},
		Opening: c.Text("opening_text"), Closing: c.Text("closing_text"), Note: c.Text("note_text"), Reference: "PO 4471",
		Client: invoice.Party{Name: "An Example Client", Address: []string{"1 Example Street", "Exampleton"}}}
	if len(entities) > 0 {
		e := entities[0]
		doc.Issuer = invoice.Party{Name: e.LegalName, Address: lines(e.Address), TaxNumber: e.TaxNumber, Mail: e.Mail}
		doc.Bank = invoice.Bank{Name: e.BankName, IBAN: e.IBAN, BIC: e.BIC}
	}
	if err := dress(tx, doc, c, &store.Client{Language: string(wording.English)}); err != nil {
		return nil, err
	}
	return doc, fillSample(tx, doc)
}

// fillSample puts three lines of the firm's services on it.
func fillSample(tx *store.DB, doc *invoice.Document) (err error) {
	services, err := store.All[store.Service](tx, "id")
	if err != nil {
		return err
	}
	asked := invoice.Asked{Currency: doc.Currency, TaxDate: doc.Dated, Surcharge: 4_0000,
		Codes: map[string]tax.Code{"S": {Code: "S", Name: "VAT", Category: tax.StandardRated,
			Rates: []tax.Dated{{From: 1, Percent: 20_0000}}}}}
	w, section := doc.Words(), invoice.Section{Title: "An example engagement"}
	for i, minutes := range []int{150, 480, 90} {
		text := "Work on site, with a line of text that says what was done and takes more than one line to say so"
		if i < len(services) && i != 1 {
			text = services[i].Name
		}
		rate := money.Rate(120_0000)
		amount, err := rate.ForMinutes(int64(minutes), 0, doc.Currency)
		if err != nil {
			return err
		}
		asked.Lines = append(asked.Lines, invoice.Line{Kind: invoice.Time, TaxCode: "S", Amount: amount})
		section.Lines = append(section.Lines, invoice.DocumentLine{Day: doc.UpTo.AddDays(-3 * (3 - i)), Text: text,
			Hours: w.Count(money.TypeFixed(int64(minutes)*100/60, money.Point, 2, 1)), Rate: w.Rate(rate), Amount: amount})
	}
	if doc.Totals, err = invoice.Compute(asked); err != nil {
		return err
	}
	section.Sum = doc.Totals.Lines
	doc.Sections, doc.Payable = []invoice.Section{section}, []invoice.Instalment{{Due: doc.Due, Amount: doc.Totals.Due}}
	terms, err := schedule.ParseTerms("30d")
	doc.Terms = terms.In(w)
	return err
}
