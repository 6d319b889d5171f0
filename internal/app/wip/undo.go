package wip

import (
	"slices"

	core "dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/store"
)

// Undo takes back what an act decided, and gives the portions that it was decided
// on: all of it, or nothing. Lines of drafts on which they are follow afterwards.
func Undo(tx *app.Tx, actID int64) ([]store.Portion, error) {
	decisions, err := store.DecisionsBy(tx.DB, actID)
	if err != nil {
		return nil, err
	}
	if len(decisions) == 0 {
		return nil, app.Refuse(app.Conflict, "This was taken back already.")
	}
	concerned := []store.Portion{}
	for i := range decisions {
		p, err := undo(tx, &decisions[i])
		if err != nil {
			return nil, err
		}
		concerned = append(concerned, *p)
	}
	if slices.ContainsFunc(decisions, func(d store.Decision) bool { return d.Kind == Move }) {
		if err := timekeeping.GiveBackMoved(tx, actID); err != nil {
			return nil, err
		}
	}
	tx.Describe(nil, nil, "Took back: %s", map[bool]string{true: decisions[0].Said, false: counted(len(decisions))}[len(decisions) == 1])
	return concerned, nil
}

func counted(n int) string { return "decisions on " + entries(n) }

func undo(tx *app.Tx, d *store.Decision) (*store.Portion, error) {
	p, err := undoable(tx, d)
	if err != nil {
		return nil, err
	}
	if err := Concern(tx, p); err != nil {
		return nil, err
	}
	tx.LinkTo("engagements", p.EngagementID)
	if d.RestID != nil {
		err = takeBackRest(tx, p, *d.RestID)
	}
	if err != nil {
		return nil, err
	}
	before := d.Before
	if before.Up != 0 || before.UpMinutes != 0 {
		if p.Agreed-before.Up < 0 {
			return nil, app.Refuse(app.Conflict, "A cap has cut this entry since: take it off its draft first.")
		}
		moveAdjusted(tx, *p, -before.Up, -before.UpMinutes, "taken_back")
		adjusted(p, -before.Up, -before.UpMinutes)
	}
	switch d.Kind {
	case Hold, Release:
		p.Hold, p.HoldUntil = before.Hold, before.HoldUntil
	case WriteOff:
		from := p.Bucket()
		if p.Billing, err = p.Billing.After(core.TakeBack); err != nil {
			return nil, app.AsConflict(err)
		}
		tx.Move("taken_back", tx.Today, *p, from, p.Bucket(), nil)
	case Move:
		if err := moveBack(tx, p, d); err != nil {
			return nil, err
		}
	default:
		p.Treatment, p.OwnRate, p.WithoutRate = before.Treatment, before.OwnRate, before.WithoutRate
	}
	if d.Kind != Move {
		if err := store.Save(tx.DB, p); err != nil {
			return nil, err
		}
	}
	if err := store.Undo(tx.DB, d.ID); err != nil {
		return nil, err
	}
	if p.Billing == core.Unbilled {
		err = Join(tx, p)
	}
	return p, err
}

// undoable is the portion of a decision that can still be taken back.
func undoable(tx *app.Tx, d *store.Decision) (*store.Portion, error) {
	p, err := store.Get[store.Portion](tx.DB, d.PortionID)
	if err != nil {
		return nil, err
	}
	e, err := store.Get[store.Engagement](tx.DB, p.EngagementID)
	if err != nil {
		return nil, err
	}
	later, err := store.DecidedLater(tx.DB, d)
	switch {
	case err != nil:
		return nil, err
	case !tx.Actor.Scope().Sees(e):
		return nil, app.Missing(store.ErrNotFound, "decision")
	case p.Removed:
		return nil, app.Refuse(app.Conflict, "This entry was changed since: there is nothing to take back.")
	case p.Billing == core.Billed:
		return nil, app.Refuse(app.Conflict, "This entry is billed: reopen its invoice first, then take this back.")
	case later:
		return nil, app.Refuse(app.Conflict, "Something was decided on this entry since: take that back first.")
	case p.Billing == core.Reserved && (d.Kind == Hold || d.Kind == Move):
		return nil, app.Refuse(app.Conflict, "This entry is on a draft: take it out of the draft first.")
	}
	return p, nil
}

// takeBackRest puts the part that came off a portion back into it.
func takeBackRest(tx *app.Tx, p *store.Portion, restID int64) error {
	rest, err := store.Get[store.Portion](tx.DB, restID)
	if err != nil {
		return err
	}
	decided, err := store.HasDecision(tx.DB, rest.ID)
	if err != nil {
		return err
	}
	// It came off with the hold of the portion, which is no obstacle: another hold is.
	held := rest.Hold != p.Hold || rest.HoldUntil != p.HoldUntil
	if rest.Removed || decided || held || rest.EngagementID != p.EngagementID || rest.Billing != core.Unbilled && !rest.WrittenDown {
		return app.Refuse(app.Conflict, "The part that came off was billed, held or changed since: take that back first.")
	}
	if rest.WrittenDown {
		from := rest.Bucket()
		if rest.Billing, err = rest.Billing.After(core.TakeBack); err != nil {
			return app.AsConflict(err)
		}
		rest.WrittenDown = false
		tx.Move("taken_back", tx.Today, *rest, from, rest.Bucket(), nil)
	}
	return reunite(tx, p, rest)
}

// moveBack moves an expense back; time is given back by the act as a whole.
func moveBack(tx *app.Tx, p *store.Portion, d *store.Decision) error {
	if p.Source == "time" {
		return nil
	}
	move, err := timekeeping.PlanMove(tx, p, d.Before.EngagementID)
	if err != nil {
		return err
	}
	if err := move.Store(tx); err != nil {
		return err
	}
	back, err := store.Get[store.Portion](tx.DB, p.ID)
	if err == nil {
		*p = *back
	}
	return err
}
