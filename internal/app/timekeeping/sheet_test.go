package timekeeping_test

import (
	"testing"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

var monday = day.Of(2026, 11, 23)

// state is where the staff's week before the last stands.
func state(t *testing.T, a *app.App) string {
	t.Helper()
	week, err := timekeeping.WeekOf(t.Context(), a, apptest.Staff.Actor, 2, monday)
	if err != nil {
		t.Fatal(err)
	}
	return week.State
}

func TestAWeekIsSubmittedTakenBackApprovedAndSentBack(t *testing.T) {
	a := apptest.Firm(t)
	e := apptest.Record(t, a, apptest.Survey, "2026-11-24", "7:00")
	must(t, timekeeping.Submit(t.Context(), a, apptest.Staff, 2, monday+3))
	refusal(t, timekeeping.Submit(t.Context(), a, apptest.Staff, 2, monday), "", "submitted already")

	_, err := timekeeping.Record(t.Context(), a, apptest.Staff, apptest.Typed(apptest.Survey, "2026-11-29", "1:00"))
	refusal(t, err, "", "Week 48 is submitted: take it back")
	now, err := timekeeping.One(t.Context(), a, apptest.Staff.Actor, e.ID)
	must(t, err)
	refusal(t, timekeeping.Remove(t.Context(), a, apptest.Staff, e.ID, now.Version), "", "is submitted")
	apptest.Record(t, a, apptest.Survey, "2026-11-30", "1:00") // the week after is open

	must(t, timekeeping.TakeBack(t.Context(), a, apptest.Staff, 2, monday))
	apptest.Record(t, a, apptest.Survey, "2026-11-29", "1:00")
	must(t, timekeeping.Submit(t.Context(), a, apptest.Staff, 2, monday))
	must(t, timekeeping.Approve(t.Context(), a, apptest.Admin, 2, monday))
	if got := state(t, a); got != "approved" {
		t.Errorf("the week is %s", got)
	}
	refusal(t, timekeeping.TakeBack(t.Context(), a, apptest.Staff, 2, monday), "", "only a submitted one")
	_, err = timekeeping.Record(t.Context(), a, apptest.Staff, apptest.Typed(apptest.Survey, "2026-11-29", "1:00"))
	refusal(t, err, "", "is approved")

	refusal(t, timekeeping.SendBack(t.Context(), a, apptest.Admin, 2, monday, " "), "reason", "Say what is to be changed")
	must(t, timekeeping.SendBack(t.Context(), a, apptest.Admin, 2, monday, "Friday is missing."))
	week, err := timekeeping.WeekOf(t.Context(), a, apptest.Staff.Actor, 2, monday)
	if err != nil || week.State != "open" || week.SentBack != "Friday is missing." {
		t.Errorf("%+v, %v", week, err)
	}
	notices, err := store.NoticesOf(a.Store.Read(t.Context(), store.Everything), 2)
	if err != nil || len(notices) != 1 || notices[0].Sentence != "Week 48 was sent back to you: Friday is missing." {
		t.Errorf("%+v, %v", notices, err)
	}
	history, err := timekeeping.WeekHistory(t.Context(), a, apptest.Staff.Actor, 2, monday)
	if err != nil || len(history) != 5 || history[0].Reason != "Friday is missing." {
		t.Errorf("%+v, %v", history, err)
	}
	apptest.Whole(t, a)
}

func TestALeadApprovesWhatIsOnTheirEngagements(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-24", "7:00") // Lea leads it
	apptest.Record(t, a, apptest.Study, "2026-11-25", "3:00")  // Ada does
	must(t, timekeeping.Submit(t.Context(), a, apptest.Staff, 2, monday))
	sheets, err := timekeeping.SheetsOf(t.Context(), a, apptest.Lead.Actor, monday)
	if err != nil || len(sheets.People) != 2 || !sheets.People[1].Partial || sheets.People[1].ToApprove != 1 ||
		sheets.People[1].Minutes != 420 || len(sheets.Waiting) != 1 {
		t.Fatalf("%+v, %v", sheets, err)
	}
	must(t, timekeeping.Approve(t.Context(), a, apptest.Lead, 2, monday))
	if got := state(t, a); got != "submitted" {
		t.Errorf("with time of another's engagement not approved the week is %s", got)
	}
	must(t, timekeeping.Approve(t.Context(), a, apptest.Admin, 2, monday))
	if got := state(t, a); got != "approved" {
		t.Errorf("the week is %s", got)
	}
	other := apptest.Lead
	other.Actor.PersonID = 4
	refusal(t, timekeeping.SendBack(t.Context(), a, other, 2, monday, "no"), "", "no time on your engagements")
	apptest.Whole(t, a)
}

// The week has 40 hours; on Tuesday, the Monday is over.
func TestMissingTimeCountsTheDaysGoneBy(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-30", "5:00")
	this, err := timekeeping.SheetsOf(t.Context(), a, apptest.Admin.Actor, apptest.Today)
	if err != nil || this.Missing != 4 || this.People[3].Missing != 180 { // in the order of names: Sam is last
		t.Fatalf("%+v, %v", this, err)
	}
	before, err := timekeeping.SheetsOf(t.Context(), a, apptest.Admin.Actor, monday)
	if err != nil || before.People[3].Missing != 2400 {
		t.Errorf("%+v, %v", before, err)
	}
	office := apptest.Add(t, a, "offices", "name", "Elsewhere")
	apptest.Add(t, a, "holidays", "day", "2026-11-30", "name", "A holiday there", "office", "Elsewhere")
	apptest.Set(t, a, "people", 2, "office", "Elsewhere")
	if this, err = timekeeping.SheetsOf(t.Context(), a, apptest.Admin.Actor, apptest.Today); err != nil || this.People[3].Missing != 0 ||
		this.People[3].Capacity != 1920 || office == 0 {
		t.Errorf("on the holiday of an office nothing is missing: %+v, %v", this.People[3], err)
	}
	own, err := timekeeping.SheetsOf(t.Context(), a, apptest.Staff.Actor, monday)
	if err != nil || len(own.People) != 1 {
		t.Errorf("staff see %+v, %v", own, err)
	}
}

func TestWhoHasTimeMissingIsReminded(t *testing.T) {
	a := apptest.Firm(t)
	caught := apptest.Mail(a)
	must(t, timekeeping.Remind(t.Context(), a, apptest.Admin, 2, monday))
	must(t, correspondence.Deliver(t.Context(), a))
	if week := caught.Find(t, "sam@firm.example", `40:00\x{202f}h are missing in week 48.*week=(\S+)`); week != "2026-11-23" {
		t.Errorf("the mail leads to %s", week)
	}
	apptest.Record(t, a, apptest.Survey, "2026-11-30", "8:00")
	refusal(t, timekeeping.Remind(t.Context(), a, apptest.Admin, 2, apptest.Today), "", "Nothing is missing in week 49")
}

func must(t *testing.T, err error) {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
}
