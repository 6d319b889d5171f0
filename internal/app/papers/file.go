package papers

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"dorvet/core/invoice"
	"dorvet/core/refusal"
	"dorvet/core/safetext"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Drawn draws a document, with the pictures that it names.
func Drawn(a *app.App, doc *invoice.Document) ([]byte, error) {
	if err := withPictures(a, doc); err != nil {
		return nil, err
	}
	file, err := a.Render(*doc)
	if unprintable := new(invoice.Unprintable); errors.As(err, &unprintable) {
		return nil, app.AsConflict(refusal.Errorf("%s", unprintable))
	}
	if err != nil {
		return nil, fmt.Errorf("draw the document: %w", err)
	}
	return file, nil
}

// withPictures brings the logo and the pictures that a document names.
func withPictures(a *app.App, doc *invoice.Document) (err error) {
	if doc.Look.Logo != "" {
		if doc.Picture, err = a.Store.Content(doc.Look.Logo); err != nil {
			return err
		}
	}
	doc.Pictures = map[string][]byte{}
	for _, digest := range doc.NamedPictures() {
		if doc.Pictures[digest], err = a.Store.Content(digest); err != nil {
			return err
		}
	}
	return nil
}

// File is the document of an invoice: as it was frozen, or of a draft as it would be.
func File(ctx context.Context, a *app.App, actor app.Actor, id int64) (name string, content []byte, err error) {
	inv, err := Visible(a.Read(ctx, actor), id)
	if err != nil {
		return "", nil, err
	}
	if inv.State.IsDraft() {
		return draftFile(a, a.Read(ctx, actor), inv)
	}
	if inv.Kind == invoice.Opening {
		return "", nil, app.Refuse(app.Conflict, "An opening balance has no document here: it was issued before.")
	}
	revision, err := store.RevisionOf(a.Read(ctx, actor), id)
	if err != nil {
		return "", nil, err
	}
	content, err = a.Store.Content(revision.Digest)
	return FileName(inv), content, err
}

// draftFile draws a draft, for those who read on paper; it says that it is one.
func draftFile(a *app.App, tx *store.DB, inv *store.InvoiceRow) (string, []byte, error) {
	doc, err := DocumentOf(tx, &inv.Invoice)
	if err != nil {
		return "", nil, err
	}
	file, err := Drawn(a, doc)
	return FileName(inv), file, err
}

// InOrderOf are invoices in the order in which they are taken: by date, then client.
func InOrderOf(ctx context.Context, a *app.App, actor app.Actor, ids []int64, backwards bool) ([]store.InvoiceRow, error) {
	ids = slices.Compact(slices.Sorted(slices.Values(ids)))
	order := "i.dated, c.name, i.id"
	if backwards {
		order = "i.number DESC, i.id DESC"
	}
	rows, err := store.Invoices(a.Read(ctx, actor), store.InvoiceFilter{IDs: ids,
		States: slices.Concat(invoice.DraftStates, invoice.IssuedStates)}, order)
	if err == nil && len(rows) != len(ids) {
		err = app.Refuse(app.Conflict, "Some of these are not there any more: load the page again.")
	}
	return rows, err
}

// FileName is a telling name for the document of an invoice.
func FileName(inv *store.InvoiceRow) string {
	name := fmt.Sprintf("%s %s %s", inv.NumberText, inv.Client, inv.Dated)
	if !inv.State.IsIssued() {
		name = fmt.Sprintf("draft %d %s %s", inv.ID, inv.Client, inv.Dated)
	}
	return safetext.FileName(name) + ".pdf"
}
