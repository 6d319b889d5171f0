package store

import (
	"context"
	"fmt"
)

// Sums that are kept beside what they sum up, and how they are made anew.
var keptSums = []struct{ what, makes string }{
	{"time by month", `DELETE FROM main.time_months;
		INSERT INTO main.time_months SELECT engagement_id, substr(day, 1, 7), currency, COUNT(*), SUM(worked_minutes), SUM(expected_minutes), SUM(agreed)
			FROM time_entries WHERE removed = FALSE GROUP BY 1, 2, 3`},
	{"when engagements were billed", `UPDATE main.invoice_engagements SET billed_day = COALESCE((SELECT i.dated FROM invoices i WHERE i.id = invoice_id
		AND i.kind = 'invoice' AND i.state IN ('issued', 'part_paid', 'paid')), '')`},
	{"what was computed of clients", "INSERT INTO client_changes VALUES (0, 1) ON CONFLICT DO UPDATE SET count = count + 1"},
}

// Rebuild makes the sums that are kept anew, all in one transaction, and tells of each. What they are kept of is not
// touched.
func (s *Store) Rebuild(ctx context.Context, tell func(what string)) error {
	return s.Write(ctx, Everything, func(tx *DB) error {
		for _, sum := range keptSums {
			if err := tx.gorm.Exec(sum.makes).Error; err != nil {
				return fmt.Errorf("make %s anew: %w", sum.what, err)
			}
			tell(sum.what)
		}
		return nil
	})
}
