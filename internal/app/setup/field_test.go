package setup_test

import (
	"strings"
	"testing"

	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// What people type into the fields of every form: what stands there afterwards,
// or what the refusal says.
func TestEveryFormReadsWhatPeopleTypeOrSaysWhatItNeeds(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "people", "name", "Ada Ashe", "mail", "ashe@firm.example")
	for _, c := range []struct{ kind, field, typed, kept, says string }{
		{"clients", "name", "  Two   spaces ", "Two spaces", ""},
		{"clients", "name", " ", "", "name in lists can't be empty"},
		{"clients", "address", "Street 1\nTown", "Street 1\nTown", ""},
		{"clients", "opened", "+7d", "2026-12-08", ""},
		{"clients", "opened", "fri", "2026-12-04", ""},
		{"clients", "ended", "2020-01-01", "", "is before"},
		{"clients", "opened", "", "", ""},
		{"clients", "opened", "31.13.2026", "", "is no date"},
		{"clients", "fiscal_year_end", "02-29", "02-29", ""},
		{"clients", "fiscal_year_end", "2-30", "", "is no day of the year"},
		{"clients", "form", "A Person", "person", ""},
		{"clients", "form", "robot", "", "an organisation; a person; both"},
		{"clients", "status", "Not Again", "not again", ""},
		{"clients", "status", "unknown", "", `there is no client status "unknown"`},
		{"clients", "responsible", "Lea Lead", "LL", ""},
		{"clients", "responsible", "ll", "LL", ""},
		{"clients", "responsible", "", "", ""},
		{"clients", "onboarded", "YES", "yes", ""},
		{"clients", "onboarded", "perhaps", "", "yes; no"},
		{"clients", "country", "no", "NO", ""},
		{"clients", "country", "Norway", "", "two letters"},
		{"clients", "language", "english", "", "two letters"},
		{"clients", "mail", "a@b.example, c@d.example", "a@b.example, c@d.example", ""},
		{"clients", "mail", "nobody", "", "is no mail address"},
		{"clients", "currency", "usd", "USD", ""},
		{"clients", "currency", "dollar", "", "ISO 4217"},
		{"clients", "credit_limit", "20,000", "20000", ""},
		{"clients", "credit_limit", "-1", "", "out of range"},
		{"clients", "discount", "7.5%", "7.5", ""},
		{"clients", "delivery", "by post", "post", ""},
		{"clients", "nonsense", "x", "", `clients have no "nonsense"`},
		{"engagements", "fee", "1,250.5", "1250.50", ""},
		{"engagements", "fee", "1.255", "", "more than 2 decimals"},
		{"engagements", "fee", "", "", ""},
		{"engagements", "arrangement", "non-billable", "non_billable", ""},
		{"engagements", "series", "C credit_note", "", "not one of invoices"},
		{"engagements", "people", "ss, LL", "LL SS", ""},
		{"engagements", "people", "ZZ", "", `there is no person "ZZ"`},
		{"engagements", "credit_limit", "5", "", "engagements have no"},
		{"people", "weekly", "37.5", "37.5", ""},
		{"people", "weekly", "lots", "", "is not a time"},
		{"people", "stand_in", "AA", "", "Nobody can stand in for themselves"},
		{"people", "limited_to", "Firm", "", "the last administrator who is not limited"},
		{"people", "limited_to", "Other Ltd", "", "there is no issuing entity"},
		{"firm", "working_days", "Mon Tue", "Mon Tue", ""},
		{"firm", "working_days", "weekdays", "", "is no day of the week"},
		{"firm", "time_zone", "Moon/Base", "", "is no time zone"},
		{"firm", "currency", "USD", "", "kept by Dorvet"},
		{"series", "next_number", "9", "", "kept by Dorvet"},
		{"tax-codes", "places", "no is", "NO IS", ""},
		{"tax-codes", "places", "Norway", "", "two letters each"},
	} {
		before := valueOrNothing(t, a, c.kind, c.field)
		refusal := change(t, a, apptest.Admin, c.kind, 1, registry.Change{Field: c.field, Value: c.typed})
		now := valueOrNothing(t, a, c.kind, c.field)
		switch {
		case c.says == "" && (refusal != nil || now != c.kept):
			t.Errorf("%s of %s typed %q: %q, %v; want %q", c.field, c.kind, c.typed, now, refusal, c.kept)
		case c.says != "" && (refusal == nil || !strings.Contains(strings.ToLower(refusal.Sentence), strings.ToLower(c.says))):
			t.Errorf("%s of %s typed %q: %v, want %q", c.field, c.kind, c.typed, refusal, c.says)
		case c.says != "" && now != before:
			t.Errorf("%s of %s typed %q was refused, and is %q now", c.field, c.kind, c.typed, now)
		}
	}
}

func valueOrNothing(t *testing.T, a *app.App, kind, field string) string {
	t.Helper()
	for _, v := range apptest.Sheet(t, a, kind, 1).Values {
		if v.Name == field {
			return v.Value
		}
	}
	return ""
}

func TestInitialsAreMadeFreeAndTwoOfOneNameAreNotGuessed(t *testing.T) {
	a := apptest.Firm(t)
	for want, mail := range map[string]string{"AA2": "one@firm.example"} {
		id := apptest.Add(t, a, "people", "name", "Ada Admin", "mail", mail)
		if got := valueOf(t, apptest.Sheet(t, a, "people", id), "initials").Value; got != want {
			t.Errorf("%s, want %s", got, want)
		}
	}
	if r := change(t, a, apptest.Admin, "clients", 1, registry.Change{Field: "responsible", Value: "Ada Admin"}); r == nil ||
		!strings.Contains(r.Sentence, "2 people are called") {
		t.Errorf("%v", r)
	}
}

func TestAnythingOfOneNameOrCodeIsRefusedInWords(t *testing.T) {
	a := apptest.Firm(t)
	for kind, values := range map[string]map[string]string{
		"offices":    {"name": "Pier"},
		"grades":     {"name": "Senior"},
		"rate-cards": {"name": "Public"},
		"clients":    {"name": "Cedar", "code": "Z1"},
		"tax-codes":  {"code": "R", "name": "VAT"},
		"people":     {"name": "Ivo Berg", "mail": "ivo@firm.example"},
		"bundles":    {"name": "Both", "services": "Work"},
	} {
		if _, err := registry.AddRecord(t.Context(), a, apptest.Admin, kind, values); err != nil {
			t.Fatal(err)
		}
		_, err := registry.AddRecord(t.Context(), a, apptest.Admin, kind, values)
		if r := apptest.RefusalOf(t, err); r == nil || !strings.Contains(r.Sentence, "There is another of the") && r.Field != "name" {
			t.Errorf("%s: %v", kind, err)
		}
	}
	_, err := registry.AddRecord(t.Context(), a, apptest.Admin, "clients", map[string]string{"name": "ALDER"})
	if r := apptest.RefusalOf(t, err); !strings.Contains(r.Sentence, "Alder is there already, as A: choose it") {
		t.Errorf("%s", r.Sentence)
	}
	if _, err := registry.AddRecord(t.Context(), a, apptest.Admin, "bundles",
		map[string]string{"name": "Odd", "services": "Nothing"}); apptest.RefusalOf(t, err).Field != "services" {
		t.Errorf("%v", err)
	}
	if _, err := registry.AddRecord(t.Context(), a, apptest.Admin, "dragons", nil); apptest.RefusalOf(t, err).Kind != app.NotFound {
		t.Errorf("%v", err)
	}
}

// New work for whom the firm does not want to work again is made, and said.
func TestNewWorkForAMarkedClientIsSaid(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Set(t, a, "clients", 2, "status", "not again")
	apptest.Add(t, a, "engagements", "client", "B", "name", "Once more")
	read := notices(t, func(id int64) ([]store.Notice, error) {
		return store.NoticesOf(a.Store.Read(t.Context(), store.Everything), id)
	}, 1)
	if len(read) != 1 || !strings.Contains(read[0], "Birch is marked “not again”, and you have opened Once more") {
		t.Errorf("%v", read)
	}
}
