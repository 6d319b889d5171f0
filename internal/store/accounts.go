package store

import (
	"time"

	"dorvet/core/day"
)

// LinkByDigest finds the link of a secret by its digest.
func LinkByDigest(tx *DB, digest string) (*AccountLink, error) {
	link := new(AccountLink)
	err := tx.gorm.First(link, "digest = ?", digest).Error
	return link, err
}

// UseLink marks a link as used.
func UseLink(tx *DB, digest string, at time.Time) error {
	return tx.gorm.Exec("UPDATE main.account_links SET used_at = ? WHERE digest = ?", at, digest).Error
}

// SessionsOf reads a person's open sessions, newest first.
func SessionsOf(tx *DB, personID int64, now time.Time) ([]SignedIn, error) {
	rows := []SignedIn{}
	err := tx.gorm.Order("id DESC").Find(&rows, "person_id = ? AND ended_at IS NULL AND expires_at > ?", personID, now).Error
	return rows, err
}

// SessionEnded reports whether a session was ended; one that is not known was.
func SessionEnded(tx *DB, id int64) (bool, error) {
	n, err := Count(tx, "SELECT COUNT(*) FROM signed_in WHERE id = ? AND ended_at IS NULL", id)
	return n == 0, err
}

// EndSession ends one session.
func EndSession(tx *DB, id int64, at time.Time) error {
	return tx.gorm.Exec("UPDATE main.signed_in SET ended_at = ? WHERE id = ? AND ended_at IS NULL", at, id).Error
}

// EndSessions ends all sessions of a person but one.
func EndSessions(tx *DB, personID, except int64, at time.Time) error {
	return tx.gorm.Exec("UPDATE main.signed_in SET ended_at = ? WHERE person_id = ? AND id <> ? AND ended_at IS NULL", at, personID, except).Error
}

// StandsInFor are the people for whom somebody stands in on a day. A first or
// last day that is not given is open.
func StandsInFor(tx *DB, personID int64, on day.Day) ([]int64, error) {
	ids := []int64{}
	err := tx.gorm.Raw(`SELECT id FROM people WHERE stand_in_id = ? AND active AND (stand_in_from <> '' OR stand_in_to <> '')
		AND (stand_in_from = '' OR stand_in_from <= ?) AND (stand_in_to = '' OR stand_in_to >= ?)`, personID, on.String(), on.String()).Scan(&ids).Error
	return ids, err
}

// NoticesOf reads what a person was told and has not put away, newest first.
func NoticesOf(tx *DB, personID int64) ([]Notice, error) {
	rows := []Notice{}
	err := tx.gorm.Order("id DESC").Limit(100).Find(&rows, "person_id = ? AND seen = FALSE", personID).Error
	return rows, err
}

// PutAway marks a person's notice as seen.
func PutAway(tx *DB, personID, id int64) error {
	return tx.gorm.Exec("UPDATE main.notices SET seen = TRUE WHERE person_id = ? AND id = ?", personID, id).Error
}

// EntitiesOf are the issuing entities to which a person is limited, or nil.
func EntitiesOf(tx *DB, personID int64) ([]int64, error) {
	var ids []int64
	err := tx.gorm.Raw("SELECT entity_id FROM person_entities WHERE person_id = ? ORDER BY entity_id", personID).Scan(&ids).Error
	if len(ids) == 0 {
		return nil, err
	}
	return ids, err
}

// LimitTo limits a person to issuing entities; none: to all of them.
func LimitTo(tx *DB, personID int64, entities []int64) error {
	if err := tx.gorm.Exec("DELETE FROM main.person_entities WHERE person_id = ?", personID).Error; err != nil {
		return err
	}
	for _, id := range entities {
		if err := tx.gorm.Exec("INSERT INTO main.person_entities (person_id, entity_id) VALUES (?, ?)", personID, id).Error; err != nil {
			return err
		}
	}
	return nil
}

// AnyPerson reports whether there is any account.
func AnyPerson(tx *DB) (bool, error) {
	n, err := Count(tx, "SELECT COUNT(*) FROM people")
	return n > 0, err
}

// UseSecondFactor notes the step of a second factor that was used: none before it, and
// not itself, is taken again.
func UseSecondFactor(tx *DB, personID, step int64) error {
	return tx.gorm.Exec("UPDATE main.people SET second_factor_step = ? WHERE id = ?", step, personID).Error
}

// DropInvitations ends the links to an account.
func DropInvitations(tx *DB, personID int64) error {
	return tx.gorm.Exec("DELETE FROM main.account_links WHERE person_id = ?", personID).Error
}
