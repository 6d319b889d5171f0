package store

import (
	"context"
	"errors"
	"strings"
	"time"
)

// NextActID is the number of the act that is about to be written; the one
// writer makes it certain.
func NextActID(tx *DB) (id int64, err error) {
	err = tx.gorm.Raw("SELECT COALESCE(MAX(id), 0) + 1 FROM main.acts").Scan(&id).Error
	return id, err
}

// InsertAct writes an act with what it concerns and moves. Of these an act of many
// entries has many: they go out in statements of a hundred rows, which take a third of
// the time that they take one by one.
func InsertAct(tx *DB, act *Act, subjects []ActSubject, work []WorkMovement) error {
	if err := Insert(tx, act); err != nil {
		return err
	}
	err := insertMany(tx, "act_subjects (act_id, subject, subject_id)", 3, subjects,
		func(s *ActSubject) []any { return []any{s.ActID, s.Subject, s.SubjectID} })
	if err != nil {
		return err
	}
	columns := "work_movements (act_id, kind, portion_id, engagement_id, invoice_id, effective_day, recorded_at, from_bucket, to_bucket, " +
		"minutes, standard, agreed, currency)"
	return insertMany(tx, columns, 13, work, func(m *WorkMovement) []any {
		return []any{m.ActID, m.Kind, m.PortionID, m.EngagementID, m.InvoiceID, m.EffectiveDay.String(), m.RecordedAt, m.FromBucket,
			m.ToBucket,
			m.Minutes, m.Standard, m.Agreed, string(m.Currency)}
	})
}

// insertMany adds rows to a table with its columns, a hundred in a statement.
func insertMany[T any](tx *DB, into string, columns int, rows []T, values func(*T) []any) error {
	holes := "(" + strings.TrimSuffix(strings.Repeat("?,", columns), ",") + ")"
	for len(rows) > 0 {
		n := min(len(rows), 100)
		arguments := make([]any, 0, n*columns)
		for i := range rows[:n] {
			arguments = append(arguments, values(&rows[i])...)
		}
		statement := "INSERT INTO main." + into + " VALUES " + strings.TrimSuffix(strings.Repeat(holes+",", n), ",")
		if _, err := tx.gorm.Statement.ConnPool.ExecContext(tx.gorm.Statement.Context, statement, arguments...); err != nil {
			return err
		}
		rows = rows[n:]
	}
	return nil
}

// SumsFit reports whether the sums over all records can be counted, by pages too: the
// whole numbers of a page end at 2^53.
func SumsFit(tx *DB) (fit bool, err error) {
	err = tx.gorm.Raw(`SELECT COALESCE(MAX(total), 0) < 9007199254740992 FROM (
		SELECT TOTAL(ABS(agreed)) AS total FROM main.portions WHERE removed = FALSE
		UNION ALL SELECT TOTAL(ABS(standard)) FROM main.portions WHERE removed = FALSE
		UNION ALL SELECT TOTAL(ABS(amount)) FROM main.money_movements GROUP BY from_bucket
		UNION ALL SELECT TOTAL(ABS(firm_amount)) FROM main.money_movements GROUP BY from_bucket)`).Scan(&fit).Error
	return fit, err
}

// Answer is what a person was answered under a key, or nil.
func Answer(tx *DB, personID int64, key string) (*Idempotency, error) {
	found := []Idempotency{}
	err := tx.gorm.Where("person_id = ? AND key = ?", personID, key).Limit(1).Find(&found).Error
	if err != nil || len(found) == 0 {
		return nil, err
	}
	return &found[0], nil
}

// ForgetTries forgets what was answered to tries before an instant: nobody asks again
// under a key of the day before.
func (s *Store) ForgetTries(ctx context.Context, before time.Time) error {
	return s.Write(ctx, Everything, func(tx *DB) error { return tx.gorm.Exec("DELETE FROM main.idempotency WHERE at < ?", before).Error })
}

// ActBy is an act with the name of who did it.
type ActBy struct {
	Act
	Who string
}

// subjects are the tables of things that have a history, beside the kinds of the set-up.
var subjects = map[string]string{"time_entry": "time_entries", "invoice": "invoices", "billing run": "billing_runs", "payment": "payments",
	"purchase": "purchases", "proposal": "proposals"}

// ActsOn is the history of a thing, latest first; ErrNotFound of one beyond the scope.
func ActsOn(tx *DB, subject string, id int64) ([]ActBy, error) {
	table := subjects[subject]
	if table == "" {
		table = kindTables[subject].table
	}
	if tx.scope.Entities != nil && table != "" {
		if n, err := Count(tx, "SELECT COUNT(*) FROM "+table+" WHERE id = ?", id); err != nil || n == 0 {
			return nil, errors.Join(err, ErrNotFound)
		}
	}
	acts := []ActBy{}
	err := tx.gorm.Raw(`SELECT a.*, COALESCE(p.name, NULLIF(a.outsider, ''), 'Dorvet') AS who FROM act_subjects s
		JOIN acts a ON a.id = s.act_id LEFT JOIN people p ON p.id = a.person_id
		WHERE s.subject = ? AND s.subject_id = ? ORDER BY a.id DESC`, subject, id).Scan(&acts).Error
	return acts, err
}

// ExportAct is the kind of an act that makes invoices into files for clients.
const ExportAct = "export invoices"

// Acted reports whether an act of a kind concerned a thing.
func Acted(tx *DB, kind, subject string, id int64) (bool, error) {
	n, err := Count(tx, "SELECT COUNT(*) FROM act_subjects s JOIN acts a ON a.id = s.act_id WHERE s.subject = ? AND "+
		"s.subject_id = ? AND a.kind = ?", subject, id, kind)
	return n > 0, err
}
