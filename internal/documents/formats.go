package documents

import (
	"archive/zip"
	"encoding/json"
	"fmt"
	"io"
	"iter"

	"dorvet/core/invoice"
	"dorvet/core/safetext"
	"dorvet/internal/documents/billingfile"
	"dorvet/internal/documents/einvoice"
)

// Formats are the open formats in which finished invoices leave the house: cii (EN
// 16931), ledes (LEDES 1998B), csv, xlsx and json.
type Formats struct{}

// Supports is a safetext.Unsayable if a format has no place for something on an invoice.
func (Formats) Supports(form string, doc *invoice.Document) error {
	switch form {
	case "cii":
		return einvoice.Supports(doc)
	case "ledes":
		return billingfile.Supports(doc)
	}
	return nil
}

// One writes a single invoice.
func (Formats) One(w io.Writer, form string, doc invoice.Document) error {
	if form == "cii" {
		data, err := einvoice.Write(&doc)
		if err == nil {
			_, err = w.Write(data)
		}
		return err
	}
	if form == "json" {
		return indented(w).Encode(openOf(&doc))
	}
	return Formats{}.Many(w, form, func(yield func(invoice.Document, error) bool) { yield(doc, nil) })
}

// Many writes invoices one after the other: e-invoices as an archive, the others as
// one file.
func (Formats) Many(w io.Writer, form string, docs iter.Seq2[invoice.Document, error]) error {
	switch form {
	case "cii":
		return archive(w, docs)
	case "ledes":
		return billing(w, docs)
	case "csv":
		return linesAsCSV(w, docs)
	case "xlsx":
		return asBook(w, docs)
	case "json":
		return asJSON(w, docs)
	}
	return fmt.Errorf("there is no format %q", form)
}

// Read reads an e-invoice, or an archive of some, as rows of open invoices.
func (Formats) Read(data []byte) (header []string, rows [][]string, is bool, err error) {
	if !einvoice.Is(data) {
		return nil, nil, false, nil
	}
	rows, err = einvoice.Table(data)
	return einvoice.Columns, rows, true, err
}

func archive(w io.Writer, docs iter.Seq2[invoice.Document, error]) error {
	into := zip.NewWriter(w)
	for doc, err := range docs {
		if err != nil {
			return err
		}
		data, err := einvoice.Write(&doc)
		if err != nil {
			return err
		}
		file, err := into.CreateHeader(&zip.FileHeader{Name: named(&doc) + ".xml", Method: zip.Deflate, Modified: doc.Dated.Time()})
		if err != nil {
			return err
		}
		if _, err := file.Write(data); err != nil {
			return err
		}
	}
	return into.Close()
}

func billing(w io.Writer, docs iter.Seq2[invoice.Document, error]) error {
	if err := billingfile.Head(w); err != nil {
		return err
	}
	for doc, err := range docs {
		if err == nil {
			err = billingfile.Write(w, &doc)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

func asJSON(w io.Writer, docs iter.Seq2[invoice.Document, error]) error {
	before := "[\n"
	for doc, err := range docs {
		if err != nil {
			return err
		}
		if _, err := io.WriteString(w, before); err != nil {
			return err
		}
		before = ",\n"
		if err := indented(w).Encode(openOf(&doc)); err != nil {
			return err
		}
	}
	if before == "[\n" {
		_, err := io.WriteString(w, "[]\n")
		return err
	}
	_, err := io.WriteString(w, "]\n")
	return err
}

func indented(w io.Writer) *json.Encoder {
	to := json.NewEncoder(w)
	to.SetIndent("", "  ")
	to.SetEscapeHTML(false)
	return to
}

// named is a telling name: number, client, day.
func named(doc *invoice.Document) string {
	return safetext.FileName(fmt.Sprintf("%s %s %s", doc.Number, doc.Client.Name, doc.Dated))
}
