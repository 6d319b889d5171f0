package store

import (
	"regexp"
	"slices"
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
