package invoices_test

import (
	"testing"

	"dorvet/core/day"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/apptest"
)

// An invoice is kept with its lines, texts, look and schedule; another begins with all of
// that. Recorded work is billed once, and stays out.
func TestAnInvoiceIsKeptAsATemplate(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-20", "1:00")
	inv := begun(t, a, drafts.Beginning{ClientID: 1, Take: "all"})
	_, err := drafts.KeepTemplate(t.Context(), a, apptest.Admin, inv.ID, "Work alone")
	refused(t, err, "can be billed again")
	inv = byHand(t, a, inv, drafts.LineTyped{Text: "Chart; on paper", Quantity: "2", Price: "20", Unit: "sheets"})
	inv = byHand(t, a, inv, drafts.LineTyped{Text: "Binding", Amount: "10"})
	inv = chosen(t, a, inv, "schedule", "50% issue; 50% 30d", "invoice")
	inv = chosen(t, a, inv, "opening_text", "As agreed.", "invoice")
	inv = chosen(t, a, inv, "discount", "10", "invoice") // of this bill alone
	_, err = drafts.KeepTemplate(t.Context(), a, apptest.Admin, inv.ID, " ")
	refused(t, err, "a name")
	id, err := drafts.KeepTemplate(t.Context(), a, apptest.Admin, inv.ID, "Charts")
	if err != nil {
		t.Fatal(err)
	}
	_, err = drafts.KeepTemplate(t.Context(), a, apptest.Admin, inv.ID, "charts")
	refused(t, err, "already")
	next := begun(t, a, drafts.Beginning{ClientID: 2, TemplateID: id})
	if next.Net.String() != "50.00" || len(next.Lines) != 2 || next.Lines[0].Text != "Chart, on paper" || next.Lines[0].Unit != "sheets" ||
		next.Document.Opening != "As agreed." || len(next.Document.Payable) != 2 {
		t.Errorf("%+v", next)
	}
}

// Of one person's time only theirs is offered, by engagement.
func TestWhatOnePersonHasToBeBilled(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-20", "1:00")
	apptest.Record(t, a, apptest.Advice, "2026-11-20", "2:00")
	offer, err := drafts.SummaryOf(t.Context(), a, apptest.Admin.Actor, 1, apptest.Today)
	if err != nil || len(offer.People) != 1 || len(offer.People[0].Time) != 2 ||
		offer.People[0].Time[0].Minor+offer.People[0].Time[1].Minor != 300_00 {
		t.Errorf("%+v, %v", offer, err)
	}
}

// An invoice comes back on the same day of later months, or their last (RFC 5545's BYMONTHDAY
// would skip it: months are clamped here, as the rules on dates say); each time its lines
// are due again as planned charges.
func TestAnInvoiceComesBack(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-20", "1:00")
	inv := begun(t, a, drafts.Beginning{ClientID: 1, Take: "all"})
	inv, err := apptest.Invoice(t.Context(), a)(drafts.SetDates(t.Context(), a, apptest.Admin, edit(inv), drafts.Dates{Dated: day.Of(2026, 12, 31),
		UpTo: november}))
	if err != nil {
		t.Fatal(err)
	}
	back := func(r drafts.Return) error {
		_, err := drafts.ComeBack(t.Context(), a, apptest.Admin, inv.ID, r)
		return err
	}
	refused(t, back(drafts.Return{Every: "month", Times: 2}), "can be billed again")
	inv = byHand(t, a, inv, drafts.LineTyped{EngagementID: apptest.Survey, Text: "Hosting", Amount: "25"})
	refused(t, back(drafts.Return{Every: "month"}), "how many times")
	refused(t, back(drafts.Return{Every: "year", Until: day.Of(2027, 6, 1)}), "give a later day")
	for _, c := range []struct {
		r          drafts.Return
		bills      int
		next, last day.Day
	}{
		{drafts.Return{Every: "month", Times: 3}, 3, day.Of(2027, 1, 31), day.Of(2027, 3, 31)},
		{drafts.Return{Every: "month", Times: 2}, 2, day.Of(2027, 1, 31), day.Of(2027, 2, 28)},
		{drafts.Return{Every: "quarter", Until: day.Of(2027, 12, 31)}, 4, day.Of(2027, 3, 31), day.Of(2027, 12, 31)},
		{drafts.Return{Every: "week", Times: 60}, 60, day.Of(2027, 1, 7), day.Of(2028, 2, 24)},
		{drafts.Return{Every: "month", Times: 1}, 1, day.Of(2027, 1, 31), day.Of(2027, 1, 31)},
	} {
		if err := back(c.r); err != nil {
			t.Fatal(err)
		}
		if now := opened(t, a, inv.ID).Returns; now == nil || *now != (invoices.Returns{Bills: c.bills, Next: c.next, Last: c.last}) {
			t.Errorf("%+v: %+v", c.r, now)
		}
	}
	apptest.Whole(t, a)
	next := begun(t, a, drafts.Beginning{ClientID: 1})
	next, err = apptest.Invoice(t.Context(), a)(drafts.SetDates(t.Context(), a, apptest.Admin, edit(next), drafts.Dates{Dated: day.Of(2027, 1, 31),
		UpTo: november}))
	if err != nil {
		t.Fatal(err)
	}
	next, err = apptest.Invoice(t.Context(), a)(drafts.AddUnbilled(t.Context(), a, apptest.Admin, edit(next), "fees", 0))
	if err != nil || len(next.Lines) != 1 || next.Lines[0].Text != "Hosting" || next.Net.String() != "25.00" {
		t.Errorf("%+v, %v", next, err)
	}
	if err := back(drafts.Return{Every: "year", Times: 1}); err != nil {
		t.Fatal(err)
	}
	if _, err := drafts.StayAway(t.Context(), a, apptest.Admin, inv.ID); err != nil || opened(t, a, inv.ID).Returns != nil {
		t.Error(err)
	}
	_, err = drafts.StayAway(t.Context(), a, apptest.Admin, inv.ID)
	refused(t, err, "Nothing is planned")
}
