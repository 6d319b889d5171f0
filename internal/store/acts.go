package store

import (
	"gorm.io/gorm"
)

// NextActID is the number of the act that is about to be written; the one
// writer makes it certain.
func NextActID(tx *gorm.DB) (id int64, err error) {
	err = tx.Raw("SELECT COALESCE(MAX(id), 0) + 1 FROM acts").Scan(&id).Error
	return id, err
}

// Answer is what a person was answered under a key, or nil.
func Answer(tx *gorm.DB, personID int64, key string) (*Idempotency, error) {
	found := []Idempotency{}
	err := tx.Where("person_id = ? AND key = ?", personID, key).Limit(1).Find(&found).Error
	if err != nil || len(found) == 0 {
		return nil, err
	}
	return &found[0], nil
}

// ActBy is an act with the name of who did it.
type ActBy struct {
	Act
	Who string
}

// ActsOn is the history of a thing, latest first.
func ActsOn(tx *gorm.DB, subject string, id int64) ([]ActBy, error) {
	acts := []ActBy{}
	err := tx.Raw(`SELECT a.*, COALESCE(p.name, NULLIF(a.outsider, ''), 'Dorvet') AS who FROM act_subjects s
		JOIN acts a ON a.id = s.act_id LEFT JOIN people p ON p.id = a.person_id
		WHERE s.subject = ? AND s.subject_id = ? ORDER BY a.id DESC`, subject, id).Scan(&acts).Error
	return acts, err
}
