// Package documents turns a finished invoice, or an answered proposal, into a
// file. The same document gives the same bytes.
//
// An invoice is drawn in one of three designs of one family: they share paper,
// type, table and sums, and differ in their head (heads.go). A single one is
// PDF/A-3 (ISO 19005-3) with itself inside as structured data (archive.go).
package documents

import (
	"bytes"
	"image/png"
	"strconv"
	"strings"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/safetext"
	"dorvet/core/typeface"

	"codeberg.org/go-pdf/fpdf"
)

// Sizes of type, in points, and measures, in millimetres.
const (
	lineHeight        = 4.8
	tiny, small, body = 7.0, 8.5, 9.5
	title             = 19.0
	// The client's address shows in the window of an envelope, 20 mm from the left and
	// 45 mm from the top: DIN 5008, form B.
	windowTop = 45.0
)

type color [3]int

var (
	ink   = color{0x1B, 0x2A, 0x2E}
	soft  = color{0x5D, 0x6A, 0x6C}
	rule  = color{0xDC, 0xD6, 0xC8}
	white = color{0xFF, 0xFF, 0xFF}
	house = color{0x0F, 0x5F, 0x68} // the accent where none is chosen
)

// colored reads #RRGGBB.
func colored(hex string) color {
	n, err := strconv.ParseUint(strings.TrimPrefix(hex, "#"), 16, 24)
	if err != nil {
		return house
	}
	return color{int(n >> 16 & 0xFF), int(n >> 8 & 0xFF), int(n & 0xFF)}
}

// tint is so many percent of a colour on white.
func (c color) tint(percent int) color {
	for i := range c {
		c[i] = 255 - (255-c[i])*percent/100
	}
	return c
}

// sheet is paper on which documents of any kind are drawn.
type sheet struct {
	pdf           *fpdf.Fpdf
	width, height float64
	left, right   float64 // of the text
	top, bottom   float64
	accent        color
	text, head    *typeface.Face
	faces         map[string]bool // that are in the document, by family and weight
	running       func()          // what stands on top of each further page
}

// papers are width and height of what is printed on.
var papers = map[string][2]float64{"": {210, 297}, "a4": {210, 297}, "letter": {215.9, 279.4}}

// newSheet begins a document of a day.
func newSheet(named, author string, dated day.Day) sheet {
	pdf := fpdf.New("P", "mm", "A4", "")
	pdf.SetCatalogSort(true)
	pdf.SetCreationDate(dated.Time())
	pdf.SetModificationDate(dated.Time())
	pdf.SetTitle(printable(named), true)
	pdf.SetAuthor(printable(author), true)
	pdf.SetCellMargin(0)
	pdf.SetAutoPageBreak(false, 0)
	s := sheet{pdf: pdf, faces: map[string]bool{}}
	s.dress(invoice.Look{})
	return s
}

// dress takes on a look: for the pages that follow.
func (s *sheet) dress(look invoice.Look) {
	size := papers[look.Paper]
	s.width, s.height = size[0], size[1]
	s.left, s.right, s.top, s.bottom = 22, s.width-22, 18, s.height-25
	s.accent = house
	if look.Colour != "" {
		s.accent = colored(look.Colour)
	}
	s.text, s.head = typeface.Of(look.Typeface)
}

// face writes in a weight of a family from here on. A document has the faces that are used: to read one and to cut
// out its letters takes longer than to draw a page.
func (s *sheet) face(of *typeface.Face, weight string, size float64) {
	if !s.faces[of.Name+weight] {
		s.faces[of.Name+weight] = true
		file := of.Regular
		if weight == "B" {
			file = of.Semibold
		}
		s.pdf.AddUTF8FontFromBytes(of.Name, weight, file)
	}
	s.pdf.SetFont(of.Name, weight, size)
}

func (s *sheet) page() {
	s.pdf.AddPageFormat("P", fpdf.SizeType{Wd: s.width, Ht: s.height})
	s.pdf.SetY(s.top)
}

func (s *sheet) style(weight string, size float64, c color) {
	s.face(s.text, weight, size)
	s.pdf.SetTextColor(c[0], c[1], c[2])
}

// heading is style in the typeface of headings.
func (s *sheet) heading(size float64, c color) {
	s.face(s.head, "B", size)
	s.pdf.SetTextColor(c[0], c[1], c[2])
}

func (s *sheet) line(from, to, y, width float64, c color) {
	s.pdf.SetDrawColor(c[0], c[1], c[2])
	s.pdf.SetLineWidth(width)
	s.pdf.Line(from, y, to, y)
}

func (s *sheet) fill(x, y, width, height float64, c color) {
	s.pdf.SetFillColor(c[0], c[1], c[2])
	s.pdf.Rect(x, y, width, height, "F")
}

// at writes one line of text between two edges, aligned L or R.
func (s *sheet) at(from, to float64, align, text string) {
	y := s.pdf.GetY()
	s.pdf.SetXY(from, y)
	s.pdf.CellFormat(to-from, lineHeight, printable(text), "", 0, align, false, 0, "")
	s.pdf.SetY(y)
}

func (s *sheet) down(by float64) { s.pdf.SetY(s.pdf.GetY() + by) }

// wide is how wide a text is in the present style.
func (s *sheet) wide(text string) float64 { return s.pdf.GetStringWidth(printable(text)) }

// split breaks a text into the lines that fit a width.
func (s *sheet) split(text string, width float64) []string {
	lines := []string{}
	for _, part := range strings.Split(text, "\n") {
		lines = append(lines, s.pdf.SplitText(printable(part), width)...)
	}
	return lines
}

// wrapped writes a text between two edges, over as many lines as it takes.
func (s *sheet) wrapped(from, to float64, align, text string, step float64) {
	for _, line := range s.split(text, to-from) {
		s.at(from, to, align, line)
		s.down(step)
	}
}

// room begins a new page if less than height is left, and says whether it did.
func (s *sheet) room(height float64) bool {
	if s.pdf.GetY()+height <= s.bottom {
		return false
	}
	s.page()
	if s.running != nil {
		s.running()
	}
	return true
}

// fit is how wide and high a PNG becomes in a box; nothing where there is none that
// can be read.
func fit(content []byte, width, height float64) (fitWidth, fitHeight float64) {
	config, err := png.DecodeConfig(bytes.NewReader(content))
	if err != nil || config.Width == 0 || config.Height == 0 {
		return 0, 0
	}
	scale := min(width/float64(config.Width), height/float64(config.Height))
	return scale * float64(config.Width), scale * float64(config.Height)
}

// picture draws a PNG, which is in the file once under its name.
func (s *sheet) picture(name string, content []byte, x, y, width, height float64) {
	options := fpdf.ImageOptions{ImageType: "PNG"}
	s.pdf.RegisterImageOptionsReader(name, options, bytes.NewReader(content))
	s.pdf.ImageOptions(name, x, y, width, height, false, options, 0, "")
}

// weight is that of a strong text, or of any.
func weight(strong bool) string {
	if strong {
		return "B"
	}
	return ""
}

// footers puts words and a number under each page after some: how many there are is
// known only when all are drawn.
func (s *sheet) footers(before int, words string, number func(n, all int) string) {
	last := s.pdf.PageCount()
	for n := before + 1; n <= last; n++ {
		s.pdf.SetPage(n)
		s.pdf.SetY(s.height - 17)
		s.line(s.left, s.right, s.height-18, 0.1, rule)
		s.style("", small, soft)
		s.at(s.left, s.right, "L", words)
		s.at(s.left, s.right, "R", number(n-before, last-before))
	}
}

// printable is a text on one line, without what must not be in a document.
func printable(text string) string { return safetext.Line(text) }
