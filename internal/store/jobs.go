package store

import (
	"time"

	"gorm.io/gorm"
)

// JobStep notes how far a job is.
func JobStep(tx *gorm.DB, id int64, done int) error {
	return tx.Exec("UPDATE jobs SET done = ? WHERE id = ?", done, id).Error
}

// EndJob notes that a job has stopped after so many steps, and what it did.
func EndJob(tx *gorm.DB, id int64, done int, state, said string, at time.Time) error {
	return tx.Exec("UPDATE jobs SET done = ?, state = ?, said = ?, ended_at = ? WHERE id = ?", done, state, said, at, id).Error
}

// InterruptJobs marks the jobs that ran when the server stopped: nothing runs them
// any more.
func InterruptJobs(tx *gorm.DB, at time.Time) error {
	return tx.Exec("UPDATE jobs SET state = 'interrupted', said = 'The server stopped; what was done before stays.', ended_at = ? WHERE state = 'running'", at).Error
}
