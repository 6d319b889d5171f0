package setup_test

import (
	"errors"
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/apptest"
	"dorvet/internal/store"

	"gorm.io/gorm"
)

func TestSignInDoesNotSayWhichWasWrong(t *testing.T) {
	a := apptest.Firm(t)
	if person, err := setup.SignIn(t.Context(), a, " ADA@firm.example", "open sesame", ""); err != nil || person.Name != "Ada Admin" {
		t.Errorf("%+v, %v", person, err)
	}
	sentences := map[string]bool{}
	for _, c := range [][2]string{{"ada@firm.example", "wrong"}, {"nobody@firm.example", "open sesame"}, {"ada@firm.example", ""}} {
		_, err := setup.SignIn(t.Context(), a, c[0], c[1], "")
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

// Who only finds the address of a server without a firm can't begin one: that takes
// the token which the server printed.
func TestTheFirstStartAsksForItsToken(t *testing.T) {
	data, err := store.Open(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer data.Close()
	a := &app.App{Store: data, Clock: app.PinnedClock{Date: apptest.Today}, SetupToken: "PRINTED"}
	start := setup.Start{Firm: "Firm", Currency: "EUR", TimeZone: "UTC", Mark: "point", Name: "Ada", Mail: "ada@firm.example", Password: "four words in a row"}
	for _, token := range []string{"", "GUESSED", "PRINTE"} {
		start.Token = token
		if _, err := setup.Begin(t.Context(), a, start); err == nil {
			t.Errorf("%q begins a firm", token)
		}
	}
	start.Token = " PRINTED\n"
	if _, err := setup.Begin(t.Context(), a, start); err != nil {
		t.Error(err)
	}
}
