package documents

import (
	"strings"

	"dorvet/core/invoice"
)

// The heads of the designs: who writes, to whom, and the facts.

const (
	columnWidth = 52.0
	bandHeight  = 34.0
	windowLeft  = 22.0
)

// firm draws the logo, or the name where there is none, into a box.
func (d *drawing) firm(x, y, width, height float64, c color) (bottom float64) {
	if w, h := fit(d.logo, width, height); w > 0 {
		d.picture(d.digest, d.logo, x, y, w, h)
		return y + h
	}
	return d.name(x, y, width, c)
}

// name writes the name of the firm.
func (d *drawing) name(x, y, width float64, c color) (bottom float64) {
	d.pdf.SetY(y)
	d.heading(15, c)
	for _, line := range d.split(d.Issuer.Name, width) {
		d.at(x, x+width, "L", line)
		d.down(6.4)
	}
	return d.pdf.GetY()
}

// from are the lines of who writes.
func (d *drawing) from() []string {
	return filled(append(append([]string{d.Issuer.Name}, d.Issuer.Address...), d.Issuer.TaxNumber, d.Issuer.Mail)...)
}

func filled(texts ...string) []string {
	kept := []string{}
	for _, text := range texts {
		if strings.TrimSpace(text) != "" {
			kept = append(kept, text)
		}
	}
	return kept
}

// address draws the client's, where the window of an envelope shows it, under the
// line that says whom to return it to.
func (d *drawing) address(x, y, width float64) (bottom float64) {
	d.pdf.SetY(y)
	d.style("", tiny, soft)
	back := strings.Join(filled(append([]string{d.Issuer.Name}, d.Issuer.Address...)...), " · ")
	if lines := d.split(back, width); len(lines) > 0 {
		d.at(x, x+width, "L", lines[0])
	}
	d.pdf.SetY(y + 6)
	d.style("B", 10.5, ink)
	for _, line := range d.split(d.Client.Name, width) {
		d.at(x, x+width, "L", line)
		d.down(lineHeight)
	}
	d.style("", body, ink)
	for _, text := range filled(append(d.Client.Address, d.Client.TaxNumber)...) {
		for _, line := range d.split(text, width) {
			d.at(x, x+width, "L", line)
			d.down(lineHeight)
		}
	}
	return d.pdf.GetY()
}

// facts draws the facts in two columns.
func (d *drawing) facts(x, right, y float64) (bottom float64) {
	d.pdf.SetY(y)
	labels := 0.0
	d.style("", small, soft)
	for _, f := range d.Facts {
		labels = max(labels, d.wide(f.Label))
	}
	labels = min(labels+4, (right-x)*0.6)
	for _, f := range d.Facts {
		d.style("", small, soft)
		d.at(x, x+labels, "L", f.Label)
		d.style(weight(f.Strong), body, ink)
		d.wrapped(x+labels, right, "R", f.Text, lineHeight)
	}
	return d.pdf.GetY()
}

func (d *drawing) titled(y float64, size float64) {
	d.pdf.SetY(y)
	d.heading(size, ink)
	d.at(d.left, d.right, "L", d.Title)
	d.down(size*0.35 + 6)
}

// letterHead is a letter: the firm above, its client in the window, the facts
// beside.
func letterHead(d *drawing) {
	d.firm(d.left, d.top-2, 80, 19, d.accent)
	d.pdf.SetY(d.top - 2)
	d.style("", small, soft)
	for i, text := range d.from() {
		if i == 0 && len(d.logo) == 0 {
			continue // it stands as the name already
		}
		d.at(d.left, d.right, "R", text)
		d.down(4)
	}
	address := d.address(windowLeft, windowTop, 85)
	facts := d.facts(126, d.right, windowTop+6)
	d.titled(max(address, facts, windowTop+34)+9, title)
}

// columnHead has what is known down the side, on a tint.
func columnHead(d *drawing) {
	sideColumn(d)
	x, width := 10.0, columnWidth-16
	bottom := d.firm(x, d.top-2, width, 26, d.accent)
	d.pdf.SetY(bottom + 4)
	d.style("", small, soft)
	for i, text := range d.from() {
		if i > 0 || len(d.logo) > 0 {
			d.wrapped(x, x+width, "L", text, 4)
		}
	}
	d.pdf.SetY(max(d.pdf.GetY()+10, 92))
	for _, f := range d.Facts {
		d.style("", tiny+0.5, soft)
		d.at(x, x+width, "L", f.Label)
		d.down(4)
		d.style("B", body, ink)
		d.wrapped(x, x+width, "L", f.Text, lineHeight)
		d.down(2.6)
	}
	d.pdf.SetY(d.top - 2)
	d.heading(title+3, d.accent)
	d.at(d.left, d.right, "L", d.Title)
	bottom = d.address(d.left, windowTop, d.right-d.left)
	d.pdf.SetY(max(bottom, windowTop+34) + 9)
}

func sideColumn(d *drawing) { d.fill(0, 0, columnWidth, d.height, d.accent.tint(9)) }

// bandHead has a band of the colour over the whole width.
func bandHead(d *drawing) {
	d.fill(0, 0, d.width, bandHeight, d.accent)
	x := d.left
	if w, h := fit(d.logo, 60, bandHeight-16); w > 0 { // on a plate, so that any colour stands out
		d.fill(x, 6, w+4, bandHeight-12, white)
		d.picture(d.digest, d.logo, x+2, (bandHeight-h)/2, w, h)
		x += w + 9
	}
	d.name(x, 13.5, d.right-x-70, white)
	d.pdf.SetY(11)
	d.heading(title, white)
	d.at(d.left, d.right, "R", d.Title)
	d.down(8.5)
	d.style("B", body, white)
	d.at(d.left, d.right, "R", d.Number)
	address := d.address(windowLeft, windowTop, 85)
	facts := d.facts(126, d.right, windowTop+6)
	bottom := max(address, facts, windowTop+34)
	d.pdf.SetY(bottom + 3)
	d.style("", small, soft)
	d.line(d.left, d.right, bottom+2, 0.1, rule)
	d.wrapped(d.left, d.right, "L", strings.Join(d.from(), "  ·  "), 4)
	d.down(7)
}

// runningLine says on a further page what it belongs to.
func runningLine(d *drawing) {
	d.style("", small, soft)
	d.at(d.left, d.right, "L", d.Issuer.Name+"  ·  "+d.Client.Name)
	d.at(d.left, d.right, "R", d.Title+" "+d.Number)
	d.down(lineHeight + 1)
	d.line(d.left, d.right, d.pdf.GetY(), 0.35, d.accent)
	d.down(4)
}

func runningColumn(d *drawing) {
	sideColumn(d)
	d.style("B", body, d.accent)
	d.wrapped(10, columnWidth-6, "L", d.Issuer.Name, lineHeight)
	d.style("", small, soft)
	d.down(2)
	d.wrapped(10, columnWidth-6, "L", d.Title+" "+d.Number, 4.2)
	d.wrapped(10, columnWidth-6, "L", d.Client.Name, 4.2)
	d.pdf.SetY(d.top)
}

// The amount due, in the manner of each design.

func dueInWords(d *drawing, x float64) {
	d.line(x, d.right, d.pdf.GetY(), 0.5, d.accent)
	d.down(1.6)
	d.heading(12, d.accent)
	d.at(x, d.right, "L", d.Due.Label)
	d.at(x, d.right, "R", d.Due.Text)
	d.down(lineHeight + 1.6)
}

func dueInTint(d *drawing, x float64) { d.dueOn(x, d.accent.tint(9), d.accent) }

func dueInBar(d *drawing, x float64) { d.dueOn(x, d.accent, white) }

// dueOn writes the amount due on a ground that hangs over both edges, so that the
// figure stands under the others.
func (d *drawing) dueOn(x float64, ground, letters color) {
	d.down(0.6)
	d.fill(x-3, d.pdf.GetY(), d.right-x+6, 9.4, ground)
	d.down(2.3)
	d.heading(12, letters)
	d.at(x, d.right, "L", d.Due.Label)
	d.at(x, d.right, "R", d.Due.Text)
	d.down(7.4)
}

// factTexts are the words of facts.
func factTexts(facts []invoice.Fact) (texts []string) {
	for _, f := range facts {
		texts = append(texts, f.Label, f.Text)
	}
	return texts
}
