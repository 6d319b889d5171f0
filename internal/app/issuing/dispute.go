package issuing

import (
	"context"
	"slices"
	"strings"

	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/papers"
	"dorvet/internal/store"
)

// onlyByHand refuses to say by hand what the client says on their page.
func onlyByHand(tx *store.DB, inv *store.Invoice) error {
	claims, err := store.ClaimsOn(tx, inv.ID)
	if err == nil && slices.ContainsFunc(claims, func(c store.Claim) bool { return c.Kind == store.Disputed && c.Outcome == "" }) {
		err = app.Refuse(app.Conflict, "The client disputes %s on its page: answer them there.", inv.NumberText)
	}
	return err
}

// Dispute notes that a client disputes an issued invoice, and why. No reason says
// that it is disputed no more.
func Dispute(ctx context.Context, a *app.App, r app.Request, e drafts.Edit, why string) (*drafts.Changed, error) {
	return app.Do(ctx, a, r, "dispute invoice", []any{e, why}, func(tx *app.Tx) (*drafts.Changed, error) {
		if _, err := papers.Visible(tx.DB, e.ID); err != nil {
			return nil, err
		}
		inv, err := store.Get[store.Invoice](tx.DB, e.ID)
		switch {
		case err != nil:
			return nil, err
		case !inv.State.IsIssued():
			return nil, app.Refuse(app.Conflict, "Only an invoice that was issued can be disputed.")
		case inv.Version != e.Version:
			return nil, store.ErrStale
		}
		if err := onlyByHand(tx.DB, inv); err != nil {
			return nil, err
		}
		before := inv.Disputed
		if inv.Disputed = strings.TrimSpace(why); inv.Disputed == "" {
			tx.Describe(before, nil, "%s is not disputed any more", inv.NumberText)
		} else {
			tx.Describe(before, inv.Disputed, "%s is disputed: %s", inv.NumberText, inv.Disputed)
		}
		tx.LinkTo(app.OfInvoice, inv.ID)
		if err := store.Save(tx.DB, inv); err != nil {
			return nil, err
		}
		return drafts.ChangedBy(tx, inv), nil
	})
}
