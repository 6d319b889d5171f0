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
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/tax"
)

func eur(minor int64) money.Amount { return money.Amount{Minor: minor, Currency: "EUR"} }

// sample is an invoice of n lines of 100.00.
func sample(t testing.TB, n int) invoice.Document {
	t.Helper()
	from := day.Of(2026, 1, 1)
	asked := invoice.Asked{Currency: "EUR", TaxDate: day.Of(2026, 12, 1), Codes: map[string]tax.Code{
		"S": {Code: "S", Name: "VAT", Rates: []tax.Dated{{From: from, Percent: 23_0000}}}}}
	section := invoice.Section{Title: "Breakwater scour survey", Reference: "PO 4471"}
	for i := range n {
		asked.Lines = append(asked.Lines, invoice.Line{Kind: invoice.Time, TaxCode: "S", Amount: eur(10_000)})
		section.Lines = append(section.Lines, invoice.DocumentLine{Day: from.AddDays(i), Who: "Ines Okafor", Text: fmt.Sprintf("Line %d", i+1),
			Hours: "1.0", Rate: "100.00", Amount: eur(10_000)})
	}
	totals, err := invoice.Compute(asked)
	if err != nil {
		t.Fatal(err)
	}
	section.Sum = totals.Lines
	return invoice.Document{Number: "SC1001", Issuer: invoice.Party{Name: "Skerrow Coastal Ltd", Address: []string{"14 Weir Quay"}, TaxNumber: "VAT IE 0000000 X"},
		Client: invoice.Party{Name: "Ennisfarne Harbour Commission", Address: []string{"Pier Office"}}, Dated: day.Of(2026, 12, 1), Due: day.Of(2026, 12, 31),
		Terms: "30 days", UpTo: day.Of(2026, 11, 30), Currency: "EUR", Sections: []invoice.Section{section}, Totals: totals,
		Payable: []invoice.Instalment{{Due: day.Of(2026, 12, 31), Amount: totals.Due}}}
}

func poppler(t *testing.T, content []byte, tool string, args ...string) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), "invoice.pdf")
	if err := os.WriteFile(path, content, 0o600); err != nil {
		t.Fatal(err)
	}
	out, err := exec.Command(tool, append(args, path)...).CombinedOutput()
	if tool == "pdftotext" {
		out, err = exec.Command(tool, "-layout", path, "-").CombinedOutput()
	}
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
	text := poppler(t, content, "pdftotext")
	for _, want := range []string{"Skerrow Coastal Ltd", "SC1001", "31 Dec 2026", "Μέτρηση κυμάτων", "съёмка дна", "café, 1.000 € – done", "Line 45",
		"4,500.00", "VAT 23 % on 4,500.00", "1,035.00", "5,535.00", "Please pay EUR 5,535.00 by 31 Dec 2026", "Page 1 of 2", "Page 2 of 2"} {
		if !strings.Contains(text, want) {
			t.Errorf("%q can't be read in:\n%s", want, text)
		}
	}
	if heads := strings.Count(text, "Hours"); heads != 2 {
		t.Errorf("the heads of the table stand %d times on two pages", heads)
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
		if embedded := fields[len(fields)-5]; embedded != "yes" || !strings.Contains(line, "SourceSans3") && !strings.Contains(line, "source") {
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
	if text := poppler(t, content, "pdftotext"); !strings.Contains(text, "abc?d e") {
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
