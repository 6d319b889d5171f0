package timekeeping

import (
	"context"

	"dorvet/core/wip"
	"dorvet/core/worktime"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// Record saves a new entry.
func Record(ctx context.Context, a *app.App, r app.Request, in TypedEntry) (*Entry, error) {
	return app.Do(ctx, a, r, "record time", in, func(tx *app.Tx) (*Entry, error) {
		if err := mayRecordFor(tx.Actor, in.PersonID); err != nil {
			return nil, err
		}
		entry, err := valued(tx.DB, tx.Actor, in)
		if err != nil {
			return nil, err
		}
		if err := store.Insert(tx.DB, &entry); err != nil {
			return nil, err
		}
		portion := store.Portion{Source: "time", SourceID: entry.ID, Hold: "none", Billing: wip.Unbilled}
		if entry.Treatment == wip.NotBillable {
			portion.Billing = wip.Outside
		}
		follow(&portion, entry)
		if err := store.Insert(tx.DB, &portion); err != nil {
			return nil, err
		}
		tx.Move("recorded", entry.Day, portion, wip.InRecorded, portion.Billing.Bucket(portion.Treatment), nil)
		tx.Concerns(app.OfEntry, entry.ID)
		recorded, err := read(tx, entry.ID)
		if err != nil {
			return nil, err
		}
		tx.Tell(nil, remembered(recorded), "Recorded %s", description(entry))
		return recorded.conceal(tx.Actor), setup.AlertBudgets(tx, entry.EngagementID, entry.Day)
	})
}

// Change saves an entry that was changed; version is the one that was read.
func Change(ctx context.Context, a *app.App, r app.Request, id, version int64, in TypedEntry) (*Entry, error) {
	input := struct {
		ID, Version int64
		TypedEntry
	}{id, version, in}
	return app.Do(ctx, a, r, "change time", input, func(tx *app.Tx) (*Entry, error) {
		before, portion, err := changeable(tx, id, version)
		if err != nil {
			return nil, err
		}
		was, err := read(tx, id)
		if err != nil {
			return nil, err
		}
		if err := mayRecordFor(tx.Actor, in.PersonID); err != nil {
			return nil, err
		}
		after, err := valued(tx.DB, tx.Actor, in)
		if err != nil {
			return nil, err
		}
		tx.Move("changed", before.Day, *portion, portion.Billing.Bucket(portion.Treatment), wip.InRecorded, nil)
		if portion.Billing, err = portion.Billing.After(actOf(portion.Billing, after.Treatment)); err != nil {
			return nil, app.AsConflict(err)
		}
		after.Row, after.Approval = before.Row, before.Approval
		follow(portion, after)
		tx.Move("changed", after.Day, *portion, wip.InRecorded, portion.Billing.Bucket(portion.Treatment), nil)
		if err := store.Save(tx.DB, &after); err != nil {
			return nil, err
		}
		tx.Concerns(app.OfEntry, id)
		if err := store.Save(tx.DB, portion); err != nil {
			return nil, err
		}
		changed, err := read(tx, id)
		if err != nil {
			return nil, err
		}
		tx.Tell(remembered(was), remembered(changed), "Changed to %s", description(after))
		return changed.conceal(tx.Actor), setup.AlertBudgets(tx, after.EngagementID, after.Day)
	})
}

// actOf is what a changed treatment does to a portion.
func actOf(now wip.Billing, treatment wip.Treatment) wip.Act {
	switch outside := treatment == wip.NotBillable; {
	case outside && now != wip.Outside:
		return wip.MakeOutside
	case !outside && now == wip.Outside:
		return wip.MakeBillable
	}
	return wip.Change
}

// Remove takes an entry away; its history stays.
func Remove(ctx context.Context, a *app.App, r app.Request, id, version int64) error {
	_, err := app.Do(ctx, a, r, "remove time", []int64{id, version}, func(tx *app.Tx) (struct{}, error) {
		entry, portion, err := changeable(tx, id, version)
		if err != nil {
			return struct{}{}, err
		}
		tx.Move("removed", entry.Day, *portion, portion.Billing.Bucket(portion.Treatment), wip.InRecorded, nil)
		was, err := read(tx, id)
		if err != nil {
			return struct{}{}, err
		}
		tx.Tell(remembered(was), nil, "Removed %s", description(*entry))
		tx.Concerns(app.OfEntry, id)
		entry.Removed, portion.Removed = true, true
		if err := store.Save(tx.DB, entry); err != nil {
			return struct{}{}, err
		}
		return struct{}{}, store.Save(tx.DB, portion)
	})
	return err
}

// changeable reads an entry that the actor may change, as they last saw it.
func changeable(tx *app.Tx, id, version int64) (*store.TimeEntry, *store.Portion, error) {
	row, err := store.EntryByID(tx.DB, id)
	if err != nil {
		return nil, nil, app.Missing(err, "time entry")
	}
	if err := mayRecordFor(tx.Actor, row.PersonID); err != nil {
		return nil, nil, err
	}
	if row.Version != version {
		return nil, nil, store.ErrStale
	}
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return nil, nil, err
	}
	switch {
	case row.Day <= firm.ClosingDay:
		return nil, nil, app.Refuse(app.Conflict, "%s is before the closing date, %s, and takes no change.", row.Day.Long(), firm.ClosingDay.Long())
	case row.NumberText != "":
		return nil, nil, app.Refuse(app.Conflict, "This entry is billed on %s and can't be changed: reopen or credit that invoice first.", row.NumberText)
	}
	if _, err := row.Billing.After(wip.Change); err != nil {
		return nil, nil, app.AsConflict(err)
	}
	portion, err := store.PortionOf(tx.DB, id)
	return &row.TimeEntry, portion, err
}

// follow gives a portion what its entry is worth.
func follow(p *store.Portion, e store.TimeEntry) {
	p.EngagementID, p.WorkedDay, p.Treatment = e.EngagementID, e.Day, e.Treatment
	p.Minutes, p.Standard, p.Agreed, p.Currency = e.BilledMinutes, e.Standard, e.Agreed, e.Currency
	p.WithoutRate = e.Valued.WithoutRate
}

// remembered is what the history keeps of an entry before and after a change,
// in words that are still true when names have changed.
func remembered(e *Entry) map[string]string {
	kept := map[string]string{"day": e.Day.Long(), "worked": worktime.Clock(e.Minutes), "billed as": string(e.Treatment), "text": e.Text,
		"note": e.Note, "value": e.Value.String(), "engagement": e.Engagement, "service": e.Service}
	if e.Phase != "" {
		kept["phase"] = e.Phase
	}
	if e.NotBillable > 0 {
		kept["not billable of it"] = worktime.Clock(e.NotBillable)
	}
	return kept
}

func read(tx *app.Tx, id int64) (*Entry, error) {
	row, err := store.EntryByID(tx.DB, id)
	if err != nil {
		return nil, err
	}
	entry := shown(row)
	return &entry, nil
}
