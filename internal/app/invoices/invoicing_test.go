package invoices_test

import (
	"fmt"
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/receivables"
	"dorvet/internal/app/runs"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/apptest"
)

func begun(t *testing.T, a *app.App, b drafts.Beginning) *invoices.Invoice {
	t.Helper()
	if b.Take == "" {
		b.Take = "nothing"
	}
	inv, err := apptest.Invoice(t.Context(), a)(drafts.Begin(t.Context(), a, apptest.Admin, b))
	if err != nil {
		t.Fatal(err)
	}
	return inv
}

func byHand(t *testing.T, a *app.App, inv *invoices.Invoice, in drafts.LineTyped) *invoices.Invoice {
	t.Helper()
	inv, err := apptest.Invoice(t.Context(), a)(drafts.AddLine(t.Context(), a, apptest.Admin, edit(inv), in))
	if err != nil {
		t.Fatal(err)
	}
	return inv
}

func chosen(t *testing.T, a *app.App, inv *invoices.Invoice, name, value, keep string) *invoices.Invoice {
	t.Helper()
	inv, err := apptest.Invoice(t.Context(), a)(drafts.SetChoice(t.Context(), a, apptest.Admin, edit(inv),
		drafts.ChoiceChange{Name: name, Value: value, Keep: keep}))
	if err != nil {
		t.Fatalf("%s %s: %v", name, value, err)
	}
	return inv
}

func issue(t *testing.T, a *app.App, inv *invoices.Invoice) *invoices.Invoice {
	t.Helper()
	inv, err := apptest.Invoice(t.Context(), a)(issuing.Issue(t.Context(), a, apptest.Admin, edit(inv)))
	if err != nil {
		t.Fatal(err)
	}
	apptest.Whole(t, a)
	return inv
}

// amounts are net, total and due of an invoice.
func amounts(inv *invoices.Invoice) string {
	t := inv.Document.Totals
	return strings.Join([]string{t.Net.String(), t.Total.String(), t.Due.String()}, " ")
}

func TestAOneOffBillTakesWhatIsAskedFor(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-10", "1:00")
	apptest.Record(t, a, apptest.Advice, "2026-11-11", "2:00")
	expense(t, a, apptest.Survey, "25", unchanged)
	other := apptest.Typed(apptest.Survey, "2026-11-12", "0:30")
	other.PersonID = 3
	if _, err := timekeeping.Record(t.Context(), a, apptest.Admin, other); err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		b    drafts.Beginning
		want string
	}{
		{drafts.Beginning{ClientID: 1, Take: "all"}, "375.00"},
		{drafts.Beginning{ClientID: 1, Take: "time"}, "350.00"},
		{drafts.Beginning{ClientID: 1, Take: "expenses"}, "25.00"},
		{drafts.Beginning{ClientID: 1, Take: "all", PersonID: 3}, "50.00"},
		{drafts.Beginning{ClientID: 1, Take: "nothing"}, "0.00"},
		{drafts.Beginning{EngagementID: apptest.Survey, Take: "all"}, "175.00"},
		{drafts.Beginning{ClientID: 1, Take: "all", UpTo: day.Of(2026, 11, 10)}, "100.00"},
	} {
		inv := begun(t, a, c.b)
		if inv.Net.String() != c.want {
			t.Errorf("%+v: %s, want %s", c.b, inv.Net, c.want)
		}
		apptest.Whole(t, a)
		if err := drafts.Delete(t.Context(), a, apptest.Admin, edit(inv)); err != nil {
			t.Fatal(err)
		}
	}
	offer, err := drafts.SummaryOf(t.Context(), a, apptest.Admin.Actor, 1, 0)
	if err != nil || len(offer.Engagements) != 2 || len(offer.People) != 2 || offer.Engagements[1].Time.String() != "150.00" &&
		offer.Engagements[0].Time.String() != "150.00" {
		t.Errorf("%+v, %v", offer, err)
	}
	inv := begun(t, a, drafts.Beginning{ClientID: 1})
	if inv, err = apptest.Invoice(t.Context(), a)(drafts.AddUnbilled(t.Context(), a, apptest.Admin, edit(inv), "time", 3)); err != nil ||
		inv.Net.String() != "50.00" {
		t.Errorf("offered again later: %v, %v", inv, err)
	}
	_, err = drafts.AddUnbilled(t.Context(), a, apptest.Admin, edit(inv), "time", 3)
	refused(t, err, "Nothing of this is unbilled")
}

// 3 × 12.50 = 37.50, and a reduction of 5.00; 23 % of 32.50 is 7.475, so 7.48.
func TestAnInvoiceWithNoTimeBehindIt(t *testing.T) {
	a := apptest.Firm(t)
	client := apptest.Add(t, a, "clients", "name", "Walk-in")
	inv := begun(t, a, drafts.Beginning{ClientID: client})
	if inv.Engagements != "One-off work" {
		t.Errorf("a client without work gets an engagement, so that it has a lead: %q", inv.Engagements)
	}
	inv = byHand(t, a, inv, drafts.LineTyped{Text: "Chart", Quantity: "3", Unit: "piece", Price: "12.50"})
	inv = byHand(t, a, inv, drafts.LineTyped{Text: "Goodwill", Amount: "-5"})
	inv = issue(t, a, inv)
	if amounts(inv) != "32.50 39.98 39.98" || inv.Document.Sections[0].Lines[0].Hours != "3 piece" {
		t.Errorf("%s, %+v", amounts(inv), inv.Document.Sections)
	}
	again := begun(t, a, drafts.Beginning{LikeID: inv.ID})
	if amounts(again) != amounts(inv) || again.State != invoice.Draft {
		t.Errorf("from an old invoice: %s", amounts(again))
	}
	template := apptest.Add(t, a, "invoice-templates", "name", "Charts", "lines", "Chart; 2; 45; piece\nDelivery; ; 12")
	if made := begun(t, a, drafts.Beginning{ClientID: client, TemplateID: template}); made.Net.String() != "102.00" {
		t.Errorf("from a template: %s", made.Net)
	}
	apptest.Whole(t, a)
	_, err := drafts.AddLine(t.Context(), a, apptest.Admin, edit(again), drafts.LineTyped{Text: "x"})
	refused(t, err, "Give an amount")
	_, err = drafts.AddLine(t.Context(), a, apptest.Admin, edit(again), drafts.LineTyped{Text: " ", Amount: "5"})
	refused(t, err, "give the line a text")
	_, err = drafts.AddLine(t.Context(), a, apptest.Admin, edit(again),
		drafts.LineTyped{Text: "x", Amount: "5", EngagementID: apptest.Study})
	refused(t, err, "can't stand on this invoice")
}

func TestLinesAreChangedOrderedAndTakenOff(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-10", "1:00")
	inv := begun(t, a, drafts.Beginning{ClientID: 1, Take: "all"})
	inv = byHand(t, a, inv, drafts.LineTyped{Text: "Chart", Amount: "10"})
	chart, hour := inv.Lines[1].LineID, inv.Lines[0].LineID
	inv, err := apptest.Invoice(t.Context(), a)(drafts.Order(t.Context(), a, apptest.Admin, edit(inv), []int64{chart, hour}))
	if err != nil || inv.Lines[0].LineID != chart || inv.Document.Sections[0].Lines[0].Text != "Chart" {
		t.Fatalf("%+v, %v", inv.Lines, err)
	}
	inv = byHand(t, a, inv, drafts.LineTyped{Text: "Last", Amount: "1"})
	if inv.Lines[2].Text != "Last" {
		t.Errorf("what is added to lines in an order stands at the end: %+v", inv.Lines)
	}
	if inv, err = apptest.Invoice(t.Context(), a)(drafts.ChangeLine(t.Context(), a, apptest.Admin, edit(inv), chart,
		drafts.LineTyped{Text: "Two charts", Quantity: "2", Price: "9.9999"})); err != nil || inv.Net.String() != "121.00" {
		t.Errorf("2 × 9.9999 is 20.00: %v, %v", inv, err)
	}
	_, err = drafts.ChangeLine(t.Context(), a, apptest.Admin, edit(inv), hour, drafts.LineTyped{Text: "less", Amount: "50"})
	refused(t, err, "follows from what was recorded")
	if inv, err = apptest.Invoice(t.Context(), a)(drafts.TakeOut(t.Context(), a, apptest.Admin, edit(inv), linesOf(hour))); err != nil ||
		inv.Net.String() != "21.00" || len(inv.LeftOut) != 1 {
		t.Errorf("%+v, %v", inv, err)
	}
	_, err = drafts.Order(t.Context(), a, apptest.Admin, edit(inv), []int64{chart, hour})
	refused(t, err, "have changed")
	apptest.Whole(t, a)
}

// 10 % of 1,000.00 is 100.00; 4 % of 900.00 is 36.00; 23 % of 936.00 is 215.28;
// 20 % of 936.00 is withheld. Computed by hand.
func TestEveryStepOfAnInvoiceIsAChoice(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-10", "10:00")
	inv := begun(t, a, drafts.Beginning{ClientID: 1, Take: "all"})
	inv = chosen(t, a, inv, "discount", "10 %", "invoice")
	inv = chosen(t, a, inv, "surcharge", "4", "client")
	inv = chosen(t, a, inv, "withholding", "20", "engagement")
	if got := amounts(inv); got != "936.00 1,151.28 964.08" {
		t.Errorf("%s", got)
	}
	from := map[string]string{}
	for _, c := range inv.Choices {
		from[c.Name] = c.Value + " " + c.From
	}
	if from["discount"] != "10 on this invoice only" || from["surcharge"] != "4 from the client Alder" ||
		from["withholding"] != "20 from the engagement Survey" {
		t.Errorf("%v", from)
	}
	inv = chosen(t, a, inv, "discount_amount", "50.50", "invoice")
	if got := inv.Document.Totals.Discount.String(); got != "50.50" {
		t.Errorf("an amount stands in place of a percentage: %s", got)
	}
	issue(t, a, inv)
	apptest.Record(t, a, apptest.Survey, "2026-11-11", "1:00")
	if next := begun(t, a, drafts.Beginning{ClientID: 1, Take: "all"}); next.Document.Totals.Surcharge.String() != "4.00" ||
		!next.Document.Totals.Discount.IsZero() {
		t.Errorf("from now on holds on the next invoice, this one only does not: %+v", next.Document.Totals)
	}
	_, err := drafts.SetChoice(t.Context(), a, apptest.Admin, edit(inv),
		drafts.ChoiceChange{Name: "credit_limit", Value: "1", Keep: "client"})
	refused(t, err, "")
}

func TestLayoutsColumnsAndTextsAreChosen(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-10", "1:00")
	apptest.Record(t, a, apptest.Survey, "2026-11-11", "0:30")
	inv := begun(t, a, drafts.Beginning{ClientID: 1, Take: "all"})
	inv = chosen(t, a, inv, "layout", "sum", "invoice")
	inv = chosen(t, a, inv, "sum_text", "For advice up to {up_to}", "invoice")
	if line := inv.Document.Sections[0].Lines[0]; len(inv.Document.Sections[0].Lines) != 1 || line.Text != "For advice up to 1 Dec 2026" ||
		line.Hours != "1.5" || line.Amount.String() != "150.00" {
		t.Errorf("%+v", inv.Document.Sections)
	}
	inv = chosen(t, a, inv, "layout", "person", "invoice")
	inv = chosen(t, a, inv, "layout_then", "date", "invoice")
	inv = chosen(t, a, inv, "columns", "rate, date", "invoice")
	if s := inv.Document.Sections; len(s) != 1 || s[0].Title != "Sam Staff" || s[0].Lines[1].Text != "11 Nov 2026" ||
		strings.Join(inv.Document.Columns, " ") != "date rate" {
		t.Errorf("%+v, %v", s, inv.Document.Columns)
	}
	_, err := drafts.SetChoice(t.Context(), a, apptest.Admin, edit(inv),
		drafts.ChoiceChange{Name: "columns", Value: "colour", Keep: "invoice"})
	refused(t, err, "not among what can be chosen")
	apptest.Whole(t, a)
}

// 369.00 in three: 123.00 each; the schedule follows the total while it is a draft.
func TestAPaymentScheduleFollowsTheTotal(t *testing.T) {
	a := apptest.Firm(t)
	inv := byHand(t, a, begun(t, a, drafts.Beginning{ClientID: 1}), drafts.LineTyped{Text: "Study", Amount: "300"})
	inv = chosen(t, a, inv, "schedule", "rest issue; rest monthly; rest monthly", "invoice")
	inv = byHand(t, a, inv, drafts.LineTyped{Text: "More", Amount: "0.01"})
	if p := inv.Around.Parts; len(p) != 3 || p[0].Amount.String() != "123.01" || p[2].Due != day.Of(2027, 2, 1) ||
		inv.Document.Terms != "3 instalments" {
		t.Errorf("%+v", p)
	}
	_, err := drafts.SetChoice(t.Context(), a, apptest.Admin, edit(inv),
		drafts.ChoiceChange{Name: "schedule", Value: "50% issue; 50% end", Keep: "invoice"})
	refused(t, err, "no end day")
	inv = issue(t, a, inv)
	if len(inv.Instalments) != 3 || inv.Due != apptest.Today || inv.Open.String() != "369.01" {
		t.Errorf("%+v", inv.Instalments)
	}
}

func TestAFixedFeeIsBilledAsItProgressesAndCoversTheTimeBehindIt(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Set(t, a, "engagements", apptest.Study, "fee", "1000")
	apptest.Set(t, a, "engagements", apptest.Study, "arrangement", "fixed")
	apptest.Record(t, a, apptest.Study, "2026-11-10", "5:00") // 500.00 at standard
	out := apptest.Typed(apptest.Study, "2026-11-11", "1:00")
	out.Treatment = wip.OutOfScope
	if _, err := timekeeping.Record(t.Context(), a, apptest.Staff, out); err != nil {
		t.Fatal(err)
	}
	inv := begun(t, a, drafts.Beginning{EngagementID: apptest.Study, Take: "all"})
	inv, err := apptest.Invoice(t.Context(), a)(drafts.AddProgress(t.Context(), a, apptest.Admin, edit(inv), apptest.Study, "60%"))
	if err != nil || inv.Net.String() != "680.00" || inv.Given.Variance.String() != "100.00" {
		t.Fatalf("600.00 of the fee and an hour of 80.00 outside of it: %+v, %v", inv, err)
	}
	if len(inv.Document.Sections[0].Lines) != 2 {
		t.Errorf("what is covered is not printed unless asked: %+v", inv.Document.Sections)
	}
	inv = chosen(t, a, inv, "covered_shown", "yes", "invoice")
	if lines := inv.Document.Sections[0].Lines; len(lines) != 3 {
		t.Errorf("%+v", lines)
	}
	issue(t, a, inv)
	next := begun(t, a, drafts.Beginning{EngagementID: apptest.Study, Take: "all"})
	_, err = drafts.AddProgress(t.Context(), a, apptest.Admin, edit(next), apptest.Study, "50%")
	refused(t, err, "600.00 is billed already")
	_, err = drafts.AddProgress(t.Context(), a, apptest.Admin, edit(next), apptest.Study, "400.01")
	refused(t, err, "give at most 400.00")
	_, err = drafts.AddProgress(t.Context(), a, apptest.Admin, edit(next), apptest.Survey, "10%")
	refused(t, err, "can't stand on this invoice")
	if next, err = apptest.Invoice(t.Context(), a)(drafts.AddProgress(t.Context(), a, apptest.Admin, edit(next), apptest.Study,
		"150")); err != nil || next.Lines[0].Text != "Study, 75 % done" {
		t.Errorf("%+v, %v", next, err)
	}
	if next, err = apptest.Invoice(t.Context(), a)(drafts.AddProgress(t.Context(), a, apptest.Admin, edit(next), apptest.Study,
		"100%")); err != nil || next.Net.String() != "400.00" || len(next.Lines) != 1 {
		t.Errorf("the line is changed, not doubled: %+v, %v", next, err)
	}
	work := next.Around.Engagements[0]
	if work.Billed.String() != "1,000.00" || work.Covered.String() != "500.00" || work.Variance.String() != "100.00" {
		t.Errorf("%+v", work)
	}
	apptest.Whole(t, a)
	next, err = apptest.Invoice(t.Context(), a)(drafts.TakeOut(t.Context(), a, apptest.Admin, edit(next), linesOf(next.Lines[0].LineID)))
	if err != nil || len(next.Lines) != 0 {
		t.Errorf("%+v, %v", next, err)
	}
	apptest.Whole(t, a)
}

// Monthly from 10 October, prorated to the calendar: 22 of 31 days of 310.00 is
// 220.00, then whole months. The last is cut at the closing day: 15 of 30.
func TestRecurringFeesAreBilledOncePerPeriod(t *testing.T) {
	a := apptest.Firm(t)
	for _, set := range [][2]string{{"fee", "310"}, {"fee_period", "month"}, {"fee_from", "2026-10-10"}, {"fee_prorated", "yes"},
		{"arrangement", "recurring"}} {
		apptest.Set(t, a, "engagements", apptest.Study, set[0], set[1])
	}
	inv := begun(t, a, drafts.Beginning{EngagementID: apptest.Study, Take: "all", Dated: day.Of(2026, 11, 1), UpTo: day.Of(2026, 10, 31)})
	if got := inv.Document.Sections[0].Lines; len(got) != 2 || got[0].Amount.String() != "220.00" || got[1].Amount.String() != "310.00" ||
		got[0].Text != "Study, 10 Oct 2026 to 31 Oct 2026" {
		t.Errorf("%+v", got)
	}
	inv = issue(t, a, inv)
	if again := begun(t, a, drafts.Beginning{EngagementID: apptest.Study, Take: "fees",
		Dated: day.Of(2026, 11, 30)}); len(again.Lines) != 0 {
		t.Errorf("a charge is billed once: %+v", again.Lines)
	}
	apptest.Set(t, a, "engagements", apptest.Study, "name", "Study, renamed")
	apptest.Set(t, a, "engagements", apptest.Study, "fee_from", "2026-10-20")
	if again := begun(t, a, drafts.Beginning{EngagementID: apptest.Study, Take: "fees",
		Dated: day.Of(2026, 11, 30)}); len(again.Lines) != 0 {
		t.Errorf("what is charged is charged, whatever it is called or begins: %+v", again.Lines)
	}
	apptest.Set(t, a, "engagements", apptest.Study, "closed", "2026-12-15")
	last := begun(t, a, drafts.Beginning{EngagementID: apptest.Study, Take: "all"})
	if len(last.Lines) != 1 || last.Net.String() != "150.00" {
		t.Errorf("15 of 31 days of December: %+v", last.Lines)
	}
	apptest.Whole(t, a)
	if err := drafts.Delete(t.Context(), a, apptest.Admin, edit(last)); err != nil {
		t.Fatal(err)
	}
	apptest.Whole(t, a)
	credited, err := apptest.Invoice(t.Context(), a)(issuing.Credit(t.Context(), a, apptest.Admin, edit(inv),
		issuing.Crediting{Reason: "wrong month", Lines: []issuing.CreditedLine{{LineID: inv.Lines[1].LineID, Again: true}}}))
	if err != nil || credited.Net.String() != "310.00" {
		t.Fatalf("%+v, %v", credited, err)
	}
	apptest.Whole(t, a)
	if again := begun(t, a, drafts.Beginning{EngagementID: apptest.Study, Take: "fees"}); len(again.Lines) != 2 ||
		again.Net.String() != "460.00" {
		t.Errorf("what is credited to be billed again is planned again: %+v", again.Lines)
	}
}

func TestAnAdvanceComesBackOnTheFinalBill(t *testing.T) {
	a := apptest.Firm(t)
	ahead := byHand(t, a, begun(t, a, drafts.Beginning{EngagementID: apptest.Study}),
		drafts.LineTyped{Text: "In advance", Amount: "300", Advance: true})
	ahead = issue(t, a, ahead)
	apptest.Record(t, a, apptest.Study, "2026-11-10", "5:00")
	inv := begun(t, a, drafts.Beginning{EngagementID: apptest.Study, Take: "all"})
	if got := amounts(inv); got != "100.00 123.00 123.00" || inv.Lines[1].Amount.String() != "−300.00" {
		t.Fatalf("400.00 less 300.00: %s, %+v", got, inv.Lines)
	}
	_, err := issuing.Reopen(t.Context(), a, apptest.Admin, edit(ahead))
	refused(t, err, "has come back on another bill")
	back := inv.Lines[1].LineID
	_, err = drafts.ChangeLine(t.Context(), a, apptest.Admin, edit(inv), back, drafts.LineTyped{Text: "less", Amount: "-301"})
	refused(t, err, "300.00 can come back")
	if inv, err = apptest.Invoice(t.Context(), a)(drafts.ChangeLine(t.Context(), a, apptest.Admin, edit(inv), back,
		drafts.LineTyped{Text: "Less a part", Amount: "-100"})); err != nil || inv.Net.String() != "300.00" {
		t.Fatal(inv, err)
	}
	if left := inv.Around.Advances; len(left) != 1 || left[0].Left.String() != "200.00" {
		t.Errorf("%+v", left)
	}
	issue(t, a, inv)
	discounted := begun(t, a, drafts.Beginning{EngagementID: apptest.Study})
	discounted = byHand(t, a, discounted, drafts.LineTyped{Text: "Work", Amount: "1000"})
	if discounted, err = apptest.Invoice(t.Context(),
		a)(drafts.Recoup(t.Context(), a, apptest.Admin, edit(discounted), ahead.Lines[0].LineID)); err != nil {
		t.Fatal(err)
	}
	if discounted = chosen(t, a, discounted, "discount", "10", "invoice"); discounted.Net.String() != "700.00" {
		t.Errorf("a discount is on the price, not on money paid ahead: %s", discounted.Net)
	}
	apptest.Whole(t, a)
}

func TestAnIssuedInvoiceIsReopenedAndKeepsItsNumber(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-10", "1:00")
	inv := issue(t, a, begun(t, a, drafts.Beginning{ClientID: 1, Take: "all"}))
	open, err := apptest.Invoice(t.Context(), a)(issuing.Reopen(t.Context(), a, apptest.Admin, edit(inv)))
	if err != nil || open.State != invoice.Draft || open.Number != "N1" || open.Beside != "reopened" || !open.Printed.IsDraft || open.NextNumber != "N1" {
		t.Fatalf("%+v, %v", open, err)
	}
	apptest.Whole(t, a)
	refused(t, drafts.Delete(t.Context(), a, apptest.Admin, edit(open)), "It was issued as N1")
	open = byHand(t, a, open, drafts.LineTyped{Text: "Forgotten", Amount: "10"})
	again := issue(t, a, open)
	if again.Number != "N1" || again.Total.String() != "135.30" {
		t.Errorf("%s over %s", again.Number, again.Total)
	}
	second := issue(t, a, byHand(t, a, begun(t, a, drafts.Beginning{ClientID: 1}), drafts.LineTyped{Text: "x", Amount: "1"}))
	if second.Number != "N2" {
		t.Errorf("%s", second.Number)
	}
	open, err = apptest.Invoice(t.Context(), a)(issuing.Reopen(t.Context(), a, apptest.Admin, edit(again)))
	if err != nil {
		t.Fatal(err)
	}
	if open, err = apptest.Invoice(t.Context(), a)(drafts.SetDates(t.Context(), a, apptest.Admin, edit(open),
		drafts.Dates{Dated: apptest.Today + 1, UpTo: apptest.Today})); err != nil {
		t.Fatal(err)
	}
	_, err = issuing.Issue(t.Context(), a, apptest.Admin, edit(open))
	refused(t, err, "The invoice after it is dated")
	if _, err = receivables.Receive(t.Context(), a, apptest.Admin,
		receivables.TypedPayment{ClientID: 1, Day: apptest.Today, Amount: "1", Method: "cash"}); err != nil {
		t.Fatal(err)
	}
	paid, err := invoices.One(t.Context(), a, apptest.Admin.Actor, second.ID)
	if err != nil || paid.State != invoice.PartPaid {
		t.Fatal(paid, err)
	}
	_, err = issuing.Reopen(t.Context(), a, apptest.Admin, edit(paid))
	refused(t, err, "paid in part")
	apptest.Whole(t, a)
}

// A credit in part of 40.00 of 100.00 at 23 % is 49.20; the hour is cut, so that 24
// of its 60 minutes are unbilled again.
func TestACreditNoteBillsAgainOrConcedes(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-10", "1:00")
	apptest.Record(t, a, apptest.Advice, "2026-11-11", "1:00")
	inv := issue(t, a, begun(t, a, drafts.Beginning{ClientID: 1, Take: "all"}))
	first := inv.Lines[0].LineID
	_, err := issuing.Credit(t.Context(), a, apptest.Admin, edit(inv), issuing.Crediting{Lines: []issuing.CreditedLine{{LineID: first}}})
	refused(t, err, "Say why")
	_, err = issuing.Credit(t.Context(), a, apptest.Admin, edit(inv),
		issuing.Crediting{Reason: "x", Lines: []issuing.CreditedLine{{LineID: first, Amount: "100.01"}}})
	refused(t, err, "give at most that")
	asked := issuing.Crediting{Reason: "Half of it was ours", Lines: []issuing.CreditedLine{{LineID: first, Amount: "40", Again: true}}}
	preview, err := issuing.PreviewCredit(t.Context(), a, apptest.Admin.Actor, inv.ID, asked)
	if err != nil || preview.Total.String() != "49.20" {
		t.Fatal(preview, err)
	}
	note, err := apptest.Invoice(t.Context(), a)(issuing.Credit(t.Context(), a, apptest.Admin, edit(inv), asked))
	if err != nil || note.Number != "C1" || note.Kind != invoice.CreditNote || note.Total.String() != "49.20" ||
		note.Credits.Number != "N1" {
		t.Fatalf("%+v, %v", note, err)
	}
	apptest.Whole(t, a)
	if list := listed(t, a); list.Minutes != 24 || list.Totals[0].String() != "40.00" {
		t.Errorf("%+v", list)
	}
	after, err := invoices.One(t.Context(), a, apptest.Admin.Actor, inv.ID)
	if err != nil || after.Beside != "credited in part" || after.Open.String() != "196.80" || after.State != invoice.Issued ||
		len(after.Notes) != 1 {
		t.Fatalf("%+v, %v", after, err)
	}
	lines, err := issuing.CreditableLines(t.Context(), a, apptest.Admin.Actor, inv.ID)
	if err != nil || lines[0].Left.String() != "60.00" {
		t.Fatal(lines, err)
	}
	rest, err := apptest.Invoice(t.Context(), a)(issuing.Credit(t.Context(), a, apptest.Admin, edit(after),
		issuing.Crediting{Reason: "The rest", Lines: []issuing.CreditedLine{{LineID: lines[0].LineID}, {LineID: lines[1].LineID}}}))
	if err != nil || rest.Number != "C2" || rest.Total.String() != "196.80" {
		t.Fatalf("%+v, %v", rest, err)
	}
	apptest.Whole(t, a)
	register, err := invoices.Register(t.Context(), a, apptest.Admin.Actor, invoices.Filter{})
	if err != nil || len(register) != 3 {
		t.Fatal(register, err)
	}
	for _, one := range register {
		if one.ID == inv.ID && (one.Beside != "credited in full" || !one.Open.IsZero()) {
			t.Errorf("%+v", one)
		}
	}
	if list := listed(t, a); list.Minutes != 24 {
		t.Errorf("a concession stays billed: %+v", list)
	}
	for state, want := range map[string]int{"open": 0, "credited": 1, "credit_note": 2, "paid": 1, "late": 0, "disputed": 0} {
		if some, err := invoices.Register(t.Context(), a, apptest.Admin.Actor, invoices.Filter{State: state, Order: "due"}); err != nil ||
			len(some) != want {
			t.Errorf("%s: %d, want %d, %v", state, len(some), want, err)
		}
	}
}

func TestCurrenciesOfNoneAndThreeDecimals(t *testing.T) {
	a := apptest.Firm(t)
	for _, c := range []struct{ currency, amount, want string }{{"JPY", "10005", "10,005 12,306 12,306"},
		{"BHD", "10.005", "10.005 12.306 12.306"}} {
		client := apptest.Add(t, a, "clients", "name", "In "+c.currency, "currency", c.currency)
		apptest.Add(t, a, "exchange-rates", "currency", c.currency, "day", "2026-11-01", "rate", "1", "source", "invented")
		inv := byHand(t, a, begun(t, a, drafts.Beginning{ClientID: client}), drafts.LineTyped{Text: "Work", Amount: c.amount})
		inv = chosen(t, a, inv, "schedule", "rest issue; rest monthly", "invoice")
		if inv = issue(t, a, inv); amounts(inv) != c.want {
			t.Errorf("%s: %s, want %s", c.currency, amounts(inv), c.want)
		}
	}
	inv := begun(t, a, drafts.Beginning{ClientID: apptest.Add(t, a, "clients", "name", "Yen", "currency", "JPY")})
	_, err := drafts.AddLine(t.Context(), a, apptest.Admin, edit(inv), drafts.LineTyped{Text: "x", Amount: "1.5"})
	refused(t, err, "")
}

func TestADisputeStandsBesideTheState(t *testing.T) {
	a := apptest.Firm(t)
	inv := issue(t, a, byHand(t, a, begun(t, a, drafts.Beginning{ClientID: 1}), drafts.LineTyped{Text: "x", Amount: "1"}))
	inv, err := apptest.Invoice(t.Context(), a)(issuing.Dispute(t.Context(), a, apptest.Admin, edit(inv), "They say it was 0.50"))
	if err != nil || inv.Beside != "disputed" || inv.State != invoice.Issued {
		t.Fatal(inv, err)
	}
	if inv, err = apptest.Invoice(t.Context(), a)(issuing.Dispute(t.Context(), a, apptest.Admin, edit(inv), "")); err != nil ||
		inv.Beside != "" {
		t.Fatal(inv, err)
	}
}

// 1,000.00 at 5 % and 8 %: 50.00 + 80.00 side by side, 50.00 + 84.00 compound; both
// on one invoice with a line that is reverse charged.
func TestTwoTaxesAndAReverseChargeOnOneInvoice(t *testing.T) {
	a := apptest.Firm(t)
	for code, compound := range map[string]string{"BESIDE": "no", "ONTOP": "yes"} {
		apptest.Add(t, a, "tax-codes", "code", code, "name", "State tax", "second_name", "City tax", "second_compound", compound)
		apptest.Add(t, a, "tax-rates", "code", code, "from", "2026-01-01", "percent", "5", "second_percent", "8")
	}
	apptest.Add(t, a, "tax-codes", "code", "AE", "name", "VAT", "category", "AE", "notice", "Reverse charge")
	apptest.Add(t, a, "tax-rates", "code", "AE", "from", "2026-01-01", "percent", "0")
	inv := begun(t, a, drafts.Beginning{ClientID: 1})
	for _, code := range []string{"BESIDE", "ONTOP", "AE"} {
		inv = byHand(t, a, inv, drafts.LineTyped{Text: "Work at " + code, Amount: "1000", TaxCode: code})
	}
	inv = issue(t, a, inv)
	if got := amounts(inv); got != "3,000.00 3,264.00 3,264.00" {
		t.Errorf("%s", got)
	}
	if notice := inv.Document.Totals.Taxes[2].Notice; notice != "Reverse charge" {
		t.Errorf("the document says %q", notice)
	}
}

func TestAnAcceptedProposalIsBilledAtOnce(t *testing.T) {
	a := apptest.Firm(t)
	_, err := drafts.Begin(t.Context(), a, apptest.Admin, drafts.Beginning{ProposalID: 7, Take: "nothing"})
	refused(t, err, "no such proposal")
}

// What a person waits for when they change a draft of sixty entries.
func BenchmarkAChangeOfADraftOf60Lines(b *testing.B) {
	a := apptest.Firm(b)
	for range 60 {
		apptest.Record(b, a, apptest.Survey, "2026-11-10", "1:00")
	}
	inv, err := apptest.Invoice(b.Context(), a)(drafts.Begin(b.Context(), a, apptest.Admin,
		drafts.Beginning{EngagementID: apptest.Survey, Take: "all"}))
	if err != nil {
		b.Fatal(err)
	}
	percent := 0
	for b.Loop() {
		percent = (percent + 1) % 20
		if inv, err = apptest.Invoice(b.Context(), a)(drafts.SetChoice(b.Context(), a, apptest.Admin, edit(inv),
			drafts.ChoiceChange{Name: "discount", Value: fmt.Sprint(percent), Keep: "invoice"})); err != nil {
			b.Fatal(err)
		}
	}
}

// A discount that was agreed for one engagement alone would be lost on an invoice of
// several, or taken off all of them.
func TestAnEngagementWithAPriceOfItsOwnHasItsOwnInvoice(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Set(t, a, "engagements", apptest.Advice, "discount", "10")
	apptest.Record(t, a, apptest.Survey, "2026-11-10", "1:00")
	apptest.Record(t, a, apptest.Advice, "2026-11-10", "1:00")
	made, err := runs.MakeDrafts(t.Context(), a, apptest.Admin,
		unbilled.Selection{UpTo: november, Dated: apptest.Today, EngagementIDs: []int64{apptest.Survey, apptest.Advice}})
	if err != nil || len(made) != 2 || made[0].Net.String()+made[1].Net.String() != "90.00100.00" &&
		made[0].Net.String()+made[1].Net.String() != "100.0090.00" {
		t.Errorf("%+v, %v", made, err)
	}
	apptest.Whole(t, a)
}

// The rate that holds on the tax date is taken when it is issued, and shown before.
func TestATaxRateThatWasSetSinceCounts(t *testing.T) {
	a := apptest.Firm(t)
	inv := byHand(t, a, begun(t, a, drafts.Beginning{ClientID: 1}), drafts.LineTyped{Text: "Work", Amount: "100"})
	apptest.Add(t, a, "tax-rates", "code", "S", "from", "2026-12-01", "percent", "25")
	seen, err := invoices.One(t.Context(), a, apptest.Admin.Actor, inv.ID)
	if err != nil || seen.Total.String() != "125.00" {
		t.Fatalf("%+v, %v", seen.Summary, err)
	}
	if inv = issue(t, a, seen); inv.Total.String() != "125.00" {
		t.Errorf("%s", inv.Total)
	}
}
