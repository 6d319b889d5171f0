package store

import (
	"time"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/wip"
)

// Decision is what was decided on a portion, and what it was before.
type Decision struct {
	ID, ActID int64
	Kind      string // hold, release, write, write_off, no_charge, divide, move
	PortionID int64
	RestID    *int64  // the part that came off
	Before    Decided `gorm:"serializer:json"`
	Said      string
	Undone    bool
}

// Decided is what a decision is undone with: what was before, and by how much a
// portion was written up.
type Decided struct {
	Hold         wip.Hold      `json:"hold"`
	HoldUntil    day.Day       `json:"holdUntil"`
	Treatment    wip.Treatment `json:"treatment"`
	OwnRate      *money.Rate   `json:"ownRate,omitempty"`
	WithoutRate  bool          `json:"withoutRate,omitempty"`
	EngagementID int64         `json:"engagementId"`
	Up           int64         `json:"up,omitempty"`
	UpMinutes    int           `json:"upMinutes,omitempty"`
}

// BillingRun is drafts that were made together, and what for.
type BillingRun struct {
	Row
	Name        string
	FromDay     day.Day `gorm:"serializer:day"` // none: since the last bill
	UpToDay     day.Day `gorm:"serializer:day"`
	ChargesUpTo day.Day `gorm:"serializer:day"`
	Dated       day.Day `gorm:"serializer:day"`
	Terms, Text string  // nothing: as each client has it
	PersonID    *int64
	MadeAt      time.Time
	Deleted     bool
}

// RunMember is an engagement of a run, with what of it is taken.
type RunMember struct {
	RunID, EngagementID     int64
	Time, Expenses, Charges bool
}

// Approval is what a lead was asked about a draft, and said.
type Approval struct {
	InvoiceID, LeadID int64
	State             string // asked, approved, sent_back
	Note              string
	ByID              *int64
	At                time.Time
}

// IssueCheck is how the firm takes a check before issue.
type IssueCheck struct {
	Row
	Code, Name, Level string
}

// FindingWaiver is a finding of a draft that somebody left as it is.
type FindingWaiver struct {
	InvoiceID int64
	Code      string
	SubjectID int64
	PersonID  *int64
}

// Job is long work, and how far it is.
type Job struct {
	ID        int64
	Kind      string
	PersonID  int64
	SubjectID int64
	State     string // running, done, cancelled, failed, interrupted
	Whole     int
	Done      int
	Said      string
	FileName  string
	BeganAt   time.Time
	EndedAt   *time.Time
}
