// Package sheets reads and writes tables as CSV (RFC 4180, in UTF-8) and XLSX.
//
// A cell that a spreadsheet would run as a formula is written with an
// apostrophe before it, and read back without. What can't be read without
// guessing (another encoding, a broken file, a formula) is refused in words.
package sheets

import (
	"archive/zip"
	"bytes"
	"encoding/csv"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"strconv"
	"strings"
	"unicode/utf8"

	"github.com/xuri/excelize/v2"

	"dorvet/core/refusal"
	"dorvet/core/safetext"
)

// Limits on what is read.
const (
	MaxRows    = 50_000
	MaxColumns = 200
	maxUnzip   = 96 << 20
	maxCells   = 2_000_000
)

// Table is a sheet: a header and rows of text, as wide as the header.
type Table struct {
	Header []string
	Rows   [][]string
	// Point is whether numbers have a decimal point whatever the firm types:
	// a spreadsheet keeps them so.
	Point bool
	// Notice says how the file was read, where that is not plain.
	Notice string
}

// unpacking lets one workbook at a time be read: unpacked, it takes many times its size.
var unpacking = make(chan struct{}, 1)

var zipMagic = []byte("PK\x03\x04")

// Read reads a file by its content.
func Read(data []byte) (*Table, error) {
	if bytes.HasPrefix(data, zipMagic) {
		unpacking <- struct{}{}
		defer func() { <-unpacking }()
		return readXLSX(data)
	}
	return readCSV(data)
}

func readCSV(data []byte) (*Table, error) {
	switch {
	case len(bytes.TrimSpace(data)) == 0:
		return nil, refusal.Errorf("the file is empty: choose one with a header and rows")
	case bytes.HasPrefix(data, []byte{0xff, 0xfe}), bytes.HasPrefix(data, []byte{0xfe, 0xff}):
		return nil, refusal.Errorf("the file is in UTF-16: save it as CSV in UTF-8, then choose it again")
	case bytes.HasPrefix(data, []byte("%PDF")), bytes.HasPrefix(data, []byte{0xd0, 0xcf, 0x11, 0xe0}):
		return nil, refusal.Errorf("the file is neither CSV nor XLSX: save it as one of them, then choose it again")
	}
	data = bytes.TrimPrefix(data, []byte{0xef, 0xbb, 0xbf})
	if !utf8.Valid(data) {
		return nil, refusal.Errorf("the file is not in UTF-8 (first seen in line %d); it may be in Latin-1: save it as CSV in UTF-8, "+
			"then choose it again", invalidLine(data))
	}
	if bytes.IndexByte(data, 0) >= 0 {
		return nil, refusal.Errorf("the file has binary content: save it as CSV in UTF-8, then choose it again")
	}
	comma := separator(data)
	reader := csv.NewReader(bytes.NewReader(data))
	reader.Comma, reader.FieldsPerRecord = comma, -1
	records := [][]string{}
	for {
		record, err := reader.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		var broken *csv.ParseError
		if errors.As(err, &broken) {
			return nil, refusal.Errorf("line %d, column %d can't be read: %v; mend the quotes there, then choose the file again",
				broken.Line,
				broken.Column, broken.Err)
		}
		if err != nil {
			return nil, err
		}
		if records = append(records, record); len(records) > MaxRows+1 {
			return nil, refusal.Errorf("the file has more than %d rows: split it", MaxRows)
		}
	}
	table, err := tableOf(records)
	if err == nil && comma != ',' {
		table.Notice = fmt.Sprintf("The columns of the file are separated by %s, and were read so.",
			map[rune]string{';': "semicolons", '\t': "tabs"}[comma])
	}
	return table, err
}

func invalidLine(data []byte) int {
	for i := 0; i < len(data); {
		r, size := utf8.DecodeRune(data[i:])
		if r == utf8.RuneError && size == 1 {
			return 1 + bytes.Count(data[:i], []byte("\n"))
		}
		i += size
	}
	return 0
}

// separator is what the header line has most of, of comma, semicolon and tab.
func separator(data []byte) rune {
	header, _, _ := bytes.Cut(data, []byte("\n"))
	best, most := ',', bytes.Count(header, []byte(","))
	for _, r := range []rune{';', '\t'} {
		if n := bytes.Count(header, []byte(string(r))); n > most {
			best, most = r, n
		}
	}
	return best
}

func readXLSX(data []byte) (*Table, error) {
	unreadable := refusal.Errorf("the file is not an XLSX that can be read: save it again as XLSX or as CSV in UTF-8")
	if err := looked(data); err != nil {
		if refusal.Is(err) {
			return nil, err
		}
		return nil, unreadable
	}
	file, err := excelize.OpenReader(bytes.NewReader(data),
		excelize.Options{UnzipSizeLimit: maxUnzip, UnzipXMLSizeLimit: maxUnzip, ShortDatePattern: "yyyy-mm-dd",
			LongDatePattern: "yyyy-mm-dd"})
	if err != nil {
		return nil, unreadable
	}
	defer file.Close()
	rows, err := file.Rows(file.GetSheetName(0))
	if err != nil {
		return nil, unreadable
	}
	defer rows.Close()
	records := [][]string{}
	for rows.Next() {
		record, err := rows.Columns()
		if err != nil {
			return nil, unreadable
		}
		if records = append(records, record); len(records) > MaxRows+1 {
			return nil, refusal.Errorf("the file has more than %d rows: split it", MaxRows)
		}
	}
	table, err := tableOf(records)
	if err == nil {
		table.Point = true
	}
	return table, err
}

// looked goes over a workbook before it is read: how large it is when it is unpacked,
// how many cells it has, and whether one of them is a formula, however it is written.
func looked(data []byte) error {
	archive, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return err
	}
	left, cells := int64(maxUnzip), 0
	for _, f := range archive.File {
		r, err := f.Open()
		if err != nil {
			return err
		}
		counted := &counting{r: r, left: left}
		if strings.HasPrefix(f.Name, "xl/worksheets/") && strings.HasSuffix(f.Name, ".xml") {
			err = lookedAt(counted, &cells)
		} else {
			_, err = io.Copy(io.Discard, counted)
		}
		left = counted.left
		if err = errors.Join(err, r.Close()); err != nil {
			return err
		}
	}
	return nil
}

// lookedAt goes over the cells of one sheet.
func lookedAt(r io.Reader, cells *int) error {
	decoder, cell := xml.NewDecoder(r), ""
	for {
		token, err := decoder.RawToken()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return err
		}
		start, is := token.(xml.StartElement)
		if !is {
			continue
		}
		switch start.Name.Local {
		case "c":
			if *cells++; *cells > maxCells {
				return refusal.Errorf("the file has more than %d cells: split it", maxCells)
			}
			cell = ""
			for _, a := range start.Attr {
				if a.Name.Local == "r" {
					cell = a.Value
				}
			}
		case "f":
			return refusal.Errorf("cell %s holds a formula: put its value in place of it, then choose the file again", cell)
		}
	}
}

// counting reads until so many bytes were unpacked.
type counting struct {
	r    io.Reader
	left int64
}

func (c *counting) Read(into []byte) (int, error) {
	n, err := c.r.Read(into)
	if c.left -= int64(n); c.left < 0 {
		return n, refusal.Errorf("the file is larger than %d MB when it is unpacked: split it", maxUnzip>>20)
	}
	return n, err
}

// tableOf takes the first record as the header, leaves out empty rows at the
// end, and makes every row as wide as the header.
func tableOf(records [][]string) (*Table, error) {
	if len(records) == 0 || strings.TrimSpace(strings.Join(records[0], "")) == "" {
		return nil, refusal.Errorf("the first row must name the columns: add a header, then choose the file again")
	}
	if len(records[0]) > MaxColumns {
		return nil, refusal.Errorf("the file has %d columns, of at most %d: take out those that are not needed", len(records[0]),
			MaxColumns)
	}
	for i, record := range records {
		for n, cell := range record {
			if safetext.Within(cell, safetext.MostOfNote) != nil {
				return nil, refusal.Errorf("row %d, column %d has a text of more than %d characters: shorten it, then "+
					"choose the file again", i+1,
					n+1,
					safetext.MostOfNote)
			}
			record[n] = safetext.Lines(cell)
		}
	}
	table := &Table{Header: records[0], Rows: [][]string{}}
	for i, record := range records[1:] {
		for len(record) > len(table.Header) && strings.TrimSpace(record[len(record)-1]) == "" {
			record = record[:len(record)-1]
		}
		if len(record) > len(table.Header) {
			return nil, refusal.Errorf("row %d has %d columns where the header has %d: mend it, then choose the file again", i+2,
				len(record),
				len(table.Header))
		}
		for len(record) < len(table.Header) {
			record = append(record, "")
		}
		table.Rows = append(table.Rows, record)
	}
	for n := len(table.Rows); n > 0 && strings.TrimSpace(strings.Join(table.Rows[n-1], "")) == ""; n-- {
		table.Rows = table.Rows[:n-1]
	}
	if len(table.Rows) == 0 {
		return nil, refusal.Errorf("the file has a header and no rows: add what is to be read")
	}
	return table, nil
}

// IsFormula reports whether a sheet would run a cell: it begins with = + - @,
// a tab or a return, and is no negative or signed number.
func IsFormula(cell string) bool {
	if cell == "" || !strings.ContainsRune("=+-@\t\r", rune(cell[0])) {
		return false
	}
	_, err := strconv.ParseFloat(strings.NewReplacer(",", "", " ", "").Replace(cell), 64)
	return err != nil || cell[0] != '-'
}

// Escape makes a cell that no sheet runs; [Unescape] takes that back.
func Escape(cell string) string {
	if IsFormula(cell) || strings.HasPrefix(cell, "'") {
		return "'" + cell
	}
	return cell
}

// Unescape is the cell before [Escape].
func Unescape(cell string) string {
	if rest, quoted := strings.CutPrefix(cell, "'"); quoted && (IsFormula(rest) || strings.HasPrefix(rest, "'")) {
		return rest
	}
	return cell
}

// Cell reads a cell: its text without an escape, and whether a sheet would run it.
func Cell(cell string) (text string, formula bool) { return Unescape(cell), IsFormula(cell) }

// CSV writes a table.
func CSV(header []string, rows [][]string) ([]byte, error) {
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	w.UseCRLF = true
	for _, row := range append([][]string{header}, rows...) {
		cells := make([]string, len(row))
		for i, cell := range row {
			cells[i] = Escape(cell)
		}
		if err := w.Write(cells); err != nil {
			return nil, err
		}
	}
	w.Flush()
	return out.Bytes(), w.Error()
}

// XLSX writes a table, every cell as text.
func XLSX(header []string, rows [][]string) ([]byte, error) {
	file := excelize.NewFile()
	defer file.Close()
	w, err := file.NewStreamWriter(file.GetSheetName(0))
	if err != nil {
		return nil, err
	}
	for i, row := range append([][]string{header}, rows...) {
		cells := make([]any, len(row))
		for at, cell := range row {
			cells[at] = Escape(cell)
		}
		if err := w.SetRow(fmt.Sprintf("A%d", i+1), cells); err != nil {
			return nil, err
		}
	}
	if err := w.Flush(); err != nil {
		return nil, err
	}
	out, err := file.WriteToBuffer()
	if err != nil {
		return nil, err
	}
	return out.Bytes(), nil
}
