package issuing

import (
	"context"
	"slices"

	"dorvet/core/invoice"
	"dorvet/internal/app"
	"dorvet/internal/app/papers"
	"dorvet/internal/store"
)

// prefetched is what drafts that are issued one after the other are known to be, read
// ahead while those before them are issued: what was found on them, and what stands on
// them. It holds as long as nobody does anything else, and nothing of the same client
// is issued since: then a draft is looked at by itself, in the act that issues it.
type prefetched struct {
	now   part
	next  chan part // that is being read, or nil
	since []issuedAs
}

// part is some drafts as they were after an act.
type part struct {
	after  int64
	drafts map[int64]ready
	files  map[string][]byte // drawn ahead, by what stands on them
	err    error
}

type ready struct {
	blocks *DraftFinding
	on     *papers.Content
}

// issuedAs is an act that issued a draft of a client.
type issuedAs struct{ act, clientID int64 }

// batchSize is how many drafts are read together.
const batchSize = 25

// prefetch reads on until the first of the rest is known.
func (l *prefetched) prefetch(ctx context.Context, a *app.App, actor app.Actor, rest []store.InvoiceRow) error {
	first := rest[0].ID
	if _, known := l.now.drafts[first]; known {
		return nil
	}
	if l.next != nil {
		l.now, l.next = <-l.next, nil
	}
	n := min(batchSize, len(rest))
	numbers := numbering{}
	if _, known := l.now.drafts[first]; !known {
		l.now = read(ctx, a, actor, rest[:n], numbers)
	}
	if l.now.err != nil {
		return l.now.err
	}
	if more := rest[n:min(n+batchSize, len(rest))]; len(more) > 0 {
		numbers = numbering{}
		if err := numbers.pass(a.Read(ctx, actor), rest[:n], l.now); err != nil {
			return err
		}
		next := make(chan part, 1)
		l.next = next
		go func() { next <- read(ctx, a, actor, more, numbers) }()
	}
	return nil
}

// read reads drafts with what is found on them, and draws those that nothing blocks under the
// numbers that they will get; the act is asked for first, so that what is done meanwhile is
// noticed.
func read(ctx context.Context, a *app.App, actor app.Actor, rows []store.InvoiceRow, numbers numbering) part {
	tx, p := a.Read(ctx, actor), part{drafts: map[int64]ready{}}
	next, err := store.NextActID(tx)
	if err != nil {
		return part{err: err}
	}
	p.after = next - 1
	drafts := []store.Invoice{}
	for _, row := range rows {
		drafts = append(drafts, row.Invoice)
	}
	found, err := FindingsOf(a, tx, drafts)
	if err != nil {
		return part{err: err}
	}
	for _, draft := range drafts {
		r := ready{}
		if r.on, err = papers.ContentOf(tx, &draft); err != nil {
			return part{err: err}
		}
		r.on.Drawn, _ = r.on.Draw(tx, &draft) // what can't be drawn is refused when it is issued
		if at := slices.IndexFunc(found[draft.ID], DraftFinding.blocks); at >= 0 {
			r.blocks = &found[draft.ID][at]
		}
		p.drafts[draft.ID] = r
	}
	p.files, p.err = drawAhead(tx, a, drafts, p.drafts, numbers)
	return p
}

// file is what was drawn ahead of what stands on a document, as JSON.
func (l *prefetched) file(content []byte) ([]byte, bool) {
	if l == nil {
		return nil, false
	}
	file, drawn := l.now.files[string(content)]
	return file, drawn
}

// noteIssued notes that a draft was issued.
func (l *prefetched) noteIssued(act, clientID int64) {
	if l != nil {
		l.since = append(l.since, issuedAs{act, clientID})
	}
}

// known is what was read of a draft, if it still holds.
func (l *prefetched) known(tx *app.Tx, inv *store.Invoice) (ready, bool) {
	if l == nil {
		return ready{}, false
	}
	r, known := l.now.drafts[inv.ID]
	own := int64(0)
	for _, s := range l.since {
		if s.act > l.now.after {
			own++
			known = known && s.clientID != inv.ClientID
		}
	}
	return r, known && tx.ActID-1-l.now.after == own
}

// content is what stands on a draft, if nothing that blocks was found on it.
func (l *prefetched) content(tx *app.Tx, a *app.App, inv *store.Invoice) (*papers.Content, error) {
	if r, known := l.known(tx, inv); known && r.blocks != nil {
		return nil, r.blocks.refusal()
	} else if known {
		return r.on, nil
	}
	if err := blocking(tx, a, inv); err != nil {
		return nil, err
	}
	return papers.ContentOf(tx.DB, inv)
}

func (f DraftFinding) blocks() bool { return f.Level == invoice.Block }
