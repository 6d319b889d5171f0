package store

import (
	"errors"
	"fmt"

	"gorm.io/gorm"
)

// Count runs a query that counts; the query is the program's own.
func Count(tx *DB, query string, values ...any) (n int64, err error) {
	err = tx.gorm.Raw(query, values...).Scan(&n).Error
	return n, err
}

// IsDuplicate reports whether a row was refused because another has the same
// name, code or number.
func IsDuplicate(err error) bool { return errors.Is(err, gorm.ErrDuplicatedKey) }

// PeopleLink is a table that links people to something else.
type PeopleLink struct{ table, column string }

// The links to people.
var (
	EngagementPeople = PeopleLink{"engagement_people", "engagement_id"}
	PhasePeople      = PeopleLink{"phase_people", "phase_id"}
	BudgetPeople     = PeopleLink{"budget_people", "budget_id"}
)

// Linked reads the initials of the people that are linked to something.
func Linked(tx *DB, l PeopleLink, id int64) ([]string, error) {
	initials := []string{}
	err := tx.gorm.Raw(fmt.Sprintf("SELECT p.initials FROM %s l JOIN people p ON p.id = l.person_id WHERE l.%s = ? ORDER BY p.initials",
		l.table, l.column), id).Scan(&initials).Error
	return initials, err
}

// LinkPeople replaces the people that are linked to something.
func LinkPeople(tx *DB, l PeopleLink, id int64, people []int64) error {
	if err := tx.gorm.Exec(fmt.Sprintf("DELETE FROM main.%s WHERE %s = ?", l.table, l.column), id).Error; err != nil {
		return err
	}
	for _, person := range people {
		if err := tx.gorm.Exec(fmt.Sprintf("INSERT INTO main.%s (%s, person_id) VALUES (?, ?)", l.table, l.column), id,
			person).Error; err != nil {
			return err
		}
	}
	return nil
}

// UnlimitedAdministrators counts the active administrators of all issuing entities.
func UnlimitedAdministrators(tx *DB) (int64, error) {
	return Count(tx, "SELECT COUNT(*) FROM people p WHERE active AND role = 'administrator' AND NOT EXISTS (SELECT 1 FROM person_entities "+
		"e WHERE e.person_id = p.id)")
}

// Administrators are the active people who may set everything up.
func Administrators(tx *DB) ([]int64, error) {
	ids := []int64{}
	err := tx.gorm.Raw("SELECT id FROM people WHERE active AND role = 'administrator' ORDER BY id").Scan(&ids).Error
	return ids, err
}
