package timekeeping_test

import (
	"fmt"
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/runs"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/apptest"
)

// listed are the days, engagements and minutes that a search finds.
func listed(t *testing.T, a *app.App, actor app.Actor, s timekeeping.Filter) string {
	t.Helper()
	page, err := timekeeping.Find(t.Context(), a, actor, s, 0, 50)
	must(t, err)
	found := []string{}
	for _, e := range page.Entries {
		found = append(found, fmt.Sprintf("%s/%d", e.Engagement, e.Minutes))
	}
	if page.Total != len(found) {
		t.Errorf("%d of %d rows", len(found), page.Total)
	}
	return strings.Join(found, " ")
}

// months has entries in every state: billed, on a draft, unbilled, held, not
// billable, without a rate.
func months(t *testing.T) *app.App {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Study, "2026-10-30", "1:00")
	issue(t, a, apptest.Study, "2026-10-31")
	apptest.Record(t, a, apptest.Study, "2026-11-02", "2:00")
	draft(t, a, apptest.Study, "2026-11-30")
	apptest.Record(t, a, apptest.Survey, "2026-11-03", "3:00")
	for worked, change := range map[string]func(*timekeeping.TypedEntry){
		"4:00": func(in *timekeeping.TypedEntry) { in.Hold = "released" },
		"5:00": func(in *timekeeping.TypedEntry) { in.Treatment = wip.NotBillable },
	} {
		in := apptest.Typed(apptest.Advice, "2026-11-04", worked)
		in.PersonID, in.Text = 1, "a call, 100 %"
		change(&in)
		_, err := timekeeping.Record(t.Context(), a, apptest.Admin, in)
		must(t, err)
	}
	return a
}

func draft(t *testing.T, a *app.App, engagement int64, upTo string) runs.Made {
	t.Helper()
	on, err := day.Parse(upTo)
	must(t, err)
	made, err := runs.MakeDrafts(t.Context(), a, apptest.Admin,
		unbilled.Selection{UpTo: on, Dated: apptest.Today, EngagementIDs: []int64{engagement}})
	must(t, err)
	return made[0]
}

func issue(t *testing.T, a *app.App, engagement int64, upTo string) *invoices.Invoice {
	t.Helper()
	made := draft(t, a, engagement, upTo)
	seen, err := invoices.One(t.Context(), a, apptest.Admin.Actor, made.ID)
	must(t, err)
	done, err := apptest.Invoice(t.Context(), a)(issuing.Issue(t.Context(), a, apptest.Admin,
		drafts.Edit{ID: seen.ID, Version: seen.Version}))
	must(t, err)
	return done
}

func TestOneSelectorFindsWorkByEverything(t *testing.T) {
	a := months(t)
	for _, c := range []struct {
		name  string
		actor app.Actor
		s     timekeeping.Filter
		want  string
	}{
		{"days", apptest.Admin.Actor, timekeeping.Filter{From: day.Of(2026, 11, 2), To: day.Of(2026, 11, 3), OldestFirst: true},
			"Study/120 Survey/180"},
		{"people", apptest.Admin.Actor, timekeeping.Filter{People: []int64{2}}, "Survey/180 Study/120 Study/60"},
		{"clients", apptest.Admin.Actor, timekeeping.Filter{Clients: []int64{2}}, "Study/120 Study/60"},
		{"engagements", apptest.Admin.Actor, timekeeping.Filter{Engagements: []int64{apptest.Survey, apptest.Study}},
			"Survey/180 Study/120 Study/60"},
		{"services", apptest.Admin.Actor, timekeeping.Filter{Kinds: []int64{99}}, ""},
		{"billed", apptest.Admin.Actor, timekeeping.Filter{States: []string{"billed"}}, "Study/60"},
		{"on a draft", apptest.Admin.Actor, timekeeping.Filter{States: []string{"on_draft"}}, "Study/120"},
		{"on hold", apptest.Admin.Actor, timekeeping.Filter{States: []string{"on_hold"}}, "Advice/240"},
		{"two states", apptest.Admin.Actor, timekeeping.Filter{States: []string{"not_billable", "on_draft"}, OldestFirst: true},
			"Study/120 Advice/300"},
		{"words, with signs as they are", apptest.Admin.Actor, timekeeping.Filter{Text: "100 %", States: []string{"on_hold"}},
			"Advice/240"},
		{"words that are not there", apptest.Admin.Actor, timekeeping.Filter{Text: "1__ %"}, ""},
		{"staff: their own", apptest.Staff.Actor, timekeeping.Filter{}, "Survey/180 Study/120 Study/60"},
		{"a lead: what they lead", apptest.Lead.Actor, timekeeping.Filter{}, "Survey/180"},
	} {
		if got := listed(t, a, c.actor, c.s); got != c.want {
			t.Errorf("%s: %q, want %q", c.name, got, c.want)
		}
	}
	ids, err := timekeeping.Numbers(t.Context(), a, apptest.Admin.Actor, timekeeping.Filter{})
	if err != nil || len(ids) != 5 {
		t.Errorf("%v, %v", ids, err)
	}
}

func TestWorkIsAddedUpInFourGroupsByClientAndByPerson(t *testing.T) {
	a := months(t)
	groups, err := timekeeping.Groups(t.Context(), a, apptest.Admin.Actor, timekeeping.Filter{}, false)
	if err != nil || len(groups) != 2 || groups[0].Name != "Alder" || len(groups[0].Inner) != 2 {
		t.Fatalf("%+v, %v", groups, err)
	}
	alder, birch := groups[0], groups[1]
	if alder.ToBill.Count != 2 || alder.ToBill.Minutes != 420 || alder.ToBill.Values[0].String() != "700.00" ||
		alder.NotBillable.Count != 1 || alder.NotBillable.Minutes != 300 || alder.Billed.Count != 0 {
		t.Errorf("%+v", alder)
	}
	if birch.ToBill.Minutes != 120 || birch.Billed.Minutes != 60 || birch.Billed.Values[0].String() != "80.00" {
		t.Errorf("what is on a draft is not billed yet: %+v", birch)
	}
	people, err := timekeeping.Groups(t.Context(), a, apptest.Admin.Actor, timekeeping.Filter{}, true)
	if err != nil || len(people) != 2 || people[1].Name != "Sam Staff" || people[1].ToBill.Minutes != 300 || len(people[1].Inner) != 2 ||
		people[1].Inner[0].Beside != "Alder" {
		t.Errorf("%+v, %v", people, err)
	}
	blind := apptest.Staff.Actor
	blind.SeesRates = false
	own, err := timekeeping.Groups(t.Context(), a, blind, timekeeping.Filter{}, false)
	if err != nil || len(own[0].ToBill.Values) != 0 {
		t.Errorf("staff see values: %+v, %v", own, err)
	}
}

func TestExpensesAreFoundByTheSameSelector(t *testing.T) {
	a := apptest.Firm(t)
	buy(t, a, bought("100", share(apptest.Survey, "60"), share(apptest.Study, "30"), share(0, "10")))
	page, err := timekeeping.Find(t.Context(), a, apptest.Admin.Actor, timekeeping.Filter{Expenses: true, Text: "ferry"}, 0, 10)
	if err != nil || page.Total != 3 || page.Values[0].String() != "90.00" {
		t.Fatalf("%+v, %v", page, err)
	}
	if page, err = timekeeping.Find(t.Context(), a, apptest.Lead.Actor, timekeeping.Filter{Expenses: true}, 0, 10); err != nil ||
		page.Total != 1 || page.Expenses[0].Engagement != "Survey" {
		t.Errorf("a lead sees %+v, %v", page, err)
	}
	if page, err = timekeeping.Find(t.Context(), a, apptest.Admin.Actor,
		timekeeping.Filter{Expenses: true, States: []string{"not_billable"}},
		0, 10); err != nil || page.Total != 1 || page.Expenses[0].EngagementID != 0 {
		t.Errorf("the firm's own cost: %+v, %v", page, err)
	}
	groups, err := timekeeping.Groups(t.Context(), a, apptest.Admin.Actor, timekeeping.Filter{Expenses: true}, false)
	if err != nil || len(groups) != 3 || groups[0].Name != "The firm's own cost" || groups[1].ToBill.Values[0].String() != "60.00" {
		t.Errorf("%+v, %v", groups, err)
	}
}

func TestManyAreChangedAsOneActAndUndone(t *testing.T) {
	a := months(t)
	ids, err := timekeeping.Numbers(t.Context(), a, apptest.Admin.Actor, timekeeping.Filter{})
	must(t, err)
	change := timekeeping.BulkChange{IDs: ids, EngagementID: apptest.Study, Treatment: wip.Billable, Hold: "none"}
	preview, err := timekeeping.PreviewBulk(t.Context(), a, apptest.Admin.Actor, change)
	// Advice and Survey are at 100.00, Study at 80.00: 4 + 3 h were 700.00, the 5 h
	// that were not billable become 400.00 more.
	if err != nil || len(preview.Entries) != 3 || len(preview.Stay) != 2 || preview.Before[0].String() != "700.00" ||
		preview.After[0].String() != "960.00" {
		t.Fatalf("%+v, %v", preview, err)
	}
	if !strings.Contains(preview.Stay[0].Why+preview.Stay[1].Why, "billed on N") ||
		!strings.Contains(preview.Stay[0].Why+preview.Stay[1].Why, "on a draft") {
		t.Errorf("%+v", preview.Stay)
	}
	done, err := timekeeping.ChangeInBulk(t.Context(), a, apptest.Admin, change)
	if err != nil || len(done.Entries) != 3 || listed(t, a, apptest.Admin.Actor,
		timekeeping.Filter{States: []string{"unbilled"}, OldestFirst: true}) != "Study/180 Study/240 Study/300" &&
		listed(t, a, apptest.Admin.Actor, timekeeping.Filter{States: []string{"unbilled"},
			OldestFirst: true}) != "Study/180 Study/300 Study/240" {
		t.Fatalf("%+v, %v", done, err)
	}
	apptest.Whole(t, a)
	_, err = timekeeping.ChangeInBulk(t.Context(), a, apptest.Admin, change)
	refusal(t, err, "", "None of these entries changes")
	must(t, timekeeping.UndoTogether(t.Context(), a, apptest.Admin, done.ActID))
	if got := listed(t, a, apptest.Admin.Actor, timekeeping.Filter{States: []string{"on_hold",
		"not_billable"}}); got != "Advice/240 Advice/300" && got != "Advice/300 Advice/240" {
		t.Errorf("after the undo %s", got)
	}
	if err := timekeeping.UndoTogether(t.Context(), a, apptest.Admin, done.ActID); err == nil {
		t.Error("undone twice")
	}
	apptest.Whole(t, a)
}

func TestAnUndoThatWouldOverwriteIsRefused(t *testing.T) {
	a := apptest.Firm(t)
	first, second := apptest.Record(t, a, apptest.Survey, "2026-11-30", "1:00"), apptest.Record(t, a, apptest.Survey, "2026-11-30", "2:00")
	done, err := timekeeping.ChangeInBulk(t.Context(), a, apptest.Admin,
		timekeeping.BulkChange{IDs: []int64{first.ID, second.ID}, Markup: "10"})
	if err != nil || done.After[0].String() != "330.00" {
		t.Fatalf("%+v, %v", done, err)
	}
	must(t, timekeeping.Remove(t.Context(), a, apptest.Staff, second.ID, second.Version+1))
	refusal(t, timekeeping.UndoTogether(t.Context(), a, apptest.Admin, done.ActID), "", "changed since, so nothing was taken back")
	if now, err := timekeeping.One(t.Context(), a, apptest.Admin.Actor, first.ID); err != nil || now.Value.String() != "110.00" {
		t.Errorf("half undone: %+v, %v", now, err)
	}
	apptest.Whole(t, a)
}

func TestReRatingManyTakesTheRatesThatHoldNow(t *testing.T) {
	a := apptest.Firm(t)
	e := apptest.Record(t, a, apptest.Survey, "2026-11-30", "1:00")
	apptest.Add(t, a, "rates", "engagement", "1", "per_hour", "120", "from", "2026-01-01")
	done, err := timekeeping.ChangeInBulk(t.Context(), a, apptest.Lead, timekeeping.BulkChange{IDs: []int64{e.ID}, Rerate: true})
	if err != nil || done.Before[0].String() != "100.00" || done.After[0].String() != "120.00" {
		t.Errorf("%+v, %v", done, err)
	}
	other := apptest.Record(t, a, apptest.Study, "2026-11-30", "1:00")
	_, err = timekeeping.ChangeInBulk(t.Context(), a, apptest.Lead, timekeeping.BulkChange{IDs: []int64{other.ID}, Treatment: wip.NoCharge})
	refusal(t, err, "", "None of these entries changes: 0 can't be changed") // it is not told that it is there
}

func TestWhoIsLimitedToAnIssuingEntitySeesNothingOfOthers(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "entities", "name", "Other", "legal_name", "Other Ltd")
	apptest.Add(t, a, "series", "entity", "Other", "kind", "invoice", "prefix", "O")
	other := apptest.Add(t, a, "engagements", "client", "B", "name", "Other work", "lead", "AA", "code", "4", "entity", "Other", "opened",
		"2026-01-01")
	apptest.Record(t, a, apptest.Study, "2026-11-24", "1:00")
	hidden := apptest.Record(t, a, other, "2026-11-24", "2:00")
	p := buy(t, a, bought("100", share(apptest.Study, "60"), share(other, "40")))
	limited := apptest.Admin.Actor
	limited.Entities = []int64{1}
	if got := listed(t, a, limited, timekeeping.Filter{}); got != "Study/60" {
		t.Errorf("the list has %s", got)
	}
	if week, err := timekeeping.WeekOf(t.Context(), a, limited, 2, monday); err != nil || week.Minutes != 60 {
		t.Errorf("the week has %+v, %v", week, err)
	}
	if sheets, err := timekeeping.SheetsOf(t.Context(), a, limited, monday); err != nil || sheets.People[3].Minutes != 60 ||
		sheets.People[3].Missing != 0 {
		t.Errorf("everybody's weeks have %+v, %v", sheets, err)
	}
	_, err := timekeeping.One(t.Context(), a, limited, hidden.ID)
	refusal(t, err, "", "no such time entry")
	_, err = timekeeping.OnePurchase(t.Context(), a, limited, p.ID)
	refusal(t, err, "", "no such purchase")
	if own, err := timekeeping.One(t.Context(), a, apptest.Staff.Actor, hidden.ID); err != nil || own.Minutes != 120 {
		t.Errorf("one's own time is always seen: %+v, %v", own, err)
	}
}

// Time that a fee covers, or that a cap leaves, is not billed by itself.
func TestTimeInAFeeOrOverACapIsNoWorkToBill(t *testing.T) {
	a := apptest.Firm(t)
	for _, set := range []struct {
		id           int64
		field, value string
	}{{apptest.Survey, "fee", "500"}, {apptest.Survey, "arrangement", "fixed"}, {apptest.Advice, "fee", "0"}, {apptest.Advice, "arrangement", "capped"}} {
		apptest.Set(t, a, "engagements", set.id, set.field, set.value)
	}
	apptest.Record(t, a, apptest.Survey, "2026-11-20", "2:00")
	apptest.Record(t, a, apptest.Advice, "2026-11-20", "1:00")
	apptest.Record(t, a, apptest.Study, "2026-11-20", "1:00")
	groups, err := timekeeping.Groups(t.Context(), a, apptest.Admin.Actor, timekeeping.Filter{}, false)
	if err != nil || groups[0].InFee.Minutes != 180 || groups[0].ToBill.Count != 0 || groups[1].ToBill.Minutes != 60 || groups[1].InFee.Count != 0 {
		t.Errorf("%+v, %v", groups, err)
	}
	if got := listed(t, a, apptest.Admin.Actor, timekeeping.Filter{States: []string{"in_fee"}}); got != "Advice/60 Survey/120" && got != "Survey/120 Advice/60" {
		t.Errorf("what the figure opens: %s", got)
	}
}

// The estimates of entries against what was worked: 2 h were expected where 3 were worked.
func TestEstimatesStandAgainstWhatWasWorked(t *testing.T) {
	a := apptest.Firm(t)
	in := apptest.Typed(apptest.Survey, "2026-11-10", "3:00")
	in.Expected = "2h"
	apptest.RecordTyped(t, a, in)
	apptest.Record(t, a, apptest.Survey, "2026-11-11", "1:00")
	page, err := timekeeping.Find(t.Context(), a, apptest.Admin.Actor, timekeeping.Filter{States: []string{"estimated"}}, 0, 10)
	if err != nil || page.Total != 1 || page.Minutes != 180 || page.Expected != 120 {
		t.Errorf("%+v, %v", page, err)
	}
	page, err = timekeeping.Find(t.Context(), a, apptest.Admin.Actor, timekeeping.Filter{Expenses: true, States: []string{"estimated"}}, 0, 10)
	if err != nil || page.Expected != 0 {
		t.Errorf("of expenses: %+v, %v", page, err)
	}
}
