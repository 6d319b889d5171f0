package reports_test

import (
	"testing"

	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/registry"
	"dorvet/internal/app/reports"
	"dorvet/internal/app/runs"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/app/unbilled"
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
	if rail.WIP.Amount.String() != "180.00" || rail.WIP.Days != 30 || rail.Billing.Count != 0 || rail.Time.Minutes != 60 ||
		rail.Time.Missing != 4 {
		t.Errorf("%+v %+v", rail.WIP, rail.Time)
	}
	made, err := runs.MakeDrafts(t.Context(), a, admin,
		unbilled.Selection{UpTo: apptest.Today, Dated: apptest.Today, EngagementIDs: []int64{apptest.Survey}})
	if err != nil {
		t.Fatal(err)
	}
	if rail = figures(t, a, admin.Actor); rail.WIP.Amount.String() != "80.00" || rail.Billing.Amount.String() != "100.00" ||
		rail.Billing.Count != 1 {
		t.Errorf("%+v %+v", rail.WIP, rail.Billing)
	}
	inv, err := invoices.One(t.Context(), a, admin.Actor, made[0].ID)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := issuing.Issue(t.Context(), a, admin, drafts.Edit{ID: inv.ID, Version: inv.Version}); err != nil {
		t.Fatal(err)
	}
	if rail = figures(t, a, admin.Actor); rail.Receivables.Amount.String() != "123.00" || rail.Receivables.Count != 0 ||
		rail.Billing.Count != 0 {
		t.Errorf("%+v", rail.Receivables)
	}
	a.Clock = app.PinnedClock{Date: inv.Due + 1}
	if rail = figures(t, a, admin.Actor); rail.Receivables.Late.String() != "123.00" {
		t.Errorf("the day after it is due: %+v", rail.Receivables)
	}
}

func TestARoleSeesItsOwnFigures(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-30", "1:00")
	apptest.Record(t, a, apptest.Study, "2026-11-30", "1:00")
	if rail := figures(t, a, apptest.Staff.Actor); rail.WIP != nil || rail.Billing != nil || rail.Receivables != nil ||
		rail.Time.Minutes != 120 {
		t.Errorf("staff see %+v", rail)
	}
	if rail := figures(t, a, apptest.Lead.Actor); rail.WIP.Amount.String() != "100.00" || rail.Receivables != nil ||
		rail.Time.Minutes != 0 {
		t.Errorf("a lead sees %+v", rail)
	}
}

func TestFindingLooksOnlyWhereOneMay(t *testing.T) {
	a := apptest.Firm(t)
	for _, c := range []struct {
		actor app.Actor
		text  string
		want  int
	}{{apptest.Admin.Actor, "ald", 1}, {apptest.Admin.Actor, "stud", 1}, {apptest.Lead.Actor, "stud", 0}, {apptest.Lead.Actor, "surv", 1},
		{apptest.Staff.Actor, "surv", 0}, {apptest.Admin.Actor, "s", 0}} {
		if found, err := reports.Find(t.Context(), a, c.actor, c.text); err != nil || len(found) != c.want {
			t.Errorf("%v, %q: %v, %v", c.actor, c.text, found, err)
		}
	}
}

// Nothing crosses issuing entities: whoever is limited to one sees neither work
// nor money of another, in any list.
func TestWhoIsLimitedToAnEntityMeetsNothingOfAnother(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "entities", "name", "Branch", "legal_name", "Branch Ltd")
	for _, of := range [][2]string{{"address", "2 Quay"}, {"tax_number", "IE0000002B"}, {"iban", "IE57 TEST 2222"}} {
		apptest.Set(t, a, "entities", 2, of[0], of[1])
	}
	apptest.Add(t, a, "series", "entity", "Branch", "kind", "invoice", "prefix", "B")
	apptest.Set(t, a, "engagements", apptest.Study, "entity", "Branch")
	apptest.Set(t, a, "people", 4, "limited_to", "Branch")
	for _, id := range []int64{apptest.Survey, apptest.Study} {
		apptest.Record(t, a, id, "2026-11-30", "1:00")
		made, err := runs.MakeDrafts(t.Context(), a, apptest.Admin,
			unbilled.Selection{UpTo: apptest.Today, Dated: apptest.Today, EngagementIDs: []int64{id}})
		if err != nil {
			t.Fatal(err)
		}
		draft, err := invoices.One(t.Context(), a, apptest.Admin.Actor, made[0].ID)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := issuing.Issue(t.Context(), a, apptest.Admin, drafts.Edit{ID: draft.ID, Version: draft.Version}); err != nil {
			t.Fatal(err)
		}
		apptest.Record(t, a, id, "2026-12-01", "2:00")
	}
	limited := app.Actor{PersonID: 4, Role: app.Owner, Entities: []int64{2}}
	rail := figures(t, a, limited)
	if rail.WIP.Amount.String() != "160.00" || rail.Receivables.Amount.String() != "98.40" {
		t.Errorf("%+v %+v", rail.WIP, rail.Receivables)
	}
	clients, err := reports.Clients(t.Context(), a, limited, reports.ClientFilter{Standing: "all"}, 0, 1000)
	if err != nil || len(clients.Clients) != 1 || clients.Owed.String() != "98.40" {
		t.Errorf("%+v, %v", clients, err)
	}
	register, err := invoices.Register(t.Context(), a, limited, invoices.Filter{})
	if err != nil || len(register) != 1 || register[0].Number != "B1" {
		t.Errorf("%+v, %v", register, err)
	}
	if _, err := invoices.One(t.Context(), a, limited, 1); err == nil {
		t.Error("an invoice of another entity is read")
	}
	if _, err := reports.Engagement(t.Context(), a, limited, apptest.Survey); err == nil {
		t.Error("an engagement of another entity is read")
	}
	if found, err := reports.Find(t.Context(), a, limited, "Sur"); err != nil || len(found) != 0 {
		t.Errorf("%+v, %v", found, err)
	}
	rows, err := registry.List(t.Context(), a, limited, "engagements", registry.ListFilter{})
	if err != nil || len(rows) != 1 || rows[0].Title != "Study" {
		t.Errorf("%+v, %v", rows, err)
	}
	limited.Role = app.Administrator
	if _, err := runs.MakeDrafts(t.Context(), a, app.Request{Actor: limited},
		unbilled.Selection{UpTo: apptest.Today, Dated: apptest.Today, EngagementIDs: []int64{apptest.Survey}}); err == nil {
		t.Error("work of another entity is billed")
	}
	in := apptest.Typed(apptest.Survey, "2026-12-01", "1")
	if _, err := timekeeping.Record(t.Context(), a, app.Request{Actor: limited}, in); err == nil {
		t.Error("time is recorded on work of another entity")
	}
}

func TestAClientOverviewSaysHowItStands(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "budgets", "engagement", "1", "hours", "4", "from", "2026-01-01")
	apptest.Record(t, a, apptest.Survey, "2026-11-01", "1:00")
	apptest.Record(t, a, apptest.Advice, "2026-12-01", "2:00")
	client, err := reports.Client(t.Context(), a, apptest.Admin.Actor, 1)
	if err != nil {
		t.Fatal(err)
	}
	if client.Unbilled[0].String() != "300.00" || client.OldestDays != 30 || len(client.Owed) != 0 || !client.Onboarding ||
		client.OpenSteps != 3 || len(client.Work) != 2 {
		t.Errorf("%+v", client.ClientStanding)
	}
	if survey := client.Work[1]; survey.Name != "Survey" || survey.Minutes != 60 || survey.Worth.String() != "100.00" ||
		survey.Budget.String() != "25" {
		t.Errorf("%+v", survey)
	}
	lead, err := reports.Client(t.Context(), a, apptest.Lead.Actor, 1)
	if err != nil || len(lead.Work) != 1 || lead.Unbilled[0].String() != "100.00" {
		t.Errorf("a lead sees %+v, %v", lead, err)
	}
	if _, err := reports.Client(t.Context(), a, apptest.Lead.Actor, 2); err == nil {
		t.Error("a lead sees somebody else's client")
	}
}
