package timekeeping_test

import (
	"testing"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// many is a firm with 100,000 entries over three years: one that was recorded, and
// copies of it that only the days tell apart.
func many(b *testing.B) *app.App {
	b.Helper()
	a := apptest.Firm(b)
	for _, engagement := range []int64{apptest.Survey, apptest.Advice, apptest.Study} {
		apptest.Record(b, a, engagement, "2026-11-30", "1:30")
	}
	err := a.Store.Write(b.Context(), store.Everything, func(tx *store.DB) error {
		return tx.SQL(b).Exec(`WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 33333)
			INSERT INTO time_entries (person_id, engagement_id, service_id, day, worked_minutes, not_billable_minutes, markup, treatment,
				text,
				note, billed_minutes, standard, agreed, currency, valued)
			SELECT person_id, engagement_id, service_id, date('2024-01-01', '+' || (i % 1000) || ' days'), worked_minutes, 0, 0, treatment,
				text || i, '', billed_minutes, standard, agreed, currency, valued FROM time_entries, n WHERE id <= 3`).Error
	})
	if err == nil {
		err = a.Store.Write(b.Context(), store.Everything, func(tx *store.DB) error {
			return tx.SQL(b).Exec(`INSERT INTO portions (source, source_id, engagement_id, worked_day, treatment, minutes, standard, agreed,
				currency, without_rate, billing)
				SELECT 'time', id, engagement_id, day, treatment, billed_minutes, standard, agreed, currency, FALSE, 'unbilled'
					FROM time_entries
					WHERE id > 3`).Error
		})
	}
	if err != nil {
		b.Fatal(err)
	}
	return a
}

func BenchmarkAPageAmong100000Entries(b *testing.B) {
	a := many(b)
	for name, s := range map[string]timekeeping.Filter{
		"all of them": {}, "a month": {From: day.Of(2025, 3, 1), To: day.Of(2025, 3, 31)},
		"a client, unbilled": {Clients: []int64{1}, States: []string{"unbilled"}}, "words": {Text: "work99"},
	} {
		for at, offset := range map[string]int{"first": 0, "deep": 30_000} {
			b.Run(name+", "+at, func(b *testing.B) {
				for b.Loop() {
					if _, err := timekeeping.Find(b.Context(), a, apptest.Admin.Actor, s, offset, 100); err != nil {
						b.Fatal(err)
					}
				}
			})
		}
	}
	b.Run("sums by client", func(b *testing.B) {
		for b.Loop() {
			if _, err := timekeeping.Groups(b.Context(), a, apptest.Admin.Actor, timekeeping.Filter{}, false); err != nil {
				b.Fatal(err)
			}
		}
	})
}
