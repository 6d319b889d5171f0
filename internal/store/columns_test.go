package store

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"dorvet/core/day"
	"dorvet/core/invoice"

	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

// What is read column by column reads every column: one that is forgotten would be emptied
// by the next save.
func TestWhatIsReadByColumnsIsReadWhole(t *testing.T) {
	s, err := Open(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	for table, read := range map[string]string{"invoice_lines": lineColumns, "portions": portionColumns} {
		columns := []string{}
		if err := s.writer.Raw("SELECT name FROM pragma_table_info(?)", table).Scan(&columns).Error; err != nil {
			t.Fatal(err)
		}
		named := regexp.MustCompile(`[a-z_]+`).FindAllString(read, -1)
		for _, column := range columns {
			if !slices.Contains(named, column) {
				t.Errorf("%s of %s is not read", column, table)
			}
		}
	}
}

// What desks read finds the way by an index: a statement that walks what was ever recorded or billed takes
// a second at a million entries. The plans are SQLite's own, of the statements as they are asked, by the
// statistics of a firm with 150,000 entries and of one with 1,500,000 (`dorvet demo --scale`).
func TestStatementsFindTheShortWay(t *testing.T) {
	for _, size := range []string{"150-thousand", "1500-thousand"} {
		t.Run(size, func(t *testing.T) { findTheShortWay(t, size) })
	}
}

// atSize is an empty store that SQLite takes for one of a size.
func atSize(t *testing.T, size string) *Store {
	t.Helper()
	s, err := Open(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	statistics, err := os.ReadFile(filepath.Join("testdata", "statistics-"+size+".txt"))
	if err != nil {
		t.Fatal(err)
	}
	statements := []string{"ANALYZE", "DELETE FROM sqlite_stat1"}
	for line := range strings.Lines(string(statistics)) {
		of := strings.Split(strings.TrimSpace(line), "\t")
		statements = append(statements, fmt.Sprintf("INSERT INTO sqlite_stat1 VALUES ('%s', NULLIF('%s', ''), '%s')", of[0], of[1], of[2]))
	}
	for _, statement := range append(statements, "ANALYZE sqlite_schema") {
		if err := s.writer.Exec(statement).Error; err != nil {
			t.Fatal(err)
		}
	}
	return s
}

func findTheShortWay(t *testing.T, size string) {
	s := atSize(t, size)
	plans := &planned{}
	tx := &DB{s.writer.Session(&gorm.Session{Logger: plans}), Everything}
	today := day.Of(2026, 12, 1)
	issued := InvoiceFilter{States: invoice.IssuedStates, Today: today}
	unbilled := UnbilledFilter{UpTo: today, Today: today}
	for name, c := range map[string]struct {
		ask  func() error
		ways []string // the indexes that have to be taken
	}{
		"behind fees": {func() error { _, err := BehindFees(tx, []int64{1}); return err },
			[]string{"portions_unbilled (engagement_id=?)", "portions_covered (engagement_id=?)", "t USING INDEX sqlite_autoindex_time_months_1 (engagement_id=?)"}},
		"a page of the register": {func() error {
			_, err := InvoiceIDs(tx, issued, "i.dated DESC, i.series_id, i.number DESC, i.id DESC", 0, 100)
			return err
		}, []string{"invoices_issued"}},
		"sums of the register": {func() error { _, err := InvoiceSums(tx, issued); return err }, []string{"COVERING INDEX invoices_sums"}},
		"what is late":         {func() error { _, err := LateInvoices(tx, issued); return err }, []string{"invoices_open", "instalments_owed (invoice_id=?)"}},
		"drafts": {func() error {
			_, err := Invoices(tx, InvoiceFilter{States: invoice.DraftStates}, "i.id")
			return err
		}, []string{"invoices_drafts"}},
		"what is unbilled, by engagement": {func() error { _, err := PartSums(tx, unbilled); return err },
			[]string{"COVERING INDEX portions_unbilled", "portions_unusual"}},
		"time of this year": {func() error { _, err := WorkSums(tx, WorkFilter{From: day.Of(2026, 1, 1)}); return err },
			[]string{"SCAN t\n"}},
		"a page of time": {func() error { _, err := WorkIDs(tx, WorkFilter{}, 0, 100); return err }, []string{"time_entries_by_day"}},
		"the credit of a client": {func() error { _, err := AllCredits(tx, []int64{1}); return err },
			[]string{"credit_given (client_id=?)", "credit_taken (client_id=?)"}},
		"what is unbilled of some clients, by day": {func() error {
			_, err := UnbilledDays(tx, UnbilledFilter{UpTo: today, Today: today, ClientIDs: []int64{1, 2}})
			return err
		}, []string{"portions_unbilled (engagement_id=?"}},
		"the time of a client": {func() error { _, err := EngagementSums(tx, 1); return err },
			[]string{"time_entries_of_engagement (engagement_id=?", "portions_of_source (source=? AND source_id=?"}},
		"a week": {func() error { _, err := WorkedDays(tx, today, today); return err }, []string{"time_entries_"}},
		"the oldest work of some clients": {func() error { _, err := OldestUnbilled(tx, []int64{1, 2}, today); return err },
			[]string{"portions_unbilled (engagement_id=?"}},
		"what some clients owe":     {func() error { _, err := OpenInstalments(tx, []int64{1, 2}); return err }, []string{"i USING INDEX invoices_", "instalments_owed (invoice_id=?)"}},
		"how some clients stand":    {func() error { _, err := ClientHeads(tx, []int64{1, 2}); return err }, []string{"engagements_of_client (client_id=?)"}},
		"some clients on the board": {func() error { _, err := BoardRows(tx, []int64{1, 2}, today); return err }, []string{"engagements_of_client (client_id=?)"}},
		"the board": {func() error { _, err := BoardRows(tx, nil, today); return err },
			[]string{"t USING INDEX sqlite_autoindex_time_months_1 (engagement_id=?)", "time_entries_of_engagement (engagement_id=? AND removed=?)"}},
	} {
		plans.asked = nil
		if err := c.ask(); err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		plan := ""
		for _, statement := range plans.asked {
			steps := []struct{ Detail string }{}
			if err := s.writer.Raw("EXPLAIN QUERY PLAN " + statement).Scan(&steps).Error; err != nil {
				t.Fatal(err)
			}
			for _, step := range steps {
				plan += step.Detail + "\n"
			}
		}
		for _, way := range c.ways {
			if !strings.Contains(plan, way) {
				t.Errorf("%s does not take %s:\n%s", name, way, plan)
			}
		}
		// What is unbilled is walked by an index that has only that.
		plan = strings.ReplaceAll(plan, "SCAN p USING COVERING INDEX portions_unbilled", "")
		if walks := regexp.MustCompile(`SCAN (p|l|m|time_entries|portions|invoice_lines|\w*_movements)\n`).FindString(plan); walks != "" {
			t.Errorf("%s walks a table: %s:\n%s", name, walks, plan)
		}
	}
}

// planned hears which statements are asked.
type planned struct {
	logger.Interface
	asked []string
}

func (p *planned) LogMode(logger.LogLevel) logger.Interface { return p }

func (p *planned) Trace(_ context.Context, _ time.Time, statement func() (string, int64), _ error) {
	asked, _ := statement()
	p.asked = append(p.asked, asked)
}
