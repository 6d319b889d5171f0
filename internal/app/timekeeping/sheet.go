package timekeeping

import (
	"context"
	"slices"
	"strings"

	"dorvet/core/day"
	"dorvet/core/wording"
	"dorvet/core/worktime"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/store"
)

// The states of a week sheet, and of the entries on it.
const (
	open      = "open"
	submitted = "submitted"
	approved  = "approved"
)

// approvalOn is how a new entry of a person's week is approved. A week that was
// submitted takes no change, but from who approves it.
func approvalOn(tx *store.DB, actor app.Actor, personID int64, on day.Day, engagementID int64) (string, error) {
	sheet, err := store.SheetOf(tx, personID, on.Monday())
	if err != nil || sheet.State == open {
		return open, err
	}
	if approves(tx, actor, engagementID) {
		return sheet.State, nil
	}
	_, week := on.Week()
	if sheet.State == submitted {
		return "", app.Refuse(app.Conflict, "Week %d is submitted: take it back, then change it.", week)
	}
	return "", app.Refuse(app.Conflict, "Week %d is approved and takes no change: ask who approved it to send it back.", week)
}

// approves reports whether somebody approves time on an engagement: its lead, or
// an administrator.
func approves(tx *store.DB, actor app.Actor, engagementID int64) bool {
	return actor.Role == app.Administrator || actor.Role == app.Lead && seesAsLead(tx, actor, engagementID) == nil
}

// Submit hands a person's week in for approval; it waits on the desk of those who
// approve it.
func Submit(ctx context.Context, a *app.App, r app.Request, personID int64, on day.Day) error {
	return onSheet(ctx, a, r, "submit week", personID, on, "", func(tx *app.Tx, sheet *store.WeekSheet, person *store.Person) error {
		if err := mayRecordFor(tx.Actor, personID); err != nil {
			return err
		}
		if sheet.State != open {
			return app.Refuse(app.Conflict, "This week is %s already.", sheet.State)
		}
		sheet.State, sheet.SentBack = submitted, ""
		tx.Describe(nil, nil, "Submitted %s of %s", weekWords(on), person.Name)
		return store.SetApproval(tx.AnyLead(), personID, on.Monday(), []string{open}, submitted)
	})
}

// TakeBack opens a week again that was submitted and not approved yet.
func TakeBack(ctx context.Context, a *app.App, r app.Request, personID int64, on day.Day) error {
	return onSheet(ctx, a, r, "take week back", personID, on, "", func(tx *app.Tx, sheet *store.WeekSheet, person *store.Person) error {
		if err := mayRecordFor(tx.Actor, personID); err != nil {
			return err
		}
		if sheet.State != submitted {
			return app.Refuse(app.Conflict, "This week is %s: only a submitted one is taken back.", sheet.State)
		}
		sheet.State = open
		tx.Describe(nil, nil, "Took back %s of %s", weekWords(on), person.Name)
		return store.SetApproval(tx.AnyLead(), personID, on.Monday(), []string{submitted, approved}, open)
	})
}

// Approve approves a submitted week: an administrator all of it, a lead the time
// on engagements that they lead. It is approved when all of its time is.
func Approve(ctx context.Context, a *app.App, r app.Request, personID int64, on day.Day) error {
	return onSheet(ctx, a, r, "approve week", personID, on, "", func(tx *app.Tx, sheet *store.WeekSheet, person *store.Person) error {
		if sheet.State != submitted {
			return app.Refuse(app.Conflict, "This week is %s: only a submitted one is approved.", sheet.State)
		}
		if err := leadsIn(tx.DB, personID, on); err != nil {
			return err
		}
		if err := store.SetApproval(tx.DB, personID, on.Monday(), []string{submitted}, approved); err != nil {
			return err
		}
		left, err := store.Unapproved(tx.DB, personID, on.Monday())
		if err != nil {
			return err
		}
		tx.Describe(nil, nil, "Approved %s of %s", weekWords(on), person.Name)
		if left > 0 {
			tx.Describe(nil, nil, "Approved what is yours of %s of %s", weekWords(on), person.Name)
			return nil
		}
		sheet.State = approved
		return nil
	})
}

// SendBack opens a submitted or approved week again, with the reason, which its
// person is told.
func SendBack(ctx context.Context, a *app.App, r app.Request, personID int64, on day.Day, reason string) error {
	if strings.TrimSpace(reason) == "" {
		return app.RefuseField("reason", "Say what is to be changed, so that it can be.")
	}
	r.Reason = reason
	return onSheet(ctx, a, r, "send week back", personID, on, reason, func(tx *app.Tx, sheet *store.WeekSheet, person *store.Person) error {
		if sheet.State == open {
			return app.Refuse(app.Conflict, "This week was not submitted: its person can change it now.")
		}
		if err := leadsIn(tx.DB, personID, on); err != nil {
			return err
		}
		sheet.State, sheet.SentBack = open, reason
		tx.Describe(nil, nil, "Sent back %s of %s", weekWords(on), person.Name)
		tx.Notify(personID, nil, "%s was sent back to you: %s", wording.Capital(weekWords(on)), reason)
		return store.SetApproval(tx.AnyLead(), personID, on.Monday(), []string{submitted, approved}, open)
	})
}

// Remind tells a person which time is missing in a week, here and by mail.
func Remind(ctx context.Context, a *app.App, r app.Request, personID int64, on day.Day) error {
	return onSheet(ctx, a, r, "remind of time", personID, on, "", func(tx *app.Tx, _ *store.WeekSheet, person *store.Person) error {
		heads, err := SheetsOf(ctx, a, tx.Actor, on)
		if err != nil {
			return err
		}
		at := slices.IndexFunc(heads.People, func(p PersonWeek) bool { return p.PersonID == personID })
		if at < 0 || heads.People[at].Missing == 0 {
			return app.Refuse(app.Conflict, "Nothing is missing in %s.", weekWords(on))
		}
		missing := worktime.Said(heads.People[at].Missing)
		tx.Describe(nil, nil, "Reminded %s of %s missing in %s", person.Name, missing, weekWords(on))
		tx.Notify(personID, nil, "%s are missing in %s: please record them.", missing, weekWords(on))
		if a.Mail == nil || person.Mail == "" {
			return nil
		}
		return correspondence.Queue(tx, store.Mail{ToName: person.Name, ToMail: person.Mail, Subject: "Time of " + weekWords(on),
			Body: missing + " are missing in " + weekWords(on) + ". Please record them: " + a.Address + "/time?week=" + on.String()})
	})
}

// onSheet runs an act on the sheet of a person's week.
func onSheet(ctx context.Context, a *app.App, r app.Request, kind string, personID int64, on day.Day, input string,
	act func(*app.Tx, *store.WeekSheet, *store.Person) error) error {
	_, err := app.Do(ctx, a, r, kind, []any{personID, on, input}, func(tx *app.Tx) (struct{}, error) {
		person, err := store.Get[store.Person](tx.DB, personID)
		if err != nil {
			return struct{}{}, app.Missing(err, "person")
		}
		sheet, err := store.SheetOf(tx.DB, personID, on.Monday())
		if err != nil {
			return struct{}{}, err
		}
		before := *sheet
		if err := act(tx, sheet, person); err != nil {
			return struct{}{}, err
		}
		tx.LinkTo(app.OfWeek, weekNumber(personID, on))
		if *sheet == before { // such as of who approved a part of it
			return struct{}{}, nil
		}
		if sheet.ID == 0 {
			return struct{}{}, store.Insert(tx.DB, sheet)
		}
		return struct{}{}, store.Save(tx.DB, sheet)
	})
	return err
}

// weekNumber is one number for a person's week, under which its history is kept.
func weekNumber(personID int64, on day.Day) int64 { return personID*1_000_000 + int64(on.Monday()) }

// WeekHistory is what was done to a person's week as a whole.
func WeekHistory(ctx context.Context, a *app.App, actor app.Actor, personID int64, on day.Day) ([]app.HistoryRow, error) {
	tx := a.Read(ctx, actor)
	if _, err := store.Get[store.Person](tx, personID); err != nil {
		return nil, app.Missing(err, "person")
	}
	if err := seesWeek(tx, actor, personID, on); err != nil {
		return nil, err
	}
	return a.History(ctx, actor, app.OfWeek, weekNumber(personID, on))
}

// seesWeek refuses somebody else's week to who does not see others' time, and leads no
// engagement on which it was worked.
func seesWeek(tx *store.DB, actor app.Actor, personID int64, on day.Day) error {
	if actor.SeesPerson(personID) {
		return nil
	}
	if actor.Role != app.Lead {
		return app.Refuse(app.Forbidden, "This is somebody else's week. You see your own.")
	}
	return leadsIn(tx, personID, on)
}

// leadsIn refuses a week without time on the engagements that are led.
func leadsIn(tx *store.DB, personID int64, on day.Day) error {
	mine := tx.Scope().Leads
	if mine == nil {
		return nil
	}
	leads, err := store.LeadsOn(tx, personID, on.Monday())
	if err == nil && !slices.ContainsFunc(leads, func(lead int64) bool { return slices.Contains(mine, lead) }) {
		err = app.Refuse(app.Forbidden, "There is no time on your engagements in this week.")
	}
	return err
}

// weekWords is a week in words: "week 48".
func weekWords(on day.Day) string {
	_, number := on.Monday().Week()
	return "week " + itoa(number)
}
