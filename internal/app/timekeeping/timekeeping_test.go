package timekeeping_test

import (
	"errors"
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

func TestAnEntryKeepsItsValueAndWhereItCameFrom(t *testing.T) {
	a := apptest.Firm(t)
	entry := apptest.Record(t, a, apptest.Study, "2026-11-30", "1:25")
	if entry.Billed != 90 || entry.Value.String() != "120.00" || entry.Standard.String() != "150.00" || entry.Billing != wip.Unbilled {
		t.Errorf("%+v", entry)
	}
	if steps := entry.Explanation.Steps; steps[1].Label != "Rate of the client Birch" ||
		steps[1].Steps[0].Label != "beats the rate of the firm" {
		t.Errorf("%+v", steps)
	}
	apptest.Whole(t, a)
}

func TestChangesAreInTheHistoryAndTheLedgerAddsUp(t *testing.T) {
	a := apptest.Firm(t)
	entry := apptest.Record(t, a, apptest.Survey, "2026-11-30", "1:00")
	in := apptest.Typed(apptest.Advice, "2026-11-29", "2:00")
	in.Treatment = wip.NotBillable
	changed, err := timekeeping.Change(t.Context(), a, apptest.Staff, entry.ID, entry.Version, in)
	if err != nil || changed.Billing != wip.Outside || changed.Version != entry.Version+1 {
		t.Fatalf("%+v, %v", changed, err)
	}
	apptest.Whole(t, a)
	in.Treatment = wip.NoCharge
	if changed, err = timekeeping.Change(t.Context(), a, apptest.Staff, entry.ID, changed.Version, in); err != nil ||
		changed.Billing != wip.Unbilled {
		t.Fatalf("%+v, %v", changed, err)
	}
	apptest.Whole(t, a)
	if err := timekeeping.Remove(t.Context(), a, apptest.Staff, entry.ID, changed.Version); err != nil {
		t.Fatal(err)
	}
	apptest.Whole(t, a)
	history, err := a.History(t.Context(), apptest.Admin.Actor, app.OfEntry, entry.ID)
	said := []string{}
	for _, row := range history {
		said = append(said, row.Summary)
	}
	want := "Removed 2:00\u202fh on 29 Nov 2026; Changed to 2:00\u202fh on 29 Nov 2026; Changed to 2:00\u202fh on 29 Nov 2026; " +
		"Recorded 1:00\u202fh on 30 Nov 2026"
	if err != nil || strings.Join(said, "; ") != want {
		t.Errorf("%v, %v", said, err)
	}
	if history[0].Who != "Sam Staff" || !strings.Contains(history[1].Before, "not_billable") ||
		!strings.Contains(history[1].After, "no_charge") {
		t.Errorf("%+v", history)
	}
}

func refusal(t *testing.T, err error, field, says string) {
	t.Helper()
	var r *app.Refusal
	if !errors.As(err, &r) || r.Field != field || !strings.Contains(r.Sentence, says) {
		t.Errorf("%v; want a refusal of %q that says %q", err, field, says)
	}
}

func TestWhatCantBeRecordedIsRefusedInItsField(t *testing.T) {
	a := apptest.Firm(t)
	shut := a.Store.Write(t.Context(), store.Everything, func(tx *store.DB) error {
		firm, err := store.TheFirm(tx)
		if err != nil {
			return err
		}
		firm.ClosingDay = day.Of(2026, 9, 30)
		return store.Save(tx, firm)
	})
	if shut != nil {
		t.Fatal(shut)
	}
	for _, c := range []struct {
		name, field, says string
		change            func(*timekeeping.TypedEntry)
	}{
		{"wrong time", "worked", "1:30", func(in *timekeeping.TypedEntry) { in.Worked = "soon" }},
		{"no time", "worked", "No time is given", func(in *timekeeping.TypedEntry) { in.Worked = "" }},
		{"more not billable than worked", "notBillable", "between 0:00 and 1:00",
			func(in *timekeeping.TypedEntry) { in.NotBillable = "2:00" }},
		{"closed period", "day", "closing date, 30 Sep 2026", func(in *timekeeping.TypedEntry) { in.Day = day.Of(2026, 9, 30) }},
		{"no day", "day", "Give the day", func(in *timekeeping.TypedEntry) { in.Day = 0 }},
		{"treatment", "treatment", "not a way to bill", func(in *timekeeping.TypedEntry) { in.Treatment = "gratis" }},
		{"service", "serviceId", "not in the catalogue", func(in *timekeeping.TypedEntry) { in.ServiceID = 99 }},
		{"engagement", "", "no such engagement", func(in *timekeeping.TypedEntry) { in.EngagementID = 99 }},
	} {
		in := apptest.Typed(apptest.Survey, "2026-11-30", "1:00")
		c.change(&in)
		_, err := timekeeping.Record(t.Context(), a, apptest.Staff, in)
		t.Run(c.name, func(t *testing.T) { refusal(t, err, c.field, c.says) })
	}
	apptest.Whole(t, a)
}

func TestAStaleSaveOverwritesNothing(t *testing.T) {
	a := apptest.Firm(t)
	entry := apptest.Record(t, a, apptest.Survey, "2026-11-30", "1:00")
	if _, err := timekeeping.Change(t.Context(), a, apptest.Staff, entry.ID, entry.Version,
		apptest.Typed(apptest.Survey, "2026-11-30", "2:00")); err != nil {
		t.Fatal(err)
	}
	_, err := timekeeping.Change(t.Context(), a, apptest.Admin, entry.ID, entry.Version,
		apptest.Typed(apptest.Survey, "2026-11-30", "3:00"))
	refusal(t, err, "", "Somebody else has changed this")
	if now, err := timekeeping.One(t.Context(), a, apptest.Staff.Actor, entry.ID); err != nil || now.Minutes != 120 {
		t.Errorf("%+v, %v", now, err)
	}
}

func TestTheSameKeyRecordsOnce(t *testing.T) {
	a, r := apptest.Firm(t), apptest.Staff
	r.Key = "pressed twice"
	in := apptest.Typed(apptest.Survey, "2026-11-30", "1:00")
	first, err := timekeeping.Record(t.Context(), a, r, in)
	if err != nil {
		t.Fatal(err)
	}
	if second, err := timekeeping.Record(t.Context(), a, r, in); err != nil || second.ID != first.ID {
		t.Errorf("%+v, %v", second, err)
	}
	in.Worked = "2:00"
	_, err = timekeeping.Record(t.Context(), a, r, in)
	refusal(t, err, "", "asked for before with other content")
}

func TestPeopleRecordAndSeeTheirOwn(t *testing.T) {
	a := apptest.Firm(t)
	entry := apptest.Record(t, a, apptest.Survey, "2026-11-30", "1:00")
	_, err := timekeeping.Record(t.Context(), a, apptest.Lead, apptest.Typed(apptest.Survey, "2026-11-30", "1:00"))
	refusal(t, err, "", "your own time only")
	week, err := timekeeping.WeekOf(t.Context(), a, apptest.Lead.Actor, 2, apptest.Today)
	if err != nil || !week.Partial || week.Minutes != 60 {
		t.Errorf("a lead sees what was done on their engagement of another's week: %+v, %v", week, err)
	}
	_, err = timekeeping.WeekOf(t.Context(), a, apptest.Staff.Actor, 3, apptest.Today)
	refusal(t, err, "", "somebody else's week")
	if _, err := timekeeping.One(t.Context(), a, apptest.Lead.Actor, entry.ID); err != nil {
		t.Errorf("a lead sees time on their engagement: %v", err)
	}
	other := apptest.Record(t, a, apptest.Study, "2026-11-30", "1:00")
	_, err = timekeeping.One(t.Context(), a, apptest.Lead.Actor, other.ID)
	refusal(t, err, "", "somebody else's time")
}

func TestTheWeekAddsUpAndKeepsLastWeeksRows(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Advice, "2026-11-27", "4:00") // the week before
	for _, worked := range []string{"1:00", "0:30"} {
		apptest.Record(t, a, apptest.Survey, "2026-11-30", worked)
	}
	apptest.Record(t, a, apptest.Survey, "2026-12-06", "2:00") // Sunday
	week, err := timekeeping.WeekOf(t.Context(), a, apptest.Staff.Actor, 2, apptest.Today)
	if err != nil {
		t.Fatal(err)
	}
	if week.Monday != day.Of(2026, 11, 30) || week.Number != 49 || week.Minutes != 210 || week.Days[0].Minutes != 90 ||
		week.Days[6].Minutes != 120 {
		t.Errorf("%+v", week)
	}
	if len(week.Rows) != 2 || week.Rows[0].Engagement != "Advice" || week.Rows[0].Minutes != 0 || len(week.Rows[1].Cells[0].Entries) != 2 {
		t.Errorf("%+v", week.Rows)
	}
	if week.Days[0].Left != 390 || week.Left != 2190 || week.Utilisation.String() != "8.75" ||
		week.Rows[1].Explanation.Figure != "350.00" ||
		len(week.Rows[1].Explanation.Steps) != 3 {
		t.Errorf("%+v", week)
	}
	if week.Values[0].String() != "350.00" {
		t.Errorf("values %v", week.Values)
	}
}

func TestThePreviewIsWhatIsSaved(t *testing.T) {
	a := apptest.Firm(t)
	in := apptest.Typed(apptest.Study, "2026-11-30", "1.1")
	worth, err := timekeeping.Preview(t.Context(), a, apptest.Staff.Actor, in, 0)
	if err != nil {
		t.Fatal(err)
	}
	if entry := apptest.Record(t, a, apptest.Study, "2026-11-30", "1.1"); *entry.Value != *worth.Value || entry.Billed != worth.Billed ||
		entry.Minutes != worth.Minutes {
		t.Errorf("the preview says %v, kept is %v", worth.Value, entry.Value)
	}
}

func TestHolidaysAndTheWorkingWeekSayHowMuchIsExpected(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Set(t, a, "firm", 1, "working_days", "mon tue wed thu")
	apptest.Add(t, a, "holidays", "day", "2026-12-01", "name", "A holiday")
	week, err := timekeeping.WeekOf(t.Context(), a, apptest.Staff.Actor, 2, apptest.Today)
	if err != nil {
		t.Fatal(err)
	}
	// 40 hours over four days are 10 a day; the holiday leaves 30.
	if week.Capacity != 1800 || week.Days[0].Capacity != 600 || week.Days[1].Capacity != 0 || week.Days[4].Capacity != 0 {
		t.Errorf("%d, %+v", week.Capacity, week.Days)
	}
}

func TestOnlyThoseWhoAreNamedRecordAndOnOpenPhases(t *testing.T) {
	a := apptest.Firm(t)
	phase := apptest.Add(t, a, "phases", "engagement", "1", "name", "Field work")
	elsewhere := apptest.Add(t, a, "phases", "engagement", "3", "name", "Elsewhere")
	in := apptest.Typed(apptest.Survey, "2026-11-30", "1")
	in.PhaseID = phase
	entry, err := timekeeping.Record(t.Context(), a, apptest.Staff, in)
	if err != nil || entry.Phase != "Field work" {
		t.Fatalf("%+v, %v", entry, err)
	}
	in.PhaseID = elsewhere
	if _, err := timekeeping.Record(t.Context(), a, apptest.Staff, in); err == nil {
		t.Error("recorded on a phase of another engagement")
	}
	in.PhaseID = 0
	apptest.Set(t, a, "engagements", apptest.Survey, "people", "LL")
	if _, err := timekeeping.Record(t.Context(), a, apptest.Staff, in); err == nil {
		t.Error("recorded by somebody who is not named")
	}
	if _, err := timekeeping.Record(t.Context(), a, apptest.Admin, in); err != nil {
		t.Errorf("an administrator records for others: %v", err)
	}
}

func TestARateOfTheEntryItselfBeatsAllOthersAndSurvivesReRating(t *testing.T) {
	a := apptest.Firm(t)
	in := apptest.Typed(apptest.Survey, "2026-11-30", "1:30")
	in.PerHour = "140.50"
	if _, err := timekeeping.Record(t.Context(), a, apptest.Staff, in); err == nil {
		t.Error("staff set a rate")
	}
	entry, err := timekeeping.Record(t.Context(), a, apptest.Admin, in)
	// 1.5 h at 140.50 are 210.75; anybody would pay 1.5 h at 100.00.
	if err != nil || entry.Value.String() != "210.75" || entry.Standard.String() != "150.00" || entry.PerHour.String() != "140.50" {
		t.Fatalf("%+v, %v", entry, err)
	}
	apptest.Add(t, a, "rates", "engagement", "1", "per_hour", "120", "from", "2026-01-01")
	preview, err := timekeeping.PreviewRerating(t.Context(), a, apptest.Admin.Actor,
		timekeeping.Rerating{EngagementID: apptest.Survey, From: entry.Day, To: entry.Day})
	if err != nil || len(preview.Entries) != 0 || preview.Same != 1 {
		t.Errorf("%+v, %v", preview, err)
	}
	apptest.Set(t, a, "firm", 1, "decimal_mark", ",")
	for typed, want := range map[string]string{"140.5000": "210.75", "140,5": "210.75"} {
		in.PerHour = typed
		if worth, err := timekeeping.Preview(t.Context(), a, apptest.Admin.Actor, in, 0); err != nil || worth.Value.String() != want {
			t.Errorf("%s: %+v, %v", typed, worth, err)
		}
	}
	apptest.Set(t, a, "firm", 1, "decimal_mark", ".")
	in.PerHour = "-1"
	if _, err := timekeeping.Change(t.Context(), a, apptest.Admin, entry.ID, entry.Version, in); err == nil {
		t.Error("a negative rate is taken")
	}
	in.PerHour = ""
	if changed, err := timekeeping.Change(t.Context(), a, apptest.Admin, entry.ID, entry.Version, in); err != nil ||
		changed.Value.String() != "180.00" {
		t.Errorf("without its own: %+v, %v", changed, err)
	}
	apptest.Whole(t, a)
}

// fieldOf is the field that an error refuses.
func fieldOf(err error) string {
	var r *app.Refusal
	if errors.As(err, &r) {
		return r.Field
	}
	return ""
}

func noticesOf(t *testing.T, a *app.App, person int64) []store.Notice {
	t.Helper()
	notices, err := store.NoticesOf(a.Store.Read(t.Context(), store.Everything), person)
	if err != nil {
		t.Fatal(err)
	}
	return notices
}
