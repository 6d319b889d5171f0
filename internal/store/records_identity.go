package store

import "time"

// RecoveryCode signs somebody in once in place of a device that was lost.
type RecoveryCode struct {
	PersonID int64  `gorm:"primaryKey"`
	Digest   string `gorm:"primaryKey"`
	UsedAt   *time.Time
}

// KnownDevice is a browser in which a person has signed in, by the digest of its cookie.
type KnownDevice struct {
	Digest   string `gorm:"primaryKey"`
	PersonID int64
	MadeAt   time.Time
}

// WrongGuess counts wrong passwords and codes of an account, by whence they came.
type WrongGuess struct {
	Account string `gorm:"primaryKey"`
	Whence  string `gorm:"primaryKey"`
	Number  int
	LastAt  time.Time
}

// TableName has its own plural.
func (WrongGuess) TableName() string { return "wrong_guesses" }

// SecurityEntry is a line of the security log.
type SecurityEntry struct {
	ID                              int64
	At                              time.Time
	Kind                            string
	PersonID                        *int64
	Account, Address, Browser, Said string
}

// TableName is the log.
func (SecurityEntry) TableName() string { return "security_log" }

// ProposedChange is a change of a record that waits for a second administrator.
type ProposedChange struct {
	Row
	Kind                 string
	RecordID             int64
	Field, Before, Value string
	PersonID             int64
	At                   time.Time
	State                string // waits, agreed, refused
	AnsweredBy           *int64
}
