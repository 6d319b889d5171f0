package wip_test

import (
	"errors"
	"slices"
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/core/money"
	core "dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/runs"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/app/wip"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

var november = day.Of(2026, 11, 30)

func listed(t *testing.T, a *app.App, actor app.Actor, f wip.Filter) *wip.UnbilledList {
	t.Helper()
	f.UpTo = november
	list, err := wip.Unbilled(t.Context(), a, actor, f)
	if err != nil {
		t.Fatal(err)
	}
	return list
}

// tallied is what drafts of some engagements would come to.
func tallied(t *testing.T, a *app.App, engagements ...int64) (*runs.Tally, error) {
	t.Helper()
	return runs.Preview(t.Context(), a, apptest.Admin.Actor,
		unbilled.Selection{UpTo: november, Dated: apptest.Today, EngagementIDs: engagements})
}

// names are the engagements of a list, in its order.
func names(list *wip.UnbilledList) string {
	found := []string{}
	for _, client := range list.Clients {
		for _, e := range client.Engagements {
			found = append(found, client.Client+"/"+e.Engagement)
		}
	}
	return strings.Join(found, " ")
}

// Source: bands of thirty days, common practice of aged work.
func TestUnbilledWorkIsSummedByClientEngagementAndAge(t *testing.T) {
	a := apptest.Firm(t)
	for _, worked := range []string{"2026-08-31", "2026-09-01", "2026-10-01", "2026-10-31", "2026-11-30"} { // 91, 90, 60, 30, 0 days
		apptest.Record(t, a, apptest.Survey, worked, "1:00")
	}
	apptest.Record(t, a, apptest.Advice, "2026-11-30", "0:30")
	apptest.Record(t, a, apptest.Study, "2026-11-30", "1:00")
	apptest.Record(t, a, apptest.Study, "2026-12-01", "9:00") // after the cut-off
	list := listed(t, a, apptest.Admin.Actor, wip.Filter{})
	if got := names(list); got != "Alder/Advice Alder/Survey Birch/Study" {
		t.Fatalf("%s", got)
	}
	survey := list.Clients[0].Engagements[1]
	bands := []string{}
	for _, band := range survey.Ages {
		bands = append(bands, band.String())
	}
	if survey.Oldest != 91 || survey.Entries != 5 || strings.Join(bands, " ") != "200.00 100.00 100.00 100.00" ||
		survey.Value.String() != "500.00" {
		t.Errorf("%+v", survey)
	}
	if list.Clients[0].Values[0].String() != "550.00" || list.Totals[0].String() != "630.00" || list.Minutes != 390 {
		t.Errorf("%+v", list)
	}
}

// A draft that can't be made as it is hides nobody else's work: it is a finding, in the words
// in which making it is refused.
func TestWhatCantBeBilledAsItIsIsAFinding(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-30", "1:00")
	apptest.Record(t, a, apptest.Study, "2026-11-30", "1:00")
	apptest.Set(t, a, "engagements", apptest.Study, "discount_amount", "500") // of 80.00
	list := listed(t, a, apptest.Admin.Actor, wip.Filter{})
	study := list.Clients[1].Engagements[0]
	if list.Clients[0].Values[0].String() != "100.00" || study.Value.String() != "80.00" {
		t.Errorf("%+v", list)
	}
	at := slices.IndexFunc(study.Findings, func(f wip.Warning) bool { return f.Code == "refused" })
	_, err := tallied(t, a, apptest.Study)
	if says := apptest.RefusalOf(t, err); at < 0 || study.Findings[at].Remedy != says.Sentence || !strings.HasSuffix(says.Sentence, ".") {
		t.Errorf("%+v; making it says %q", study.Findings, says.Sentence)
	}
}

func TestFiltersOfTheSentence(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-30", "1:00")
	apptest.Record(t, a, apptest.Advice, "2026-11-30", "2:00")
	apptest.Record(t, a, apptest.Study, "2026-11-30", "3:00")
	apptest.Set(t, a, "clients", 2, "industry", "harbours")
	for _, c := range []struct {
		name   string
		actor  app.Actor
		filter wip.Filter
		want   string
	}{
		{"all", apptest.Admin.Actor, wip.Filter{}, "Alder/Advice Alder/Survey Birch/Study"},
		{"of a lead", apptest.Admin.Actor, wip.Filter{LeadID: 3}, "Alder/Survey"},
		{"of a client", apptest.Admin.Actor, wip.Filter{ClientID: 2}, "Birch/Study"},
		{"of a group of clients", apptest.Admin.Actor, wip.Filter{Group: "harbours"}, "Birch/Study"},
		{"worth at least", apptest.Admin.Actor, wip.Filter{AtLeast: "200.00"}, "Alder/Advice Birch/Study"},
		{"worth a cent more", apptest.Admin.Actor, wip.Filter{AtLeast: "200.01"}, "Birch/Study"},
		{"a lead sees their own, whatever is asked", apptest.Lead.Actor, wip.Filter{LeadID: 1}, "Alder/Survey"},
	} {
		if got := names(listed(t, a, c.actor, c.filter)); got != c.want {
			t.Errorf("%s: %s, want %s", c.name, got, c.want)
		}
	}
	_, err := wip.Unbilled(t.Context(), a, apptest.Admin.Actor, wip.Filter{UpTo: november, AtLeast: "much"})
	var refusal *app.Refusal
	if !errors.As(err, &refusal) || refusal.Field != "atLeast" {
		t.Errorf("%v", err)
	}
}

func TestWorkAtNoChargeIsThereAndWorkThatIsNotBillableIsNot(t *testing.T) {
	a := apptest.Firm(t)
	for _, treatment := range []core.Treatment{core.NoCharge, core.NotBillable} {
		in := apptest.Typed(apptest.Survey, "2026-11-30", "1:00")
		in.Treatment = treatment
		if _, err := timekeeping.Record(t.Context(), a, apptest.Staff, in); err != nil {
			t.Fatal(err)
		}
	}
	tally, err := tallied(t, a, apptest.Survey)
	if err != nil || tally.NoCharge[0].String() != "−100.00" || !tally.Net[0].IsZero() {
		t.Errorf("%+v, %v", tally, err)
	}
	list := listed(t, a, apptest.Admin.Actor, wip.Filter{})
	if work := list.Clients[0].Engagements[0]; work.Entries != 1 || !work.Value.IsZero() || work.Standard.String() != "100.00" {
		t.Errorf("%+v", work)
	}
	entries, err := wip.Entries(t.Context(), a, apptest.Admin.Actor, apptest.Survey, wip.Filter{UpTo: november})
	if err != nil || len(entries.Entries) != 1 || entries.Entries[0].Treatment != core.NoCharge || entries.Explanation.Figure != "0.00" {
		t.Errorf("%+v, %v", entries, err)
	}
}

func TestWorkWithoutARateStaysAndSaysSo(t *testing.T) {
	a := apptest.Firm(t)
	err := a.Store.Write(t.Context(), store.Everything, func(tx *store.DB) error {
		e, err := store.Get[store.Engagement](tx, apptest.Advice)
		if err != nil {
			return err
		}
		e.Currency = "NOK" // in which the firm has no rate
		return store.Save(tx, e)
	})
	if err != nil {
		t.Fatal(err)
	}
	entry := apptest.Record(t, a, apptest.Advice, "2026-11-30", "1:00")
	if !entry.WithoutRate || *entry.Value != (money.Amount{Minor: 0, Currency: "NOK"}) {
		t.Errorf("%+v", entry)
	}
	tally, err := tallied(t, a, apptest.Advice)
	if err != nil || tally.WithoutRate != 1 || tally.Drafts != 0 || tally.Entries != 0 {
		t.Errorf("%+v, %v", tally, err)
	}
	apptest.Whole(t, a)
}

func TestTwoCurrenciesAreTwoFigures(t *testing.T) {
	a := apptest.Firm(t)
	perHour := money.Rate(150_0000)
	err := a.Store.Write(t.Context(), store.Everything, func(tx *store.DB) error {
		e, err := store.Get[store.Engagement](tx, apptest.Advice)
		if err != nil {
			return err
		}
		e.Currency = "USD"
		return errors.Join(store.Save(tx, e), store.Insert(tx,
			&store.Rate{Kind: "bill", Level: 1, Currency: "USD", FromDay: day.Of(2026, 1, 1), PerHour: &perHour}))
	})
	if err != nil {
		t.Fatal(err)
	}
	apptest.Record(t, a, apptest.Survey, "2026-11-30", "1:00")
	apptest.Record(t, a, apptest.Advice, "2026-11-30", "1:00")
	list := listed(t, a, apptest.Admin.Actor, wip.Filter{})
	if got := list.Clients[0].Values; len(got) != 2 || got[0] != (money.Amount{Minor: 15000, Currency: "USD"}) ||
		got[1] != (money.Amount{Minor: 10000, Currency: "EUR"}) {
		t.Errorf("%v", got)
	}
	if tally, err := tallied(t, a, 1, 2); err != nil || tally.Drafts != 2 {
		t.Errorf("two currencies on one invoice: %+v, %v", tally, err)
	}
}
