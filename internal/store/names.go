package store

import (
	"errors"
	"fmt"
	"strings"

	"gorm.io/gorm"
)

// Name is how a record is named by others: a key that is unique among its kind,
// and a title.
type Name struct {
	ID         int64
	Key, Title string
	Active     bool
}

// Names reads the names of all records of a table; key, title and active are
// SQL expressions of the program's own.
func Names(tx *gorm.DB, table, key, title, active string) ([]Name, error) {
	names := []Name{}
	err := tx.Raw(fmt.Sprintf("SELECT id, %s AS key, %s AS title, %s AS active FROM %s", key, title, active, table)).Scan(&names).Error
	return names, err
}

// Count runs a query that counts; the query is the program's own.
func Count(tx *gorm.DB, query string, values ...any) (n int64, err error) {
	err = tx.Raw(query, values...).Scan(&n).Error
	return n, err
}

// DeleteWhere deletes the rows of a table whose column, written "table.column",
// has a value.
func DeleteWhere(tx *gorm.DB, tableColumn string, value any) error {
	table, column, _ := strings.Cut(tableColumn, ".")
	return tx.Exec(fmt.Sprintf("DELETE FROM %s WHERE %s = ?", table, column), value).Error
}

// IsDuplicate reports whether a row was refused because another has the same
// name, code or number.
func IsDuplicate(err error) bool { return errors.Is(err, gorm.ErrDuplicatedKey) }

// Linked reads the initials of the people that a table links to something.
func Linked(tx *gorm.DB, table, column string, id int64) ([]string, error) {
	initials := []string{}
	err := tx.Raw(fmt.Sprintf("SELECT p.initials FROM %s l JOIN people p ON p.id = l.person_id WHERE l.%s = ? ORDER BY p.initials", table, column), id).Scan(&initials).Error
	return initials, err
}

// LinkPeople replaces the people that a table links to something.
func LinkPeople(tx *gorm.DB, table, column string, id int64, people []int64) error {
	if err := tx.Exec(fmt.Sprintf("DELETE FROM %s WHERE %s = ?", table, column), id).Error; err != nil {
		return err
	}
	for _, person := range people {
		if err := tx.Exec(fmt.Sprintf("INSERT INTO %s (%s, person_id) VALUES (?, ?)", table, column), id, person).Error; err != nil {
			return err
		}
	}
	return nil
}

// Administrators are the active people who may set everything up.
func Administrators(tx *gorm.DB) ([]int64, error) {
	ids := []int64{}
	err := tx.Raw("SELECT id FROM people WHERE active AND role = 'administrator' ORDER BY id").Scan(&ids).Error
	return ids, err
}
