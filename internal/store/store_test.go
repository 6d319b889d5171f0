package store_test

import (
	"archive/zip"
	"errors"
	"os"
	"path/filepath"
	"reflect"
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/receivables"
	"dorvet/internal/app/runs"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// billed is a firm with one issued invoice, part paid from funds and by hand, and
// one unbilled entry.
func billed(t testing.TB) *store.Store {
	t.Helper()
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-29", "1:00")
	made, err := runs.MakeDrafts(t.Context(), a, apptest.Admin,
		unbilled.Selection{UpTo: apptest.Today, Dated: apptest.Today, EngagementIDs: []int64{1}})
	if err != nil {
		t.Fatal(err)
	}
	inv, err := invoices.One(t.Context(), a, apptest.Admin.Actor, made[0].ID)
	if err != nil {
		t.Fatal(err)
	}
	if inv, err = apptest.Invoice(t.Context(), a)(issuing.Issue(t.Context(), a, apptest.Admin,
		drafts.Edit{ID: inv.ID, Version: inv.Version})); err != nil {
		t.Fatal(err)
	}
	if _, err := receivables.ReceiveFunds(t.Context(), a, apptest.Admin,
		receivables.TypedFunds{ClientID: 1, Day: apptest.Today, Amount: "50", Method: "transfer"}); err != nil {
		t.Fatal(err)
	}
	if _, err := receivables.Apply(t.Context(), a, apptest.Admin, 1, inv.ID, "20"); err != nil {
		t.Fatal(err)
	}
	if _, err := receivables.Receive(t.Context(), a, apptest.Admin,
		receivables.TypedPayment{ClientID: 1, Day: apptest.Today, Amount: "30", Method: "cash"}); err != nil {
		t.Fatal(err)
	}
	apptest.Record(t, a, apptest.Study, "2026-11-30", "1:00")
	return a.Store
}

func run(t *testing.T, s *store.Store, sql string) error {
	t.Helper()
	return s.Write(t.Context(), store.Everything, func(tx *store.DB) error { return tx.SQL(t).Exec(sql).Error })
}

// Each rule of the check, broken by hand, is found.
func TestTheCheckFindsWhatIsBroken(t *testing.T) {
	for sql, says := range map[string]string{
		"UPDATE portions SET agreed = agreed + 1 WHERE id = 2":                "every portion lies in the bucket",
		"UPDATE time_months SET worked_minutes = worked_minutes + 1":          "what time comes to by month",
		"UPDATE invoice_engagements SET billed_day = '2020-01-01'":            "stands when it was billed",
		"UPDATE portions SET billing = 'not_billable' WHERE id = 2":           "a portion lies in one bucket only",
		"UPDATE time_entries SET billed_minutes = 1 WHERE id = 2":             "portions of an entry",
		"UPDATE portions SET billing = 'billed', line_id = NULL WHERE id = 2": "what is reserved is on a draft",
		"UPDATE portions SET line_id = 1 WHERE id = 2":                        "what is reserved is on a draft",
		"UPDATE invoice_lines SET amount = amount - 1":                        "portions of a line",
		"UPDATE invoices SET lines = lines + 1":                               "lines of an invoice",
		"UPDATE invoices SET tax = tax + 1":                                   "net and tax to its total",
		"UPDATE invoice_lines SET currency = 'USD'":                           "two currencies never meet",
		"UPDATE invoices SET number_text = 'N7'":                              "what was issued is what is owed",
		"UPDATE instalments SET amount = 1":                                   "instalments add up",
		"UPDATE invoices SET total = total + 1, tax = tax + 1":                "stands in the money ledger",
		"UPDATE series SET next_number = next_number + 1":                     "numbers have no gap",
		"UPDATE invoices SET number = NULL":                                   "has a number and a revision",
		"UPDATE invoices SET revision = 2":                                    "has a number and a revision",
		"INSERT INTO invoices (entity_id, series_id, client_id, currency, number, number_text, state, up_to_day, " +
			"dated, due_day, tax_day, " +
			"terms, lines, net, tax, total, due, exchange_rate, exchange_source, net_firm, total_firm) SELECT entity_id, " +
			"series_id, client_id, " +
			"currency, 2, 'N2', state, up_to_day, '2026-01-01', due_day, tax_day, terms, lines, net, tax, total, due, exchange_rate, " +
			"exchange_source, net_firm, total_firm FROM invoices": "dates follow numbers",
		"UPDATE portions SET covered = TRUE WHERE id = 1": "only a fee covers time",
		"INSERT INTO reimbursements (person_id, entity_id, day, amount, currency, note, act_id) VALUES (1, 1, '', 1, 'EUR', '', 1)":               "paid back",
		"INSERT INTO late_charges (invoice_id, client_id, entity_id, day, amount, currency, steps, act_id) VALUES (1, 1, 1, '', 1, 'EUR', '', 1)": "paying late",
		"UPDATE invoices SET written_off = 1": "what is written off of an invoice",
		"UPDATE invoices SET credited = 1":    "what credit notes took",
		"INSERT INTO reminders (invoice_id, client_id, entity_id, due_day, days, day, act_id) VALUES (1, 1, 1, '', 0, '', 1)": "every reminder has its letter",
		"UPDATE invoices SET open = open - 1":     "what is open of them to what is owed",
		"UPDATE instalments SET open = open - 1":  "what the money ledger says",
		"UPDATE invoices SET state = 'paid'":      "paid when nothing is owed",
		"UPDATE payments SET amount = amount + 1": "a payment is all on invoices",
		"UPDATE client_funds SET held = held + 1": "the sum of its movements",
		"UPDATE invoices SET funds = 1":           "as much as they say",
		"UPDATE transfers SET amount = 1":         "has its transfers",
		"INSERT INTO charges (engagement_id, position, kind, text, amount, currency, tax_code_id, bill_day, event, " +
			"from_day, to_day, open, " +
			"by_hand, paused, state) VALUES (1, 0, 'fixed', 'x', 1, 'EUR', 1, '', '', '', " +
			"'', 0, 0, 0, 'billed')": "a charge is on one line",
		"INSERT INTO money_movements (act_id, kind, client_id, entity_id, invoice_id, effective_day, recorded_at, " +
			"from_bucket, to_bucket, " +
			"amount, currency, firm_amount) VALUES (1, 'x', 1, 1, 1, '2026-12-01', '', 'issued', " +
			"'bank', 1, 'EUR', 1)": "nothing stays between",
		"INSERT INTO money_movements (act_id, kind, client_id, entity_id, effective_day, recorded_at, from_bucket, to_bucket, amount, " +
			"currency, firm_amount) VALUES (1, 'x', 1, 1, '2026-12-01', '', 'bank', " +
			"'credit', 1, 'EUR', 1)": "never less than nothing",
		"INSERT INTO invoice_lines (invoice_id, engagement_id, kind, tax_code_id, day, text, minutes, amount, currency, treatment, " +
			"credits_line_id) SELECT invoice_id, engagement_id, 'by_hand', tax_code_id, day, text, 0, amount + 1, currency, treatment, " +
			"id FROM invoice_lines": "no more of a line is credited",
	} {
		s := billed(t)
		if before, err := s.Check(s.Read(t.Context(), store.Everything)); err != nil || len(before) > 0 {
			t.Fatalf("broken before: %v, %v", before, err)
		}
		if err := run(t, s, sql); err != nil {
			t.Fatalf("%s: %v", sql, err)
		}
		breaches, err := s.Check(s.Read(t.Context(), store.Everything))
		if err != nil || !strings.Contains(strings.Join(breaches, "\n"), says) {
			t.Errorf("%s: %v, %v; want a breach of %q", sql, breaches, err, says)
		}
	}
}

func TestKeptSumsAreMadeAnew(t *testing.T) {
	s := billed(t)
	for _, broken := range []string{"UPDATE time_months SET worked_minutes = worked_minutes + 1", "DELETE FROM time_months",
		"UPDATE invoice_engagements SET billed_day = '2020-01-01'"} {
		if err := run(t, s, broken); err != nil {
			t.Fatal(err)
		}
		if breaches, err := s.Check(s.Read(t.Context(), store.Everything)); err != nil || len(breaches) == 0 {
			t.Fatalf("%s: %v, %v", broken, breaches, err)
		}
		made := 0
		if err := s.Rebuild(t.Context(), func(string) { made++ }); err != nil || made < 2 {
			t.Fatal(made, err)
		}
		if breaches, err := s.Check(s.Read(t.Context(), store.Everything)); err != nil || len(breaches) > 0 {
			t.Errorf("%s, made anew: %v, %v", broken, breaches, err)
		}
	}
}

func TestAChangedFileIsFound(t *testing.T) {
	s := billed(t)
	files, err := filepath.Glob(filepath.Join(s.Folder(), "files", "*", "*"))
	if err != nil || len(files) != 1 {
		t.Fatal(files, err)
	}
	if err := os.WriteFile(files[0], []byte("forged"), 0o600); err != nil {
		t.Fatal(err)
	}
	if breaches, err := s.Check(s.Read(t.Context(), store.Everything)); err != nil || len(breaches) != 1 ||
		!strings.Contains(breaches[0], "not what was written") {
		t.Errorf("%v, %v", breaches, err)
	}
}

func TestLedgersHistoryAndRevisionsAreOnlyAddedTo(t *testing.T) {
	s := billed(t)
	for _, table := range []string{"acts", "work_movements", "money_movements", "invoice_revisions"} {
		for _, sql := range []string{"UPDATE " + table + " SET id = id", "DELETE FROM " + table} {
			if err := run(t, s, sql); err == nil || !strings.Contains(err.Error(), "never") {
				t.Errorf("%s: %v", sql, err)
			}
		}
	}
}

func TestReadersCantWrite(t *testing.T) {
	s := billed(t)
	if err := s.Read(t.Context(), store.Everything).SQL(t).Exec("UPDATE firm SET name = 'x'").Error; err == nil {
		t.Error("a reader wrote")
	}
}

func TestASaveOfAnOldVersionIsStale(t *testing.T) {
	s := billed(t)
	first, err := store.TheFirm(s.Read(t.Context(), store.Everything))
	if err != nil {
		t.Fatal(err)
	}
	second := *first
	first.Name, second.Name = "first", "second"
	save := func(f *store.Firm) error {
		return s.Write(t.Context(), store.Everything, func(tx *store.DB) error { return store.Save(tx, f) })
	}
	if err := save(first); err != nil {
		t.Fatal(err)
	}
	if err := save(&second); !errors.Is(err, store.ErrStale) || second.Version != 0 {
		t.Errorf("%v, version %d", err, second.Version)
	}
	if now, _ := store.TheFirm(s.Read(t.Context(), store.Everything)); now.Name != "first" || now.Version != 1 {
		t.Errorf("%+v", now)
	}
}

func TestZeroValuesAndNoDaysAreKeptAsSuch(t *testing.T) {
	s := billed(t)
	firm, _ := store.TheFirm(s.Read(t.Context(), store.Everything))
	firm.ClosingDay = day.Of(2026, 1, 31)
	firm.ProposalDays = 6
	for _, again := range []func(){func() {}, func() { firm.ClosingDay, firm.ProposalDays = 0, 0 }} {
		again()
		if err := s.Write(t.Context(), store.Everything, func(tx *store.DB) error { return store.Save(tx, firm) }); err != nil {
			t.Fatal(err)
		}
		if now, err := store.TheFirm(s.Read(t.Context(), store.Everything)); err != nil || !reflect.DeepEqual(now, firm) {
			t.Errorf("%+v, %v; want %+v", now, err, firm)
		}
	}
}

func TestABackupIsWholeAndRestores(t *testing.T) {
	s := billed(t)
	archive := filepath.Join(t.TempDir(), "kept", "backup.zip")
	files, err := s.Backup(t.Context(), archive)
	if err != nil || files != 1 {
		t.Fatal(files, err)
	}
	folder := filepath.Join(t.TempDir(), "restored")
	restored, err := store.Restore(t.Context(), archive, folder)
	if err != nil {
		t.Fatal(err)
	}
	defer restored.Close()
	if breaches, err := restored.Check(restored.Read(t.Context(), store.Everything)); err != nil || len(breaches) > 0 {
		t.Errorf("%v, %v", breaches, err)
	}
	invoices, err := store.All[store.Invoice](restored.Read(t.Context(), store.Everything), "id")
	if err != nil || len(invoices) != 1 || invoices[0].NumberText != "N1" {
		t.Errorf("%+v, %v", invoices, err)
	}
	if _, err := store.Restore(t.Context(), archive, folder); err == nil || !strings.Contains(err.Error(), "not empty") {
		t.Errorf("restored over data: %v", err)
	}
}

func TestAHostileBackupStaysOutside(t *testing.T) {
	archive := filepath.Join(t.TempDir(), "hostile.zip")
	out, err := os.Create(archive)
	if err != nil {
		t.Fatal(err)
	}
	w := zip.NewWriter(out)
	if _, err := w.Create("../outside"); err != nil {
		t.Fatal(err)
	}
	if err := errors.Join(w.Close(), out.Close()); err != nil {
		t.Fatal(err)
	}
	if _, err := store.Restore(t.Context(), archive, filepath.Join(t.TempDir(), "in")); err == nil {
		t.Error("a file outside of the folder was unpacked")
	}
}

func TestANewerDatabaseIsRefused(t *testing.T) {
	folder := t.TempDir()
	s, err := store.Open(t.Context(), folder)
	if err != nil {
		t.Fatal(err)
	}
	if err := run(t, s, "INSERT INTO goose_db_version (version_id, is_applied) VALUES (9999, TRUE)"); err != nil {
		t.Fatal(err)
	}
	s.Close()
	if _, err := store.Open(t.Context(), folder); err == nil || !strings.Contains(err.Error(), "newer Dorvet") {
		t.Errorf("%v", err)
	}
}
