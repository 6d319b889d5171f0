package demo

import (
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"dorvet/core/invoice"
	"dorvet/core/pricing"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/apptest"
	"dorvet/internal/documents/einvoice"
	"dorvet/internal/simulator"
	"dorvet/internal/store"
)

func outside() app.App {
	return app.App{Render: func(doc invoice.Document) ([]byte, error) { return []byte(doc.Number), nil },
		RenderProposal: func(doc pricing.Document) ([]byte, error) { return []byte(doc.Number), nil }, Gateway: &simulator.Payments{Now: time.Now}}
}

// seeded is a copy of the demo firm.
func seeded(t *testing.T) *store.Store {
	t.Helper()
	made, err := apptest.Demo(filepath.Join(t.TempDir(), "demo"), func(folder string) error { return seedAlone(t, folder) })
	if err != nil {
		t.Fatal(err)
	}
	copied := filepath.Join(t.TempDir(), "copy")
	if err := os.CopyFS(copied, os.DirFS(made)); err != nil {
		t.Fatal(err)
	}
	return openedIn(t, copied)
}

// seedAlone makes the firm, and nothing beside it.
func seedAlone(t *testing.T, folder string) error {
	t.Helper()
	if err := Seed(t.Context(), folder, outside()); err != nil {
		return err
	}
	left, err := os.ReadDir(filepath.Dir(folder))
	if err != nil || len(left) != 1 {
		t.Errorf("the seed leaves %v behind, %v", left, err)
	}
	return nil
}

func openedIn(t *testing.T, folder string) *store.Store {
	t.Helper()
	data, err := store.Open(t.Context(), folder)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { data.Close() })
	return data
}

// sums are figures that any other data would not have.
func sums(t *testing.T, tx *store.DB) (found struct{ Entries, Agreed, Standard, Total int64 }) {
	t.Helper()
	err := tx.SQL(t).Raw(`SELECT COUNT(*) AS entries, SUM(agreed) AS agreed, SUM(standard) AS standard, (SELECT SUM(total)
		FROM invoices) AS total FROM time_entries`).Scan(&found).Error
	if err != nil {
		t.Fatal(err)
	}
	return found
}

func TestTheSameSeedGivesTheSameFirmAndItAddsUp(t *testing.T) {
	first := seeded(t)
	a := sums(t, first.Read(t.Context(), store.Everything))
	if a.Entries < 900 {
		t.Errorf("%+v", a)
	}
	if !testing.Short() { // it takes half a minute
		again := filepath.Join(t.TempDir(), "again")
		if err := seedAlone(t, again); err != nil {
			t.Fatal(err)
		}
		if b := sums(t, openedIn(t, again).Read(t.Context(), store.Everything)); a != b {
			t.Errorf("%+v and %+v", a, b)
		}
	}
	if breaches, err := first.Check(first.Read(t.Context(), store.Everything)); err != nil || len(breaches) > 0 {
		t.Errorf("%v, %v", breaches, err)
	}
	showsEveryCaseTwice(t, first.Read(t.Context(), store.Everything))
	validByAnotherHand(t, first.Read(t.Context(), store.Everything))
	billsWhatWasAgreed(t, first)
}

// validByAnotherHand shows every document of the demo that can be an e-invoice to a
// library that is not ours, which knows the business rules of EN 16931.
func validByAnotherHand(t *testing.T, tx *store.DB) {
	t.Helper()
	contents := []string{}
	if err := tx.SQL(t).Raw("SELECT r.content FROM invoice_revisions r JOIN invoices i ON i.id = r.invoice_id AND " +
		"i.revision = r.revision").Scan(&contents).Error; err != nil {
		t.Fatal(err)
	}
	folder, names, notes := t.TempDir(), []string{"../documents/einvoice/testdata/validate.mjs"}, 0
	for i, content := range contents {
		doc := new(invoice.Document)
		if err := json.Unmarshal([]byte(content), doc); err != nil {
			t.Fatal(err)
		}
		if einvoice.Supports(doc) != nil {
			continue
		}
		data, err := einvoice.Write(doc)
		if err != nil {
			t.Fatal(err)
		}
		if doc.Kind == "credit_note" {
			notes++
		}
		names = append(names, filepath.Join(folder, fmt.Sprintf("%d.xml", i)))
		if err := os.WriteFile(names[len(names)-1], data, 0o600); err != nil {
			t.Fatal(err)
		}
	}
	out, err := exec.Command("node", names...).CombinedOutput()
	if err != nil || len(names) < 200 || notes < 2 {
		t.Errorf("%d documents, %d credit notes: %v\n%s", len(names)-1, notes, err, out)
	}
	for _, breach := range strings.Split(strings.TrimSpace(string(out)), "\n") {
		// The library subtracts in floats, in which 9,846.90 − 5,000.00 is not 4,846.90; our
		// own reader of the standard proves BR-CO-16 exactly.
		if breach != "" && !strings.Contains(breach, "[BR-CO-16]") {
			t.Error(breach)
		}
	}
}

// showsEveryCaseTwice holds the demo against the cases of the job that it is there
// to show.
func showsEveryCaseTwice(t *testing.T, tx *store.DB) {
	t.Helper()
	late := "SELECT COUNT(*) FROM instalments WHERE open <> 0 AND julianday('2026-12-01') - julianday(due_day) BETWEEN "
	for what, query := range map[string]string{
		"invoices":         "SELECT COUNT(*) / 100 FROM invoices WHERE kind = 'invoice'",
		"paid":             "SELECT COUNT(*) FROM invoices WHERE state = 'paid' AND kind = 'invoice'",
		"part paid":        "SELECT COUNT(*) FROM invoices WHERE state = 'part_paid'",
		"disputed":         "SELECT COUNT(*) FROM invoices WHERE disputed <> ''",
		"credit notes":     "SELECT COUNT(*) FROM invoices WHERE kind = 'credit_note'",
		"opening balances": "SELECT COUNT(*) FROM invoices WHERE kind = 'opening'",
		"in instalments":   "SELECT COUNT(DISTINCT invoice_id) FROM instalments WHERE position > 1",
		"discounted":       "SELECT COUNT(*) FROM invoices WHERE lines > net",
		"recurring fees":   "SELECT COUNT(*) FROM invoice_lines WHERE kind = 'recurring'",
		"funds held":       "SELECT COUNT(*) FROM client_funds WHERE held > 0",
		"funds applied":    "SELECT COUNT(*) FROM transfers", "transfers to make": "SELECT COUNT(*) FROM transfers WHERE done_day = ''",
		"deposits asked for": "SELECT COUNT(*) FROM deposit_requests",
		"late to 30":         late + "1 AND 30", "late to 60": late + "31 AND 60", "late to 90": late + "61 AND 90",
		"late over 90":           late + "91 AND 999",
		"progress on fixed fees": "SELECT COUNT(*) FROM invoice_lines WHERE kind = 'progress'",
	} {
		if n, err := store.Count(tx, query); err != nil || n < 2 {
			t.Errorf("%s: %d, %v", what, n, err)
		}
	}
}

// billsWhatWasAgreed bills the accepted proposals straight, as one-off work is.
func billsWhatWasAgreed(t *testing.T, data *store.Store) {
	t.Helper()
	a := outside()
	a.Store, a.Clock = data, app.PinnedClock{Date: Today}
	accepted := []int64{}
	if err := data.Read(t.Context(), store.Everything).SQL(t).Raw("SELECT id FROM proposals WHERE state = " +
		"'accepted' ORDER BY id").Scan(&accepted).Error; err != nil || len(accepted) < 2 {
		t.Fatal(accepted, err)
	}
	billed := 0
	for _, id := range accepted {
		inv, err := apptest.Invoice(t.Context(), &a)(drafts.Begin(t.Context(), &a,
			app.Request{Actor: app.Actor{PersonID: 1, Role: app.Administrator}}, drafts.Beginning{ProposalID: id, Take: "nothing"}))
		var refusal *app.Refusal
		if err != nil && !errors.As(err, &refusal) {
			t.Fatal(err)
		}
		if err == nil && len(inv.Lines) > 0 {
			billed++
		}
	}
	if breaches, err := data.Check(data.Read(t.Context(), store.Everything)); err != nil || len(breaches) > 0 || billed == 0 {
		t.Errorf("%d proposals billed: %v, %v", billed, breaches, err)
	}
}
