package billing

import (
	"context"
	"slices"

	"dorvet/core/invoice"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// looked is what was found on drafts that are issued one after the other. It is looked
// for on many at once, which costs little more than on one, and holds until somebody
// does something else, or something of the same client was issued: then a draft is
// looked at by itself, in the act that issues it.
type looked struct {
	drafts  []int64
	blocked map[int64]DraftFinding
	next    int64 // the act that comes if nobody else does anything
	clients map[int64]bool
}

// ahead is how many drafts are looked at together.
const ahead = 50

// look looks at the next drafts, unless it has.
func (l *looked) look(ctx context.Context, a *app.App, rest []store.InvoiceRow) (err error) {
	if slices.Contains(l.drafts, rest[0].ID) {
		return nil
	}
	tx := a.Store.Read(ctx)
	*l = looked{blocked: map[int64]DraftFinding{}, clients: map[int64]bool{}}
	if l.next, err = store.NextActID(tx); err != nil {
		return err
	}
	drafts := []store.Invoice{}
	for _, row := range rest[:min(ahead, len(rest))] {
		drafts, l.drafts = append(drafts, row.Invoice), append(l.drafts, row.ID)
	}
	found, err := findingsOf(tx, drafts, a.Clock.Today())
	for id, findings := range found {
		if at := slices.IndexFunc(findings, DraftFinding.blocks); at >= 0 {
			l.blocked[id] = findings[at]
		}
	}
	return err
}

func (f DraftFinding) blocks() bool { return f.Level == invoice.Block }

// went notes that a draft was issued.
func (l *looked) went(inv *store.Invoice) {
	l.next++
	l.clients[inv.ClientID] = true
}

// blocking refuses to issue a draft with a finding that blocks.
func (l *looked) blocking(tx *app.Tx, inv *store.Invoice) error {
	if l == nil || tx.ActID != l.next || l.clients[inv.ClientID] || !slices.Contains(l.drafts, inv.ID) {
		return blocking(tx, inv)
	}
	if f, is := l.blocked[inv.ID]; is {
		return f.refusal()
	}
	return nil
}
