package setup_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/registry"
	"dorvet/internal/app/setup"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

func valueOf(t *testing.T, s *registry.Sheet, field string) registry.SheetValue {
	t.Helper()
	i := slices.IndexFunc(s.Values, func(v registry.SheetValue) bool { return v.Name == field })
	if i < 0 {
		t.Fatalf("%s has no %s", s.Kind, field)
	}
	return s.Values[i]
}

// change sets a field as it is now, and gives the refusal if it was refused.
func change(t *testing.T, a *app.App, r app.Request, kind string, id int64, c registry.Change) *app.Refusal {
	t.Helper()
	_, err := registry.SetField(t.Context(), a, r, kind, []registry.ExpectedVersion{{ID: id, Version: apptest.Sheet(t, a, kind, id).Version}}, c)
	return apptest.RefusalOf(t, err)
}

// Every field of every kind is typed back as it is shown, and nothing changes.
func TestWhatIsShownCanBeTypedBack(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "phases", "engagement", "1", "name", "Field work", "people", "SS LL")
	apptest.Add(t, a, "budgets", "engagement", "1", "measure", "fees", "hours", "12.5", "per_hour", "80.5", "thresholds", "50, 100")
	apptest.Add(t, a, "contacts", "client", "A", "name", "Nia Orme", "mail", "nia@alder.example")
	apptest.Add(t, a, "exchange-rates", "currency", "USD", "day", "2026-11-01", "rate", "0.91234567")
	apptest.Add(t, a, "holidays", "day", "2026-12-25", "name", "Christmas Day")
	for _, kind := range registry.KindNames() {
		rows, err := registry.List(t.Context(), a, apptest.Admin.Actor, kind, registry.ListFilter{Inactive: true})
		if err != nil {
			t.Fatal(err)
		}
		for _, row := range rows {
			before := apptest.Sheet(t, a, kind, row.ID)
			for _, v := range before.Values {
				if v.Locked || v.Inherited {
					continue
				}
				if refusal := change(t, a, apptest.Admin, kind, row.ID, registry.Change{Field: v.Name, Value: v.Value}); refusal != nil &&
					(!v.Needed || v.Value != "") {
					t.Errorf("%s of %s %q typed back: %v", v.Name, kind, v.Value, refusal)
				}
			}
			after := apptest.Sheet(t, a, kind, row.ID)
			for i, v := range after.Values {
				if v.Value != before.Values[i].Value {
					t.Errorf("%s of %s was %q and is %q", v.Name, kind, before.Values[i].Value, v.Value)
				}
			}
		}
	}
}

func TestTheSmallestClientIsAName(t *testing.T) {
	a := apptest.Firm(t)
	first := apptest.Add(t, a, "clients", "name", "Cedar")
	second := apptest.Add(t, a, "clients", "name", "Douglas")
	for id, code := range map[int64]string{first: "C001", second: "C002"} {
		s := apptest.Sheet(t, a, "clients", id)
		for field, want := range map[string]string{"code": code, "currency": "EUR", "status": "current", "opened": "2026-12-01",
			"responsible": "AA", "terms": "30d"} {
			if got := valueOf(t, s, field).Value; got != want {
				t.Errorf("%s of a client is %q, want %q", field, got, want)
			}
		}
	}
	if name := valueOf(t, apptest.Sheet(t, a, "clients", first), "invoice_name").Value; name != "Cedar" {
		t.Errorf("invoices say %q", name)
	}
	steps, err := registry.List(t.Context(), a, apptest.Admin.Actor, "client-steps", registry.ListFilter{Of: first})
	if err != nil || len(steps) != 3 || steps[0].Title != "Contract signed" || steps[0].Cells[1] != "2026-12-08" {
		t.Errorf("%+v, %v", steps, err)
	}
}

func TestInheritedValuesAreOverriddenAndGivenBack(t *testing.T) {
	a := apptest.Firm(t)
	say := func(kind string, id int64, value, from string, own bool) {
		t.Helper()
		if v := valueOf(t, apptest.Sheet(t, a, kind, id), "terms"); v.Value != value || v.From != from || v.Own != own {
			t.Errorf("terms of %s %d are %q %s, own %t; want %q %s", kind, id, v.Value, v.From, v.Own, value, from)
		}
	}
	say("engagements", apptest.Survey, "30d", "the default", false)
	apptest.Set(t, a, "firm", 1, "terms", "eom")
	apptest.Set(t, a, "clients", 1, "terms", "14d")
	say("engagements", apptest.Survey, "14d", "from the client Alder", false)
	say("engagements", apptest.Study, "eom", "from the firm", false)
	apptest.Set(t, a, "engagements", apptest.Survey, "terms", "receipt")
	say("engagements", apptest.Survey, "receipt", "from the engagement Survey", true)
	if r := change(t, a, apptest.Admin, "engagements", apptest.Survey, registry.Change{Field: "terms", GiveBack: true}); r != nil {
		t.Fatal(r)
	}
	say("engagements", apptest.Survey, "14d", "from the client Alder", false)
	if r := change(t, a, apptest.Admin, "clients", 1, registry.Change{Field: "terms", Value: "soon"}); r == nil || r.Field != "terms" {
		t.Errorf("%v", r)
	}
	if r := change(t, a, apptest.Admin, "clients", 1, registry.Change{Field: "tax_code", Value: "Q"}); r == nil ||
		!strings.Contains(r.Sentence, "There is no tax code") {
		t.Errorf("%v", r)
	}
}

// A country proposes the tax; whoever sets it for the client or the engagement
// knows better.
func TestACountryProposesTheTaxCode(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "tax-codes", "code", "AE", "name", "VAT", "category", "AE", "places", "no is")
	apptest.Set(t, a, "clients", 1, "country", "no")
	if v := valueOf(t, apptest.Sheet(t, a, "engagements", apptest.Survey), "tax_code"); v.Value != "AE" ||
		!strings.Contains(v.From, "place") {
		t.Errorf("%+v", v)
	}
	apptest.Set(t, a, "clients", 1, "tax_code", "S")
	if v := valueOf(t, apptest.Sheet(t, a, "engagements", apptest.Survey), "tax_code"); v.Value != "S" {
		t.Errorf("%+v", v)
	}
}

func TestACodeInUseStaysAndWhatHasHistoryIsNotDeleted(t *testing.T) {
	a := apptest.Firm(t)
	if r := change(t, a, apptest.Admin, "clients", 1, registry.Change{Field: "code", Value: "Z9"}); r == nil ||
		!strings.Contains(r.Sentence, "2 engagements use it") {
		t.Errorf("%v", r)
	}
	s := apptest.Sheet(t, a, "clients", 1)
	err := registry.Remove(t.Context(), a, apptest.Admin, "clients", registry.ExpectedVersion{ID: 1, Version: s.Version})
	if r := apptest.RefusalOf(t, err); r == nil || !strings.Contains(r.Sentence, "has 2 engagements") ||
		!strings.Contains(r.Sentence, "Make it inactive instead") {
		t.Errorf("%v", err)
	}
	fresh := apptest.Add(t, a, "clients", "name", "Cedar")
	if r := change(t, a, apptest.Admin, "clients", fresh, registry.Change{Field: "code", Value: "Z9"}); r != nil {
		t.Error(r)
	}
	if r := change(t, a, apptest.Admin, "clients", fresh, registry.Change{Field: "code", Value: "Z 9!"}); r == nil ||
		!strings.Contains(r.Sentence, "letters and digits") {
		t.Errorf("%v", r)
	}
	if err := registry.Remove(t.Context(), a, apptest.Admin, "clients",
		registry.ExpectedVersion{ID: fresh, Version: apptest.Sheet(t, a, "clients", fresh).Version}); err != nil {
		t.Error(err)
	}
	if history, err := a.History(t.Context(), apptest.Admin.Actor, "clients", fresh); err != nil ||
		history[0].Summary != "Deleted the client Cedar" || history[1].Before == history[1].After {
		t.Errorf("%+v, %v", history, err)
	}
}

func TestInactiveMeansHiddenAndClosedToTimeUntilTakenBack(t *testing.T) {
	a := apptest.Firm(t)
	set := func(kind string, id int64, active bool) {
		t.Helper()
		if err := registry.SetActive(t.Context(), a, apptest.Admin, kind,
			registry.ExpectedVersion{ID: id, Version: apptest.Sheet(t, a, kind, id).Version},
			active); err != nil {
			t.Fatal(err)
		}
	}
	for _, c := range []struct {
		kind string
		id   int64
	}{{"clients", 1}, {"engagements", apptest.Survey}} {
		set(c.kind, c.id, false)
		if err := tryToRecord(t, a); err == nil {
			t.Errorf("time is recorded on inactive %s", c.kind)
		}
		rows, err := registry.List(t.Context(), a, apptest.Admin.Actor, c.kind, registry.ListFilter{})
		if err != nil || slices.ContainsFunc(rows, func(r registry.RecordRow) bool { return r.ID == c.id }) {
			t.Errorf("%s: %+v, %v", c.kind, rows, err)
		}
		set(c.kind, c.id, true)
		if err := tryToRecord(t, a); err != nil {
			t.Errorf("taken back: %v", err)
		}
	}
}

func TestTheLastAdministratorStays(t *testing.T) {
	a := apptest.Firm(t)
	if r := change(t, a, apptest.Admin, "people", 1, registry.Change{Field: "role", Value: "staff"}); r == nil ||
		!strings.Contains(r.Sentence, "last administrator") {
		t.Errorf("%v", r)
	}
	err := registry.SetActive(t.Context(), a, apptest.Admin, "people",
		registry.ExpectedVersion{ID: 1, Version: apptest.Sheet(t, a, "people", 1).Version}, false)
	if r := apptest.RefusalOf(t, err); r == nil || r.Kind != app.Conflict {
		t.Errorf("%v", err)
	}
}

func TestChangingBankDetailsIsToldToEveryAdministrator(t *testing.T) {
	a := apptest.Firm(t)
	mails := apptest.Mail(a)
	apptest.Add(t, a, "people", "name", "Abe Admin", "mail", "abe@firm.example", "role", "administrator")
	apptest.Set(t, a, "entities", 1, "iban", "XX00 OTHER")
	for _, person := range []int64{1, 5} {
		notices, err := store.NoticesOf(a.Store.Read(t.Context(), store.Everything), person)
		if err != nil || len(notices) != 1 || notices[0].Sentence != "Ada Admin changed IBAN of Firm. If you do not know why, ask now." {
			t.Errorf("%d: %+v, %v", person, notices, err)
		}
	}
	if err := correspondence.Deliver(t.Context(), a); err != nil || len(mails.All) != 2 || mails.All[0].Subject != "A change that you should know of" {
		t.Errorf("%+v, %v", mails.All, err)
	}
	if history, err := a.History(t.Context(), apptest.Admin.Actor, "entities", 1); err != nil ||
		!strings.Contains(history[0].After, "XX00 OTHER") || !strings.Contains(history[0].Before, "IE57 TEST") {
		t.Errorf("%+v, %v", history[0], err)
	}
}

// Source: the order of lists is the firm's rule (names with leading numbers
// first, by number).
func TestNamesWithNumbersComeFirstByNumber(t *testing.T) {
	names := []string{"Zebra", "12 Fathom", "alder", "3 Quays", "Birch", "3 Anchors"}
	slices.SortFunc(names, registry.CompareNames)
	if got := strings.Join(names, ","); got != "3 Anchors,3 Quays,12 Fathom,alder,Birch,Zebra" {
		t.Error(got)
	}
}

func TestManyAreChangedAtOnceOrNone(t *testing.T) {
	a := apptest.Firm(t)
	seen := []registry.ExpectedVersion{}
	for i := range 3 {
		seen = append(seen, registry.ExpectedVersion{ID: apptest.Add(t, a, "phases", "engagement", "1", "name", fmt.Sprint("Task ", i))})
	}
	if _, err := registry.SetField(t.Context(), a, apptest.Lead, "phases", seen,
		registry.Change{Field: "people", Value: "SS, LL"}); err != nil {
		t.Fatal(err)
	}
	if history, err := a.History(t.Context(), apptest.Admin.Actor, "phases", seen[0].ID); err != nil ||
		!strings.Contains(history[0].After, `"Task 0, Assigned to":"LL SS"`) ||
		!strings.Contains(history[0].After, `"Task 2, Assigned to"`) {
		t.Errorf("%+v, %v", history, err)
	}
	stale := slices.Clone(seen) // the first has changed since
	for i := range seen[1:] {
		stale[i+1].Version = 1
	}
	if _, err := registry.SetField(t.Context(), a, apptest.Lead, "phases", stale,
		registry.Change{Field: "status", Value: "done"}); err == nil {
		t.Error("a stale version was overwritten")
	}
	for _, s := range seen {
		one := apptest.Sheet(t, a, "phases", s.ID)
		if people, status := valueOf(t, one, "people").Value, valueOf(t, one, "status").Value; people != "LL SS" || status != "open" {
			t.Errorf("%s is assigned to %q, %s", one.Title, people, status)
		}
	}
}

// A lead touches only what concerns engagements they lead.
func TestALeadSeesAndChangesOnlyTheirOwn(t *testing.T) {
	a := apptest.Firm(t)
	for kind, want := range map[string]string{"engagements": "Survey", "clients": "Alder"} {
		rows, err := registry.List(t.Context(), a, apptest.Lead.Actor, kind, registry.ListFilter{})
		if err != nil || len(rows) != 1 || rows[0].Title != want {
			t.Errorf("%s: %+v, %v", kind, rows, err)
		}
	}
	for engagement, refused := range map[string]bool{"1": false, "3": true} {
		_, err := registry.AddRecord(t.Context(), a, apptest.Lead, "phases",
			map[string]string{"engagement": engagement, "name": "Field work"})
		if (apptest.RefusalOf(t, err) != nil) != refused {
			t.Errorf("a phase of %s: %v", engagement, err)
		}
	}
	// Nor is one moved there afterwards.
	if r := change(t, a, apptest.Lead, "phases", 1, registry.Change{Field: "engagement", Value: "3"}); r == nil || r.Kind != app.Forbidden {
		t.Errorf("%+v", r)
	}
	if v := valueOf(t, apptest.Sheet(t, a, "phases", 1), "engagement"); v.Value != "1" {
		t.Errorf("the phase is of %s", v.Value)
	}
}

func TestAnEngagementIsCopiedWithItsPartsAndOpenAgain(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Set(t, a, "engagements", apptest.Survey, "due", "2026-03-01")
	apptest.Set(t, a, "engagements", apptest.Survey, "increment", "15")
	apptest.Set(t, a, "engagements", apptest.Survey, "people", "SS")
	phase := apptest.Add(t, a, "phases", "engagement", "1", "name", "Field work", "status", "done", "due", "2026-02-01")
	apptest.Add(t, a, "phases", "engagement", "1", "name", "Line 1", "parent", fmt.Sprint(phase))
	apptest.Add(t, a, "budgets", "engagement", "1", "phase", fmt.Sprint(phase), "hours", "40", "from", "2026-01-01")
	made, err := setup.CopyEngagement(t.Context(), a, apptest.Admin,
		setup.Copied{FromID: apptest.Survey, ClientID: 2, Name: "Survey again", Opened: apptest.Today})
	if err != nil {
		t.Fatal(err)
	}
	s := apptest.Sheet(t, a, "engagements", made.ID)
	// 1 January to 1 December 2026 are 334 days, by which the dates move.
	for field, want := range map[string]string{"client": "B", "due": "2027-01-29", "increment": "15", "people": "SS", "stage": "running",
		"code": "4"} {
		if got := valueOf(t, s, field).Value; got != want {
			t.Errorf("%s of the copy is %q, want %q", field, got, want)
		}
	}
	phases, err := registry.List(t.Context(), a, apptest.Admin.Actor, "phases", registry.ListFilter{Of: made.ID})
	if err != nil || len(phases) != 2 || phases[0].Cells[1] != "open" || phases[1].Cells[0] != "Field work" {
		t.Fatalf("%+v, %v", phases, err)
	}
	budgets, err := setup.Budgets(t.Context(), a, apptest.Admin.Actor, made.ID)
	if err != nil || len(budgets) != 1 || budgets[0].PhaseID != phases[0].ID || budgets[0].Limit != "40:00\u202fh" {
		t.Errorf("%+v, %v", budgets, err)
	}
}

func TestOwnFieldsOfTheFirmAreFilledAndChecked(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "own-fields", "name", "Area", "subject", "engagement", "form", "choice", "choices", "harbour\nestuary")
	apptest.Set(t, a, "engagements", apptest.Survey, "own.Area", "Estuary")
	if v := valueOf(t, apptest.Sheet(t, a, "engagements", apptest.Survey), "own.Area"); v.Value != "estuary" {
		t.Errorf("%+v", v)
	}
	apptest.Add(t, a, "own-fields", "name", "Tide table", "subject", "engagement", "form", "day")
	apptest.Set(t, a, "engagements", apptest.Survey, "own.Tide table", "+1d")
	if v := valueOf(t, apptest.Sheet(t, a, "engagements", apptest.Survey), "own.Tide table"); v.Value != "2026-12-02" {
		t.Errorf("%+v", v)
	}
	if r := change(t, a, apptest.Admin, "engagements", apptest.Survey, registry.Change{Field: "own.Tide table", Value: "neap"}); r == nil ||
		!strings.Contains(r.Sentence, "is no date") {
		t.Errorf("%v", r)
	}
	if r := change(t, a, apptest.Admin, "engagements", apptest.Survey, registry.Change{Field: "own.Area", Value: "moon"}); r == nil ||
		!strings.Contains(r.Sentence, "harbour; estuary") {
		t.Errorf("%v", r)
	}
}

func TestAClosedPeriodIsNotOpenedByAccidentAndTakesNoChange(t *testing.T) {
	a := apptest.Firm(t)
	if r := change(t, a, apptest.Admin, "firm", 1, registry.Change{Field: "closing_day", Value: "2026-12-02"}); r == nil ||
		!strings.Contains(r.Sentence, "has not been yet") {
		t.Errorf("%v", r)
	}
	apptest.Set(t, a, "firm", 1, "closing_day", "2026-11-30")
	if err := tryToRecord(t, a); err == nil || !strings.Contains(err.Error(), "before the closing date") {
		t.Errorf("%v", err)
	}
	if r := apptest.RefusalOf(t, func() error {
		_, err := registry.AddRecord(t.Context(), a, apptest.Admin, "tax-rates",
			map[string]string{"code": "S", "from": "2026-11-01", "percent": "24"})
		return err
	}()); r == nil || r.Field != "from" {
		t.Errorf("%v", r)
	}
}

func TestAnEngagementIsMadeFromATemplateAndAgainEachPeriod(t *testing.T) {
	a := apptest.Firm(t)
	template := apptest.Add(t, a, "engagement-templates", "name", "Yearly survey", "engagement", "1")
	made, err := setup.CopyEngagement(t.Context(), a, apptest.Admin,
		setup.Copied{TemplateID: template, ClientID: 2, Name: "Survey 2027", Opened: apptest.Today})
	if err != nil || valueOf(t, apptest.Sheet(t, a, "engagements", made.ID), "client").Value != "B" {
		t.Errorf("%+v, %v", made, err)
	}
	// The anchor never drifts: 31 January, then 28 February, then 31 March.
	for _, c := range []struct{ renews, opened, today, want string }{
		{"", "2026-01-31", "2026-02-01", ""}, {"month", "2026-01-31", "2026-02-01", "2026-02-28"},
		{"month", "2026-01-31", "2026-03-01", "2026-03-31"},
		{"quarter", "2026-01-31", "2026-03-01", "2026-04-30"}, {"year", "2024-02-29", "2026-03-01", "2027-02-28"},
	} {
		opened, _ := day.Parse(c.opened)
		today, _ := day.Parse(c.today)
		if got := setup.NextPeriod(&store.Engagement{Renews: c.renews, OpenedDay: opened}, today); got.String() != c.want {
			t.Errorf("%+v: %s", c, got)
		}
	}
}
