package store

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
)

// Who is limited to issuing entities works on connections of their own. On these every
// table that belongs to entities is hidden by a view of the same name with the rows that
// may be seen, so that no query can be made that sees others; and triggers refuse to
// write what is beyond. Queries that must count everything, such as the number of the
// next act, name the table as main.acts; every statement that writes does.

// A scopeRule says which rows r of a table may be seen and changed by who is limited to
// the issuing entities `mine` and is the person `me`. Tables named in a rule are seen
// through their own rules, unless they are named with main.
type scopeRule struct {
	table   string
	sees    string // nothing: all rows
	changes string // nothing: what is seen
	adds    string // nothing: what is changed
}

const (
	anything  = "TRUE"
	ofAll     = "FALSE" // what all entities share: who is limited does not change it
	byEntity  = "r.entity_id IN mine"
	byWork    = "r.engagement_id IN (SELECT id FROM engagements)"
	byClient  = "r.client_id IN (SELECT id FROM clients)"
	ownClient = "r.client_id IN (SELECT id FROM clients_of_mine)"
	byInvoice = "EXISTS (SELECT 1 FROM invoices x WHERE x.id = r.invoice_id)"
	byPerson  = "r.person_id = me OR r.person_id IN (SELECT id FROM people_of_mine)"
	own       = "r.person_id = me"
	byEntry   = "EXISTS (SELECT 1 FROM time_entries x WHERE x.id = r.entry_id)"
)

// through holds for rows of which the row that they belong to may be seen.
func through(table, column string) string {
	return "EXISTS (SELECT 1 FROM " + table + " x WHERE x.id = r." + column + ")"
}

// clientSeen holds for clients of an entity, and for those who have no work yet.
const clientSeen = `(EXISTS (SELECT 1 FROM main.engagements x WHERE x.client_id = r.id AND x.entity_id IN mine)
	OR EXISTS (SELECT 1 FROM main.proposals x WHERE x.client_id = r.id AND x.entity_id IN mine)
	OR NOT EXISTS (SELECT 1 FROM main.engagements x WHERE x.client_id = r.id) AND NOT EXISTS (SELECT 1 FROM main.proposals x
		WHERE x.client_id = r.id))`

// clientOfMine holds for clients with whom no other entity works.
const clientOfMine = clientSeen + ` AND NOT EXISTS (SELECT 1 FROM main.engagements x WHERE x.client_id = r.id AND x.entity_id NOT IN mine)
	AND NOT EXISTS (SELECT 1 FROM main.proposals x WHERE x.client_id = r.id AND x.entity_id NOT IN mine)`

// personOfMine holds for people who are limited to no more than one's own entities.
const personOfMine = `EXISTS (SELECT 1 FROM main.person_entities x WHERE x.person_id = r.id)
	AND NOT EXISTS (SELECT 1 FROM main.person_entities x WHERE x.person_id = r.id AND x.entity_id NOT IN mine)`

// elsewhere are shares of a purchase r on engagements of other entities.
const elsewhere = `EXISTS (SELECT 1 FROM main.expenses x JOIN main.engagements e ON e.id = x.engagement_id WHERE x.purchase_id = r.id
	AND x.removed = FALSE AND e.entity_id NOT IN mine)`

var scopeRules = []scopeRule{
	{"issuing_entities", "r.id IN mine", "", ""},
	{"series", byEntity, "", ""},
	{"engagements", byEntity, "", ""},
	{"engagement_people", byWork, "", ""},
	{"engagement_templates", byWork, "", ""},
	{"phases", byWork, "", ""},
	{"phase_people", through("phases", "phase_id"), "", ""},
	{"engagement_payers", byWork, "", ""},
	{"budgets", byWork, "", ""},
	{"budget_people", through("budgets", "budget_id"), "", ""},
	{"budget_alerts", through("budgets", "budget_id"), "", ""},

	{"clients", clientSeen, clientOfMine, ""},
	{"contacts", byClient + " AND (r.engagement_id IS NULL OR " + byWork + ")", "r.engagement_id IS NOT NULL AND " + byWork + " OR " +
		ownClient, ""},
	{"client_notes", byClient, ownClient, ""},
	{"client_steps", byClient, ownClient, ""},
	{"client_questionnaires", byClient, ownClient, ""},
	{"payment_methods", byClient, ownClient, ""},
	{"rates", "(r.engagement_id IS NULL OR " + byWork + ") AND (r.client_id IS NULL OR " + byClient + ")",
		"r.engagement_id IS NOT NULL AND " + byWork + " OR r.engagement_id IS NULL AND r.client_id IS NOT NULL AND " + ownClient, ""},
	{"profile_values", "r.scope NOT IN ('client', 'engagement') OR r.scope = 'client' AND r.subject_id IN (SELECT id FROM clients) OR " +
		"r.scope = 'engagement' AND r.subject_id IN (SELECT id FROM engagements)",
		"r.scope = 'client' AND r.subject_id IN (SELECT id FROM clients_of_mine) OR r.scope = 'engagement' AND r.subject_id IN (SELECT " +
			"id FROM engagements)", ""},
	{"own_values", "EXISTS (SELECT 1 FROM own_fields x WHERE x.id = r.field_id AND (x.subject = 'client' AND r.subject_id IN (SELECT id " +
		"FROM clients) OR x.subject = 'engagement' AND r.subject_id IN (SELECT id FROM engagements)))",
		"EXISTS (SELECT 1 FROM own_fields x WHERE x.id = r.field_id AND (x.subject = 'client' AND r.subject_id IN (SELECT id FROM " +
			"clients_of_mine) OR x.subject = 'engagement' AND r.subject_id IN (SELECT id FROM engagements)))", ""},

	{"proposals", byEntity, "", ""},
	{"proposal_drafts", through("proposals", "proposal_id"), "", ""},
	{"proposal_answers", through("proposals", "proposal_id"), "", ""},
	{"proposal_questions", through("proposals", "proposal_id"), "", ""},
	{"proposal_passings", through("proposals", "proposal_id"), "", ""},
	{"deliveries", byEntity, "", ""},
	{"delivered", byInvoice, "", ""},
	{"claims", byInvoice, "", ""},
	{"reminders", byInvoice, "", ""},
	{"reminder_holds", byClient + " AND (r.invoice_id IS NULL OR " + byInvoice + ")", "r.invoice_id IS NOT NULL AND " + byInvoice + " OR " +
		ownClient, ""},
	{"reconciliations", byEntity, "", ""},
	{"bank_orders", byEntity, "", ""},
	{"ordered", byEntity, "", ""},
	{"reimbursements", byEntity, "", ""},
	{"reimbursed", through("reimbursements", "reimbursement_id"), "", ""},
	{"write_offs", byInvoice, "", ""},
	{"late_charges", byInvoice, "", ""},
	{"calls", byClient, ownClient, ""},
	{"online_payments", byEntity, "", ""},
	{"links", "r.purpose = 'proposal' AND r.subject_id IN (SELECT id FROM proposals) OR r.purpose = 'questionnaire' AND r.subject_id IN " +
		"(SELECT id FROM client_questionnaires) OR r.purpose = 'invoice' AND r.subject_id IN (SELECT id FROM invoices) OR " +
		"r.purpose IN ('account', 'reminders') AND r.subject_id IN (SELECT id FROM clients)", "", ""},
	{"mails", "r.proposal_id IN (SELECT id FROM proposals) OR r.delivery_id IN (SELECT id FROM deliveries) OR r.proposal_id IS NULL AND " +
		"r.delivery_id IS NULL AND " + byClient, "", anything},
	{"mail_links", through("mails", "mail_id"), anything, anything},
	{"mail_files", through("mails", "mail_id"), anything, anything},
	{"plan_lines", byWork, "", ""},
	{"charges", byWork, "", ""},

	{"time_entries", byWork, byWork + " OR " + own, ""},
	{"time_months", byWork, anything, anything}, // follows the entries, by whose rule they are changed
	{"client_changes", "", anything, anything},  // numbers alone, counted of what is written
	{"expenses", byWork + " OR r.engagement_id IS NULL AND EXISTS (SELECT 1 FROM main.purchases x JOIN main.people p ON " +
		"p.id = x.person_id " +
		"WHERE x.id = r.purchase_id AND (p.id = me OR p.entity_id IN mine))", "", ""},
	{"purchases", own + " OR NOT " + elsewhere + ` AND (EXISTS (SELECT 1 FROM expenses x WHERE x.purchase_id = r.id
		AND x.engagement_id IS NOT NULL)
		OR EXISTS (SELECT 1 FROM main.people x WHERE x.id = r.person_id AND x.entity_id IN mine))`, "NOT " + elsewhere, anything},
	{"source_files", "r.source = 'time' AND EXISTS (SELECT 1 FROM time_entries x WHERE x.id = r.source_id) OR r.source = 'purchase' AND " +
		"EXISTS (SELECT 1 FROM purchases x WHERE x.id = r.source_id)", "", ""},
	{"timers", byWork, byWork + " OR " + own, ""},
	{"timer_runs", through("timers", "timer_id"), "", ""},
	{"week_sheets", "", own + ` OR NOT EXISTS (SELECT 1 FROM main.time_entries x JOIN main.engagements e ON e.id = x.engagement_id
		WHERE x.person_id = r.person_id AND x.day BETWEEN r.monday AND date(r.monday, '+6 days') AND x.removed = FALSE
			AND e.entity_id NOT IN mine)`, ""},

	{"portions", byWork, "", ""},
	{"work_movements", byWork, "", ""},
	{"decisions", through("portions", "portion_id"), "", ""},
	{"billing_runs", own + ` OR EXISTS (SELECT 1 FROM run_members x WHERE x.run_id = r.id) OR EXISTS (SELECT 1 FROM invoices x
		WHERE x.run_id = r.id)
		OR NOT EXISTS (SELECT 1 FROM main.run_members x WHERE x.run_id = r.id) AND NOT EXISTS (SELECT 1 FROM main.invoices x
			WHERE x.run_id = r.id)`,
		`NOT EXISTS (SELECT 1 FROM main.run_members x JOIN main.engagements e ON e.id = x.engagement_id WHERE x.run_id = r.id
			AND e.entity_id NOT IN mine)
		AND NOT EXISTS (SELECT 1 FROM main.invoices x WHERE x.run_id = r.id AND x.entity_id NOT IN mine)`, ""},
	{"run_members", byWork, "", ""},
	{"invoices", byEntity, "", ""},
	{"invoice_engagements", byInvoice, "", ""},
	{"invoice_lines", byInvoice, "", ""},
	{"invoice_revisions", byInvoice, "", ""},
	{"instalments", byInvoice, "", ""},
	{"invoice_funds", byInvoice, "", ""},
	{"approvals", byInvoice, "", ""},
	{"finding_waivers", byInvoice, "", ""},

	{"money_movements", byEntity, "", ""},
	{"payments", byEntity, "", ""},
	{"client_funds", byEntity, "", ""},
	{"transfers", through("client_funds", "funds_id"), "", ""},
	{"deposit_requests", byEntity, "", ""},
	{"bank_accounts", byEntity, "", ""},
	{"bank_statements", byEntity, "", ""},
	{"bank_entries", byEntity, "", ""},
	{"bank_matches", byEntity, "", ""},
	{"client_accounts", byClient, "", ""},

	{"people", "", "r.id = me OR r.id IN (SELECT id FROM people_of_mine)", byEntity},
	{"person_entities", "", byEntity + " AND r.person_id <> me", ""},
	{"account_links", "", byPerson, ""},
	{"signed_in", "", byPerson, ""},
	{"recovery_codes", "", byPerson, ""},
	{"person_lists", "", byPerson, ""},
	{"known_devices", "", byPerson, ""},
	{"wrong_guesses", ofAll, "", ""},
	{"security_log", ofAll, anything, ""},
	{"proposed_changes", ofAll, anything, ""},
	{"notices", "", own, anything},
	{"imports", own, "", ""},
	{"jobs", own, "", ""},
	{"idempotency", "", own, ""},
	{"changes_together", "", byEntry, ""},

	{"firm", "", ofAll, ""}, {"exchange_rates", "", ofAll, ""}, {"reference_rates", "", ofAll, ""}, {"grades", "", ofAll, ""}, {"services", "", ofAll, ""},
	{"bundles", "", ofAll, ""}, {"line_kinds", "", ofAll, ""}, {"pictures", "", ofAll, ""}, {"enclosures", "", ofAll, ""},
	{"abbreviations", "", ofAll, ""},
	{"rate_cards", "", ofAll, ""}, {"tax_codes", "", ofAll, ""}, {"tax_rates", "", ofAll, ""}, {"offices", "", ofAll, ""},
	{"holidays", "", ofAll, ""},
	{"client_statuses", "", ofAll, ""}, {"step_templates", "", ofAll, ""}, {"own_fields", "", ofAll, ""}, {"proposal_texts", "", ofAll, ""},
	{"letter_texts", "", ofAll, ""},
	{"questionnaires", "", ofAll, ""}, {"expense_categories", "", ofAll, ""}, {"payment_schedules", "", ofAll, ""},
	{"invoice_templates", "", ofAll, ""},
	{"issue_checks", "", ofAll, ""}, {"wordings", "", ofAll, ""}, {"ledger_accounts", "", ofAll, ""},
	{"acts", "", anything, ""}, {"act_subjects", "", anything, ""}, {"files", "", anything, ""},
}

// beyondScope is what a trigger says when it refuses.
const beyondScope = "beyond the scope"

var row = regexp.MustCompile(`\br\.`)

// fill puts the scope into a rule.
func (s AccessScope) fill(rule string) string {
	mine := strings.Join(strings.Fields(strings.Trim(fmt.Sprint(s.Entities), "[]")), ", ")
	return strings.NewReplacer(" mine", " ("+mine+")", " me", fmt.Sprintf(" %d", s.PersonID)).Replace(rule)
}

// ofTable is the rule of a table.
func ofTable(table string) scopeRule {
	return scopeRules[slices.IndexFunc(scopeRules, func(r scopeRule) bool { return r.table == table })]
}

// IsShared reports whether records of a kind belong to all issuing entities.
func IsShared(kind string) bool { return ofTable(kindTables[kind].table).changes == ofAll }

// MayChange reports whether a record of a kind is changed by who is limited as here.
func MayChange(tx *DB, kind string, id int64) (bool, error) {
	return mayChange(tx, kindTables[kind].table, id)
}

// MayChangeRun reports whether a billing run is changed by who is limited as here.
func MayChangeRun(tx *DB, id int64) (bool, error) { return mayChange(tx, "billing_runs", id) }

func mayChange(tx *DB, table string, id int64) (bool, error) {
	if tx.scope.Entities == nil {
		return true, nil
	}
	rule := ofTable(table)
	condition := rule.changes
	if condition == "" {
		condition = rule.sees
	}
	n, err := Count(tx, "SELECT COUNT(*) FROM main."+rule.table+" r WHERE r.id = ? AND ("+tx.scope.fill(condition)+")", id)
	return n > 0, err
}

// limits are the statements that limit a connection to a scope.
func limits(scope AccessScope) string {
	words := new(strings.Builder)
	view := func(name, table, condition string) {
		fmt.Fprintf(words, "CREATE TEMP VIEW %s AS SELECT r.* FROM main.%s r WHERE %s;\n", name, table, scope.fill(condition))
	}
	view("clients_of_mine", "clients", clientOfMine)
	view("people_of_mine", "people", personOfMine)
	for _, rule := range scopeRules {
		if rule.sees != "" {
			view(rule.table, rule.table, rule.sees)
		}
		changes, adds := rule.changes, rule.adds
		if changes == "" {
			changes = rule.sees
		}
		if adds == "" {
			adds = changes
		}
		for _, guard := range []struct{ act, version, condition string }{
			{"INSERT", "NEW.", adds}, {"UPDATE", "OLD.", changes}, {"UPDATE", "NEW.", changes}, {"DELETE", "OLD.", changes},
		} {
			if guard.condition != anything {
				fmt.Fprintf(words, "CREATE TEMP TRIGGER %s_%s_%s BEFORE %s ON main.%s WHEN NOT (%s) BEGIN SELECT "+
					"RAISE(ABORT, '%s'); END;\n",
					rule.table,
					guard.act, guard.version[:3], guard.act, rule.table, row.ReplaceAllString(scope.fill(guard.condition), guard.version),
					beyondScope)
			}
		}
	}
	return words.String()
}
