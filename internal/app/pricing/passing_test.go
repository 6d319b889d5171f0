package pricing_test

import (
	"slices"
	"sync"
	"testing"

	"dorvet/core/letter"
	"dorvet/internal/app"
	"dorvet/internal/app/pricing"
	"dorvet/internal/apptest"
)

// passOn passes a proposal on and reports whether a mail went to the address.
func passOn(t *testing.T, a *app.App, secret, address string, mails *apptest.Letters) bool {
	t.Helper()
	before := len(mails.All)
	passed, err := pricing.PassOn(t.Context(), a, secret, "Somebody", address, "Please sign today.")
	if err != nil {
		t.Fatal(err)
	}
	deliver(t, a)
	mailed := slices.ContainsFunc(mails.All[before:], func(l letter.Letter) bool { return l.To.Address == address })
	if mailed != passed.Sent {
		t.Errorf("%s: mailed %t, and is told %+v", address, mailed, passed)
	}
	return mailed
}

// Whoever holds a link can't make a signer of any address: the firm knows it, or is asked.
func TestALinkIsPassedOnToWhomTheFirmKnows(t *testing.T) {
	a, p := begun(t)
	secret, mails := sent(t, a, p)
	apptest.Add(t, a, "contacts", "client", "A", "name", "Known", "mail", "known@harbour.example")
	for address, want := range map[string]bool{"known@harbour.example": true, "new@harbour.example": false,
		"evil@elsewhere.example": false} {
		if passOn(t, a, secret, address, mails) != want {
			t.Errorf("%s: mailed %t", address, !want)
		}
	}
	apptest.Set(t, a, "firm", 1, "pass_within_domain", "yes")
	apptest.Add(t, a, "contacts", "client", "A", "name", "Private", "mail", "private@gmail.com")
	for address, want := range map[string]bool{"third@harbour.example": true, "fourth@gmail.com": false, "evil@elsewhere.example": false} {
		if passOn(t, a, secret, address, mails) != want {
			t.Errorf("%s within the domain: mailed %t", address, !want)
		}
	}
}

func TestTheLeadSaysWhetherAStrangerGetsALink(t *testing.T) {
	a, p := begun(t)
	secret, mails := sent(t, a, p)
	for range 2 { // asked for twice, it is asked once
		passOn(t, a, secret, "stranger@elsewhere.example", mails)
	}
	passOn(t, a, secret, "other@elsewhere.example", mails)
	shown, err := pricing.One(t.Context(), a, apptest.Admin.Actor, p.ID)
	if err != nil || len(shown.Passings) != 2 || shown.Passings[0].Mail != "stranger@elsewhere.example" ||
		shown.Passings[0].Word != "Please sign today." {
		t.Fatalf("%+v, %v", shown.Passings, err)
	}
	no, yes := shown.Passings[1], shown.Passings[0]
	if _, err := pricing.AnswerPassing(t.Context(), a, apptest.Admin, p.ID, no.ID, no.Version, false); err != nil {
		t.Fatal(err)
	}
	shown, err = pricing.AnswerPassing(t.Context(), a, apptest.Admin, p.ID, yes.ID, yes.Version, true)
	if err != nil || len(shown.Passings) != 0 {
		t.Fatalf("%+v, %v", shown, err)
	}
	_, err = pricing.AnswerPassing(t.Context(), a, apptest.Admin, p.ID, yes.ID, yes.Version, true)
	refused(t, err, "Somebody else has changed this")
	deliver(t, a)
	link := mails.Find(t, "stranger@elsewhere.example", `/proposal#(\S+)`)
	if slices.ContainsFunc(mails.All, func(l letter.Letter) bool { return l.To.Address == "other@elsewhere.example" }) {
		t.Error("who was refused got a mail")
	}
	if err := pricing.SendCode(t.Context(), a, link); err != nil {
		t.Fatal(err)
	}
	mails.Find(t, "stranger@elsewhere.example", `code is (\d{6})`)
}

// A link that is withdrawn while a code is asked for stays withdrawn.
func TestAWithdrawnLinkDoesNotComeAliveWithACode(t *testing.T) {
	for range 12 {
		a, p := begun(t)
		secret, _ := sent(t, a, p)
		var both sync.WaitGroup
		both.Go(func() { _ = pricing.SendCode(t.Context(), a, secret) })
		both.Go(func() { _ = pricing.SendCode(t.Context(), a, secret) })
		both.Go(func() {
			if err := pricing.EndLinks(t.Context(), a, apptest.Admin, p.ID); err != nil {
				t.Error(err)
			}
		})
		both.Wait()
		if _, err := pricing.ReadPage(t.Context(), a, secret, nil); err == nil {
			t.Fatal("the link works again")
		}
	}
}
