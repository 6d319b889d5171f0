package documents

import (
	"bytes"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/core/funds"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/pricing"
	"dorvet/core/tax"
)

func eur(minor int64) money.Amount { return money.Amount{Minor: minor, Currency: "EUR"} }

// sample is an invoice of n lines of 100.00.
func sample(t testing.TB, n int) invoice.Document {
	t.Helper()
	from := day.Of(2026, 1, 1)
	asked := invoice.Asked{Currency: "EUR", TaxDate: day.Of(2026, 12, 1), Codes: map[string]tax.Code{
		"S": {Code: "S", Name: "VAT", Category: tax.StandardRated, Rates: []tax.Dated{{From: from, Percent: 23_0000}}}}}
	section := invoice.Section{Title: "Breakwater scour survey", Reference: "PO 4471"}
	for i := range n {
		asked.Lines = append(asked.Lines, invoice.Line{Kind: invoice.Time, TaxCode: "S", Amount: eur(10_000)})
		section.Lines = append(section.Lines, invoice.DocumentLine{Day: from.AddDays(i), Who: "Ines Okafor",
			Text:  fmt.Sprintf("Line %d", i+1),
			Hours: "1.0", Rate: "100.00", Amount: eur(10_000)})
	}
	totals, err := invoice.Compute(asked)
	if err != nil {
		t.Fatal(err)
	}
	section.Sum = totals.Lines
	return invoice.Document{Kind: "invoice", Columns: []string{"date", "who", "hours", "rate"}, Number: "SC1001",
		Issuer: invoice.Party{Name: "Skerrow Coastal Ltd", Address: []string{"14 Weir Quay"}, TaxNumber: "VAT IE 0000000 X"},
		Client: invoice.Party{Name: "Ennisfarne Harbour Commission", Address: []string{"Pier Office"}}, Dated: day.Of(2026, 12, 1),
		Due:   day.Of(2026, 12, 31),
		Terms: "30 days", UpTo: day.Of(2026, 11, 30), Currency: "EUR", Sections: []invoice.Section{section}, Totals: totals,
		Payable: []invoice.Instalment{{Due: day.Of(2026, 12, 31), Amount: totals.Due}}}
}

func poppler(t *testing.T, content []byte, tool string, args ...string) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), "invoice.pdf")
	if err := os.WriteFile(path, content, 0o600); err != nil {
		t.Fatal(err)
	}
	args = append(args, path)
	if tool == "pdftotext" {
		args = append(args, "-")
	}
	out, err := exec.Command(tool, args...).CombinedOutput()
	if err != nil {
		t.Fatalf("%s: %v: %s", tool, err, out)
	}
	return string(out)
}

// Oracle: poppler reads the text back.
func TestEverythingPrintedCanBeReadBack(t *testing.T) {
	doc := sample(t, 45)
	for i, text := range []string{"Μέτρηση κυμάτων", "съёмка дна", "café, 1.000 € – done"} {
		doc.Sections[0].Lines[i].Text = text
	}
	content, err := PDF(doc)
	if err != nil {
		t.Fatal(err)
	}
	text := poppler(t, content, "pdftotext", "-layout")
	for _, want := range []string{"Skerrow Coastal Ltd", "SC1001", "31 Dec 2026", "Μέτρηση κυμάτων", "съёмка дна", "café, 1.000 € – done",
		"Line 45",
		"4,500.00", "VAT 23 % on 4,500.00", "1,035.00", "5,535.00", "Please pay EUR 5,535.00 by 31 Dec 2026", "Page 1 of 2",
		"Page 2 of 2"} {
		if !strings.Contains(text, want) {
			t.Errorf("%q can't be read in:\n%s", want, text)
		}
	}
	if heads := strings.Count(text, "Hours"); heads != 2 {
		t.Errorf("the heads of the table stand %d times on two pages", heads)
	}
}

// Oracle: poppler finds the last two lines on the page of the amount due, however many
// lines there are.
func TestTheSumsNeverStandAlone(t *testing.T) {
	step := 1
	if testing.Short() {
		step = 4
	}
	for n := 1; n <= 60; n += step {
		doc := sample(t, n)
		for i := range doc.Sections[0].Lines {
			if i%7 == 3 {
				doc.Sections[0].Lines[i].Text = strings.Repeat("a long text ", 12) + doc.Sections[0].Lines[i].Text
			}
		}
		content, err := PDF(doc)
		if err != nil {
			t.Fatal(err)
		}
		for _, page := range strings.Split(poppler(t, content, "pdftotext", "-layout"), "\f") {
			if !strings.Contains(page, "Amount due") {
				continue
			}
			for _, line := range []string{fmt.Sprintf("Line %d", n), fmt.Sprintf("Line %d", max(n-1, 1))} {
				if !strings.Contains(page, line) {
					t.Errorf("%s of %d is not on the page of the sums:\n%s", line, n, page)
				}
			}
		}
	}
}

// Oracle: poppler reads the text back without the stars, and finds the strong face used.
func TestEmphasisIsPrintedInItsWeight(t *testing.T) {
	doc := sample(t, 2)
	doc.Sections[0].Lines[0].Text = "The *final* survey of all moles and piers of the harbour, with *what was asked for in October* beside it"
	doc.Sections[0].Lines[0].Until = doc.Sections[0].Lines[0].Day.AddDays(4)
	content, err := PDF(doc)
	if err != nil {
		t.Fatal(err)
	}
	text := strings.Join(strings.Fields(poppler(t, content, "pdftotext", "-layout")), " ")
	for _, want := range []string{"1 Jan – 5 Jan", "The final survey of all moles", "October"} {
		if !strings.Contains(text, want) {
			t.Errorf("%q can't be read in:\n%s", want, text)
		}
	}
	if strings.Contains(text, "*") {
		t.Errorf("a star is printed:\n%s", text)
	}
}

func TestAScheduleFundsAndTextsArePrinted(t *testing.T) {
	doc := sample(t, 2)
	doc.Opening, doc.Closing, doc.Note, doc.Terms = "For work on the harbour:", "Thank you.", "A note", "2 instalments"
	doc.Payable = []invoice.Instalment{{Due: day.Of(2026, 12, 1), Amount: eur(12_300)}, {Due: day.Of(2027, 1, 1), Amount: eur(12_300)}}
	earlier := eur(77_700)
	doc.Earlier = &earlier
	statement, err := funds.State(eur(100_000), []funds.Movement{{Text: "Applied to this invoice", Amount: eur(-1_000)}})
	if err != nil {
		t.Fatal(err)
	}
	doc.Funds, doc.Columns = &statement, []string{"hours"}
	content, err := PDF(doc)
	if err != nil {
		t.Fatal(err)
	}
	text := poppler(t, content, "pdftotext", "-layout")
	for _, want := range []string{"For work on the harbour:", "Thank you.", "A note", "Please pay in 2 instalments", "1 of 2",
		"by 1 Jan 2027", "123.00", "Still held", "990.00", "−10.00", "earlier invoices", "777.00", "Hours"} {
		if !strings.Contains(text, want) {
			t.Errorf("%q can't be read in:\n%s", want, text)
		}
	}
	for _, left := range []string{"Rate", "Who", "I. Okafor", "1 Jan 2026"} {
		if strings.Contains(text, left) {
			t.Errorf("%q is printed, though its column is left out", left)
		}
	}
}

func TestACreditNoteNamesItsInvoiceAndAsksForNothing(t *testing.T) {
	doc := sample(t, 1)
	doc.Kind, doc.Number, doc.Credits, doc.Opening = "credit_note", "C7", "SC1001", "Half of it was ours"
	content, err := PDF(doc)
	if err != nil {
		t.Fatal(err)
	}
	text := poppler(t, content, "pdftotext", "-layout")
	for _, want := range []string{"Credit note", "C7", "SC1001", "Half of it was ours", "Credited"} {
		if !strings.Contains(text, want) {
			t.Errorf("%q can't be read in:\n%s", want, text)
		}
	}
	if strings.Contains(text, "Please pay") || strings.Contains(text, "Amount due") {
		t.Errorf("a credit note asks to be paid:\n%s", text)
	}
}

func TestAllFontsAreEmbedded(t *testing.T) {
	content, err := PDF(sample(t, 1))
	if err != nil {
		t.Fatal(err)
	}
	lines := strings.Split(strings.TrimSpace(poppler(t, content, "pdffonts")), "\n")[2:]
	if len(lines) != 2 {
		t.Errorf("%d fonts, not two weights", len(lines))
	}
	for _, line := range lines {
		fields := strings.Fields(line)
		if embedded := fields[len(fields)-5]; embedded != "yes" || !strings.Contains(line, "SourceSans3") &&
			!strings.Contains(line, "source") {
			t.Errorf("not embedded: %s", line)
		}
	}
}

func TestTheSameDocumentGivesTheSameBytes(t *testing.T) {
	first, err := PDF(sample(t, 40))
	if err != nil {
		t.Fatal(err)
	}
	second, _ := PDF(sample(t, 40))
	if !bytes.Equal(first, second) {
		t.Error("two drawings of one document differ")
	}
}

func TestHostileTextIsMadePrintable(t *testing.T) {
	doc := sample(t, 1)
	doc.Sections[0].Lines[0].Text = "a\x00b\u202Ec\xffd\te"
	content, err := PDF(doc)
	if err != nil {
		t.Fatal(err)
	}
	if text := poppler(t, content, "pdftotext", "-layout"); !strings.Contains(text, "abc?d e") {
		t.Errorf("%q", text)
	}
}

func TestACharacterThatTheTypefaceLacksIsNotLostInSilence(t *testing.T) {
	for _, text := range []string{"survey 水", "done 😀", "שלום"} {
		doc := sample(t, 2)
		doc.Sections[0].Lines[1].Text = text
		_, err := PDF(doc)
		var unprintable *invoice.Unprintable
		if !errors.As(err, &unprintable) || unprintable.Text != text {
			t.Errorf("%q: %v", text, err)
		}
	}
}

func BenchmarkTwoPageInvoice(b *testing.B) {
	doc := sample(b, 45)
	for b.Loop() {
		if _, err := PDF(doc); err != nil {
			b.Fatal(err)
		}
	}
}

func proposalSample() pricing.Document {
	bills := []pricing.DocumentLine{}
	for n := range 60 {
		bills = append(bills, pricing.DocumentLine{What: fmt.Sprintf("Silt forecast model, period %d", n+1),
			When: day.Of(2027, 1, 1).AddMonths(n).Long(), Amount: "959.40"})
	}
	return pricing.Document{Firm: "Skerrow Coastal", Address: []string{"14 Weir Quay"}, Number: "P12", Title: "Berth monitoring 2027",
		Client: "Port of Calderwick", Dated: day.Of(2026, 12, 10),
		Opening: "Thank you for asking us.", Tier: "Core", Columns: "EUR, before tax", Terms: "1. Ελληνικά\n\n2. Кириллица, €",
		Lines: []pricing.DocumentLine{{What: "Baseline survey and datum", Note: "Levels to the local datum",
			When: "50 % as deposit on acceptance, the rest when the baseline is delivered", Amount: "8,400.00"}},
		Totals: []pricing.DocumentTotal{{Label: "First year, before tax", Figure: "32,400.00"}}, Bills: bills,
		Signed: []pricing.DocumentTotal{{Label: "Accepted by", Figure: "Dev Marrin"},
			{Label: "Recorded", Figure: "10 Dec 2026, 14:02:11 UTC"}}}
}

// Oracle: poppler reads back every word and figure, and finds all fonts embedded.
func TestASignedProposalSaysAllThatWasAgreed(t *testing.T) {
	doc := proposalSample()
	first, err := Proposal(doc)
	if err != nil {
		t.Fatal(err)
	}
	if second, err := Proposal(doc); err != nil || !bytes.Equal(first, second) {
		t.Errorf("the same proposal gives other bytes, %v", err)
	}
	text := poppler(t, first, "pdftotext", "-layout")
	for _, want := range []string{"Berth monitoring 2027", "Port of Calderwick", "What is in it: Core", "Baseline survey and datum",
		"8,400.00", "32,400.00", "period 60", "Ελληνικά", "Кириллица, €",
		"Record of the signature", "Dev Marrin", "14:02:11 UTC", "Page 1 of 3", "Page 3 of 3"} {
		if !strings.Contains(text, want) {
			t.Errorf("it does not read %q:\n%s", want, text)
		}
	}
	if strings.Count(text, "959.40") != 60 {
		t.Errorf("%d of 60 bills", strings.Count(text, "959.40"))
	}
	for _, row := range strings.Split(strings.TrimSpace(poppler(t, first, "pdffonts")), "\n")[2:] {
		if fields := strings.Fields(row); fields[len(fields)-5] != "yes" {
			t.Errorf("a font is not embedded: %s", row)
		}
	}
	doc.Signed[0].Figure = "Dev 🖋"
	if _, err := Proposal(doc); err == nil {
		t.Error("a character that the typeface lacks is lost")
	}
}
