package documents

import (
	"github.com/skip2/go-qrcode"
)

const (
	sumsWidth  = 84.0
	codeSize   = 25.0 // of the code to pay by, which phones read from 20 mm on
	sumsHeight = lineHeight + 0.9
)

// sums draws what the lines come to, with the amount due. They stand on one page.
func (d *drawing) sums() {
	x := max(d.right-sumsWidth, d.left)
	d.room(d.sumsRoom())
	for _, f := range d.Sums {
		d.style(weight(f.Strong), body, ink)
		y, figure := d.pdf.GetY(), d.wide(f.Text)
		d.at(x, d.right, "R", f.Text)
		d.wrapped(x, d.right-figure-3, "L", f.Label, lineHeight)
		d.pdf.SetY(max(d.pdf.GetY(), y+lineHeight) + 0.9)
		d.line(x, d.right, d.pdf.GetY()-0.5, 0.1, rule)
	}
	d.down(1)
	d.design.due(d, x)
	d.down(5)
}

// sumsRoom is what the sums take.
func (d *drawing) sumsRoom() float64 { return float64(len(d.Sums)+2)*sumsHeight + 14 }

// payment says how to pay: in one amount or in instalments, to which account, with
// the code beside it; and what the law asks to be said about taxes.
func (d *drawing) payment() {
	height := float64(len(d.Parts)+len(d.Account)+len(d.Notices)+2) * lineHeight
	code := 0.0
	if d.Code != "" {
		code = codeSize + 8
	}
	d.room(max(height, code) + 2)
	start := d.pdf.GetY()
	width := d.right - d.left
	if d.Code != "" {
		d.code(d.right-codeSize, start)
		width -= codeSize + 6
	}
	d.pdf.SetY(start)
	if d.HowToPay != "" {
		d.style("B", body, ink)
		d.wrapped(d.left, d.left+width, "L", d.HowToPay, lineHeight)
		d.down(1)
	}
	d.style("", body, ink)
	which, by := 0.0, 0.0
	for _, p := range d.Parts {
		which, by = max(which, d.wide(p.Which)+5), max(by, d.wide(p.By)+6)
	}
	for _, p := range d.Parts {
		d.style("", body, ink)
		d.at(d.left, d.left+which, "L", p.Which)
		d.at(d.left+which, d.left+which+by, "L", p.By)
		d.at(d.left+which+by, d.left+which+by+26, "R", p.Amount)
		d.down(lineHeight)
	}
	if len(d.Parts) > 0 {
		d.down(2)
	}
	d.account(width)
	for _, notice := range d.Notices {
		d.style("", small, soft)
		d.down(0.6)
		d.wrapped(d.left, d.left+width, "L", notice, 4.2)
	}
	d.pdf.SetY(max(d.pdf.GetY(), start+code) + 4)
}

// account is where to pay to.
func (d *drawing) account(width float64) {
	labels := 0.0
	d.style("", small, soft)
	for _, f := range d.Account {
		labels = max(labels, d.wide(f.Label)+4)
	}
	for _, f := range d.Account {
		d.style("", small, soft)
		d.at(d.left, d.left+labels, "L", f.Label)
		d.style("", body, ink)
		d.wrapped(d.left+labels, d.left+width, "L", f.Text, lineHeight)
	}
}

// code draws the code to pay by: ISO/IEC 18004 with error correction M, as EPC069-12
// asks for.
func (d *drawing) code(x, y float64) {
	code, err := qrcode.New(d.Code, qrcode.Medium)
	if err != nil {
		return // the data was too long for a code: the account stands beside
	}
	code.DisableBorder = true
	modules := code.Bitmap()
	side := codeSize / float64(len(modules))
	d.pdf.SetFillColor(ink[0], ink[1], ink[2])
	for row, bits := range modules {
		for from := 0; from < len(bits); from++ {
			to := from
			for to < len(bits) && bits[to] {
				to++
			}
			if to > from { // dark modules side by side are one bar
				d.pdf.Rect(x+float64(from)*side, y+float64(row)*side, float64(to-from)*side, side, "F")
				from = to
			}
		}
	}
	d.pdf.SetY(y + codeSize + 1)
	d.style("", tiny, soft)
	d.at(x-14, x+codeSize, "R", d.Scan)
}

// balances are what is held for the client, and what they owe already.
func (d *drawing) balances() {
	if len(d.Balances) == 0 {
		return
	}
	d.room(float64(len(d.Balances)+1) * lineHeight)
	labels := 0.0
	for _, f := range d.Balances {
		d.style("B", body, ink)
		labels = max(labels, d.wide(f.Label))
	}
	edge := min(d.left+labels+34, d.right)
	for _, f := range d.Balances {
		d.style(weight(f.Strong), body, ink)
		d.at(d.left, edge, "L", f.Label)
		d.at(d.left, edge, "R", f.Text)
		d.down(lineHeight)
	}
	d.down(5)
}
