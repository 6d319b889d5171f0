package timekeeping

import (
	"context"
	"fmt"
	"slices"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/rate"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// reRated is the kind of the movements of a re-rating.
const reRated = "re-rated"

// Rerating says which unbilled entries are valued anew, at the rates that hold
// now for their days.
type Rerating struct {
	EngagementID int64   `json:"engagementId" minimum:"1"`
	From         day.Day `json:"from" format:"date"`
	To           day.Day `json:"to" format:"date"`
}

// Rerated is what a re-rating does, entry by entry and in all. Entries whose
// value stays are not listed.
type Rerated struct {
	Entries []RatedEntry `json:"entries"`
	Same    int          `json:"same" doc:"unbilled entries whose rate and value stay"`
	Before  money.Amount `json:"before"`
	After   money.Amount `json:"after"`
	ActID   int64        `json:"actId" doc:"of the act, once it is done; it can be undone by it"`
}

// RatedEntry is one entry before and after.
type RatedEntry struct {
	ID         int64        `json:"id"`
	Day        day.Day      `json:"day"`
	Initials   string       `json:"initials"`
	Text       string       `json:"text"`
	Minutes    int          `json:"minutes" doc:"billed"`
	RateBefore string       `json:"rateBefore"`
	RateAfter  string       `json:"rateAfter"`
	Why        string       `json:"why" doc:"whose rate it is now"`
	Before     money.Amount `json:"before"`
	After      money.Amount `json:"after"`

	entry   store.TimeEntry
	portion store.Portion
	valued  wip.Valued
}

// PreviewRerating shows what re-rating would do, and does nothing.
func PreviewRerating(ctx context.Context, a *app.App, actor app.Actor, r Rerating) (*Rerated, error) {
	return rerating(a.Read(ctx, actor), actor, r)
}

// Rerate values unbilled entries anew. What is on a draft, billed, or before the
// closing date stays.
func Rerate(ctx context.Context, a *app.App, r app.Request, asked Rerating) (*Rerated, error) {
	return app.Do(ctx, a, r, "re-rate", asked, func(tx *app.Tx) (*Rerated, error) {
		done, err := rerating(tx.DB, tx.Actor, asked)
		if err != nil {
			return nil, err
		}
		if len(done.Entries) == 0 {
			return nil, app.Refuse(app.Conflict, "Every unbilled entry of these days has the rate that holds: nothing changes.")
		}
		done.ActID = tx.ActID
		for i := range done.Entries {
			if err := revalue(tx, &done.Entries[i].entry, &done.Entries[i].portion, done.Entries[i].valued, reRated); err != nil {
				return nil, err
			}
		}
		tx.Describe(done.Before.String(), done.After.String(), "Re-rated %d entries", len(done.Entries))
		tx.LinkTo("engagements", asked.EngagementID)
		return done, setup.AlertBudgets(tx, asked.EngagementID, tx.Today)
	})
}

// revalue gives an entry and its portion another value, with its movements.
func revalue(tx *app.Tx, entry *store.TimeEntry, portion *store.Portion, v wip.Valued, why string) error {
	tx.Move(why, tx.Today, *portion, portion.Bucket(), wip.InRecorded, nil)
	if entry.ValuedBefore = nil; why == reRated {
		was := entry.Valued
		entry.ValuedBefore = &was
	}
	entry.Valued, entry.Standard, entry.Agreed, entry.BilledMinutes = v, v.Standard.Minor, v.Agreed.Minor, v.Billed.Minutes
	follow(portion, *entry)
	tx.Move(why, tx.Today, *portion, wip.InRecorded, portion.Bucket(), nil)
	if err := store.Save(tx.DB, entry); err != nil {
		return err
	}
	tx.LinkTo(app.OfEntry, entry.ID)
	return store.Save(tx.DB, portion)
}

func rerating(tx *store.DB, actor app.Actor, r Rerating) (*Rerated, error) {
	g, err := setup.EngagementSeen(tx, r.EngagementID)
	if err != nil {
		return nil, err
	}
	firm, err := store.TheFirm(tx)
	if err != nil {
		return nil, err
	}
	from := max(r.From, firm.ClosingDay+1)
	rows, err := store.UnbilledEntries(tx, g.ID, from, r.To)
	if err != nil {
		return nil, err
	}
	done := &Rerated{Entries: []RatedEntry{}, Before: money.Zero(g.Currency), After: money.Zero(g.Currency)}
	for i := range rows {
		if err := done.rate(tx, g, &rows[i]); err != nil {
			return nil, fmt.Errorf("re-rate entry %d: %w", rows[i].ID, err)
		}
	}
	return done, nil
}

// rate finds what an entry would be worth now. Its increments and treatment
// stay as they were recorded.
func (d *Rerated) rate(tx *store.DB, g *store.Engagement, row *store.EntryRow) error {
	if row.Flat != nil { // no rate counts
		d.Same++
		return nil
	}
	in := TypedEntry{PersonID: row.PersonID, ServiceID: row.ServiceID, Day: row.Day, RateFrom: row.RateFrom}
	if row.PhaseID != nil {
		in.PhaseID = *row.PhaseID
	}
	work := wip.Work{Worked: row.WorkedMinutes, NotBillable: row.NotBillableMinutes, Treatment: row.Treatment, Markup: row.Markup,
		Rule: row.Valued.Billed.Rule, Currency: g.Currency}
	if err := atRates(tx, &work, g, in); err != nil {
		return err
	}
	if won := row.Valued.Rate.Won; won != nil && won.Level == rate.Entry { // its own rate stays
		work.Agreed = work.Agreed.Beat(*won)
	}
	value, err := wip.Value(work)
	if err != nil {
		return err
	}
	if sameRate(value.Rate, row.Valued.Rate) && sameRate(value.StandardRate, row.Valued.StandardRate) {
		d.Same++
		return nil
	}
	portion, err := store.PortionOf(tx, row.ID)
	if err != nil {
		return err
	}
	d.Entries = append(d.Entries, RatedEntry{ID: row.ID, Day: row.Day, Initials: row.Initials, Text: row.Text,
		Minutes:    value.Billed.Minutes,
		RateBefore: rateText(row.Valued.Rate), RateAfter: rateText(value.Rate), Why: value.Rate.Source(), Before: row.Valued.Agreed,
		After: value.Agreed,
		entry: row.TimeEntry, portion: *portion, valued: value})
	if d.Before, err = d.Before.Add(row.Valued.Agreed); err != nil {
		return err
	}
	d.After, err = d.After.Add(value.Agreed)
	return err
}

func sameRate(a, b rate.Resolution) bool {
	before, had := a.PerHour()
	after, has := b.PerHour()
	return had == has && before == after
}

func rateText(r rate.Resolution) string {
	if perHour, ok := r.PerHour(); ok {
		return perHour.String()
	}
	return ""
}

// UndoRerating gives every entry of a re-rating the value back that it had, if
// none of them was changed or put on a draft since: all or none.
func UndoRerating(ctx context.Context, a *app.App, r app.Request, actID, engagementID int64) error {
	_, err := app.Do(ctx, a, r, "undo re-rating", actID, func(tx *app.Tx) (struct{}, error) {
		if _, err := setup.EngagementSeen(tx.DB, engagementID); err != nil {
			return struct{}{}, err
		}
		portions, err := store.RevaluedBy(tx.DB, actID, reRated)
		if err != nil {
			return struct{}{}, err
		}
		if len(portions) == 0 || slices.ContainsFunc(portions, func(p store.Revalued) bool {
			return p.EngagementID != engagementID || p.Since > 0 || p.Billing != wip.Unbilled && p.Billing != wip.Outside
		}) {
			return struct{}{}, app.Refuse(app.Conflict, "Some of these entries were changed or billed since: re-rate them again instead.")
		}
		for _, p := range portions {
			if err := giveBack(tx, p.PortionID); err != nil {
				return struct{}{}, err
			}
		}
		tx.Describe(nil, nil, "Took back the re-rating of %d entries", len(portions))
		tx.LinkTo("engagements", engagementID)
		return struct{}{}, nil
	})
	return err
}

// giveBack values an entry as it was before its last re-rating.
func giveBack(tx *app.Tx, portionID int64) error {
	portion, err := store.Get[store.Portion](tx.DB, portionID)
	if err != nil {
		return err
	}
	entry, err := store.Get[store.TimeEntry](tx.DB, portion.SourceID)
	if err != nil {
		return err
	}
	if entry.ValuedBefore == nil {
		return app.Refuse(app.Conflict, "This entry was not re-rated.")
	}
	return revalue(tx, entry, portion, *entry.ValuedBefore, "re-rating undone")
}
