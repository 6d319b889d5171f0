package documents

import (
	"archive/zip"
	"bytes"
	"encoding/csv"
	"encoding/json"
	"encoding/xml"
	"errors"
	"io"
	"iter"
	"math/big"
	"strings"
	"testing"

	"dorvet/core/invoice"
	"dorvet/internal/sheets"
)

// two are invoices of three and five lines of 100.00, one of them hostile.
func two(t testing.TB) iter.Seq2[invoice.Document, error] {
	t.Helper()
	first, second := dressed(t, 3, invoice.Look{}, ""), dressed(t, 5, invoice.Look{}, "")
	second.Number, second.Client.Code = "SC1002", "=1+2"
	second.Billed[0].Text, second.Billed[1].Text = "=HYPERLINK(\"x\")", "two\nlines, \"quoted\"; and\ta tab"
	return func(yield func(invoice.Document, error) bool) { _ = yield(first, nil) && yield(second, nil) }
}

func made(t testing.TB, form string) []byte {
	t.Helper()
	var out bytes.Buffer
	if err := (Formats{}).Many(&out, form, two(t)); err != nil {
		t.Fatalf("%s: %v", form, err)
	}
	return out.Bytes()
}

// summed adds up a column of a table, exactly.
func summed(t testing.TB, rows [][]string, column string) string {
	t.Helper()
	at, sum := -1, new(big.Rat)
	for i, head := range rows[0] {
		if head == column {
			at = i
		}
	}
	if at < 0 {
		t.Fatalf("there is no column %s in %q", column, rows[0])
	}
	for _, row := range rows[1:] {
		n, ok := new(big.Rat).SetString(row[at])
		if !ok {
			t.Fatalf("%q is no number", row[at])
		}
		sum.Add(sum, n)
	}
	return sum.FloatString(2)
}

// Oracle: encoding/csv reads RFC 4180.
func TestCSVIsReadBackByAnotherReader(t *testing.T) {
	rows, err := csv.NewReader(bytes.NewReader(made(t, "csv"))).ReadAll()
	if err != nil || len(rows) != 9 {
		t.Fatalf("%d rows, %v", len(rows), err)
	}
	if got := summed(t, rows, "Amount"); got != "800.00" {
		t.Errorf("the lines come to %s", got)
	}
	if text := rows[4][13]; text != "'=HYPERLINK(\"x\")" || rows[4][2] != "'=1+2" {
		t.Errorf("a sheet would run %q or %q", text, rows[4][2])
	}
	if text := rows[5][13]; text != `two lines, "quoted"; and a tab` {
		t.Errorf("%q", text)
	}
	if sheets.Unescape(rows[4][13]) != `=HYPERLINK("x")` {
		t.Error("what is escaped does not come back")
	}
}

// workbook reads the sheets of an XLSX by what ECMA-376 says of cells, and knows
// nothing of the writer.
func workbook(t testing.TB, data []byte) map[string][][]string {
	t.Helper()
	archive, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		t.Fatal(err)
	}
	part := func(name string, into any) {
		file, err := archive.Open(name)
		if err != nil {
			t.Fatal(err)
		}
		defer file.Close()
		if err := xml.NewDecoder(file).Decode(into); err != nil {
			t.Fatalf("%s: %v", name, err)
		}
	}
	var book struct {
		Sheets []struct {
			Name string `xml:"name,attr"`
		} `xml:"sheets>sheet"`
	}
	part("xl/workbook.xml", &book)
	found := map[string][][]string{}
	for n, s := range book.Sheets {
		var sheet struct {
			Rows []struct {
				Cells []struct {
					Type   string `xml:"t,attr"`
					Value  string `xml:"v"`
					Inline string `xml:"is>t"`
				} `xml:"c"`
			} `xml:"sheetData>row"`
		}
		part("xl/worksheets/sheet"+string(rune('1'+n))+".xml", &sheet)
		for _, row := range sheet.Rows {
			cells := []string{}
			for _, c := range row.Cells {
				if c.Type == "inlineStr" {
					c.Value = c.Inline
				}
				cells = append(cells, c.Value)
			}
			found[s.Name] = append(found[s.Name], cells)
		}
	}
	return found
}

func TestXLSXIsReadBackByAnotherReader(t *testing.T) {
	tables := workbook(t, made(t, "xlsx"))
	if got := summed(t, tables["Lines"], "Amount"); got != "800.00" {
		t.Errorf("the lines come to %s", got)
	}
	// 300.00 and 500.00 at 23 %.
	if net, total := summed(t, tables["Invoices"], "Net"), summed(t, tables["Invoices"], "Total"); net != "800.00" || total != "984.00" {
		t.Errorf("net %s, total %s", net, total)
	}
	if text := tables["Lines"][4][13]; text != "'=HYPERLINK(\"x\")" {
		t.Errorf("a sheet would run %q", text)
	}
}

func TestJSONSaysEveryAmountAsText(t *testing.T) {
	var list []open
	if err := json.Unmarshal(made(t, "json"), &list); err != nil {
		t.Fatal(err)
	}
	if len(list) != 2 || list[1].Total != "615.00" || list[1].Net != "500.00" || list[1].Lines[4].Amount != "100.00" ||
		list[0].Dated.String() != "2026-12-01" || list[0].Taxes[0].Percent != "23" {
		t.Errorf("%+v", list)
	}
	var out bytes.Buffer
	if err := (Formats{}).Many(&out, "json", func(func(invoice.Document, error) bool) {}); err != nil ||
		strings.TrimSpace(out.String()) != "[]" {
		t.Errorf("%q, %v", out.String(), err)
	}
	out.Reset()
	if err := (Formats{}).One(&out, "json", dressed(t, 1, invoice.Look{}, "")); err != nil || !strings.HasPrefix(out.String(), "{") {
		t.Errorf("%q, %v", out.String(), err)
	}
}

func TestManyEInvoicesAreAnArchiveWithTellingNames(t *testing.T) {
	data := made(t, "cii")
	archive, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil || len(archive.File) != 2 || archive.File[1].Name != "SC1002 Ennisfarne Harbour Commission 2026-12-01.xml" {
		t.Fatalf("%v", err)
	}
	header, rows, is, err := Formats{}.Read(data)
	if err != nil || !is || len(header) != len(rows[0]) || len(rows) != 2 || rows[1][5] != "615.00" {
		t.Errorf("%q %q %v %v", header, rows, is, err)
	}
	if _, _, is, _ := (Formats{}).Read([]byte("a,b\n")); is {
		t.Error("a table is taken for an e-invoice")
	}
}

func TestABrokenDocumentStopsEveryFormat(t *testing.T) {
	broken := errors.New("broken")
	for _, form := range []string{"cii", "ledes", "csv", "xlsx", "json"} {
		err := Formats{}.Many(io.Discard, form, func(yield func(invoice.Document, error) bool) { yield(invoice.Document{}, broken) })
		if !errors.Is(err, broken) {
			t.Errorf("%s: %v", form, err)
		}
	}
	if err := (Formats{}).Many(io.Discard, "tiff", two(t)); err == nil {
		t.Error("a format is made that does not exist")
	}
}
