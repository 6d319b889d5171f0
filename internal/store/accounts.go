package store

import (
	"time"

	"dorvet/core/day"

	"gorm.io/gorm"
)

// LinkByDigest finds the link of a secret by its digest.
func LinkByDigest(tx *gorm.DB, digest string) (*AccountLink, error) {
	link := new(AccountLink)
	err := tx.First(link, "digest = ?", digest).Error
	return link, err
}

// UseLink marks a link as used.
func UseLink(tx *gorm.DB, digest string, at time.Time) error {
	return tx.Exec("UPDATE account_links SET used_at = ? WHERE digest = ?", at, digest).Error
}

// SessionsOf reads a person's open sessions, newest first.
func SessionsOf(tx *gorm.DB, personID int64, now time.Time) ([]SignedIn, error) {
	rows := []SignedIn{}
	err := tx.Order("id DESC").Find(&rows, "person_id = ? AND ended_at IS NULL AND expires_at > ?", personID, now).Error
	return rows, err
}

// SessionEnded reports whether a session was ended; one that is not known was.
func SessionEnded(tx *gorm.DB, id int64) (bool, error) {
	n, err := Count(tx, "SELECT COUNT(*) FROM signed_in WHERE id = ? AND ended_at IS NULL", id)
	return n == 0, err
}

// EndSession ends one session.
func EndSession(tx *gorm.DB, id int64, at time.Time) error {
	return tx.Exec("UPDATE signed_in SET ended_at = ? WHERE id = ? AND ended_at IS NULL", at, id).Error
}

// EndSessions ends all sessions of a person but one.
func EndSessions(tx *gorm.DB, personID, except int64, at time.Time) error {
	return tx.Exec("UPDATE signed_in SET ended_at = ? WHERE person_id = ? AND id <> ? AND ended_at IS NULL", at, personID, except).Error
}

// StandsInFor are the people for whom somebody stands in on a day. A first or
// last day that is not given is open.
func StandsInFor(tx *gorm.DB, personID int64, on day.Day) ([]int64, error) {
	ids := []int64{}
	err := tx.Raw(`SELECT id FROM people WHERE stand_in_id = ? AND active AND (stand_in_from <> '' OR stand_in_to <> '')
		AND (stand_in_from = '' OR stand_in_from <= ?) AND (stand_in_to = '' OR stand_in_to >= ?)`, personID, on.String(), on.String()).Scan(&ids).Error
	return ids, err
}

// NoticesOf reads what a person was told and has not put away, newest first.
func NoticesOf(tx *gorm.DB, personID int64) ([]Notice, error) {
	rows := []Notice{}
	err := tx.Order("id DESC").Limit(100).Find(&rows, "person_id = ? AND seen = FALSE", personID).Error
	return rows, err
}

// PutAway marks a person's notice as seen.
func PutAway(tx *gorm.DB, personID, id int64) error {
	return tx.Exec("UPDATE notices SET seen = TRUE WHERE person_id = ? AND id = ?", personID, id).Error
}

// EntitiesOf are the issuing entities to which a person is limited, or nil.
func EntitiesOf(tx *gorm.DB, personID int64) ([]int64, error) {
	var ids []int64
	err := tx.Raw("SELECT entity_id FROM person_entities WHERE person_id = ? ORDER BY entity_id", personID).Scan(&ids).Error
	if len(ids) == 0 {
		return nil, err
	}
	return ids, err
}

// LimitTo limits a person to issuing entities; none: to all of them.
func LimitTo(tx *gorm.DB, personID int64, entities []int64) error {
	if err := tx.Exec("DELETE FROM person_entities WHERE person_id = ?", personID).Error; err != nil {
		return err
	}
	for _, id := range entities {
		if err := tx.Exec("INSERT INTO person_entities (person_id, entity_id) VALUES (?, ?)", personID, id).Error; err != nil {
			return err
		}
	}
	return nil
}
