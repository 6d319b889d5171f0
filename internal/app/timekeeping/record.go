package timekeeping

import (
	"context"
	"fmt"

	"dorvet/core/day"
	"dorvet/core/wip"
	"dorvet/core/worktime"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// Record saves a new entry.
func Record(ctx context.Context, a *app.App, r app.Request, in TypedEntry) (*Entry, error) {
	return app.DoTogether(ctx, a, r, "record time", in, func(tx *app.Tx) (*Entry, error) {
		if err := mayRecordFor(tx.Actor, in.PersonID); err != nil {
			return nil, err
		}
		recorded, err := record(tx, in)
		if err != nil {
			return nil, err
		}
		tx.Describe(nil, remembered(recorded), "Recorded %s", description(recorded))
		return recorded.conceal(tx.Actor), setup.AlertBudgets(tx, recorded.EngagementID, recorded.Day)
	})
}

// record saves a new entry inside an act, for somebody who may record it.
func record(tx *app.Tx, in TypedEntry) (*Entry, error) {
	entry, err := valued(tx.DB, tx.Actor, in, nil)
	if err != nil {
		return nil, err
	}
	if entry.Approval, err = approvalOn(tx.DB, tx.Actor, in.PersonID, in.Day, in.EngagementID); err != nil {
		return nil, err
	}
	return insert(tx, &entry, in)
}

// insert keeps an entry with its portion and files.
func insert(tx *app.Tx, entry *store.TimeEntry, in TypedEntry) (*Entry, error) {
	if err := store.Insert(tx.DB, entry); err != nil {
		return nil, err
	}
	portion := store.Portion{Source: "time", SourceID: entry.ID, Hold: wip.NoHold, Billing: wip.Unbilled}
	if entry.Treatment == wip.NotBillable {
		portion.Billing = wip.Outside
	}
	follow(&portion, *entry)
	if err := hold(&portion, in.Hold); err != nil {
		return nil, err
	}
	if err := store.Insert(tx.DB, &portion); err != nil {
		return nil, err
	}
	tx.Move("recorded", entry.Day, portion, wip.InRecorded, portion.Bucket(), nil)
	tx.LinkTo(app.OfEntry, entry.ID)
	if err := attach(tx, ofTime, entry.ID, in.Files); err != nil {
		return nil, err
	}
	return read(tx, entry.ID)
}

// Change saves an entry that was changed; version is the one that was read.
func Change(ctx context.Context, a *app.App, r app.Request, id, version int64, in TypedEntry) (*Entry, error) {
	input := struct {
		ID, Version int64
		TypedEntry
	}{id, version, in}
	return app.DoTogether(ctx, a, r, "change time", input, func(tx *app.Tx) (*Entry, error) {
		row, err := changeable(tx, id, version)
		if err != nil {
			return nil, err
		}
		was := shown(row)
		changed, err := change(tx, row, in)
		if err != nil {
			return nil, err
		}
		tx.Describe(remembered(&was), remembered(changed), "Changed to %s", description(changed))
		return changed.conceal(tx.Actor), setup.AlertBudgets(tx, changed.EngagementID, changed.Day)
	})
}

// change saves an entry as it is typed now, inside an act, with its movements.
func change(tx *app.Tx, row *store.EntryRow, in TypedEntry) (*Entry, error) {
	before := row.TimeEntry
	if err := mayMove(tx, before.PersonID, in); err != nil {
		return nil, err
	}
	after, err := valued(tx.DB, tx.Actor, in, &before)
	if err != nil {
		return nil, err
	}
	after.Row, after.Approval, after.ReturnedFrom = before.Row, before.Approval, before.ReturnedFrom
	if in.Day.Monday() != before.Day.Monday() || in.PersonID != before.PersonID {
		if after.Approval, err = approvalOn(tx.DB, tx.Actor, in.PersonID, in.Day, in.EngagementID); err != nil {
			return nil, err
		}
	}
	return keep(tx, &before, &after, "changed", in.Hold, in.Files)
}

// keep saves an entry that was changed, with its portion, movements and files.
func keep(tx *app.Tx, before, after *store.TimeEntry, why, held string, files []AttachedFile) (*Entry, error) {
	portion, err := store.PortionOf(tx.DB, before.ID)
	if err != nil {
		return nil, err
	}
	tx.Move(why, before.Day, *portion, portion.Bucket(), wip.InRecorded, nil)
	if portion.Billing, err = portion.Billing.After(actOf(portion.Billing, after.Treatment)); err != nil {
		return nil, app.AsConflict(err)
	}
	follow(portion, *after)
	if err := hold(portion, held); err != nil {
		return nil, err
	}
	tx.Move(why, after.Day, *portion, wip.InRecorded, portion.Bucket(), nil)
	if err := store.Save(tx.DB, after); err != nil {
		return nil, err
	}
	tx.LinkTo(app.OfEntry, after.ID)
	if files != nil {
		if err := attach(tx, ofTime, after.ID, files); err != nil {
			return nil, err
		}
	}
	if err := store.Save(tx.DB, portion); err != nil {
		return nil, err
	}
	return read(tx, after.ID)
}

// mayMove refuses what makes an entry somebody else's, or takes it out of what
// its changer leads.
func mayMove(tx *app.Tx, personID int64, in TypedEntry) error {
	if tx.Actor.Role == app.Administrator || tx.Actor.PersonID == personID && in.PersonID == personID {
		return nil
	}
	if in.PersonID != personID {
		return app.RefuseField("personId", "Time stays with who worked it. Ask a billing administrator to give it to another person.")
	}
	return seesAsLead(tx.DB, tx.Actor, in.EngagementID)
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

// released is how a hold is typed that stands until somebody releases it.
const released = "released"

// hold sets a portion's hold as it is typed: nothing, released, or a day.
func hold(p *store.Portion, typed string) (err error) {
	p.Hold, p.HoldUntil = wip.NoHold, 0
	switch typed {
	case "":
	case released:
		p.Hold = wip.UntilReleased
	default:
		p.Hold = wip.UntilDay
		p.HoldUntil, err = day.Parse(typed)
	}
	return app.InField("hold", err)
}

// holdText is a hold as it is typed.
func holdText(h wip.Hold, until day.Day) string {
	switch h {
	case wip.UntilReleased:
		return released
	case wip.UntilDay:
		return until.String()
	}
	return ""
}

// Remove takes an entry away; its history stays.
func Remove(ctx context.Context, a *app.App, r app.Request, id, version int64) error {
	_, err := app.DoTogether(ctx, a, r, "remove time", []int64{id, version}, func(tx *app.Tx) (struct{}, error) {
		row, err := changeable(tx, id, version)
		if err != nil {
			return struct{}{}, err
		}
		was := shown(row)
		tx.Describe(remembered(&was), nil, "Removed %s", description(&was))
		return struct{}{}, takeAway(tx, &row.TimeEntry)
	})
	return err
}

// takeAway removes an entry and its portion, inside an act.
func takeAway(tx *app.Tx, entry *store.TimeEntry) error {
	portion, err := store.PortionOf(tx.DB, entry.ID)
	if err != nil {
		return err
	}
	tx.Move("removed", entry.Day, *portion, portion.Bucket(), wip.InRecorded, nil)
	tx.LinkTo(app.OfEntry, entry.ID)
	entry.Removed, portion.Removed = true, true
	if err := store.Save(tx.DB, entry); err != nil {
		return err
	}
	return store.Save(tx.DB, portion)
}

// changeable reads an entry that the actor may change, as they last saw it.
func changeable(tx *app.Tx, id, version int64) (*store.EntryRow, error) {
	row, err := store.EntryByID(tx.DB, id)
	if err != nil {
		return nil, app.Missing(err, "time entry")
	}
	if err := mayChange(tx.DB, tx.Actor, row.PersonID, row.EngagementID); err != nil {
		return nil, err
	}
	if row.Version != version {
		return nil, store.ErrStale
	}
	return row, fixed(tx.DB, tx.Actor, row)
}

// fixed refuses to change an entry of a closed period, one that is billed, and one
// of a week that was submitted.
func fixed(tx *store.DB, actor app.Actor, row *store.EntryRow) error {
	firm, err := store.TheFirm(tx)
	if err != nil {
		return err
	}
	switch {
	case row.Day <= firm.ClosingDay:
		return app.Refuse(app.Conflict, "%s is before the closing date, %s, and takes no change.", row.Day.Long(), firm.ClosingDay.Long())
	case row.NumberText != "":
		return app.Refuse(app.Conflict, "This entry is billed on %s and can't be changed: reopen or credit that invoice first.",
			row.NumberText)
	}
	if _, err := row.Billing.After(wip.Change); err != nil {
		return app.AsConflict(err)
	}
	if row.Decided {
		return errDecided
	}
	_, err = approvalOn(tx, actor, row.PersonID, row.Day, row.EngagementID)
	return err
}

// errDecided refuses to change work under what was decided on it.
var errDecided = app.Refuse(app.Conflict, "Something was decided on this in the review of unbilled work (divided, written down or up, "+
	"no charge): take that back under Work in progress first.")

// follow gives a portion what its entry is worth.
func follow(p *store.Portion, e store.TimeEntry) {
	p.EngagementID, p.WorkedDay, p.Treatment = e.EngagementID, e.Day, e.Treatment
	p.Minutes, p.Standard, p.Agreed, p.Currency = e.BilledMinutes, e.Standard, e.Agreed, e.Currency
	p.WithoutRate = e.Valued.WithoutRate
}

// description is an entry in the words of its history.
func description(e *Entry) string {
	return fmt.Sprintf("%s on %s", worktime.Said(e.Minutes), e.Day.Long())
}

// remembered is what the history keeps of an entry before and after a change,
// in words that are still true when names have changed.
func remembered(e *Entry) map[string]string {
	kept := map[string]string{"day": e.Day.Long(), "worked": worktime.Said(e.Minutes), "billed as": string(e.Treatment), "text": e.Text,
		"note": e.Note, "value": e.Value.String(), "engagement": e.Engagement, "service": e.Service, "phase": e.Phase,
		"reference": e.Reference,
		"hold":      e.Hold}
	if e.NotBillable > 0 {
		kept["not billable of it"] = worktime.Said(e.NotBillable)
	}
	if e.Expected > 0 {
		kept["expected"] = worktime.Said(e.Expected)
	}
	if e.Started != "" {
		kept["from, to"] = e.Started + " – " + e.Ended
	}
	if e.Flat != nil {
		kept["flat amount"] = e.Flat.String()
	}
	if e.Markup != nil {
		kept["mark-up"] = e.Markup.String() + " %"
	}
	for name, value := range kept {
		if value == "" {
			delete(kept, name)
		}
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
