package receivables_test

import (
	"strings"
	"testing"

	"dorvet/core/money"
	"dorvet/internal/app/receivables"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// The movements of a period, from what it opened with to what it closed with: the whole invoice, what was held and applied, what came in, what
// was too much and is paid back, what was given up. Source: the rules of this product, statements of account.
func TestTheAccountOfAPeriod(t *testing.T) {
	a := firm(t)
	_, err := receivables.ReceiveFunds(t.Context(), a, apptest.Admin, receivables.TypedFunds{ClientID: 1, Day: apptest.Today.AddDays(-9), Amount: "50",
		Method: "cash"})
	must(t, err)
	first := issued(t, a, apptest.Survey, "200", "") // takes 50.00
	second := issued(t, a, apptest.Survey, "80", "")
	receive(t, a, "180", receivables.PaidInvoice{InvoiceID: first.ID})
	_, err = receivables.RefundCredit(t.Context(), a, apptest.Admin, store.Account{ClientID: 1, EntityID: 1, Currency: "EUR"}, "20", apptest.Today)
	must(t, err)
	giveUp(t, a, second.ID, "30")
	of := receivables.AccountPeriod{ClientID: 1, Currency: money.Currency("EUR"), From: apptest.Today, To: apptest.Today}
	_, rows, err := receivables.PeriodTable(t.Context(), a, apptest.Admin.Actor, of)
	must(t, err)
	said := []string{}
	for _, r := range rows {
		said = append(said, r[1]+" "+r[4]+" = "+r[5])
	}
	want := "Balance  = 0.00|Invoice N1 200.00 = 200.00|From funds held for you N1 -50.00 = 150.00|Invoice N2 80.00 = 230.00|Payment -180.00 = 50.00|" +
		"Paid back to you 20.00 = 70.00|No longer asked for N2 -30.00 = 40.00"
	if got := strings.Join(said, "|"); got != want {
		t.Errorf("%s, not %s", got, want)
	}
	_, err = receivables.Receive(t.Context(), a, apptest.Admin, receivables.TypedPayment{ClientID: 1, Day: apptest.Today, Amount: "10", Method: "cash",
		Reference: "C 7"})
	must(t, err)
	if _, rows, err = receivables.PeriodTable(t.Context(), a, apptest.Admin.Actor, of); err != nil || rows[len(rows)-1][1] != "Payment, C 7" {
		t.Errorf("%v, %v", rows, err)
	}
	of.To++
	_, _, err = receivables.PeriodTable(t.Context(), a, apptest.Admin.Actor, of)
	refused(t, err, "still to come")
	of.From, of.To = apptest.Today, apptest.Today-1
	_, _, err = receivables.PeriodTable(t.Context(), a, apptest.Admin.Actor, of)
	refused(t, err, "not after")
}
