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

// SessionByID reads a session that was not ended, or ErrNotFound.
func SessionByID(tx *DB, id int64) (*SignedIn, error) {
	row := new(SignedIn)
	err := tx.gorm.First(row, "id = ? AND ended_at IS NULL", id).Error
	return row, err
}

// NoteAsked notes when a session last asked for something.
func NoteAsked(tx *DB, id int64, at time.Time) error {
	return tx.gorm.Exec("UPDATE main.signed_in SET asked_at = ? WHERE id = ?", at, id).Error
}

// NoteProved notes when the password was last typed in a session.
func NoteProved(tx *DB, id int64, at time.Time) error {
	return tx.gorm.Exec("UPDATE main.signed_in SET proved_at = ? WHERE id = ?", at, id).Error
}

// EndSession ends one session.
func EndSession(tx *DB, id int64, at time.Time) error {
	return tx.gorm.Exec("UPDATE main.signed_in SET ended_at = ? WHERE id = ? AND ended_at IS NULL", at, id).Error
}

// EndSessions ends all sessions of a person but one.
func EndSessions(tx *DB, personID, except int64, at time.Time) error {
	return tx.gorm.Exec("UPDATE main.signed_in SET ended_at = ? WHERE person_id = ? AND id <> ? AND ended_at IS NULL", at, personID,
		except).Error
}

// StandsInFor are the people for whom somebody stands in on a day. A first or
// last day that is not given is open.
func StandsInFor(tx *DB, personID int64, on day.Day) ([]int64, error) {
	ids := []int64{}
	err := tx.gorm.Raw(`SELECT id FROM people WHERE stand_in_id = ? AND active AND (stand_in_from <> '' OR stand_in_to <> '')
		AND (stand_in_from = '' OR stand_in_from <= ?) AND (stand_in_to = ''
			OR stand_in_to >= ?)`, personID, on.String(), on.String()).Scan(&ids).Error
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

// CountGuess counts a guess at an account from somewhere, and gives how many there were
// before and when the last was. Those of the day before are forgotten.
func CountGuess(tx *DB, account, whence string, at time.Time) (before int, last time.Time, err error) {
	found := []WrongGuess{}
	if err := tx.gorm.Limit(1).Find(&found, "account = ? AND whence = ?", account, whence).Error; err != nil {
		return 0, last, err
	}
	if len(found) > 0 && at.Sub(found[0].LastAt) < 24*time.Hour {
		before, last = found[0].Number, found[0].LastAt
	}
	return before, last, tx.gorm.Exec(`INSERT INTO main.wrong_guesses (account, whence, number, last_at) VALUES (?, ?, ?, ?)
		ON CONFLICT (account, whence) DO UPDATE SET number = excluded.number,
			last_at = excluded.last_at`, account, whence, before+1, at).Error
}

// ForgetGuesses forgets the guesses at an account from somewhere; one: the last alone.
func ForgetGuesses(tx *DB, account, whence string, one bool) error {
	if one {
		return tx.gorm.Exec("UPDATE main.wrong_guesses SET number = number - 1 WHERE account = ? AND whence = ? AND number > 0", account,
			whence).Error
	}
	return tx.gorm.Exec("DELETE FROM main.wrong_guesses WHERE account = ? AND whence = ?", account, whence).Error
}

// DeviceOf is whose a known device is, or 0.
func DeviceOf(tx *DB, digest string) (personID int64, err error) {
	err = tx.gorm.Raw("SELECT COALESCE(MAX(person_id), 0) FROM known_devices WHERE digest = ?", digest).Scan(&personID).Error
	return personID, err
}

// DevicesOf counts the devices in which a person has signed in.
func DevicesOf(tx *DB, personID int64) (int64, error) {
	return Count(tx, "SELECT COUNT(*) FROM known_devices WHERE person_id = ?", personID)
}

// ForgetDevices makes all devices of a person unknown.
func ForgetDevices(tx *DB, personID int64) error {
	return tx.gorm.Exec("DELETE FROM main.known_devices WHERE person_id = ?", personID).Error
}

// DropRecoveryCodes takes the recovery codes of a person away.
func DropRecoveryCodes(tx *DB, personID int64) error {
	return tx.gorm.Exec("DELETE FROM main.recovery_codes WHERE person_id = ?", personID).Error
}

// RecoveryCodesLeft counts the recovery codes of a person that were not used.
func RecoveryCodesLeft(tx *DB, personID int64) (int64, error) {
	return Count(tx, "SELECT COUNT(*) FROM recovery_codes WHERE person_id = ? AND used_at IS NULL", personID)
}

// UseRecoveryCode uses a recovery code, and reports whether it could be used.
func UseRecoveryCode(tx *DB, personID int64, digest string, at time.Time) (bool, error) {
	used := tx.gorm.Exec("UPDATE main.recovery_codes SET used_at = ? WHERE person_id = ? AND digest = ? AND used_at IS NULL", at, personID,
		digest)
	return used.RowsAffected == 1, used.Error
}

// SecurityRow is a line of the security log with the name of whose it is.
type SecurityRow struct {
	SecurityEntry
	Person string
}

// SecurityLog reads lines of the security log before one (0: the latest), latest first.
func SecurityLog(tx *DB, before int64, kind string, most int) ([]SecurityRow, error) {
	rows := []SecurityRow{}
	err := tx.gorm.Raw(`SELECT s.*, COALESCE(p.name, '') AS person FROM security_log s LEFT JOIN people p ON p.id = s.person_id
		WHERE (@before = 0 OR s.id < @before) AND (@kind = '' OR s.kind = @kind)
			ORDER BY s.id DESC LIMIT @most`, map[string]any{"before": before, "kind": kind, "most": most}).Scan(&rows).Error
	return rows, err
}

// WaitingChanges reads the changes that wait for a second administrator.
func WaitingChanges(tx *DB) ([]ProposedChange, error) {
	rows := []ProposedChange{}
	err := tx.gorm.Order("id").Find(&rows, "state = 'waits'").Error
	return rows, err
}
