package delivery

import (
	"bytes"
	"fmt"
	"log/slog"
	"slices"

	core "dorvet/core/delivery"

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
	return Attach{PDF: p.profile.Yes("attach"), EInvoice: p.profile.Yes("attach_einvoice"), Expenses: p.profile.Yes("attach_expenses"),
		Receipts: p.profile.Yes("attach_receipts"), Enclosure: p.Kind == core.Invoice && p.profile.Text("enclosure") != ""}
}

// attachment is a file that goes along with a letter: its name is known before it is kept.
type attachment struct {
	name string
	keep func(*app.Tx) ([]store.MailFile, error)
}

// one keeps content under a name.
func (p *packet) one(a *app.App, name, mediaType string, content func() ([]byte, error)) attachment {
	return attachment{name, func(tx *app.Tx) ([]store.MailFile, error) {
		made, err := content()
		if err != nil {
			return nil, err
		}
		digest, err := a.Store.Keep(tx.DB, made, mediaType, tx.Now)
		return []store.MailFile{{Digest: digest, Name: name, MediaType: mediaType}}, err
	}}
}

// attachments are the files that go along: what the letter brings, then what whoever sends it has added.
func (p *packet) attachments(a *app.App, tx *store.DB, which Attach) ([]attachment, error) {
	list := []attachment{}
	for _, f := range p.Files {
		list = append(list, p.one(a, f.Name, "application/pdf", f.Content))
	}
	for i := range p.docs {
		of, err := p.ofInvoice(a, tx, i, which)
		if err != nil {
			return nil, err
		}
		list = append(list, of...)
	}
	if which.Enclosure {
		own, err := p.enclosure(tx)
		if err != nil {
			return nil, err
		}
		list = append(list, own...)
	}
	for _, other := range which.Others {
		list = append(list, attachment{safetext.FileName(other.Name), other.keep})
	}
	return list, nil
}

// enclosure is the firm's own file that the profile names, where it has been chosen.
func (p *packet) enclosure(tx *store.DB) ([]attachment, error) {
	e, err := store.EnclosureNamed(tx, p.profile.Text("enclosure"))
	if err != nil || e == nil || e.File == "" {
		return nil, err
	}
	return []attachment{{e.FileName, func(tx *app.Tx) ([]store.MailFile, error) {
		file, err := store.FileOf(tx.DB, e.File)
		if err != nil {
			return nil, err
		}
		return []store.MailFile{{Digest: e.File, Name: e.FileName, MediaType: file.MediaType}}, nil
	}}}, nil
}

// ofInvoice are the files of one invoice: the PDF as it was frozen, and what is made of it.
func (p *packet) ofInvoice(a *app.App, tx *store.DB, i int, which Attach) ([]attachment, error) {
	inv, doc, list := &p.Invoices[i], p.docs[i], []attachment{}
	if which.PDF {
		list = append(list, attachment{papers.FileName(inv), func(tx *app.Tx) ([]store.MailFile, error) {
			revision, err := store.RevisionOf(tx.DB, inv.ID)
			if err != nil {
				return nil, err
			}
			return []store.MailFile{{Digest: revision.Digest, Name: papers.FileName(inv), MediaType: "application/pdf"}}, nil
		}})
	}
	if which.EInvoice {
		list = append(list, p.one(a, eInvoiceName(inv), "text/xml", func() ([]byte, error) { return eInvoiceOf(a, doc) }))
	}
	if statement, has := doc.ExpensesStatement(); has && which.Expenses {
		list = append(list, p.one(a, statement.Title()+" "+papers.FileName(inv), "application/pdf",
			func() ([]byte, error) { return papers.Drawn(a, &statement) }))
	}
	if !which.Receipts {
		return list, nil
	}
	receipts, err := receiptsOf(tx, inv.ID)
	if err == nil && len(receipts) > 0 {
		list = append(list, p.receipts(a, inv, receipts))
	}
	return list, err
}

// receipts are those of an invoice as one PDF; where one of them can't be read into it, each by itself.
func (p *packet) receipts(a *app.App, inv *store.InvoiceRow, receipts []store.MailFile) attachment {
	name := "Receipts " + papers.FileName(inv)
	return attachment{name, func(tx *app.Tx) ([]store.MailFile, error) {
		contents := [][]byte{}
		for _, r := range receipts {
			content, err := a.Store.Content(r.Digest)
			if err != nil {
				return nil, err
			}
			contents = append(contents, content)
		}
		gathered := new(bytes.Buffer)
		if err := a.Gather(gathered, contents); err != nil {
			slog.Warn("receipts go out one by one", "invoice", inv.ID, "error", err)
			return receipts, nil
		}
		digest, err := a.Store.Keep(tx.DB, gathered.Bytes(), "application/pdf", tx.Now)
		return []store.MailFile{{Digest: digest, Name: name, MediaType: "application/pdf"}}, err
	}}
}

// keep takes a file that whoever acts has uploaded, and nobody else's.
func (o OtherFile) keep(tx *app.Tx) ([]store.MailFile, error) {
	own, err := store.IsUploadOf(tx.DB, o.Digest, tx.Actor.PersonID)
	if err == nil && !own {
		err = app.RefuseField("attach", "The file %s is not there any more: choose it again.", o.Name)
	}
	if err != nil {
		return nil, err
	}
	file, err := store.FileOf(tx.DB, o.Digest)
	if err != nil {
		return nil, err
	}
	return []store.MailFile{{Digest: o.Digest, Name: safetext.FileName(o.Name), MediaType: file.MediaType}}, nil
}

// fileNames are the names of the files that would go along.
func (p *packet) fileNames(a *app.App, tx *store.DB, which Attach) ([]string, error) {
	list, err := p.attachments(a, tx, which)
	names := []string{}
	for _, f := range list {
		names = append(names, f.name)
	}
	return names, err
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

// files are what goes along with a letter, kept by content.
func (p *packet) files(a *app.App, tx *app.Tx, which Attach) ([]store.MailFile, error) {
	list, err := p.attachments(a, tx.DB, which)
	if err != nil {
		return nil, err
	}
	files := []store.MailFile{}
	for _, f := range list {
		kept, err := f.keep(tx)
		if err != nil {
			return nil, err
		}
		files = append(files, kept...)
	}
	return files, tooLarge(tx, files)
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
