package paying_test

import (
	"testing"

	core "dorvet/core/onlinepayment"

	"dorvet/core/paymentmethod"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/delivery"
	"dorvet/internal/app/paying"
	"dorvet/internal/app/receivables"
	"dorvet/internal/app/reports"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// A gift is income of its own: the invoice is paid to the cent, nothing of it is credit, and the journal has it in an account of gifts. A
// payment that comes back takes it along. Source: the rules of this product, paying on the client's page.
func TestAGiftOfThanksIsOnNoInvoice(t *testing.T) {
	a, inv, secret, s := opened(t, core.Pending)
	gift := debit("EUR\u00a0256.00")
	gift.Gift = "10"
	if offer, err := paying.Read(t.Context(), a, secret, gift); err != nil || offer.Gift || offer.WithFee != "EUR\u00a0246.00" {
		t.Fatalf("a gift is taken where none is: %+v, %v", offer, err)
	}
	apptest.Set(t, a, "clients", 1, "page_gift", "yes")
	for _, amount := range []string{"-1", "much", "246.01"} {
		wrong := debit("EUR\u00a0256.00")
		wrong.Gift = amount
		if _, err := paying.Pay(t.Context(), a, secret, wrong); apptest.RefusalOf(t, err) == nil {
			t.Errorf("a gift of %s is taken", amount)
		}
	}
	_, err := paying.Pay(t.Context(), a, secret, gift)
	must(t, err)
	must(t, paying.Settle(t.Context(), a, s.key(), paymentmethod.Charged{Known: true, State: core.Received}))
	open, payments := standing(t, a, inv.ID)
	if open != "0.00" || len(payments) != 1 || payments[0].Amount.String() != "256.00" {
		t.Fatalf("%s is open, %+v", open, payments)
	}
	credits, err := receivables.Owed(t.Context(), a, apptest.Admin.Actor, receivables.Filter{})
	if must(t, err); len(credits.Credit) != 0 {
		t.Errorf("the gift is credit: %+v", credits.Credit)
	}
	gifts := func() (sum int64) {
		t.Helper()
		journal, err := reports.JournalOf(t.Context(), a, apptest.Admin.Actor, reports.JournalFilter{From: apptest.Today, To: apptest.Today}, 0, 100)
		must(t, err)
		for _, line := range journal.Lines {
			if line.Posting == "Gifts of thanks" {
				sum += line.Debit.Minor - line.Credit.Minor
			}
		}
		return sum
	}
	if got := gifts(); got != -10_00 {
		t.Errorf("the journal has %d of gifts", got)
	}
	must(t, paying.Settle(t.Context(), a, s.key(), paymentmethod.Charged{Known: true, State: core.Returned, Problem: "no money"}))
	if open, _ := standing(t, a, inv.ID); open != "246.00" || gifts() != 0 {
		t.Errorf("%s is open, gifts %d", open, gifts())
	}
}

// A way is kept with what its holder agreed to, offered to them alone, and used without being given again.
func TestAWayOfPayingIsKeptWithConsent(t *testing.T) {
	a, inv, secret, s := opened(t, core.Received)
	paid := card("100", "EUR\u00a0101.75")
	_, err := paying.Pay(t.Context(), a, secret, paid)
	must(t, err)
	offer, err := paying.Read(t.Context(), a, secret, paying.Typing{})
	if must(t, err); len(offer.Kept) != 0 || offer.Consent == "" {
		t.Fatalf("a way is kept that nobody agreed to: %+v", offer)
	}
	paid = card("50", "EUR\u00a051.00")
	paid.Keep = true
	offer, err = paying.Pay(t.Context(), a, secret, paid)
	if must(t, err); len(offer.Kept) != 1 || offer.Kept[0].Kind != "card" {
		t.Fatalf("%+v", offer)
	}
	again := paying.Typing{Amount: "20", Shown: "EUR\u00a020.55", KeptID: offer.Kept[0].ID, Method: paymentmethod.GivenMethod{Kind: "card"}}
	if _, err = paying.Pay(t.Context(), a, secret, again); err != nil || len(s.charged) != 3 {
		t.Fatalf("%d charges, %v", len(s.charged), err)
	}
	methods, err := store.KeptMethods(a.Read(t.Context(), apptest.Admin.Actor), 1, "ANN@alder.example")
	if must(t, err); len(methods) != 1 || methods[0].Agreed != offer.Consent || methods[0].LastFour != "0019" {
		t.Errorf("%+v", methods)
	}

	// Somebody else with a link, a link that was given by hand, and a number that is not theirs: nothing is offered or taken.
	_, err = delivery.Send(t.Context(), a, apptest.Admin, inv.ID, delivery.Handover{To: "bo@alder.example"})
	must(t, err)
	mails := apptest.Mail(a)
	must(t, correspondence.Deliver(t.Context(), a))
	other := mails.Find(t, "bo@alder.example", `/invoice#(\S+)`)
	linked, err := delivery.NewLink(t.Context(), a, apptest.Admin, inv.ID, "Whoever")
	must(t, err)
	for _, secret := range []string{other, linked.Link[len("http://firm.example/invoice#"):]} {
		offer, err := paying.Read(t.Context(), a, secret, paying.Typing{})
		if must(t, err); len(offer.Kept) != 0 {
			t.Errorf("somebody else's way is offered: %+v", offer.Kept)
		}
		if _, err := paying.Pay(t.Context(), a, secret, again); apptest.RefusalOf(t, err) == nil {
			t.Error("somebody else's way is used")
		}
	}
	again.Method.Kind = "debit"
	if _, err := paying.Pay(t.Context(), a, secret, again); apptest.RefusalOf(t, err) == nil {
		t.Error("a card is taken as a debit, without its fee")
	}
	apptest.Whole(t, a)
}
