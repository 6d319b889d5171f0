package store_test

import (
	"testing"

	"dorvet/internal/store"
)

// BenchmarkFind looks for a part of a name among as much as a firm of a hundred
// times the demo has: 10,000 clients, 20,000 engagements, 62,500 invoices.
func BenchmarkFind(b *testing.B) {
	s := billed(b)
	err := s.Write(b.Context(), store.Everything, func(tx *store.DB) error {
		for _, many := range []string{
			`WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 10000)
				INSERT INTO clients (code, name, invoice_name, address, tax_number, mail, currency, active)
					SELECT 'K' || i, 'Client number ' || i,
					'',
					'', '', '', 'EUR', TRUE FROM n`,
			`INSERT INTO engagements (client_id, entity_id, code, name, reference, arrangement, lead_id, currency, billable, opened_day,
				active)
				SELECT c.id, 1, c.code || 'E' || k.i, 'Work ' || c.id || ' of kind ' || k.i, '', 'hourly', 1, 'EUR', TRUE, '2026-01-01',
					TRUE
					FROM clients c, (SELECT 1 AS i UNION SELECT 2) k WHERE c.code LIKE 'K%'`,
			`WITH RECURSIVE n(i) AS (SELECT 100001 UNION ALL SELECT i + 1 FROM n WHERE i < 162500)
				INSERT INTO invoices (entity_id, series_id, client_id, currency, number, number_text, state, up_to_day, dated, due_day,
					tax_day,
					terms,
					lines, net, tax, total, due, exchange_rate, exchange_source, net_firm, total_firm)
				SELECT 1, 1, 3 + i % 10000, 'EUR', i, 'N' || i, 'issued', '', '2026-01-01', '2026-01-01', '', '', 0, 0, 0, 0, 0, 0, '', 0, 0
					FROM n`,
		} {
			if err := tx.SQL(b).Exec(many).Error; err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		b.Fatal(err)
	}
	for _, text := range []string{"ber 77", "E2", "15000", "nothing of it"} {
		b.Run(text, func(b *testing.B) {
			for b.Loop() {
				if _, err := store.Find(s.Read(b.Context(), store.Everything), text); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}
