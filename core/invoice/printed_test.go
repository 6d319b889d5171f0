package invoice_test

import (
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/core/funds"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/tax"
	"dorvet/core/wording"
)

func euros(minor int64) money.Amount { return money.Amount{Minor: minor, Currency: "EUR"} }

// printable is an invoice over two lines of 1,000.00 and 42.30.
func printable() *invoice.Document {
	due := euros(128_203)
	return &invoice.Document{Kind: "invoice", Number: "SC1001", Dated: day.Of(2026, 12, 1), Due: day.Of(2026, 12, 31),
		UpTo: day.Of(2026, 11, 30), Terms: "30 days", Currency: "EUR",
		Columns: []string{"date", "who", "hours", "rate"}, Issuer: invoice.Party{Name: "A Firm"},
		Bank: invoice.Bank{Name: "A Bank", IBAN: "GB82WEST12345698765432", BIC: "WESTGB22"},
		Sections: []invoice.Section{{Title: "Survey", Sum: euros(104_230),
			Lines: []invoice.DocumentLine{{Day: day.Of(2026, 11, 2), Text: "Levels", Hours: "8.0", Rate: "125.00", Amount: euros(100_000)},
				{Day: day.Of(2026, 11, 3), Text: "Mileage", Amount: euros(4_230)}}}},
		Billed: []invoice.Billed{{Kind: invoice.Time, Text: "Levels", Day: day.Of(2026, 11, 2), Amount: euros(100_000)},
			{Kind: invoice.Expense, Category: "Mileage", Text: "To site", Day: day.Of(2026, 11, 3), Amount: euros(4_230)}},
		Totals: invoice.Totals{Lines: euros(104_230), Discount: euros(0), Surcharge: euros(0), Total: due, Withholding: euros(0),
			Credit: euros(0), Funds: euros(0), Due: due,
			Taxes: []invoice.TaxOfCode{{Code: "S", Category: tax.ReverseCharge, Notice: "Article 196.",
				Parts: []tax.Part{{Name: "VAT", Percent: 23_0000, Base: euros(104_230), Tax: euros(23_973)}}}}},
		Payable: []invoice.Instalment{{Due: day.Of(2026, 12, 31), Amount: due}}, Look: invoice.Look{Code: true, Statement: true}}
}

// Source: the EPC's Quick Response Code guidelines, EPC069-12, version 2.1: the order
// of the lines, and that there is a structured reference or a text, from memory; the
// IBAN is the example of ISO 13616; the check digits of the reference by ISO 11649:
// SC1001RF00 is 28121001271500, which leaves 9 by 97, from 98 is 89 (by hand).
func TestTheCodeToPayByIsThatOfACreditTransfer(t *testing.T) {
	doc := printable()
	want := "BCD\n002\n1\nSCT\nWESTGB22\nA Firm\nGB82WEST12345698765432\nEUR1282.03\n\nRF89SC1001"
	if got := doc.TransferCode(); got != want || doc.CreditorReference() != "RF89 SC10 01" {
		t.Errorf("%q, not %q; %q", got, want, doc.CreditorReference())
	}
	plain := printable()
	plain.Number = "№" // no letter and no digit: it has no reference, and goes as a text
	if got := plain.TransferCode(); got != strings.TrimSuffix(want, "\nRF89SC1001")+"\n\n№" || plain.CreditorReference() != "" {
		t.Errorf("%q; %q", got, plain.CreditorReference())
	}
	for name, change := range map[string]func(*invoice.Document){
		"another currency": func(d *invoice.Document) { d.Currency = "USD" },
		"a wrong IBAN":     func(d *invoice.Document) { d.Bank.IBAN = "GB83WEST12345698765432" },
		"nothing to pay":   func(d *invoice.Document) { d.Payable[0].Amount = euros(0) },
		"too much":         func(d *invoice.Document) { d.Payable[0].Amount = euros(100_000_000_000) },
		"no day":           func(d *invoice.Document) { d.Payable = nil },
	} {
		doc := printable()
		change(doc)
		if got := doc.TransferCode(); got != "" {
			t.Errorf("%s: %q", name, got)
		}
	}
	doc.Issuer.Name = strings.Repeat("ä", 90)
	if name := strings.Split(doc.TransferCode(), "\n")[5]; len([]rune(name)) != 70 {
		t.Errorf("a name of %d letters, of at most 70", len([]rune(name)))
	}
}

func TestADocumentSpeaksTheLanguageOfItsReader(t *testing.T) {
	doc := printable()
	doc.Language, doc.Wording = wording.German, map[wording.Label]string{wording.Subtotal: "Summe"}
	p := doc.Print()
	facts := map[string]string{}
	for _, f := range append(append(append([]invoice.Fact{p.Due}, p.Facts...), p.Sums...), p.Account...) {
		facts[f.Label] = f.Text
	}
	for label, want := range map[string]string{"Nummer": "SC1001", "Datum": "01.12.2026", "Summe": "1.042,30",
		"VAT 23\u00a0% auf 1.042,30": "239,73", "Gesamtbetrag EUR": "1.282,03", "Zu zahlen": "1.282,03",
		"IBAN": "GB82 WEST 1234 5698 7654 32", "Verwendungszweck": "SC1001",
		"Creditor-Referenz": "RF89 SC10 01"} {
		if facts[label] != want {
			t.Errorf("%s: %q, not %q (%v)", label, facts[label], want, facts)
		}
	}
	if p.Title != "Rechnung" || p.HowToPay != "Bitte zahlen Sie 1.282,03\u00a0EUR bis zum 31.12.2026." || p.Scan != "Zum Zahlen scannen" ||
		p.Page(2, 3) != "Seite 2 von 3" {
		t.Errorf("%q %q %q %q", p.Title, p.HowToPay, p.Scan, p.Page(2, 3))
	}
	// Source: Directive 2006/112/EC, article 226(11a), asks for this mention; its German version.
	if len(p.Notices) != 1 || p.Notices[0] != "Steuerschuldnerschaft des Leistungsempfängers · Article 196." {
		t.Errorf("%q", p.Notices)
	}
	doc.Look.Title = "Honorarnote"
	if p = doc.Print(); p.Title != "Honorarnote" {
		t.Errorf("%q", p.Title)
	}
	doc.Kind = "credit_note"
	if p = doc.Print(); p.Title != "Rechnungskorrektur" || p.Due.Label != "Gutgeschrieben" || p.HowToPay != "" || p.Code != "" {
		t.Errorf("%+v", p)
	}
}

func TestAColumnInWhichNothingStandsIsLeftOut(t *testing.T) {
	doc := printable()
	heads := func() (names []string) {
		for _, c := range doc.Print().Columns {
			names = append(names, c.Name)
		}
		return names
	}
	if got := strings.Join(heads(), " "); got != "date text hours rate amount" {
		t.Errorf("%s: nobody is named on it", got)
	}
	doc.Columns = []string{"hours"}
	if got := strings.Join(heads(), " "); got != "text hours amount" {
		t.Errorf("%s: only hours were chosen", got)
	}
}

func TestTheStatementListsEveryExpense(t *testing.T) {
	doc := printable()
	s := doc.Print().Statement
	if s == nil || len(s.Lines) != 1 || s.Lines[0].Text != "Mileage · To site" || s.Lines[0].Day != "3 Nov 2026" || s.Sum.Text != "42.30" {
		t.Errorf("%+v", s)
	}
	doc.Billed = doc.Billed[:1]
	if doc.Print().Statement != nil {
		t.Error("there is a statement of no expenses")
	}
}

func TestADraftSaysThatItIsOneAndHasNoCode(t *testing.T) {
	doc := printable()
	doc.Number = ""
	if p := doc.Print(); !p.IsDraft || p.Number != "draft" || p.Code != "" || p.Scan != "" {
		t.Errorf("%+v", p)
	}
}

func TestInstalmentsAndFundsAreSaid(t *testing.T) {
	doc := printable()
	doc.Payable = []invoice.Instalment{{Due: day.Of(2026, 12, 31), Amount: euros(64_101)},
		{Due: day.Of(2027, 1, 31), Amount: euros(64_102)}}
	statement, err := funds.State(euros(1_000_000), []funds.Movement{{Text: "Applied", Amount: euros(-370_020)}})
	if err != nil {
		t.Fatal(err)
	}
	doc.Funds, doc.Language = &statement, wording.French
	p := doc.Print()
	if len(p.Parts) != 2 || p.Parts[1] != (invoice.PrintedPart{Which: "2 sur 2", By: "le 31 janv. 2027", Amount: "641,02"}) ||
		p.HowToPay != "Merci de régler en 2 échéances :" {
		t.Errorf("%+v %q", p.Parts, p.HowToPay)
	}
	// Source: rules of the trade: 10,000.00 held less 3,700.20 leaves 6,299.80.
	if b := p.Balances; len(b) != 3 || b[2].Text != "6\u202f299,80" || b[2].Label != "Solde détenu" {
		t.Errorf("%+v", b)
	}
}
