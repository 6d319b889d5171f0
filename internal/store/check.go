package store

import (
	"encoding/json"
	"fmt"
	"runtime"
	"slices"
	"strings"
	"sync"

	"dorvet/core/invoice"

	"golang.org/x/sync/errgroup"
)

// Check proves the conservation rules on the whole database and the digests of
// all files. Each breach is a line; none is what there should be.
func (s *Store) Check(tx *DB) (breaches []string, err error) {
	return s.CheckTold(tx, func(int, int, string) {})
}

// part is one thing of all that is checked.
type part struct {
	what string
	look func() (breaches []string, err error)
}

// CheckTold is [Store.Check], on all cores; it tells of each part when it is done, how many are, and of how many.
func (s *Store) CheckTold(tx *DB, tell func(done, of int, what string)) ([]string, error) {
	parts, err := s.parts(tx)
	if err != nil {
		return nil, err
	}
	found := make([][]string, len(parts))
	var cores errgroup.Group
	cores.SetLimit(runtime.GOMAXPROCS(0))
	var lock sync.Mutex
	done := 0
	for i, p := range parts {
		cores.Go(func() (err error) {
			if found[i], err = p.look(); err != nil {
				return fmt.Errorf("check that %s: %w", p.what, err)
			}
			lock.Lock()
			defer lock.Unlock()
			done++
			tell(done, len(parts), p.what)
			return nil
		})
	}
	err = cores.Wait()
	return slices.Concat(found...), err
}

// parts are what is checked, what takes longest first.
func (s *Store) parts(tx *DB) ([]part, error) {
	parts := []part{{"the database is whole", func() ([]string, error) {
		problems, err := integrity(tx.gorm)
		for i := range problems {
			problems[i] = "the database is whole: " + problems[i]
		}
		return problems, err
	}}}
	for _, c := range conservations {
		parts = append(parts, part{c.rule, func() ([]string, error) { return c.look(tx) }})
	}
	frozen, err := frozenParts(tx)
	if err != nil {
		return nil, err
	}
	digests := []string{}
	if err := tx.gorm.Raw("SELECT digest FROM files ORDER BY digest").Scan(&digests).Error; err != nil {
		return nil, fmt.Errorf("read which files there are: %w", err)
	}
	for some := range slices.Chunk(digests, checkedTogether) {
		frozen = append(frozen, part{"files are what was written", func() ([]string, error) { return s.damagedOf(some), nil }})
	}
	if s.lock == nil { // nobody here is writing
		frozen = append(frozen, part{"nothing is left half done", s.halfDone})
	}
	return append(parts, frozen...), nil
}

// checkedTogether is how many files or documents are one part of the check.
const checkedTogether = 2000

func (c conservation) look(tx *DB) (breaches []string, err error) {
	rows := []struct {
		ID   int64
		What string
	}{}
	err = tx.gorm.Raw(c.breaches).Scan(&rows).Error
	for _, row := range rows {
		breaches = append(breaches, fmt.Sprintf("%s: row %d: %s", c.rule, row.ID, row.What))
	}
	return breaches, err
}

func (s *Store) damagedOf(digests []string) (breaches []string) {
	for _, digest := range digests {
		if _, problem := s.Content(digest); problem != nil {
			breaches = append(breaches, problem.Error())
		}
	}
	return breaches
}

func (s *Store) halfDone() (breaches []string, err error) {
	left, err := s.leftovers()
	for _, path := range left {
		breaches = append(breaches, "nothing is left half done: "+
			path+" was left by a program that was stopped; the next start of the server takes it away")
	}
	return breaches, err
}

// frozenParts compare the newest revision of every invoice with its row: what was issued is what is owed.
func frozenParts(tx *DB) (parts []part, err error) {
	ids := []int64{}
	err = tx.gorm.Raw("SELECT id FROM invoices WHERE " + strings.ReplaceAll(isIssued, "i.", "") + " ORDER BY id").Scan(&ids).Error
	for some := range slices.Chunk(ids, checkedTogether) {
		parts = append(parts, part{"what was issued is what is owed", func() ([]string, error) {
			return frozenBreaches(tx, some[0], some[len(some)-1])
		}})
	}
	return parts, err
}

// frozenBreaches compares invoices from one number to another.
func frozenBreaches(tx *DB, from, to int64) (breaches []string, err error) {
	found, err := tx.gorm.Raw(`SELECT i.id, i.number_text, i.currency, i.net, i.tax, i.total, i.due, r.content
		FROM invoices i JOIN invoice_revisions r ON r.invoice_id = i.id AND r.revision = i.revision
		WHERE i.id BETWEEN ? AND ? AND `+isIssued, from, to).Rows()
	if err != nil {
		return nil, err
	}
	defer found.Close()
	for found.Next() {
		var row Invoice
		var content []byte
		if err := found.Scan(&row.ID, &row.NumberText, &row.Currency, &row.Net, &row.Tax, &row.Total, &row.Due, &content); err != nil {
			return breaches, err
		}
		var doc invoice.Document
		if err := json.Unmarshal(content, &doc); err != nil {
			return breaches, fmt.Errorf("read the revision of %s: %w", row.NumberText, err)
		}
		t := doc.Totals
		if doc.Number != row.NumberText || doc.Currency != row.Currency || t.Net.Minor != row.Net || t.Tax.Minor != row.Tax ||
			t.Total.Minor != row.Total || t.Due.Minor != row.Due {
			breaches = append(breaches, fmt.Sprintf("what was issued is what is owed: row %d: %s was frozen as %s over %s", row.ID,
				row.NumberText, doc.Number, t.Total))
		}
	}
	return breaches, found.Err()
}
