package delivery

import (
	"context"

	"dorvet/core/invoice"
	"dorvet/internal/app"
	"dorvet/internal/app/papers"
	"dorvet/internal/store"
)

func (g *guest) addFiles(a *app.App, tx *store.DB, p *InvoicePage, doc *invoice.Document) error {
	if !g.invoice.State.IsIssued() {
		return nil
	}
	p.EInvoice = a.Formats != nil && a.Formats.Supports("cii", doc) == nil
	if !g.profile.Yes("attach_receipts") {
		return nil
	}
	receipts, err := receiptsOf(tx, g.invoice.ID)
	for _, r := range receipts {
		p.Receipts = append(p.Receipts, r.Name)
	}
	return err
}

// File is a file that a client fetches from the page.
type File struct {
	Name, MediaType string
	Content         []byte
}

// PageFile gives a file of the page: pdf, xml, or a receipt by its place; that it was fetched is noted.
func PageFile(ctx context.Context, a *app.App, secret, which string, place int) (*File, error) {
	tx := a.Store.Read(ctx, store.Everything)
	g, err := openGuest(a, tx, secret)
	if err != nil {
		return nil, err
	}
	f, err := g.file(a, tx, which, place)
	if err != nil {
		return nil, err
	}
	return f, MarkOpened(ctx, a, secret, true)
}

func (g *guest) file(a *app.App, tx *store.DB, which string, place int) (*File, error) {
	if g.invoice.Revision == 0 {
		return nil, app.Refuse(app.Conflict, "There is no document yet.")
	}
	switch which {
	case "pdf":
		revision, err := store.RevisionOf(tx, g.invoice.ID)
		if err != nil {
			return nil, err
		}
		content, err := a.Store.Content(revision.Digest)
		return &File{papers.FileName(g.invoice), "application/pdf", content}, err
	case "xml":
		doc, err := g.shownDocument(tx)
		if err != nil {
			return nil, err
		}
		content, err := eInvoiceOf(a, doc)
		return &File{eInvoiceName(g.invoice), "text/xml", content}, err
	}
	receipts, err := receiptsOf(tx, g.invoice.ID)
	if err != nil {
		return nil, err
	}
	if which != "receipt" || place < 0 || place >= len(receipts) || !g.profile.Yes("attach_receipts") {
		return nil, app.Missing(store.ErrNotFound, "file")
	}
	content, err := a.Store.Content(receipts[place].Digest)
	return &File{receipts[place].Name, receipts[place].MediaType, content}, err
}
