package documents

import (
	"bytes"
	"fmt"
	"image"
	paint "image/color"
	"image/png"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/wording"

	"github.com/makiuchi-d/gozxing"
	"github.com/makiuchi-d/gozxing/qrcode"
)

// dot is a logo: a disc on nothing.
func dot(t testing.TB) []byte {
	t.Helper()
	picture := image.NewNRGBA(image.Rect(0, 0, 60, 60))
	for x := range 60 {
		for y := range 60 {
			if (x-30)*(x-30)+(y-30)*(y-30) < 800 {
				picture.Set(x, y, paint.NRGBA{0x0F, 0x5F, 0x68, 0xFF})
			}
		}
	}
	var out bytes.Buffer
	if err := png.Encode(&out, picture); err != nil {
		t.Fatal(err)
	}
	return out.Bytes()
}

// dressed is an invoice of n lines with everything that one can have.
func dressed(t testing.TB, n int, look invoice.Look, l wording.Language) invoice.Document {
	t.Helper()
	doc := sample(t, n)
	doc.Look, doc.Language = look, l
	doc.Bank = invoice.Bank{Name: "Harbourside Credit", IBAN: "GB82WEST12345698765432", BIC: "WESTGB22"}
	doc.Issuer.Country, doc.Client.Country, doc.Issuer.Address = "IE", "NO", []string{"14 Weir Quay", "Ennisfarne"}
	for _, line := range doc.Sections[0].Lines {
		doc.Billed = append(doc.Billed, invoice.Billed{Kind: invoice.Time, Text: line.Text, Day: line.Day, Amount: line.Amount,
			TaxCode: "S"})
	}
	return doc
}

// Oracle: poppler finds the pictures above and beside the lines, each in the file once, and
// a line that a picture makes higher keeps its room.
func TestPicturesStandAboveAndBesideTheLines(t *testing.T) {
	doc := sample(t, 14)
	doc.Look.Head, doc.Look.Lines, doc.Pictures = "head", "Skerrow is forty\nYears of soundings", map[string][]byte{"head": dot(t), "beside": dot(t)}
	doc.Columns = append(doc.Columns, "picture")
	for i := range doc.Sections[0].Lines {
		doc.Sections[0].Lines[i].Picture = "beside"
	}
	content, err := PDF(doc)
	if err != nil {
		t.Fatal(err)
	}
	text := poppler(t, content, "pdftotext", "-layout")
	for _, want := range []string{"Skerrow is forty", "Years of soundings", "Line 14", "Page 2 of 2"} { // 14 lines of 16 mm
		if !strings.Contains(text, want) {
			t.Errorf("%q can't be read in:\n%s", want, text)
		}
	}
	if list := poppler(t, content, "pdfimages", "-list"); strings.Count(list, "smask") != 15 {
		t.Errorf("not one picture above and 14 beside:\n%s", list)
	}
	doc.Columns = doc.Columns[:4]
	if named := doc.NamedPictures(); len(named) != 1 {
		t.Errorf("without the column %v are in the file", named)
	}
}

// Oracle: poppler finds every label of every language on every design and paper, in
// fonts that are embedded, on pages of the right size.
func TestEveryDesignIsReadInEveryLanguage(t *testing.T) {
	pages := map[string]string{"a4": "595.28 x 841.89", "letter": "612 x 792"}
	papers, faces := []string{"a4", "letter"}, []string{"sans", "serif", "mixed"}
	for d, design := range []string{"letter", "column", "band"} {
		for i, l := range wording.Languages {
			look := invoice.Look{Design: design, Paper: papers[(d+i)%2], Typeface: faces[(d+i)%3], Colour: "#7A2E1F", Code: true,
				Logo: map[bool]string{true: "logo"}[i%2 == 0]}
			doc := dressed(t, 45, look, l)
			if look.Logo != "" {
				doc.Picture = dot(t)
			}
			content, err := PDF(doc)
			if err != nil {
				t.Fatalf("%s in %s: %v", design, l, err)
			}
			printed := poppler(t, content, "pdftotext", "-layout")
			text, all := strings.Join(strings.Fields(printed), " "), fmt.Sprint(strings.Count(printed, "\f"))
			w := doc.Words()
			for _, want := range []string{doc.Title(), w.Say(wording.AmountDue), w.Say(wording.Carried), w.Say(wording.Brought),
				w.Say(wording.Scan), w.Day(doc.Due), w.Figure(doc.Totals.Due), "Line 45", "GB82 WEST 1234 5698 7654 32",
				w.Say(wording.Page, "n", "2", "all", all)} {
				if !strings.Contains(text, strings.Join(strings.Fields(want), " ")) {
					t.Errorf("%s in %s: %q can't be read in:\n%s", design, l, want, text)
				}
			}
			for _, row := range strings.Split(strings.TrimSpace(poppler(t, content, "pdffonts")), "\n")[2:] {
				if fields := strings.Fields(row); fields[len(fields)-5] != "yes" || fields[len(fields)-3] != "yes" {
					t.Errorf("%s in %s: a font is not embedded, or can't be read as text: %s", design, l, row)
				}
			}
			if info := poppler(t, content, "pdfinfo"); !strings.Contains(info, pages[look.Paper]) {
				t.Errorf("%s on %s: %s", design, look.Paper, info)
			}
		}
	}
}

// What the lines on a page came to stands at its end, and at the beginning of the next:
// it is the sum of what is printed before.
func TestSumsAreCarriedOverPages(t *testing.T) {
	content, err := PDF(dressed(t, 90, invoice.Look{}, ""))
	if err != nil {
		t.Fatal(err)
	}
	pages := strings.Split(poppler(t, content, "pdftotext", "-layout"), "\f")
	lines := 0
	for n, page := range pages[:len(pages)-1] {
		brought, here := "", strings.Count(page, "I. Okafor")
		for _, row := range strings.Split(page, "\n") {
			if fields := strings.Fields(row); strings.Contains(row, "Brought forward") {
				brought = fields[len(fields)-1]
			}
		}
		if want := fmt.Sprintf("%d00.00", lines); n > 0 && lines < 90 && strings.ReplaceAll(brought, ",", "") != want {
			t.Errorf("page %d brings %q forward, of %s", n+1, brought, want)
		}
		lines += here
		if carried := strings.Contains(page, "Carried forward"); carried != (lines < 90) {
			t.Errorf("page %d ends after %d lines, carried forward: %v", n+1, lines, carried)
		}
	}
	if lines != 90 {
		t.Errorf("%d of 90 lines are printed", lines)
	}
}

// A text that is longer than a page goes on with the next, and nothing of it is lost.
func TestATextLongerThanAPageGoesOn(t *testing.T) {
	words := []string{}
	for n := range 1500 {
		words = append(words, fmt.Sprintf("word%d", n))
	}
	for _, design := range []string{"letter", "column", "band"} {
		doc := dressed(t, 2, invoice.Look{Design: design}, "")
		doc.Sections[0].Lines[1].Text, doc.Closing = strings.Join(words, " "), strings.Join(words, " ")
		content, err := PDF(doc)
		if err != nil {
			t.Fatal(err)
		}
		text := poppler(t, content, "pdftotext", "-layout")
		for n := range words {
			if strings.Count(text, fmt.Sprintf("word%d\n", n))+strings.Count(text, fmt.Sprintf("word%d ", n)) < 2 {
				t.Fatalf("%s: word%d is lost", design, n)
			}
		}
	}
}

// Oracle: github.com/makiuchi-d/gozxing reads the code off the printed page.
func TestTheCodeOnThePageIsReadByACamera(t *testing.T) {
	doc := dressed(t, 3, invoice.Look{Code: true}, "")
	content, err := PDF(doc)
	if err != nil {
		t.Fatal(err)
	}
	folder := t.TempDir()
	path := filepath.Join(folder, "page.pdf")
	if err := os.WriteFile(path, content, 0o600); err != nil {
		t.Fatal(err)
	}
	if out, err := exec.Command("pdftoppm", "-r", "150", "-png", "-singlefile", path,
		filepath.Join(folder, "page")).CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, out)
	}
	file, err := os.Open(filepath.Join(folder, "page.png"))
	if err != nil {
		t.Fatal(err)
	}
	defer file.Close()
	page, err := png.Decode(file)
	if err != nil {
		t.Fatal(err)
	}
	bitmap, err := gozxing.NewBinaryBitmapFromImage(page)
	if err != nil {
		t.Fatal(err)
	}
	read, err := qrcode.NewQRCodeReader().Decode(bitmap, map[gozxing.DecodeHintType]any{gozxing.DecodeHintType_TRY_HARDER: true})
	if err != nil {
		t.Fatalf("no code is found on the page: %v", err)
	}
	if read.GetText() != doc.TransferCode() || doc.TransferCode() == "" {
		t.Errorf("%q, not %q", read.GetText(), doc.TransferCode())
	}
}

func TestADocumentWithoutALogoHasNoPicture(t *testing.T) {
	for _, with := range []bool{true, false} {
		doc := dressed(t, 1, invoice.Look{Design: "band"}, "")
		if with {
			doc.Look.Logo, doc.Picture = "x", dot(t)
		}
		content, err := PDF(doc)
		if err != nil {
			t.Fatal(err)
		}
		if pictured := bytes.Contains(content, []byte("/Subtype /Image")); pictured != with {
			t.Errorf("logo %v, picture %v", with, pictured)
		}
	}
}

func TestTheStatementOfExpensesHasAPageOfItsOwn(t *testing.T) {
	doc := dressed(t, 1, invoice.Look{Statement: true}, wording.French)
	doc.Billed[0].Kind, doc.Billed[0].Category = invoice.Expense, "Ferry"
	content, err := PDF(doc)
	if err != nil {
		t.Fatal(err)
	}
	pages := strings.Split(poppler(t, content, "pdftotext", "-layout"), "\f")
	if len(pages) != 3 || !strings.Contains(pages[1], "Relevé des frais") || !strings.Contains(pages[1], "Ferry · Line 1") ||
		!strings.Contains(pages[1], "100,00") {
		t.Errorf("%q", pages)
	}
}

// Every label can be printed in both typefaces.
func TestEveryLabelCanBePrinted(t *testing.T) {
	for _, label := range wording.Labels() {
		for _, l := range wording.Languages {
			w := wording.Words{Language: l}
			if err := unprintable("mixed", wording.Standard(l, label), w.Month(day.Of(2026, 3, 1)), w.Day(day.Of(2026, 3, 1))); err != nil {
				t.Error(err)
			}
		}
	}
}
