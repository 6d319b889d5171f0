package receivables_test

import (
	"testing"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/receivables"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

func hold(t *testing.T, a *app.App, client int64, on day.Day, amount string) *receivables.Payment {
	t.Helper()
	p, err := receivables.ReceiveFunds(t.Context(), a, apptest.Admin,
		receivables.TypedFunds{ClientID: client, Day: on, Amount: amount, Method: "transfer"})
	must(t, err)
	return p
}

func held(t *testing.T, a *app.App, client int64) string {
	t.Helper()
	held, err := receivables.FundsHeld(t.Context(), a, apptest.Admin.Actor, client)
	if must(t, err); len(held) != 1 {
		t.Fatalf("%+v", held)
	}
	return held[0].Held.String()
}

// What was taken back already is not given back a second time by reopening.
func TestReopeningUndoesNothingTwice(t *testing.T) {
	a := firm(t)
	inv := issued(t, a, apptest.Study, "1000", "")
	hold(t, a, 2, apptest.Today, "1000")
	_, err := receivables.Apply(t.Context(), a, apptest.Admin, 1, inv.ID, "")
	must(t, err)
	back, err := apptest.Invoice(t.Context(), a)(receivables.TakeBack(t.Context(), a, apptest.Admin, inv.ID))
	must(t, err)
	open, err := apptest.Invoice(t.Context(), a)(issuing.Reopen(t.Context(), a, apptest.Admin, edit(back)))
	must(t, err)
	apptest.Whole(t, a)
	if got := held(t, a, 2); got != "1,000.00" {
		t.Errorf("1,000.00 came in, %s is held", got)
	}
	must(t, drafts.Delete(t.Context(), a, apptest.Admin, edit(drafted(t, a, apptest.Study, "1"))))
	if again, err := apptest.Invoice(t.Context(), a)(issuing.Issue(t.Context(), a, apptest.Admin, edit(open))); err != nil ||
		again.State != invoice.Paid {
		t.Errorf("issued again it takes what is held: %+v, %v", again, err)
	}
	apptest.Whole(t, a)

	paid := issued(t, a, apptest.Survey, "100", "")
	p := receive(t, a, "100")
	_, err = receivables.Reverse(t.Context(), a, apptest.Admin, p.ID, "bounced")
	must(t, err)
	for range 2 { // and again
		now := now(t, a, paid.ID)
		if open, err = apptest.Invoice(t.Context(), a)(issuing.Reopen(t.Context(), a, apptest.Admin, edit(now))); err != nil {
			t.Fatal(err)
		}
		apptest.Whole(t, a)
		if _, err = issuing.Issue(t.Context(), a, apptest.Admin, edit(open)); err != nil {
			t.Fatal(err)
		}
		apptest.Whole(t, a)
	}
}

// Nothing is paid back on a day on which it had not come in.
func TestNothingLeavesBeforeItCame(t *testing.T) {
	a := firm(t)
	hold(t, a, 1, apptest.Today-10, "100")
	hold(t, a, 1, apptest.Today-2, "50")
	_, err := receivables.Refund(t.Context(), a, apptest.Admin, 1, "1", apptest.Today-11)
	refused(t, err, "give 21 Nov 2026 or a later day")
	_, err = receivables.Refund(t.Context(), a, apptest.Admin, 1, "120", apptest.Today-5)
	refused(t, err, "On 26 Nov 2026 100.00 was held for the client that can leave: give 29 Nov 2026 or a later day")
	_, err = receivables.Refund(t.Context(), a, apptest.Admin, 1, "120", apptest.Today-2)
	must(t, err)
	_, err = receivables.Refund(t.Context(), a, apptest.Admin, 1, "30", apptest.Today-4)
	must(t, err)
	apptest.Whole(t, a)
	if _, err := receivables.StatementOf(t.Context(), a, apptest.Admin.Actor, 1); err != nil {
		t.Error(err)
	}
	_, err = receivables.Receive(t.Context(), a, apptest.Admin,
		receivables.TypedPayment{ClientID: 2, EntityID: 1, Day: apptest.Today - 3, Amount: "80", Method: "transfer"})
	must(t, err)
	account := store.Account{ClientID: 2, EntityID: 1, Currency: "EUR"}
	_, err = receivables.RefundCredit(t.Context(), a, apptest.Admin, account, "80", apptest.Today-4)
	refused(t, err, "give 28 Nov 2026 or a later day")
	_, err = receivables.RefundCredit(t.Context(), a, apptest.Admin, account, "80", apptest.Today-3)
	must(t, err)
	apptest.Whole(t, a)
}

// A bill dated the last of the month may take what came in on the 1st: it is owed
// until then, and the fund is never below zero.
func TestABillTakesWhatCameInAfterItsDateOnTheDayItCame(t *testing.T) {
	a := firm(t)
	hold(t, a, 1, apptest.Today, "60")
	_, err := receivables.Receive(t.Context(), a, apptest.Admin,
		receivables.TypedPayment{ClientID: 1, EntityID: 1, Day: apptest.Today - 1, Amount: "30", Method: "cash"})
	must(t, err)
	draft, err := apptest.Invoice(t.Context(), a)(drafts.Begin(t.Context(), a, apptest.Admin,
		drafts.Beginning{EngagementID: apptest.Survey, Take: "nothing", Dated: apptest.Today - 5}))
	must(t, err)
	draft, err = apptest.Invoice(t.Context(), a)(drafts.AddLine(t.Context(), a, apptest.Admin, edit(draft),
		drafts.LineTyped{Text: "Work", Amount: "100", TaxCode: "Z"}))
	must(t, err)
	inv, err := apptest.Invoice(t.Context(), a)(issuing.Issue(t.Context(), a, apptest.Admin, edit(draft)))
	if must(t, err); inv.Open.String() != "10.00" {
		t.Errorf("100.00 less 30.00 of credit and 60.00 held leave %s", inv.Open)
	}
	apptest.Whole(t, a)
	movements, err := store.MoneyOf(a.Store.Read(t.Context(), store.Everything), inv.ID)
	must(t, err)
	for _, m := range movements {
		want := map[string]day.Day{"funds_applied": apptest.Today, "credit_used": apptest.Today - 1,
			"issued_net": apptest.Today - 5}[m.Kind]
		if want != 0 && m.EffectiveDay != want {
			t.Errorf("%s on %s, not %s", m.Kind, m.EffectiveDay, want)
		}
	}
	if _, err := issuing.Reopen(t.Context(), a, apptest.Admin, edit(inv)); err != nil {
		t.Error(err)
	}
	apptest.Whole(t, a)
	if got := held(t, a, 1); got != "60.00" {
		t.Errorf("%s is held again", got)
	}
}

// The oldest instalment is paid first, whichever invoice it is of; of one due day the
// older invoice, then the lower number.
func TestFundsPayTheOldestInstalmentFirst(t *testing.T) {
	a := firm(t)
	parts := issued(t, a, apptest.Survey, "100", "50% issue; 50% 60d") // due today and in 60 days
	whole := issued(t, a, apptest.Survey, "100", "rest 10d")
	hold(t, a, 1, apptest.Today, "120")
	done, err := applyAll(t, a, 1)
	if must(t, err); len(done.Applied) != 2 {
		t.Fatalf("%+v", done)
	}
	if a, b := now(t, a, parts.ID).Open.String(), now(t, a, whole.ID).Open.String(); a != "50.00" || b != "30.00" {
		t.Errorf("%s and %s are open: the instalment due today was to be paid, then the other invoice", a, b)
	}
	apptest.Whole(t, a)
}

// What was asked for is asked for again when its payment bounces.
func TestADepositThatBouncesIsAskedForAgain(t *testing.T) {
	a := firm(t)
	request, err := receivables.RequestDeposit(t.Context(), a, apptest.Admin, receivables.TypedRequest{ClientID: 1, Amount: "100"})
	must(t, err)
	p, err := receivables.ReceiveFunds(t.Context(), a, apptest.Admin,
		receivables.TypedFunds{RequestID: request.ID, Day: apptest.Today, Amount: "100", Method: "cheque"})
	must(t, err)
	_, err = receivables.Reverse(t.Context(), a, apptest.Admin, p.ID, "bounced")
	must(t, err)
	again, err := receivables.Requests(t.Context(), a, apptest.Admin.Actor, 1)
	if must(t, err); len(again) != 1 || again[0].State != "open" || !again[0].Received.IsZero() {
		t.Errorf("%+v", again)
	}
	apptest.Whole(t, a)
}
