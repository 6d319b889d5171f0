package reports_test

import (
	"strings"
	"testing"

	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/receivables"
	"dorvet/internal/app/reports"
	"dorvet/internal/app/timekeeping"
	appwip "dorvet/internal/app/wip"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// everyList reads every list and sum of the books; none may fail, whatever was let in.
func everyList(t *testing.T, a *app.App) {
	t.Helper()
	ctx, admin := t.Context(), apptest.Admin.Actor
	for what, read := range map[string]func() error{
		"rail": func() error { _, err := reports.Figures(ctx, a, admin); return err },
		"clients": func() error {
			_, err := reports.Clients(ctx, a, admin, reports.ClientFilter{Standing: "all"}, 0, 1000)
			return err
		},
		"client":      func() error { _, err := reports.Client(ctx, a, admin, 1); return err },
		"engagement":  func() error { _, err := reports.Engagement(ctx, a, admin, 1); return err },
		"board":       func() error { _, err := appwip.Board(ctx, a, admin); return err },
		"unbilled":    func() error { _, err := appwip.Unbilled(ctx, a, admin, appwip.Filter{UpTo: apptest.Today}); return err },
		"receivables": func() error { _, err := receivables.Owed(ctx, a, admin, receivables.Filter{}); return err },
		"payments":    func() error { _, err := receivables.Payments(ctx, a, admin, 0); return err },
		"credits":     func() error { _, err := receivables.Credits(ctx, a, admin, 0); return err },
		"check":       func() error { apptest.Whole(t, a); return nil },
	} {
		if err := read(); err != nil {
			t.Errorf("%s: %v", what, err)
		}
	}
}

// What one record may come to is refused beyond a bound; at the bound everything goes
// on, and where the sum of many would not, the one that is too much is refused.
func TestNoRecordMakesAListUnreadable(t *testing.T) {
	a := apptest.Firm(t)
	bought := func(amount string) error {
		_, err := timekeeping.RecordPurchase(t.Context(), a, apptest.Admin,
			timekeeping.TypedPurchase{PersonID: 2, CategoryID: 1, Day: apptest.Today, PaidBy: "firm", Amount: amount,
				Shares: []timekeeping.TypedShare{{EngagementID: apptest.Survey, Treatment: wip.Billable}}})
		return err
	}
	paid := func(amount string) error {
		_, err := receivables.Receive(t.Context(), a, apptest.Admin,
			receivables.TypedPayment{ClientID: 1, EntityID: 1, Day: apptest.Today, Amount: amount, Method: "transfer"})
		return err
	}
	for _, enter := range []func(string) error{bought, paid} {
		for _, amount := range []string{"900000000000000.00", "400000000000000.00", "92233720368547758.07", "92233720368547758.08",
			strings.Repeat("9", 40), "100000000000.01"} {
			if err := enter(amount); err == nil || !strings.Contains(err.Error(), "too large") {
				t.Errorf("%s: %v", amount, err)
			}
		}
		if err := enter("100000000000.00"); err != nil {
			t.Error(err)
		}
	}
	everyList(t, a)
	if _, err := timekeeping.Record(t.Context(), a, apptest.Staff, func() timekeeping.TypedEntry {
		in := apptest.Typed(apptest.Survey, "2026-11-20", "1:00")
		in.Flat = "100000000000.01"
		return in
	}()); err == nil {
		t.Error("a flat amount beyond the bound is taken")
	}
	// Nine hundred such records are more than can be counted: the next is refused.
	if err := a.Store.Write(t.Context(), store.Everything,
		func(tx *store.DB) error { return tx.SQL(t).Exec("UPDATE portions SET agreed = 9007199254740000").Error }); err != nil {
		t.Fatal(err)
	}
	if err := bought("50000000000.00"); err == nil || !strings.Contains(err.Error(), "more than can be counted") {
		t.Errorf("%v", err)
	}
}
