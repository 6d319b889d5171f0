package reports_test

import (
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/receivables"
	"dorvet/internal/app/reports"
	"dorvet/internal/app/runs"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/apptest"
)

func must(t *testing.T, err error) {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
}

func edit(inv *invoices.Invoice) drafts.Edit { return drafts.Edit{ID: inv.ID, Version: inv.Version} }

// posted makes a month of money: an invoice over 200.00 with a discount of 10 % and a
// surcharge of 4 %, funds that pay a part, a payment with too much, a credit note.
func posted(t *testing.T) *app.App {
	t.Helper()
	a, admin := apptest.Firm(t), apptest.Admin
	apptest.Set(t, a, "clients", 1, "discount", "10")
	apptest.Set(t, a, "clients", 1, "surcharge", "4")
	_, err := receivables.ReceiveFunds(t.Context(), a, admin,
		receivables.TypedFunds{ClientID: 1, Day: apptest.Today, Amount: "50", Method: "transfer"})
	must(t, err)
	apptest.Record(t, a, apptest.Survey, "2026-11-30", "2:00")
	made, err := runs.MakeDrafts(t.Context(), a, admin,
		unbilled.Selection{UpTo: apptest.Today, Dated: apptest.Today, EngagementIDs: []int64{apptest.Survey}})
	must(t, err)
	inv, err := invoices.One(t.Context(), a, admin.Actor, made[0].ID)
	must(t, err)
	inv, err = apptest.Invoice(t.Context(), a)(issuing.Issue(t.Context(), a, admin, edit(inv)))
	must(t, err)
	// Net 187.20, VAT 43.06, total 230.26, less funds of 50.00: 180.26 is due.
	_, err = receivables.Receive(t.Context(), a, admin,
		receivables.TypedPayment{ClientID: 1, Day: apptest.Today, Amount: "100", Method: "transfer",
			On: []receivables.PaidInvoice{{InvoiceID: inv.ID, Amount: "100"}}})
	must(t, err)
	inv, err = invoices.One(t.Context(), a, admin.Actor, inv.ID)
	must(t, err)
	_, err = issuing.Credit(t.Context(), a, admin, edit(inv),
		issuing.Crediting{Reason: "Half of it", Lines: []issuing.CreditedLine{{LineID: inv.Lines[0].LineID, Amount: "100"}}})
	must(t, err)
	apptest.Whole(t, a)
	return a
}

// Source: double-entry bookkeeping, common practice: every entry balances; what the
// accounts of a period come to is what the desks say is owed and held.
func TestTheJournalBalancesAndAgreesWithTheDesks(t *testing.T) {
	a := posted(t)
	j, err := reports.JournalOf(t.Context(), a, apptest.Admin.Actor, reports.JournalFilter{From: apptest.Today, To: apptest.Today}, 0, 1000)
	must(t, err)
	debit, credit, of, entries := int64(0), int64(0), map[string]int64{}, map[int64]int64{}
	for _, l := range j.Lines {
		debit, credit = debit+l.Debit.Minor, credit+l.Credit.Minor
		of[l.Posting] += l.Debit.Minor - l.Credit.Minor
		entries[l.Entry] += l.Debit.Minor - l.Credit.Minor
		if isTax := strings.HasPrefix(l.Posting, "Tax "); isTax != (l.TaxCode != "") {
			t.Errorf("%s has the tax code %q", l.Posting, l.TaxCode)
		}
	}
	if debit != credit || debit != j.Debit.Minor || j.Entries != 5 {
		t.Errorf("debit %d, credit %d, %+v", debit, credit, j)
	}
	for entry, out := range entries {
		if out != 0 {
			t.Errorf("entry %d is out of balance by %d", entry, out)
		}
	}
	// Half of the line is credited: 100.00 less 10.00 and with 3.60 is 93.60, VAT 21.53.
	want := map[string]int64{"Fees by the hour": -10_000, "Discounts given": 1_000, "Surcharges": -360, "Tax S": -2_153, "Bank": 15_000,
		"Funds held for clients": 0, "Credit of clients": -3_487, "Receivables": 0}
	for posting, minor := range want {
		if of[posting] != minor {
			t.Errorf("%s: %d, not %d", posting, of[posting], minor)
		}
	}
	owed, err := receivables.Owed(t.Context(), a, apptest.Admin.Actor, receivables.Filter{})
	if must(t, err); owed.Total.Minor != of["Receivables"] {
		t.Errorf("%s is owed, the journal has %d", owed.Total, of["Receivables"])
	}
	if before, err := reports.JournalOf(t.Context(), a, apptest.Admin.Actor, reports.JournalFilter{From: day.Of(2026, 11, 1), To: day.Of(2026, 11, 30)}, 0, 1000); err != nil ||
		len(before.Lines) != 0 {
		t.Errorf("%+v, %v", before, err)
	}
}

func TestTheJournalIsAFileWhenEverythingHasItsAccount(t *testing.T) {
	a := posted(t)
	_, _, err := reports.JournalTable(t.Context(), a, apptest.Admin.Actor, apptest.Today, apptest.Today)
	if err == nil || !strings.Contains(err.Error(), "Receivables") || !strings.Contains(err.Error(), "Tax S") ||
		!strings.Contains(err.Error(), "Set-up") {
		t.Errorf("%v", err)
	}
	for id, account := range map[int64]string{1: "1100", 2: "1200", 3: "2300", 4: "2310", 5: "4000", 11: "4200", 12: "4900", 14: "2200"} {
		apptest.Set(t, a, "ledger-accounts", id, "account", account)
	}
	apptest.Set(t, a, "tax-codes", 1, "account", "2201")
	header, rows, err := reports.JournalTable(t.Context(), a, apptest.Admin.Actor, apptest.Today, apptest.Today)
	if must(t, err); len(header) != 13 || len(rows) < 10 {
		t.Fatalf("%v %v", header, rows)
	}
	found := false
	for _, row := range rows {
		if row[12] == "S" && row[6] != "2201" {
			t.Errorf("the tax code has an account of its own: %v", row)
		}
		found = found || row[2] == "N1" && row[6] == "1100" && row[8] == "180.26" && row[9] == ""
	}
	if !found {
		t.Errorf("what is owed is not debited: %v", rows)
	}
	if _, err := reports.JournalOf(t.Context(), a, apptest.Admin.Actor, reports.JournalFilter{From: apptest.Today, To: apptest.Today - 1}, 0, 1); err == nil {
		t.Error("a period that ends before it begins is taken")
	}
	limited := apptest.Admin.Actor
	limited.Entities = []int64{99}
	if j, err := reports.JournalOf(t.Context(), a, limited, reports.JournalFilter{From: apptest.Today, To: apptest.Today}, 0, 1000); err != nil || len(j.Lines) != 0 {
		t.Errorf("somebody of another entity sees %+v, %v", j, err)
	}
}

// Its parts, one after the other, are the whole; what is sought is among it, with its own sums.
func TestAJournalIsReadInParts(t *testing.T) {
	a := posted(t)
	f := reports.JournalFilter{From: apptest.Today, To: apptest.Today}
	whole, err := reports.JournalOf(t.Context(), a, apptest.Admin.Actor, f, 0, 1000)
	must(t, err)
	if whole.Total != len(whole.Lines) || whole.Among != whole.Total {
		t.Fatalf("%d lines of %d", len(whole.Lines), whole.Total)
	}
	begun := 0
	for at := range whole.Lines {
		part, err := reports.JournalOf(t.Context(), a, apptest.Admin.Actor, f, at, 1)
		if must(t, err); len(part.Lines) != 1 || part.Lines[0] != whole.Lines[at] || part.Debit.Minor != whole.Debit.Minor || part.Credit.Minor != whole.Debit.Minor {
			t.Errorf("line %d is %+v", at, part.Lines)
		}
		if whole.Lines[at].Begins {
			begun++
		}
	}
	if begun != whole.Entries {
		t.Errorf("%d entries begin, of %d", begun, whole.Entries)
	}
	f.Text = "n1 RECEIV"
	found, err := reports.JournalOf(t.Context(), a, apptest.Admin.Actor, f, 0, 1000)
	if must(t, err); found.Total != 3 || found.Among != whole.Total || found.Debit.String() != "180.26" {
		t.Errorf("%+v", found)
	}
}
