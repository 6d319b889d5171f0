package receivables_test

import (
	"fmt"
	"strings"
	"testing"

	"dorvet/core/refusal"
	"dorvet/internal/app"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/receivables"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// A disk that is full, or a table that can't be written, in the middle of an act of money:
// nothing of the act is left, nobody is told that it was done, and once the store works
// again the same act is done as if nothing had happened.
func TestAStoreThatFailsLeavesNothingOfAnActOfMoney(t *testing.T) {
	for _, c := range []struct {
		name    string
		writes  string // to these tables
		prepare func(a *app.App) func() error
	}{
		{"issue", "acts act_subjects money_movements invoices instalments series invoice_revisions", func(a *app.App) func() error {
			inv := drafted(t, a, apptest.Survey, "100")
			return func() error {
				_, err := issuing.Issue(t.Context(), a, apptest.Admin, edit(inv))
				return err
			}
		}},
		{"receive a payment", "acts act_subjects money_movements invoices instalments payments", func(a *app.App) func() error {
			inv := issued(t, a, apptest.Survey, "100", "")
			return func() error {
				_, err := receivables.Receive(t.Context(), a, apptest.Admin, receivables.TypedPayment{ClientID: 1, Amount: "130", Day: apptest.Today,
					Method: "transfer", On: []receivables.PaidInvoice{{InvoiceID: inv.ID}}})
				return err
			}
		}},
		{"apply funds", "acts act_subjects money_movements invoices instalments client_funds transfers", func(a *app.App) func() error {
			inv := issued(t, a, apptest.Survey, "100", "")
			hold(t, a, 1, apptest.Today, "500")
			return func() error {
				_, err := receivables.Apply(t.Context(), a, apptest.Admin, 1, inv.ID, "60")
				return err
			}
		}},
		{"credit", "acts act_subjects money_movements invoices invoice_lines invoice_revisions series", func(a *app.App) func() error {
			inv := issued(t, a, apptest.Survey, "100", "")
			return func() error {
				_, err := issuing.Credit(t.Context(), a, apptest.Admin, edit(inv), issuing.Crediting{Reason: "Ours",
					Lines: []issuing.CreditedLine{{LineID: inv.Lines[0].LineID}}})
				return err
			}
		}},
		{"reverse a payment", "acts act_subjects money_movements invoices instalments payments", func(a *app.App) func() error {
			issued(t, a, apptest.Survey, "100", "")
			paid := receive(t, a, "40")
			return func() error {
				_, err := receivables.Reverse(t.Context(), a, apptest.Admin, paid.ID, "It bounced")
				return err
			}
		}},
	} {
		a := firm(t)
		act := c.prepare(a)
		for _, table := range strings.Fields(c.writes) {
			before := kept(t, a)
			statement(t, a, "CREATE TRIGGER no_more_in BEFORE INSERT ON "+table+" BEGIN SELECT RAISE(ABORT, 'the disk is full'); END")
			statement(t, a, "CREATE TRIGGER no_more_up BEFORE UPDATE ON "+table+" BEGIN SELECT RAISE(ABORT, 'the disk is full'); END")
			err := act()
			statement(t, a, "DROP TRIGGER no_more_in")
			statement(t, a, "DROP TRIGGER no_more_up")
			if err == nil {
				t.Fatalf("%s: it was done, though %s can't be written", c.name, table)
			}
			if refusal.Is(err) || !strings.Contains(err.Error(), "the disk is full") {
				t.Errorf("%s, %s: %v is no failure", c.name, table, err)
			}
			if after := kept(t, a); after != before {
				t.Errorf("%s, %s: something is left of it", c.name, table)
			}
			apptest.Whole(t, a)
		}
		must(t, act())
		apptest.Whole(t, a)
	}
}

// statement changes the data by hand.
func statement(t *testing.T, a *app.App, sql string) {
	t.Helper()
	must(t, a.Store.Write(t.Context(), store.Everything, func(tx *store.DB) error { return tx.SQL(t).Exec(sql).Error }))
}

// kept is how much stands in every table.
func kept(t *testing.T, a *app.App) string {
	t.Helper()
	counts := []string{}
	names := []string{}
	must(t, a.Store.Read(t.Context(), store.Everything).SQL(t).Raw("SELECT name FROM sqlite_master WHERE type = 'table'").Scan(&names).Error)
	for _, table := range names {
		n, err := store.Count(a.Store.Read(t.Context(), store.Everything), "SELECT COUNT(*) FROM "+table)
		must(t, err)
		counts = append(counts, fmt.Sprint(table, n))
	}
	return strings.Join(counts, " ")
}
