package papers

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"strings"

	"dorvet/core/invoice"
	"dorvet/core/safetext"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// ExportFormat is a form in which invoices leave the house as a file.
type ExportFormat struct {
	Name   string `json:"name" enum:"zip,pdf,post,cii,ledes,csv,xlsx,json"`
	Label  string `json:"label"`
	one    string // the extension of a file of one
	many   string
	drafts bool // drafts can be had, too, to be read on paper
	sent   bool // whoever makes it gives it to the client: it can't be taken back
}

var forms = []ExportFormat{
	{"zip", "PDFs in a ZIP", ".zip", ".zip", true, false},
	{"pdf", "One PDF, to print", ".pdf", ".pdf", true, false},
	{"post", "One PDF, to post, with sheets of address", ".pdf", ".pdf", true, false},
	{"cii", "E-invoice (EN 16931, CII)", ".xml", ".zip", false, true},
	{"ledes", "Billing file (LEDES 1998B)", ".txt", ".txt", false, true},
	{"csv", "Lines as CSV", ".csv", ".csv", false, false},
	{"xlsx", "Invoices and lines as XLSX", ".xlsx", ".xlsx", false, false},
	{"json", "JSON", ".json", ".json", false, false},
}

func formOf(name string) (*ExportFormat, error) {
	names := []string{}
	for i := range forms {
		if forms[i].Name == name {
			return &forms[i], nil
		}
		names = append(names, forms[i].Name)
	}
	return nil, app.RefuseField("form", "%q is no form of documents: choose %s.", name, strings.Join(names, ", "))
}

// mayHave refuses what goes to clients to those who do not bill.
func (f *ExportFormat) mayHave(actor app.Actor) error {
	if f.sent && actor.Role != app.Administrator {
		return app.Refuse(app.Conflict, "%s goes to the client: ask a billing administrator to make it.", f.Label)
	}
	return nil
}

func (f *ExportFormat) extension(n int) string {
	if n == 1 {
		return f.one
	}
	return f.many
}

// LeftOut is an invoice that can't be said in a format, and why.
type LeftOut struct {
	ID     int64  `json:"id"`
	Number string `json:"number"`
	Client string `json:"client"`
	Why    string `json:"why"`
}

// FormCheck is what a file would have in it, and what would be left out.
type FormCheck struct {
	Good    int       `json:"good"`
	LeftOut []LeftOut `json:"leftOut"`
}

// CheckForm tells what would be left out of a file, before it is made.
func CheckForm(ctx context.Context, a *app.App, actor app.Actor, invoiceIDs []int64, form string) (*FormCheck, error) {
	f, err := formOf(form)
	if err != nil {
		return nil, err
	}
	rows, left, err := sayable(ctx, a, actor, invoiceIDs, f)
	return &FormCheck{len(rows), left}, err
}

// sayable are the invoices that can be said in a form, in their order, and those that
// are left out.
func sayable(ctx context.Context, a *app.App, actor app.Actor, invoiceIDs []int64, f *ExportFormat) ([]store.InvoiceRow, []LeftOut, error) {
	rows, err := InOrderOf(ctx, a, actor, invoiceIDs, false)
	if err != nil {
		return nil, nil, err
	}
	good, left := []store.InvoiceRow{}, []LeftOut{}
	for i := range rows {
		if err := ctx.Err(); err != nil {
			return nil, nil, err
		}
		why, err := unsayable(a.Read(ctx, actor), a, f, &rows[i].Invoice)
		if err != nil {
			return nil, nil, err
		}
		if why == "" {
			good = append(good, rows[i])
			continue
		}
		number := rows[i].NumberText
		if number == "" {
			number = "draft"
		}
		left = append(left, LeftOut{rows[i].ID, number, rows[i].Client, why})
	}
	return good, left, nil
}

// unsayable is why an invoice can't be had in a form, or nothing.
func unsayable(tx *store.DB, a *app.App, f *ExportFormat, inv *store.Invoice) (string, error) {
	switch {
	case inv.Kind == invoice.Opening:
		return "It was issued before, and only what is owed on it is known here.", nil
	case !inv.State.IsIssued() && !f.drafts:
		return "It is a draft: issue it first.", nil
	case f.drafts:
		return "", nil
	}
	doc, err := DocumentOf(tx, inv)
	if err != nil {
		return "", err
	}
	err = a.Formats.Supports(f.Name, doc)
	if unsayable := new(safetext.Unsayable); errors.As(err, &unsayable) {
		return unsayable.Sentence, nil
	}
	return "", err
}

// because says what was left out, and why.
func because(left []LeftOut) string {
	if len(left) == 0 {
		return ""
	}
	said := fmt.Sprintf(" %s left out.", app.Counted(len(left), "is", "are"))
	for i, l := range left {
		if i == 5 {
			return said + fmt.Sprintf(" And %d more.", len(left)-i)
		}
		said += fmt.Sprintf(" %s, %s: %s", l.Number, l.Client, l.Why)
	}
	return said
}

// noteExport keeps that invoices were made into files that clients get: they can't be
// reopened from then on.
func noteExport(ctx context.Context, a *app.App, r app.Request, f *ExportFormat, rows []store.InvoiceRow) error {
	if !f.sent {
		return nil
	}
	ids := make([]int64, len(rows))
	for i := range rows {
		ids[i] = rows[i].ID
	}
	_, err := app.Do(ctx, a, app.Request{Actor: r.Actor}, store.ExportAct, ids, func(tx *app.Tx) (struct{}, error) {
		for i := range rows { // somebody may have reopened one while the file was made
			now, err := store.Get[store.Invoice](tx.DB, rows[i].ID)
			if err != nil {
				return struct{}{}, err
			}
			if !now.State.IsIssued() || now.Revision != rows[i].Revision {
				return struct{}{}, app.Refuse(app.Conflict, "%s was reopened while the file was made: make the file again.",
					rows[i].NumberText)
			}
		}
		tx.LinkTo(app.OfInvoice, ids...)
		tx.Describe(nil, nil, "Made into a file for the client: %s", f.Label)
		return struct{}{}, nil
	})
	return err
}

// FileIn is an issued invoice in a form, as it was frozen.
func FileIn(ctx context.Context, a *app.App, r app.Request, id int64, form string) (name string, content []byte, err error) {
	f, err := formOf(form)
	if err != nil {
		return "", nil, err
	}
	if err := f.mayHave(r.Actor); err != nil {
		return "", nil, err
	}
	inv, err := Visible(a.Read(ctx, r.Actor), id)
	if err != nil {
		return "", nil, err
	}
	if f.drafts {
		return File(ctx, a, r.Actor, id)
	}
	why, err := unsayable(a.Read(ctx, r.Actor), a, f, &inv.Invoice)
	if err != nil {
		return "", nil, err
	}
	if why != "" {
		return "", nil, app.Refuse(app.Conflict, "%s", why)
	}
	doc, err := DocumentOf(a.Read(ctx, r.Actor), &inv.Invoice)
	if err != nil {
		return "", nil, err
	}
	var out bytes.Buffer
	if err := a.Formats.One(&out, form, *doc); err != nil {
		return "", nil, err
	}
	if err := noteExport(ctx, a, r, f, []store.InvoiceRow{*inv}); err != nil {
		return "", nil, err
	}
	return strings.TrimSuffix(FileName(inv), ".pdf") + f.one, out.Bytes(), nil
}

// FormState is a form in which an invoice can be had, or why it can't.
type FormState struct {
	ExportFormat
	Why string `json:"why" doc:"why it can't be had in this form, or nothing"`
}

// FormsOf tells in which forms an invoice can be had. Of a draft it tells what will be
// when it is issued.
func FormsOf(ctx context.Context, a *app.App, actor app.Actor, id int64) ([]FormState, error) {
	tx := a.Read(ctx, actor)
	inv, err := Visible(tx, id)
	if err != nil {
		return nil, err
	}
	list := []FormState{}
	for i := range forms {
		f := &forms[i]
		if f.Name == "zip" || f.Name == "post" { // they are of many
			continue
		}
		why := ""
		if inv.State.IsDraft() && !f.drafts {
			why, err = later(tx, a, f, &inv.Invoice)
		} else {
			why, err = unsayable(tx, a, f, &inv.Invoice)
		}
		if err != nil {
			return nil, err
		}
		if err := f.mayHave(actor); err != nil {
			why = err.Error()
		}
		list = append(list, FormState{*f, why})
	}
	return list, nil
}

// later is why a draft won't be had in a form once it is issued, or nothing.
func later(tx *store.DB, a *app.App, f *ExportFormat, inv *store.Invoice) (string, error) {
	doc, err := DocumentOf(tx, inv)
	if err != nil {
		return "", err
	}
	doc.Number = "1" // it will have one
	err = a.Formats.Supports(f.Name, doc)
	if unsayable := new(safetext.Unsayable); errors.As(err, &unsayable) {
		return unsayable.Sentence, nil
	}
	return "", err
}
