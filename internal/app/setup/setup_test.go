package setup_test

import (
	"slices"
	"testing"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

func TestTheLatestExchangeRateCounts(t *testing.T) {
	a := apptest.Firm(t)
	err := a.Store.Write(t.Context(), store.Everything, func(tx *store.DB) error {
		return store.Insert(tx, []store.ExchangeRate{{Currency: "USD", Day: day.Of(2026, 11, 1), Rate: 90_000_000, Source: "bank"},
			{Currency: "USD", Day: day.Of(2026, 12, 1), Rate: 95_000_000, Source: "bank"}})
	})
	if err != nil {
		t.Fatal(err)
	}
	firm, tx := &store.Firm{Currency: "EUR"}, a.Store.Read(t.Context(), store.Everything)
	rate, source, err := setup.Exchange(tx, firm, "USD", day.Of(2026, 11, 30))
	if err != nil || rate != 90_000_000 || source != "bank, 1 Nov 2026" {
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
	start := setup.Start{Firm: "Firm", Currency: "EUR", TimeZone: "UTC", Mark: "point", Name: "Ada", Mail: "ada@firm.example",
		Password: "four words in a row"}
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

func TestTheFirmIsBegunOnce(t *testing.T) {
	a := apptest.Firm(t)
	_, err := setup.Begin(t.Context(), a, setup.Start{Firm: "Other", Currency: "EUR", TimeZone: "UTC", Mark: "point", Name: "Eve",
		Mail: "eve@firm.example", Password: "long enough, Eve"})
	if r := apptest.RefusalOf(t, err); r == nil || r.Kind != app.Conflict {
		t.Errorf("%v", err)
	}
}

func TestAFirstStartIsRefusedInItsField(t *testing.T) {
	data, err := store.Open(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { data.Close() })
	a := &app.App{Store: data, Clock: app.PinnedClock{Date: apptest.Today}}
	good := setup.Start{Firm: "Tern", Currency: "eur", TimeZone: "UTC", Mark: "comma", TaxName: "VAT", TaxPercent: "13,5", Name: "Ada",
		Mail: "ada@tern.example", Password: "long enough, Ada"}
	for field, spoil := range map[string]func(*setup.Start){
		"firm": func(s *setup.Start) { s.Firm = " " }, "currency": func(s *setup.Start) { s.Currency = "EURO" },
		"time_zone": func(s *setup.Start) { s.TimeZone = "Moon" },
		"mark":      func(s *setup.Start) { s.Mark = ";" }, "taxPercent": func(s *setup.Start) { s.TaxPercent = "much" },
		"name": func(s *setup.Start) { s.Name = "" },
		"mail": func(s *setup.Start) { s.Mail = "ada" }, "password": func(s *setup.Start) { s.Password = "short" },
	} {
		bad := good
		spoil(&bad)
		_, err := setup.Begin(t.Context(), a, bad)
		if r := apptest.RefusalOf(t, err); r == nil || r.Field != field {
			t.Errorf("%s: %+v", field, r)
		}
	}
	id, err := setup.Begin(t.Context(), a, good)
	if err != nil {
		t.Fatal(err)
	}
	person, err := store.Get[store.Person](a.Store.Read(t.Context(), store.Everything), id)
	if err != nil || person.Role != "administrator" || person.Initials != "A" {
		t.Errorf("%+v, %v", person, err)
	}
	apptest.Whole(t, a)
}

// What is due at the end of a client's fiscal year follows when that ends on another day; a day
// that somebody gave stays.
func TestYearlyWorkIsDueAtTheEndOfTheFiscalYear(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Set(t, a, "clients", 1, "fiscal_year_end", "03-31")
	made := apptest.Add(t, a, "engagements", "client", "A", "name", "Accounts", "arrangement", "hourly", "renews", "year", "opened", "2026-05-01")
	own := apptest.Add(t, a, "engagements", "client", "A", "name", "Audit", "arrangement", "hourly", "renews", "year", "opened", "2026-05-01",
		"due", "2026-12-24")
	phase := apptest.Add(t, a, "phases", "engagement", apptest.Sheet(t, a, "engagements", made).Key, "name", "Field work")
	due := func(kind string, id int64) string {
		for _, v := range apptest.Sheet(t, a, kind, id).Values {
			if v.Name == "due" {
				return v.Value
			}
		}
		return "none"
	}
	says := func(want ...string) {
		t.Helper()
		if got := []string{due("engagements", made), due("phases", phase), due("engagements", own)}; !slices.Equal(got, want) {
			t.Errorf("%v, want %v", got, want)
		}
	}
	says("2027-03-31", "2027-03-31", "2026-12-24")
	apptest.Set(t, a, "clients", 1, "fiscal_year_end", "12-31")
	says("2026-12-31", "2026-12-31", "2026-12-24")
	// Made again, it is due at the next end, not so many days later: 2028 has a day more.
	apptest.Set(t, a, "clients", 1, "fiscal_year_end", "03-31")
	again, err := setup.CopyEngagement(t.Context(), a, apptest.Admin, setup.Copied{FromID: made, Name: "Accounts 2027", Opened: day.Of(2027, 5, 1)})
	if err != nil || due("engagements", again.ID) != "2028-03-31" {
		t.Errorf("%v, %v", again, err)
	}
}
