package store_test

import (
	"testing"

	"dorvet/internal/store"
)

// What is billed of one client's engagement on the invoice of another counts for both; what changes nothing that figures
// are made of counts for nobody.
func TestWhatIsWrittenCountsForTheClientsItConcerns(t *testing.T) {
	s := billed(t)
	counts := func() map[int64]int64 {
		t.Helper()
		counted, err := store.ClientChanges(s.Read(t.Context(), store.Everything))
		if err != nil {
			t.Fatal(err)
		}
		return counted
	}
	if err := run(t, s, "UPDATE invoices SET client_id = 2"); err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		sql           string
		all, one, two bool
	}{
		{"UPDATE invoice_lines SET discount = discount + 1", false, true, true},
		{"UPDATE engagements SET lead_id = 1 WHERE client_id = 1", false, true, false},
		{"INSERT INTO engagement_payers (engagement_id, client_id, share, reference) SELECT id, 2, 1, '' FROM engagements WHERE client_id = 1", false, true, false},
		{"UPDATE engagements SET lead_id = 1 WHERE client_id = 1", false, true, true},
		{"UPDATE people SET name = name, phone = '12'", false, false, false},
		{"UPDATE people SET name = 'Another' WHERE id = 1", true, false, false},
		{"UPDATE series SET next_number = next_number + 1", false, false, false},
	} {
		before := counts()
		if err := run(t, s, c.sql); err != nil {
			t.Fatalf("%s: %v", c.sql, err)
		}
		after := counts()
		for id, want := range []bool{c.all, c.one, c.two} {
			if moved := after[int64(id)] != before[int64(id)]; moved != want {
				t.Errorf("%s: client %d counted %t", c.sql, id, moved)
			}
		}
	}
}
