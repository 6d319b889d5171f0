package banking_test

import (
	"bytes"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"dorvet/core/funds"
	"dorvet/internal/app"
	"dorvet/internal/app/banking"
	"dorvet/internal/app/receivables"
	"dorvet/internal/apptest"
	"dorvet/internal/documents"
	"dorvet/internal/store"
)

// clientsFirm has a clients' account, and 500.00 that came in on it on 28 Nov, of which a bill has taken 246.00 on 1 Dec.
func clientsFirm(t *testing.T) (*app.App, int64) {
	t.Helper()
	a, _ := firm(t)
	clients := apptest.Add(t, a, "bank-accounts", "name", "Clients", "entity", "Firm", "currency", "EUR", "clients_money", "yes",
		"day_column", "Day", "amount_column", "Amount", "text_column", "Text", "party_column", "Party", "party_account_column", "Account")
	_, err := receivables.ReceiveFunds(t.Context(), a, apptest.Admin, receivables.TypedFunds{ClientID: 1, Day: apptest.Today.AddDays(-3), Amount: "500",
		Method: "transfer"})
	must(t, err)
	apptest.Issued(t, a, apptest.Survey) // takes 246.00
	return a, clients
}

func reconciled(t *testing.T, a *app.App, account int64) *banking.Reconciliation {
	t.Helper()
	r, err := banking.ReconcileOn(t.Context(), a, apptest.Admin.Actor, account, apptest.Today)
	must(t, err)
	return r
}

// differences are those by their reason.
func differences(r *banking.Reconciliation) string {
	said := []string{}
	for _, d := range r.Differences {
		said = append(said, string(d.Why)+" "+d.Amount.String())
	}
	return strings.Join(said, ", ")
}

// Bank, ledger and clients agree, each difference by its name, until nothing is left of them. Source: rules of this product, the bank.
func TestTheClientsAccountIsReconciled(t *testing.T) {
	a, clients := clientsFirm(t)
	if r := reconciled(t, a, clients); !strings.Contains(r.Problem, "no statement") || r.Clients.String() != "254.00" {
		t.Errorf("%+v", r)
	}
	read(t, a, file(clients, "2026-11-28,500.00,deposit,Alder,DE1", "2026-12-01,-2.00,account fee,,", "2026-12-01,7.00,who knows,Somebody,"))
	r := reconciled(t, a, clients)
	if r.Bank.String() != "505.00" || r.Ledger.String() != "254.00" || r.Clients.String() != "254.00" || r.Open != 3 ||
		differences(r) != "unsaid 500.00, not_yet −500.00, unsaid −2.00, unsaid 7.00, not_made 246.00" {
		t.Errorf("%+v: %s", r, differences(r))
	}
	for _, e := range entries(t, a, "open") {
		if len(e.Proposals) > 0 && e.Proposals[0].As == banking.AsMet {
			take(t, a, &e, 0)
		} else if e.Amount.Minor < 0 {
			_, err := banking.SetAside(t.Context(), a, apptest.Admin, e.ID, e.Version, "fees of the bank")
			must(t, err)
		}
	}
	if r = reconciled(t, a, clients); differences(r) != "aside −2.00, unsaid 7.00, not_made 246.00" || r.Open != 1 {
		t.Errorf("%s", differences(r))
	}
	_, err := banking.ReconcileOn(t.Context(), a, apptest.Admin.Actor, clients, apptest.Today+1)
	if apptest.RefusalOf(t, err) == nil {
		t.Error("a day to come is reconciled")
	}
	if early, err := banking.ReconcileOn(t.Context(), a, apptest.Admin.Actor, clients, apptest.Today.AddDays(-10)); err != nil ||
		!strings.Contains(early.Problem, "begin on 28 Nov 2026") {
		t.Errorf("%+v, %v", early, err)
	}
	if _, err := banking.ReconcileOn(t.Context(), a, apptest.Admin.Actor, 1, 0); apptest.RefusalOf(t, err) == nil {
		t.Error("the firm's own account is reconciled with clients")
	}
}

// What is kept is a document that says the same; it is told once a month that nothing is kept.
func TestAReconciliationIsKept(t *testing.T) {
	a, clients := clientsFirm(t)
	a.Render = documents.PDF
	notices := func() int {
		t.Helper()
		n, err := store.Count(a.Store.Read(t.Context(), store.Everything), "SELECT COUNT(*) FROM notices WHERE sentence LIKE '%is not reconciled for November 2026%'")
		must(t, err)
		return int(n)
	}
	for range 2 {
		must(t, banking.TellUnreconciled(t.Context(), a))
	}
	if notices() != 1 {
		t.Errorf("it was told %d times", notices())
	}
	_, err := banking.KeepReconciliation(t.Context(), a, apptest.Admin, banking.Keeping{AccountID: clients, On: apptest.Today})
	if apptest.RefusalOf(t, err) == nil {
		t.Error("without a statement it is kept")
	}
	read(t, a, file(clients, "2026-11-28,500.00,deposit,Alder,DE1", "2026-12-01,-246.00,transfer,,"))
	kept, err := banking.KeepReconciliation(t.Context(), a, apptest.Admin, banking.Keeping{AccountID: clients, On: apptest.Today, Note: "month end"})
	must(t, err)
	if kept.Bank.String() != "254.00" || kept.Ledger.String() != "254.00" || kept.Differences.Minor != 0 {
		t.Errorf("%+v", kept)
	}
	_, content, err := banking.ReconciliationFile(t.Context(), a, apptest.Admin.Actor, kept.ID)
	must(t, err)
	path := filepath.Join(t.TempDir(), "r.pdf")
	must(t, os.WriteFile(path, content, 0o600))
	text, err := exec.CommandContext(t.Context(), "pdftotext", "-layout", path, "-").Output()
	must(t, err)
	for _, want := range []string{"Reconciliation", "Balance by the statement", "Transfer not made", "Held for clients", "254.00", "month end"} {
		if !bytes.Contains(text, []byte(want)) {
			t.Errorf("the document does not say %q: %s", want, text)
		}
	}
	list, err := banking.KeptReconciliations(t.Context(), a, apptest.Admin.Actor)
	if err != nil || len(list) != 1 || list[0].Note != "month end" {
		t.Errorf("%+v, %v", list, err)
	}
	apptest.Whole(t, a)
}

// Money for clients that came on another account is named as such.
func TestWhatCameElsewhereIsNamed(t *testing.T) {
	a, clients := clientsFirm(t)
	read(t, a, file(clients, "2026-11-28,1.00,interest,,"), file(clients-1, "2026-11-28,500.00,deposit,Alder,DE1"))
	for _, e := range entries(t, a, "open") {
		if e.Amount.String() == "500.00" {
			take(t, a, &e, 0)
		}
	}
	read(t, a, file(clients, "2026-12-01,1.00,more,,"))
	if r := reconciled(t, a, clients); !strings.Contains(differences(r), string(funds.Elsewhere)+" −500.00") {
		t.Errorf("%s", differences(r))
	}
}
