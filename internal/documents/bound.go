package documents

import (
	"fmt"
	"io"
	"iter"
	"slices"

	"dorvet/core/invoice"
)

// Bound draws many invoices into one file, one after the other, each with its own
// page numbers, paper and design. A typeface is in it once, so that a thousand of
// them are a file of a few megabytes, and are held as that. To be posted, those that
// follow each other and go to the same address have a sheet with it before them.
// Nothing at all is an error.
func Bound(w io.Writer, docs iter.Seq2[invoice.Document, error], posted bool) error {
	paper, letter := sheet{}, []*invoice.Document{}
	for doc, err := range docs {
		if err != nil {
			return err
		}
		printed := doc.Print()
		if err := unprintable(doc.Look.Typeface, texts(&printed)...); err != nil {
			return fmt.Errorf("draw %s %s: %w", doc.Client.Name, doc.Number, err)
		}
		if paper.pdf == nil {
			paper = newSheet(doc.Issuer.Name, doc.Issuer.Name, doc.Dated)
		}
		if !posted {
			paper.invoice(doc, printed)
			continue
		}
		if len(letter) > 0 && !sameEnvelope(letter[0], &doc) {
			paper.letter(letter)
			letter = letter[:0]
		}
		letter = append(letter, &doc)
	}
	if paper.pdf == nil {
		return fmt.Errorf("there is no document to bind")
	}
	paper.letter(letter)
	return paper.pdf.Output(w)
}

// sameEnvelope reports whether two documents go from the same to the same address on the same paper.
func sameEnvelope(a, b *invoice.Document) bool {
	return a.Issuer.Name == b.Issuer.Name && a.Client.Name == b.Client.Name && slices.Equal(a.Client.Address, b.Client.Address) &&
		a.Look.Paper == b.Look.Paper
}

// letter draws what goes into one envelope.
func (s sheet) letter(docs []*invoice.Document) {
	if len(docs) == 0 {
		return
	}
	s.envelope(docs)
	for _, doc := range docs {
		s.invoice(*doc, doc.Print())
	}
}

// windows are where the window of an envelope shows an address, in millimetres from the left and top edges of the paper, by its size.
// DIN 5008, form B, for DL and C6/5: 20 and 45 mm, 85 mm wide. For a No. 10 envelope its window is 7/8 inch from the left, 1/2 inch from
// the bottom, 4 1/2 by 1 1/8 inches: of a letter in three folds, whichever way it slides, 2 1/2 to 3 1/6 inches from the top. From memory.
var windows = map[string]struct{ left, top, width float64 }{"a4": {25, windowTop, 80}, "letter": {25.4, 58, 100}}

// envelope draws the sheet whose address shows in the window, with what is enclosed.
func (s sheet) envelope(docs []*invoice.Document) {
	first := docs[0]
	s.dress(first.Look)
	d := &drawing{sheet: s, Printed: first.Print(), design: designs["letter"]}
	d.Client.TaxNumber = "" // nobody delivers by it
	d.page()
	window, is := windows[first.Look.Paper]
	if !is {
		window = windows["a4"]
	}
	d.address(window.left, window.top, window.width)
	d.pdf.SetY(110)
	d.style("", body, soft)
	for _, doc := range docs {
		d.room(lineHeight)
		d.at(d.left, d.right, "L", doc.Title()+" "+doc.Number)
		d.down(lineHeight)
	}
}
