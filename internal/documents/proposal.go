package documents

import (
	"bytes"
	"fmt"
	"strings"

	"dorvet/core/invoice"
	"dorvet/core/pricing"
)

// Where it stands when a line is billed, and what it comes to.
const (
	whenColumn   = 104.0
	amountColumn = 168.0
)

// Proposal draws a proposal, with the record of its signature, on A4. Text that
// the typeface can't print is an error.
func Proposal(doc pricing.Document) ([]byte, error) {
	if err := unprintable("", textsOf(doc)...); err != nil {
		return nil, err
	}
	var out bytes.Buffer
	if err := drawProposal(doc).pdf.Output(&out); err != nil {
		return nil, fmt.Errorf("write the proposal: %w", err)
	}
	return out.Bytes(), nil
}

func textsOf(doc pricing.Document) []string {
	texts := append([]string{doc.Firm, doc.Number, doc.Title, doc.Client, doc.Opening, doc.Tier, doc.Payment, doc.Terms}, doc.Address...)
	for _, l := range append(append([]pricing.DocumentLine{}, doc.Lines...), doc.Bills...) {
		texts = append(texts, l.What, l.Note, l.When, l.Amount)
	}
	for _, t := range append(append([]pricing.DocumentTotal{}, doc.Totals...), doc.Signed...) {
		texts = append(texts, t.Label, t.Figure)
	}
	return texts
}

// proposal draws a proposal.
type proposal struct {
	sheet
	doc pricing.Document
}

func drawProposal(doc pricing.Document) *proposal {
	p := &proposal{newSheet("Proposal "+doc.Number, doc.Firm, doc.Dated), doc}
	p.dress(invoice.Look{Colour: doc.Colour})
	p.page()
	p.head()
	p.paragraphs(doc.Opening)
	p.lines("What is in it: "+doc.Tier, doc.Columns, doc.Lines)
	p.totals()
	p.lines("Every bill that comes", "with tax", doc.Bills)
	if doc.Payment != "" {
		p.paragraphs(doc.Payment)
	}
	p.chapter("Terms")
	p.paragraphs(doc.Terms)
	p.signed()
	p.footers(0, doc.Firm+"   proposal "+doc.Number, func(n, all int) string { return fmt.Sprintf("Page %d of %d", n, all) })
	return p
}

func (p *proposal) head() {
	p.pdf.SetY(p.top)
	beside := p.doc.Address
	if w, h := fit(p.doc.Logo, 70, 18); w > 0 {
		p.picture("logo", p.doc.Logo, p.left, p.top, w, h)
		p.pdf.SetY(p.top)
		beside = append([]string{p.doc.Firm}, beside...)
	} else {
		p.style("B", title, ink)
		p.at(p.left, p.right, "L", p.doc.Firm)
	}
	p.style("", small, soft)
	for _, text := range filled(beside...) {
		p.at(p.left, p.right, "R", text)
		p.down(4)
	}
	p.pdf.SetY(max(p.pdf.GetY(), p.top+18) + 10)
	p.style("B", 14, p.accent)
	p.at(p.left, p.right, "L", p.doc.Title)
	p.down(7)
	p.style("", body, soft)
	p.at(p.left, p.right, "L", fmt.Sprintf("Proposal %s for %s, %s", p.doc.Number, p.doc.Client, p.doc.Dated.Long()))
	p.down(10)
}

func (p *proposal) chapter(text string) {
	p.room(24)
	p.style("B", 10.5, p.accent)
	p.at(p.left, p.right, "L", text)
	p.down(6.5)
}

func (p *proposal) paragraphs(text string) {
	for _, paragraph := range strings.Split(text, "\n") {
		p.style("", body, ink)
		for _, line := range p.pdf.SplitText(printable(paragraph), p.right-p.left) {
			p.room(lineHeight)
			p.style("", body, ink)
			p.at(p.left, p.right, "L", line)
			p.down(lineHeight)
		}
		if strings.TrimSpace(paragraph) == "" {
			p.down(lineHeight / 2)
		}
	}
	p.down(5)
}

func (p *proposal) lines(heading, amounts string, lines []pricing.DocumentLine) {
	if len(lines) == 0 {
		return
	}
	p.chapter(heading)
	p.style("", small, soft)
	p.at(amountColumn-20, p.right, "R", amounts)
	p.down(lineHeight + 0.4)
	p.line(p.left, p.right, p.pdf.GetY(), 0.35, ink)
	p.down(1)
	for _, l := range lines {
		p.style("", body, ink)
		what := p.pdf.SplitText(printable(l.What), whenColumn-p.left-3)
		when := p.pdf.SplitText(printable(l.When), amountColumn-whenColumn-8)
		p.style("", small, soft)
		note := []string{}
		if l.Note != "" {
			note = p.pdf.SplitText(printable(l.Note), amountColumn-p.left-8)
		}
		height := float64(max(len(what), len(when), 1)+len(note))*lineHeight + 1.4
		p.room(height)
		p.row(what, when, note, l.Amount)
	}
	p.down(5)
}

func (p *proposal) row(what, when, note []string, amount string) {
	start := p.pdf.GetY()
	column := func(weight string, c color, from, to float64, align string, texts ...string) {
		p.style(weight, body, c)
		p.pdf.SetY(start)
		for _, text := range texts {
			p.at(from, to, align, text)
			p.down(lineHeight)
		}
	}
	column("", ink, amountColumn-8, p.right, "R", amount)
	column("", soft, whenColumn, amountColumn, "L", when...)
	column("", ink, p.left, whenColumn, "L", what...)
	p.pdf.SetY(start + float64(max(len(what), len(when), 1))*lineHeight)
	p.style("", small, soft)
	for _, text := range note {
		p.at(p.left, amountColumn, "L", text)
		p.down(lineHeight)
	}
	p.down(1)
	p.line(p.left, p.right, p.pdf.GetY()-0.4, 0.1, rule)
}

func (p *proposal) totals() {
	p.room(float64(len(p.doc.Totals)) * (lineHeight + 0.9))
	for _, t := range p.doc.Totals {
		p.style("", body, ink)
		p.at(whenColumn, amountColumn, "L", t.Label)
		p.at(amountColumn-10, p.right, "R", t.Figure)
		p.down(lineHeight + 0.9)
		p.line(whenColumn, p.right, p.pdf.GetY()-0.5, 0.1, rule)
	}
	p.down(6)
}

func (p *proposal) signed() {
	if len(p.doc.Signed) == 0 {
		return
	}
	p.room(float64(len(p.doc.Signed)+2) * (lineHeight + 1))
	p.chapter("Record of the signature")
	for _, fact := range p.doc.Signed {
		p.style("", body, soft)
		p.at(p.left, 78, "L", fact.Label)
		p.style("B", body, ink)
		for _, line := range p.pdf.SplitText(printable(fact.Figure), p.right-78) {
			p.at(78, p.right, "L", line)
			p.down(lineHeight)
		}
	}
}
