package store

import (
	"fmt"
	"strings"

	"gorm.io/gorm"
)

// kindTable is where the records of a kind of the set-up are kept. Key and title, by
// which others name a record, and all conditions are SQL.
type kindTable struct {
	table, key, title, order string
	parent                   string   // the column of what it belongs to
	visibleWhere             string   // those in the scope of who reads; nothing: all
	base                     string   // those on which the firm stands, which never go
	uses                     []usage  // by what else
	clear                    []string // tables with the column of what goes with a record
}

// usage counts what refers to a record, and says what it is.
type usage struct{ words, count string }

// counted is up to how many rows are counted: of more it is said that there are.
const counted = 1000

// in are rows of a table that name the record in a column.
func in(table, column, words string) usage {
	return usage{words, fmt.Sprintf("SELECT COUNT(*) FROM (SELECT 1 FROM %s WHERE %s = ? LIMIT %d)", table, column, counted+1)}
}

const (
	clientsInSight = "(@all OR id IN (SELECT client_id FROM engagements WHERE lead_id IN @leads) OR responsible_id IN @leads OR " +
		"second_id IN @leads)"
	ofClientsInSight     = "client_id IN (SELECT id FROM clients WHERE " + clientsInSight + ")"
	engagementsInSight   = "(@all OR lead_id IN @leads)"
	ofEngagementsInSight = "engagement_id IN (SELECT id FROM engagements WHERE " + engagementsInSight + ")"
)

// kindTables are the kinds by their names in addresses.
var kindTables = map[string]kindTable{
	"client-statuses": {table: "client_statuses", key: "name", title: "name", order: "id",
		uses: []usage{in("clients", "status_id", "clients")}},
	"clients": {table: "clients", key: "code", title: "name", order: "name", visibleWhere: clientsInSight,
		uses: []usage{in("engagements", "client_id", "engagements"), in("invoices", "client_id", "invoices"),
			in("payments", "client_id", "payments"),
			in("client_funds", "client_id", "money held"), in("deposit_requests", "client_id", "deposit requests"),
			in("engagement_payers", "client_id", "engagements that they pay a share of"),
			in("contacts", "client_id", "contacts"), in("client_notes", "client_id", "notes"), in("rates", "client_id", "rates")},
		clear: []string{"client_steps.client_id"}},
	"contacts": {table: "contacts", key: "id || ''", title: "name", order: "client_id, id", parent: "client_id",
		visibleWhere: ofClientsInSight},
	"client-notes": {table: "client_notes", key: "id || ''", title: "substr(text, 1, 40)", order: "day DESC, id DESC",
		parent: "client_id", visibleWhere: ofClientsInSight},
	"onboarding-steps": {table: "step_templates", key: "name", title: "name", order: "days, id"},
	"client-steps": {table: "client_steps", key: "id || ''", title: "name", order: "due_day, id", parent: "client_id",
		visibleWhere: ofClientsInSight},
	"wordings": {table: "wordings", key: "language || '/' || label", title: "text", order: "language, label"},
	"ledger-accounts": {table: "ledger_accounts", key: "posting", title: "name", order: "id",
		uses: []usage{{"postings of the journal", "SELECT COUNT(*) FROM ledger_accounts WHERE id = ?"}}},
	"engagements": {table: "engagements", key: "code", title: "name", order: "name", parent: "client_id", visibleWhere: engagementsInSight,
		uses: []usage{in("time_entries", "engagement_id", "time entries"), in("invoice_engagements", "engagement_id", "invoices"),
			in("phases", "engagement_id", "phases"),
			in("budgets", "engagement_id", "budgets"), in("rates", "engagement_id", "rates"), in("contacts", "engagement_id", "contacts"),
			in("charges", "engagement_id", "charges"),
			in("client_funds", "engagement_id", "money held"), in("deposit_requests", "engagement_id", "deposit requests"),
			in("engagement_templates", "engagement_id", "templates")},
		clear: []string{"engagement_people.engagement_id", "engagement_payers.engagement_id"}},
	"phases": {table: "phases", key: "id || ''", title: "name", order: "engagement_id, COALESCE(parent_id, id), parent_id IS NOT NULL, id",
		parent: "engagement_id", visibleWhere: ofEngagementsInSight,
		uses: []usage{in("time_entries", "phase_id", "time entries"), in("budgets", "phase_id", "budgets"),
			in("rates", "phase_id", "rates"),
			in("phases", "parent_id", "tasks")},
		clear: []string{"phase_people.phase_id"}},
	"payers": {table: "engagement_payers", key: "id || ''", title: "(SELECT name FROM clients c WHERE c.id = client_id)",
		order: "engagement_id, id", parent: "engagement_id", visibleWhere: ofEngagementsInSight},
	"budgets": {table: "budgets", key: "id || ''", title: "measure || ' from ' || from_day", order: "engagement_id, phase_id, id",
		parent: "engagement_id", visibleWhere: ofEngagementsInSight,
		clear: []string{"budget_people.budget_id", "budget_alerts.budget_id"}},
	"engagement-templates": {table: "engagement_templates", key: "name", title: "name", order: "name"},
	"firm":                 {table: "firm", key: "name", title: "name", base: "TRUE"},
	"entities": {table: "issuing_entities", key: "name", title: "name", order: "name",
		base: "id = (SELECT MIN(id) FROM main.issuing_entities)",
		uses: []usage{in("engagements", "entity_id", "engagements"), in("invoices", "entity_id", "invoices"),
			in("people", "entity_id", "people"), in("series", "entity_id", "number series")}},
	"series": {table: "series", key: "prefix", title: "prefix || ' ' || kind", order: "entity_id, kind, id",
		base: "id IN (SELECT MIN(id) FROM main.series WHERE entity_id = (SELECT MIN(id) FROM main.issuing_entities) GROUP BY kind)",
		uses: []usage{in("invoices", "series_id", "invoices and drafts"), in("engagements", "series_id", "engagements")}},
	"offices": {table: "offices", key: "name", title: "name", order: "name",
		uses: []usage{in("people", "office_id", "people"), in("clients", "office_id", "clients"), in("holidays", "office_id", "holidays")}},
	"holidays": {table: "holidays", key: "day || ' ' || id", title: "name", order: "day"},
	"exchange-rates": {table: "exchange_rates", key: "currency || ' ' || day", title: "currency || ' ' || day",
		order: "day DESC, currency"},
	"reference-rates": {table: "reference_rates", key: "currency || ' ' || day", title: "currency || ' ' || day",
		order: "day DESC, currency"},
	"tax-codes": {table: "tax_codes", key: "code", title: "code || ', ' || name", order: "code",
		uses: []usage{in("invoice_lines", "tax_code_id", "invoice lines"), in("services", "tax_code_id", "services"),
			in("tax_rates", "tax_code_id", "rates"),
			{"billing profiles", "SELECT COUNT(*) FROM profile_values WHERE name LIKE 'tax_code%' AND value = (SELECT code FROM " +
				"tax_codes WHERE id = ?)"}}},
	"tax-rates": {table: "tax_rates", key: "id || ''",
		title: "(SELECT code FROM tax_codes c WHERE c.id = tax_code_id) || ' from ' || from_day", order: "tax_code_id, from_day DESC",
		parent: "tax_code_id"},
	"own-fields": {table: "own_fields", key: "subject || '/' || name", title: "name", order: "subject, id",
		uses: []usage{in("own_values", "field_id", "values")}},
	"payment-schedules": {table: "payment_schedules", key: "name", title: "name", order: "name"},
	"invoice-templates": {table: "invoice_templates", key: "name", title: "name", order: "name"},
	"issue-checks": {table: "issue_checks", key: "name", title: "name", order: "id",
		uses: []usage{{"look before each issue", "SELECT COUNT(*) FROM issue_checks WHERE id = ?"}}},
	"grades": {table: "grades", key: "name", title: "name", order: "name",
		uses: []usage{in("people", "grade_id", "people"), in("rates", "grade_id", "rates")}},
	"people": {table: "people", key: "initials", title: "name", order: "name",
		uses: []usage{in("time_entries", "person_id", "time entries"), in("engagements", "lead_id", "engagements to lead"),
			in("acts", "person_id", "acts in the history"),
			in("rates", "person_id", "rates"), in("clients", "responsible_id", "clients to care for")},
		clear: []string{"person_entities.person_id", "account_links.person_id", "signed_in.person_id"}},
	"services": {table: "services", key: "code", title: "name", order: "name",
		uses: []usage{in("time_entries", "service_id", "time entries"), in("rates", "service_id", "rates"),
			in("engagements", "service_id", "engagements that begin with it")}},
	"expense-categories": {table: "expense_categories", key: "name", title: "name", order: "name",
		uses: []usage{in("purchases", "category_id", "purchases")}},
	"line-kinds": {table: "line_kinds", key: "name", title: "name", order: "id",
		uses: []usage{in("invoice_lines", "line_kind_id", "invoice lines"), in("services", "line_kind_id", "services")}},
	"abbreviations": {table: "abbreviations", key: "short", title: "short", order: "short"},
	"pictures": {table: "pictures", key: "name", title: "name", order: "name",
		uses: []usage{in("invoice_lines", "picture_id", "invoice lines"), in("services", "picture_id", "services"),
			{"billing profiles", "SELECT COUNT(*) FROM profile_values WHERE name = 'head_picture' AND value = (SELECT name FROM " +
				"pictures WHERE id = ?)"}}},
	"bank-accounts": {table: "bank_accounts", key: "name", title: "name", order: "name",
		uses: []usage{in("bank_statements", "account_id", "statements")}},
	"enclosures": {table: "enclosures", key: "name", title: "name", order: "name",
		uses: []usage{{"billing profiles", "SELECT COUNT(*) FROM profile_values WHERE name = 'enclosure' AND value = (SELECT name FROM " +
			"enclosures WHERE id = ?)"}}},
	"bundles": {table: "bundles", key: "name", title: "name", order: "name"},
	"rate-cards": {table: "rate_cards", key: "name", title: "name", order: "name",
		uses: []usage{in("rates", "card_id", "rates"),
			{"billing profiles", "SELECT COUNT(*) FROM profile_values WHERE name = 'rate_card' AND value = (SELECT name FROM " +
				"rate_cards WHERE id = ?)"}}},
	"rates": {table: "rates", key: "id || ''", title: `COALESCE((SELECT name FROM engagements x WHERE x.id = engagement_id) || ' ',
		(SELECT name FROM clients x WHERE x.id = client_id) || ' ', '') ||
			COALESCE((SELECT name FROM people x WHERE x.id = person_id) || ' ', (SELECT name FROM grades x WHERE x.id = grade_id) || ' ',
			(SELECT name FROM services x WHERE x.id = service_id) || ' ', CASE WHEN client_id IS NULL
				AND engagement_id IS NULL THEN 'the firm '
				ELSE '' END) || 'from ' || from_day`, order: "kind, level, person_id, grade_id, client_id, engagement_id, from_day DESC"},
	"letter-texts":   {table: "letter_texts", key: "name", title: "name", order: "kind, language, id"},
	"proposal-texts": {table: "proposal_texts", key: "name", title: "name", order: "purpose, id"},
	"questionnaires": {table: "questionnaires", key: "name", title: "name", order: "name"},
}

func (k kindTable) inScope(tx *DB) *gorm.DB {
	if k.visibleWhere == "" || tx.scope.Leads == nil {
		return tx.gorm
	}
	return tx.gorm.Where(k.visibleWhere, tx.scoped(nil))
}

// Record reads a record of a kind that may be seen, or ErrNotFound.
func Record[T any](tx *DB, kind string, id int64) (*T, error) {
	value := new(T)
	err := kindTables[kind].inScope(tx).First(value, "id = ?", id).Error
	return value, err
}

// RecordFilter says which records are read; zero values ask for all.
type RecordFilter struct {
	Of     int64  // what they belong to
	Text   string // all its words are in key or title
	Active bool   // only those that are in use, of a kind that retires
	Most   int
}

// Records reads the records of a kind that may be seen, in its order.
func Records[T any](tx *DB, kind string, f RecordFilter) ([]T, error) {
	k := kindTables[kind]
	query := k.inScope(tx).Order(k.order)
	if k.parent != "" && f.Of != 0 {
		query = query.Where(k.parent+" = ?", f.Of)
	}
	for word := range strings.FieldsSeq(f.Text) {
		like := within(word)
		query = query.Where(fmt.Sprintf(`((%s) LIKE ? ESCAPE '\' OR (%s) LIKE ? ESCAPE '\')`, k.key, k.title), like, like)
	}
	if f.Active {
		query = query.Where("active")
	}
	if f.Most > 0 {
		query = query.Limit(f.Most)
	}
	values := []T{}
	err := query.Find(&values).Error
	return values, err
}

// OrderedByName reports whether the records of a kind are ordered by their names.
func OrderedByName(kind string) bool { return kindTables[kind].order == "name" }

// Name is how a record is named by others: a key that is unique among its kind,
// and a title.
type Name struct {
	ID         int64
	Key, Title string
	Active     bool
}

// Names reads the names of some records of a kind, or of all (none). Of one that does not retire, all are active.
func Names(tx *DB, kind string, retires bool, ids ...int64) ([]Name, error) {
	if len(ids) > 0 {
		return readNames(tx, kind, retires, "WHERE id IN ?", many(ids))
	}
	return readNames(tx, kind, retires, "")
}

// ActiveNames reads the names of so many active records of a kind that retires: those with all words in key or title, by
// title, and the one of a key or number in any case.
func ActiveNames(tx *DB, kind string, words []string, has string, most int) ([]Name, error) {
	k, asked, values := kindTables[kind], "active", []any{}
	for _, word := range words {
		asked += fmt.Sprintf(` AND ((%s) LIKE ? ESCAPE '\' OR (%s) LIKE ? ESCAPE '\')`, k.key, k.title)
		values = append(values, within(word), within(word))
	}
	return readNames(tx, kind, true, fmt.Sprintf("WHERE %s OR ? <> '' AND active AND ? IN (%s, CAST(id AS TEXT)) ORDER BY ? IN (%s, CAST(id AS TEXT)) DESC, "+
		"LOWER(%s) LIMIT ?", asked, k.key, k.key, k.title), append(values, has, has, has, most)...)
}

// readNames reads names column by column: a firm has ten thousand engagements.
func readNames(tx *DB, kind string, retires bool, which string, values ...any) ([]Name, error) {
	k, active := kindTables[kind], "TRUE"
	if retires {
		active = "active"
	}
	found, err := tx.gorm.Raw(fmt.Sprintf("SELECT id, %s, %s, %s FROM %s %s", k.key, k.title, active, k.table, which), values...).Rows()
	if err != nil {
		return nil, err
	}
	defer found.Close()
	names := []Name{}
	for found.Next() {
		n := Name{}
		if err := found.Scan(&n.ID, &n.Key, &n.Title, &n.Active); err != nil {
			return nil, err
		}
		names = append(names, n)
	}
	return names, found.Err()
}

// CountActive counts the active records of a kind; of one that does not retire, all are.
func CountActive(tx *DB, kind string, retires bool) (int64, error) {
	active := "TRUE"
	if retires {
		active = "active"
	}
	return Count(tx, fmt.Sprintf("SELECT COUNT(*) FROM %s WHERE %s", kindTables[kind].table, active))
}

// KeysTaken are the keys of all records of a kind, those beyond the scope too: no other
// may have them.
func KeysTaken(tx *DB, kind string) ([]string, error) {
	keys := []string{}
	err := tx.gorm.Raw(fmt.Sprintf("SELECT %s AS key FROM main.%s ORDER BY 1", kindTables[kind].key,
		kindTables[kind].table)).Scan(&keys).Error
	return keys, err
}

// UsedBy says what refers to a record, or nothing.
func UsedBy(tx *DB, kind string, id int64) (string, error) {
	said := []string{}
	for _, u := range kindTables[kind].uses {
		n, err := Count(tx, u.count, id)
		if err != nil {
			return "", err
		}
		switch {
		case n > counted:
			said = append(said, fmt.Sprintf("more than %d %s", counted, u.words))
		case n > 0:
			said = append(said, fmt.Sprintf("%d %s", n, u.words))
		}
	}
	return strings.Join(said, ", "), nil
}

// FirmStandsOn reports whether the firm stands on a record, so that it never goes.
func FirmStandsOn(tx *DB, kind string, id int64) (bool, error) {
	k := kindTables[kind]
	if k.base == "" {
		return false, nil
	}
	n, err := Count(tx, "SELECT COUNT(*) FROM "+k.table+" WHERE id = ? AND "+k.base, id)
	return n > 0, err
}

// Remove deletes a record of a kind with what goes with it.
func Remove(tx *DB, kind string, record Editable) error {
	for _, tableColumn := range kindTables[kind].clear {
		table, column, _ := strings.Cut(tableColumn, ".")
		if err := tx.gorm.Exec(fmt.Sprintf("DELETE FROM main.%s WHERE %s = ?", table, column), record.Head().ID).Error; err != nil {
			return err
		}
	}
	return tx.gorm.Delete(record).Error
}
