package store

import (
	"regexp"
	"slices"
	"strings"
	"testing"
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

// Statements over what was ever recorded find the way by an index of the engagement: one
// that walks all time of a source takes a second at a hundred thousand entries. The plans
// are SQLite's own.
func TestStatementsFindTheShortWay(t *testing.T) {
	s, err := Open(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	for name, c := range map[string]struct {
		statement string
		ways      []string // the indexes that have to be taken
	}{
		"behind fees": {behindFees, []string{"portions_unbilled (engagement_id=?)", "portions_covered (engagement_id=?)",
			"time_entries_of_engagement (engagement_id=?)"}},
	} {
		steps := []struct{ Detail string }{}
		if err := s.writer.Raw("EXPLAIN QUERY PLAN "+c.statement, []int64{1}).Scan(&steps).Error; err != nil {
			t.Fatal(err)
		}
		plan := ""
		for _, step := range steps {
			plan += step.Detail + "\n"
		}
		for _, way := range c.ways {
			if !strings.Contains(plan, way) {
				t.Errorf("%s does not take %s:\n%s", name, way, plan)
			}
		}
		if strings.Contains(plan, "SCAN") {
			t.Errorf("%s scans:\n%s", name, plan)
		}
	}
}
