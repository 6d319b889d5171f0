package timekeeping_test

import (
	"testing"
	"time"

	"dorvet/core/day"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// wall sets both clocks to an instant of the real calendar, in UTC.
func wall(t *testing.T, a *app.App, text string) {
	t.Helper()
	at, err := time.Parse("2006-01-02 15:04:05", text)
	must(t, err)
	a.Clock = app.PinnedClock{Date: day.In(at, time.UTC), At: at}
}

func start(t *testing.T, a *app.App, text string) *timekeeping.Timer {
	t.Helper()
	timer, err := timekeeping.StartTimer(t.Context(), a, apptest.Staff,
		timekeeping.TypedTimer{EngagementID: apptest.Survey, ServiceID: 1, Treatment: wip.Billable, Text: text})
	must(t, err)
	return timer
}

func timers(t *testing.T, a *app.App) []timekeeping.Timer {
	t.Helper()
	list, err := timekeeping.Timers(t.Context(), a, apptest.Staff.Actor)
	must(t, err)
	return list
}

func TestOneTimerRunsAndTheOthersWait(t *testing.T) {
	a := apptest.Firm(t)
	wall(t, a, "2026-12-01 09:00:00")
	first := start(t, a, "levels")
	wall(t, a, "2026-12-01 09:10:30")
	second := start(t, a, "mosaic")
	wall(t, a, "2026-12-01 09:16:31")
	list := timers(t, a)
	if len(list) != 2 || list[0].ID != second.ID || !list[0].Running || list[0].Seconds != 361 || list[1].Running ||
		list[1].Seconds != 630 {
		t.Fatalf("%+v", list)
	}
	// 6 min 1 s are 7 minutes, billed as 12: 0.2 h × 100.00.
	if list[0].Value.String() != "20.00" {
		t.Errorf("while it runs it is worth %s", list[0].Value)
	}
	if _, err := timekeeping.ResumeTimer(t.Context(), a, apptest.Staff, first.ID); err != nil {
		t.Fatal(err)
	}
	wall(t, a, "2026-12-01 09:20:01")
	entries, err := timekeeping.StopTimer(t.Context(), a, apptest.Staff, first.ID)
	// 630 + 210 s are 14 minutes.
	if err != nil || len(entries) != 1 || entries[0].Minutes != 14 || entries[0].Text != "levels" || entries[0].Day != apptest.Today {
		t.Errorf("%+v, %v", entries, err)
	}
	if list = timers(t, a); len(list) != 1 || list[0].Running || list[0].Seconds != 361 {
		t.Errorf("%+v", list)
	}
	if _, err := timekeeping.PauseTimer(t.Context(), a, apptest.Admin, second.ID); err == nil {
		t.Error("somebody else's timer was paused")
	}
	apptest.Whole(t, a)
}

func TestATimerSurvivesARestart(t *testing.T) {
	folder := t.TempDir()
	a := apptest.Firm(t)
	wall(t, a, "2026-12-01 09:00:00")
	start(t, a, "levels")
	if _, err := a.Store.Backup(t.Context(), folder+"/copy.zip"); err != nil {
		t.Fatal(err)
	}
	data, err := store.Restore(t.Context(), folder+"/copy.zip", folder+"/restored")
	must(t, err)
	defer data.Close()
	again := &app.App{Store: data}
	wall(t, again, "2026-12-01 10:00:00")
	if list := timers(t, again); len(list) != 1 || !list[0].Running || list[0].Seconds != 3600 {
		t.Errorf("%+v", list)
	}
}

func TestATimerPastMidnightMakesAnEntryADay(t *testing.T) {
	a := apptest.Firm(t)
	wall(t, a, "2026-11-30 23:30:00")
	timer := start(t, a, "storm watch")
	wall(t, a, "2026-12-01 00:15:30")
	entries, err := timekeeping.StopTimer(t.Context(), a, apptest.Staff, timer.ID)
	if err != nil || len(entries) != 2 || entries[0].Minutes != 30 || entries[0].Day != day.Of(2026, 11, 30) || entries[1].Minutes != 16 ||
		entries[1].Day != day.Of(2026, 12, 1) {
		t.Fatalf("%+v, %v", entries, err)
	}
	apptest.Whole(t, a)
}

// The date of the demo stands still while the machine's time goes on.
func TestWithAPinnedDateTheTimeOfNowIsToday(t *testing.T) {
	a := apptest.Firm(t)
	began := time.Date(2026, 3, 5, 22, 0, 0, 0, time.UTC)
	a.Clock = app.PinnedClock{Date: apptest.Today, At: began}
	timer := start(t, a, "levels")
	a.Clock = app.PinnedClock{Date: apptest.Today, At: began.Add(3 * time.Hour)}
	entries, err := timekeeping.StopTimer(t.Context(), a, apptest.Staff, timer.ID)
	if err != nil || len(entries) != 2 || entries[0].Day != apptest.Today-1 || entries[0].Minutes != 120 ||
		entries[1].Day != apptest.Today {
		t.Errorf("%+v, %v", entries, err)
	}
}

func TestStoppingExtendsTheSameWorkOfTheDayAndTheEntryItGoesOnWith(t *testing.T) {
	a := apptest.Firm(t)
	wall(t, a, "2026-12-01 09:00:00")
	same, err := timekeeping.Record(t.Context(), a, apptest.Staff,
		timekeeping.TypedEntry{PersonID: 2, EngagementID: apptest.Survey, ServiceID: 1, Day: apptest.Today,
			Worked: "1:00", NotBillable: "0:10", Treatment: wip.Billable, Text: "levels", Note: "ours", Reference: "PO 7"})
	must(t, err)
	timer := start(t, a, "levels")
	wall(t, a, "2026-12-01 09:30:00")
	entries, err := timekeeping.StopTimer(t.Context(), a, apptest.Staff, timer.ID)
	if err != nil || len(entries) != 1 || entries[0].ID != same.ID || entries[0].Minutes != 90 || entries[0].NotBillable != 10 ||
		entries[0].Note != "ours" || entries[0].Reference != "PO 7" {
		t.Fatalf("%+v, %v", entries, err)
	}
	old := apptest.Record(t, a, apptest.Survey, "2026-11-30", "1:00")
	again, err := timekeeping.StartTimer(t.Context(), a, apptest.Staff,
		timekeeping.TypedTimer{EngagementID: 1, ServiceID: 1, Treatment: wip.Billable, EntryID: old.ID})
	must(t, err)
	wall(t, a, "2026-12-01 10:00:00")
	entries, err = timekeeping.StopTimer(t.Context(), a, apptest.Staff, again.ID)
	if err != nil || len(entries) != 1 || entries[0].ID == old.ID || entries[0].Text != "work" || entries[0].Minutes != 30 {
		t.Errorf("an entry of another day goes on as a new one of today: %+v, %v", entries, err)
	}
	if _, err := timekeeping.StartTimer(t.Context(), a, apptest.Lead,
		timekeeping.TypedTimer{EngagementID: 1, ServiceID: 1, Treatment: wip.Billable, EntryID: old.ID}); err == nil {
		t.Error("somebody else's entry goes on")
	}
	apptest.Whole(t, a)
}

func TestATimerThatCannotBeTakenCountsOn(t *testing.T) {
	a := apptest.Firm(t)
	wall(t, a, "2026-12-01 09:00:00")
	timer := start(t, a, "levels")
	apptest.Set(t, a, "engagements", apptest.Survey, "closed", "2026-11-30")
	wall(t, a, "2026-12-01 10:00:00")
	_, err := timekeeping.StopTimer(t.Context(), a, apptest.Staff, timer.ID)
	refusal(t, err, "engagementId", "is closed to new time")
	if _, err := timekeeping.ChangeTimer(t.Context(), a, apptest.Staff, timer.ID,
		timekeeping.TypedTimer{EngagementID: apptest.Study, ServiceID: 1, Treatment: wip.NoCharge, Text: "moved"}); err != nil {
		t.Fatal(err)
	}
	entries, err := timekeeping.StopTimer(t.Context(), a, apptest.Staff, timer.ID)
	if err != nil || len(entries) != 1 || entries[0].Minutes != 60 || entries[0].EngagementID != apptest.Study {
		t.Errorf("%+v, %v", entries, err)
	}
	apptest.Set(t, a, "engagements", apptest.Survey, "closed", "")
	other := start(t, a, "not needed")
	must(t, timekeeping.DiscardTimer(t.Context(), a, apptest.Staff, other.ID))
	if list := timers(t, a); len(list) != 0 {
		t.Errorf("%+v", list)
	}
}
