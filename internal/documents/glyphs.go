package documents

import (
	"fmt"
	"sync"

	"dorvet/core/invoice"

	"golang.org/x/image/font/sfnt"
)

// typeface reads the typeface's own table of characters, once.
var typeface = sync.OnceValues(func() (*sfnt.Font, error) { return sfnt.Parse(regular) })

// unprintable is an invoice.Unprintable for the first text that has a character
// which the typeface lacks, or nil: nothing is lost in silence.
func unprintable(texts ...string) error {
	font, err := typeface()
	if err != nil {
		return fmt.Errorf("read the typeface: %w", err)
	}
	var buffer sfnt.Buffer
	for _, text := range texts {
		for _, r := range printable(text) {
			if glyph, err := font.GlyphIndex(&buffer, r); err != nil || glyph == 0 || r > 0xFFFF {
				return &invoice.Unprintable{Text: text, Character: r}
			}
		}
	}
	return nil
}

// texts are all words of a document that people wrote.
func texts(doc invoice.Document) []string {
	all := []string{doc.Number, doc.Issuer.Name, doc.Issuer.TaxNumber, doc.Issuer.Mail, doc.Client.Name, doc.Client.TaxNumber, doc.Bank.Name, doc.Bank.IBAN, doc.Bank.BIC}
	all = append(append(all, doc.Issuer.Address...), doc.Client.Address...)
	all = append(all, doc.Opening, doc.Closing, doc.Note, doc.Credits)
	for _, code := range doc.Totals.Taxes {
		all = append(all, code.Notice)
	}
	for _, section := range doc.Sections {
		all = append(all, section.Title, section.Reference)
		for _, line := range section.Lines {
			all = append(all, line.Who, line.Text, line.Note)
		}
	}
	return all
}
