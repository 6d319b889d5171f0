package delivery

import (
	"context"
	"slices"

	core "dorvet/core/delivery"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/store"
)

// What leaves the house on paper, or is fetched here to be given by hand.

// Posted notes that invoices left the house on paper on a day: those that were waiting for it, and others as posted by hand. One that was
// handed over before is left as it is.
func Posted(ctx context.Context, a *app.App, r app.Request, ids []int64, on day.Day) (Sent, error) {
	return app.Do(ctx, a, r, "posted", []any{ids, on}, func(tx *app.Tx) (Sent, error) {
		if on.IsZero() {
			return Sent{}, app.RefuseField("day", "Give the day on which they were posted, like today.")
		}
		if on > tx.Today {
			return Sent{}, app.RefuseField("day", "%s is still to come: give today or a day before.", on.Long())
		}
		posted := 0
		for _, id := range slices.Compact(slices.Sorted(slices.Values(ids))) {
			done, err := post(tx, id, on)
			if err != nil {
				return Sent{}, err
			}
			posted += done
		}
		if posted == 0 {
			return Sent{}, app.Refuse(app.Conflict, "All of these were handed over already.")
		}
		tx.Describe(nil, nil, "Posted %s on %s", app.Counted(posted, "document", "documents"), on.Long())
		return Sent{Letters: posted, Way: core.Post}, nil
	})
}

// post notes that one invoice left on paper, and says whether it did now.
func post(tx *app.Tx, id int64, on day.Day) (int, error) {
	p, err := packetOf(tx.DB, id, Handover{Way: core.Post})
	if err != nil {
		return 0, err
	}
	inv := &p.Invoices[0]
	if p.isDraft() {
		return 0, app.Refuse(app.Conflict, "%s has a draft among these: issue it first.", inv.Client)
	}
	if inv.Handed.IsOut() {
		return 0, nil
	}
	tx.LinkTo(app.OfInvoice, id)
	tx.LinkTo("clients", inv.ClientID)
	waiting, err := store.WaitingOnPaper(tx.DB, id)
	if err != nil {
		return 0, err
	}
	if len(waiting) == 0 {
		d, err := p.deliver(tx, core.Addressee{Name: p.Client})
		if err != nil {
			return 0, err
		}
		return 1, correspondence.Follow(tx.DB, d.ID, core.Posted, on)
	}
	for _, d := range waiting {
		state, err := d.State.After(core.Stamp)
		if err != nil {
			return 0, app.AsConflict(err)
		}
		if err := correspondence.Follow(tx.DB, d.ID, state, on); err != nil {
			return 0, err
		}
	}
	return 1, nil
}
