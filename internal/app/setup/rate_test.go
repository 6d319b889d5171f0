package setup_test

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/apptest"
)

func tryToRecord(t *testing.T, a *app.App) error {
	t.Helper()
	_, err := timekeeping.Record(t.Context(), a, apptest.Staff, apptest.Typed(apptest.Survey, "2026-11-30", "1"))
	return err
}

// world is a firm with everything that a rate can hold for, in a test.
func world(t *testing.T) *app.App {
	a := apptest.Firm(t)
	apptest.Add(t, a, "grades", "name", "Senior")
	apptest.Set(t, a, "people", 2, "grade", "Senior")
	apptest.Add(t, a, "services", "name", "Advice", "code", "V")
	phase := apptest.Add(t, a, "phases", "engagement", "1", "name", "Field work")
	apptest.Add(t, a, "phases", "engagement", "1", "name", "Line 1", "parent", fmt.Sprint(phase))
	apptest.Add(t, a, "rate-cards", "name", "Public")
	return a
}

// subjects are all that a rate can be set for, from the least specific to the
// most: the order of the rule (rules of the firm, from firm to person on the
// engagement; in a card service beats person beats grade), written down by hand
// as the second, naive implementation. The card is the client's.
var subjects = []map[string]string{
	{},
	{"service": "W"},
	{"grade": "Senior"},
	{"person": "SS"},
	{"client": "A"},
	{"client": "A", "grade": "Senior"},
	{"client": "A", "person": "SS"},
	{"client": "A", "service": "W"},
	{"engagement": "1"},
	{"engagement": "1", "grade": "Senior"},
	{"engagement": "1", "service": "W"},
	{"phase": "1"},
	{"phase": "2"},
	{"engagement": "1", "person": "SS"},
}

// others concern somebody or something else and never count here.
var others = []map[string]string{{"person": "LL"}, {"client": "B"}, {"engagement": "2"}, {"service": "V"},
	{"engagement": "1", "person": "LL"}, {"kind": "cost"}, {"currency": "USD"}}

func TestTheMostSpecificRateThatHasBegunWinsAgainstANaiveSearch(t *testing.T) {
	cases := 40
	if testing.Short() {
		cases = 6
	}
	random := rand.New(rand.NewPCG(3, 4))
	for n := range cases {
		a := world(t)
		on, best, from := day.Of(2026, 11, 30), "100.00", "" // the firm's own rate, that the test's firm has
		asked := []map[string]string{}
		for level, subject := range subjects {
			latest := ""
			for _, begins := range []string{"2026-02-01", "2026-07-01", "2026-11-30", "2026-12-01"} {
				if random.IntN(3) != 0 {
					continue
				}
				perHour := fmt.Sprintf("%d.%02d", 101+level, random.IntN(100))
				row := map[string]string{"per_hour": perHour, "from": begins}
				for name, value := range subject {
					row[name] = value
				}
				if asked = append(asked, row); begins <= on.String() && begins > latest {
					latest, best, from = begins, perHour, begins
				}
			}
		}
		for i, other := range others {
			row := map[string]string{"per_hour": fmt.Sprint(900 + i), "from": "2026-03-01"}
			for name, value := range other {
				row[name] = value
			}
			asked = append(asked, row)
		}
		random.Shuffle(len(asked), func(i, j int) { asked[i], asked[j] = asked[j], asked[i] })
		for _, row := range asked {
			if _, err := registry.AddRecord(t.Context(), a, apptest.Admin, "rates", row); err != nil {
				t.Fatalf("%v: %v", row, err)
			}
		}
		price, err := setup.AskRate(t.Context(), a, apptest.Admin.Actor,
			setup.Asked{PersonID: 2, EngagementID: apptest.Survey, ServiceID: 1, PhaseID: 2, Day: on})
		if err != nil || price.Billed.PerHour != best {
			t.Fatalf("case %d: an hour costs %s by %s, want %s since %s; of %v; %v", n, price.Billed.PerHour, price.Billed.Source, best,
				from,
				asked, err)
		}
		for _, beaten := range price.Billed.Beaten {
			if strings.HasPrefix(beaten.PerHour, "9") || beaten.From > on {
				t.Errorf("case %d: %+v is beaten, and never counted", n, beaten)
			}
		}
	}
}

func TestARateCardHoldsWhereItIsNamed(t *testing.T) {
	a := world(t)
	apptest.Add(t, a, "rates", "card", "Public", "grade", "Senior", "per_hour", "70", "from", "2026-01-01")
	apptest.Add(t, a, "rates", "card", "Public", "person", "SS", "per_hour", "75", "from", "2026-06-01")
	apptest.Add(t, a, "rates", "client", "A", "per_hour", "90", "from", "2026-01-01")
	ask := func(engagement int64, on day.Day) string {
		t.Helper()
		price, err := setup.AskRate(t.Context(), a, apptest.Admin.Actor,
			setup.Asked{PersonID: 2, EngagementID: engagement, ServiceID: 1, Day: on})
		if err != nil {
			t.Fatal(err)
		}
		return price.Billed.PerHour + " " + price.Billed.Source
	}
	april, today := day.Of(2026, 4, 1), apptest.Today
	for _, c := range []struct{ before, want string }{
		{"", "90.00 the client Alder"},
		{"clients", "75.00 the client Sam Staff, card Public"},
	} {
		if c.before != "" {
			apptest.Set(t, a, c.before, 1, "rate_card", "public")
		}
		if got := ask(apptest.Survey, today); got != c.want {
			t.Errorf("%q, want %q", got, c.want)
		}
	}
	if got := ask(apptest.Survey, april); got != "70.00 the client Senior, card Public" {
		t.Errorf("in April %q", got)
	}
	if got := ask(apptest.Study, today); got != "80.00 the client Birch" {
		t.Errorf("another client %q", got)
	}
	// None from a day on: the next one holds.
	apptest.Add(t, a, "rates", "card", "Public", "person", "SS", "per_hour", "none", "from", "2026-11-01")
	if got := ask(apptest.Survey, today); got != "70.00 the client Senior, card Public" {
		t.Errorf("after none %q", got)
	}
}

func TestRatesThatMakeNoSenseAreRefused(t *testing.T) {
	a := world(t)
	for _, c := range []struct {
		row  map[string]string
		says string
	}{
		{map[string]string{"person": "SS", "grade": "Senior", "per_hour": "1"}, "Give one of grade, person and service"},
		{map[string]string{"client": "A", "engagement": "1", "per_hour": "1"}, "leave the client out"},
		{map[string]string{"kind": "cost", "client": "A", "per_hour": "1"}, "A cost rate holds for"},
		{map[string]string{"kind": "cost", "currency": "USD", "per_hour": "1"}, "Costs are in the firm's currency"},
		{map[string]string{"card": "Public", "per_hour": "1"}, "by grade, person or service"},
		{map[string]string{"per_hour": "1", "from": "2026-01-01"}, "There is such a rate from 1 Jan 2026 already"},
		{map[string]string{"person": "SS"}, "An hour is missing"},
		{map[string]string{"person": "SS", "per_hour": "-5"}, "is negative"},
		{map[string]string{"currency": "EURO", "per_hour": "1"}, "is not a currency"},
	} {
		_, err := registry.AddRecord(t.Context(), a, apptest.Admin, "rates", c.row)
		if r := apptest.RefusalOf(t, err); r == nil || !strings.Contains(r.Sentence, c.says) {
			t.Errorf("%v: %v, want %q", c.row, r, c.says)
		}
	}
}

// A rate for the future leaves the past alone; re-rating is an act of its own,
// shows every entry before and after, and is undone as one.
func TestReRatingShowsWhatItDoesAndIsUndoneAsOne(t *testing.T) {
	a := world(t)
	november, december := apptest.Record(t, a, apptest.Survey, "2026-11-30", "1:30"),
		apptest.Record(t, a, apptest.Survey, "2026-12-01", "2")
	apptest.Add(t, a, "rates", "engagement", "1", "per_hour", "120", "from", "2026-12-01")
	asked := timekeeping.Rerating{EngagementID: apptest.Survey, From: day.Of(2026, 11, 1), To: apptest.Today}
	preview, err := timekeeping.PreviewRerating(t.Context(), a, apptest.Admin.Actor, asked)
	if err != nil {
		t.Fatal(err)
	}
	// 1.5 h stay at 100.00; 2 h × 120.00 = 240.00 in place of 200.00.
	if preview.Same != 1 || len(preview.Entries) != 1 || preview.Entries[0].ID != december.ID || preview.Before.String() != "200.00" ||
		preview.After.String() != "240.00" {
		t.Errorf("%+v", preview)
	}
	value := func(id int64) string {
		t.Helper()
		entry, err := timekeeping.One(t.Context(), a, apptest.Admin.Actor, id)
		if err != nil {
			t.Fatal(err)
		}
		return entry.Value.String()
	}
	if value(december.ID) != "200.00" {
		t.Error("the preview, or the new rate alone, changed an entry")
	}
	done, err := timekeeping.Rerate(t.Context(), a, apptest.Admin, asked)
	if err != nil || value(december.ID) != "240.00" || value(november.ID) != "150.00" {
		t.Fatalf("%+v, %v", done, err)
	}
	apptest.Whole(t, a)
	if err := timekeeping.UndoRerating(t.Context(), a, apptest.Admin, done.ActID, apptest.Survey); err != nil ||
		value(december.ID) != "200.00" {
		t.Errorf("%v, %s", err, value(december.ID))
	}
	apptest.Whole(t, a)
	if err := timekeeping.UndoRerating(t.Context(), a, apptest.Admin, done.ActID, apptest.Survey); err == nil {
		t.Error("undone twice")
	}
}

// The first rate of anybody holds from ever; a later one from today, unless a day is given.
func TestTheFirstRateHoldsFromEver(t *testing.T) {
	a := apptest.Firm(t)
	from := func(values ...string) string {
		id := apptest.Add(t, a, "rates", values...)
		for _, v := range apptest.Sheet(t, a, "rates", id).Values {
			if v.Name == "from" {
				return v.Value
			}
		}
		return "none"
	}
	for _, c := range []struct{ want, kind, day string }{{"2000-01-01", "bill", ""}, {"2026-12-01", "bill", ""}, {"2000-01-01", "cost", ""},
		{"2026-06-01", "cost", "2026-06-01"}} {
		values := []string{"person", "SS", "kind", c.kind, "per_hour", "99"}
		if c.day != "" {
			values = append(values, "from", c.day)
		}
		if got := from(values...); got != c.want {
			t.Errorf("%s: from %s, want %s", c.kind, got, c.want)
		}
	}
	if r := change(t, a, apptest.Admin, "rates", 1, registry.Change{Field: "from", Value: ""}); r == nil || r.Field != "from" {
		t.Errorf("the day of a rate that is there: %+v", r)
	}
}
