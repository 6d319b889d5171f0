package timekeeping

import (
	"context"

	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// BringBack undoes the removal of an entry: it is there again as it was, with its
// files and its history. version is the one that was removed.
func BringBack(ctx context.Context, a *app.App, r app.Request, id, version int64) (*Entry, error) {
	return app.DoTogether(ctx, a, r, "bring time back", []int64{id, version}, func(tx *app.Tx) (*Entry, error) {
		entry, err := store.Get[store.TimeEntry](tx.DB, id)
		if err != nil {
			return nil, app.Missing(err, "time entry")
		}
		if err := mayChange(tx.DB, tx.Actor, entry.PersonID, entry.EngagementID); err != nil {
			return nil, err
		}
		if !entry.Removed || entry.Version != version+1 { // removing it was one change more
			return nil, store.ErrStale
		}
		firm, err := store.TheFirm(tx.DB)
		if err != nil {
			return nil, err
		}
		if err := openDay(firm, "day", entry.Day); err != nil {
			return nil, err
		}
		if entry.Approval, err = approvalOn(tx.DB, tx.Actor, entry.PersonID, entry.Day, entry.EngagementID); err != nil {
			return nil, err
		}
		portion, err := store.RemovedPortionOf(tx.DB, id)
		if err != nil {
			return nil, err
		}
		entry.Removed, portion.Removed = false, false
		tx.Move("brought back", entry.Day, *portion, wip.InRecorded, portion.Bucket(), nil)
		tx.LinkTo(app.OfEntry, id)
		if err := store.Save(tx.DB, entry); err != nil {
			return nil, err
		}
		if err := store.Save(tx.DB, portion); err != nil {
			return nil, err
		}
		back, err := read(tx, id)
		if err != nil {
			return nil, err
		}
		tx.Describe(nil, remembered(back), "Brought back %s", description(back))
		return back.conceal(tx.Actor), setup.AlertBudgets(tx, back.EngagementID, back.Day)
	})
}
