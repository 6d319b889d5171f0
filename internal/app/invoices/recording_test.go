package invoices_test

import (
	"testing"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/runs"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/app/unbilled"
	appwip "dorvet/internal/app/wip"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// expense records one of the staff's on an engagement.
func expense(t *testing.T, a *app.App, engagement int64, amount string, change func(*timekeeping.TypedPurchase)) *timekeeping.Purchase {
	t.Helper()
	in := timekeeping.TypedPurchase{PersonID: 2, CategoryID: 1, Day: day.Of(2026, 11, 20), Text: "Ferry", Amount: amount, PaidBy: "firm",
		Shares: []timekeeping.TypedShare{{EngagementID: engagement, Treatment: wip.Billable}}}
	change(&in)
	p, err := timekeeping.RecordPurchase(t.Context(), a, apptest.Admin, in)
	if err != nil {
		t.Fatal(err)
	}
	return p
}

func unchanged(*timekeeping.TypedPurchase) {}

func TestExpensesAreBilledBesideTimeWithTheirOwnTax(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "tax-codes", "code", "R", "name", "VAT")
	apptest.Add(t, a, "tax-rates", "code", "R", "from", "2026-01-01", "percent", "13.5")
	apptest.Add(t, a, "tax-codes", "code", "X", "name", "VAT", "category", "E", "notice", "Exempt")
	apptest.Add(t, a, "tax-rates", "code", "X", "from", "2026-01-01", "percent", "0")
	apptest.Set(t, a, "clients", 2, "tax_code_expenses", "R")
	apptest.Record(t, a, apptest.Study, "2026-11-10", "1:00") // 80.00
	p := expense(t, a, apptest.Study, "40", unchanged)
	expense(t, a, apptest.Study, "100", func(in *timekeeping.TypedPurchase) { in.CategoryID = 7 })
	expense(t, a, apptest.Study, "30", func(in *timekeeping.TypedPurchase) { in.Shares[0].Treatment = wip.NoCharge })
	expense(t, a, apptest.Study, "55", func(in *timekeeping.TypedPurchase) { in.Shares[0].Treatment = wip.NotBillable })
	// used after the cut-off
	expense(t, a, apptest.Study, "70", func(in *timekeeping.TypedPurchase) { in.Shares[0].Day = day.Of(2026, 12, 2) })
	inv := draftOf(t, a, apptest.Study)
	// 80 at 23 %, 40 at 13.5 %, 100 exempt: 18.40 + 5.40.
	if len(inv.Lines) != 4 || inv.Net.String() != "220.00" || inv.Tax.String() != "23.80" {
		t.Fatalf("%s and %s, %+v", inv.Net, inv.Tax, inv.Lines)
	}
	if lines := inv.Document.Sections[0].Lines; lines[1].Hours != "" || lines[1].Rate != "" || lines[1].Who != "" ||
		lines[1].Text != "Ferry" {
		t.Errorf("%+v", lines)
	}
	apptest.Whole(t, a)
	done, err := apptest.Invoice(t.Context(), a)(issuing.Issue(t.Context(), a, apptest.Admin, edit(inv)))
	if err != nil || done.Document.Totals.Tax.String() != "23.80" {
		t.Fatal(err)
	}
	apptest.Whole(t, a)
	again := timekeeping.TypedPurchase{PersonID: 2, CategoryID: 1, Day: p.Day, Text: "Ferry", Amount: "41", PaidBy: "firm",
		Shares: []timekeeping.TypedShare{{ID: p.Shares[0].ID, EngagementID: apptest.Study, Treatment: wip.Billable}}}
	_, err = timekeeping.ChangePurchase(t.Context(), a, apptest.Admin, p.ID, p.Version, again)
	refused(t, err, "billed on N1 and can't be changed")
	refused(t, timekeeping.RemovePurchase(t.Context(), a, apptest.Admin, p.ID, p.Version), "billed on N1")
	again.Amount, again.Shares[0].Note = "40", "found the ticket"
	if changed, err := timekeeping.ChangePurchase(t.Context(), a, apptest.Admin, p.ID, p.Version, again); err != nil ||
		changed.Shares[0].Note != "found the ticket" {
		t.Errorf("what is not billed can change: %+v, %v", changed, err)
	}
	apptest.Whole(t, a)
}

func TestADisbursementNeedsATaxCodeThatIsExempt(t *testing.T) {
	a := apptest.Firm(t)
	expense(t, a, apptest.Study, "100", func(in *timekeeping.TypedPurchase) { in.CategoryID = 7 })
	_, err := runs.MakeDrafts(t.Context(), a, apptest.Admin,
		unbilled.Selection{UpTo: november, Dated: apptest.Today, EngagementIDs: []int64{apptest.Study}})
	refused(t, err, "Disbursements and late charges are not taxed")
}

func TestWhatIsOnHoldWaitsUntilItsDay(t *testing.T) {
	a := apptest.Firm(t)
	for worked, hold := range map[string]string{"1:00": "", "2:00": "2026-12-15", "3:00": "released"} {
		in := apptest.Typed(apptest.Study, "2026-11-10", worked)
		in.Hold = hold
		if _, err := timekeeping.Record(t.Context(), a, apptest.Staff, in); err != nil {
			t.Fatal(err)
		}
	}
	work := listed(t, a).Clients[0].Engagements[0]
	if work.Value.String() != "80.00" || work.Held.String() != "400.00" || work.HeldEntries != 2 || work.Entries != 1 {
		t.Errorf("%+v", work)
	}
	inv := draftOf(t, a, apptest.Study)
	if len(inv.Lines) != 1 || len(inv.LeftOut) != 2 {
		t.Fatalf("%+v", inv)
	}
	_, err := drafts.PutOn(t.Context(), a, apptest.Admin, edit(inv), unbilledOnes(inv.LeftOut[0].PortionID))
	refused(t, err, "is on hold: release it")
	a.Clock = app.PinnedClock{Date: day.Of(2026, 12, 15)}
	for _, line := range inv.LeftOut {
		if line.Minutes != 120 {
			continue
		}
		if inv, err = apptest.Invoice(t.Context(), a)(drafts.PutOn(t.Context(), a, apptest.Admin, edit(inv), unbilledOnes(line.PortionID))); err != nil ||
			inv.Net.String() != "240.00" {
			t.Errorf("on its day: %+v, %v", inv, err)
		}
	}
	apptest.Whole(t, a)
}

func TestUnderAFixedFeeOnlyWhatIsOutsideOfItIsBilledByItself(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Set(t, a, "engagements", apptest.Study, "arrangement", "fixed")
	in := apptest.Typed(apptest.Study, "2026-11-10", "1:00")
	covered, err := timekeeping.Record(t.Context(), a, apptest.Staff, in)
	if err != nil || !covered.Covered {
		t.Fatalf("%+v, %v", covered, err)
	}
	in.Treatment, in.Text = wip.OutOfScope, "asked for in addition"
	if extra, err := timekeeping.Record(t.Context(), a, apptest.Staff, in); err != nil || extra.Covered {
		t.Fatalf("%+v, %v", extra, err)
	}
	expense(t, a, apptest.Study, "25", unchanged)
	inv := draftOf(t, a, apptest.Study)
	if len(inv.Lines) != 2 || inv.Net.String() != "105.00" || inv.Lines[0].Text != "asked for in addition" {
		t.Errorf("%+v", inv.Lines)
	}
	apptest.Whole(t, a)
}

func TestACapCountsFeesWithinItsScope(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Set(t, a, "engagements", apptest.Study, "fee", "100")
	apptest.Set(t, a, "engagements", apptest.Study, "arrangement", setup.Capped)
	apptest.Record(t, a, apptest.Study, "2026-11-10", "1:00") // 80.00 of 100.00
	in := apptest.Typed(apptest.Study, "2026-11-11", "5:00")
	in.Treatment = wip.OutOfScope
	if _, err := timekeeping.Record(t.Context(), a, apptest.Staff, in); err != nil {
		t.Fatal(err)
	}
	expense(t, a, apptest.Study, "300", unchanged)
	if inv := draftOf(t, a, apptest.Study); inv.Net.String() != "780.00" {
		t.Errorf("%s", inv.Net)
	}
	apptest.Record(t, a, apptest.Study, "2026-11-12", "0:30") // 40.00, of which 20.00 fit
	inv := draftOf(t, a, apptest.Study)
	if line := inv.Lines[0]; inv.Net.String() != "20.00" || line.Minutes != 15 || line.PerHour != 0 || line.Part != "part, at the cap" {
		t.Errorf("the entry at the boundary is billed as %+v", line)
	}
	apptest.Whole(t, a)
	if list := listed(t, a); !list.Totals[0].IsZero() || list.Clients[0].Engagements[0].OverCap.String() != "20.00" || list.Minutes != 15 {
		t.Errorf("what is over the cap stays unbilled: %+v", list)
	}
	apptest.Record(t, a, apptest.Study, "2026-11-13", "1:00")
	_, err := runs.MakeDrafts(t.Context(), a, apptest.Admin,
		unbilled.Selection{UpTo: november, Dated: apptest.Today, EngagementIDs: []int64{apptest.Study}})
	refused(t, err, "The cap of Study is reached")
	if err := drafts.Delete(t.Context(), a, apptest.Admin, edit(inv)); err != nil {
		t.Fatal(err)
	}
	apptest.Whole(t, a)
	work := listed(t, a).Clients[0].Engagements[0]
	if work.Time.String() != "120.00" || work.Value.String() != "20.00" || work.Minutes != 90 || work.Entries != 2 {
		t.Errorf("taken off the draft, the entry is whole again: %+v", work)
	}
}

func TestWhatComesBackIsOnTheNextBill(t *testing.T) {
	a := apptest.Firm(t)
	in := apptest.Typed(apptest.Study, "2026-11-10", "0:30")
	in.Flat, in.Returns = "95", true
	if _, err := timekeeping.Record(t.Context(), a, apptest.Admin, in); err != nil {
		t.Fatal(err)
	}
	expense(t, a, apptest.Study, "25", func(in *timekeeping.TypedPurchase) { in.Shares[0].Returns, in.Shares[0].Markup = true, "10" })
	first := draftOf(t, a, apptest.Study)
	if first.Net.String() != "122.50" {
		t.Fatalf("%s", first.Net)
	}
	if _, err := issuing.Issue(t.Context(), a, apptest.Admin, edit(first)); err != nil {
		t.Fatal(err)
	}
	apptest.Whole(t, a)
	if list := listed(t, a); len(list.Clients) != 0 {
		t.Errorf("up to the same day nothing is left: %+v", list)
	}
	december := day.Of(2026, 12, 31)
	list, err := appwip.Entries(t.Context(), a, apptest.Admin.Actor, apptest.Study, appwip.Filter{UpTo: december})
	if err != nil || len(list.Entries) != 2 || list.Entries[0].Day != november+1 || list.Entries[0].Minutes != 0 ||
		list.Explanation.Figure != "122.50" {
		t.Fatalf("%+v, %v", list, err)
	}
	a.Clock = app.PinnedClock{Date: december}
	made, err := runs.MakeDrafts(t.Context(), a, apptest.Admin,
		unbilled.Selection{UpTo: december, Dated: december, EngagementIDs: []int64{apptest.Study}})
	if err != nil || made[0].Net.String() != "122.50" {
		t.Fatalf("%+v, %v", made, err)
	}
	apptest.Set(t, a, "engagements", apptest.Study, "closed", "2026-12-31")
	if _, err := issuing.Issue(t.Context(), a, apptest.Admin, edit(opened(t, a, made[0].ID))); err != nil {
		t.Fatal(err)
	}
	if left, err := store.UnbilledPortions(a.Store.Read(t.Context(), store.Everything),
		store.UnbilledFilter{UpTo: day.Of(2027, 12, 31)}); err != nil || len(left) != 0 {
		t.Errorf("on a closed engagement nothing comes back: %+v, %v", left, err)
	}
	apptest.Whole(t, a)
}

func TestALineOfAnExpenseSaysWhatItIs(t *testing.T) {
	a := apptest.Firm(t)
	p := expense(t, a, apptest.Study, "25", func(in *timekeeping.TypedPurchase) { in.Text, in.Supplier = "", "Ferries" })
	inv := draftOf(t, a, apptest.Study)
	line := inv.Lines[0]
	if line.Source != "expense" || line.PurchaseID != p.ID || line.EntryID != 0 || line.Text != "Ferries" ||
		line.Explanation.Figure != "25.00" {
		t.Errorf("%+v", line)
	}
	lines, err := store.LinesOf(a.Store.Read(t.Context(), store.Everything), inv.ID)
	if err != nil || lines[0].Kind != invoice.Expense {
		t.Errorf("%+v, %v", lines, err)
	}
}
