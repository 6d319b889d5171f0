package timekeeping

import (
	"context"
	"time"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/refusal"
	"dorvet/core/wip"
	"dorvet/core/wording"
	"dorvet/core/worktime"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// Timer is a timer of one's own: it runs, or waits.
type Timer struct {
	ID           int64         `json:"id"`
	Version      int64         `json:"version"`
	EngagementID int64         `json:"engagementId"`
	Engagement   string        `json:"engagement"`
	Client       string        `json:"client"`
	ServiceID    int64         `json:"serviceId"`
	Service      string        `json:"service"`
	PhaseID      int64         `json:"phaseId"`
	Treatment    wip.Treatment `json:"treatment" enum:"billable,out_of_scope,no_charge,not_billable"`
	Text         string        `json:"text"`
	EntryID      int64         `json:"entryId" doc:"the entry that it goes on with, or 0"`
	Running      bool          `json:"running"`
	Seconds      int64         `json:"seconds" doc:"counted up to now"`
	Value        *money.Amount `json:"value,omitempty" doc:"if it were stopped now; for those who may see it"`
}

// TypedTimer says what a timer is for.
type TypedTimer struct {
	EngagementID int64         `json:"engagementId" minimum:"1"`
	ServiceID    int64         `json:"serviceId" minimum:"1"`
	PhaseID      int64         `json:"phaseId,omitempty"`
	Treatment    wip.Treatment `json:"treatment" enum:"billable,out_of_scope,no_charge,not_billable"`
	Text         string        `json:"text" maxLength:"500"`
	EntryID      int64         `json:"entryId,omitempty" doc:"an old entry to go on with; the rest is then taken from it"`
}

// entry is the timer as an entry of a day.
func (t TypedTimer) entry(personID int64, on day.Day, minutes int) TypedEntry {
	return TypedEntry{PersonID: personID, EngagementID: t.EngagementID, ServiceID: t.ServiceID, PhaseID: t.PhaseID, Day: on,
		Worked: worktime.Clock(minutes), Treatment: t.Treatment, Text: t.Text}
}

func typedTimer(t *store.Timer) TypedTimer {
	typed := TypedTimer{EngagementID: t.EngagementID, ServiceID: t.ServiceID, Treatment: t.Treatment, Text: t.Text}
	if t.PhaseID != nil {
		typed.PhaseID = *t.PhaseID
	}
	return typed
}

// Timers are one's own, the one that runs first.
func Timers(ctx context.Context, a *app.App, actor app.Actor) ([]Timer, error) {
	tx := a.Read(ctx, actor)
	rows, err := store.TimersOf(tx, actor.PersonID)
	timers := make([]Timer, 0, len(rows))
	if err != nil {
		return nil, err
	}
	for i := range rows {
		shown, err := timerShown(tx, actor, &rows[i], a.Clock)
		if err != nil {
			return nil, err
		}
		timers = append(timers, *shown)
	}
	return timers, nil
}

func timerShown(tx *store.DB, actor app.Actor, r *store.TimerRow, clock app.Clock) (*Timer, error) {
	t := &Timer{ID: r.ID, Version: r.Version, EngagementID: r.EngagementID, Engagement: r.Engagement, Client: r.Client,
		ServiceID: r.ServiceID, Service: r.Service,
		Treatment: r.Treatment, Text: r.Text, Running: r.RunningSince != nil, Seconds: worktime.Seconds(r.RunsUntil(clock.Now()))}
	if r.PhaseID != nil {
		t.PhaseID = *r.PhaseID
	}
	if r.EntryID != nil {
		t.EntryID = *r.EntryID
	}
	minutes := min(worktime.Started(t.Seconds), worktime.MinutesPerDay)
	if actor.SeesValues() && minutes > 0 {
		worth, err := valued(tx, actor, typedTimer(&r.Timer).entry(r.PersonID, clock.Today(), minutes), nil)
		switch {
		case err == nil:
			t.Value = &worth.Valued.Agreed
		case !refusal.Is(err): // what can't be recorded has no value yet
			return nil, err
		}
	}
	return t, nil
}

// StartTimer starts a timer of one's own; the one that ran waits from now on.
func StartTimer(ctx context.Context, a *app.App, r app.Request, in TypedTimer) (*Timer, error) {
	return app.DoTogether(ctx, a, r, "start timer", in, func(tx *app.Tx) (*Timer, error) {
		timer := &store.Timer{PersonID: tx.Actor.PersonID, RunningSince: &tx.Now}
		if in.EntryID != 0 {
			entry, err := onOldEntry(tx, in.EntryID)
			if err != nil {
				return nil, err
			}
			in = TypedTimer{EngagementID: entry.EngagementID, ServiceID: entry.ServiceID, Treatment: entry.Treatment, Text: entry.Text,
				EntryID: entry.ID}
			if entry.PhaseID != nil {
				in.PhaseID = *entry.PhaseID
			}
			timer.EntryID = &in.EntryID
		}
		if err := about(tx, timer, in); err != nil {
			return nil, err
		}
		if err := pauseRunning(tx); err != nil {
			return nil, err
		}
		if err := store.Insert(tx.DB, timer); err != nil {
			return nil, err
		}
		return told(tx, a, timer.ID, "Started a timer")
	})
}

// onOldEntry is an entry of one's own that can go on: it is not billed.
func onOldEntry(tx *app.Tx, id int64) (*store.EntryRow, error) {
	entry, err := store.EntryByID(tx.DB, id)
	if err := app.Unless(err, app.Missing(store.ErrNotFound, "time entry of yours"),
		func() bool { return entry.PersonID == tx.Actor.PersonID }); err != nil {
		return nil, err
	}
	return entry, fixed(tx.DB, tx.Actor, entry)
}

// about sets what a timer is for, if time can be recorded on it.
func about(tx *app.Tx, t *store.Timer, in TypedTimer) error {
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return err
	}
	e, err := recordable(tx.DB, firm, tx.Actor, in.entry(t.PersonID, tx.Today, 0), nil)
	if err != nil {
		return err
	}
	if !e.Billable && in.Treatment.Charged() {
		return app.RefuseField("treatment", "%s is not billable: choose not billable or no charge.", e.Name)
	}
	t.EngagementID, t.ServiceID, t.Treatment, t.Text, t.PhaseID = in.EngagementID, in.ServiceID, in.Treatment, in.Text, nil
	if in.PhaseID != 0 {
		t.PhaseID = &in.PhaseID
	}
	return nil
}

// pauseRunning lets the timer wait that runs, if one does.
func pauseRunning(tx *app.Tx) error {
	timers, err := store.TimersOf(tx.DB, tx.Actor.PersonID)
	if err != nil {
		return err
	}
	for i := range timers {
		if err := pause(tx, &timers[i]); err != nil {
			return err
		}
	}
	return nil
}

// pause ends a timer's present run, if it has one.
func pause(tx *app.Tx, t *store.TimerRow) error {
	if t.RunningSince == nil {
		return nil
	}
	run := store.TimerRun{TimerID: t.ID, BeganAt: *t.RunningSince, EndedAt: tx.Now}
	if err := store.Insert(tx.DB, &run); err != nil {
		return err
	}
	t.Runs, t.RunningSince = t.RunsUntil(tx.Now), nil
	return store.Save(tx.DB, &t.Timer)
}

// PauseTimer lets a timer wait.
func PauseTimer(ctx context.Context, a *app.App, r app.Request, id int64) (*Timer, error) {
	return onTimer(ctx, a, r, "pause timer", id, nil, func(tx *app.Tx, t *store.TimerRow) error { return pause(tx, t) })
}

// ResumeTimer lets a timer run again; the one that ran waits from now on.
func ResumeTimer(ctx context.Context, a *app.App, r app.Request, id int64) (*Timer, error) {
	return onTimer(ctx, a, r, "resume timer", id, nil, func(tx *app.Tx, t *store.TimerRow) error {
		if t.RunningSince != nil {
			return nil
		}
		if err := pauseRunning(tx); err != nil {
			return err
		}
		t.RunningSince = &tx.Now
		return store.Save(tx.DB, &t.Timer)
	})
}

// ChangeTimer says anew what a timer is for; it counts on.
func ChangeTimer(ctx context.Context, a *app.App, r app.Request, id int64, in TypedTimer) (*Timer, error) {
	return onTimer(ctx, a, r, "change timer", id, in, func(tx *app.Tx, t *store.TimerRow) error {
		if err := about(tx, &t.Timer, in); err != nil {
			return err
		}
		return store.Save(tx.DB, &t.Timer)
	})
}

// DiscardTimer throws a timer away with what it has counted.
func DiscardTimer(ctx context.Context, a *app.App, r app.Request, id int64) error {
	_, err := app.DoTogether(ctx, a, r, "discard timer", id, func(tx *app.Tx) (struct{}, error) {
		t, err := ownTimer(tx, id)
		if err != nil {
			return struct{}{}, err
		}
		minutes := worktime.Started(worktime.Seconds(t.RunsUntil(tx.Now)))
		tx.Describe(worktime.Said(minutes), nil, "Discarded a timer of %s on %s", worktime.Said(minutes), t.Engagement)
		return struct{}{}, end(tx, t)
	})
	return err
}

// end stops a timer for good.
func end(tx *app.Tx, t *store.TimerRow) error {
	t.Stopped = true
	if err := pause(tx, t); err != nil {
		return err
	}
	return store.Save(tx.DB, &t.Timer)
}

// StopTimer makes entries of what a timer has counted, one for each day on which
// it ran. It extends the entry that it goes on with, or one of the same day,
// work and text, if that still takes changes.
func StopTimer(ctx context.Context, a *app.App, r app.Request, id int64) ([]Entry, error) {
	return app.DoTogether(ctx, a, r, "stop timer", id, func(tx *app.Tx) ([]Entry, error) {
		t, err := ownTimer(tx, id)
		if err != nil {
			return nil, err
		}
		days, err := countedDays(tx, t)
		if err != nil {
			return nil, err
		}
		entries := []Entry{}
		for _, d := range days {
			entry, err := take(tx, t, d)
			if err != nil {
				return nil, err
			}
			if err := setup.AlertBudgets(tx, entry.EngagementID, entry.Day); err != nil {
				return nil, err
			}
			entries = append(entries, *entry.conceal(tx.Actor))
		}
		minutes := worktime.Started(worktime.Seconds(t.RunsUntil(tx.Now)))
		tx.Describe(nil, nil, "Stopped a timer of %s", worktime.Said(minutes))
		return entries, end(tx, t)
	})
}

// countedDays are the minutes of a timer by business day: the day of the clock
// now is today, and those before it are counted back from it.
func countedDays(tx *app.Tx, t *store.TimerRow) ([]worktime.OfDay, error) {
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return nil, err
	}
	zone, err := time.LoadLocation(firm.TimeZone)
	if err != nil {
		return nil, err
	}
	pinned := tx.Today - day.In(tx.Now, zone)
	days := []worktime.OfDay{}
	for _, d := range worktime.ByDay(t.RunsUntil(tx.Now), zone) {
		d.Day += pinned
		for ; d.Minutes > worktime.MinutesPerDay; d.Minutes -= worktime.MinutesPerDay { // a day of 25 hours
			days = append(days, worktime.OfDay{Day: d.Day, Minutes: worktime.MinutesPerDay})
		}
		days = append(days, d)
	}
	return days, nil
}

// take makes or extends the entry of a day.
func take(tx *app.Tx, t *store.TimerRow, d worktime.OfDay) (*Entry, error) {
	in := typedTimer(&t.Timer).entry(t.PersonID, d.Day, d.Minutes)
	old, err := extends(tx, t, in)
	if err != nil {
		return nil, err
	}
	if old == nil || old.WorkedMinutes+d.Minutes > worktime.MinutesPerDay {
		return record(tx, in)
	}
	in, err = toInput(tx.DB, old)
	if err != nil {
		return nil, err
	}
	in.Started, in.Ended, in.Worked = "", "", worktime.Clock(old.WorkedMinutes+d.Minutes)
	return change(tx, old, in)
}

// extends finds the entry to which a day's time is added, or nil.
func extends(tx *app.Tx, t *store.TimerRow, in TypedEntry) (*store.EntryRow, error) {
	entries, err := store.EntriesOf(tx.DB, t.PersonID, in.Day, in.Day)
	if err != nil {
		return nil, err
	}
	for i := range entries {
		e := &entries[i]
		same := e.EngagementID == t.EngagementID && e.ServiceID == t.ServiceID && e.Treatment == t.Treatment && e.Text == t.Text &&
			e.Flat == nil &&
			(e.PhaseID == nil) == (t.PhaseID == nil) && (e.PhaseID == nil || *e.PhaseID == *t.PhaseID)
		if (t.EntryID != nil && e.ID == *t.EntryID || t.EntryID == nil && same) && fixed(tx.DB, tx.Actor, e) == nil {
			return e, nil
		}
	}
	return nil, nil
}

// ownTimer reads a timer of the actor's own.
func ownTimer(tx *app.Tx, id int64) (*store.TimerRow, error) {
	t, err := store.TimerByID(tx.DB, id)
	if err := app.Unless(err, app.Missing(store.ErrNotFound, "timer of yours"),
		func() bool { return t.PersonID == tx.Actor.PersonID }); err != nil {
		return nil, err
	}
	return t, nil
}

func onTimer(ctx context.Context, a *app.App, r app.Request, kind string, id int64, input any,
	act func(*app.Tx, *store.TimerRow) error) (*Timer, error) {
	return app.DoTogether(ctx, a, r, kind, []any{id, input}, func(tx *app.Tx) (*Timer, error) {
		t, err := ownTimer(tx, id)
		if err != nil {
			return nil, err
		}
		if err := act(tx, t); err != nil {
			return nil, err
		}
		return told(tx, a, id, wording.Capital(kind))
	})
}

// told gives a timer as it is after an act, and writes the act's sentence.
func told(tx *app.Tx, a *app.App, id int64, words string) (*Timer, error) {
	row, err := store.TimerByID(tx.DB, id)
	if err != nil {
		return nil, err
	}
	tx.Describe(nil, nil, "%s: %s", words, row.Engagement)
	return timerShown(tx.DB, tx.Actor, row, a.Clock)
}
