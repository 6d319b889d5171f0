package timekeeping_test

import (
	"strings"
	"testing"

	"dorvet/internal/app/timekeeping"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// Each rule of the check that recording has to keep, broken by hand, is found.
func TestTheCheckFindsWhatIsBrokenInRecording(t *testing.T) {
	for sql, says := range map[string]string{
		"UPDATE expenses SET agreed = agreed + 1 WHERE engagement_id = 1":           "the portion of an expense is what it is worth",
		"UPDATE portions SET removed = TRUE WHERE source = 'expense'":               "the portion of an expense is what it is worth",
		"UPDATE expenses SET engagement_id = NULL WHERE engagement_id = 1":          "the portion of an expense is what it is worth",
		"UPDATE expenses SET cost = cost + 1 WHERE engagement_id IS NULL":           "the shares of a purchase add up",
		"UPDATE purchases SET cost = cost - 1":                                      "the shares of a purchase add up",
		"UPDATE purchases SET paid = json_set(paid, '$.tax.minor', 100)":            "the shares of a purchase add up",
		"UPDATE time_entries SET approval = 'open'":                                 "entries are as far as their week sheet",
		"UPDATE week_sheets SET state = 'approved'":                                 "entries are as far as their week sheet",
		"UPDATE time_entries SET day = '2026-11-16'":                                "entries are as far as their week sheet",
		"DROP INDEX one_timer_runs; UPDATE timers SET running_since = '2026-12-01'": "nobody has two timers running",
	} {
		a := apptest.Firm(t)
		apptest.Record(t, a, apptest.Survey, "2026-11-29", "1:00")
		must(t, timekeeping.Submit(t.Context(), a, apptest.Staff, 2, monday))
		buy(t, a, bought("100", share(apptest.Survey, "60"), share(0, "40")))
		start(t, a, "levels")
		start(t, a, "mosaic")
		apptest.Whole(t, a)
		err := a.Store.Write(t.Context(), store.Everything, func(tx *store.DB) error {
			for _, one := range strings.Split(sql, "; ") {
				if err := tx.SQL(t).Exec(one).Error; err != nil {
					return err
				}
			}
			return nil
		})
		breaches, checked := a.Store.Check(a.Store.Read(t.Context(), store.Everything))
		if found := strings.Join(breaches, "\n"); checked != nil || err != nil || !strings.Contains(found, says) {
			t.Errorf("%s: %v, %v; want a breach of %q", sql, breaches, err, says)
		}
	}
}
