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
// has some. Its shape says who has the history.
type Load struct {
	Entries, Unbilled, Each int
	Shape                   Shape
}

// Shape is among whom copies of the history are shared out.
type Shape struct {
	// Clients and Engagements are how many copies there are of those of the history, the rest
	// goes on with them; none: each copy of the history has its own.
	Clients, Engagements int
	// People is how many copies of the firm's people do the work; none: those of the firm.
	People int
	// Entries is how many an invoice has at least that is copied.
	Entries int
	// Weeks is how far back the history goes.
	Weeks int
	// Running is how many copies of the engagements still run, the rest was closed; none: all of them.
	Running int
	// Owed is of how many copies one has its invoices that are not paid.
	Owed int
}

// Stress is a shape in which everything grows with the history, clients most of all.
var Stress = Shape{Weeks: 100, Owed: 1}

// OfAFirm is the shape of a firm that has so many entries in three years: of 1.5 million it makes about
// 500 people, 3,000 clients, 12,000 engagements and 60,000 invoices, most of them paid.
func OfAFirm(entries int) Shape {
	return Shape{Clients: max(1, entries/3500), Engagements: max(1, entries/1000), People: entries / 43_000, Entries: 14, Weeks: 144,
		Running: max(1, entries/3600), Owed: 40}
}

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
		for _, table := range []string{"copy", "fresh", "copied_invoices", "copied_portions", "fresh_portions", "copied_engagements",
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
	shape := load.Shape
	return []string{
		"PRAGMA defer_foreign_keys = ON",
		fmt.Sprintf(`CREATE TEMP TABLE copied_invoices AS SELECT i.id, i.state <> 'paid' AS owed FROM invoices i
			WHERE i.kind = 'invoice' AND i.state IN ('issued', 'part_paid', 'paid')
			AND i.currency = (SELECT currency FROM firm)
			AND i.revision = 1 AND i.credit = 0 AND i.funds = 0 AND i.withholding = 0 AND i.credited = 0 AND i.disputed = '' AND i.lines > 0
			AND NOT EXISTS (SELECT 1 FROM invoice_lines l WHERE l.invoice_id = i.id AND (l.kind <> 'time'
				OR NOT EXISTS (SELECT 1 FROM portions p JOIN time_entries t ON t.id = p.source_id AND NOT t.returns WHERE p.line_id = l.id
					AND p.source = 'time' AND p.part = 0 AND p.adjusted = 0
					AND NOT EXISTS (SELECT 1 FROM portions q WHERE q.source = 'time' AND q.source_id = p.source_id AND q.id <> p.id))))
			AND NOT EXISTS (SELECT 1 FROM money_movements m LEFT JOIN payments q ON q.id = m.payment_id WHERE m.invoice_id = i.id
				AND (m.kind NOT IN ('issued_net', 'issued_tax', 'instalment', 'payment') OR q.reverses_id IS NOT NULL
					OR q.amount <> m.amount))
			AND (SELECT COUNT(*) FROM invoice_lines l JOIN portions p ON p.line_id = l.id WHERE l.invoice_id = i.id) >= %d`, shape.Entries),
		`CREATE TEMP TABLE copied_portions AS SELECT p.id, p.source_id AS entry_id, i.owed FROM portions p
			JOIN invoice_lines l ON l.id = p.line_id JOIN copied_invoices i ON i.id = l.invoice_id`,
		fmt.Sprintf(`CREATE TEMP TABLE fresh_portions AS SELECT p.id, p.source_id AS entry_id FROM portions p
				JOIN time_entries t ON t.id = p.source_id
				WHERE p.source = 'time' AND p.billing = 'unbilled' AND p.removed = FALSE
				AND p.hold = 'none' AND p.part = 0 AND p.adjusted = 0 AND NOT p.without_rate AND NOT t.returns
					AND p.engagement_id = (SELECT u.engagement_id FROM portions u JOIN engagements e ON e.id = u.engagement_id
					WHERE u.billing = 'unbilled' AND u.removed = FALSE AND u.hold = 'none' AND u.part = 0 AND e.arrangement = 'hourly'
						AND e.currency = (SELECT currency FROM firm)
					GROUP BY 1 HAVING COUNT(*) >= %[1]d ORDER BY 1 LIMIT 1) ORDER BY p.worked_day, p.id LIMIT %[1]d`, load.Each),
		`CREATE TEMP TABLE copied_engagements AS SELECT e.id, e.client_id, e.arrangement = 'hourly' AS hourly FROM engagements e
			WHERE e.id IN (SELECT p.engagement_id FROM portions p JOIN copied_portions c ON c.id = p.id)`,
		copied(load),
		// work that is not billed yet: of one engagement of each copy that runs, then of the next
		fmt.Sprintf(`CREATE TEMP TABLE fresh AS WITH RECURSIVE n(k) AS (SELECT 1 UNION ALL SELECT k + 1 FROM n WHERE k < %d)
			SELECT n.k, e.id + c.k * %s AS engagement_id, c.of_person FROM n JOIN copy c ON c.k = 1 + (n.k - 1) %% %[3]d
			JOIN (SELECT id, ROW_NUMBER() OVER (ORDER BY id) - 1 AS place FROM copied_engagements WHERE hourly) e
				ON e.place = (n.k - 1) / %[3]d`, load.Unbilled/load.Each, apart, load.fresh()),
		`CREATE TEMP TABLE copied_payments AS SELECT DISTINCT m.payment_id AS id, i.owed FROM money_movements m
			JOIN copied_invoices i ON i.id = m.invoice_id WHERE m.payment_id IS NOT NULL`,
		`INSERT INTO series (version, entity_id, kind, prefix, first_number, next_number) SELECT 0, MIN(id), 'invoice', 'L', 1, 1
			FROM issuing_entities`,
	}
}

// copied numbers the copies and says for each whose history it is, and how long ago.
func copied(load Load) string {
	shape := load.Shape
	few := func(copies int) string { // so many, or one for each copy
		if copies == 0 {
			return "k"
		}
		return fmt.Sprintf("1 + (k - 1) %% %d", copies)
	}
	return fmt.Sprintf(`CREATE TEMP TABLE copy AS WITH RECURSIVE
		each(billed, fresh) AS (SELECT (%[2]d - (SELECT COUNT(*) FROM time_entries)) / (SUM(NOT owed) + SUM(owed) / %[1]d),
			%[9]d FROM copied_portions),
		n(k) AS (SELECT 1 UNION ALL SELECT k + 1 FROM n WHERE k < (SELECT MAX(billed, fresh) FROM each)),
		e AS (SELECT k, k <= (SELECT billed FROM each) AS billed, k %% %[1]d = 0 AS owed, %[3]s AS of_engagement FROM n),
		c AS (SELECT *, 1 + (of_engagement - 1) %% %[4]s AS of_client FROM e)
		SELECT *, of_client %% %[5]d AS of_person, of_engagement <= %[8]s AS runs,
			'-' || (140 + 7 * ((k + (k - of_engagement) / %[6]s * 37) %% %[7]d)) || ' days' AS earlier FROM c`,
		shape.Owed, load.Entries-load.Unbilled, few(shape.Engagements), orAll(shape.Clients), shape.People+1, orAll(shape.Engagements),
		shape.Weeks, orAll(shape.Running), load.fresh())
}

// fresh is in how many copies there is work that is not billed yet.
func (l Load) fresh() int {
	if l.Shape.Running > 0 {
		return l.Shape.Running
	}
	return l.Unbilled / l.Each
}

// orAll is a number that divides, or one that leaves everything as it is.
func orAll(copies int) string {
	if copies == 0 {
		return "9223372036854775807"
	}
	return fmt.Sprint(copies)
}

// copying is how the rows of a table are copied: of which copies c, which rows of o, and which
// columns differ from copy to copy.
type copying struct {
	table, by, of string // SQL
	change        map[string]string
}

// moved is the number of a copied row; earlier is a day of it.
func moved(column string) string { return "o." + column + " + c.k * " + apart }

// ofCopy is the number of a row that several copies share: of a client, an engagement, a person.
func ofCopy(column, of string) string { return "o." + column + " + c." + of + " * " + apart }

func earlier(column string) string {
	return "CASE WHEN o." + column + " = '' THEN '' ELSE date(o." + column + ", c.earlier) END"
}

// Which rows are copied: those of an invoice that is, in each copy or where what is owed is.
const (
	onInvoices  = "o.invoice_id IN (SELECT id FROM copied_invoices WHERE NOT owed OR c.owed)"
	ofPortions  = "IN (SELECT id FROM copied_portions WHERE NOT owed OR c.owed)"
	ofEntries   = "o.id IN (SELECT entry_id FROM copied_portions WHERE NOT owed OR c.owed)"
	history     = "(SELECT * FROM copy WHERE billed)"
	fresh       = "fresh"
	people      = "(SELECT DISTINCT of_person AS k FROM copy WHERE of_person > 0)"
	clients     = "(SELECT of_client AS k, MAX(of_person) AS of_person FROM copy GROUP BY 1)"
	engagements = "(SELECT of_engagement AS k, MAX(of_client) AS of_client, MAX(of_person) AS of_person, MAX(runs) AS runs " +
		"FROM copy GROUP BY 1)"
)

var copies = []copying{
	{"people", people, "TRUE", map[string]string{"id": moved("id"), "initials": "o.initials || c.k", "name": "o.name || ' ' || c.k",
		"mail": "c.k || o.mail", "stand_in_id": "NULL"}},
	{"clients", clients, "o.id IN (SELECT client_id FROM copied_engagements)", map[string]string{"id": moved("id"),
		"code": "o.code || 'L' || c.k", "name": "o.name || ' ' || c.k", "opened_day": "'2020-01-01'",
		"responsible_id": ofCopy("responsible_id", "of_person"), "second_id": ofCopy("second_id", "of_person"),
		"originator_id": ofCopy("originator_id", "of_person")}},
	{"profile_values", clients, "o.scope = 'client' AND o.subject_id IN (SELECT client_id FROM copied_engagements)",
		map[string]string{"id": moved("id"), "subject_id": moved("subject_id")}},
	{"engagements", engagements, "o.id IN (SELECT id FROM copied_engagements)", map[string]string{"id": moved("id"),
		"client_id": ofCopy("client_id", "of_client"), "lead_id": ofCopy("lead_id", "of_person"), "code": "o.code || 'L' || c.k",
		"name": "o.name || ' ' || c.k", "opened_day": "'2020-01-01'", "series_id": "(SELECT id FROM series WHERE prefix = 'L')",
		"made_from_id": "NULL", "proposal_id": "NULL", "active": "o.active AND c.runs",
		"closed_day": "CASE WHEN c.runs THEN o.closed_day ELSE '2026-06-30' END"}},
	{"profile_values", engagements, "o.scope = 'engagement' AND o.subject_id IN (SELECT id FROM copied_engagements)",
		map[string]string{"id": moved("id"), "subject_id": moved("subject_id")}},
	{"time_entries", history, ofEntries, map[string]string{"id": moved("id"), "person_id": ofCopy("person_id", "of_person"),
		"engagement_id": ofCopy("engagement_id", "of_engagement"), "phase_id": "NULL", "day": earlier("day"), "approval": "'open'"}},
	{"time_entries", fresh, "o.id IN (SELECT entry_id FROM fresh_portions)", map[string]string{"id": moved("id"),
		"person_id": ofCopy("person_id", "of_person"), "engagement_id": "c.engagement_id", "phase_id": "NULL",
		"approval": "CASE WHEN c.of_person = 0 THEN o.approval ELSE 'open' END"}}, // who is copied has handed in no week
	{"invoices", history, "o.id IN (SELECT id FROM copied_invoices WHERE NOT owed OR c.owed)",
		map[string]string{"id": moved("id"), "client_id": ofCopy("client_id", "of_client"),
			"series_id": "(SELECT id FROM series WHERE prefix = 'L')", "number": numbered, "number_text": "'L' || " + numbered,
			"up_to_day": earlier("up_to_day"), "dated": earlier("dated"), "due_day": earlier("due_day"), "tax_day": earlier("tax_day"),
			"run_id": "NULL", "handed": "'before'", "handed_before": "TRUE", "disputed": "''", "disputed_amount": "0"}},
	{"invoice_engagements", history, onInvoices,
		map[string]string{"invoice_id": moved("invoice_id"), "engagement_id": ofCopy("engagement_id", "of_engagement"),
			"billed_day": earlier("billed_day")}},
	{"invoice_lines", history, onInvoices, map[string]string{"id": moved("id"), "invoice_id": moved("invoice_id"),
		"engagement_id": ofCopy("engagement_id", "of_engagement"), "person_id": ofCopy("person_id", "of_person"), "day": earlier("day")}},
	{"portions", history, "o.id " + ofPortions, map[string]string{"id": moved("id"), "source_id": moved("source_id"),
		"engagement_id": ofCopy("engagement_id", "of_engagement"), "line_id": moved("line_id"), "worked_day": earlier("worked_day")}},
	{"portions", fresh, "o.id IN (SELECT id FROM fresh_portions)",
		map[string]string{"id": moved("id"), "source_id": moved("source_id"), "engagement_id": "c.engagement_id"}},
	// its file is that of another number
	{"invoice_revisions", history, onInvoices,
		map[string]string{"id": moved("id"), "invoice_id": moved("invoice_id"), "drawing": "0",
			"content": "json_set(o.content, '$.number', (SELECT n.number_text FROM invoices n WHERE n.id = " + moved("invoice_id") + "))"}},
	{"instalments", history, onInvoices,
		map[string]string{"id": moved("id"), "invoice_id": moved("invoice_id"), "due_day": earlier("due_day")}},
	{"payments", history, "o.id IN (SELECT id FROM copied_payments WHERE NOT owed OR c.owed)",
		map[string]string{"id": moved("id"), "client_id": ofCopy("client_id", "of_client"), "day": earlier("day")}},
	{"write_offs", history, onInvoices, map[string]string{"id": moved("id"), "invoice_id": moved("invoice_id"),
		"client_id": ofCopy("client_id", "of_client"), "day": earlier("day")}},
	{"work_movements", history, "o.portion_id " + ofPortions, map[string]string{"id": moved("id"), "portion_id": moved("portion_id"),
		"engagement_id": ofCopy("engagement_id", "of_engagement"), "invoice_id": moved("invoice_id"),
		"effective_day": earlier("effective_day")}},
	{"work_movements", fresh, "o.portion_id IN (SELECT id FROM fresh_portions)",
		map[string]string{"id": moved("id"), "portion_id": moved("portion_id"), "engagement_id": "c.engagement_id"}},
	{"money_movements", history, onInvoices, map[string]string{"id": moved("id"), "invoice_id": moved("invoice_id"),
		"instalment_id": moved("instalment_id"), "client_id": ofCopy("client_id", "of_client"), "payment_id": moved("payment_id"),
		"effective_day": earlier("effective_day")}},
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
	return tx.gorm.Exec(fmt.Sprintf("INSERT INTO %s (%s) SELECT %s FROM %s c CROSS JOIN %s o WHERE %s ORDER BY c.k, o.rowid", c.table,
		strings.Join(names, ", "), strings.Join(values, ", "), c.by, c.table, c.of)).Error
}
