// Package documents turns a finished invoice, or an answered proposal, into a
// file. The same document gives the same bytes.
package documents

import (
	"bytes"
	_ "embed"
	"fmt"
	"strings"
	"unicode"

	"dorvet/core/day"
	"dorvet/core/invoice"

	"codeberg.org/go-pdf/fpdf"
)

// Source Sans 3, under the SIL Open Font License (typeface/LICENSE.md).
var (
	//go:embed typeface/SourceSans3-Regular.ttf
	regular []byte
	//go:embed typeface/SourceSans3-Semibold.ttf
	semibold []byte
)

// Measures of the page, in millimetres and points.
const (
	left, top, right   = 22.0, 18.0, 188.0
	bottom             = 268.0
	lineHeight         = 4.8
	family             = "source"
	small, body, title = 8.5, 9.5, 19.0
	// What says how to pay stands under the totals, on the same page.
	paymentHeight = 18.0
)

// columns of the table of lines: where each begins, the last ends at right.
var columns = struct{ day, who, text, hours, rate, amount float64 }{22, 40, 66, 138, 150, 168}

type color [3]int

var (
	ink    = color{0x1B, 0x2A, 0x2E}
	soft   = color{0x5D, 0x6A, 0x6C}
	rule   = color{0xDC, 0xD6, 0xC8}
	accent = color{0x0F, 0x5F, 0x68}
)

// PDF draws the invoice on A4. Text that the typeface can't print is an
// invoice.Unprintable.
func PDF(doc invoice.Document) ([]byte, error) {
	if err := unprintable(texts(doc)...); err != nil {
		return nil, err
	}
	paper := newSheet(doc.Title()+" "+doc.Number, doc.Issuer.Name, doc.Dated)
	paper.invoice(doc)
	var out bytes.Buffer
	if err := paper.pdf.Output(&out); err != nil {
		return nil, fmt.Errorf("write the document: %w", err)
	}
	return out.Bytes(), nil
}

// sheet is paper on which documents of any kind are drawn.
type sheet struct{ pdf *fpdf.Fpdf }

// page draws an invoice.
type page struct {
	sheet
	doc invoice.Document
}

// invoice draws an invoice after what is on the paper already.
func (s sheet) invoice(doc invoice.Document) {
	p, before := &page{s, doc}, s.pdf.PageCount()
	p.pdf.AddPage()
	p.letterhead()
	p.facts()
	p.paragraph(doc.Opening)
	for _, section := range doc.Sections {
		p.section(section)
	}
	p.totals()
	p.payment()
	p.balances()
	p.paragraph(doc.Closing)
	p.paragraph(doc.Note)
	p.footers(before, doc.Issuer.Name+"   "+strings.ToLower(doc.Title())+" "+p.number())
}

// newSheet begins a document of a day.
func newSheet(title, author string, dated day.Day) sheet {
	pdf := fpdf.New("P", "mm", "A4", "")
	pdf.SetCatalogSort(true)
	pdf.SetCreationDate(dated.Time())
	pdf.SetModificationDate(dated.Time())
	pdf.SetTitle(printable(title), true)
	pdf.SetAuthor(printable(author), true)
	pdf.AddUTF8FontFromBytes(family, "", regular)
	pdf.AddUTF8FontFromBytes(family, "B", semibold)
	pdf.SetMargins(left, top, 210-right)
	pdf.SetCellMargin(0)
	pdf.SetAutoPageBreak(false, 0)
	return sheet{pdf}
}

func (p *sheet) style(weight string, size float64, c color) {
	p.pdf.SetFont(family, weight, size)
	p.pdf.SetTextColor(c[0], c[1], c[2])
}

func (p *sheet) line(from, to, y, width float64, c color) {
	p.pdf.SetDrawColor(c[0], c[1], c[2])
	p.pdf.SetLineWidth(width)
	p.pdf.Line(from, y, to, y)
}

// at writes one line of text between two edges, aligned L or R.
func (p *sheet) at(from, to float64, align, text string) {
	y := p.pdf.GetY()
	p.pdf.SetXY(from, y)
	p.pdf.CellFormat(to-from, lineHeight, printable(text), "", 0, align, false, 0, "")
	p.pdf.SetY(y)
}

func (p *sheet) down(by float64) { p.pdf.SetY(p.pdf.GetY() + by) }

// room begins a new page if less than height is left, and says whether it did.
func (p *sheet) room(height float64) bool {
	if p.pdf.GetY()+height <= bottom {
		return false
	}
	p.pdf.AddPage()
	p.pdf.SetY(top)
	return true
}

func (p *page) letterhead() {
	p.pdf.SetY(top)
	p.style("B", title, ink)
	p.at(left, right, "L", p.doc.Issuer.Name)
	p.style("", small, soft)
	for _, text := range append(append([]string{}, p.doc.Issuer.Address...), p.doc.Issuer.TaxNumber, p.doc.Issuer.Mail) {
		if text != "" {
			p.at(left, right, "R", text)
			p.down(4)
		}
	}
	p.pdf.SetY(max(p.pdf.GetY(), top+14) + 12)
}

func (p *page) facts() {
	start := p.pdf.GetY()
	p.style("B", 10.5, ink)
	p.at(left, right, "L", p.doc.Client.Name)
	p.down(lineHeight)
	p.style("", body, ink)
	for _, text := range append(append([]string{}, p.doc.Client.Address...), p.doc.Client.TaxNumber) {
		if text != "" {
			p.at(left, right, "L", text)
			p.down(lineHeight)
		}
	}
	end := p.pdf.GetY()
	p.pdf.SetY(start)
	for _, fact := range p.factsOf() {
		if fact[1] == "" {
			continue
		}
		p.style("", body, soft)
		p.at(126, 150, "L", fact[0])
		p.style("B", body, ink)
		p.at(150, right, "R", fact[1])
		p.down(lineHeight)
	}
	p.pdf.SetY(max(end, p.pdf.GetY()) + 9)
}

// factsOf are the facts of the head: a credit note names its invoice in place of a
// due day.
func (p *page) factsOf() [][2]string {
	facts := [][2]string{{p.doc.Title(), p.number()}, {"Date", p.doc.Dated.Long()}}
	switch p.doc.Kind {
	case "credit_note":
		return append(facts, [2]string{"Credits", p.doc.Credits})
	case "deposit_request":
		return append(facts, [2]string{"Due", p.doc.Due.Long()})
	}
	return append(facts, [2]string{"Due", p.doc.Due.Long()}, [2]string{"Terms", p.doc.Terms}, [2]string{"Work up to", p.doc.UpTo.Long()})
}

// paragraph writes a text over the width of the page, with its own line breaks.
func (p *page) paragraph(text string) {
	if strings.TrimSpace(text) == "" {
		return
	}
	p.style("", body, ink)
	for _, part := range strings.Split(text, "\n") {
		for _, line := range p.pdf.SplitText(printable(part), right-left) {
			p.room(lineHeight)
			p.at(left, right, "L", line)
			p.down(lineHeight)
		}
		if part == "" {
			p.down(lineHeight)
		}
	}
	p.down(5)
}

func (p *page) number() string {
	if p.doc.Number == "" {
		return "draft"
	}
	return p.doc.Number
}

func (p *page) heads(section invoice.Section) {
	p.style("B", 10.5, accent)
	heading := section.Title
	if section.Reference != "" {
		heading += ", your reference " + section.Reference
	}
	if heading != "" {
		p.at(left, right, "L", heading)
		p.down(6.5)
	}
	p.style("", small, soft)
	c := p.columns()
	for _, head := range []struct {
		from, to          float64
		align, name, text string
	}{{c.day, c.who, "L", "date", "Date"}, {c.who, c.text, "L", "who", "Who"}, {c.text, c.hours, "L", "", "Description"}, {c.hours, c.rate, "R", "hours", "Hours"},
		{c.rate, c.amount, "R", "rate", "Rate"}, {c.amount, right, "R", "", string(p.doc.Currency)}} {
		if head.name == "" || p.doc.Shows(head.name) {
			p.at(head.from, head.to, head.align, head.text)
		}
	}
	p.down(lineHeight + 0.6)
	p.line(left, right, p.pdf.GetY(), 0.35, ink)
	p.down(1)
}

func (p *page) section(section invoice.Section) {
	p.room(30)
	p.heads(section)
	for _, row := range section.Lines {
		p.row(section, row)
	}
	p.down(0.8)
	if len(p.doc.Sections) > 1 {
		p.style("B", body, ink)
		p.at(columns.day, columns.hours, "L", "Sum of "+section.Title)
		p.at(columns.amount, right, "R", section.Sum.String())
		p.down(lineHeight)
	}
	p.down(6)
}

// columns are where the columns begin that the document shows: what is left out
// makes room for the text.
func (p *page) columns() (c struct{ day, who, text, hours, rate, amount float64 }) {
	c = columns
	if !p.doc.Shows("who") {
		c.text = c.who
	}
	if !p.doc.Shows("date") {
		c.text, c.who = c.text-(columns.who-columns.day), columns.day
	}
	if !p.doc.Shows("rate") {
		c.hours, c.rate = c.hours+18, c.amount
	}
	if !p.doc.Shows("hours") {
		c.hours = c.rate
	}
	return c
}

func (p *page) row(section invoice.Section, row invoice.DocumentLine) {
	c := p.columns()
	p.style("", body, ink)
	text := p.pdf.SplitText(printable(row.Text), c.hours-c.text-2)
	height := float64(max(len(text), 1))*lineHeight + 1.2
	if p.room(height + lineHeight) {
		p.heads(section)
	}
	p.style("", body, ink)
	if row.Covered {
		p.style("", small, soft)
	}
	start := p.pdf.GetY()
	if p.doc.Shows("date") && !row.Day.IsZero() {
		p.at(c.day, c.who, "L", row.Day.Time().Format("2 Jan"))
	}
	if p.doc.Shows("who") {
		p.at(c.who, c.text, "L", initialled(row.Who))
	}
	if p.doc.Shows("hours") {
		p.at(c.hours, c.rate, "R", row.Hours)
	}
	switch {
	case row.Note != "" && !row.Covered:
		p.style("", small, soft)
		p.at(c.rate, c.amount, "R", row.Note)
		p.style("", body, ink)
	case p.doc.Shows("rate"):
		p.at(c.rate, c.amount, "R", row.Rate)
	}
	if row.Covered {
		p.at(c.amount, right, "R", row.Note)
	} else {
		p.at(c.amount, right, "R", row.Amount.String())
	}
	for _, part := range text {
		p.at(c.text, c.hours, "L", part)
		p.down(lineHeight)
	}
	p.pdf.SetY(start + height)
	p.line(left, right, p.pdf.GetY()-0.6, 0.1, rule)
}

// initialled is "I. Okafor" for Ines Okafor: the column is narrow.
func initialled(name string) string {
	first, last, found := strings.Cut(name, " ")
	if !found || first == "" {
		return name
	}
	return string([]rune(first)[0]) + ". " + last
}

func (p *page) totals() {
	t := p.doc.Totals
	p.room(float64(8+len(t.Taxes))*(lineHeight+0.9) + 14 + paymentHeight)
	sum := func(weight, label, figure string) {
		p.style(weight, body, ink)
		p.at(118, columns.amount, "L", label)
		p.at(columns.amount-6, right, "R", figure)
		p.down(lineHeight + 0.9)
		p.line(118, right, p.pdf.GetY()-0.5, 0.1, rule)
	}
	sum("", "Subtotal", t.Lines.String())
	if !t.Discount.IsZero() {
		sum("", "Discount", t.Discount.Neg().String())
	}
	if !t.Surcharge.IsZero() {
		sum("", fmt.Sprintf("Surcharge, %s %% of fees", t.Percent), t.Surcharge.String())
	}
	for _, code := range t.Taxes {
		for _, part := range code.Parts {
			sum("", fmt.Sprintf("%s %s %% on %s", part.Name, part.Percent, part.Base), part.Tax.String())
		}
	}
	sum("B", "Total "+string(p.doc.Currency), t.Total.String())
	for _, less := range []struct {
		label string
		by    string
		none  bool
	}{{"Withheld", t.Withholding.Neg().String(), t.Withholding.IsZero()}, {"Your credit", t.Credit.Neg().String(), t.Credit.IsZero()},
		{"From funds held for you", t.Funds.Neg().String(), t.Funds.IsZero()}} {
		if !less.none {
			sum("", less.label, less.by)
		}
	}
	p.style("B", 11.5, accent)
	p.down(1)
	due := "Amount due"
	if p.doc.Kind == "credit_note" {
		due = "Credited"
	}
	p.at(118, columns.amount, "L", due)
	p.at(columns.amount-10, right, "R", t.Due.String())
	p.down(lineHeight + 7)
}

// payment says how to pay: in one amount or in instalments, each with its day.
func (p *page) payment() {
	if p.doc.Kind == "credit_note" {
		p.notices()
		return
	}
	p.style("", body, ink)
	if len(p.doc.Payable) == 1 && !p.doc.Totals.Due.IsZero() {
		p.at(left, right, "L", fmt.Sprintf("Please pay %s %s by %s.", p.doc.Currency, p.doc.Payable[0].Amount, p.doc.Payable[0].Due.Long()))
		p.down(lineHeight)
	}
	if len(p.doc.Payable) > 1 {
		p.room(float64(len(p.doc.Payable)+3) * lineHeight)
		p.at(left, right, "L", "Please pay in "+p.doc.Terms+":")
		p.down(lineHeight)
		for i, part := range p.doc.Payable {
			p.at(left, 40, "L", fmt.Sprintf("%d of %d", i+1, len(p.doc.Payable)))
			p.at(40, 80, "L", "by "+part.Due.Long())
			p.at(80, 116, "R", part.Amount.String())
			p.down(lineHeight)
		}
		p.down(2)
	}
	p.style("", small, soft)
	bank := fmt.Sprintf("%s   IBAN %s   BIC %s   reference %s", p.doc.Bank.Name, p.doc.Bank.IBAN, p.doc.Bank.BIC, p.number())
	p.at(left, right, "L", bank)
	p.down(lineHeight + 2)
	p.notices()
}

// notices are what the law asks to be said about taxes.
func (p *page) notices() {
	p.style("", small, soft)
	for _, code := range p.doc.Totals.Taxes {
		if code.Notice != "" {
			p.at(left, right, "L", code.Notice)
			p.down(lineHeight)
		}
	}
}

// balances are the statement of what is held for the client, and what they owe
// already.
func (p *page) balances() {
	if p.doc.Funds == nil && p.doc.Earlier == nil {
		return
	}
	p.down(3)
	p.room(6 * lineHeight)
	row := func(weight, label, figure string) {
		p.style(weight, body, ink)
		p.at(left, 116, "L", label)
		p.at(80, 116, "R", figure)
		p.down(lineHeight)
	}
	if funds := p.doc.Funds; funds != nil {
		row("B", "Held for you", funds.Opening.String())
		for _, m := range funds.Movements {
			row("", m.Text, m.Amount.String())
		}
		if len(funds.Movements) > 0 {
			row("", "Still held", funds.Closing.String())
		}
		p.down(2)
	}
	if p.doc.Earlier != nil {
		row("", "Owed on earlier invoices", p.doc.Earlier.String())
	}
	p.down(4)
}

// footers puts words and a number under each page after some: how many there are is
// known only when all are drawn.
func (s sheet) footers(before int, words string) {
	last := s.pdf.PageCount()
	for n := before + 1; n <= last; n++ {
		s.pdf.SetPage(n)
		s.pdf.SetY(280)
		s.line(left, right, 279, 0.1, rule)
		s.style("", small, soft)
		s.at(left, right, "L", words)
		s.at(left, right, "R", fmt.Sprintf("Page %d of %d", n-before, last-before))
	}
}

// printable drops what must not be in a document's text: broken encoding,
// control characters and overrides of the direction of text.
func printable(text string) string {
	return strings.Map(func(r rune) rune {
		switch {
		case r == '\t' || r == '\n':
			return ' '
		case unicode.IsControl(r), r >= 0x202A && r <= 0x202E, r >= 0x2066 && r <= 0x2069, r == 0x200E, r == 0x200F:
			return -1
		}
		return r
	}, strings.ToValidUTF8(text, "?"))
}
