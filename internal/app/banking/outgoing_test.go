package banking_test

import (
	"bytes"
	"strings"
	"testing"

	"dorvet/internal/app"
	"dorvet/internal/app/banking"
	"dorvet/internal/app/receivables"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/apptest"
)

// payingFirm has both accounts, a refund of 100.00 to a client whose account is known, a transfer of 246.00 to make, and 30.00 that somebody
// laid out.
func payingFirm(t *testing.T) (a *app.App, current, clients, purchase int64) {
	t.Helper()
	a, current = firm(t)
	clients = apptest.Add(t, a, "bank-accounts", "name", "Clients", "entity", "Firm", "currency", "EUR", "clients_money", "yes",
		"iban", "FR14 2004 1010 0505 0001 3M02 606", "day_column", "Day", "amount_column", "Amount", "text_column", "Text", "party_column", "Party",
		"party_account_column", "Account")
	_, err := receivables.ReceiveFunds(t.Context(), a, apptest.Admin, receivables.TypedFunds{ClientID: 1, Day: apptest.Today.AddDays(-1), Amount: "500",
		Method: "transfer"})
	must(t, err)
	read(t, a, file(clients, "2026-11-30,500.00,deposit,Alder,DE89370400440532013000"))
	e := entries(t, a, "open")[0]
	take(t, a, &e, 0)
	apptest.Issued(t, a, apptest.Survey) // takes 246.00
	_, err = banking.Take(t.Context(), a, apptest.Admin, 1, banking.Taking{})
	if apptest.RefusalOf(t, err) == nil {
		t.Error("an entry is taken twice")
	}
	_, err = receivables.Refund(t.Context(), a, apptest.Admin, 1, "100", apptest.Today)
	must(t, err)
	p, err := timekeeping.RecordPurchase(t.Context(), a, apptest.Staff, timekeeping.TypedPurchase{PersonID: 2, CategoryID: 1, Day: apptest.Today,
		PaidBy: "person", Amount: "30", Shares: []timekeeping.TypedShare{{Amount: ""}}})
	must(t, err)
	return a, current, clients, p.ID
}

// kinds are what is to be paid out, and why something can't be ordered.
func kinds(t *testing.T, a *app.App) (said string, keys []string) {
	t.Helper()
	list, err := banking.Outgoing(t.Context(), a, apptest.Admin.Actor)
	must(t, err)
	words := []string{}
	for _, p := range list {
		words = append(words, p.Kind+" "+p.Amount.String())
		if p.Problem != "" {
			words[len(words)-1] += " !"
		} else {
			keys = append(keys, p.Key)
		}
	}
	return strings.Join(words, ", "), keys
}

// What goes out is ordered once, one file an account; met in the statement, it is done; withdrawn, it is to be paid again.
func TestWhatGoesOutIsOrderedOnce(t *testing.T) {
	a, current, clients, purchase := payingFirm(t)
	said, _ := kinds(t, a)
	if said != "expenses 30.00 !, refund 100.00, transfer 246.00" {
		t.Fatalf("%s", said)
	}
	_, err := banking.OrderPayments(t.Context(), a, apptest.Admin, banking.Ordering{Keys: []string{"expenses 2 EUR"}})
	if said := apptest.RefusalOf(t, err); said == nil || !strings.Contains(said.Error(), "IBAN is not known") {
		t.Errorf("%v", err)
	}
	apptest.Set(t, a, "people", 2, "iban", "DE89 3704 0044 0532 0130 00")
	_, keys := kinds(t, a)
	_, err = banking.OrderPayments(t.Context(), a, apptest.Admin, banking.Ordering{Keys: keys, Day: apptest.Today - 1})
	if apptest.RefusalOf(t, err) == nil {
		t.Error("a day that is over is ordered")
	}
	made, err := banking.OrderPayments(t.Context(), a, apptest.Admin, banking.Ordering{Keys: keys})
	must(t, err)
	apptest.Whole(t, a)
	if left, _ := kinds(t, a); left != "" || len(made) != 2 {
		t.Fatalf("%s left, %+v", left, made)
	}
	if _, err := banking.OrderPayments(t.Context(), a, apptest.Admin, banking.Ordering{Keys: keys}); apptest.RefusalOf(t, err) == nil {
		t.Error("it is ordered twice")
	}
	files := []byte{}
	for _, order := range made {
		_, content, err := banking.OrderFile(t.Context(), a, apptest.Admin.Actor, order.ID)
		must(t, err)
		files = append(files, content...)
	}
	for _, want := range []string{"<InstdAmt Ccy=\"EUR\">30.00<", "<InstdAmt Ccy=\"EUR\">246.00<", "<IBAN>DE89370400440532013000<", "<EndToEndId>E1<", "<EndToEndId>T1<"} {
		if !bytes.Contains(files, []byte(want)) {
			t.Errorf("%s is not in %s", want, files)
		}
	}
	if err := timekeeping.RemovePurchase(t.Context(), a, apptest.Staff, purchase, 0); apptest.RefusalOf(t, err) == nil {
		t.Error("what was paid back is removed")
	}
	read(t, a, file(current, "2026-12-01,-30.00,E1,Bo,DE89"), file(clients, "2026-12-01,-246.00,out,,", "2026-12-01,-100.00,refund,,"))
	for _, e := range entries(t, a, "open") {
		if len(e.Proposals) == 0 {
			t.Fatalf("nothing is proposed for %+v", e)
		}
		take(t, a, &e, 0)
	}
	apptest.Whole(t, a)
	orders, err := banking.Orders(t.Context(), a, apptest.Admin.Actor)
	must(t, err)
	for _, o := range orders {
		if o.Met != o.Payments {
			t.Errorf("%+v", o)
		}
	}
	for _, o := range orders {
		if err := banking.Withdraw(t.Context(), a, apptest.Admin, o.ID, o.Version); apptest.RefusalOf(t, err) == nil {
			t.Errorf("%s: %v", o.Account, err)
		}
	}
	apptest.Whole(t, a)
}

// What is withdrawn is to be paid again; what somebody got with their wages is paid back, and can be taken back.
func TestWhatIsWithdrawnIsToBePaidAgain(t *testing.T) {
	a, _, _, _ := payingFirm(t)
	apptest.Set(t, a, "people", 2, "iban", "DE89370400440532013000")
	before, keys := kinds(t, a)
	made, err := banking.OrderPayments(t.Context(), a, apptest.Admin, banking.Ordering{Keys: keys})
	must(t, err)
	paid, err := banking.PaidBackLately(t.Context(), a, apptest.Admin.Actor)
	must(t, err)
	if err := banking.TakeBackPaid(t.Context(), a, apptest.Admin, paid[0].ID, paid[0].Version); apptest.RefusalOf(t, err) == nil {
		t.Error("what is ordered is taken back")
	}
	for _, o := range made {
		must(t, banking.Withdraw(t.Context(), a, apptest.Admin, o.ID, o.Version))
	}
	apptest.Whole(t, a)
	if after, _ := kinds(t, a); after != before {
		t.Errorf("%s, not %s", after, before)
	}
	must(t, banking.PayBack(t.Context(), a, apptest.Admin, banking.PayingBack{PersonID: 2, Currency: "EUR", Day: apptest.Today, Note: "wages"}))
	if err := banking.PayBack(t.Context(), a, apptest.Admin, banking.PayingBack{PersonID: 2, Currency: "EUR", Day: apptest.Today}); apptest.RefusalOf(t, err) == nil {
		t.Error("it is paid back twice")
	}
	if after, _ := kinds(t, a); strings.Contains(after, "expenses") {
		t.Errorf("%s", after)
	}
	paid, err = banking.PaidBackLately(t.Context(), a, apptest.Admin.Actor)
	must(t, err)
	must(t, banking.TakeBackPaid(t.Context(), a, apptest.Admin, paid[0].ID, paid[0].Version))
	apptest.Whole(t, a)
	if after, _ := kinds(t, a); after != before {
		t.Errorf("%s, not %s", after, before)
	}
	owed, err := banking.OwedTo(t.Context(), a, apptest.Admin.Actor, 2, "EUR")
	if err != nil || len(owed) != 1 || owed[0].Amount.String() != "30.00" {
		t.Errorf("%+v, %v", owed, err)
	}
}
