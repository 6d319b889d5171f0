package invoices_test

import (
	"testing"

	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/runs"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/apptest"
)

// capped gives the survey a cap of 900.00 and twelve hours of work worth 1,200.00.
func capped(t *testing.T) *app.App {
	t.Helper()
	a := apptest.Firm(t)
	apptest.Set(t, a, "engagements", apptest.Survey, "fee", "900")
	apptest.Set(t, a, "engagements", apptest.Survey, "arrangement", setup.Capped)
	apptest.Record(t, a, apptest.Survey, "2026-11-10", "7:00")
	apptest.Record(t, a, apptest.Survey, "2026-11-11", "5:00")
	return a
}

// The figures are by hand: 900.00 / 0.9 = 1,000.00, 900.00 / 0.8 = 1,125.00.
func TestACapCountsFeesAfterTheirDiscount(t *testing.T) {
	a := capped(t)
	inv := begun(t, a, drafts.Beginning{EngagementID: apptest.Survey, Take: "all"})
	for _, c := range []struct{ discount, net, lines string }{{"10", "900.00", "1000.00"}, {"20", "900.00", "1125.00"},
		{"50", "600.00", "1200.00"}, {"0", "900.00", "900.00"}, {"10", "900.00", "1000.00"}} {
		inv = chosen(t, a, inv, "discount", c.discount, "invoice")
		if got := inv.Document.Totals.Lines; inv.Net.String() != c.net || got.Typed() != c.lines {
			t.Errorf("at %s %% it is %s of %s, not %s of %s", c.discount, inv.Net, got, c.net, c.lines)
		}
		apptest.Whole(t, a)
	}
	issue(t, a, inv)
	apptest.Whole(t, a)
	apptest.Record(t, a, apptest.Survey, "2026-11-12", "1:00")
	_, err := runs.MakeDrafts(t.Context(), a, apptest.Admin,
		unbilled.Selection{UpTo: november, Dated: apptest.Today, EngagementIDs: []int64{apptest.Survey}})
	refused(t, err, "cap of Survey is reached")
}

// What making drafts would come to knows of the cap after a discount, too.
func TestACapUnderAnAgreedDiscountIsForeseen(t *testing.T) {
	a := capped(t)
	chosen(t, a, begun(t, a, drafts.Beginning{EngagementID: apptest.Survey}), "discount", "10", "engagement")
	s := unbilled.Selection{UpTo: november, Dated: apptest.Today, EngagementIDs: []int64{apptest.Survey}}
	foreseen, err := runs.Preview(t.Context(), a, apptest.Admin.Actor, s)
	must(t, err)
	made, err := runs.MakeDrafts(t.Context(), a, apptest.Admin, s)
	must(t, err)
	if foreseen.Net[0].String() != "900.00" || made[0].Net.String() != "900.00" || foreseen.OverCap[0].String() != "−200.00" {
		t.Errorf("foreseen %v with %v over the cap, made %v", foreseen.Net, foreseen.OverCap, made[0].Net)
	}
	apptest.Whole(t, a)
}

// An advance comes back as far as the bill can take it after its discount, the rest on
// the next one; when the bill takes less later, so does the advance.
func TestAnAdvanceComesBackAsFarAsADiscountedBillGoes(t *testing.T) {
	a := apptest.Firm(t)
	issue(t, a, byHand(t, a, begun(t, a, drafts.Beginning{EngagementID: apptest.Study}),
		drafts.LineTyped{Text: "In advance", Amount: "500", Advance: true}))
	chosen(t, a, begun(t, a, drafts.Beginning{EngagementID: apptest.Study}), "discount", "25", "engagement")
	apptest.Record(t, a, apptest.Study, "2026-11-10", "5:00") // 400.00, 300.00 after discount
	inv := begun(t, a, drafts.Beginning{EngagementID: apptest.Study, Take: "all"})
	if !inv.Net.IsZero() || inv.Document.Totals.Lines.String() != "100.00" {
		t.Errorf("300.00 come back: net %s of %s", inv.Net, inv.Document.Totals.Lines)
	}
	if inv = chosen(t, a, inv, "discount", "50", "invoice"); !inv.Net.IsZero() {
		t.Errorf("200.00 come back: net %s", inv.Net)
	}
	if left := inv.Around.Advances; len(left) != 1 || left[0].Left.String() != "300.00" {
		t.Errorf("%+v", left)
	}
	issue(t, a, inv)
	apptest.Whole(t, a)
}

func must(t *testing.T, err error) {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
}
