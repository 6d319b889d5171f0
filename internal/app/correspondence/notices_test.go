package correspondence_test

import (
	"strings"
	"testing"
	"time"

	"dorvet/core/letter"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/identity"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// tell tells the administrator something.
func tell(t *testing.T, a *app.App, sentence string) {
	t.Helper()
	_, err := app.Do(t.Context(), a, apptest.Admin, "tell", nil, func(tx *app.Tx) (struct{}, error) {
		tx.Describe(nil, nil, "Told")
		tx.Notify(1, nil, "%s", sentence)
		return struct{}{}, nil
	})
	if err != nil {
		t.Fatal(err)
	}
}

// Notices go by mail as each person wants: not, at once, or as one letter a day; each in one mail.
func TestNoticesGoByMailAsEachPersonWants(t *testing.T) {
	a := apptest.Firm(t)
	mails := apptest.Mail(a)
	morning := time.Date(2026, 12, 1, 9, 0, 0, 0, time.Local)
	at := func(hours int) {
		a.Clock = app.PinnedClock{Date: apptest.Today, At: morning.Add(time.Duration(hours) * time.Hour)}
	}
	pass := func() (sent []letter.Letter) {
		t.Helper()
		before := len(mails.All)
		for range 2 { // a second look mails nothing twice
			if err := correspondence.MailNotices(t.Context(), a); err != nil {
				t.Fatal(err)
			}
			if err := correspondence.Deliver(t.Context(), a); err != nil {
				t.Fatal(err)
			}
		}
		return mails.All[before:]
	}
	want := func(as string) {
		t.Helper()
		if err := identity.MailNoticesAs(t.Context(), a, apptest.Admin.Actor, as); err != nil {
			t.Fatal(err)
		}
	}
	at(0)
	tell(t, a, "Not by mail")
	if sent := pass(); len(sent) != 0 {
		t.Errorf("unasked: %+v", sent)
	}
	want("once")
	tell(t, a, "At once")
	if sent := pass(); len(sent) != 1 || sent[0].Subject != "At once" || !strings.Contains(sent[0].Body, "http://firm.example/account") {
		t.Errorf("at once: %+v", sent)
	}
	want("daily")
	tell(t, a, "First of the day")
	if sent := pass(); len(sent) != 0 { // today's letter has gone already
		t.Errorf("a second letter on one day: %+v", sent)
	}
	at(14)
	tell(t, a, "Of the evening")
	at(16) // past midnight, before anybody reads
	if sent := pass(); len(sent) != 0 {
		t.Errorf("at night: %+v", sent)
	}
	at(24)
	if sent := pass(); len(sent) != 1 || sent[0].Subject != "2 notices" || !strings.Contains(sent[0].Body, "First of the day") ||
		!strings.Contains(sent[0].Body, "Of the evening") {
		t.Errorf("one a day: %+v", sent)
	}
	tell(t, a, "Waits")
	want("")
	at(48)
	if sent := pass(); len(sent) != 0 {
		t.Errorf("no more: %+v", sent)
	}
}

// Whoever wrote a mail that fails is told why, once, and by mail where they want it so; a failing notice tells nobody.
func TestAFailedMailIsToldToWhoeverWroteIt(t *testing.T) {
	a := apptest.Firm(t)
	if err := identity.MailNoticesAs(t.Context(), a, apptest.Admin.Actor, "once"); err != nil {
		t.Fatal(err)
	}
	if err := queue(t, a, store.Mail{ToMail: "bo@client.example", Subject: "Ours"}); err != nil {
		t.Fatal(err)
	}
	mails := apptest.Mail(a)
	for range 2 {
		if err := correspondence.Deliver(t.Context(), a); err != nil {
			t.Fatal(err)
		}
		err := correspondence.TakeReport(t.Context(), a, letter.Report{ReturnKey: mails.All[0].ReturnKey, Recipient: "bo@client.example",
			Action: letter.Failed, Status: "5.1.1", Said: "nobody of this name."})
		if err != nil {
			t.Fatal(err)
		}
	}
	if err := correspondence.MailNotices(t.Context(), a); err != nil {
		t.Fatal(err)
	}
	if err := correspondence.Deliver(t.Context(), a); err != nil {
		t.Fatal(err)
	}
	notice := mails.All[len(mails.All)-1]
	if len(mails.All) != 2 || !strings.Contains(notice.Body, "“Ours” to bo@client.example failed: nobody of this name.") {
		t.Fatalf("%+v", mails.All)
	}
	if err := correspondence.TakeReport(t.Context(), a, letter.Report{ReturnKey: notice.ReturnKey, Recipient: notice.To.Address,
		Action: letter.Failed, Status: "5.1.1"}); err != nil {
		t.Fatal(err)
	}
	told, err := store.NoticesOf(a.Read(t.Context(), apptest.Admin.Actor), 1)
	if err != nil || len(told) != 1 {
		t.Errorf("%+v, %v", told, err)
	}
}
