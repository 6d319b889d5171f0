package documents

import (
	"unicode"

	"dorvet/core/invoice"
)

// gap is between two columns.
const gap = 3.0

// place is where a column of the table of lines stands.
type place struct {
	invoice.PrintedColumn
	from, to float64
	align    string
}

func cell(l *invoice.PrintedLine, column string) string {
	switch column {
	case "picture":
		return ""
	case "date":
		return l.Day
	case "who":
		return l.Who
	case "hours":
		return l.Hours
	case "rate":
		return l.Rate
	case "amount":
		if l.Covered {
			return l.Note
		}
		return l.Amount
	}
	if l.Note != "" && !l.Covered {
		return l.Text + " · " + l.Note
	}
	return l.Text
}

// places gives every column the width of what is in it; what is left is the text's.
func (d *drawing) places(s invoice.PrintedSection, columns []invoice.PrintedColumn) []place {
	list, used, text := make([]place, len(columns)), 0.0, 0
	for i, c := range columns {
		list[i] = place{PrintedColumn: c, align: "L"}
		if c.Name == "text" {
			text = i
			continue
		}
		d.style("", small, soft)
		wide := d.wide(c.Head)
		d.style("", body, ink)
		if c.Name == "picture" {
			wide = pictureSide
		}
		for n := range s.Lines {
			wide = max(wide, d.wide(cell(&s.Lines[n], c.Name)))
			if c.Name == "amount" {
				wide = max(wide, d.wide(s.Lines[n].Running))
			}
		}
		if c.Name == "hours" || c.Name == "rate" || c.Name == "amount" {
			list[i].align = "R"
			wide = max(wide, 13)
		}
		list[i].to = wide
		used += wide + gap
	}
	list[text].to = d.right - d.left - used
	x := d.left
	for i := range list {
		list[i].from, x = x, x+list[i].to
		list[i].to = x
		x += gap
	}
	return list
}

// heads writes the title of a section and the heads of its columns.
func (d *drawing) heads(s invoice.PrintedSection, places []place) {
	if s.Title != "" {
		d.heading(10.5, d.accent)
		d.wrapped(d.left, d.right, "L", s.Title, lineHeight+0.4)
		d.down(1.4)
	}
	d.style("", small, soft)
	for _, p := range places {
		d.at(p.from, p.to, p.align, p.Head)
	}
	d.down(lineHeight + 0.6)
	d.line(d.left, d.right, d.pdf.GetY(), 0.35, d.accent)
	d.down(1.2)
}

// table draws the lines of a section, on as many pages as they take: each further one
// begins with what the lines before came to. The last two stay with what follows, which is
// so high.
func (d *drawing) table(s invoice.PrintedSection, columns []invoice.PrintedColumn, follows float64) {
	places := d.places(s, columns)
	with := max(len(s.Lines)-withSums, 0)
	d.room(26 + map[bool]float64{true: d.rest(with, s, places) + follows}[with == 0 && follows > 0])
	d.heads(s, places)
	for n := range s.Lines {
		if n == with && n > 0 && follows > 0 {
			d.turn(s, n, places, d.rest(with, s, places)+follows)
		}
		d.row(s, n, places)
	}
	d.down(0.8)
	if s.Sum != nil {
		d.room(lineHeight)
		d.style("B", body, ink)
		last := places[len(places)-1]
		d.at(last.from-20, d.right, "R", s.Sum.Text)
		y := d.pdf.GetY()
		d.wrapped(d.left, last.from-2, "L", s.Sum.Label, lineHeight)
		d.pdf.SetY(max(d.pdf.GetY(), y+lineHeight))
	}
	d.down(6)
}

// withSums is how many lines go on to the last page with the sums, so that these never
// stand alone.
const withSums = 2

// afterLines is the space under the lines of a section, without its sum.
const afterLines = 6.8

// rest is how high the lines of a section are from one on, with what stands under them.
func (d *drawing) rest(n int, s invoice.PrintedSection, places []place) float64 {
	height := afterLines
	if s.Sum != nil {
		height += lineHeight
	}
	for ; n < len(s.Lines); n++ {
		text, _ := d.textOf(&s.Lines[n], places)
		height += max(float64(min(len(text), mostWhole))*lineHeight, d.pictured(&s.Lines[n])) + 1.2
	}
	return height
}

// mostWhole is how many lines of text stay together; more go on with the next page.
const mostWhole = 12

// row draws a line, of whose text as much stands on a page as has room.
func (d *drawing) row(s invoice.PrintedSection, n int, places []place) {
	l := &s.Lines[n]
	text, at := d.textOf(l, places)
	beside := d.pictured(l)
	whole := max(float64(min(len(text), mostWhole))*lineHeight, beside) + 2.2
	if len(text) <= mostWhole || d.pdf.GetY()+4*lineHeight > d.bottom-lineHeight-2 {
		d.turn(s, n, places, whole)
	}
	for _, p := range places {
		if p.Name == "text" {
			continue
		}
		d.inked(l)
		if p.Name == "amount" && l.Covered {
			d.style("", small, soft)
		}
		d.at(p.from, p.to, p.align, cell(l, p.Name))
	}
	start, page := d.pdf.GetY(), d.pdf.PageNo()
	d.besides(l, places)
	strong := strongIn(l)
	for _, part := range text {
		d.turn(s, n+1, places, lineHeight+1)
		d.inked(l)
		if strong == nil {
			d.at(at.from, at.to, "L", part)
		} else {
			strong = d.inWeights(at, part, strong)
		}
		d.down(lineHeight)
	}
	if d.pdf.PageNo() == page {
		d.pdf.SetY(max(d.pdf.GetY(), start+beside))
	}
	d.down(1.2)
	d.line(d.left, d.right, d.pdf.GetY()-0.6, 0.1, rule)
}

// pictureSide is how wide and high a picture beside a line is at most, in millimetres.
const pictureSide = 16.0

// pictured is how high the picture beside a line is; 0 where there is none.
func (d *drawing) pictured(l *invoice.PrintedLine) float64 {
	_, height := fit(d.shown[l.Picture], pictureSide, pictureSide)
	return height
}

// besides draws the picture beside a line.
func (d *drawing) besides(l *invoice.PrintedLine, places []place) {
	w, h := fit(d.shown[l.Picture], pictureSide, pictureSide)
	for _, p := range places {
		if p.Name == "picture" && w > 0 {
			d.picture(l.Picture, d.shown[l.Picture], p.from, d.pdf.GetY(), w, h)
		}
	}
}

// inked is the style of a line: covered work is small and soft.
func (d *drawing) inked(l *invoice.PrintedLine) {
	d.style("", body, ink)
	if l.Covered {
		d.style("", small, soft)
	}
}

// textOf is the text of a line, broken to fit its column; one line at least.
func (d *drawing) textOf(l *invoice.PrintedLine, places []place) (lines []string, at place) {
	d.inked(l)
	if strongIn(l) != nil {
		d.style("B", body, ink) // so that what is strong fits
	}
	for _, p := range places {
		if p.Name == "text" {
			lines, at = d.split(cell(l, p.Name), p.to-p.from), p
		}
	}
	if len(lines) == 0 {
		lines = []string{""}
	}
	return lines, at
}

// turn goes on to the next page if less than height is left, and carries the sum of
// the first n lines over.
func (d *drawing) turn(s invoice.PrintedSection, n int, places []place, height float64) {
	if d.pdf.GetY()+height+lineHeight+2 <= d.bottom {
		return
	}
	carry := func(label string) {
		if n == 0 {
			return
		}
		d.style("B", small, soft)
		d.at(d.left, d.right, "L", label)
		d.style("B", body, soft)
		last := places[len(places)-1]
		d.at(last.from-20, last.to, "R", s.Lines[n-1].Running)
		d.down(lineHeight + 1)
	}
	carry(d.Carried)
	d.page()
	d.running()
	d.heads(s, places)
	carry(d.Brought)
}

// letter is a letter of a text, and whether it is strong.
type letter struct {
	rune
	strong bool
}

// strongIn are the letters of a line's text, if some are strong.
func strongIn(l *invoice.PrintedLine) (letters []letter) {
	some := false
	for _, run := range l.Runs {
		some = some || run.Strong
		for _, r := range printable(run.Text) {
			letters = append(letters, letter{r, run.Strong})
		}
	}
	if !some {
		return nil
	}
	return letters
}

// inWeights writes a broken line of a text, each letter in its weight, and gives the letters
// that are left. What is not of the text, as a note after it, is as usual.
func (d *drawing) inWeights(at place, line string, left []letter) []letter {
	x, run, strong := at.from, "", false
	write := func() {
		d.style(weight(strong), body, ink)
		d.at(x, at.to, "L", run)
		x, run = x+d.pdf.GetStringWidth(run), ""
	}
	for _, r := range line {
		for len(left) > 0 && left[0].rune != r && unicode.IsSpace(left[0].rune) { // a break takes the space before it
			left = left[1:]
		}
		now := false
		if len(left) > 0 && left[0].rune == r {
			now, left = left[0].strong, left[1:]
		}
		if now != strong && run != "" {
			write()
		}
		run, strong = run+string(r), now
	}
	write()
	return left
}
