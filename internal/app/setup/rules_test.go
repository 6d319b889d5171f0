package setup_test

import (
	"slices"
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/internal/app/registry"
	"dorvet/internal/app/setup"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// What each kind refuses to be, with the field that it belongs to.
func TestRecordsThatMakeNoSenseAreRefusedInTheirField(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "phases", "engagement", "1", "name", "Field work")
	apptest.Add(t, a, "phases", "engagement", "1", "name", "Line 1", "parent", "1")
	apptest.Add(t, a, "phases", "engagement", "3", "name", "Elsewhere")
	gone := apptest.Add(t, a, "clients", "name", "Gone", "code", "G")
	if err := registry.SetActive(t.Context(), a, apptest.Admin, "clients", registry.ExpectedVersion{ID: gone}, false); err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		kind, field, says string
		typed             map[string]string
	}{
		{"engagements", "client", "Client is missing", map[string]string{"name": "Work"}},
		{"engagements", "name", "Name is missing", map[string]string{"client": "A"}},
		{"engagements", "client", "Gone is inactive", map[string]string{"client": "G", "name": "Work"}},
		{"engagements", "closed", "when it was opened", map[string]string{"client": "A", "name": "Work", "opened": "2026-12-01",
			"closed": "2026-11-30"}},
		{"engagements", "code", "letters and digits", map[string]string{"client": "A", "name": "Work", "code": "E 1"}},
		{"phases", "parent", "is a task itself", map[string]string{"engagement": "1", "name": "Deeper", "parent": "2"}},
		{"phases", "parent", "another engagement", map[string]string{"engagement": "1", "name": "Crossed", "parent": "3"}},
		{"budgets", "phase", "another engagement", map[string]string{"engagement": "1", "hours": "5", "phase": "3"}},
		{"budgets", "measure", "whole engagement",
			map[string]string{"engagement": "1", "measure": "invoiced", "amount": "5", "phase": "1"}},
		{"exchange-rates", "currency", "own currency", map[string]string{"currency": "EUR", "day": "2026-12-01", "rate": "1"}},
		{"exchange-rates", "rate", "more than zero", map[string]string{"currency": "USD", "day": "2026-12-01", "rate": "0"}},
		{"tax-rates", "percent", "out of range", map[string]string{"code": "S", "from": "2027-01-01", "percent": "101"}},
		{"contacts", "copies", "no mail address", map[string]string{"client": "A", "name": "Nia", "copies": "one, two"}},
		{"people", "mail", "no mail address", map[string]string{"name": "Ivo", "mail": "ivo"}},
		{"people", "entity", "no issuing entity", map[string]string{"name": "Ivo", "mail": "ivo@firm.example", "entity": "Other"}},
		{"holidays", "day", "is no date", map[string]string{"day": "Christmas", "name": "Christmas"}},
		{"firm", "", "one firm", map[string]string{"name": "Second"}},
	} {
		_, err := registry.AddRecord(t.Context(), a, apptest.Admin, c.kind, c.typed)
		if r := apptest.RefusalOf(t, err); r == nil || r.Field != c.field || !strings.Contains(r.Sentence, c.says) {
			t.Errorf("%s %v: %+v, want %q in %q", c.kind, c.typed, r, c.says, c.field)
		}
	}
}

func TestACopyForAClientInAnotherCurrencyLeavesMoneyBehind(t *testing.T) {
	a := apptest.Firm(t)
	abroad := apptest.Add(t, a, "clients", "name", "Fjord", "code", "F", "currency", "NOK")
	apptest.Set(t, a, "engagements", apptest.Survey, "fee", "5000")
	apptest.Set(t, a, "engagements", apptest.Survey, "reference", "PO 1")
	apptest.Add(t, a, "budgets", "engagement", "1", "measure", "fees", "amount", "5000", "from", "2026-01-01")
	made, err := setup.CopyEngagement(t.Context(), a, apptest.Admin,
		setup.Copied{FromID: apptest.Survey, ClientID: abroad, Name: "Survey abroad", Opened: apptest.Today})
	if err != nil {
		t.Fatal(err)
	}
	s := apptest.Sheet(t, a, "engagements", made.ID)
	for field, want := range map[string]string{"currency": "NOK", "fee": "", "reference": "", "client": "F"} {
		if got := valueOf(t, s, field).Value; got != want {
			t.Errorf("%s of the copy is %q, want %q", field, got, want)
		}
	}
	if budgets, err := setup.Budgets(t.Context(), a, apptest.Admin.Actor, made.ID); err != nil || len(budgets) != 0 {
		t.Errorf("a budget in euros on work in kroner: %+v, %v", budgets, err)
	}
}

// 10 h in 20 working days and 4 h left are 8 working days: from Tuesday 1
// December to Friday the 11th, which is after the 10th and before the 12th.
func TestABudgetThatEndsBeforeTheWorkIsSaid(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "budgets", "engagement", "1", "hours", "14", "from", "2026-01-01")
	apptest.Record(t, a, apptest.Survey, "2026-11-30", "10:00")
	for due, late := range map[string]bool{"2026-12-10": false, "2026-12-12": true, "": false} {
		apptest.Set(t, a, "engagements", apptest.Survey, "due", due)
		views, err := setup.Budgets(t.Context(), a, apptest.Admin.Actor, apptest.Survey)
		if err != nil || views[0].Exhausted != day.Of(2026, 12, 11) || views[0].Late != late {
			t.Errorf("due %q: used up %s, late %t; %v", due, views[0].Exhausted, views[0].Late, err)
		}
	}
	apptest.Add(t, a, "holidays", "day", "2026-12-08", "name", "A holiday")
	if views, err := setup.Budgets(t.Context(), a, apptest.Admin.Actor, apptest.Survey); err != nil ||
		views[0].Exhausted != day.Of(2026, 12, 14) {
		t.Errorf("with a holiday: %+v, %v", views, err)
	}
}

func TestTheFormOfAKindSaysWhatANewOneHas(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "own-fields", "name", "Area", "subject", "engagement")
	form, err := registry.Describe(t.Context(), a, apptest.Admin.Actor, "engagements")
	if err != nil {
		t.Fatal(err)
	}
	defaults := map[string]string{}
	for _, f := range form.Fields {
		defaults[f.Name] = f.Default
	}
	for field, want := range map[string]string{"arrangement": "hourly", "opened": "2026-12-01", "code": "4", "lead": "AA",
		"billable": "yes"} {
		if defaults[field] != want {
			t.Errorf("%s begins as %q, want %q", field, defaults[field], want)
		}
	}
	for _, field := range []string{"terms", "own.Area"} {
		if _, there := defaults[field]; !there {
			t.Errorf("an engagement says nothing of %s", field)
		}
	}
	if !slices.Equal(form.First, []string{"client", "name", "arrangement"}) {
		t.Errorf("a new engagement asks %v", form.First)
	}
}

func TestTheIndexCountsWhatIsActive(t *testing.T) {
	a := apptest.Firm(t)
	office := apptest.Add(t, a, "offices", "name", "Pier")
	apptest.Add(t, a, "offices", "name", "Quay")
	if err := registry.SetActive(t.Context(), a, apptest.Admin, "offices", registry.ExpectedVersion{ID: office}, false); err != nil {
		t.Fatal(err)
	}
	rooms, err := registry.Index(t.Context(), a, apptest.Admin.Actor)
	if err != nil {
		t.Fatal(err)
	}
	counts := map[string]int{}
	for _, room := range rooms {
		for _, k := range room.Kinds {
			counts[k.Name] = k.Count
			if k.About == "" {
				t.Errorf("nothing is said of %s", k.Many)
			}
		}
	}
	for kind, want := range map[string]int{"offices": 1, "people": 4, "clients": 2, "engagements": 3, "rates": 2} {
		if counts[kind] != want {
			t.Errorf("%d %s, want %d", counts[kind], kind, want)
		}
	}
}

// What is typed to find something is taken as it is, also the signs that SQL
// gives a meaning.
func TestFindTakesSignsAsTheyAre(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "clients", "name", "100% Wool_Works", "code", "P1")
	for text, want := range map[string]int{"100%": 1, "l_W": 1, "%": 1, "_": 1, "Z%": 0, `\`: 0, "'": 0, "wool": 1} {
		found, err := store.Find(a.Store.Read(t.Context(), store.Everything), text)
		if err != nil || len(found) != want {
			t.Errorf("%q finds %+v, %v", text, found, err)
		}
	}
}
