package store

import (
	"errors"
	"slices"
	"strings"
	"testing"
)

// notOfEntities are tables that no act of a person reaches: of the program itself.
var notOfEntities = []string{"goose_db_version", "sessions", "sqlite_sequence", "sqlite_stat1", "sqlite_stat4"}

// A table that is added is in no scope until somebody says whose it is.
func TestEveryTableHasItsScope(t *testing.T) {
	s, err := Open(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	tables := []string{}
	if err := s.reader.Raw("SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY name").Scan(&tables).Error; err != nil ||
		len(tables) < 60 {
		t.Fatal(tables, err)
	}
	for _, table := range tables {
		ruled := slices.ContainsFunc(scopeRules, func(r scopeRule) bool { return r.table == table })
		if ruled == slices.Contains(notOfEntities, table) {
			t.Errorf("%s has no rule of who sees and changes it", table)
		}
	}
	for _, rule := range scopeRules {
		if !slices.Contains(tables, rule.table) {
			t.Errorf("there is a rule for %s, and no such table", rule.table)
		}
	}
}

// two makes two issuing entities with an engagement and a draft each, and gives the data
// as somebody limited to the first sees it.
func two(t *testing.T) (*Store, AccessScope) {
	t.Helper()
	s, err := Open(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	err = s.Write(t.Context(), Everything, func(tx *DB) error {
		for _, one := range []string{
			`INSERT INTO issuing_entities (id, name, legal_name, address, tax_number, mail, bank_name, iban, bic)
				VALUES (1, 'Ours', '', '', '',
				'',
				'', '', ''), (2, 'Theirs', '', '', '', '', '', '', '')`,
			`INSERT INTO series (id, entity_id, kind, prefix, first_number, next_number) VALUES (1, 1, 'invoice', 'A', 1, 1), (2, 2,
				'invoice',
				'B',
				1, 1)`,
			`INSERT INTO people (id, name, initials, mail, password_hash, role, entity_id, weekly_minutes, active)
				VALUES (1, 'Ada', 'AA', 'a', '',
				'administrator', 1, 0, TRUE), (2, 'Bo', 'BB', 'b', '', 'administrator', 1, 0, TRUE), (3, 'Cy', 'CC', 'c', '', 'lead', 1, 0,
					TRUE)`,
			`INSERT INTO person_entities (person_id, entity_id) VALUES (2, 1), (3, 1)`,
			`INSERT INTO services (id, code, name, active) VALUES (1, 'W', 'Work', TRUE)`,
			`INSERT INTO clients (id, code, name, invoice_name, address, tax_number, mail, currency, active) VALUES (1, 'A', 'Of ours', '',
				'',
				'',
				'', 'EUR', TRUE), (2, 'B', 'Of theirs', '', '', '', '', 'EUR', TRUE), (3, 'C', 'Of both', '', '', '', '', 'EUR', TRUE), (4,
					'D',
					'Of none', '', '', '', '', 'EUR', TRUE)`,
			`INSERT INTO engagements (id, client_id, entity_id, code, name, reference, arrangement, lead_id, currency, billable, opened_day,
				active)
				VALUES (1, 1, 1, '1', 'x', '', 'hourly', 1, 'EUR', TRUE, '', TRUE), (2, 2, 2, '2', 'x', '', 'hourly', 1, 'EUR', TRUE, '',
					TRUE),
					(3, 3,
					1, '3', 'x', '', 'hourly', 1, 'EUR', TRUE, '', TRUE), (4, 3, 2, '4', 'x', '', 'hourly', 1, 'EUR', TRUE, '', TRUE)`,
			`INSERT INTO time_entries (id, person_id, engagement_id, service_id, day, worked_minutes, not_billable_minutes, markup,
				treatment,
				text,
				note, billed_minutes, standard, agreed, currency, valued)
				SELECT id, 1, id, 1, '2026-12-01', 60, 0, 0, 'billable', '', '', 60, 1, 1, 'EUR', '{}' FROM engagements`,
			`INSERT INTO billing_runs (id, name, from_day, up_to_day, charges_up_to, dated, terms, text, person_id, made_at)
				VALUES (1, 'both', '', '', '', '', '', '', 1, '2026-12-01'), (2, 'theirs', '', '', '', '', '', '', 1, '2026-12-01'), (3,
					'ours', '',
					'', '', '', '', '', 1, '2026-12-01')`,
			`INSERT INTO run_members (run_id, engagement_id, time, expenses, charges) VALUES (1, 1, TRUE, TRUE, TRUE), (1, 2, TRUE, TRUE,
				TRUE),
				(2,
				2, TRUE, TRUE, TRUE), (3, 1, TRUE, TRUE, TRUE)`,
		} {
			if err := tx.gorm.Exec(one).Error; err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
	return s, AccessScope{PersonID: 2, Entities: []int64{1}}
}

func TestAScopeShowsItsOwnRowsWhateverTheQuery(t *testing.T) {
	s, scope := two(t)
	for query, want := range map[string]string{
		"SELECT id FROM issuing_entities": "1", "SELECT id FROM series": "1", "SELECT id FROM engagements": "1 3",
		"SELECT id FROM clients":      "1 3 4",
		"SELECT id FROM time_entries": "1 3", "SELECT t.id FROM clients c LEFT JOIN engagements e ON e.client_id = c.id LEFT JOIN " +
			"time_entries t ON t.engagement_id = e.id WHERE c.id = 3": "3",
		"SELECT id FROM billing_runs": "1 3", "SELECT engagement_id AS id FROM run_members WHERE run_id = 1": "1",
		"SELECT id FROM people": "1 2 3", "SELECT MAX(id) FROM engagements": "3", "SELECT MAX(id) FROM main.engagements": "4",
	} {
		got := []string{}
		if err := s.Read(t.Context(), scope).gorm.Raw(query).Scan(&got).Error; err != nil || strings.Join(got, " ") != want {
			t.Errorf("%s: %v, %v, want %s", query, got, err, want)
		}
		whole := []string{}
		if err := s.Read(t.Context(), Everything).gorm.Raw(query).Scan(&whole).Error; err != nil || len(whole) < len(got) {
			t.Errorf("%s, of everything: %v, %v", query, whole, err)
		}
	}
	if _, err := Get[Engagement](s.Read(t.Context(), scope), 2); !errors.Is(err, ErrNotFound) {
		t.Errorf("an engagement of another entity: %v", err)
	}
}

func TestAScopeChangesItsOwnRowsAndNothingElse(t *testing.T) {
	s, scope := two(t)
	for statement, allowed := range map[string]bool{
		"UPDATE main.engagements SET name = 'y' WHERE id = 1": true, "UPDATE main.engagements SET name = 'y' WHERE id = 2": false,
		"UPDATE main.engagements SET entity_id = 2 WHERE id = 1": false, "DELETE FROM main.time_entries WHERE id = 2": false,
		"DELETE FROM main.time_entries WHERE id = 1":               true,
		"UPDATE main.issuing_entities SET iban = 'y' WHERE id = 1": true, "UPDATE main.issuing_entities SET iban = 'y' WHERE id = 2": false,
		"UPDATE main.clients SET name = 'y' WHERE id = 1": true, "UPDATE main.clients SET name = 'y' WHERE id = 3": false,
		"UPDATE main.clients SET name = 'y' WHERE id = 4":                        true,
		"UPDATE main.services SET name = 'y'":                                    false,
		"INSERT INTO main.services (code, name, active) VALUES ('y', 'y', TRUE)": false,
		"DELETE FROM main.person_entities WHERE person_id = 2":                   false,
		"DELETE FROM main.person_entities WHERE person_id = 3":                   true,
		"INSERT INTO main.person_entities VALUES (3, 2)":                         false,
		"UPDATE main.people SET password_hash = 'y' WHERE id = 1":                false, "UPDATE main.people SET password_hash = 'y' WHERE id = 2": true,
		"UPDATE main.people SET password_hash = 'y' WHERE id = 3":                                true,
		"INSERT INTO main.account_links VALUES ('d', 1, '', '', NULL)":                           false,
		"INSERT INTO main.account_links VALUES ('d', 3, '', '', NULL)":                           true,
		"UPDATE main.billing_runs SET deleted = TRUE WHERE id = 1":                               false,
		"UPDATE main.billing_runs SET deleted = TRUE WHERE id = 2":                               false,
		"UPDATE main.billing_runs SET deleted = TRUE WHERE id = 3":                               true,
		"INSERT INTO main.run_members VALUES (3, 2, TRUE, TRUE, TRUE)":                           false,
		"INSERT INTO main.rates (kind, level, currency, from_day) VALUES ('bill', 1, 'EUR', '')": false,
	} {
		undo := errors.New("taken back")
		err := s.Write(t.Context(), scope, func(tx *DB) error {
			if err := tx.gorm.Exec(statement).Error; err != nil {
				return err
			}
			return undo
		})
		if allowed && !errors.Is(err, undo) || !allowed && !errors.Is(err, ErrBeyondScope) {
			t.Errorf("%s: %v", statement, err)
		}
	}
}

// What is written goes into the table, with its version, also where a view hides it.
func TestRecordsAreKeptInAScope(t *testing.T) {
	s, scope := two(t)
	err := s.Write(t.Context(), scope, func(tx *DB) error {
		e, err := Get[Engagement](tx, 1)
		if err != nil {
			return err
		}
		e.Name = "changed"
		made := &Engagement{ClientID: 1, EntityID: 1, Code: "9", Name: "new", Arrangement: "hourly", LeadID: 1, Currency: "EUR",
			Stage: "running"}
		return errors.Join(Save(tx, e), Insert(tx, made), tx.gorm.Delete(&Engagement{Row: Row{ID: 3}}, "name = 'none'").Error)
	})
	if err != nil {
		t.Fatal(err)
	}
	e, err := Get[Engagement](s.Read(t.Context(), Everything), 1)
	made, problem := Get[Engagement](s.Read(t.Context(), scope), 5)
	if err != nil || e.Name != "changed" || e.Version != 1 || problem != nil || made.Name != "new" {
		t.Errorf("%+v, %v, %+v, %v", e, err, made, problem)
	}
}

// Two scopes write one after the other, never into each other.
func TestScopesTakeTurns(t *testing.T) {
	s, scope := two(t)
	begun, done := make(chan struct{}), make(chan error)
	go func() {
		done <- s.Write(t.Context(), scope, func(tx *DB) error {
			close(begun)
			return tx.gorm.Exec("UPDATE main.engagements SET name = name || '1' WHERE id = 1").Error
		})
	}()
	<-begun
	err := s.Write(t.Context(), Everything, func(tx *DB) error {
		return tx.gorm.Exec("UPDATE main.engagements SET name = name || '2' WHERE id = 1").Error
	})
	if err := errors.Join(err, <-done); err != nil {
		t.Fatal(err)
	}
	if e, err := Get[Engagement](s.Read(t.Context(), Everything), 1); err != nil || e.Name != "x12" {
		t.Errorf("%+v, %v", e, err)
	}
}

// Where the connections of a scope can't be made, nothing is seen: never everything.
func TestAScopeThatCantBeOpenedShowsNothing(t *testing.T) {
	s, scope := two(t)
	folder := s.folder
	s.folder = "/nowhere"
	defer func() { s.folder = folder }()
	tx := s.Read(t.Context(), scope)
	if n, err := Count(tx, "SELECT COUNT(*) FROM engagements"); err == nil || n != 0 {
		t.Errorf("%d, %v", n, err)
	}
	if all, err := All[Engagement](tx, "id"); err == nil || len(all) != 0 {
		t.Errorf("%d, %v", len(all), err)
	}
	if rows, err := tx.gorm.Raw("SELECT id FROM engagements").Rows(); err == nil {
		rows.Close()
		t.Error("rows are read")
	}
	if e, err := Get[Engagement](tx, 2); err == nil || e.ID != 0 {
		t.Errorf("%+v, %v", e, err)
	}
	if err := s.Write(t.Context(), scope, func(*DB) error { return nil }); err == nil {
		t.Error("it is written")
	}
}
