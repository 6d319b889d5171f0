package receivables_test

import (
	"errors"
	"strings"
	"testing"
	"time"

	core "dorvet/core/delivery"

	"dorvet/core/day"
	"dorvet/core/letter"
	"dorvet/core/reminder"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/receivables"
	"dorvet/internal/app/registry"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// collecting is a firm with one invoice at Alder, due on 31 Dec 2026, on a day of its choice.
type collecting struct {
	*testing.T
	*app.App
	mails  *apptest.Letters
	due    day.Day
	id     int64
	alder  receivables.LetterTo
	amount string // that letters name
}

func collect(t *testing.T) *collecting {
	a := apptest.Firm(t)
	c := &collecting{T: t, App: a, mails: apptest.Mail(a), amount: "246.00"}
	apptest.Add(t, a, "contacts", "client", "A", "name", "Dee", "mail", "dee@alder.example", "phones", "+353 1 555 0101", "gets_reminders", "yes")
	inv := apptest.Issued(t, a, apptest.Survey)
	c.due, c.id = inv.Due, inv.ID
	c.alder = receivables.LetterTo{ClientID: 1, EntityID: 1, Currency: "EUR"}
	return c
}

// late sets the clock to some days after the due day, at nine.
func (c *collecting) late(days int) {
	on := c.due.AddDays(days)
	c.Clock = app.PinnedClock{Date: on, At: on.Time().Add(9 * time.Hour)}
}

// row is what the plan does about Alder today, if anything is late.
func (c *collecting) row() receivables.ToRemind {
	c.Helper()
	list, err := receivables.Reminders(c.Context(), c.App, apptest.Admin.Actor)
	if err != nil {
		c.Fatal(err)
	}
	for _, r := range list {
		if r.ClientID == 1 {
			return r
		}
	}
	return receivables.ToRemind{}
}

// goes fails unless the plan says that a letter of a step goes today ("" for none, with why); it then sends it, as foreseen.
func (c *collecting) goes(step, why string) {
	c.Helper()
	row := c.row()
	if row.Goes != (step != "") || row.Step != inWords(c.T, step) || !strings.Contains(row.Why, why) {
		c.Errorf("on %s: %+v", c.Clock.Today(), row)
	}
	shown, err := receivables.PreviewReminder(c.Context(), c.App, apptest.Admin.Actor, c.alder)
	before := len(c.mails.All)
	said := c.send()
	if sent := len(c.mails.All) - before; sent != 0 != row.Goes || row.Goes != strings.Contains(said, "1 reminder is on the way") {
		c.Errorf("%+v: %d letters, %s", row, sent, said)
	}
	if row.Goes && (err != nil || shown[0].Problem != "" || shown[0].Subject != c.mails.All[before].Subject ||
		shown[0].To[0].Mail != c.mails.All[before].To.Address || row.To != shown[0].To[0].Mail ||
		!strings.Contains(c.mails.All[before].Body, c.amount) || len(shown[0].Files) != len(c.mails.All[before].Files)) {
		c.Errorf("%+v was foreseen, %v", shown, err)
	}
	if !row.Goes && err == nil && shown[0].Problem == "" {
		c.Errorf("%+v would go", shown)
	}
}

// inWords is a step as it is read.
func inWords(t *testing.T, typed string) string {
	t.Helper()
	plan, err := reminder.Read(typed)
	if err != nil || len(plan) > 1 {
		t.Fatal(plan, err)
	}
	if len(plan) == 0 {
		return ""
	}
	return plan[0].Words()
}

// send sends what is chosen, and says what became of it.
func (c *collecting) send() string {
	c.Helper()
	job, err := receivables.BeginReminders(c.Context(), c.App, apptest.Admin, []receivables.LetterTo{c.alder})
	if err != nil {
		c.Fatal(err)
	}
	c.Jobs.Wait()
	if err := correspondence.Deliver(c.Context(), c.App); err != nil {
		c.Fatal(err)
	}
	if job, err = c.Jobs.Read(c.Context(), c.App, apptest.Admin.Actor, job.ID); err != nil || job.State != "done" {
		c.Fatalf("%+v, %v", job, err)
	}
	return job.Said
}

// Source: the rules of this product for plans of reminders.
func TestAPlanGoesUpStepByStep(t *testing.T) {
	c := collect(t)
	apptest.Set(t, c.App, "clients", 1, "reminder_plan", "3 before warm; 7; 30 firm statement; 45 firm invoices by hand")
	c.late(-4)
	c.goes("", "")
	c.late(-3)
	c.goes("3 before warm", "")
	c.goes("", "") // the second click
	c.late(2)
	c.goes("", "no step is due")
	if row := c.row(); row.Next != c.due.AddDays(7) || row.Last != c.due.AddDays(-3) {
		t.Errorf("%+v", row)
	}
	c.late(33) // a fortnight's holiday: both steps have come, the higher one goes
	if list, err := receivables.Reminders(t.Context(), c.App, apptest.Admin.Actor); err != nil || len(list) != 1 || list[0].Amount.String() != "246.00" {
		t.Errorf("%+v, %v", list, err)
	}
	c.goes("30 firm statement", "")
	if last := c.mails.All[len(c.mails.All)-1]; len(last.Files) != 1 || !strings.Contains(last.Subject, "Overdue") {
		t.Errorf("%+v", last)
	}
	c.late(45)
	if row := c.row(); !row.ByHand || !row.Goes {
		t.Errorf("%+v", row)
	}
	c.goes("45 firm invoices by hand", "")
	if last := c.mails.All[len(c.mails.All)-1]; len(last.Files) != 1 || !strings.HasPrefix(last.Files[0].Name, "N1 Alder") {
		t.Errorf("%+v", last.Files)
	}
	c.late(400)
	c.goes("", "no step is due")
	apptest.Whole(t, c.App)
}

func TestWhatStopsAPlan(t *testing.T) {
	c := collect(t)
	c.late(14)
	apptest.Set(t, c.App, "clients", 1, "reminder_least", "246.01")
	c.goes("", "less than 246.01")
	apptest.Set(t, c.App, "clients", 1, "reminder_least", "246.00")
	apptest.Set(t, c.App, "clients", 1, "reminder_plan", "")
	c.goes("", "no plan")
	apptest.Set(t, c.App, "clients", 1, "reminder_plan", "14; 15; 16; 17; 40")
	apptest.Set(t, c.App, "clients", 1, "reminders", "no")
	c.goes("", "reminders are off")
	apptest.Set(t, c.App, "clients", 1, "reminders", "yes")

	for _, h := range []receivables.Holding{{ClientID: 1, Until: c.Clock.Today(), Reason: "A new bookkeeper"}, {InvoiceID: c.id, Reason: "A new order number"}} {
		if err := receivables.Hold(t.Context(), c.App, apptest.Admin, h); err != nil {
			t.Fatal(err)
		}
		c.goes("", h.Reason)
		if _, err := receivables.SendLetter(t.Context(), c.App, apptest.Admin, receivables.Lettering{Kind: core.Reminder, ID: 1}); apptest.RefusalOf(t, err) == nil {
			t.Errorf("%+v: a reminder goes by hand", h)
		}
		dealt, err := receivables.Dealings(t.Context(), c.App, apptest.Admin.Actor, 1)
		if err != nil || len(dealt.Holds) != 1 || dealt.Holds[0].Reason != h.Reason {
			t.Fatalf("%+v, %v", dealt.Holds, err)
		}
		if h.ClientID == 1 {
			c.late(15) // its day is over
			c.goes("15", "")
			c.late(16)
			continue
		}
		for range 2 { // the second click
			if err := receivables.Lift(t.Context(), c.App, apptest.Admin, dealt.Holds[0].ID); err != nil {
				t.Fatal(err)
			}
		}
	}
	for _, bad := range []receivables.Holding{{ClientID: 1}, {ClientID: 99, Reason: "x"}, {InvoiceID: 99, Reason: "x"}, {ClientID: 1, Reason: "x", Until: c.due}} {
		if err := receivables.Hold(t.Context(), c.App, apptest.Admin, bad); apptest.RefusalOf(t, err) == nil {
			t.Errorf("%+v is taken", bad)
		}
	}

	call := receivables.Calling{ClientID: 1, Outcome: store.Promised, With: "Dee", Promised: c.due.AddDays(20)}
	if err := receivables.RecordCall(t.Context(), c.App, apptest.Admin, call); err != nil {
		t.Fatal(err)
	}
	c.goes("", "promised for 20 Jan 2027")
	c.late(21)
	c.goes("17", "")

	c.late(40)
	if _, err := receivables.Receive(t.Context(), c.App, apptest.Admin, receivables.TypedPayment{ClientID: 1, Day: c.Clock.Today(), Amount: "246", Method: "cash"}); err != nil {
		t.Fatal(err)
	}
	c.goes("", "")
	apptest.Whole(t, c.App)
}

// A letter that came back was none: the step is sent again. One that was sent by hand counts.
func TestOnlyLettersThatLeftCount(t *testing.T) {
	c := collect(t)
	c.late(14)
	c.goes("14", "")
	if err := correspondence.TakeReport(t.Context(), c.App, letter.Report{ReturnKey: c.mails.All[0].ReturnKey, Recipient: "dee@alder.example",
		Action: letter.Failed, Status: "5.1.1", Said: "nobody of this name."}); err != nil {
		t.Fatal(err)
	}
	c.goes("14", "")
	c.late(20)
	if _, err := receivables.SendLetter(t.Context(), c.App, apptest.Admin, receivables.Lettering{Kind: core.Reminder, ID: 1}); err != nil {
		t.Fatal(err)
	}
	if err := correspondence.Deliver(t.Context(), c.App); err != nil {
		t.Fatal(err)
	}
	c.goes("", "reminded today")
	c.late(30)
	c.goes("30 firm statement", "")
	apptest.Whole(t, c.App)
}

// At the hour of the firm plans go by themselves, once a day, but for what a person sends.
func TestRemindersGoAtTheHour(t *testing.T) {
	c := collect(t)
	c.late(14)
	at := func(want int) {
		t.Helper()
		before := len(c.mails.All)
		if err := errors.Join(receivables.RemindAtHour(t.Context(), c.App), correspondence.Deliver(t.Context(), c.App)); err != nil {
			t.Fatal(err)
		}
		if sent := len(c.mails.All) - before; sent != want {
			t.Errorf("%s: %d letters, not %d", c.Clock.Now(), sent, want)
		}
	}
	at(0) // they are sent by hand
	apptest.Set(t, c.App, "firm", 1, "reminder_hour", "10")
	at(0) // it is nine
	c.Clock = app.PinnedClock{Date: c.Clock.Today(), At: c.Clock.Now().Add(2 * time.Hour)}
	at(1)
	at(0)
	c.late(45)
	apptest.Set(t, c.App, "firm", 1, "reminder_hour", "8")
	at(0) // the step of the 45th day is a person's
	if row := c.row(); !row.Goes || !row.ByHand {
		t.Errorf("%+v", row)
	}
	apptest.Whole(t, c.App)
}

// Who pays late as ever is called after who is later than ever, and who asked for time last of all.
func TestWhomToCall(t *testing.T) {
	c := collect(t)
	apptest.Issued(t, c.App, apptest.Study)
	c.late(10)
	list, err := receivables.WhomToCall(t.Context(), c.App, apptest.Admin.Actor)
	if err != nil || len(list) != 2 || list[0].Client > list[1].Client || list[0].Phone != "+353 1 555 0101" || list[0].DaysLate != 10 ||
		list[0].Worth != 24_600*10 || list[1].Worth != 19_680*10 {
		t.Fatalf("%+v, %v", list, err)
	}
	for _, bad := range []receivables.Calling{{ClientID: 1, Outcome: "maybe"}, {ClientID: 1, Outcome: store.Promised}, {ClientID: 99, Outcome: store.Asked},
		{ClientID: 1, Outcome: store.Promised, Promised: c.due}, {ClientID: 1, Outcome: store.Promised, Promised: c.due.AddDays(900)}} {
		if err := receivables.RecordCall(t.Context(), c.App, apptest.Admin, bad); apptest.RefusalOf(t, err) == nil {
			t.Errorf("%+v is taken", bad)
		}
	}
	if err := receivables.RecordCall(t.Context(), c.App, apptest.Admin, receivables.Calling{ClientID: 1, Outcome: store.Asked,
		Again: c.Clock.Today().AddDays(3)}); err != nil {
		t.Fatal(err)
	}
	if list, err = receivables.WhomToCall(t.Context(), c.App, apptest.Admin.Actor); err != nil || list[1].ClientID != 1 || list[1].LastWas != "asked" {
		t.Errorf("%+v, %v", list, err)
	}
	if err := receivables.RecordCall(t.Context(), c.App, apptest.Admin, receivables.Calling{ClientID: 1, Outcome: store.Promised,
		Promised: c.Clock.Today().AddDays(2)}); err != nil {
		t.Fatal(err)
	}
	if list, err = receivables.WhomToCall(t.Context(), c.App, apptest.Admin.Actor); err != nil || len(list) != 1 {
		t.Errorf("who has promised is called: %+v, %v", list, err)
	}
	c.late(20)
	if list, err = receivables.WhomToCall(t.Context(), c.App, apptest.Admin.Actor); err != nil || len(list) != 2 || list[0].Broken != c.due.AddDays(12) {
		t.Errorf("%+v, %v", list, err)
	}
	dealt, err := receivables.Dealings(t.Context(), c.App, apptest.Admin.Actor, 1)
	if err != nil || len(dealt.Dealings) != 2 || dealt.Dealings[0].Kind != "promised" || dealt.Dealings[1].What != "call" {
		t.Errorf("%+v, %v", dealt, err)
	}
}

// What is owed leaves as a table that adds up to the desk, and everybody with something open gets a statement in one go; who has no
// address is named.
func TestStatementsGoInOneGo(t *testing.T) {
	c := collect(t)
	apptest.Issued(t, c.App, apptest.Study)
	apptest.Set(t, c.App, "clients", 2, "mail", "")
	c.late(5)
	_, header, rows, err := receivables.OwedTable(t.Context(), c.App, apptest.Admin.Actor, receivables.Filter{})
	if err != nil || len(rows) != 2 || len(header) != len(rows[0]) || rows[0][0] != "Alder" || rows[0][10] != "246.00" || rows[1][7] != "1-30 days late" {
		t.Errorf("%v, %v", rows, err)
	}
	job, err := receivables.BeginStatements(t.Context(), c.App, apptest.Admin, []receivables.LetterTo{{ClientID: 1, Currency: "EUR"},
		{ClientID: 2, Currency: "EUR"}, {ClientID: 1, Currency: "JPY"}})
	if err != nil {
		t.Fatal(err)
	}
	c.Jobs.Wait()
	if err := correspondence.Deliver(t.Context(), c.App); err != nil {
		t.Fatal(err)
	}
	if job, err = c.Jobs.Read(t.Context(), c.App, apptest.Admin.Actor, job.ID); err != nil || job.Done != 3 || len(c.mails.All) != 1 ||
		!strings.Contains(job.Said, "1 statement is on the way. Birch: ") || c.mails.All[0].To.Address != "dee@alder.example" {
		t.Errorf("%+v, %v: %+v", job, err, c.mails.All)
	}
}

// Each instalment goes through the plan by itself: who paid the first after a firm word is asked for the second from the beginning.
func TestEachInstalmentBeginsAnew(t *testing.T) {
	c := collect(t)
	apptest.Set(t, c.App, "clients", 1, "schedule", "50% issue; 50% 60 days")
	inv := apptest.Issued(t, c.App, apptest.Advice)
	if _, err := receivables.Receive(t.Context(), c.App, apptest.Admin, receivables.TypedPayment{ClientID: 1, Day: c.Clock.Today(), Amount: "246", Method: "cash",
		On: []receivables.PaidInvoice{{InvoiceID: c.id}}}); err != nil {
		t.Fatal(err)
	}
	c.due = inv.Instalments[0].Due
	c.amount = "123.00"
	c.late(45)
	c.goes("45 firm by hand", "")
	if body := c.mails.All[len(c.mails.All)-1].Body; strings.Contains(body, "246.00") {
		t.Errorf("what is not due yet is asked for: %s", body)
	}
	if _, err := receivables.Receive(t.Context(), c.App, apptest.Admin, receivables.TypedPayment{ClientID: 1, Day: c.Clock.Today(), Amount: "123", Method: "cash"}); err != nil {
		t.Fatal(err)
	}
	c.due = inv.Instalments[1].Due
	c.late(3)
	c.goes("3 warm", "")
	apptest.Whole(t, c.App)
}

func TestNobodyToRemind(t *testing.T) {
	c := collect(t)
	c.late(14)
	for id := range int64(9) {
		if sheet, err := registry.Read(t.Context(), c.App, apptest.Admin.Actor, "contacts", id); err == nil {
			apptest.Set(t, c.App, "contacts", sheet.ID, "gets_reminders", "no")
		}
	}
	apptest.Set(t, c.App, "clients", 1, "mail", "")
	c.goes("", "nobody there has a mail address")
	apptest.Set(t, c.App, "clients", 1, "delivery", "post")
	if row := c.row(); !row.Goes {
		t.Errorf("a letter on paper needs no address: %+v", row)
	}
}
