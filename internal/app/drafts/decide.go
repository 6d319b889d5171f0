package drafts

import (
	"context"
	"maps"
	"slices"
	"strings"

	core "dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/app/wip"
	"dorvet/internal/store"
)

// leaves are the decisions by which work leaves its draft.
var leaves = []string{wip.Hold, wip.WriteOff, wip.Move}

// DecideOn takes a decision on work that is on a draft: its lines follow. What is
// held, written off or moved leaves the draft; moved work comes back onto it where
// its new engagement is on it too.
func DecideOn(ctx context.Context, a *app.App, r app.Request, e Edit, portionIDs []int64, d wip.Decision) (*Changed, error) {
	r.Reason = strings.TrimSpace(d.Reason)
	return Change(ctx, a, r, "decide on work", e, []any{portionIDs, d}, func(tx *app.Tx, inv *store.Invoice) error {
		rows, err := wip.Chosen(tx, portionIDs)
		if err != nil {
			return err
		}
		portions := make([]*store.Portion, len(rows))
		for i := range rows {
			if portions[i], err = TakeOff(tx, inv, &rows[i].Portion, d.Kind); err != nil {
				return err
			}
		}
		done, err := wip.Take(tx, portions, d)
		if err != nil {
			return err
		}
		tx.Describe(wip.Said(done.Before), wip.Said(done.After), "%s", done.Said)
		if slices.Contains(leaves, d.Kind) {
			return comeBack(tx, inv, portions, d)
		}
		return linesFollow(tx, portions)
	})
}

// TakeOff gives a portion of a draft as it is decided on: off the draft, if it leaves.
func TakeOff(tx *app.Tx, inv *store.Invoice, p *store.Portion, kind string) (*store.Portion, error) {
	if p.LineID == nil || p.Billing != core.Reserved {
		return nil, app.Refuse(app.Conflict, "This entry is not on the draft any more: load the page again.")
	}
	line, err := store.Get[store.InvoiceLine](tx.DB, *p.LineID)
	if err != nil {
		return nil, err
	}
	if line.InvoiceID != inv.ID {
		return nil, app.Refuse(app.Conflict, "This entry is on another draft: load the page again.")
	}
	if !slices.Contains(leaves, kind) {
		return p, nil
	}
	if err := Release(tx, p); err != nil {
		return nil, err
	}
	return store.Get[store.Portion](tx.DB, p.ID)
}

// linesFollow gives the lines of portions what these are worth now.
func linesFollow(tx *app.Tx, portions []*store.Portion) error {
	ids := []int64{}
	for _, p := range portions {
		if p.Billing == core.Reserved && !p.Covered {
			ids = append(ids, p.ID)
		}
	}
	rows, err := store.PortionsByID(tx.DB, ids)
	if err != nil {
		return err
	}
	for i := range rows {
		line, err := store.Get[store.InvoiceLine](tx.DB, *rows[i].LineID)
		if err != nil {
			return err
		}
		now := lineOf(&rows[i])
		line.Minutes, line.Amount, line.Treatment, line.PerHour = now.Minutes, now.Amount, now.Treatment, now.PerHour
		if err := store.Save(tx.DB, line); err != nil {
			return err
		}
	}
	return nil
}

// comeBack puts moved work on the draft again, if its engagement is on it.
func comeBack(tx *app.Tx, inv *store.Invoice, portions []*store.Portion, d wip.Decision) error {
	if d.Kind != wip.Move {
		return nil
	}
	on, err := store.EngagementsOf(tx.DB, inv.ID)
	if err != nil || !slices.Contains(on, d.EngagementID) {
		return err
	}
	return putBack(tx, inv, portions)
}

// putBack puts portions that are unbilled, and can be billed, on a draft.
func putBack(tx *app.Tx, inv *store.Invoice, portions []*store.Portion) error {
	ids := []int64{}
	for _, p := range portions {
		ids = append(ids, p.ID)
	}
	rows, err := store.PortionsByID(tx.DB, ids)
	if err != nil {
		return err
	}
	byEngagement := map[int64][]store.PortionRow{}
	for _, p := range rows {
		if p.Billing == core.Unbilled && !p.Removed && unbilled.Billable(&p, tx.Today) {
			byEngagement[p.EngagementID] = append(byEngagement[p.EngagementID], p)
		}
	}
	for _, id := range slices.Sorted(maps.Keys(byEngagement)) {
		if _, err := AddPortions(tx, inv, byEngagement[id]); err != nil {
			return err
		}
	}
	return nil
}

// UndoOn takes back what was decided on a draft's work; what left the draft by it
// is on it again.
func UndoOn(ctx context.Context, a *app.App, r app.Request, e Edit, actID int64) (*Changed, error) {
	return Change(ctx, a, r, "take back a decision", e, actID, func(tx *app.Tx, inv *store.Invoice) error {
		decided, err := wip.Undo(tx, actID)
		if err != nil {
			return err
		}
		on, err := store.EngagementsOf(tx.DB, inv.ID)
		if err != nil {
			return err
		}
		stay, back := []*store.Portion{}, []*store.Portion{}
		for i := range decided {
			p := &decided[i]
			switch {
			case p.Billing == core.Reserved:
				stay = append(stay, p)
			case slices.Contains(on, p.EngagementID):
				back = append(back, p)
			}
		}
		if err := linesFollow(tx, stay); err != nil {
			return err
		}
		return putBack(tx, inv, back)
	})
}

// Undo takes back what was decided on work, wherever it is now: the drafts on which
// some of it is follow.
func Undo(ctx context.Context, a *app.App, r app.Request, actID int64) error {
	_, err := app.Do(ctx, a, r, "take back a decision", actID, func(tx *app.Tx) (struct{}, error) {
		decided, err := wip.Undo(tx, actID)
		if err != nil {
			return struct{}{}, err
		}
		portions, drafts := []*store.Portion{}, map[int64]bool{}
		for i := range decided {
			if p := &decided[i]; p.Billing == core.Reserved {
				line, err := store.Get[store.InvoiceLine](tx.DB, *p.LineID)
				if err != nil {
					return struct{}{}, err
				}
				portions, drafts[line.InvoiceID] = append(portions, p), true
			}
		}
		if err := linesFollow(tx, portions); err != nil {
			return struct{}{}, err
		}
		return struct{}{}, bringUpToDate(tx, drafts)
	})
	return err
}

// bringUpToDate recomputes drafts that were changed from outside.
func bringUpToDate(tx *app.Tx, drafts map[int64]bool) error {
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return err
	}
	for id := range drafts {
		inv, err := store.Get[store.Invoice](tx.DB, id)
		if err != nil {
			return err
		}
		if err := ForgetApproval(tx, inv); err != nil {
			return err
		}
		tx.LinkTo(app.OfInvoice, id)
		if err := Recompute(tx, firm, inv); err != nil {
			return err
		}
	}
	return nil
}
