package sheets

import (
	"encoding/csv"
	"fmt"
	"io"
	"strconv"

	"github.com/xuri/excelize/v2"
)

// Number is a cell that a sheet computes with: digits with a point.
type Number string

// Rows writes a table row by row, so that a long one is never held whole. A cell is
// a Number, or text.
type Rows interface{ Row(cells ...any) error }

type csvRows struct{ *csv.Writer }

// NewCSV begins a table as CSV; flush ends it.
func NewCSV(to io.Writer) (rows Rows, flush func() error) {
	w := csv.NewWriter(to)
	w.UseCRLF = true
	return csvRows{w}, func() error { w.Flush(); return w.Error() }
}

func (c csvRows) Row(cells ...any) error {
	texts := make([]string, len(cells))
	for i, cell := range cells {
		if n, isNumber := cell.(Number); isNumber {
			texts[i] = string(n)
		} else {
			texts[i] = Escape(fmt.Sprint(cell))
		}
	}
	return c.Write(texts)
}

// Book is a workbook of several tables.
type Book struct {
	file    *excelize.File
	streams []*bookRows
}

type bookRows struct {
	stream *excelize.StreamWriter
	next   int
}

// NewBook begins a workbook; Close throws away what it kept on the disk.
func NewBook() *Book { return &Book{file: excelize.NewFile()} }

// Sheet begins a table in the workbook.
func (b *Book) Sheet(name string) (Rows, error) {
	if len(b.streams) == 0 {
		if err := b.file.SetSheetName(b.file.GetSheetName(0), name); err != nil {
			return nil, err
		}
	} else if _, err := b.file.NewSheet(name); err != nil {
		return nil, err
	}
	stream, err := b.file.NewStreamWriter(name)
	if err != nil {
		return nil, err
	}
	rows := &bookRows{stream, 1}
	b.streams = append(b.streams, rows)
	return rows, nil
}

func (r *bookRows) Row(cells ...any) error {
	written := make([]any, len(cells))
	for i, cell := range cells {
		n, isNumber := cell.(Number)
		if !isNumber {
			written[i] = Escape(fmt.Sprint(cell))
			continue
		}
		// A sheet keeps numbers as IEEE 754 doubles: fifteen digits are exact.
		value, err := strconv.ParseFloat(string(n), 64)
		if err != nil || len(n) > 15 {
			written[i] = string(n)
			continue
		}
		written[i] = value
	}
	err := r.stream.SetRow(fmt.Sprintf("A%d", r.next), written)
	r.next++
	return err
}

// Write ends the workbook and writes it.
func (b *Book) Write(to io.Writer) error {
	for _, rows := range b.streams {
		if err := rows.stream.Flush(); err != nil {
			return err
		}
	}
	return b.file.Write(to)
}

// Close throws away what the workbook kept on the disk.
func (b *Book) Close() error { return b.file.Close() }
