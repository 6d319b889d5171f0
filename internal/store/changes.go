package store

import (
	"errors"
	"fmt"
	"slices"
	"strings"
)

// What is computed of a client can be kept until something is written of it. So that nobody has to think of
// saying so, triggers on every connection that writes count it, in the transaction that writes: whoever reads
// the counts sees those of the data that is read.

// A followed table is one of which figures of clients are made.
type followed struct {
	table   string
	client  string   // of a row r, or a UNION of several; nothing: a row concerns all clients
	columns []string // whose change counts; nil: any
}

const (
	clientOfWork    = "(SELECT e.client_id FROM engagements e WHERE e.id = r.engagement_id)"
	clientOfInvoice = "(SELECT i.client_id FROM invoices i WHERE i.id = r.invoice_id)"
	// What is billed of an engagement can be on the invoice of another client, who pays a share of it.
	clientsOfLine = clientOfInvoice + " AS id UNION SELECT " + clientOfWork
)

var followedTables = []followed{
	{"clients", "r.id", nil},
	{"client_steps", "r.client_id", nil},
	{"contacts", "r.client_id", nil},
	{"client_funds", "r.client_id", nil},
	{"profile_values", `CASE r.scope WHEN 'client' THEN r.subject_id
		WHEN 'engagement' THEN COALESCE((SELECT e.client_id FROM engagements e WHERE e.id = r.subject_id), 0) ELSE 0 END`, nil},

	{"engagements", "r.client_id AS id UNION SELECT y.client_id FROM engagement_payers y WHERE y.engagement_id = r.id", nil},
	{"engagement_payers", clientOfWork, nil},
	{"phases", clientOfWork, nil},
	{"budgets", clientOfWork, nil},
	{"budget_people", "(SELECT e.client_id FROM budgets b JOIN engagements e ON e.id = b.engagement_id WHERE b.id = r.budget_id)", nil},
	{"plan_lines", clientOfWork, nil},
	{"proposals", "r.client_id", []string{"client_id", "entity_id"}}, // by which who is limited sees a client
	{"charges", clientOfWork, nil},

	{"time_entries", clientOfWork, nil},
	{"expenses", clientOfWork, nil},
	{"portions", clientOfWork, nil},

	{"invoices", "r.client_id", nil},
	{"invoice_engagements", clientsOfLine, nil},
	{"invoice_lines", clientsOfLine, nil},
	{"invoice_funds", clientOfInvoice, nil},
	{"instalments", clientOfInvoice, nil},
	{"money_movements", "r.client_id", nil},
	{"deliveries", "r.client_id", nil},
	{"delivered", clientOfInvoice, nil},

	{"people", "", []string{"name", "initials", "grade_id"}},
	{"grades", "", nil},
	{"services", "", nil},
	{"expense_categories", "", nil},
	{"client_statuses", "", nil},
	{"issuing_entities", "", nil},
	{"series", "", []string{"entity_id", "kind"}},
	{"tax_codes", "", nil},
	{"tax_rates", "", nil},
}

// Watch is for tests: reads is told of each column that a statement reads, from now on, and whether its changes are
// counted. It takes the test.
func (s *Store) Watch(test interface {
	Helper()
	Chdir(string)
}, reads func(table, column string, counted bool)) error {
	test.Helper()
	s.watching = "&_stmt_cache_size=0" // SQLite tells of a statement when it is prepared
	s.watch = func(table, column string) {
		at := slices.IndexFunc(followedTables, func(f followed) bool { return f.table == table })
		reads(table, column, at >= 0 && followedTables[at].counts(column))
	}
	before := s.reader
	var err error
	s.reader, err = connectBy(connector{s.path() + reading + s.watching, onlyReads, s.watch}, readers)
	return errors.Join(err, closePool(before))
}

// counts reports whether a change of a column is counted; numbers never change.
func (f followed) counts(column string) bool {
	return f.columns == nil || column == "id" || slices.Contains(f.columns, column)
}

// counting are the statements by which a connection counts what it writes.
func counting() string {
	words := new(strings.Builder)
	for _, t := range followedTables {
		client, of, when := t.client, "", ""
		if client == "" {
			client = "0"
		}
		if !strings.Contains(client, " AS id") {
			client += " AS id"
		}
		if t.columns != nil {
			of = " OF " + strings.Join(t.columns, ", ") // a row that is saved whole names all of them: what counts is the change
			when = fmt.Sprintf("WHEN (OLD.%s) IS NOT (NEW.%s) ", strings.Join(t.columns, ", OLD."), strings.Join(t.columns, ", NEW."))
		}
		before, after := row.ReplaceAllString(client, "OLD."), row.ReplaceAllString(client, "NEW.")
		for _, on := range []struct{ act, when, clients string }{
			{"INSERT", "", after}, {"DELETE", "", before}, {"UPDATE" + of, when, before + " UNION SELECT " + after},
		} {
			fmt.Fprintf(words, "CREATE TEMP TRIGGER counts_%s_%.3s AFTER %s ON main.%s %sBEGIN INSERT INTO client_changes SELECT c.id, 1 "+
				"FROM (SELECT %s) c WHERE c.id IS NOT NULL ON CONFLICT DO UPDATE SET count = count + 1; END;\n",
				t.table, on.act, on.act, t.table, on.when, on.clients)
		}
	}
	return words.String()
}

// ClientChanges counts, by client, what was written of it, and under 0 what concerns all. A client that is not named
// was not written of.
func ClientChanges(tx *DB) (map[int64]int64, error) {
	found, err := tx.gorm.Raw("SELECT client_id, count FROM client_changes").Rows()
	if err != nil {
		return nil, err
	}
	defer found.Close()
	counts := map[int64]int64{}
	for found.Next() {
		var client, count int64
		if err := found.Scan(&client, &count); err != nil {
			return nil, err
		}
		counts[client] = count
	}
	return counts, found.Err()
}
