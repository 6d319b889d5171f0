package setup_test

import (
	"strings"
	"testing"

	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

func feeOf(t *testing.T, a *app.App, id int64) (int64, string) {
	t.Helper()
	g, err := store.Get[store.Engagement](a.Store.Read(t.Context(), store.Everything), id)
	if err != nil || g.Fee == nil {
		t.Fatalf("%+v, %v", g, err)
	}
	return *g.Fee, string(g.Currency)
}

// A fee is read with the decimals of the currency that will hold for it, also where the
// engagement does not name one. Decimals by ISO 4217: yen none, Bahraini dinars three.
func TestAFeeIsReadInTheCurrencyThatWillHold(t *testing.T) {
	a := apptest.Firm(t)
	for _, c := range []struct {
		client, currency, fee string
		want                  int64
	}{{"Kasumi", "JPY", "30000", 30_000}, {"Sitra", "BHD", "100.12", 100_120}, {"Dunmore", "EUR", "100.12", 10_012}} {
		apptest.Add(t, a, "clients", "name", c.client, "currency", c.currency)
		typed := apptest.Add(t, a, "engagements", "client", c.client, "name", "Typed", "arrangement", "fixed", "fee", c.fee)
		if fee, currency := feeOf(t, a, typed); fee != c.want || currency != c.currency {
			t.Errorf("%s of %s is a fee of %d %s, not %d", c.fee, c.client, fee, currency, c.want)
		}
		in := registry.Incoming{Kind: "engagements", Name: "x.csv", Header: []string{"Client", "Name", "Fee or cap, net"},
			Rows: [][]string{{c.client, "From a file", c.fee}}, Cell: func(s string) (string, bool) { return s, false }}
		if _, err := registry.Import(t.Context(), a, apptest.Admin, in); err != nil {
			t.Fatal(err)
		}
		var read int64
		if err := a.Store.Read(t.Context(), store.Everything).SQL(t).Raw("SELECT fee FROM engagements WHERE name = 'From a file' " +
			"ORDER BY id DESC LIMIT 1").Scan(&read).Error; err != nil || read != c.want {
			t.Errorf("%s of %s comes from a file as %d, %v", c.fee, c.client, read, err)
		}
	}
	if _, err := registry.AddRecord(t.Context(), a, apptest.Admin, "engagements",
		map[string]string{"client": "Kasumi", "name": "x", "fee": "30000.50"}); err == nil ||
		!strings.Contains(err.Error(), "more than 0 decimals") {
		t.Errorf("half a yen: %v", err)
	}
}

// A fee that is there already stays the same number in another currency, or the
// currency is refused.
func TestAFeeStaysTheSameNumberInAnotherCurrency(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "clients", "name", "Kasumi")
	id := apptest.Add(t, a, "engagements", "client", "Kasumi", "name", "x", "arrangement", "fixed", "fee", "30000")
	apptest.Set(t, a, "engagements", id, "currency", "JPY")
	if fee, currency := feeOf(t, a, id); fee != 30_000 || currency != "JPY" {
		t.Errorf("%d %s", fee, currency)
	}
	apptest.Set(t, a, "engagements", id, "currency", "BHD")
	if fee, _ := feeOf(t, a, id); fee != 30_000_000 {
		t.Errorf("%d fils", fee)
	}
	apptest.Set(t, a, "engagements", id, "fee", "0.123")
	sheet, err := registry.Read(t.Context(), a, apptest.Admin.Actor, "engagements", id)
	if err != nil {
		t.Fatal(err)
	}
	_, err = registry.SetField(t.Context(), a, apptest.Admin, "engagements", []registry.ExpectedVersion{{ID: id, Version: sheet.Version}},
		registry.Change{Field: "currency", Value: "EUR"})
	if err == nil || !strings.Contains(err.Error(), "change the fee first") {
		t.Errorf("a tenth of a cent: %v", err)
	}
}
