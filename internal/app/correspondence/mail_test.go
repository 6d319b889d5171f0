package correspondence_test

import (
	"context"
	"errors"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"dorvet/core/letter"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// wait lets time pass.
func wait(a *app.App, by time.Duration) {
	a.Clock = app.PinnedClock{Date: apptest.Today, At: a.Clock.Now().Add(by)}
}

func queue(t *testing.T, a *app.App, m store.Mail) error {
	t.Helper()
	_, err := app.Do(t.Context(), a, apptest.Admin, "write", nil, func(tx *app.Tx) (struct{}, error) {
		tx.Describe(nil, nil, "Wrote")
		return struct{}{}, correspondence.Queue(tx, m)
	})
	return err
}

// What was queued is delivered after the act, also when the mail server was away
// for a while; what it never takes is marked in the end, and no link is left of it.
func TestMailsAreTriedUntilTheyAreTaken(t *testing.T) {
	a := apptest.Firm(t)
	end := a.Clock.Now().Add(correspondence.LinkLife)
	m := store.Mail{ToName: "Bo", ToMail: "bo@client.example", Subject: "Ours", Body: "See {link}",
		Links: correspondence.OneLink(store.ForProposal, 1, end)}
	if err := queue(t, a, m); err != nil {
		t.Fatal(err)
	}
	away := true
	secrets := []string{}
	a.Mail = func(_ context.Context, l letter.Letter) error {
		_, secret, _ := strings.Cut(l.Body, "#")
		secrets = append(secrets, secret)
		if away {
			return errors.New("connection refused")
		}
		return nil
	}
	links := func() int64 {
		n, err := store.Count(a.Store.Read(t.Context(), store.Everything), "SELECT COUNT(*) FROM links")
		if err != nil {
			t.Fatal(err)
		}
		return n
	}
	state := func() store.Mail {
		mails, err := store.MailList(a.Store.Read(t.Context(), store.Everything), 0, 0, 1)
		if err != nil {
			t.Fatal(err)
		}
		return mails[0]
	}
	deliver := func() {
		t.Helper()
		if err := correspondence.Deliver(t.Context(), a); err != nil {
			t.Fatal(err)
		}
	}
	deliver()
	deliver() // its time has not come: another mail does not bring it forward
	if m := state(); m.State != "queued" || m.Tries != 1 || m.Problem == "" || links() != 0 {
		t.Errorf("%+v with %d links", m, links())
	}
	away = false
	wait(a, time.Minute)
	deliver()
	if m := state(); m.State != "sent" || m.Tries != 2 || m.Problem != "" || m.SentAt == nil || links() != 1 {
		t.Errorf("%+v with %d links", m, links())
	}
	if deliver(); len(secrets) != 2 || secrets[0] == secrets[1] {
		t.Errorf("secrets %v: a link was used twice, or a mail sent twice", secrets)
	}
	if _, err := correspondence.OpenLink(a, a.Store.Read(t.Context(), store.Everything), store.ForProposal, secrets[1]); err != nil {
		t.Error(err)
	}
	if _, err := correspondence.OpenLink(a, a.Store.Read(t.Context(), store.Everything), store.ForProposal, secrets[0]); err == nil {
		t.Error("the link of the mail that was not taken works")
	}
	away = true
	if err := queue(t, a, m); err != nil {
		t.Fatal(err)
	}
	for range 7 {
		deliver()
		wait(a, 6*time.Hour)
	}
	failed := state()
	if failed.State != "failed" || failed.Tries != 6 || !strings.Contains(failed.Problem, "connection refused") {
		t.Errorf("%+v", failed)
	}
	away = false
	if err := correspondence.SendAgain(t.Context(), a, apptest.Admin, failed.ID); err != nil {
		t.Fatal(err)
	}
	deliver()
	if m := state(); m.State != "sent" {
		t.Errorf("sent again by hand: %+v", m)
	}
	if err := correspondence.SendAgain(t.Context(), a, apptest.Admin, failed.ID); err == nil {
		t.Error("what was taken is sent again")
	}
}

// A server that is away for a minute makes no mail fail, however many others are queued
// meanwhile.
func TestAMailWaitsByItsOwnClock(t *testing.T) {
	a := apptest.Firm(t)
	tries := 0
	a.Mail = func(context.Context, letter.Letter) error { tries++; return errors.New("connection refused") }
	for range 8 {
		if err := queue(t, a, store.Mail{ToMail: "bo@client.example", Subject: "x"}); err != nil {
			t.Fatal(err)
		}
		if err := correspondence.Deliver(t.Context(), a); err != nil {
			t.Fatal(err)
		}
	}
	list, err := correspondence.UndeliveredMails(t.Context(), a, app.Actor{})
	if err != nil || tries != 8 || len(list) != 8 || list[0].NextAt == nil || list[0].Problem == "" {
		t.Errorf("%d tries of 8 mails: %+v, %v", tries, list, err)
	}
}

// A mail that can't be written does not stand in the way of those behind it.
func TestOneBrokenMailDoesNotStopTheOthers(t *testing.T) {
	a := apptest.Firm(t)
	mails := apptest.Mail(a)
	missing := kept(t, a)
	for _, m := range []store.Mail{{ToMail: "one@client.example", Subject: "Broken", Files: []store.MailFile{{Digest: missing, Name: "x.pdf"}}},
		{ToMail: "two@client.example", Subject: "Fine"}} {
		if err := queue(t, a, m); err != nil {
			t.Fatal(err)
		}
	}
	for range 6 {
		if err := correspondence.Deliver(t.Context(), a); err != nil {
			t.Fatal(err)
		}
		wait(a, 6*time.Hour)
	}
	if len(mails.All) != 1 || mails.All[0].Subject != "Fine" {
		t.Errorf("%+v", mails.All)
	}
	kept, err := store.MailList(a.Store.Read(t.Context(), store.Everything), 0, 0, 5)
	if err != nil || kept[1].State != "failed" || kept[1].Problem != "it could not be written" || kept[0].State != "sent" {
		t.Errorf("%+v, %v", kept, err)
	}
}

func TestAMailWithoutAnAddressLeavesNothingOfItsAct(t *testing.T) {
	a := apptest.Firm(t)
	for _, to := range []string{"", "nobody", "a@b.example\r\nBcc: all@c.example"} {
		if err := queue(t, a, store.Mail{ToMail: to, Subject: "x"}); err == nil {
			t.Errorf("%q is queued", to)
		}
	}
	apptest.Set(t, a, "entities", 1, "mail", "")
	if err := queue(t, a, store.Mail{ToMail: "bo@client.example", Subject: "x"}); err == nil ||
		!strings.Contains(err.Error(), "no mail address") {
		t.Errorf("%v", err)
	}
	if n, err := store.Count(a.Store.Read(t.Context(), store.Everything), "SELECT COUNT(*) FROM acts WHERE kind = 'write'"); err != nil ||
		n != 0 {
		t.Errorf("%d acts are left, %v", n, err)
	}
}

// kept is the digest of a file that is gone from the disk.
func kept(t *testing.T, a *app.App) (digest string) {
	t.Helper()
	err := a.Store.Write(t.Context(), store.Everything, func(tx *store.DB) (err error) {
		digest, err = a.Store.Keep(tx, []byte("gone"), "application/pdf", a.Clock.Now())
		return err
	})
	if err == nil {
		err = os.Remove(filepath.Join(a.Store.Folder(), "files", digest[:2], digest))
	}
	if err != nil {
		t.Fatal(err)
	}
	return digest
}
