package issuing

import (
	"encoding/json"
	"fmt"
	"runtime"

	"dorvet/internal/app"
	"dorvet/internal/app/papers"
	"dorvet/internal/store"

	"golang.org/x/sync/errgroup"
)

// numbering is the number that comes next in each series, as far as it can be told before the drafts
// that get them are issued. Nothing depends on it: a document that was drawn under another number than
// its invoice gets is drawn again.
type numbering map[int64]*store.Series

// text is the number that a draft will get; one that it had before stays.
func (n numbering) text(tx *store.DB, inv *store.Invoice) (string, error) {
	if inv.Number != nil {
		return inv.NumberText, nil
	}
	if n[inv.SeriesID] == nil {
		series, err := store.Get[store.Series](tx, inv.SeriesID)
		if err != nil {
			return "", fmt.Errorf("read the series of a draft: %w", err)
		}
		n[inv.SeriesID] = series
	}
	text := NumberText(n[inv.SeriesID])
	n[inv.SeriesID].NextNumber++
	return text, nil
}

// pass counts the numbers that drafts will get which are issued before.
func (n numbering) pass(tx *store.DB, rows []store.InvoiceRow, p part) error {
	for i := range rows {
		if p.drafts[rows[i].ID].blocks != nil {
			continue
		}
		if _, err := n.text(tx, &rows[i].Invoice); err != nil {
			return err
		}
	}
	return nil
}

// drawAhead draws documents on all cores while the invoices before them are issued, which waits for the
// disk most of the time. What can't be drawn is left: it is refused when it is issued.
func drawAhead(tx *store.DB, a *app.App, drafts []store.Invoice, read map[int64]ready, numbers numbering) (map[string][]byte, error) {
	type drawn struct{ content, file []byte }
	made := make([]drawn, len(drafts))
	var cores errgroup.Group
	cores.SetLimit(runtime.GOMAXPROCS(0))
	for i := range drafts {
		r := read[drafts[i].ID]
		if r.blocks != nil || r.on.Drawn == nil {
			continue
		}
		doc := *r.on.Drawn.Doc
		var err error
		if doc.Number, err = numbers.text(tx, &drafts[i]); err != nil {
			return nil, err
		}
		cores.Go(func() error {
			content, err := json.Marshal(doc)
			if err != nil {
				return fmt.Errorf("write what stands on a draft: %w", err)
			}
			if file, err := papers.Drawn(a, &doc); err == nil {
				made[i] = drawn{content, file}
			}
			return nil
		})
	}
	err := cores.Wait()
	files := map[string][]byte{}
	for _, one := range made {
		files[string(one.content)] = one.file
	}
	delete(files, "")
	return files, err
}
