package receivables_test

import (
	"testing"

	"dorvet/internal/app/receivables"
	"dorvet/internal/apptest"
)

// What is free of a client's money below the least is asked for, once, less what was asked for already.
func TestARefillIsAskedFor(t *testing.T) {
	a := firm(t)
	apptest.Set(t, a, "clients", 1, "funds_least", "1000")
	_, err := receivables.ReceiveFunds(t.Context(), a, apptest.Admin, receivables.TypedFunds{ClientID: 1, Day: apptest.Today, Amount: "1000", Method: "cash"})
	must(t, err)
	held := func() receivables.ClientFunds {
		t.Helper()
		list, err := receivables.FundsHeld(t.Context(), a, apptest.Admin.Actor, 1)
		must(t, err)
		return list[0]
	}
	if held().Refill.Minor != 0 {
		t.Errorf("%+v", held())
	}
	_, err = receivables.AskRefills(t.Context(), a, apptest.Admin, []int64{held().ID})
	refused(t, err, "Enough is held")
	drafted(t, a, apptest.Survey, "300") // a draft takes it
	_, err = receivables.RequestDeposit(t.Context(), a, apptest.Admin, receivables.TypedRequest{ClientID: 1, Amount: "100"})
	must(t, err)
	if held().Refill.String() != "200.00" || held().Least.String() != "1,000.00" || held().Asked.String() != "100.00" {
		t.Errorf("%+v", held())
	}
	made, err := receivables.AskRefills(t.Context(), a, apptest.Admin, []int64{held().ID})
	must(t, err)
	if len(made) != 1 || made[0].Amount.String() != "200.00" || held().Refill.Minor != 0 {
		t.Errorf("%+v", made)
	}
	apptest.Whole(t, a)
}
