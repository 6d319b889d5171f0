package receivables_test

import (
	"strings"
	"testing"

	core "dorvet/core/delivery"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/delivery"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/receivables"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// later is some days after the first.
func later(a *app.App, days int) {
	a.Clock = app.PinnedClock{Date: apptest.Today.AddDays(days), At: a.Clock.Now().AddDate(0, 0, days)}
}

func lettered(t *testing.T, a *app.App, l receivables.Lettering) (delivery.Letter, error) {
	t.Helper()
	shown, err := receivables.PreviewLetter(t.Context(), a, apptest.Admin.Actor, l)
	if err != nil {
		t.Fatal(err)
	}
	_, err = receivables.SendLetter(t.Context(), a, apptest.Admin, l)
	if (err == nil) != (shown[0].Problem == "") {
		t.Errorf("%s: foreseen %q, was %v", l.Kind, shown[0].Problem, err)
	}
	if err := correspondence.Deliver(t.Context(), a); err != nil {
		t.Fatal(err)
	}
	return shown[0], err
}

// A deposit request, a statement and a reminder go by the same queue, each to who receives it, and stand in one list with what became of
// them.
func TestLettersThatBringNoInvoice(t *testing.T) {
	a := apptest.Firm(t)
	mails := apptest.Mail(a)
	drawn := map[string]invoice.Document{}
	a.Render = func(doc invoice.Document) ([]byte, error) {
		drawn[doc.Kind] = doc
		return []byte(doc.Kind + doc.Number), nil
	}
	for _, c := range [][]string{{"Ann", "gets_invoices"}, {"Cy", "gets_statements"}, {"Dee", "gets_reminders"}} {
		values := []string{"client", "A", "name", c[0], "mail", strings.ToLower(c[0]) + "@alder.example", "gets_invoices", "no", "gets_statements", "no",
			"gets_reminders", "no", "gets_proposals", "no"}
		id := apptest.Add(t, a, "contacts", values...)
		apptest.Set(t, a, "contacts", id, c[1], "yes")
	}
	request, err := receivables.RequestDeposit(t.Context(), a, apptest.Admin, receivables.TypedRequest{ClientID: 1, Amount: "500", Text: "Boats"})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := lettered(t, a, receivables.Lettering{Kind: core.Deposit, ID: request.ID}); err != nil {
		t.Fatal(err)
	}
	if body := mails.Find(t, "ann@alder.example", `(?s)(.*)`); !strings.Contains(body, "deposit of EUR\u00a0500.00 by") || !strings.Contains(body, "Boats") {
		t.Errorf("%s", body)
	}
	if _, err := lettered(t, a, receivables.Lettering{Kind: core.Statement, ID: 1}); apptest.RefusalOf(t, err) == nil {
		t.Error("a statement of nothing goes out")
	}
	inv := apptest.Issued(t, a, apptest.Survey)
	if _, err := lettered(t, a, receivables.Lettering{Kind: core.Reminder, ID: 1}); apptest.RefusalOf(t, err) == nil {
		t.Error("what is not late is reminded of")
	}
	later(a, 60)
	shown, err := lettered(t, a, receivables.Lettering{Kind: core.Reminder, ID: 1, Tone: "firm"})
	if err != nil || !strings.Contains(shown.Subject, "Overdue: EUR\u00a0246.00") {
		t.Errorf("%+v, %v", shown, err)
	}
	secret := mails.Find(t, "dee@alder.example", `/invoice#(\S+)`)
	if page, err := delivery.ReadPage(t.Context(), a, secret); err != nil || page.Printed.Number != inv.Number {
		t.Errorf("%+v, %v", page, err)
	}
	if _, err := lettered(t, a, receivables.Lettering{Kind: core.Statement, ID: 1}); err != nil {
		t.Fatal(err)
	}
	statement := drawn["statement"]
	if body := mails.Find(t, "cy@alder.example", `(?s)(.*)`); !strings.Contains(body, "EUR\u00a0246.00, of which EUR\u00a0246.00 is late") ||
		statement.Totals.Due.Minor != 24_600 || len(statement.Foot) != 1 {
		t.Errorf("%s\n%+v", body, statement)
	}
	now, err := invoices.One(t.Context(), a, apptest.Admin.Actor, inv.ID)
	if err != nil || now.Handed != "" { // a reminder hands no invoice over
		t.Errorf("%q, %v", now.Handed, err)
	}
	list, err := delivery.List(t.Context(), a, apptest.Admin.Actor, delivery.LetterFilter{ClientID: 1}, 0, 10)
	if err != nil || len(list.Letters) != 3 || list.Counts["taken"] != 3 || list.Letters[0].Brings != "statement" || list.Letters[2].Number != "D1" {
		t.Errorf("%+v, %v", list, err)
	}
	if list, err = delivery.List(t.Context(), a, apptest.Admin.Actor, delivery.LetterFilter{Kind: "reminder"}, 0, 10); err != nil ||
		len(list.Letters) != 1 || list.Letters[0].To != "Dee" {
		t.Errorf("%+v, %v", list, err)
	}
	apptest.Whole(t, a)
}

// Source: the rules of this product: a dispute, and a promise to pay with its day, stop a reminder; RFC 8058: one click ends them, for the
// address that got one.
func TestWhatIsNotRemindedOf(t *testing.T) {
	a := apptest.Firm(t)
	mails := apptest.Mail(a)
	apptest.Add(t, a, "contacts", "client", "A", "name", "Ann", "mail", "ann@alder.example", "gets_invoices", "yes", "gets_reminders", "yes")
	apptest.Record(t, a, apptest.Survey, "2026-11-29", "1:00")
	inv := apptest.Issued(t, a, apptest.Survey) // 123.00 and 246.00
	secret := apptest.Sent(t, a, mails, inv.ID)
	if err := delivery.Say(t.Context(), a, secret, delivery.Claiming{Kind: store.Disputed, Section: 0, Line: 0, Text: "Not ours"}); err != nil {
		t.Fatal(err)
	}
	later(a, 60)
	reminder := receivables.Lettering{Kind: core.Reminder, ID: 1}
	if shown, err := lettered(t, a, reminder); err != nil || !strings.Contains(shown.Subject, "246.00") {
		t.Errorf("%+v, %v", shown, err)
	}
	last := mails.All[len(mails.All)-1]
	if err := delivery.Say(t.Context(), a, secret, delivery.Claiming{Kind: store.Promise, Section: -1, Line: -1, Day: day.Of(2027, 2, 10)}); err != nil {
		t.Fatal(err)
	}
	if shown, err := lettered(t, a, reminder); err == nil || !strings.Contains(shown.Problem, "promised for 10 Feb 2027") {
		t.Errorf("%+v", shown)
	}
	later(a, 90) // its day is over
	if _, err := lettered(t, a, reminder); err != nil {
		t.Error(err)
	}
	_, ends, found := strings.Cut(last.EndsAt, "/api/public/reminders/")
	if !found {
		t.Fatalf("no way to end reminders: %+v", last)
	}
	for range 2 {
		if err := delivery.EndReminders(t.Context(), a, ends); err != nil {
			t.Fatal(err)
		}
	}
	if err := delivery.EndReminders(t.Context(), a, secret); apptest.RefusalOf(t, err) == nil {
		t.Error("another link ends reminders")
	}
	if shown, err := lettered(t, a, reminder); err == nil || len(shown.To) != 0 {
		t.Errorf("%+v", shown)
	}
	apptest.Set(t, a, "clients", 1, "mail", "office@alder.example")
	shown, err := receivables.PreviewLetter(t.Context(), a, apptest.Admin.Actor, reminder)
	if err != nil || len(shown[0].To) != 1 {
		t.Errorf("%+v, %v", shown, err)
	}
	for _, to := range shown[0].To { // the client's own address is left, and ends them for all
		if _, err := lettered(t, a, reminder); err != nil {
			t.Fatal(err)
		}
		_, ends, _ := strings.Cut(mails.All[len(mails.All)-1].EndsAt, "/api/public/reminders/")
		if err := delivery.EndReminders(t.Context(), a, ends); err != nil {
			t.Fatal(err)
		}
		if _, err := lettered(t, a, reminder); apptest.RefusalOf(t, err) == nil {
			t.Errorf("%s is reminded on", to.Mail)
		}
	}
	apptest.Whole(t, a)
}
