package store

// ListOf is what a person has made of a list, as JSON.
type ListOf struct {
	List  string
	Shape []byte
}

// ListsOf reads what a person has made of their lists.
func ListsOf(tx *DB, personID int64) (lists []ListOf, err error) {
	return lists, tx.gorm.Raw("SELECT list, shape FROM person_lists WHERE person_id = ?", personID).Scan(&lists).Error
}

// KeepList keeps what a person has made of a list.
func KeepList(tx *DB, personID int64, list string, shape []byte) error {
	return tx.gorm.Exec(`INSERT INTO main.person_lists (person_id, list, shape) VALUES (?, ?, ?)
		ON CONFLICT (person_id, list) DO UPDATE SET shape = excluded.shape`, personID, list, string(shape)).Error
}

// DropList forgets what a person has made of a list.
func DropList(tx *DB, personID int64, list string) error {
	return tx.gorm.Exec("DELETE FROM main.person_lists WHERE person_id = ? AND list = ?", personID, list).Error
}
