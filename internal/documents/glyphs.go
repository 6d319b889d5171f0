package documents

import (
	"dorvet/core/invoice"
	"dorvet/core/typeface"
)

// unprintable is an invoice.Unprintable for the first text that has a character
// which a typeface of the choice lacks, or nil: nothing is lost in silence.
func unprintable(choice string, texts ...string) error {
	for _, text := range texts {
		if r, missing := typeface.Missing(choice, text); missing {
			return &invoice.Unprintable{Text: text, Character: r}
		}
	}
	return nil
}

// texts are all words of a printed document.
func texts(p *invoice.Printed) []string {
	all := []string{p.Title, p.Number, p.Issuer.Name, p.Issuer.TaxNumber, p.Issuer.Mail, p.Client.Name, p.Client.TaxNumber, p.Opening,
		p.Closing, p.Note, p.HowToPay, p.Scan, p.Due.Label, p.Due.Text, p.Carried, p.Brought}
	all = append(append(append(all, p.Issuer.Address...), p.Client.Address...), p.Notices...)
	for _, facts := range [][]invoice.Fact{p.Facts, p.Sums, p.Account, p.Balances} {
		all = append(all, factTexts(facts)...)
	}
	for _, c := range p.Columns {
		all = append(all, c.Head)
	}
	sections := p.Sections
	if p.Statement != nil {
		sections = append(append([]invoice.PrintedSection{}, sections...), *p.Statement)
	}
	for _, s := range sections {
		all = append(all, s.Title)
		if s.Sum != nil {
			all = append(all, s.Sum.Label, s.Sum.Text)
		}
		for _, l := range s.Lines {
			all = append(all, l.Day, l.Who, l.Text, l.Hours, l.Rate, l.Amount, l.Note)
		}
	}
	return all
}
