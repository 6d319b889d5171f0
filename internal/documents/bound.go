package documents

import (
	"fmt"
	"io"
	"iter"

	"dorvet/core/invoice"
)

// Bound draws many invoices into one file, one after the other, each with its own
// page numbers, paper and design. A typeface is in it once, so that a thousand of
// them are a file of a few megabytes, and are held as that. Nothing at all is an
// error.
func Bound(w io.Writer, docs iter.Seq2[invoice.Document, error]) error {
	paper := sheet{}
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
		paper.invoice(doc, printed)
	}
	if paper.pdf == nil {
		return fmt.Errorf("there is no document to bind")
	}
	return paper.pdf.Output(w)
}
