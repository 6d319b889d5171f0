package timekeeping

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"dorvet/core/money"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// BulkChange is one change of many entries. What is left out stays as it is.
type BulkChange struct {
	IDs          []int64       `json:"ids" minItems:"1" maxItems:"10000"`
	EngagementID int64         `json:"engagementId,omitempty" doc:"to which they move"`
	ServiceID    int64         `json:"serviceId,omitempty"`
	Treatment    wip.Treatment `json:"treatment,omitempty" enum:"billable,out_of_scope,no_charge,not_billable"`
	Markup       string        `json:"markup,omitempty" maxLength:"20" doc:"percent, typed; 0 takes it away"`
	PerHour      string        `json:"perHour,omitempty" maxLength:"20" doc:"a rate of their own, typed"`
	Rerate       bool          `json:"rerate,omitempty" doc:"at the rates that hold now"`
	Hold         string        `json:"hold,omitempty" maxLength:"10" doc:"none, released (until somebody releases them), or the day of release"`
}

// noHold is how a hold is typed that is lifted.
const noHold = "none"

// BulkChanged is what such a change does, entry by entry and in all.
type BulkChanged struct {
	Entries []BulkEntry    `json:"entries" doc:"those that change"`
	Stay    []BulkEntry    `json:"stay" doc:"those that can't be changed, each with why"`
	Same    int            `json:"same" doc:"those that are so already"`
	Minutes int            `json:"minutes" doc:"worked, of those that change"`
	Before  []money.Amount `json:"before" doc:"their value, one for each currency"`
	After   []money.Amount `json:"after"`
	ActID   int64          `json:"actId" doc:"of the act, once it is done; it can be undone by it"`
}

// BulkEntry is one entry before and after.
type BulkEntry struct {
	ID      int64         `json:"id"`
	Day     string        `json:"day"`
	Who     string        `json:"who"`
	Text    string        `json:"text"`
	Minutes int           `json:"minutes"`
	Was     string        `json:"was" doc:"what changes, as it was"`
	Becomes string        `json:"becomes"`
	Before  *money.Amount `json:"before,omitempty"`
	After   *money.Amount `json:"after,omitempty"`
	Why     string        `json:"why,omitempty" doc:"why it can't be changed"`

	row   *store.EntryRow
	typed TypedEntry
	after store.TimeEntry
}

// PreviewBulk shows what a change of many would do, and does nothing.
func PreviewBulk(ctx context.Context, a *app.App, actor app.Actor, c BulkChange) (*BulkChanged, error) {
	return bulkChanged(a.Read(ctx, actor), actor, c)
}

// ChangeInBulk changes many entries as one act; those that can't be changed
// stay as they are.
func ChangeInBulk(ctx context.Context, a *app.App, r app.Request, c BulkChange) (*BulkChanged, error) {
	return app.Do(ctx, a, r, "change together", c, func(tx *app.Tx) (*BulkChanged, error) {
		done, err := bulkChanged(tx.DB, tx.Actor, c)
		if err != nil {
			return nil, err
		}
		if len(done.Entries) == 0 {
			return nil, app.Refuse(app.Conflict, "None of these entries changes: %d can't be changed, %d are so already.", len(done.Stay),
				done.Same)
		}
		done.ActID = tx.ActID
		if err := done.apply(tx); err != nil {
			return nil, err
		}
		tx.Describe(said(done.Before), said(done.After), "Changed %d entries together", len(done.Entries))
		return done, nil
	})
}

func said(values []money.Amount) string {
	text := ""
	for _, v := range values {
		text += v.String() + " " + string(v.Currency) + " "
	}
	return text
}

func (d *BulkChanged) apply(tx *app.Tx) error {
	engagements, undo := map[int64]bool{}, []store.ChangedTogether{}
	for i := range d.Entries {
		e := &d.Entries[i]
		kept := store.ChangedTogether{ActID: tx.ActID, EntryID: e.ID,
			Before: store.TogetherBefore{Entry: e.row.TimeEntry, Hold: e.row.Hold, HoldUntil: e.row.HoldUntil}}
		if _, err := keep(tx, &e.row.TimeEntry, &e.after, "changed together", e.typed.Hold, nil); err != nil {
			return err
		}
		kept.AfterVersion = e.after.Version
		undo, engagements[e.after.EngagementID] = append(undo, kept), true
	}
	for id := range engagements {
		if err := setup.AlertBudgets(tx, id, tx.Today); err != nil {
			return err
		}
	}
	return store.Insert(tx.DB, undo)
}

// together finds what a change does to each entry.
func bulkChanged(tx *store.DB, actor app.Actor, c BulkChange) (*BulkChanged, error) {
	rows, err := store.EntriesByID(tx, unique(slices.Clone(c.IDs)))
	if err != nil {
		return nil, err
	}
	if rows, err = seenOf(tx, actor, rows); err != nil {
		return nil, err
	}
	done := &BulkChanged{Entries: []BulkEntry{}, Stay: []BulkEntry{}, Before: []money.Amount{}, After: []money.Amount{}}
	for i := range rows {
		if err := done.consider(tx, actor, c, &rows[i]); err != nil {
			return nil, err
		}
	}
	if !actor.SeesValues() {
		done.conceal()
	}
	return done, nil
}

// seenOf leaves of entries those that somebody may see at all: of others' time nothing is
// told, not that it is there.
func seenOf(tx *store.DB, actor app.Actor, rows []store.EntryRow) ([]store.EntryRow, error) {
	seen := rows[:0]
	for _, row := range rows {
		if actor.SeesPerson(row.PersonID) {
			seen = append(seen, row)
			continue
		}
		e, err := store.Get[store.Engagement](tx, row.EngagementID)
		if err != nil {
			return nil, err
		}
		if actor.Role == app.Lead && tx.Scope().Sees(e) {
			seen = append(seen, row)
		}
	}
	return seen, nil
}

func (d *BulkChanged) consider(tx *store.DB, actor app.Actor, c BulkChange, row *store.EntryRow) error {
	entry := BulkEntry{ID: row.ID, Day: row.Day.String(), Who: row.Initials, Text: row.Text, Minutes: row.WorkedMinutes, row: row}
	var refusal *app.Refusal
	err := entry.becomes(tx, actor, c)
	switch {
	case errors.As(err, &refusal):
		entry.Why = refusal.Sentence
		d.Stay = append(d.Stay, entry)
		return nil
	case err != nil:
		return fmt.Errorf("change entry %d: %w", row.ID, err)
	case entry.Was == entry.Becomes && entry.after.Agreed == row.Agreed && entry.after.Standard == row.Standard:
		d.Same++
		return nil
	}
	before, after := row.Valued.Agreed, entry.after.Valued.Agreed
	entry.Before, entry.After = &before, &after
	d.Minutes += row.WorkedMinutes
	d.Entries = append(d.Entries, entry)
	if d.Before, err = money.AddByCurrency(d.Before, before); err != nil {
		return err
	}
	d.After, err = money.AddByCurrency(d.After, after)
	return err
}

// becomes computes what an entry becomes, or refuses to change it.
func (e *BulkEntry) becomes(tx *store.DB, actor app.Actor, c BulkChange) error {
	if err := mayChange(tx, actor, e.row.PersonID, e.row.EngagementID); err != nil {
		return err
	}
	if err := fixed(tx, actor, e.row); err != nil {
		return err
	}
	if err := mayPriceAnew(tx, actor, c, e.row.EngagementID); err != nil {
		return err
	}
	in, err := toInput(tx, e.row)
	if err != nil {
		return err
	}
	if !actor.SeesValues() {
		in.PerHour, in.Markup, in.Flat = "", "", "" // they stay as they are, unseen
	}
	if e.Was, err = inWords(tx, c, in); err != nil {
		return err
	}
	c.onto(&in)
	before := &e.row.TimeEntry
	if c.Rerate {
		fresh := *before
		fresh.Valued.Rate.Won = nil // so that no rate is kept
		before = &fresh
	}
	if e.after, err = valued(tx, actor, in, before); err != nil {
		return err
	}
	if err := mayChange(tx, actor, e.row.PersonID, in.EngagementID); err != nil {
		return err
	}
	e.after.Row, e.after.Approval, e.after.ReturnedFrom = e.row.Row, e.row.Approval, e.row.ReturnedFrom
	e.typed = in
	e.Becomes, err = inWords(tx, c, in)
	return err
}

// mayPriceAnew refuses a rate, a mark-up or rates found anew by somebody who does not
// price the engagement.
func mayPriceAnew(tx *store.DB, actor app.Actor, c BulkChange, engagementID int64) error {
	if c.PerHour == "" && c.Markup == "" && !c.Rerate {
		return nil
	}
	e, err := store.Get[store.Engagement](tx, engagementID)
	return app.Unless(err, errNotPriced("Rates and mark-ups"), func() bool { return mayPrice(actor, e) })
}

// onto puts what changes on an entry as it is typed.
func (c BulkChange) onto(in *TypedEntry) {
	if c.EngagementID != 0 && c.EngagementID != in.EngagementID {
		in.EngagementID, in.PhaseID = c.EngagementID, 0
	}
	if c.ServiceID != 0 {
		in.ServiceID = c.ServiceID
	}
	if c.Treatment != "" {
		in.Treatment = c.Treatment
		in.Returns = in.Returns && c.Treatment.Charged()
	}
	if c.Markup != "" {
		in.Markup = c.Markup
	}
	if c.PerHour != "" {
		in.PerHour = c.PerHour
	}
	if c.Rerate {
		in.PerHour = ""
	}
	switch c.Hold {
	case "":
	case noHold:
		in.Hold = ""
	default:
		in.Hold = c.Hold
	}
}

// inWords says those things about an entry that a change concerns.
func inWords(tx *store.DB, c BulkChange, in TypedEntry) (string, error) {
	words := []string{}
	if c.EngagementID != 0 {
		e, err := store.Get[store.Engagement](tx, in.EngagementID)
		if err != nil {
			return "", app.Missing(err, "engagement")
		}
		words = append(words, e.Name)
	}
	if c.ServiceID != 0 {
		s, err := store.Get[store.Service](tx, in.ServiceID)
		if err != nil {
			return "", app.Missing(err, "service")
		}
		words = append(words, s.Name)
	}
	if c.Treatment != "" {
		words = append(words, treatmentWords[in.Treatment])
	}
	if c.Hold != "" {
		words = append(words, holdWords(in.Hold))
	}
	if c.Markup != "" {
		words = append(words, "mark-up "+cmp.Or(in.Markup, "0")+" %")
	}
	if c.PerHour != "" {
		words = append(words, cmp.Or(in.PerHour, "the rate that holds"))
	}
	return strings.Join(words, ", "), nil
}

func holdWords(typed string) string {
	switch typed {
	case "":
		return "not on hold"
	case released:
		return "on hold"
	}
	return "on hold until " + typed
}

var treatmentWords = map[wip.Treatment]string{wip.Billable: "billable", wip.OutOfScope: "outside the fee", wip.NoCharge: "no charge",
	wip.NotBillable: "not billable"}

func (d *BulkChanged) conceal() {
	d.Before, d.After = []money.Amount{}, []money.Amount{}
	for i := range d.Entries {
		d.Entries[i].Before, d.Entries[i].After = nil, nil
	}
}

// UndoTogether gives every entry of such a change back what it was, if none was
// changed or put on a draft since: all or none.
func UndoTogether(ctx context.Context, a *app.App, r app.Request, actID int64) error {
	_, err := app.Do(ctx, a, r, "undo change together", actID, func(tx *app.Tx) (struct{}, error) {
		kept, err := store.ChangesOf(tx.DB, actID)
		if err != nil {
			return struct{}{}, err
		}
		if len(kept) == 0 {
			return struct{}{}, app.Missing(store.ErrNotFound, "change")
		}
		for i := range kept {
			if err := restoreBulk(tx, &kept[i]); err != nil {
				return struct{}{}, err
			}
		}
		tx.Describe(nil, nil, "Took back the change of %d entries", len(kept))
		return struct{}{}, store.ForgetChanges(tx.DB, actID)
	})
	return err
}

func restoreBulk(tx *app.Tx, kept *store.ChangedTogether) error {
	row, err := changeable(tx, kept.EntryID, kept.AfterVersion)
	var refusal *app.Refusal
	if err != nil {
		if errors.Is(err, store.ErrStale) || errors.As(err, &refusal) && refusal.Kind == app.NotFound {
			return app.Refuse(app.Conflict, "Some of these entries were changed since, so nothing was taken back. "+
				"Change them anew instead.")
		}
		return err
	}
	before := kept.Before.Entry
	before.Version = row.Version
	_, err = keep(tx, &row.TimeEntry, &before, "change undone", holdText(kept.Before.Hold, kept.Before.HoldUntil), nil)
	return err
}
