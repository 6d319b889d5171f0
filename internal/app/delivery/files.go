package delivery

import (
	"bytes"
	"fmt"
	"slices"

	"dorvet/core/invoice"
	"dorvet/core/safetext"
	"dorvet/internal/app"
	"dorvet/internal/app/papers"
	"dorvet/internal/store"
)

// attach is which files go along: as was said, else as the profile has it.
func (p *packet) attach(s Handover) Attach {
	if s.Attach != nil {
		return *s.Attach
	}
	return Attach{PDF: p.profile.Yes("attach"), EInvoice: p.profile.Yes("attach_einvoice"), Receipts: p.profile.Yes("attach_receipts")}
}

// fileNames are the names of the files that would go along.
func (p *packet) fileNames(tx *store.DB, which Attach) ([]string, error) {
	names := []string{}
	for _, f := range p.Files {
		names = append(names, f.Name)
	}
	if len(p.docs) == 0 {
		return names, nil
	}
	for i := range p.Invoices {
		inv := &p.Invoices[i]
		if which.PDF {
			names = append(names, papers.FileName(inv))
		}
		if which.EInvoice {
			names = append(names, eInvoiceName(inv))
		}
		if which.Receipts {
			receipts, err := receiptsOf(tx, inv.ID)
			if err != nil {
				return nil, err
			}
			for _, r := range receipts {
				names = append(names, r.Name)
			}
		}
	}
	return names, nil
}

func eInvoiceName(inv *store.InvoiceRow) string {
	return safetext.FileName(fmt.Sprintf("%s %s %s", inv.NumberText, inv.Client, inv.Dated)) + ".xml"
}

// receiptsOf are the receipts of the expenses on an invoice, each once, with telling names.
func receiptsOf(tx *store.DB, invoiceID int64) ([]store.MailFile, error) {
	rows, err := store.ReceiptsOn(tx, invoiceID)
	files := []store.MailFile{}
	for i, r := range rows {
		files = append(files, store.MailFile{Digest: r.Digest, MediaType: r.MediaType,
			Name: safetext.FileName(fmt.Sprintf("Receipt %d %s", i+1, r.Name))})
	}
	return files, err
}

// files are what goes along with a letter, kept by content: the PDFs as they were frozen, what is made of them, receipts.
func (p *packet) files(a *app.App, tx *app.Tx, which Attach) ([]store.MailFile, error) {
	if len(p.docs) == 0 {
		return p.made(a, tx)
	}
	files := []store.MailFile{}
	for i := range p.Invoices {
		inv := &p.Invoices[i]
		if which.PDF {
			revision, err := store.RevisionOf(tx.DB, inv.ID)
			if err != nil {
				return nil, err
			}
			files = append(files, store.MailFile{Digest: revision.Digest, Name: papers.FileName(inv), MediaType: "application/pdf"})
		}
		if which.EInvoice {
			file, err := p.eInvoice(a, tx, inv, p.docs[i])
			if err != nil {
				return nil, err
			}
			files = append(files, file)
		}
		if which.Receipts {
			receipts, err := receiptsOf(tx.DB, inv.ID)
			if err != nil {
				return nil, err
			}
			files = append(files, receipts...)
		}
	}
	return files, tooLarge(tx, files)
}

// made are the files of a parcel that brings no invoice.
func (p *packet) made(a *app.App, tx *app.Tx) ([]store.MailFile, error) {
	files := []store.MailFile{}
	for _, f := range p.Files {
		content, err := f.Content()
		if err != nil {
			return nil, err
		}
		digest, err := a.Store.Keep(tx.DB, content, "application/pdf", tx.Now)
		if err != nil {
			return nil, err
		}
		files = append(files, store.MailFile{Digest: digest, Name: f.Name, MediaType: "application/pdf"})
	}
	return files, tooLarge(tx, files)
}

func (p *packet) eInvoice(a *app.App, tx *app.Tx, inv *store.InvoiceRow, doc *invoice.Document) (store.MailFile, error) {
	file := store.MailFile{Name: eInvoiceName(inv), MediaType: "text/xml"}
	content, err := eInvoiceOf(a, doc)
	if err != nil {
		return file, err
	}
	file.Digest, err = a.Store.Keep(tx.DB, content, file.MediaType, tx.Now)
	return file, err
}

// eInvoiceOf is a document as structured data (EN 16931).
func eInvoiceOf(a *app.App, doc *invoice.Document) ([]byte, error) {
	if err := a.Formats.Supports("cii", doc); err != nil {
		return nil, app.Refuse(app.Conflict, "%s can't be an e-invoice: %s Do without one.", doc.Number, err)
	}
	content := new(bytes.Buffer)
	if err := a.Formats.One(content, "cii", *doc); err != nil {
		return nil, fmt.Errorf("write the e-invoice %s: %w", doc.Number, err)
	}
	return content.Bytes(), nil
}

// mostAttached is what mail servers take of files, before they are coded: 25 MB is common practice, and coding adds a third.
const mostAttached = 18 << 20

func tooLarge(tx *app.Tx, files []store.MailFile) error {
	digests := []string{}
	for _, f := range files {
		if !slices.Contains(digests, f.Digest) {
			digests = append(digests, f.Digest)
		}
	}
	size, err := store.SizeOf(tx.DB, digests)
	if err == nil && size > mostAttached {
		err = app.Refuse(app.Conflict, "The files come to %d MB, and mail servers take %d: leave the receipts out, or send fewer in a letter.",
			size>>20, mostAttached>>20)
	}
	return err
}
