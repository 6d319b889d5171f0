package store

import (
	"time"
)

// JobStep notes how far a job is.
func JobStep(tx *DB, id int64, done int) error {
	return tx.gorm.Exec("UPDATE main.jobs SET done = ? WHERE id = ?", done, id).Error
}

// EndJob notes that a job has stopped after so many steps, and what it did.
func EndJob(tx *DB, id int64, done int, state, said string, at time.Time) error {
	return tx.gorm.Exec("UPDATE main.jobs SET done = ?, state = ?, said = ?, ended_at = ? WHERE id = ?", done, state, said, at, id).Error
}

// InterruptJobs marks the jobs that ran when the server stopped: nothing runs them
// any more.
func InterruptJobs(tx *DB, at time.Time) error {
	return tx.gorm.Exec("UPDATE main.jobs SET state = 'interrupted', said = 'The server stopped; what was done before stays.', ended_at = "+
		"? WHERE state = 'running'", at).Error
}

// JobOf reads a job that a person began, or ErrNotFound.
func JobOf(tx *DB, personID, id int64) (*Job, error) {
	row := new(Job)
	err := tx.gorm.First(row, "id = ? AND person_id = ?", id, personID).Error
	return row, err
}
