package wip

import (
	"context"
	"strconv"
	"strings"

	"dorvet/core/day"
	"dorvet/core/money"
	core "dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/store"
)

// The kinds of decision. Written work comes to fewer or more hours, another rate
// or another amount; what comes off is written down, or stays unbilled.
const (
	Hold     = "hold"
	Release  = "release"
	Write    = "write"
	WriteOff = "write_off"
	NoCharge = "no_charge"
	DivideIt = "divide"
	Move     = "move"
)

// Decide takes a decision on unbilled work.
func Decide(ctx context.Context, a *app.App, r app.Request, portionIDs []int64, d Decision) (*Taken, error) {
	r.Reason = strings.TrimSpace(d.Reason)
	return app.Do(ctx, a, r, "decide on work", []any{portionIDs, d}, func(tx *app.Tx) (*Taken, error) {
		return decide(tx, portionIDs, d)
	})
}

func decide(tx *app.Tx, portionIDs []int64, d Decision) (*Taken, error) {
	portions, err := decidable(tx, portionIDs)
	if err != nil {
		return nil, err
	}
	taken, err := Take(tx, portions, d)
	if err == nil {
		taken.ActID = tx.ActID
		tx.Describe(Said(taken.Before), Said(taken.After), "%s", taken.Said)
	}
	return taken, err
}

// decidable reads portions that are unbilled, to decide on them.
func decidable(tx *app.Tx, portionIDs []int64) ([]*store.Portion, error) {
	rows, err := Chosen(tx, portionIDs)
	if err != nil {
		return nil, err
	}
	portions := make([]*store.Portion, len(rows))
	for i := range rows {
		if _, err := rows[i].Billing.After(core.Change); err != nil {
			return nil, app.AsConflict(err)
		}
		portions[i] = &rows[i].Portion
	}
	return portions, nil
}

// Preview says what a decision would do, and does nothing: it is computed over what is read,
// and not stored.
func Preview(ctx context.Context, a *app.App, actor app.Actor, portionIDs []int64, d Decision) (*Taken, error) {
	d.Reason = "tried"
	tx := app.DryRun(a.Read(ctx, actor), a, actor)
	portions, err := decidable(tx, portionIDs)
	if err != nil {
		return nil, err
	}
	taken, _, err := plan(tx, portions, d)
	return taken, err
}

// Chosen reads portions that the actor may decide on; all of them are there.
func Chosen(tx *app.Tx, ids []int64) ([]store.PortionRow, error) {
	rows, err := store.PortionsByID(tx.DB, ids)
	if err != nil {
		return nil, err
	}
	if len(rows) == 0 || len(rows) != len(ids) {
		return nil, app.Refuse(app.Conflict, "Some of this is not there any more: load the page again.")
	}
	seen := map[int64]bool{}
	for _, row := range rows {
		if row.Removed {
			return nil, app.Refuse(app.Conflict, "Some of this was changed since: load the page again.")
		}
		if seen[row.EngagementID] {
			continue
		}
		e, err := store.Get[store.Engagement](tx.DB, row.EngagementID)
		if err != nil {
			return nil, err
		}
		if !tx.Actor.Scope().Sees(e) {
			return nil, app.Missing(store.ErrNotFound, "entry")
		}
		seen[row.EngagementID] = true
	}
	return rows, nil
}

// Take takes a decision on portions that are unbilled, or reserved on a draft
// whose lines follow afterwards; it says what it did. Portions are changed in
// place.
func Take(tx *app.Tx, portions []*store.Portion, d Decision) (*Taken, error) {
	taken, steps, err := plan(tx, portions, d)
	if err != nil {
		return nil, err
	}
	for _, keep := range steps {
		if err := keep(); err != nil {
			return nil, err
		}
	}
	for _, p := range portions {
		if err := Concern(tx, p); err != nil {
			return nil, err
		}
		tx.LinkTo("engagements", p.EngagementID)
	}
	return taken, nil
}

// plan computes what a decision makes of portions, in place, and what it takes to store
// that.
func plan(tx *app.Tx, portions []*store.Portion, d Decision) (*Taken, []func() error, error) {
	taken := &Taken{Entries: len(portions), Before: []money.Amount{}, After: []money.Amount{}}
	if err := d.complete(); err != nil {
		return nil, nil, err
	}
	var err error
	if taken.Before, err = toBill(portions, tx.Today); err != nil {
		return nil, nil, err
	}
	act := taking{tx: tx, d: d}
	if err := act.on(portions); err != nil {
		return nil, nil, err
	}
	taken.Said = act.words(len(portions))
	taken.After, err = toBill(portions, tx.Today)
	return taken, act.steps, err
}

func toBill(portions []*store.Portion, today day.Day) (sums []money.Amount, err error) {
	sums = []money.Amount{}
	for _, p := range portions {
		amount := money.Amount{Minor: p.Agreed, Currency: p.Currency}
		if p.Billing == core.WrittenOff || p.Hold.Holds(p.HoldUntil, today) {
			amount.Minor = 0
		}
		if sums, err = money.AddByCurrency(sums, amount); err != nil {
			return nil, err
		}
	}
	return sums, nil
}

// Concern links an act to the entry or purchase of a portion.
func Concern(tx *app.Tx, p *store.Portion) error {
	if p.Source == "time" {
		tx.LinkTo(app.OfEntry, p.SourceID)
		return nil
	}
	expense, err := store.Get[store.Expense](tx.DB, p.SourceID)
	if err == nil {
		tx.LinkTo(app.OfPurchase, expense.PurchaseID)
	}
	return err
}

// taking is one decision while it is taken: what it makes of the portions is computed at
// once, what has to be stored is kept for afterwards.
type taking struct {
	tx       *app.Tx
	d        Decision
	up, down bool // of what was written
	steps    []func() error
}

func (t *taking) then(step func() error) { t.steps = append(t.steps, step) }

// thenSave saves a portion as it is then, with the decision that it is undone by.
func (t *taking) thenSave(p *store.Portion, before store.Portion, up int64, upMinutes int, words string) {
	t.then(func() error {
		if err := store.Save(t.tx.DB, p); err != nil {
			return err
		}
		return t.decided(before, nil, up, upMinutes, words)
	})
}

func (t *taking) on(portions []*store.Portion) error {
	if t.d.Kind == Write || t.d.Kind == DivideIt {
		return t.write(portions)
	}
	acts := map[string]func(*store.Portion) error{Hold: t.hold, Release: t.release, WriteOff: t.writeOff, NoCharge: t.noCharge,
		Move: t.move}
	act, known := acts[t.d.Kind]
	if !known {
		return app.RefuseField("kind", "%q can't be decided.", t.d.Kind)
	}
	for _, p := range portions {
		if err := act(p); err != nil {
			return err
		}
	}
	return nil
}

// decided keeps what a decision is undone with.
func (t *taking) decided(before store.Portion, rest *store.Portion, up int64, upMinutes int, words string) error {
	row := &store.Decision{ActID: t.tx.ActID, Kind: t.d.Kind, PortionID: before.ID, Said: words,
		Before: store.Decided{Hold: before.Hold, HoldUntil: before.HoldUntil,
			Treatment: before.Treatment, OwnRate: before.OwnRate, WithoutRate: before.WithoutRate, EngagementID: before.EngagementID,
			Up:        up,
			UpMinutes: upMinutes}}
	if rest != nil {
		row.RestID = &rest.ID
	}
	return store.Insert(t.tx.DB, row)
}

func (t *taking) hold(p *store.Portion) error {
	before, words := *p, "on hold"
	p.Hold, p.HoldUntil = core.UntilReleased, 0
	if !t.d.Until.IsZero() {
		if t.d.Until <= t.tx.Today {
			return app.RefuseField("until", "%s has come already: give a later day.", t.d.Until.Long())
		}
		p.Hold, p.HoldUntil, words = core.UntilDay, t.d.Until, "on hold until "+t.d.Until.Long()
	}
	t.thenSave(p, before, 0, 0, words)
	return nil
}

func (t *taking) release(p *store.Portion) error {
	before := *p
	p.Hold, p.HoldUntil = core.NoHold, 0
	t.thenSave(p, before, 0, 0, "released")
	return nil
}

func (t *taking) writeOff(p *store.Portion) (err error) {
	before := *p
	if p.Billing, err = p.Billing.After(core.WriteOff); err != nil {
		return app.AsConflict(err)
	}
	t.then(func() error {
		t.tx.Move("written_off", t.tx.Today, before, before.Bucket(), p.Bucket(), nil)
		return nil
	})
	t.thenSave(p, before, 0, 0, "written off, "+valueOf(p).String())
	return nil
}

func (t *taking) noCharge(p *store.Portion) error {
	if p.Treatment == core.NoCharge {
		return nil
	}
	before, given := *p, p.Agreed
	t.adjust(p, -given, 0, "no_charge")
	p.Treatment, p.OwnRate, p.WithoutRate = core.NoCharge, nil, false
	t.thenSave(p, before, -given, 0, "no charge in place of "+money.Amount{Minor: given, Currency: p.Currency}.String())
	return nil
}

// adjust changes a portion's agreed value and minutes beside what was recorded.
func (t *taking) adjust(p *store.Portion, by int64, minutes int, why string) {
	before := *p
	adjusted(p, by, minutes)
	t.then(func() error {
		moveAdjusted(t.tx, before, by, minutes, why)
		return nil
	})
}

// adjusted is a portion with another value and other minutes than were recorded.
func adjusted(p *store.Portion, by int64, minutes int) {
	p.Agreed, p.Adjusted = p.Agreed+by, p.Adjusted+by
	p.Minutes, p.AdjustedMinutes = p.Minutes+minutes, p.AdjustedMinutes+minutes
}

// moveAdjusted writes in the ledger what adjusting a portion, as it was, comes to.
func moveAdjusted(tx *app.Tx, p store.Portion, by int64, minutes int, why string) {
	moved := p
	moved.Standard, moved.Agreed, moved.Minutes = 0, by, minutes
	if by < 0 {
		moved.Agreed, moved.Minutes = -by, -minutes
		tx.Move(why, tx.Today, moved, p.Bucket(), core.InRecorded, nil)
	} else {
		tx.Move(why, tx.Today, moved, core.InRecorded, p.Bucket(), nil)
	}
}

func (t *taking) move(p *store.Portion) error {
	to, err := store.Get[store.Engagement](t.tx.DB, t.d.EngagementID)
	if err := app.Found(err, app.RefuseField("engagementId", "Choose the engagement to which this moves.")); err != nil {
		return err
	}
	if p.EngagementID == to.ID {
		return nil
	}
	before := *p
	from, err := store.Get[store.Engagement](t.tx.DB, p.EngagementID)
	if err != nil {
		return err
	}
	move, err := timekeeping.PlanMove(t.tx, p, to.ID)
	if err != nil {
		return err
	}
	move.Onto(p)
	t.then(func() error {
		if err := move.Store(t.tx); err != nil {
			return err
		}
		moved, err := store.Get[store.Portion](t.tx.DB, p.ID)
		if err != nil {
			return err
		}
		*p = *moved
		t.tx.LinkTo("engagements", from.ID)
		return t.decided(before, nil, 0, 0, "moved from "+from.Name)
	})
	return nil
}

func valueOf(p *store.Portion) money.Amount {
	return money.Amount{Minor: p.Agreed, Currency: p.Currency}
}

func entries(n int) string {
	if n == 1 {
		return "an entry"
	}
	return strconv.Itoa(n) + " entries"
}
