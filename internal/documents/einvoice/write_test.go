package einvoice

import (
	"bytes"
	"errors"
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/safetext"
	"dorvet/core/tax"
)

var since = day.Of(2026, 1, 1)

var codes = map[string]tax.Code{
	"S":  {Code: "S", Name: "VAT", Category: tax.StandardRated, Rates: []tax.Dated{{From: since, Percent: 23_0000}}},
	"R":  {Code: "R", Name: "VAT", Category: tax.StandardRated, Rates: []tax.Dated{{From: since, Percent: 13_5000}}},
	"X":  {Code: "X", Name: "VAT", Category: tax.Exempt, Notice: "Exempt from VAT.", Rates: []tax.Dated{{From: since}}},
	"AE": {Code: "AE", Name: "VAT", Category: tax.ReverseCharge, Rates: []tax.Dated{{From: since}}},
}

// line is a line with its tax code; of minutes it is worth a rate.
func billed(kind invoice.Kind, code string, minor int64, minutes int, rate money.Rate) invoice.Billed {
	b := invoice.Billed{Kind: kind, Engagement: "Survey & “levels” <1>", Code: "E1", Day: day.Of(2026, 11, 3), Text: "Line",
		Minutes: minutes,
		Amount:  money.Amount{Minor: minor, Currency: "EUR"}, TaxCode: code}
	if rate != 0 {
		b.Price = &rate
	}
	return b
}

func computed(t testing.TB, asked invoice.Asked, billed ...invoice.Billed) *invoice.Document {
	t.Helper()
	if asked.Currency == "" {
		asked.Currency = "EUR"
	}
	asked.TaxDate, asked.Codes = day.Of(2026, 12, 1), codes
	for i := range billed {
		billed[i].Amount.Currency = asked.Currency
		asked.Lines = append(asked.Lines, invoice.Line{Kind: billed[i].Kind, TaxCode: billed[i].TaxCode, Amount: billed[i].Amount})
	}
	totals, err := invoice.Compute(asked)
	if err != nil {
		t.Fatal(err)
	}
	return &invoice.Document{Kind: "invoice", Number: "SC1001", Dated: day.Of(2026, 12, 1), Due: day.Of(2026, 12, 31), Terms: "30 days",
		Currency: asked.Currency, Totals: totals, Billed: billed, Reference: "PO 4471",
		Opening: "For work on coast & harbour:\nin November",
		Issuer: invoice.Party{Name: "Skerrow Coastal Ltd", Address: []string{"14 Weir Quay", "Ennisfarne", "EF1 2SC", "Ireland"},
			TaxNumber: "VAT IE 0000000 X", Mail: "a@b.example", Country: "IE"},
		Client:  invoice.Party{Name: "Client", Code: "C010", Address: []string{""}, TaxNumber: "NO 999 999 999 MVA", Country: "NO"},
		Bank:    invoice.Bank{Name: "Bank", IBAN: "GB82 WEST 1234 5698 7654 32", BIC: "WESTGB22"},
		Payable: []invoice.Instalment{{Due: day.Of(2026, 12, 31), Amount: totals.Due}}}
}

// Every kind of invoice is valid against the official schema, and keeps the business
// rules of EN 16931-1, which are added up again by the reader in standard_test.go.
func TestEveryKindOfInvoiceIsValidAndAddsUp(t *testing.T) {
	note := computed(t, invoice.Asked{}, billed(invoice.Time, "S", 10_000, 60, 100_0000))
	note.Kind, note.Number, note.Credits, note.CreditsDate = "credit_note", "C7", "SC1000", day.Of(2026, 11, 2)
	parts := computed(t, invoice.Asked{}, billed(invoice.Fixed, "S", 100_000, 0, 0))
	parts.Payable = []invoice.Instalment{{Due: day.Of(2026, 12, 31), Amount: money.Amount{Minor: 61_500, Currency: "EUR"}},
		{Due: day.Of(2027, 1, 31), Amount: money.Amount{Minor: 61_500, Currency: "EUR"}}}
	bare := computed(t, invoice.Asked{}, billed(invoice.Fixed, "X", 100_000, 0, 0))
	bare.Bank, bare.Reference, bare.Opening, bare.Issuer.TaxNumber, bare.Billed[0].Day, bare.Billed[0].Text = invoice.Bank{}, "", "",
		"12/345/6789", 0, " "
	units := billed(invoice.ByHand, "S", 17_000, 0, 85_0000)
	units.Quantity, units.Unit = 2_0000, "piece"
	cases := []struct {
		name string
		doc  *invoice.Document
		want map[string]string
	}{
		{"time at a rate", computed(t, invoice.Asked{}, billed(invoice.Time, "S", 21_375, 90, 142_5000)),
			map[string]string{"TypeCode": "380"}},
		{"a line whose product misses its amount", computed(t, invoice.Asked{}, billed(invoice.Time, "S", 33_34, 20, 100_0000)), nil},
		{"units, two rates, a discount and a surcharge",
			computed(t, invoice.Asked{Discount: invoice.Discount{Percent: 7_5000}, Surcharge: 4_0000},
				billed(invoice.Time, "S", 355_750, 1000, 0),
				units, billed(invoice.Expense, "R", 4_230, 0, 0), billed(invoice.Expense, "X", 1_999, 0, 0)), nil},
		{"an advance taken back", computed(t, invoice.Asked{}, billed(invoice.Fixed, "S", 500_000, 0, 0),
			billed(invoice.Advance, "S", -150_000, 0, 0)), nil},
		{"an advance", computed(t, invoice.Asked{}, billed(invoice.Advance, "S", 150_000, 0, 0)), map[string]string{"TypeCode": "386"}},
		{"funds and credit applied", computed(t, invoice.Asked{Credit: 1_000, Funds: 2_000},
			billed(invoice.Time, "S", 10_000, 60, 100_0000)),
			nil},
		{"reverse charge", computed(t, invoice.Asked{}, billed(invoice.Time, "AE", 10_000, 60, 100_0000)), nil},
		{"yen, without decimals", computed(t, invoice.Asked{Currency: "JPY"}, billed(invoice.Time, "AE", 18_000, 60, 18_000_0000)), nil},
		{"a credit note", note, map[string]string{"TypeCode": "381"}},
		{"instalments", parts, nil},
		{"as little as can be", bare, nil},
	}
	files := [][]byte{}
	for _, c := range cases {
		data, err := Write(c.doc)
		if err != nil {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		root := parsed(t, data)
		for _, broken := range kept(root) {
			t.Errorf("%s: %s", c.name, broken)
		}
		for path, want := range c.want {
			if got := root.one("ExchangedDocument/" + path); got != want {
				t.Errorf("%s: %s is %q, not %q", c.name, path, got, want)
			}
		}
		files = append(files, data)
		read, err := Parse(data)
		if err != nil || read.Number != c.doc.Number || read.Dated != "2026-12-01" ||
			read.Payable != strings.ReplaceAll(c.doc.Totals.Due.Typed(), "−", "-") || read.Currency != c.doc.Currency {
			t.Errorf("%s is read back as %+v, %v", c.name, read, err)
		}
	}
	valid(t, files...)
	for _, breach := range byAnotherHand(t, files...) {
		if breach != "" {
			t.Error(breach)
		}
	}
}

// The validator of another hand finds what is wrong: without that it would prove nothing.
func TestTheOtherHandFindsWhatIsWrong(t *testing.T) {
	data, err := Write(computed(t, invoice.Asked{}, billed(invoice.Time, "S", 10_000, 60, 100_0000)))
	if err != nil {
		t.Fatal(err)
	}
	wrong := bytes.Replace(data, []byte("<ram:GrandTotalAmount>123.00"), []byte("<ram:GrandTotalAmount>124.00"), 1)
	if found := byAnotherHand(t, wrong); found[0] == "" || bytes.Equal(wrong, data) {
		t.Error("a total that is not net and tax is valid")
	}
}

// Random invoices: whatever is on one, its figures add up by the standard, or it is
// refused in words. A share of them is shown to the schema, too.
func TestRandomInvoicesAddUpByTheStandard(t *testing.T) {
	n, random, files, refused := 20_000, rand.New(rand.NewPCG(16931, 1)), [][]byte{}, 0
	if testing.Short() {
		n = 2_000
	}
	kinds, names := []invoice.Kind{invoice.Time, invoice.Fixed, invoice.Expense, invoice.ByHand, invoice.Recurring}, []string{"S", "R", "X"}
	for i := range n {
		lines := []invoice.Billed{}
		for range 1 + random.IntN(12) {
			minutes := random.IntN(600)
			rate := money.Rate(random.Int64N(300_0000))
			amount, err := rate.ForMinutes(int64(minutes), 0, "EUR")
			if err != nil {
				t.Fatal(err)
			}
			amount.Minor += random.Int64N(3) - 1
			lines = append(lines, billed(kinds[random.IntN(len(kinds))], names[random.IntN(len(names))], max(amount.Minor, 0), minutes,
				rate))
		}
		if random.IntN(3) == 0 {
			lines = append(lines, billed(invoice.Advance, "S", -random.Int64N(500), 0, 0))
		}
		asked := invoice.Asked{Surcharge: money.Percent(random.Int64N(10_0000)), Funds: random.Int64N(20_000),
			Discount: invoice.Discount{Percent: money.Percent(random.Int64N(40_0000)), FeesOnly: random.IntN(2) == 0}}
		doc := computed(t, asked, lines...)
		data, err := Write(doc)
		if unsayable := new(safetext.Unsayable); errors.As(err, &unsayable) {
			refused++
			continue
		}
		if err != nil {
			t.Fatal(err)
		}
		if broken := kept(parsed(t, data)); len(broken) > 0 {
			t.Fatalf("invoice %d: %v\n%s", i, broken, data)
		}
		if i%(n/40) == 0 {
			files = append(files, data)
		}
	}
	valid(t, files...)
	if refused > n/10 {
		t.Errorf("%d of %d were refused", refused, n)
	}
}

// What has no place in the standard is refused, in a sentence that says what to do.
func TestWhatTheStandardCannotSayIsRefusedInWords(t *testing.T) {
	for _, c := range []struct {
		name, says string
		change     func(*invoice.Document)
	}{
		{"a draft", "issue it first", func(d *invoice.Document) { d.Number = "" }},
		{"a deposit request", "no tax invoice", func(d *invoice.Document) { d.Kind = "deposit_request" }},
		{"withholding", "withheld", func(d *invoice.Document) { d.Totals.Withholding.Minor = 100 }},
		{"three decimals", "BHD has 3 decimals", func(d *invoice.Document) { d.Currency = "BHD" }},
		{"no country of ours", "Set-up", func(d *invoice.Document) { d.Issuer.Country = "" }},
		{"no country of the client", "on its record", func(d *invoice.Document) { d.Client.Country = "" }},
		{"no tax number", "no tax number", func(d *invoice.Document) { d.Issuer.TaxNumber = " " }},
		{"a second tax", "second tax", func(d *invoice.Document) {
			d.Totals.Taxes[0].Parts = append(d.Totals.Taxes[0].Parts, d.Totals.Taxes[0].Parts[0])
		}},
		{"an exemption that takes tax", "takes 23 %", func(d *invoice.Document) { d.Totals.Taxes[0].Category = tax.Exempt }},
		{"reverse charge without a number", "NO123456789", func(d *invoice.Document) {
			d.Totals.Taxes[0].Category, d.Totals.Taxes[0].Parts[0].Percent, d.Client.TaxNumber = tax.ReverseCharge, 0, "on file"
		}},
		{"lines that were not kept", "not kept", func(d *invoice.Document) { d.Billed = nil }},
		{"a line of an unknown tax", "no tax code", func(d *invoice.Document) { d.Billed[0].TaxCode = "Z9" }},
		{"two codes rounded apart", "rounded apart", func(d *invoice.Document) { d.Totals.Taxes[0].Parts[0].Tax.Minor++ }},
	} {
		doc := computed(t, invoice.Asked{}, billed(invoice.Time, "S", 10_000, 60, 100_0000))
		c.change(doc)
		_, err := Write(doc)
		unsayable := new(safetext.Unsayable)
		if !errors.As(err, &unsayable) || !strings.Contains(unsayable.Sentence, c.says) {
			t.Errorf("%s: %v", c.name, err)
		}
	}
}

// Source: BR-CO-09: a VAT number begins with the country's code of ISO 3166-1.
func TestTaxNumbersAsTheStandardHasThem(t *testing.T) {
	for text, want := range map[string]string{"VAT IE 0000000 X": "IE0000000X", "IE0000000X": "IE0000000X",
		"USt-IdNr. DE 999999999": "DE999999999", "NO 999 999 999 MVA": "NO999999999MVA", "EL 123456789": "EL123456789",
		"12/345/6789": "", "on file": "", "": "", "VAT": ""} {
		if got := vatNumber(text); got != want {
			t.Errorf("%q is %q, not %q", text, got, want)
		}
	}
}

func TestHostileTextStaysTextInXML(t *testing.T) {
	doc := computed(t, invoice.Asked{}, billed(invoice.Time, "S", 10_000, 60, 100_0000))
	doc.Billed[0].Text = "]]><x a='1'>&\x00\u202e\x1b\ufffe"
	data, err := Write(doc)
	if err != nil {
		t.Fatal(err)
	}
	valid(t, data)
	if got := parsed(t, data).one("SupplyChainTradeTransaction/IncludedSupplyChainTradeLineItem/SpecifiedTradeProduct/Name"); got != "]]><x a='1'>&" {
		t.Errorf("%q", got)
	}
}

func BenchmarkWriteAnInvoiceOf25Lines(b *testing.B) {
	lines := []invoice.Billed{}
	for i := range 25 {
		lines = append(lines, billed(invoice.Time, "S", 10_000, 60, 100_0000))
		lines[i].Text = fmt.Sprintf("Line %d", i)
	}
	doc := computed(b, invoice.Asked{}, lines...)
	for b.Loop() {
		if _, err := Write(doc); err != nil {
			b.Fatal(err)
		}
	}
}
