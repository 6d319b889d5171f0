package store

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"
)

// Load is how much data there is to be: time entries in all, as far as billed history
// makes them, and how many unbilled ones are added, so many on each engagement that
// has some.
type Load struct{ Entries, Unbilled, Each int }

// apart is how far the numbers of one copy lie from those of the next.
const apart = "1000000"

// Multiply copies billed work with its clients, engagements, invoices and payments,
// for tests under load. Everything that can be proven of the original can be proven
// of the copies: their ledgers are its own, some weeks earlier. It is SQL from end to
// end, because a million entries are made of it.
func (s *Store) Multiply(ctx context.Context, load Load) error {
	return s.Write(ctx, Everything, func(tx *DB) error {
		for _, statement := range multiplication(load) {
			if err := tx.gorm.Exec(statement).Error; err != nil {
				return fmt.Errorf("multiply: %.90s: %w", statement, err)
			}
		}
		for _, c := range copies {
			if err := c.run(tx); err != nil {
				return fmt.Errorf("multiply %s: %w", c.table, err)
			}
		}
		for _, table := range []string{"copy", "copied_invoices", "copied_portions", "copied_engagements", "copied_clients",
			"copied_payments"} {
			if err := tx.gorm.Exec("DROP TABLE temp." + table).Error; err != nil {
				return err
			}
		}
		return tx.gorm.Exec(`UPDATE series SET next_number = 1 + (SELECT COUNT(*) FROM invoices i WHERE i.series_id = series.id)
			WHERE prefix = 'L'`).Error
	})
}

// multiplication says what is copied: invoices of time alone that nothing but
// payments has settled, what stands on them, and some unbilled work.
func multiplication(load Load) []string {
	return []string{
		"PRAGMA defer_foreign_keys = ON",
		`CREATE TEMP TABLE copied_invoices AS SELECT i.id FROM invoices i WHERE i.kind = 'invoice' AND i.state IN ('issued', 'part_paid',
			'paid')
			AND i.currency = (SELECT currency FROM firm)
			AND i.revision = 1 AND i.credit = 0 AND i.funds = 0 AND i.withholding = 0 AND i.credited = 0 AND i.disputed = '' AND i.lines > 0
			AND NOT EXISTS (SELECT 1 FROM invoice_lines l WHERE l.invoice_id = i.id AND (l.kind <> 'time'
				OR NOT EXISTS (SELECT 1 FROM portions p JOIN time_entries t ON t.id = p.source_id AND NOT t.returns WHERE p.line_id = l.id
					AND p.source = 'time' AND p.part = 0 AND p.adjusted = 0
					AND NOT EXISTS (SELECT 1 FROM portions q WHERE q.source = 'time' AND q.source_id = p.source_id AND q.id <> p.id))))
			AND NOT EXISTS (SELECT 1 FROM money_movements m LEFT JOIN payments q ON q.id = m.payment_id WHERE m.invoice_id = i.id
				AND (m.kind NOT IN ('issued_net', 'issued_tax', 'instalment', 'payment') OR q.reverses_id IS NOT NULL
					OR q.amount <> m.amount))`,
		fmt.Sprintf(`CREATE TEMP TABLE copied_portions AS SELECT p.id, p.source_id AS entry_id, FALSE AS unbilled FROM portions p
			JOIN invoice_lines l ON l.id = p.line_id JOIN copied_invoices i ON i.id = l.invoice_id
			UNION ALL SELECT * FROM (SELECT p.id, p.source_id, TRUE FROM portions p JOIN time_entries t ON t.id = p.source_id
				WHERE p.source = 'time' AND p.billing = 'unbilled' AND p.removed = FALSE
				AND p.hold = 'none' AND p.part = 0 AND p.adjusted = 0 AND NOT p.without_rate AND NOT t.returns
					AND p.engagement_id = (SELECT u.engagement_id FROM portions u JOIN engagements e ON e.id = u.engagement_id
					WHERE u.billing = 'unbilled' AND u.removed = FALSE AND u.hold = 'none' AND u.part = 0 AND e.arrangement = 'hourly'
						AND e.currency = (SELECT currency FROM firm)
					GROUP BY 1 HAVING COUNT(*) >= %[1]d ORDER BY 1 LIMIT 1) ORDER BY p.worked_day, p.id LIMIT %[1]d)`, load.Each),
		fmt.Sprintf(`CREATE TEMP TABLE copy AS WITH RECURSIVE n(k) AS (SELECT 1 UNION ALL SELECT k + 1 FROM n
				WHERE k < %[2]d / %[3]d OR k < (%[1]d - %[2]d - (SELECT COUNT(*) FROM time_entries)) / (SELECT COUNT(*) FROM copied_portions
					WHERE NOT unbilled))
			SELECT k, k <= %[2]d / %[3]d AS unbilled, k <= (%[1]d - %[2]d - (SELECT COUNT(*) FROM time_entries)) / (SELECT COUNT(*)
				FROM copied_portions WHERE NOT unbilled) AS billed, '-' || (140 + 7 * (k %% 100)) || ' days' AS earlier
					FROM n`, load.Entries, load.Unbilled, load.Each),
		`CREATE TEMP TABLE copied_engagements AS SELECT p.engagement_id AS id, MAX(c.unbilled) AS unbilled FROM portions p
			JOIN copied_portions c ON c.id = p.id GROUP BY 1`,
		`CREATE TEMP TABLE copied_clients AS SELECT e.client_id AS id, MAX(c.unbilled) AS unbilled FROM engagements e
			JOIN copied_engagements c ON c.id = e.id GROUP BY 1`,
		`CREATE TEMP TABLE copied_payments AS SELECT DISTINCT payment_id AS id FROM money_movements WHERE payment_id IS NOT NULL
			AND invoice_id IN (SELECT id FROM copied_invoices)`,
		`INSERT INTO series (version, entity_id, kind, prefix, first_number, next_number) SELECT 0, MIN(id), 'invoice', 'L', 1, 1
			FROM issuing_entities`,
	}
}

// copying is how the rows of a table are copied: of which, and which columns differ
// from copy to copy.
type copying struct {
	table, of string // SQL: the rows of o, by c.k
	change    map[string]string
}

// moved is the number of a copied row; earlier is a day of it.
func moved(column string) string { return "o." + column + " + c.k * " + apart }

func earlier(column string) string {
	return "CASE WHEN o." + column + " = '' THEN '' ELSE date(o." + column + ", c.earlier) END"
}

var copies = []copying{
	{"clients", "o.id IN (SELECT id FROM copied_clients WHERE c.billed OR unbilled)",
		map[string]string{"id": moved("id"), "code": "o.code || 'L' || c.k", "name": "o.name || ' ' || c.k", "opened_day": "'2020-01-01'"}},
	{"engagements", "o.id IN (SELECT id FROM copied_engagements WHERE c.billed OR unbilled)",
		map[string]string{"id": moved("id"), "client_id": moved("client_id"), "code": "o.code || 'L' || c.k", "opened_day": "'2020-01-01'",
			"series_id": "(SELECT id FROM series WHERE prefix = 'L')", "made_from_id": "NULL", "proposal_id": "NULL"}},
	{"profile_values", "o.scope = 'client' AND o.subject_id IN (SELECT id FROM copied_clients WHERE c.billed OR unbilled) OR o.scope = " +
		"'engagement' AND o.subject_id IN (SELECT id FROM copied_engagements WHERE c.billed OR unbilled)",
		map[string]string{"id": moved("id"), "subject_id": moved("subject_id")}},
	{"time_entries", "c.billed AND o.id IN (SELECT entry_id FROM copied_portions WHERE NOT unbilled)",
		map[string]string{"id": moved("id"), "engagement_id": moved("engagement_id"), "phase_id": "NULL", "day": earlier("day"),
			"approval": "'open'"}},
	{"time_entries", "c.unbilled AND o.id IN (SELECT entry_id FROM copied_portions WHERE unbilled)",
		map[string]string{"id": moved("id"), "engagement_id": moved("engagement_id"), "phase_id": "NULL"}},
	{"invoices", "c.billed AND o.id IN (SELECT id FROM copied_invoices)",
		map[string]string{"id": moved("id"), "client_id": moved("client_id"), "series_id": "(SELECT id FROM series WHERE prefix = 'L')",
			"number": numbered, "number_text": "'L' || " + numbered, "up_to_day": earlier("up_to_day"), "dated": earlier("dated"),
			"due_day": earlier("due_day"), "tax_day": earlier("tax_day"), "run_id": "NULL"}},
	{"invoice_engagements", "c.billed AND o.invoice_id IN (SELECT id FROM copied_invoices)",
		map[string]string{"invoice_id": moved("invoice_id"), "engagement_id": moved("engagement_id")}},
	{"invoice_lines", "c.billed AND o.invoice_id IN (SELECT id FROM copied_invoices)",
		map[string]string{"id": moved("id"), "invoice_id": moved("invoice_id"), "engagement_id": moved("engagement_id"),
			"day": earlier("day")}},
	{"portions", "c.billed AND o.id IN (SELECT id FROM copied_portions WHERE NOT unbilled)",
		map[string]string{"id": moved("id"), "source_id": moved("source_id"), "engagement_id": moved("engagement_id"),
			"line_id": moved("line_id"), "worked_day": earlier("worked_day")}},
	{"portions", "c.unbilled AND o.id IN (SELECT id FROM copied_portions WHERE unbilled)",
		map[string]string{"id": moved("id"), "source_id": moved("source_id"), "engagement_id": moved("engagement_id")}},
	// its file is that of another number
	{"invoice_revisions", "c.billed AND o.invoice_id IN (SELECT id FROM copied_invoices)",
		map[string]string{"id": moved("id"), "invoice_id": moved("invoice_id"), "drawing": "0",
			"content": "json_set(o.content, '$.number', (SELECT n.number_text FROM invoices n WHERE n.id = " + moved("invoice_id") + "))"}},
	{"instalments", "c.billed AND o.invoice_id IN (SELECT id FROM copied_invoices)",
		map[string]string{"id": moved("id"), "invoice_id": moved("invoice_id"), "due_day": earlier("due_day")}},
	{"payments", "c.billed AND o.id IN (SELECT id FROM copied_payments)",
		map[string]string{"id": moved("id"), "client_id": moved("client_id"), "day": earlier("day")}},
	{"work_movements", "c.billed AND o.portion_id IN (SELECT id FROM copied_portions WHERE NOT unbilled)",
		map[string]string{"id": moved("id"), "portion_id": moved("portion_id"), "engagement_id": moved("engagement_id"),
			"invoice_id": moved("invoice_id"), "effective_day": earlier("effective_day")}},
	{"work_movements", "c.unbilled AND o.portion_id IN (SELECT id FROM copied_portions WHERE unbilled)",
		map[string]string{"id": moved("id"), "portion_id": moved("portion_id"), "engagement_id": moved("engagement_id")}},
	{"money_movements", "c.billed AND o.invoice_id IN (SELECT id FROM copied_invoices)",
		map[string]string{"id": moved("id"), "invoice_id": moved("invoice_id"), "instalment_id": moved("instalment_id"),
			"client_id":  moved("client_id"),
			"payment_id": moved("payment_id"), "effective_day": earlier("effective_day")}},
}

// numbered gives numbers in the order of days, as issuing does.
const numbered = "ROW_NUMBER() OVER (ORDER BY date(o.dated, c.earlier), c.k, o.id)"

func (c copying) run(tx *DB) error {
	names := []string{}
	if err := tx.gorm.Raw("SELECT name FROM pragma_table_info(?)", c.table).Scan(&names).Error; err != nil {
		return err
	}
	values := make([]string, len(names))
	for i, name := range names {
		values[i] = "o." + name
		if changed, has := c.change[name]; has {
			values[i] = changed
		}
	}
	for _, name := range slices.Sorted(maps.Keys(c.change)) {
		if !slices.Contains(names, name) {
			return fmt.Errorf("there is no column %s", name)
		}
	}
	// By copy first, so that rows come in the order of their numbers.
	return tx.gorm.Exec(fmt.Sprintf("INSERT INTO %s (%s) SELECT %s FROM copy c CROSS JOIN %s o WHERE %s ORDER BY c.k, o.rowid", c.table,
		strings.Join(names, ", "), strings.Join(values, ", "), c.table, c.of)).Error
}
