package sheets

import (
	"archive/zip"
	"bytes"
	"encoding/csv"
	"io"
	"slices"
	"strings"
	"testing"
	"unicode/utf16"

	"github.com/xuri/excelize/v2"
)

// Oracle for CSV: encoding/csv, which reads RFC 4180; for XLSX: excelize's own
// reader.
func TestWhatIsWrittenIsReadBackByOthers(t *testing.T) {
	header := []string{"Name", "Note"}
	rows := [][]string{{"Åse, \"North\"", "two\nlines"}, {"Ελένη", "−5"}, {"=SUM(A1)", "-12.50"}, {"+31 20 555", "@home"}, {"", "'quoted"}}
	text, err := CSV(header, rows)
	if err != nil {
		t.Fatal(err)
	}
	read, err := csv.NewReader(bytes.NewReader(text)).ReadAll()
	if err != nil || len(read) != 6 || read[1][0] != rows[0][0] || read[1][1] != rows[0][1] || read[3][0] != "'=SUM(A1)" ||
		read[3][1] != "-12.50" {
		t.Errorf("%q, %v", read, err)
	}
	book, err := XLSX(header, rows)
	if err != nil {
		t.Fatal(err)
	}
	file, err := excelize.OpenReader(bytes.NewReader(book))
	if err != nil {
		t.Fatal(err)
	}
	defer file.Close()
	for cell, want := range map[string]string{"A1": "Name", "A3": "Ελένη", "A4": "'=SUM(A1)"} {
		if got, err := file.GetCellValue(file.GetSheetName(0), cell); err != nil || got != want {
			t.Errorf("%s is %q, %v", cell, got, err)
		}
		if formula, _ := file.GetCellFormula(file.GetSheetName(0), cell); formula != "" {
			t.Errorf("%s runs %s", cell, formula)
		}
	}
	for name, data := range map[string][]byte{"CSV": text, "XLSX": book} {
		table, err := Read(data)
		if err != nil {
			t.Fatal(err)
		}
		for i, row := range table.Rows {
			for c := range row {
				row[c] = Unescape(row[c])
			}
			if !slices.Equal(row, rows[i]) {
				t.Errorf("%s: row %d is %q, was %q", name, i, row, rows[i])
			}
		}
	}
}

func TestFilesThatCantBeReadWithoutGuessingAreRefusedInWords(t *testing.T) {
	utf16le := []byte{0xff, 0xfe}
	for _, unit := range utf16.Encode([]rune("Name\nÅse\n")) {
		utf16le = append(utf16le, byte(unit), byte(unit>>8))
	}
	wide := "a" + strings.Repeat(",a", MaxColumns) + "\n1\n"
	long := "a\n" + strings.Repeat("1\n", MaxRows+1)
	for name, c := range map[string]struct {
		data []byte
		says string
	}{
		"nothing":       {nil, "is empty"},
		"blank":         {[]byte(" \n\n"), "is empty"},
		"Latin-1":       {[]byte("Name\nB\nJos\xe9\n"), "not in UTF-8 (first seen in line 3)"},
		"UTF-16":        {utf16le, "is in UTF-16"},
		"a document":    {[]byte("%PDF-1.7"), "neither CSV nor XLSX"},
		"binary":        {[]byte("a,b\n1,\x00\n"), "binary content"},
		"broken quotes": {[]byte("a,b\n\"x,1\ny,2\n"), "line"},
		"a stray quote": {[]byte("a,b\nx\"y,1\n"), "line 2, column 2"},
		"no header":     {[]byte(",,\n1,2,3\n"), "first row must name"},
		"only a header": {[]byte("a,b\n\n"), "no rows"},
		"ragged":        {[]byte("a,b\n1,2\n1,2,3\n"), "row 3 has 3 columns"},
		"too wide":      {[]byte(wide), "columns, of at most"},
		"too long":      {[]byte(long), "more than"},
		"no workbook":   {[]byte("PK\x03\x04 and then nothing"), "not an XLSX"},
	} {
		if table, err := Read(c.data); err == nil || !strings.Contains(err.Error(), c.says) {
			t.Errorf("%s: %+v, %v", name, table, err)
		}
	}
}

func TestAFormulaInAWorkbookIsRefusedByItsCell(t *testing.T) {
	file := excelize.NewFile()
	defer file.Close()
	sheet := file.GetSheetName(0)
	for cell, value := range map[string]any{"A1": "Name", "A2": "x", "B1": "Sum"} {
		if err := file.SetCellValue(sheet, cell, value); err != nil {
			t.Fatal(err)
		}
	}
	if err := file.SetCellFormula(sheet, "B2", "1+1"); err != nil {
		t.Fatal(err)
	}
	var out bytes.Buffer
	if err := file.Write(&out); err != nil {
		t.Fatal(err)
	}
	if _, err := Read(out.Bytes()); err == nil || !strings.Contains(err.Error(), "cell B2 holds a formula") {
		t.Errorf("%v", err)
	}
}

// A formula is one however it is written: with its attributes in another order, or with
// the names of its elements prefixed, as other programs write them.
func TestAFormulaIsFoundHoweverItIsWritten(t *testing.T) {
	for _, cell := range []string{`<c r="A2"><f>1+1</f><v>2</v></c>`, `<c t="str" r="A2"><v>2</v><f>1+1</f></c>`, `<c
 r="A2" ><f t="shared" si="0"/></c>`, `<x:c r="A2"><x:f>HYPERLINK("a")</x:f></x:c>`} {
		var out bytes.Buffer
		archive := zip.NewWriter(&out)
		sheet, err := archive.Create("xl/worksheets/sheet1.xml")
		if err != nil {
			t.Fatal(err)
		}
		io.WriteString(sheet, `<worksheet xmlns="m" xmlns:x="m"><sheetData><row>`+cell+`</row></sheetData></worksheet>`)
		if err := archive.Close(); err != nil {
			t.Fatal(err)
		}
		if _, err := Read(out.Bytes()); err == nil || !strings.Contains(err.Error(), "cell A2 holds a formula") {
			t.Errorf("%s: %v", cell, err)
		}
	}
}

// What unpacks to more than it may is refused before it is unpacked whole.
func TestAWorkbookThatUnpacksToTooMuchIsRefused(t *testing.T) {
	for name, content := range map[string]string{"xl/worksheets/sheet1.xml": strings.Repeat("<c r=\"A1\"/>", maxCells+1),
		"xl/media/image1.png": strings.Repeat("\x00", maxUnzip+1)} {
		var out bytes.Buffer
		archive := zip.NewWriter(&out)
		file, err := archive.Create(name)
		if err != nil {
			t.Fatal(err)
		}
		io.WriteString(file, content)
		if err := archive.Close(); err != nil {
			t.Fatal(err)
		}
		if _, err := Read(out.Bytes()); err == nil || !strings.Contains(err.Error(), "split it") {
			t.Errorf("%s: %v", name, err)
		}
	}
}

func TestSemicolonsTabsAndAByteOrderMarkAreRead(t *testing.T) {
	for name, c := range map[string]struct{ text, notice string }{
		"a byte order mark": {"\ufeffName,Mail\nÅse,a@b\n", ""},
		"semicolons":        {"Name;Mail\r\nÅse;a@b\r\n", "semicolons"},
		"tabs":              {"Name\tMail\nÅse\ta@b\n", "tabs"},
		"short rows":        {"Name,Mail,More\nÅse,a@b\n,,\n", ""},
	} {
		table, err := Read([]byte(c.text))
		if err != nil || table.Header[0] != "Name" || table.Rows[0][0] != "Åse" || table.Rows[0][1] != "a@b" || len(table.Rows) != 1 ||
			!strings.Contains(table.Notice, c.notice) || (c.notice == "") != (table.Notice == "") {
			t.Errorf("%s: %+v, %v", name, table, err)
		}
	}
}

func FuzzRead(f *testing.F) {
	for _, seed := range []string{"a,b\n1,2\n", "a;b\n\"x\"\"\";2", "PK\x03\x04"} {
		f.Add([]byte(seed))
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		table, err := Read(data)
		if err != nil {
			return
		}
		for _, row := range table.Rows {
			if len(row) != len(table.Header) {
				t.Errorf("%d cells under %d heads", len(row), len(table.Header))
			}
			for _, cell := range row {
				if Unescape(Escape(cell)) != cell || IsFormula(Escape(cell)) {
					t.Errorf("%q is escaped to %q", cell, Escape(cell))
				}
			}
		}
	})
}
