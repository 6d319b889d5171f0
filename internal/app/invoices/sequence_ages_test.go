package invoices_test

import (
	"fmt"
	"maps"
	"slices"
	"testing"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/app/receivables"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// agesHold fails where what is owed on a day, with its ages, is not what the ledger says to a naive reader: every movement of every invoice up
// to that day, added up by instalment; its age is common practice: 1 to 30, 31 to 60, 61 to 90 days late, and more.
func agesHold(t *testing.T, a *app.App) {
	t.Helper()
	tx := a.Store.Read(t.Context(), store.Everything)
	all, err := store.All[store.Invoice](tx, "id")
	must(t, err)
	for _, back := range []int{0, 1, 5, 12, 30, 61, 95, 200} {
		on := apptest.Today.AddDays(-back)
		want := map[string]int64{}
		for i := range all {
			inv := &all[i]
			movements, err := store.MoneyOf(tx, inv.ID)
			must(t, err)
			open := map[int64]int64{}
			for _, m := range movements {
				if m.EffectiveDay > on || m.InstalmentID == nil {
					continue
				}
				if m.ToBucket == app.Receivable {
					open[*m.InstalmentID] += m.Amount
				}
				if m.FromBucket == app.Receivable {
					open[*m.InstalmentID] -= m.Amount
				}
			}
			for id, minor := range open {
				part, err := store.InstalmentByID(tx, id)
				must(t, err)
				if minor < 0 { // paid before the invoice was dated: credit
					continue
				}
				want[aged(inv.ClientID, string(inv.Currency), naiveBand(on, part.DueDay))] += minor
			}
		}
		owed, err := receivables.Owed(t.Context(), a, apptest.Admin.Actor, receivables.Filter{On: on})
		must(t, err)
		got := map[string]int64{}
		for _, c := range owed.Clients {
			for _, part := range c.Open {
				got[aged(c.ClientID, string(c.Total.Currency), naiveBand(on, part.Due))] += part.Open.Minor
				if part.Band != naiveBand(on, part.Due) {
					t.Fatalf("on %s %s is in band %d, due on %s", on, part.Number, part.Band, part.Due)
				}
			}
			sum := c.Disputed.Minor
			for _, age := range c.Ages {
				sum += age.Minor
			}
			if sum != c.Total.Minor || back > 0 && c.Disputed.Minor != 0 {
				t.Fatalf("on %s the ages of %s come to %d, it owes %s", on, c.Client, sum, c.Total)
			}
		}
		for client := range int64(2) { // the movements of a period come to the balance on its last day, or there is no statement
			_, rows, err := receivables.PeriodTable(t.Context(), a, apptest.Admin.Actor, receivables.AccountPeriod{ClientID: client + 1, Currency: "EUR",
				From: on.AddDays(-back), To: on})
			must(t, err)
			if len(rows) == 0 {
				t.Fatal("a statement without its opening balance")
			}
		}
		drop := func(_ string, minor int64) bool { return minor == 0 }
		maps.DeleteFunc(want, drop)
		maps.DeleteFunc(got, drop)
		if !maps.Equal(got, want) {
			t.Fatalf("on %s %v is owed, the ledger says %v", on, slices.Sorted(maps.Keys(got)), want)
		}
	}
}

func aged(clientID int64, currency string, band int) string {
	return fmt.Sprint(clientID, " ", currency, " ", band)
}

func naiveBand(on, due day.Day) int {
	switch late := int(on) - int(due); {
	case late <= 0:
		return 0
	case late <= 30:
		return 1
	case late <= 60:
		return 2
	case late <= 90:
		return 3
	}
	return 4
}
