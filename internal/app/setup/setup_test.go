package setup_test

import (
	"errors"
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/worktime"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/apptest"
	"dorvet/internal/store"

	"gorm.io/gorm"
)

func TestSignInDoesNotSayWhichWasWrong(t *testing.T) {
	a := apptest.Firm(t)
	if person, err := setup.SignIn(t.Context(), a, " ADA@firm.example", "open sesame"); err != nil || person.Name != "Ada Admin" {
		t.Errorf("%+v, %v", person, err)
	}
	sentences := map[string]bool{}
	for _, c := range [][2]string{{"ada@firm.example", "wrong"}, {"nobody@firm.example", "open sesame"}, {"ada@firm.example", ""}} {
		_, err := setup.SignIn(t.Context(), a, c[0], c[1])
		var refusal *app.Refusal
		if !errors.As(err, &refusal) || refusal.Kind != app.Forbidden {
			t.Fatalf("%v: %v", c, err)
		}
		sentences[refusal.Sentence] = true
	}
	if len(sentences) != 1 {
		t.Errorf("the answers differ: %v", sentences)
	}
}

func TestPasswordsAreKeptAsArgon2idOfTheirOwnSalt(t *testing.T) {
	first, err := setup.HashPassword("the same")
	if err != nil {
		t.Fatal(err)
	}
	second, _ := setup.HashPassword("the same")
	if first == second || !strings.HasPrefix(first, "$argon2id$v=19$m=19456,t=2,p=1$") || strings.Contains(first, "the same") {
		t.Errorf("%s and %s", first, second)
	}
}

func TestWhoLeftIsNobody(t *testing.T) {
	a := apptest.Firm(t)
	err := a.Store.Write(t.Context(), func(tx *gorm.DB) error {
		person, err := store.Get[store.Person](tx, 2)
		if err != nil {
			return err
		}
		person.Active = false
		return store.Save(tx, person)
	})
	if err != nil {
		t.Fatal(err)
	}
	if _, _, err := setup.Actor(t.Context(), a, 2); err == nil {
		t.Error("still somebody")
	}
	if _, err := setup.SignIn(t.Context(), a, "sam@firm.example", "open sesame"); err == nil {
		t.Error("still signs in")
	}
}

func TestTheMoreSpecificValueHolds(t *testing.T) {
	six, code := 15, int64(7)
	firm := &store.Firm{IncrementMinutes: 6, Rounding: worktime.Up, MinimumMinutes: 0, Terms: "30d", TaxCodeID: 1}
	client, plain := &store.Client{Terms: "eom", TaxCodeID: &code}, &store.Client{}
	own := &store.Engagement{IncrementMinutes: &six, Rounding: worktime.Nearest, MinimumMinutes: &six, Terms: "receipt"}
	if rule := setup.Rule(firm, own); rule != (worktime.Rule{Increment: 15, Rounding: worktime.Nearest, Minimum: 15}) {
		t.Errorf("%+v", rule)
	}
	if rule := setup.Rule(firm, &store.Engagement{}); rule != (worktime.Rule{Increment: 6, Rounding: worktime.Up}) {
		t.Errorf("%+v", rule)
	}
	got := []string{setup.Terms(firm, client, own), setup.Terms(firm, client, &store.Engagement{}), setup.Terms(firm, plain, &store.Engagement{})}
	if strings.Join(got, " ") != "receipt eom 30d" {
		t.Errorf("%v", got)
	}
	if a, b := setup.TaxCode(firm, client, own), setup.TaxCode(firm, plain, own); a != 7 || b != 1 {
		t.Errorf("%d %d", a, b)
	}
}

func TestTheLatestExchangeRateCounts(t *testing.T) {
	a := apptest.Firm(t)
	err := a.Store.Write(t.Context(), func(tx *gorm.DB) error {
		return store.Insert(tx, []store.ExchangeRate{{Currency: "USD", Day: day.Of(2026, 11, 1), Rate: 90_000_000, Source: "bank"}, {Currency: "USD", Day: day.Of(2026, 12, 1), Rate: 95_000_000, Source: "bank"}})
	})
	if err != nil {
		t.Fatal(err)
	}
	firm, tx := &store.Firm{Currency: "EUR"}, a.Store.Read(t.Context())
	rate, source, err := setup.Exchange(tx, firm, "USD", day.Of(2026, 11, 30))
	if err != nil || rate != 90_000_000 || source != "bank, 2026-11-01" {
		t.Errorf("%d, %q, %v", rate, source, err)
	}
	if rate, _, err := setup.Exchange(tx, firm, "EUR", apptest.Today); err != nil || rate != money.Par {
		t.Errorf("%d, %v", rate, err)
	}
	if _, _, err := setup.Exchange(tx, firm, "USD", day.Of(2026, 10, 31)); err == nil {
		t.Error("a rate from the future counts")
	}
}

func TestAClientInNoCurrencyIsRefused(t *testing.T) {
	a := apptest.Firm(t)
	for field, record := range map[string]store.Client{"currency": {Code: "X", Currency: "EURO"}, "terms": {Code: "X", Currency: "EUR", Terms: "soon"}} {
		_, err := setup.Add(t.Context(), a, apptest.Admin, "a client", record)
		var refusal *app.Refusal
		if !errors.As(err, &refusal) || refusal.Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
}
