package documents

import (
	"bytes"
	"fmt"
	"strings"

	"dorvet/core/invoice"
)

// Drawing is the number of this way of drawing. It goes up with every change that
// makes other bytes of the same invoice.
const Drawing = 5

// PDF draws an invoice, with itself inside as an e-invoice where it can be said as
// one. Text that the typeface can't print is an invoice.Unprintable.
func PDF(doc invoice.Document) ([]byte, error) {
	printed := doc.Print()
	if err := unprintable(doc.Look.Typeface, texts(&printed)...); err != nil {
		return nil, err
	}
	paper := newSheet(printed.Title+" "+printed.Number, doc.Issuer.Name, doc.Dated)
	paper.invoice(doc, printed)
	var out bytes.Buffer
	if err := paper.pdf.Output(&out); err != nil {
		return nil, fmt.Errorf("write the document: %w", err)
	}
	return archived(out.Bytes(), &doc, printed)
}

// drawing is an invoice that is being drawn.
type drawing struct {
	sheet
	invoice.Printed
	logo   []byte            // as PNG, or nothing
	shown  map[string][]byte // pictures above and beside the lines, by their digests
	digest string            // of it
	design design
}

// design is what differs between the designs of the family.
type design struct {
	head    func(*drawing)          // the first page down to the lines
	due     func(*drawing, float64) // the amount due, from an edge on
	running func(*drawing)          // what stands on top of each further page
	edges   func(*sheet)            // of the text
}

var designs = map[string]design{
	"letter": {head: letterHead, due: dueInWords, running: runningLine, edges: func(*sheet) {}},
	"column": {head: columnHead, due: dueInTint, running: runningColumn,
		edges: func(s *sheet) { s.left, s.right = columnWidth+9, s.width-17 }},
	"band": {head: bandHead, due: dueInBar, running: runningLine, edges: func(*sheet) {}},
}

// invoice draws an invoice after what is on the paper already.
func (s sheet) invoice(doc invoice.Document, printed invoice.Printed) {
	before := s.pdf.PageCount()
	s.dress(doc.Look)
	d := &drawing{s, printed, doc.Picture, doc.Pictures, doc.Look.Logo, designs[doc.Look.Design]}
	if d.design.head == nil {
		d.design = designs["letter"]
	}
	d.design.edges(&d.sheet)
	d.running = func() { d.design.running(d) }
	d.page()
	d.design.head(d)
	d.above()
	d.paragraph(d.Opening)
	for i, section := range d.Sections {
		follows := 0.0
		if i == len(d.Sections)-1 {
			follows = d.sumsRoom()
		}
		d.table(section, d.Columns, follows)
	}
	d.sums()
	d.payment()
	d.balances()
	d.paragraph(d.Closing)
	d.paragraph(d.Note)
	d.statement()
	d.footers(before, d.Issuer.Name+"   "+strings.TrimSpace(d.Title+" "+d.Number), d.Page)
}

// The picture above the lines is no higher than this, in millimetres.
const headHeight = 42.0

// above draws what the firm has of its own above the lines: a picture, and two lines.
func (d *drawing) above() {
	if w, h := fit(d.shown[d.Look.Head], d.right-d.left, headHeight); w > 0 {
		d.picture(d.Look.Head, d.shown[d.Look.Head], d.left, d.pdf.GetY(), w, h)
		d.down(h + 4)
	}
	if d.Look.Lines == "" {
		return
	}
	d.heading(11, d.accent)
	d.wrapped(d.left, d.right, "L", d.Look.Lines, lineHeight+0.6)
	d.down(4)
}

// paragraph writes a text over the width of the page, with its own line breaks.
func (d *drawing) paragraph(text string) {
	if strings.TrimSpace(text) == "" {
		return
	}
	d.style("", body, ink)
	width := min(d.right-d.left, 140) // lines of some eighty letters are easy to read
	for _, line := range d.split(text, width) {
		d.room(lineHeight)
		d.style("", body, ink)
		d.at(d.left, d.right, "L", line)
		d.down(lineHeight)
	}
	d.down(5)
}

// statement lists the expenses, on a page of its own.
func (d *drawing) statement() {
	s := d.Statement
	if s == nil {
		return
	}
	d.page()
	d.running()
	columns := []invoice.PrintedColumn{}
	for _, c := range d.Columns {
		if c.Name == "text" || c.Name == "amount" {
			columns = append(columns, c)
		}
	}
	d.table(*s, append([]invoice.PrintedColumn{{Name: "date", Head: ""}, {Name: "who", Head: ""}}, columns...), 0)
}
