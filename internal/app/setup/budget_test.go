package setup_test

import (
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/registry"
	"dorvet/internal/app/runs"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

func notices(t *testing.T, read func(int64) ([]store.Notice, error), person int64) []string {
	t.Helper()
	rows, err := read(person)
	if err != nil {
		t.Fatal(err)
	}
	said := []string{}
	for _, n := range rows {
		said = append(said, n.Sentence)
	}
	return said
}

// Worked by hand: a budget of 10 hours, told at 50 % and 100 %. 4:59 are 49.8 %,
// 5:00 are 50 %, which counts as reached.
func TestAnAlertFiresOnceWhenASavedChangeReachesItsShare(t *testing.T) {
	a := apptest.Firm(t)
	read := func(person int64) ([]store.Notice, error) {
		return store.NoticesOf(a.Store.Read(t.Context(), store.Everything), person)
	}
	apptest.Add(t, a, "budgets", "engagement", "1", "hours", "10", "thresholds", "50 100", "from", "2026-01-01")
	apptest.Record(t, a, apptest.Survey, "2026-11-30", "4:59")
	if said := notices(t, read, 3); len(said) != 0 {
		t.Errorf("told early: %v", said)
	}
	apptest.Record(t, a, apptest.Survey, "2026-11-30", "0:01")
	apptest.Record(t, a, apptest.Survey, "2026-11-30", "1:00")
	if said := notices(t, read, 3); len(said) != 1 || said[0] != "Survey has reached 50 % of its budget of hours: 5:00\u202fh of 10:00\u202fh." {
		t.Errorf("%v", said)
	}
	apptest.Record(t, a, apptest.Survey, "2026-11-30", "6:00")
	if said := notices(t, read, 3); len(said) != 2 || !strings.Contains(said[0], "100 %") {
		t.Errorf("%v", said)
	}
	// One that is made when its share is reached already is no news.
	apptest.Add(t, a, "budgets", "engagement", "1", "measure", "fees", "amount", "100", "from", "2026-01-01", "people", "OO")
	apptest.Record(t, a, apptest.Survey, "2026-11-30", "1:00")
	if said := notices(t, read, 4); len(said) != 0 {
		t.Errorf("%v", said)
	}
}

func TestABudgetOfWhatIsInvoicedCountsAtIssue(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "budgets", "engagement", "1", "measure", "invoiced", "amount", "250", "from", "2026-01-01", "people", "AA OO")
	apptest.Record(t, a, apptest.Survey, "2026-11-30", "2:30")
	made, err := runs.MakeDrafts(t.Context(), a, apptest.Admin,
		unbilled.Selection{UpTo: apptest.Today, Dated: apptest.Today, EngagementIDs: []int64{apptest.Survey}})
	if err != nil {
		t.Fatal(err)
	}
	views, err := setup.Budgets(t.Context(), a, apptest.Admin.Actor, apptest.Survey)
	if err != nil || views[0].Used != "0.00" {
		t.Fatalf("a draft counts: %+v, %v", views, err)
	}
	if _, err := issuing.Issue(t.Context(), a, apptest.Admin, drafts.Edit{ID: made[0].ID, Version: 0}); err != nil {
		if _, err = issuing.Issue(t.Context(), a, apptest.Admin, drafts.Edit{ID: made[0].ID, Version: 1}); err != nil {
			t.Fatal(err)
		}
	}
	views, err = setup.Budgets(t.Context(), a, apptest.Admin.Actor, apptest.Survey)
	if err != nil || views[0].Used != "250.00" || views[0].Left != "0.00" || views[0].Share.String() != "100" {
		t.Errorf("%+v, %v", views, err)
	}
	told, err := store.NoticesOf(a.Store.Read(t.Context(), store.Everything), 4)
	if err != nil || len(told) != 1 || told[0].Sentence != "Survey has reached 100 % of its budget of invoices: 250.00 of 250.00." {
		t.Errorf("%+v, %v", told, err)
	}
}

// 300 minutes at 50.00 an hour are 250.00 (common practice); 2 of them are
// worked at 100.00, which is 200.00 of it: 80 %.
func TestExpectedHoursTimesRateGiveTheFeeBudget(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "budgets", "engagement", "1", "measure", "fees", "hours", "5", "per_hour", "50", "from", "2026-01-01")
	apptest.Record(t, a, apptest.Survey, "2026-11-30", "2")
	views, err := setup.Budgets(t.Context(), a, apptest.Admin.Actor, apptest.Survey)
	if err != nil || len(views) != 1 {
		t.Fatal(err)
	}
	if v := views[0]; v.Limit != "250.00" || v.Used != "200.00" || v.Left != "50.00" || v.Share.String() != "80" ||
		v.Explanation.Steps[0].Detail != "5:00\u202fh expected × 50.00" {
		t.Errorf("%+v", v)
	}
	// 200.00 in 20 working days, 50.00 left: 5 working days from Tuesday 1 December.
	if v := views[0]; v.Exhausted != day.Of(2026, 12, 8) {
		t.Errorf("used up on %s", v.Exhausted)
	}
}

func TestBudgetsThatMakeNoSenseAreRefused(t *testing.T) {
	a := apptest.Firm(t)
	for field, row := range map[string]map[string]string{
		"hours":      {"engagement": "1"},
		"amount":     {"engagement": "1", "measure": "fees", "hours": "5"},
		"thresholds": {"engagement": "1", "hours": "5", "thresholds": "half"},
		"measure":    {"engagement": "1", "measure": "points", "hours": "5"},
	} {
		_, err := registry.AddRecord(t.Context(), a, apptest.Admin, "budgets", row)
		if r := apptest.RefusalOf(t, err); r == nil || r.Field != field {
			t.Errorf("%v: %v", row, r)
		}
	}
}

func TestWorkAboveTheCapIsNotBilled(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Set(t, a, "engagements", apptest.Survey, "fee", "300")
	apptest.Set(t, a, "engagements", apptest.Survey, "arrangement", "capped")
	apptest.Record(t, a, apptest.Survey, "2026-11-29", "3")
	apptest.Record(t, a, apptest.Survey, "2026-11-30", "0:06")
	bill := func(upTo day.Day) error {
		_, err := runs.MakeDrafts(t.Context(), a, apptest.Admin,
			unbilled.Selection{UpTo: upTo, Dated: apptest.Today, EngagementIDs: []int64{apptest.Survey}})
		return err
	}
	if err := bill(day.Of(2026, 11, 29)); err != nil {
		t.Errorf("just the cap: %v", err)
	}
	if r := apptest.RefusalOf(t, bill(day.Of(2026, 11, 30))); r == nil || !strings.Contains(r.Sentence, "The cap of Survey is reached") {
		t.Errorf("%v", r)
	}
	apptest.Whole(t, a)
}
