package setup_test

import (
	"strings"
	"testing"

	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/registry"
	"dorvet/internal/apptest"
)

// abe is a second administrator.
func abe(t *testing.T, a *app.App) app.Request {
	t.Helper()
	id := apptest.Add(t, a, "people", "name", "Abe Admin", "mail", "abe@firm.example", "role", "administrator")
	return app.Request{Actor: app.Actor{PersonID: id, Role: app.Administrator, Proved: true}}
}

func set(t *testing.T, a *app.App, r app.Request, kind string, id int64, field, value string) (registry.Kept, error) {
	t.Helper()
	return registry.SetField(t.Context(), a, r, kind, []registry.ExpectedVersion{{ID: id, Version: apptest.Sheet(t, a, kind, id).Version}},
		registry.Change{Field: field, Value: value})
}

func TestWhatLeadsMoneyOrSightAstrayAsksForThePassword(t *testing.T) {
	a := apptest.Firm(t)
	unproved := apptest.Admin
	unproved.Actor.Proved = false
	for field, kind := range map[string]string{"iban": "entities", "bic": "entities", "bank_name": "entities", "role": "people",
		"limited_to": "people", "sees_rates": "people", "sees_times": "people", "mail": "people", "two_agree": "firm",
		"idle_minutes": "firm",
		"refund_proof": "firm"} {
		_, err := set(t, a, unproved, kind, 1, field, "1")
		if r := apptest.RefusalOf(t, err); r == nil || r.Kind != app.Unproved {
			t.Errorf("%s of %s: %v", field, kind, err)
		}
	}
	if _, err := set(t, a, unproved, "entities", 1, "address", "Quay 1"); err != nil {
		t.Error(err)
	}
	_, err := registry.AddRecord(t.Context(), a, unproved, "people",
		map[string]string{"name": "Eve", "mail": "eve@firm.example", "role": "administrator"})
	if r := apptest.RefusalOf(t, err); r == nil || r.Kind != app.Unproved {
		t.Errorf("a new administrator: %v", err)
	}
	if _, err := registry.AddRecord(t.Context(), a, unproved, "people",
		map[string]string{"name": "Eve", "mail": "eve@firm.example", "role": "staff"}); err != nil {
		t.Errorf("new staff: %v", err)
	}
	rows := registry.Incoming{Kind: "people", Name: "people.csv", Header: []string{"Name", "Mail", "Role"},
		Rows: [][]string{{"Mal", "mal@firm.example", "administrator"}}, Cell: func(s string) (string, bool) { return s, false }}
	if _, err := registry.Import(t.Context(), a, unproved, rows); err == nil || !strings.Contains(err.Error(), "password once more") {
		t.Errorf("an administrator out of a file: %v", err)
	}
}

func TestASecondAdministratorAgreesWhereTheFirmWantsIt(t *testing.T) {
	a := apptest.Firm(t)
	_, err := set(t, a, apptest.Admin, "firm", 1, "two_agree", "yes")
	if r := apptest.RefusalOf(t, err); r == nil || !strings.Contains(r.Sentence, "nobody could agree") {
		t.Errorf("with one administrator: %v", err)
	}
	second := abe(t, a)
	apptest.Set(t, a, "firm", 1, "two_agree", "yes")
	kept, err := set(t, a, apptest.Admin, "entities", 1, "iban", "DE02120300000000202051")
	if err != nil || !kept.Waits || valueOf(t, apptest.Sheet(t, a, "entities", 1), "iban").Value == "DE02120300000000202051" {
		t.Fatalf("%+v, %v", kept, err)
	}
	waiting, err := registry.Waiting(t.Context(), a, second.Actor)
	if err != nil || len(waiting) != 1 || waiting[0].What != "IBAN of Firm" || waiting[0].After != "DE02120300000000202051" ||
		waiting[0].By != "Ada Admin" || waiting[0].Own {
		t.Fatalf("%+v, %v", waiting, err)
	}
	one := waiting[0]
	if err := registry.AnswerChange(t.Context(), a, apptest.Admin, one.ID, one.Version, true); err == nil ||
		!strings.Contains(err.Error(), "yourself") {
		t.Errorf("agreed by who proposed it: %v", err)
	}
	if err := registry.AnswerChange(t.Context(), a, second, one.ID, one.Version, true); err != nil {
		t.Fatal(err)
	}
	if now := valueOf(t, apptest.Sheet(t, a, "entities", 1), "iban").Value; now != "DE02120300000000202051" {
		t.Errorf("%q", now)
	}
	if err := registry.AnswerChange(t.Context(), a, second, one.ID, one.Version, true); err == nil {
		t.Error("agreed twice")
	}
	// The rule itself can't be taken away by one of them, nor gone around.
	if kept, err := set(t, a, second, "firm", 1, "two_agree", "no"); err != nil || !kept.Waits {
		t.Errorf("%+v, %v", kept, err)
	}
	if _, err := registry.AddRecord(t.Context(), a, second, "people",
		map[string]string{"name": "Eve", "mail": "eve@firm.example", "role": "administrator"}); err == nil ||
		!strings.Contains(err.Error(), "second administrator has to agree") {
		t.Errorf("a third administrator: %v", err)
	}
	err = registry.SetActive(t.Context(), a, apptest.Admin, "people",
		registry.ExpectedVersion{ID: second.Actor.PersonID, Version: apptest.Sheet(t, a, "people", second.Actor.PersonID).Version}, false)
	if r := apptest.RefusalOf(t, err); r == nil || !strings.Contains(r.Sentence, "one alone") {
		t.Errorf("the second administrator goes: %v", err)
	}
	apptest.Whole(t, a)
}

func TestAChangeThatWaitedTooLongIsNotMade(t *testing.T) {
	a := apptest.Firm(t)
	second := abe(t, a)
	apptest.Set(t, a, "firm", 1, "two_agree", "yes")
	for _, iban := range []string{"FIRST", "SECOND"} {
		if _, err := set(t, a, apptest.Admin, "entities", 1, "iban", iban); err != nil {
			t.Fatal(err)
		}
	}
	waiting, err := registry.Waiting(t.Context(), a, second.Actor)
	if err != nil || len(waiting) != 2 {
		t.Fatal(waiting, err)
	}
	if err := registry.AnswerChange(t.Context(), a, second, waiting[1].ID, 0, true); err != nil {
		t.Fatal(err)
	}
	if err := registry.AnswerChange(t.Context(), a, second, waiting[0].ID, 0, true); err == nil ||
		!strings.Contains(err.Error(), "changed since") {
		t.Errorf("%v", err)
	}
	if err := registry.AnswerChange(t.Context(), a, second, waiting[0].ID, 0, false); err != nil ||
		valueOf(t, apptest.Sheet(t, a, "entities", 1), "iban").Value != "SECOND" {
		t.Errorf("%v", err)
	}
}

// Somebody limited makes people within their limits, and lifts nobody's, least their own.
func TestNobodyLiftsALimit(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "entities", "name", "Other", "legal_name", "Other Ltd")
	id := apptest.Add(t, a, "people", "name", "Lim Admin", "mail", "lim@firm.example", "role", "administrator", "limited_to", "Firm")
	limited := app.Request{Actor: app.Actor{PersonID: id, Role: app.Administrator, Entities: []int64{1}, Proved: true}}
	for _, text := range []string{"", "Other", "Firm\nOther"} {
		if _, err := set(t, a, limited, "people", id, "limited_to", text); err == nil {
			t.Errorf("their own limit becomes %q", text)
		}
	}
	if _, err := set(t, a, limited, "people", 2, "role", "administrator"); apptest.RefusalOf(t, err) == nil ||
		apptest.RefusalOf(t, err).Kind != app.Forbidden {
		t.Errorf("the role of somebody who is not limited: %v", err)
	}
	made, err := registry.AddRecord(t.Context(), a, limited, "people",
		map[string]string{"name": "Mia Made", "mail": "mia@firm.example", "role": "administrator"})
	if err != nil || valueOf(t, apptest.Sheet(t, a, "people", made.ID), "limited_to").Value != "Firm" {
		t.Errorf("%+v, %v", made, err)
	}
	if _, err := set(t, a, limited, "people", made.ID, "limited_to", ""); apptest.RefusalOf(t, err) == nil {
		t.Errorf("whom they made is no more limited: %v", err)
	}
}

// Whoever is made to sign in under another address hears of it at both.
func TestAChangedAddressIsToldAtBoth(t *testing.T) {
	a := apptest.Firm(t)
	mails := apptest.Mail(a)
	apptest.Set(t, a, "people", 2, "mail", "other@firm.example")
	if err := correspondence.Deliver(t.Context(), a); err != nil {
		t.Fatal(err)
	}
	told := map[string]bool{}
	for _, mail := range mails.All {
		told[mail.To.Address] = true
	}
	if len(mails.All) != 3 || !told["sam@firm.example"] || !told["other@firm.example"] || !told["ada@firm.example"] {
		t.Errorf("%+v", mails.All)
	}
}
