package invoices_test

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/receivables"
	"dorvet/internal/app/wip"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// write runs statements as one act of the disk.
func write(t *testing.T, a *app.App, statements ...string) {
	t.Helper()
	err := a.Store.Write(t.Context(), store.Everything, func(tx *store.DB) error {
		for _, statement := range statements {
			if err := tx.SQL(t).Exec(statement).Error; err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
}

// copies makes copies of the row of a table, in which some columns are another expression
// of n, the number of the copy.
func copies(t *testing.T, a *app.App, table string, id int64, times int, set map[string]string) {
	t.Helper()
	columns := []string{}
	if err := a.Store.Read(t.Context(), store.Everything).SQL(t).Raw("SELECT name FROM pragma_table_info(?) WHERE name <> 'id'",
		table).Scan(&columns).Error; err != nil {
		t.Fatal(err)
	}
	values := slices.Clone(columns)
	for i, column := range columns {
		if expression, is := set[column]; is {
			values[i] = expression
		}
	}
	write(t, a, fmt.Sprintf("WITH RECURSIVE n(n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM n WHERE n < %d) INSERT INTO %s (%s) SELECT %s "+
		"FROM %s x, n WHERE x.id = %d",
		times, table, strings.Join(columns, ", "), strings.Join(values, ", "), table, id))
}

// A thousand drafts over sixty thousand invoices are listed with their findings, and
// what forty thousand engagements stand at is read. Without statistics of the tables,
// as on the first day of a month after an import, each took minutes or failed; the
// deadline is twenty times what they take.
func TestAMonthEndOfARealFirmIsRead(t *testing.T) {
	a := apptest.Firm(t)
	inv := byHand(t, a, begun(t, a, drafts.Beginning{EngagementID: apptest.Survey}), drafts.LineTyped{Text: "Work", Amount: "100"})
	issue(t, a, inv)
	draft := byHand(t, a, begun(t, a, drafts.Beginning{EngagementID: apptest.Survey}), drafts.LineTyped{Text: "Work", Amount: "100"})
	copies(t, a, "invoices", inv.ID, 60_000, map[string]string{"number": "number + n", "number_text": "'N' || (number + n)",
		"state": "'paid'", "open": "0"})
	write(t, a, "UPDATE series SET next_number = 60002 WHERE id = 1")
	copies(t, a, "invoices", draft.ID, 999, nil)
	copies(t, a, "invoice_lines", draft.Lines[0].LineID, 999,
		map[string]string{"invoice_id": "(SELECT MIN(id) FROM invoices WHERE state = 'draft' AND id > " +
			fmt.Sprint(draft.ID) + ") + n - 1"})
	copies(t, a, "engagements", apptest.Survey, 40_000, map[string]string{"code": "code || '-' || n"})
	write(t, a, fmt.Sprintf("INSERT INTO invoice_engagements (invoice_id, engagement_id) SELECT id, 1 FROM invoices WHERE state = 'draft' AND id <> %d", draft.ID),
		"UPDATE invoices SET dated = '2026-10-01' WHERE state = 'draft'")
	ctx, cancel := context.WithTimeout(t.Context(), 40*time.Second)
	defer cancel()
	drafts, err := invoices.Drafts(ctx, a, apptest.Admin.Actor, invoices.Filter{})
	if err != nil || len(drafts) != 1000 {
		t.Fatalf("%d drafts, %v", len(drafts), err)
	}
	if drafts[500].Blocking == 0 {
		t.Errorf("a draft that is dated before the invoice before it has no finding: %+v", drafts[500])
	}
	if board, err := wip.Board(ctx, a, apptest.Admin.Actor); err != nil || len(board) != 40_003 {
		t.Errorf("%d engagements on the board, %v", len(board), err)
	}
	if _, err := wip.Unbilled(ctx, a, apptest.Admin.Actor, wip.Filter{UpTo: november}); err != nil {
		t.Error(err)
	}
	if _, err := receivables.Owed(ctx, a, apptest.Admin.Actor, receivables.Filter{}); err != nil {
		t.Error(err)
	}
}
