package receivables_test

import (
	"strings"
	"testing"
	"time"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/receivables"
	"dorvet/internal/apptest"
)

// lateFirm is a firm whose invoices cost 1 % a month when they are late, and one over 1,000.00 that is due on 31 Dec 2026.
func lateFirm(t *testing.T, items ...string) (*app.App, *invoices.Invoice) {
	t.Helper()
	a := firm(t)
	apptest.Add(t, a, "tax-codes", "code", "X", "name", "Exempt", "category", "exempt")
	apptest.Add(t, a, "tax-rates", "code", "X", "from", "2020-01-01", "percent", "0")
	for i := 0; i < len(items); i += 2 {
		apptest.Set(t, a, "firm", 1, items[i], items[i+1])
	}
	return a, issued(t, a, apptest.Survey, "1000", "")
}

func at(a *app.App, on day.Day) {
	a.Clock = app.PinnedClock{Date: on, At: on.Time().Add(9 * time.Hour)}
}

// lateNow is what is to be charged: invoice and amount.
func lateNow(t *testing.T, a *app.App) string {
	t.Helper()
	late, err := receivables.LateNow(t.Context(), a, apptest.Admin.Actor)
	must(t, err)
	said := []string{}
	for _, l := range late.Due {
		said = append(said, l.Number+" "+l.Charge.String()+l.Why)
	}
	return strings.Join(said, ", ")
}

func chargeLate(t *testing.T, a *app.App, apart bool, ids ...int64) *receivables.ChargedLate {
	t.Helper()
	done, err := receivables.ChargeLate(t.Context(), a, apptest.Admin, receivables.ChargingLate{InvoiceIDs: ids, Apart: apart})
	must(t, err)
	apptest.Whole(t, a)
	return done
}

// What has accrued is charged once, then only what came on top; it stands on a bill of its own, not taxed as work, and nothing is charged
// on it. Source: rules of this product, receivables.
func TestPayingLateIsCharged(t *testing.T) {
	a, inv := lateFirm(t, "late_percent", "1", "late_grace", "5")
	if at(a, inv.Due.AddDays(5)); lateNow(t, a) != "" {
		t.Errorf("in the days of grace %s", lateNow(t, a))
	}
	at(a, inv.Due.AddDays(35)) // 30 days
	if lateNow(t, a) != "N1 10.00" {
		t.Errorf("%s", lateNow(t, a))
	}
	done := chargeLate(t, a, true, inv.ID)
	if lateNow(t, a) != "" || len(done.Drafts) != 1 {
		t.Errorf("%s, %+v", lateNow(t, a), done)
	}
	_, err := receivables.ChargeLate(t.Context(), a, apptest.Admin, receivables.ChargingLate{InvoiceIDs: []int64{inv.ID}})
	refused(t, err, "Nothing is to be charged")
	draft := now(t, a, done.Drafts[0])
	if draft.Document.Totals.Total.String() != "10.00" || draft.Document.Totals.Tax.Minor != 0 || draft.Lines[0].Kind != "late" ||
		draft.Lines[0].Text != "Late payment of N1, up to 4 Feb 2027" {
		t.Errorf("%+v", draft)
	}
	_, err = drafts.ChangeLine(t.Context(), a, apptest.Admin, edit(draft), draft.Lines[0].LineID, drafts.LineTyped{Text: "Less", Amount: "1"})
	refused(t, err, "waive it")
	bill, err := apptest.Invoice(t.Context(), a)(issuing.Issue(t.Context(), a, apptest.Admin, edit(draft)))
	must(t, err)
	apptest.Whole(t, a)
	at(a, inv.Due.AddDays(38)) // three days more
	if lateNow(t, a) != "N1 1.00" {
		t.Errorf("%s", lateNow(t, a))
	}
	at(a, bill.Due.AddDays(500))
	if said := lateNow(t, a); strings.Contains(said, bill.Number) {
		t.Errorf("a late charge is charged late: %s", said)
	}
}

// What is paid late is charged to the day on which it came, what is disputed is not, what is waived is not charged again.
func TestLateChargesEndWithPayment(t *testing.T) {
	a, inv := lateFirm(t, "late_yearly", "8", "late_reference", "yes", "late_flat", "40")
	at(a, inv.Due.AddDays(30))
	if said := lateNow(t, a); !strings.Contains(said, "No reference rate is known") {
		t.Errorf("%s", said)
	}
	_, err := receivables.ChargeLate(t.Context(), a, apptest.Admin, receivables.ChargingLate{InvoiceIDs: []int64{inv.ID}})
	refused(t, err, "No reference rate")
	apptest.Add(t, a, "reference-rates", "currency", "EUR", "day", "2026-07-01", "percent", "2.15", "source", "central bank")
	if lateNow(t, a) != "N1 48.34" {
		t.Errorf("%s", lateNow(t, a))
	}
	_, err = receivables.Receive(t.Context(), a, apptest.Admin, receivables.TypedPayment{ClientID: inv.ClientID, Day: inv.Due.AddDays(15), Amount: "1000",
		Method: "transfer", On: []receivables.PaidInvoice{{InvoiceID: inv.ID}}})
	must(t, err)
	if lateNow(t, a) != "N1 44.17" {
		t.Errorf("paid after 15 days: %s", lateNow(t, a))
	}
	must(t, receivables.WaiveLate(t.Context(), a, apptest.Admin, receivables.WaivingLate{InvoiceIDs: []int64{inv.ID}, Reason: "a good client"}))
	apptest.Whole(t, a)
	if lateNow(t, a) != "" {
		t.Errorf("%s", lateNow(t, a))
	}
	refused(t, receivables.WaiveLate(t.Context(), a, apptest.Admin, receivables.WaivingLate{InvoiceIDs: []int64{inv.ID}, Reason: "again"}),
		"Nothing is to be charged")
	second := issued(t, a, apptest.Survey, "1000", "")
	_, err = issuing.Dispute(t.Context(), a, apptest.Admin, edit(second), "not ours")
	must(t, err)
	if at(a, second.Due.AddDays(100)); lateNow(t, a) != "" {
		t.Errorf("what is disputed is charged late: %s", lateNow(t, a))
	}
}

// A charge that is not billed yet can be waived; one that is on a draft is taken off first.
func TestALateChargeIsWaived(t *testing.T) {
	a, inv := lateFirm(t, "late_flat", "40")
	at(a, inv.Due.AddDays(1))
	chargeLate(t, a, false, inv.ID)
	late, err := receivables.LateNow(t.Context(), a, apptest.Admin.Actor)
	must(t, err)
	id := late.Charged[0].ID
	waive := func(reason string) error {
		return receivables.WaiveLate(t.Context(), a, apptest.Admin, receivables.WaivingLate{ChargedID: id, Reason: reason})
	}
	refused(t, waive(" "), "Say why")
	draft, err := apptest.Invoice(t.Context(), a)(drafts.Begin(t.Context(), a, apptest.Admin, drafts.Beginning{EngagementID: apptest.Survey, Take: "fees"}))
	must(t, err)
	if draft.Document.Totals.Total.String() != "40.00" {
		t.Errorf("%+v", draft.Document.Totals)
	}
	apptest.Whole(t, a)
	refused(t, waive("goodwill"), "on a bill already")
	must(t, drafts.Delete(t.Context(), a, apptest.Admin, edit(draft)))
	must(t, waive("goodwill"))
	apptest.Whole(t, a)
	refused(t, waive("goodwill"), "waived already")
	if lateNow(t, a) != "" {
		t.Errorf("%s", lateNow(t, a))
	}
	if late, err = receivables.LateNow(t.Context(), a, apptest.Admin.Actor); err != nil || late.Charged[0].State != "waived" ||
		late.Charged[0].Waived != "goodwill" {
		t.Errorf("%+v, %v", late, err)
	}
}

// From the step of a plan that says so on, letters charge what has accrued, and say it.
func TestAStepOfThePlanChargesLate(t *testing.T) {
	c := collect(t)
	for _, code := range []string{"X", "Z"} {
		apptest.Add(t, c.App, "tax-codes", "code", code, "name", "Exempt", "category", "exempt")
		apptest.Add(t, c.App, "tax-rates", "code", code, "from", "2020-01-01", "percent", "0")
	}
	apptest.Set(t, c.App, "firm", 1, "late_percent", "1")
	apptest.Set(t, c.App, "clients", 1, "reminder_plan", "7; 30 firm charge; 60")
	at(c.App, apptest.Today)
	c.due = issued(t, c.App, apptest.Survey, "1000", "").Due // beside one that was issued without such terms
	c.amount = "N2"
	c.late(10)
	c.goes("7", "")
	if n := len(c.mails.All); strings.Contains(c.mails.All[n-1].Body, "Late payment") {
		t.Errorf("%s", c.mails.All[n-1].Body)
	}
	c.late(30)
	c.goes("30 firm charge", "")
	if n := len(c.mails.All); !strings.Contains(c.mails.All[n-1].Body, "10.00, on our next invoice") ||
		lateNow(t, c.App) != "" {
		t.Errorf("%s", c.mails.All[n-1].Body)
	}
	apptest.Whole(t, c.App)
	c.late(60)
	c.goes("60", "")
	if n := len(c.mails.All); !strings.Contains(c.mails.All[n-1].Body, "10.00, on our next") {
		t.Errorf("%s", c.mails.All[n-1].Body)
	}
	apptest.Whole(t, c.App)
}
