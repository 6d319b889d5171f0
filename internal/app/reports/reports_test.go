package reports_test

import (
	"testing"

	"dorvet/internal/app"
	"dorvet/internal/app/billing"
	"dorvet/internal/app/reports"
	"dorvet/internal/apptest"
)

func figures(t *testing.T, a *app.App, actor app.Actor) *reports.Rail {
	t.Helper()
	rail, err := reports.Figures(t.Context(), a, actor)
	if err != nil {
		t.Fatal(err)
	}
	return rail
}

func TestMoneyMovesAlongTheRail(t *testing.T) {
	a, admin := apptest.Firm(t), apptest.Admin
	apptest.Record(t, a, apptest.Survey, "2026-11-01", "1:00")
	apptest.Record(t, a, apptest.Study, "2026-11-30", "1:00")
	rail := figures(t, a, admin.Actor)
	if rail.WIP.Amount.String() != "180.00" || rail.WIP.Days != 30 || rail.Billing.Count != 0 || rail.Time.Minutes != 60 || rail.Time.Missing != 4 {
		t.Errorf("%+v %+v", rail.WIP, rail.Time)
	}
	made, err := billing.MakeDrafts(t.Context(), a, admin, billing.Selection{UpTo: apptest.Today, Dated: apptest.Today, EngagementIDs: []int64{apptest.Survey}})
	if err != nil {
		t.Fatal(err)
	}
	if rail = figures(t, a, admin.Actor); rail.WIP.Amount.String() != "80.00" || rail.Billing.Amount.String() != "100.00" || rail.Billing.Count != 1 {
		t.Errorf("%+v %+v", rail.WIP, rail.Billing)
	}
	inv, err := billing.One(t.Context(), a, admin.Actor, made[0].ID)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := billing.Issue(t.Context(), a, admin, billing.Edit{ID: inv.ID, Version: inv.Version}); err != nil {
		t.Fatal(err)
	}
	if rail = figures(t, a, admin.Actor); rail.Receivables.Amount.String() != "123.00" || rail.Receivables.Count != 0 || rail.Billing.Count != 0 {
		t.Errorf("%+v", rail.Receivables)
	}
	a.Clock = app.PinnedClock{Date: inv.Due + 1}
	if rail = figures(t, a, admin.Actor); rail.Receivables.Late.String() != "123.00" || rail.Receivables.Count != 1 {
		t.Errorf("the day after it is due: %+v", rail.Receivables)
	}
}

func TestARoleSeesItsOwnFigures(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-30", "1:00")
	apptest.Record(t, a, apptest.Study, "2026-11-30", "1:00")
	if rail := figures(t, a, apptest.Staff.Actor); rail.WIP != nil || rail.Billing != nil || rail.Receivables != nil || rail.Time.Minutes != 120 {
		t.Errorf("staff see %+v", rail)
	}
	if rail := figures(t, a, apptest.Lead.Actor); rail.WIP.Amount.String() != "100.00" || rail.Receivables != nil || rail.Time.Minutes != 0 {
		t.Errorf("a lead sees %+v", rail)
	}
}

func TestFindingLooksOnlyWhereOneMay(t *testing.T) {
	a := apptest.Firm(t)
	for _, c := range []struct {
		actor app.Actor
		text  string
		want  int
	}{{apptest.Admin.Actor, "ald", 1}, {apptest.Admin.Actor, "stud", 1}, {apptest.Lead.Actor, "stud", 0}, {apptest.Lead.Actor, "surv", 1}, {apptest.Staff.Actor, "surv", 0}, {apptest.Admin.Actor, "s", 0}} {
		if found, err := reports.Find(t.Context(), a, c.actor, c.text); err != nil || len(found) != c.want {
			t.Errorf("%v, %q: %v, %v", c.actor, c.text, found, err)
		}
	}
}
