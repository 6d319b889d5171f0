package store

import (
	"time"

	"dorvet/core/day"
	"dorvet/core/expense"
	"dorvet/core/money"
	"dorvet/core/wip"
)

// TimeEntry is what was recorded, with the value computed when it was saved.
type TimeEntry struct {
	Row
	PersonID, EngagementID, ServiceID int64
	PhaseID                           *int64  // a phase or task
	Day                               day.Day `gorm:"serializer:day"`
	StartedMinute, EndedMinute        *int    // after midnight; nil: a duration was given
	WorkedMinutes, NotBillableMinutes int
	ExpectedMinutes                   int
	Markup                            money.Percent
	Flat                              *int64 // in place of hours × rate
	Treatment                         wip.Treatment
	Text, Note, Reference, Approval   string
	Returns                           bool   // comes back on every bill
	ReturnedFrom                      *int64 // the entry on the bill before
	BilledMinutes                     int
	Standard, Agreed                  int64
	Currency                          money.Currency
	Valued                            wip.Valued  `gorm:"serializer:json"`
	ValuedBefore                      *wip.Valued `gorm:"serializer:json"` // before the last re-rating
	Removed                           bool
	UntilDay                          day.Day           `gorm:"serializer:day"` // its last day, where it spans several
	RateFrom                          string            // the level whose rate was chosen; nothing: the most specific
	Own                               map[string]string `gorm:"serializer:json"` // the firm's own fields, by their numbers
}

// ExpenseCategory is what an expense is for; with a price for each unit it is
// counted in units.
type ExpenseCategory struct {
	Row
	Name, Unit   string
	PerUnit      *money.Rate
	Markup       money.Percent
	Disbursement bool
	ExpenseCode  string
	Active       bool
}

// Purchase is what was paid; its shares are expenses.
type Purchase struct {
	Row
	PersonID, CategoryID      int64
	Day                       day.Day `gorm:"serializer:day"`
	Supplier, Text, Reference string
	Paid                      expense.Paid `gorm:"serializer:json"`
	Cost                      int64
	Currency                  money.Currency
	PaidBy                    string // firm, or the person, who gets it back
	Removed                   bool
}

// Expense is a share of a purchase, on an engagement or the firm's own.
type Expense struct {
	Row
	PurchaseID             int64
	Position               int
	EngagementID, PhaseID  *int64
	Day                    day.Day `gorm:"serializer:day"` // of use
	Text, Note             string
	Treatment              wip.Treatment
	Markup                 money.Percent
	Cost, Standard, Agreed int64
	Currency               money.Currency
	Valued                 expense.Valued `gorm:"serializer:json"`
	Returns                bool
	ReturnedFrom           *int64
	Removed                bool
}

// SourceFile is a receipt, or what is attached to an entry.
type SourceFile struct {
	Source       string // time, purchase
	SourceID     int64
	Position     int
	Digest, Name string
}

// Timer counts time for an entry to be; it runs since an instant, or waits.
type Timer struct {
	Row
	PersonID, EngagementID, ServiceID int64
	PhaseID                           *int64
	Treatment                         wip.Treatment
	Text                              string
	EntryID                           *int64 // the entry that it goes on with
	RunningSince                      *time.Time
	Stopped                           bool
}

// TimerRun is a stretch in which a timer ran.
type TimerRun struct {
	TimerID          int64
	BeganAt, EndedAt time.Time
}

// WeekSheet is where a person's week stands; one that has no row is open.
type WeekSheet struct {
	Row
	PersonID int64
	Monday   day.Day `gorm:"serializer:day"`
	State    string  // open, submitted, approved
	SentBack string  // why
}

// ChangedTogether is an entry as it was before an act changed many.
type ChangedTogether struct {
	ActID, EntryID int64
	Before         TogetherBefore `gorm:"serializer:json"`
	AfterVersion   int64
}

// TableName is not a plural.
func (ChangedTogether) TableName() string { return "changes_together" }

// TogetherBefore is all that is given back when a change is undone.
type TogetherBefore struct {
	Entry     TimeEntry
	Hold      wip.Hold
	HoldUntil day.Day
}

// Portion is the part of a source on which billing acts.
type Portion struct {
	Row
	Source           string
	SourceID         int64
	EngagementID     int64
	WorkedDay        day.Day `gorm:"serializer:day"`
	Treatment        wip.Treatment
	Minutes          int
	Standard, Agreed int64
	Currency         money.Currency
	WithoutRate      bool
	Hold             wip.Hold
	HoldUntil        day.Day `gorm:"serializer:day"`
	Billing          wip.Billing
	LineID           *int64
	Removed          bool
	Covered          bool        // by the fee on whose line it is
	Part             int         // 0 is the first, or the only one
	OverCap          bool        // what a cap left unbilled
	WrittenDown      bool        // of what is written off: off a bill, not for good
	Adjusted         int64       // of Agreed: written up, or taken off at no charge
	AdjustedMinutes  int         // of Minutes
	OwnRate          *money.Rate // an hour, that somebody decided on
	Apart            int         // parts of which somebody divided are joined only with their like
	PayerID          *int64      // the client that pays this part, where several pay the whole
}

// Bucket is where the portion lies in the work ledger.
func (p *Portion) Bucket() wip.Bucket { return p.Billing.Bucket(p.Treatment, p.Covered, p.WrittenDown) }

// Piece is what the portion is of its source.
func (p *Portion) Piece() wip.Piece {
	return wip.Piece{Minutes: p.Minutes, Standard: p.Standard, Agreed: p.Agreed}
}
