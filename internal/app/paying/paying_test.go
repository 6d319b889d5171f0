package paying_test

import (
	"context"
	"errors"
	"strings"
	"testing"
	"time"

	core "dorvet/core/onlinepayment"

	"dorvet/core/paymentmethod"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/delivery"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/paying"
	"dorvet/internal/app/receivables"
	"dorvet/internal/apptest"
	"dorvet/internal/simulator"
	"dorvet/internal/store"
)

func must(t *testing.T, err error) {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
}

// service is a payment service that says what a test lets it say.
type service struct {
	simulator.Payments
	says    core.State
	lost    bool // its answers do not arrive
	charged map[string]int64
	first   func(key string) // before it answers
}

func (s *service) Charge(_ context.Context, c paymentmethod.Charge) (paymentmethod.Charged, error) {
	if s.charged == nil {
		s.charged = map[string]int64{}
	}
	s.charged[c.Key] = c.Amount.Minor
	if s.first != nil {
		s.first(c.Key)
	}
	if s.lost {
		return paymentmethod.Charged{}, errors.New("timeout")
	}
	return s.Find(context.Background(), c.Key)
}

func (s *service) Find(_ context.Context, key string) (paymentmethod.Charged, error) {
	_, known := s.charged[key]
	return paymentmethod.Charged{Known: known, Reference: "r-" + key, State: s.says, Problem: map[core.State]string{core.Failed: "no money"}[s.says]}, nil
}

func (s *service) key() string {
	for key := range s.charged {
		return key
	}
	return ""
}

// opened is an invoice over 246.00 whose client may pay by card at 1.5 % + 0.25 and by debit, with the secret of their link.
func opened(t *testing.T, says core.State) (a *app.App, inv *invoices.Invoice, secret string, s *service) {
	t.Helper()
	a = apptest.Firm(t)
	mails := apptest.Mail(a)
	s = &service{says: says, Payments: simulator.Payments{Now: time.Now}}
	a.Gateway, a.GatewaySecret = s, "shared"
	for field, value := range map[string]string{"page_ways": "card debit", "card_fee": "1.5", "card_fee_fixed": "0.25", "page_parts": "yes"} {
		apptest.Set(t, a, "clients", 1, field, value)
	}
	apptest.Add(t, a, "contacts", "client", "A", "name", "Ann", "mail", "ann@alder.example", "gets_invoices", "yes")
	inv = apptest.Issued(t, a, apptest.Survey)
	return a, inv, apptest.Sent(t, a, mails, inv.ID), s
}

func card(amount, shown string) paying.Typing {
	return paying.Typing{Amount: amount, Shown: shown, Method: paymentmethod.GivenMethod{Kind: "card", Number: simulator.GoodCard, Expires: "12/30", Code: "123",
		Holder: "Ann"}}
}

func debit(shown string) paying.Typing {
	return paying.Typing{Shown: shown, Method: paymentmethod.GivenMethod{Kind: "debit", IBAN: simulator.GoodIBAN, Holder: "Ann"}}
}

func standing(t *testing.T, a *app.App, id int64) (open string, payments []receivables.Payment) {
	t.Helper()
	inv, err := invoices.One(t.Context(), a, apptest.Admin.Actor, id)
	must(t, err)
	payments, err = receivables.Payments(t.Context(), a, apptest.Admin.Actor, 1)
	must(t, err)
	apptest.Whole(t, a)
	return inv.Open.String(), payments
}

// A card pays at once, with the fee that was shown; the receipt is mailed, and nothing else is taken than was shown.
func TestAClientPaysByCard(t *testing.T) {
	a, inv, secret, s := opened(t, core.Received)
	mails := apptest.Mail(a)
	offer, err := paying.Read(t.Context(), a, secret, paying.Typing{Method: paymentmethod.GivenMethod{Kind: "card"}})
	must(t, err)
	if offer.First != "EUR\u00a0246.00" || offer.Fee != "EUR\u00a03.94" || offer.WithFee != "EUR\u00a0249.94" || len(offer.Ways) != 2 {
		t.Errorf("%+v", offer)
	}
	for name, typed := range map[string]paying.Typing{"another sum": card("", "EUR\u00a0200.00"), "too much": card("246.01", "EUR\u00a0249.95"),
		"nothing": card("0", "EUR\u00a00.25"), "no card": {Shown: "EUR\u00a0249.94", Method: paymentmethod.GivenMethod{Kind: "card", Number: "123"}}} {
		if _, err := paying.Pay(t.Context(), a, secret, typed); err == nil {
			t.Errorf("%s is taken", name)
		}
	}
	if len(s.charged) != 0 {
		t.Errorf("what was refused was charged: %v", s.charged)
	}
	if _, err := paying.Pay(t.Context(), a, secret, card("100", "EUR\u00a0101.75")); err != nil {
		t.Fatal(err)
	}
	open, payments := standing(t, a, inv.ID)
	if open != "146.00" || len(payments) != 1 || payments[0].Amount.String() != "100.00" || payments[0].Method != "card" || s.charged[s.key()] != 10_175 {
		t.Errorf("%s is open after %+v", open, payments)
	}
	must(t, correspondence.Deliver(t.Context(), a))
	if len(mails.All) != 1 || mails.All[0].Subject != "Received: EUR\u00a0100.00 for N1" || !strings.Contains(mails.All[0].Body, "Amount due: EUR\u00a0146.00") {
		t.Errorf("%+v", mails.All)
	}
}

// An answer that is lost is found again; a notice may come before the answer, twice, and unsigned; each payment is one.
func TestWhateverIsLostAPaymentIsOne(t *testing.T) {
	a, inv, secret, s := opened(t, core.Received)
	notice := func(key string, state core.State) error {
		body, err := paying.Notice(key, paymentmethod.Charged{State: state, Reference: "r"})
		must(t, err)
		return paying.TakeNotice(t.Context(), a, body, paying.Sign("shared", body))
	}
	s.first = func(key string) { must(t, notice(key, core.Received)) }
	_, err := paying.Pay(t.Context(), a, secret, card("46", "EUR\u00a046.94"))
	must(t, err)
	must(t, notice(s.key(), core.Received))
	must(t, notice(s.key(), core.Pending))
	if open, payments := standing(t, a, inv.ID); open != "200.00" || len(payments) != 1 {
		t.Errorf("%s is open after %+v", open, payments)
	}
	s.first, s.lost, s.charged = nil, true, nil
	if _, err := paying.Pay(t.Context(), a, secret, debit("EUR\u00a0200.00")); err != nil {
		t.Fatal(err)
	}
	offer, err := paying.Read(t.Context(), a, secret, paying.Typing{Method: paymentmethod.GivenMethod{Kind: "debit"}})
	if must(t, err); len(offer.Ways) != 0 || offer.Payments[1].State != core.Asked {
		t.Errorf("what is on its way can be paid twice: %+v", offer)
	}
	a.Clock = app.PinnedClock{Date: apptest.Today, At: a.Clock.Now().Add(10 * time.Second)}
	must(t, paying.FollowUp(t.Context(), a))
	must(t, paying.FollowUp(t.Context(), a))
	if open, payments := standing(t, a, inv.ID); open != "0.00" || len(payments) != 2 {
		t.Errorf("%s is open after %+v", open, payments)
	}
	body, err := paying.Notice(s.key(), paymentmethod.Charged{State: core.Returned})
	must(t, err)
	if err := paying.TakeNotice(t.Context(), a, body, paying.Sign("another", body)); err == nil {
		t.Error("an unsigned notice is taken")
	}
	if err := paying.TakeNotice(t.Context(), a, []byte("{}"), paying.Sign("shared", []byte("{}"))); err == nil {
		t.Error("an empty notice is taken")
	}
}

// A debit is on its way for days, and can come back weeks later: then the invoice is owed again.
func TestADebitComesBack(t *testing.T) {
	a, inv, secret, s := opened(t, core.Pending)
	offer, err := paying.Pay(t.Context(), a, secret, debit("EUR\u00a0246.00"))
	if must(t, err); offer.Payments[0].State != core.Pending {
		t.Errorf("%+v", offer)
	}
	say := func(c paymentmethod.Charged) { t.Helper(); must(t, paying.Settle(t.Context(), a, s.key(), c)) }
	say(paymentmethod.Charged{State: core.Received})
	if open, _ := standing(t, a, inv.ID); open != "0.00" {
		t.Errorf("%s is open", open)
	}
	back := paymentmethod.Charged{State: core.Returned, Problem: "no funds"}
	say(back)
	say(back)
	open, payments := standing(t, a, inv.ID)
	if open != "246.00" || len(payments) != 2 || !payments[0].Amount.Neg().IsZero() && payments[0].Amount.Minor != -24_600 {
		t.Errorf("%s is open after %+v", open, payments)
	}
	told, err := store.NoticesOf(a.Read(t.Context(), apptest.Admin.Actor), 1)
	if must(t, err); len(told) == 0 || !strings.Contains(told[len(told)-1].Sentence, "came back: no funds") {
		t.Errorf("%+v", told)
	}
	s.says = core.Failed
	if offer, err = paying.Pay(t.Context(), a, secret, debit("EUR\u00a0246.00")); err != nil || offer.Payments[1].State != core.Failed ||
		offer.Payments[1].Problem != "no money" {
		t.Errorf("%+v, %v", offer, err)
	}
}

// What was paid meanwhile by another way is not lost: it is credit. What is disputed is not asked for.
func TestAPaymentAfterAnotherIsCredit(t *testing.T) {
	a, inv, secret, s := opened(t, core.Pending)
	_, err := paying.Pay(t.Context(), a, secret, debit("EUR\u00a0246.00"))
	must(t, err)
	_, err = receivables.Receive(t.Context(), a, apptest.Admin, receivables.TypedPayment{ClientID: 1, Day: apptest.Today, Amount: "200", Method: "transfer"})
	must(t, err)
	must(t, paying.Settle(t.Context(), a, s.key(), paymentmethod.Charged{State: core.Received}))
	open, payments := standing(t, a, inv.ID)
	if open != "0.00" || payments[0].Unapplied.String() != "200.00" {
		t.Errorf("%s is open after %+v", open, payments)
	}
	a, inv, secret, _ = opened(t, core.Received)
	must(t, delivery.Say(t.Context(), a, secret, delivery.Claiming{Kind: store.Disputed, Section: -1, Line: -1, Text: "Not ours"}))
	if offer, err := paying.Read(t.Context(), a, secret, paying.Typing{}); err != nil || len(offer.Ways) != 0 {
		t.Errorf("what is disputed is asked for: %+v, %v", offer, err)
	}
	if _, err := paying.Pay(t.Context(), a, secret, debit("EUR\u00a0246.00")); err == nil {
		t.Errorf("%s is paid although it is disputed", inv.Number)
	}
}

// What came back although its money was used since is told once, and taken back as soon as that is put right.
func TestWhatCantBeTakenBackIsToldAndTriedAgain(t *testing.T) {
	a, inv, secret, s := opened(t, core.Pending)
	_, err := paying.Pay(t.Context(), a, secret, debit("EUR\u00a0246.00"))
	must(t, err)
	_, err = receivables.Receive(t.Context(), a, apptest.Admin, receivables.TypedPayment{ClientID: 1, Day: apptest.Today, Amount: "200", Method: "transfer"})
	must(t, err)
	must(t, paying.Settle(t.Context(), a, s.key(), paymentmethod.Charged{State: core.Received}))
	account := store.Account{ClientID: 1, EntityID: 1, Currency: "EUR"}
	refund, err := receivables.RefundCredit(t.Context(), a, apptest.Admin, account, "200", apptest.Today)
	must(t, err)
	told := func() (n int) {
		t.Helper()
		notices, err := store.NoticesOf(a.Read(t.Context(), apptest.Admin.Actor), 1)
		must(t, err)
		for _, notice := range notices {
			if strings.Contains(notice.Sentence, "is still in the books") {
				n++
			}
		}
		return n
	}
	s.says = core.Returned
	a.Clock = app.PinnedClock{Date: apptest.Today, At: a.Clock.Now().Add(time.Minute)}
	must(t, paying.Settle(t.Context(), a, s.key(), paymentmethod.Charged{State: core.Returned, Problem: "no funds"}))
	must(t, paying.FollowUp(t.Context(), a))
	if open, payments := standing(t, a, inv.ID); open != "0.00" || len(payments) != 3 || told() != 1 {
		t.Errorf("%s is open after %+v, told %d times", open, payments, told())
	}
	_, err = receivables.Reverse(t.Context(), a, apptest.Admin, refund.ID, "never left")
	must(t, err)
	must(t, paying.FollowUp(t.Context(), a))
	if open, payments := standing(t, a, inv.ID); open == "0.00" || len(payments) != 5 {
		t.Errorf("%s is open after %+v", open, payments)
	}
}
