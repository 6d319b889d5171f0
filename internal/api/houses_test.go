package api

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"maps"
	"net/http"
	"net/http/httptest"
	"slices"
	"strings"
	"testing"
	"testing/fstest"

	"dorvet/internal/app"
	"dorvet/internal/app/pricing"
	"dorvet/internal/app/registry"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// theirs is in every name and text of the other issuing entity.
const theirs = "Zanzibar"

// shared are the tables whose rows belong to all issuing entities.
var shared = []string{"firm", "exchange_rates", "grades", "services", "bundles", "rate_cards", "tax_codes", "tax_rates", "offices",
	"holidays", "client_statuses", "step_templates", "own_fields", "proposal_texts",
	"questionnaires", "expense_categories", "payment_schedules", "invoice_templates", "issue_checks", "wordings", "ledger_accounts",
	"people",
	"person_entities"}

// passing are the tables that every act writes to, whoever does it.
var passing = []string{"acts", "act_subjects", "idempotency", "sessions", "signed_in", "notices", "files", "jobs", "sqlite_sequence",
	"goose_db_version", "mails", "client_changes"}

// houses is a firm of two issuing entities and those who are limited to the first.
type houses struct {
	app     *app.App
	server  *httptest.Server
	numbers []string            // that something of the other entity has
	rows    map[string][2]int64 // of the other entity, from and up to, by table
}

// build makes the other entity with one of everything, and people limited to the first.
func build(t *testing.T) *houses {
	t.Helper()
	h := &houses{app: apptest.Firm(t), rows: map[string][2]int64{}}
	handler, err := New(h.app, Options{Version: "test", Pages: fstest.MapFS{"index.html": {Data: []byte("the pages")}}})
	if err != nil {
		t.Fatal(err)
	}
	h.server = httptest.NewServer(handler)
	t.Cleanup(h.server.Close)
	for _, role := range []app.Role{app.Administrator, app.Lead, app.Owner, app.Staff} {
		apptest.Add(t, h.app, "people", "name", "Limited "+string(role), "mail", "limited-"+string(role)+"@firm.example", "role",
			string(role),
			"limited_to", "Firm")
	}
	apptest.Set(t, h.app, "engagements", apptest.Survey, "lead", "LL2")
	apptest.GivePasswords(t, h.app)
	apptest.Add(t, h.app, "questionnaires", "name", "Begin", "questions", "Your address")
	ours := h.last(t)
	h.fill(t, as(t, h.server, accounts[app.Administrator]))
	seen := map[string]bool{}
	for table, last := range h.last(t) {
		if last > ours[table] && !slices.Contains(passing, table) {
			h.rows[table] = [2]int64{ours[table] + 1, last}
			for n := ours[table] + 1; n <= last; n++ {
				seen[fmt.Sprint(n)] = true
			}
			h.write(t, "UPDATE "+table+" SET version = 0 WHERE rowid > ?", ours[table])
		}
	}
	h.numbers = slices.Sorted(maps.Keys(seen))
	return h
}

// write changes rows by hand; a table without the column is left as it is.
func (h *houses) write(t *testing.T, statement string, values ...any) {
	t.Helper()
	err := h.app.Store.Write(t.Context(), store.Everything, func(tx *store.DB) error { return tx.SQL(t).Exec(statement, values...).Error })
	if err != nil && !strings.Contains(err.Error(), "no such column") {
		t.Fatal(statement, err)
	}
}

func (h *houses) scan(t *testing.T, into any, query string, values ...any) {
	t.Helper()
	if err := h.app.Store.Read(t.Context(), store.Everything).SQL(t).Raw(query, values...).Scan(into).Error; err != nil {
		t.Fatal(query, err)
	}
}

func (h *houses) tables(t *testing.T) (names []string) {
	h.scan(t, &names, "SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_stat%'")
	return names
}

// last is the last row of every table.
func (h *houses) last(t *testing.T) map[string]int64 {
	last := map[string]int64{}
	for _, table := range h.tables(t) {
		row := int64(0)
		h.scan(t, &row, "SELECT COALESCE(MAX(rowid), 0) FROM "+table)
		last[table] = row
	}
	return last
}

// digests are what stands in the other entity's rows and in those that are shared.
func (h *houses) digests(t *testing.T) map[string]string {
	found := map[string]string{}
	for _, table := range h.tables(t) {
		rows, columns := []string{}, []string{}
		h.scan(t, &columns, "SELECT name FROM pragma_table_info(?)", table)
		query := "SELECT json_array(\"" + strings.Join(columns, "\", \"") + "\") FROM " + table
		if table == "people" { // whoever is not limited; those who are can be changed by each other
			query += " WHERE id NOT IN (SELECT person_id FROM person_entities)"
		}
		if slices.Contains(shared, table) {
			h.scan(t, &rows, query)
		} else if span, is := h.rows[table]; is {
			h.scan(t, &rows, query+" WHERE rowid BETWEEN ? AND ?", span[0], span[1])
		}
		sum := sha256.Sum256([]byte(strings.Join(rows, "\n")))
		found[table] = hex.EncodeToString(sum[:8])
	}
	return found
}

// fill makes the other entity, with one of everything that an entity has.
func (h *houses) fill(t *testing.T, c *client) {
	entity := apptest.Add(t, h.app, "entities", "name", theirs, "legal_name", theirs, "iban", "DE02120300000000202051",
		"address", theirs, "tax_number", theirs)
	apptest.Add(t, h.app, "series", "entity", theirs, "kind", "invoice", "prefix", theirs)
	apptest.Add(t, h.app, "series", "entity", theirs, "kind", "credit_note", "prefix", "C"+theirs)
	client := h.work(t, c, theirs, theirs, entity)
	h.propose(t, client, entity)
	if status, answer := c.do("POST", "/api/people/1/weeks/2026-11-30/submitted", "", nil); status != http.StatusOK {
		t.Fatal(status, answer)
	}
}

// work is a month of an entity, by an administrator: a client with work, recorded, billed,
// paid and held for. It gives the client.
func (h *houses) work(t *testing.T, c *client, word, entityName string, entity int64) int64 {
	t.Helper()
	post := func(path, body string) map[string]any {
		t.Helper()
		status, answer := c.do("POST", path, body, nil)
		if status != http.StatusOK {
			t.Fatalf("%s: %d %s", path, status, answer)
		}
		read := map[string]any{}
		_ = json.Unmarshal([]byte(answer), &read) // some answer a list, or nothing
		return read
	}
	add := func(kind string, values ...string) int64 {
		t.Helper()
		typed := map[string]string{}
		for pair := range slices.Chunk(values, 2) {
			typed[pair[0]] = pair[1]
		}
		body, _ := json.Marshal(typed)
		return int64(post("/api/records/"+kind, string(body))["id"].(float64))
	}
	code := strings.ToUpper(word[:3])
	client := add("clients", "name", word+" Cedar", "code", code, "mail", "cedar@client.example")
	add("contacts", "client", code, "name", word+" Contact", "mail", "contact@client.example")
	add("client-notes", "client", code, "text", word+" note")
	work := add("engagements", "client", code, "name", word+" Quay", "entity", entityName, "lead", "AA", "opened", "2026-01-01")
	fixed := add("engagements", "client", code, "name", word+" Fee", "entity", entityName, "lead", "AA", "opened", "2026-01-01",
		"arrangement", "fixed", "fee", "1000")
	add("phases", "engagement", fmt.Sprint(work), "name", word+" phase")
	add("budgets", "engagement", fmt.Sprint(work), "measure", "hours", "hours", "10")
	add("rates", "engagement", fmt.Sprint(work), "per_hour", "77", "from", "2026-01-01")
	entry := fmt.Sprintf(`{"personId":1,"engagementId":%d,"serviceId":1,"day":"2026-11-30","worked":"2","notBillable":"","treatment":"billable","text":"%s work","note":""}`, work, word)
	for range 4 {
		post("/api/time-entries", entry)
	}
	post("/api/timers", fmt.Sprintf(`{"engagementId":%d,"serviceId":1,"treatment":"billable","text":"%s timer"}`, work, word))
	post("/api/purchases", fmt.Sprintf(`{"personId":1,"categoryId":1,"day":"2026-11-30","supplier":"%s","text":"%[1]s purchase","amount":"30","paidBy":"firm","shares":[{"amount":"30","engagementId":%d,"treatment":"billable"}]}`, word, work))
	one := post("/api/invoices", fmt.Sprintf(`{"clientId":%d,"engagementId":%d,"proposalId":0,"likeId":0,"templateId":0,"take":"all","personId":0}`, client, work))
	post(fmt.Sprintf("/api/invoices/%v/issue?version=%v", one["id"], one["version"]), "")
	post("/api/time-entries", entry)
	post("/api/drafts", fmt.Sprintf(`{"name":"%s run","upTo":"2026-11-30","dated":"2026-12-01","engagementIds":[%d,%d]}`, word, work,
		fixed))
	post("/api/time-entries", entry)
	post("/api/payments", fmt.Sprintf(`{"clientId":%d,"entityId":%d,"currency":"","day":"2026-12-01","amount":"900","method":"cash","reference":"%s","note":"","on":[]}`, client, entity, word))
	post("/api/funds", fmt.Sprintf(`{"clientId":%d,"engagementId":0,"entityId":%d,"requestId":0,"currency":"","day":"2026-12-01","amount":"50","method":"cash","reference":"%s"}`, client, entity, word))
	post("/api/deposits", fmt.Sprintf(`{"clientId":%d,"engagementId":0,"entityId":%d,"chargeId":0,"currency":"","amount":"10","text":"%s deposit"}`, client, entity, word))
	post("/api/opening-balances", fmt.Sprintf(`{"clientId":%d,"entityId":%d,"number":"%s-old","dated":"2026-10-01","balance":"5","currency":""}`, client, entity, word))
	post("/api/questionnaires/sendings", fmt.Sprintf(`{"clientId":%d,"questionnaireId":1,"name":"%s Sig","mail":"sig@client.example"}`,
		client, word))
	return client
}

// propose sends a proposal of an entity to a client.
func (h *houses) propose(t *testing.T, client, entity int64) {
	t.Helper()
	must := func(err error) {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
	}
	made, err := pricing.Begin(t.Context(), h.app, apptest.Admin, pricing.Begun{ClientID: client, Name: theirs + " proposal"})
	must(err)
	h.write(t, "UPDATE proposals SET entity_id = ? WHERE id = ?", entity, made.ID)
	p, err := pricing.One(t.Context(), h.app, apptest.Admin.Actor, made.ID)
	must(err)
	typed := p.Grid.Typed
	typed.Lines = []pricing.TypedLine{{Description: theirs + " opinion", Kind: "fixed", Price: "900", When: "on acceptance", TaxCode: "S",
		Cells: []string{"x"}}}
	p, err = pricing.Save(t.Context(), h.app, apptest.Admin, pricing.Saving{ID: p.ID, Version: p.Version, Typed: typed})
	must(err)
	_, err = pricing.Send(t.Context(), h.app, apptest.Admin, p.ID,
		pricing.Sending{Version: p.Version, Name: theirs, Mail: "sig@client.example", Word: theirs, Mailed: true})
	must(err)
}

// fieldsOf are fields of a kind that somebody would reach for; others: the name.
var fieldsOf = map[string][]string{"people": {"limited_to", "role", "mail", "active"}, "entities": {"iban", "name"},
	"clients": {"name", "address"}, "engagements": {"name", "lead", "entity", "fee"}, "contacts": {"mail", "name"}, "rates": {"per_hour"},
	"series": {"prefix"}, "budgets": {"hours"}, "client-notes": {"text"}, "tax-codes": {"name", "account"}, "tax-rates": {"percent"},
	"firm": {"name", "closing_day"}}

// attack asks for every operation that a role has on every number of the other entity,
// and for records of every kind, and gives how often it asked.
func (h *houses) attack(t *testing.T, c *client, role app.Role, look func(name, number string, status int, answer string)) (tried int) {
	ask := func(name, number string, op operationAt) {
		tried++
		status, answer := c.askOf(op, number)
		look(name, number, status, answer)
	}
	ops := operations(t)
	for _, name := range slices.Sorted(maps.Keys(allowed)) {
		if name == "signOut" || name == "endSession" || name == "changePassword" || !slices.Contains(allowed[name], role) {
			continue
		}
		numbers := h.numbers
		if !ops[name].numbered {
			numbers = numbers[:1]
		}
		for _, number := range numbers {
			ask(name, number, ops[name].operationAt)
		}
	}
	for _, kind := range registry.KindNames() {
		if !slices.Contains(ofKind[kind].read, role) {
			continue
		}
		fields := fieldsOf[kind]
		if fields == nil {
			fields = []string{"name"}
		}
		at := "/api/records/" + kind
		for _, number := range h.numbers {
			ask("a record of "+kind, number, operationAt{"GET", at + "/999"})
			ask("history of "+kind, number, operationAt{"GET", at + "/999/history"})
			if !slices.Contains(ofKind[kind].change, role) {
				continue
			}
			ask("removal of "+kind, number, operationAt{"DELETE", at + "/999"})
			for _, field := range fields {
				tried++
				status, answer := c.do("PUT", at, fmt.Sprintf(`{"records":[{"id":%s,"version":0}],"field":"%s","value":"1"}`, number,
					field), nil)
				look(field+" of "+kind, number, status, answer)
			}
		}
		for _, path := range []string{"", "/options", "/export?form=csv"} {
			ask("list of "+kind, "1", operationAt{"GET", at + path})
		}
	}
	for _, path := range []string{"/find?text=" + theirs, "/find?text=Cedar", "/work?expenses=true", "/work", "/weeks/2026-11-30",
		"/people/1/weeks/2026-11-30", "/receivables", "/clients", "/wip?upTo=2026-12-31", "/board", "/set-up"} {
		ask("a look at "+path, "1", operationAt{"GET", "/api" + path})
	}
	h.app.Jobs.Wait()
	return tried
}

// A limit is no hindrance within it: a whole month of one's own entity is recorded, billed
// and paid, taken back and deleted.
func TestWhoIsLimitedWorksInTheirOwnEntity(t *testing.T) {
	h := build(t)
	c := as(t, h.server, "limited-administrator@firm.example")
	before := h.digests(t)
	h.work(t, c, "Ours", "Firm", 1)
	invoices := read[struct {
		Invoices []struct {
			ID, Version int64
			Number      string
		}
	}](c, "GET", "/api/invoices", "").Invoices
	if len(invoices) != 2 {
		t.Fatalf("%+v", invoices)
	}
	runs := read[[]struct{ ID, Version int64 }](c, "GET", "/api/runs", "")
	if len(runs) != 1 {
		t.Fatalf("%+v", runs)
	}
	payments := read[[]struct{ ID int64 }](c, "GET", "/api/payments", "")
	if len(payments) != 2 {
		t.Fatalf("%+v", payments)
	}
	for _, act := range []operationAt{{"DELETE", fmt.Sprintf("/api/runs/%d?version=%d", runs[0].ID, runs[0].Version)},
		{"POST", fmt.Sprintf("/api/payments/%d/reversal", payments[1].ID)}, {"GET", "/api/receivables"},
		{"GET", "/api/wip?upTo=2026-12-31"},
		{"GET", "/api/rail"}, {"GET", "/api/journal?from=2026-01-01&to=2026-12-31"}} {
		body := ""
		if strings.Contains(act.path, "reversal") {
			body = `{"reason":"bounced"}`
		}
		if status, answer := c.do(act.method, act.path, body, nil); status != http.StatusOK {
			t.Errorf("%s: %d %s", act.path, status, answer)
		}
	}
	for table, digest := range h.digests(t) {
		if before[table] != digest {
			t.Errorf("%s of the other entity has changed", table)
		}
	}
	apptest.Whole(t, h.app)
}

// Whoever is limited to an issuing entity meets nothing of another, under any operation
// and any number, reading or writing, and changes nothing that all share: every
// operation × role × number of the other's × kind of record. The list of operations is
// the contract's own.
func TestWhoIsLimitedReachesNothingOfAnotherEntity(t *testing.T) {
	h := build(t)
	if len(h.rows) < 30 || len(h.numbers) < 6 {
		t.Fatalf("the other entity has rows in %d tables, under %v", len(h.rows), h.numbers)
	}
	before := h.digests(t)
	for _, role := range []app.Role{app.Administrator, app.Lead, app.Owner, app.Staff} {
		c := as(t, h.server, "limited-"+string(role)+"@firm.example")
		tried := h.attack(t, c, role, func(name, number string, status int, answer string) {
			if status >= 500 || strings.Contains(answer, theirs) {
				t.Errorf("%s of %s by a limited %s: %d %.600s", name, number, role, status, answer)
			}
		})
		if tried < 300 {
			t.Errorf("a limited %s tried %d things", role, tried)
		}
		after := h.digests(t)
		for table, digest := range before {
			if after[table] != digest {
				t.Errorf("a limited %s changed %s", role, table)
			}
		}
		before = after
	}
	apptest.Whole(t, h.app)
}

// Who leads sees what is billed of their own engagements alone, and who records their own
// time alone: that others' engagements are there is known where time can be recorded.
func TestWhoLeadsOrRecordsReachesNothingOfOthers(t *testing.T) {
	h := build(t)
	before := h.digests(t)
	for role, mail := range map[app.Role]string{app.Lead: "lea@firm.example", app.Staff: "sam@firm.example"} {
		c := as(t, h.server, mail)
		h.attack(t, c, role, func(name, number string, status int, answer string) {
			known := slices.Contains([]string{"listChoices", "findEngagements", "findClients", "startTimer", "listTimers", "changeTimer", "pauseTimer", "resumeTimer",
				"valueEntry",
				"recordEntry", "stopTimer"}, name)
			if status >= 500 || strings.Contains(answer, theirs) && !known {
				t.Errorf("%s of %s by a %s: %d %.600s", name, number, role, status, answer)
			}
		})
		after := h.digests(t)
		for table, digest := range before {
			if after[table] != digest {
				t.Errorf("a %s changed %s", role, table)
			}
		}
		before = after
	}
}
