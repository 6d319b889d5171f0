package papers

import (
	"archive/zip"
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
	"iter"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"dorvet/core/invoice"
	"dorvet/core/refusal"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// made is the folder of files that jobs made, to be fetched once.
func made(a *app.App) string { return filepath.Join(a.Store.Folder(), "made") }

// Tidy throws away what jobs made before the server stopped, and notes those that
// it broke off.
func Tidy(ctx context.Context, a *app.App) error {
	err := a.Store.Write(ctx, store.Everything, func(tx *store.DB) error { return store.InterruptJobs(tx, a.Clock.Now()) })
	return errors.Join(err, os.RemoveAll(made(a)))
}

// BeginDocuments makes one file of some invoices, in the background: a ZIP of PDFs
// with telling names, one PDF to print, or an open format. Issued ones are as they
// were frozen; what can't be said in the format is left out, and listed with why.
func BeginDocuments(ctx context.Context, a *app.App, r app.Request, invoiceIDs []int64, form, name string) (*app.Job, error) {
	before, try, err := a.Jobs.Try(ctx, a, r, "documents", []any{invoiceIDs, form, name})
	if before != nil || err != nil {
		return before, err
	}
	f, err := formOf(form)
	if err != nil {
		return nil, err
	}
	if err := f.mayHave(r.Actor); err != nil {
		return nil, err
	}
	rows, left, err := sayable(ctx, a, r.Actor, invoiceIDs, f)
	if err != nil {
		return nil, err
	}
	if len(rows) == 0 {
		return nil, app.Refuse(app.Conflict, "There is nothing to make documents of.%s", because(left))
	}
	return a.Jobs.Begin(a, r, try, "documents", 0, len(rows), name+f.extension(len(rows)),
		func(ctx context.Context, job int64, tell app.Progress) (string, error) {
			if err := os.MkdirAll(made(a), 0o700); err != nil {
				return "", err
			}
			path := filepath.Join(made(a), fmt.Sprint(job))
			file, err := os.Create(path)
			if err != nil {
				return "", err
			}
			err = f.write(ctx, a, r.Actor, rows, file, tell)
			if err = errors.Join(err, file.Close()); err == nil {
				err = noteExport(ctx, a, r, f, rows)
			}
			if err != nil {
				if unprintable := new(invoice.Unprintable); errors.As(err, &unprintable) {
					err = app.AsConflict(refusal.Errorf("%s", unprintable))
				}
				return "Nothing was made.", errors.Join(err, os.Remove(path))
			}
			return app.Counted(len(rows), "document", "documents") + "." + because(left), nil
		})
}

// write makes the file of a form.
func (f *ExportFormat) write(ctx context.Context, a *app.App, actor app.Actor, rows []store.InvoiceRow, to io.Writer, tell app.Progress) error {
	switch {
	case f.Name == "zip":
		return zipped(ctx, a, actor, rows, to, tell)
	case f.Name == "pdf":
		return a.Bind(to, documents(ctx, a, actor, rows, tell), false)
	case f.Name == "post":
		rows = slices.Clone(rows)
		slices.SortStableFunc(rows, func(a, b store.InvoiceRow) int {
			return cmp.Or(strings.Compare(a.Client, b.Client), cmp.Compare(store.OrZero(a.Number), store.OrZero(b.Number)))
		})
		return a.Bind(to, documents(ctx, a, actor, rows, tell), true)
	case len(rows) == 1:
		for doc, err := range documents(ctx, a, actor, rows, tell) {
			if err != nil {
				return err
			}
			return a.Formats.One(to, f.Name, doc)
		}
	}
	return a.Formats.Many(to, f.Name, documents(ctx, a, actor, rows, tell))
}

// zipped writes documents into an archive, one at a time.
func zipped(ctx context.Context, a *app.App, actor app.Actor, rows []store.InvoiceRow, to io.Writer, tell app.Progress) error {
	archive := zip.NewWriter(to)
	for i := range rows {
		if err := ctx.Err(); err != nil {
			return err
		}
		if rows[i].Kind == invoice.Opening {
			continue
		}
		name, content, err := File(ctx, a, actor, rows[i].ID)
		if err != nil {
			return err
		}
		w, err := archive.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Store, Modified: rows[i].Dated.Time()})
		if err != nil {
			return err
		}
		if _, err := w.Write(content); err != nil {
			return err
		}
		tell(i + 1)
	}
	return archive.Close()
}

// documents are the documents of invoices, one at a time.
func documents(ctx context.Context, a *app.App, actor app.Actor, rows []store.InvoiceRow, tell app.Progress) iter.Seq2[invoice.Document,
	error] {
	return func(yield func(invoice.Document, error) bool) {
		for i := range rows {
			if err := ctx.Err(); err != nil {
				yield(invoice.Document{}, err)
				return
			}
			if rows[i].Kind == invoice.Opening {
				continue
			}
			doc, err := DocumentOf(a.Read(ctx, actor), &rows[i].Invoice)
			if err == nil {
				err = withPictures(a, doc)
			}
			if err != nil {
				yield(invoice.Document{}, err)
				return
			}
			if !yield(*doc, nil) {
				return
			}
			tell(i + 1)
		}
	}
}

// MadeFile opens the file that a job of the actor's made.
func MadeFile(ctx context.Context, a *app.App, actor app.Actor, jobID int64) (name string, file *os.File, err error) {
	job, err := a.Jobs.Read(ctx, a, actor, jobID)
	if err != nil {
		return "", nil, err
	}
	if job.State != "done" || job.FileName == "" {
		return "", nil, app.Refuse(app.Conflict, "This job has made no file.")
	}
	file, err = os.Open(filepath.Join(made(a), fmt.Sprint(job.ID)))
	if errors.Is(err, os.ErrNotExist) {
		err = app.Refuse(app.Conflict, "The file is not there any more: make it again.")
	}
	return job.FileName, file, err
}
