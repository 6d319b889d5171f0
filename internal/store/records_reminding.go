package store

import (
	"time"

	"dorvet/core/day"
	"dorvet/core/money"
)

// Reminder is an invoice in a letter that asked for it.
type Reminder struct {
	ID, InvoiceID, ClientID, EntityID int64
	DueDay                            day.Day `gorm:"serializer:day"` // of the oldest instalment that it asked for
	Days                              int     // after that day: the step of the plan that it came to
	Day                               day.Day `gorm:"serializer:day"`
	ActID                             int64
}

// ReminderHold leaves a client, or one invoice, alone.
type ReminderHold struct {
	Row
	ClientID  int64
	InvoiceID *int64  // nil: all of the client
	Until     day.Day `gorm:"serializer:day"` // its last day; none: until it is lifted
	Reason    string
	PersonID  *int64
	At        time.Time
	LiftedAt  *time.Time
}

// Call is a talk with a client about what they owe.
type Call struct {
	Row
	ClientID    int64
	PersonID    *int64
	Day         day.Day `gorm:"serializer:day"`
	At          time.Time
	WithName    string
	Outcome     CallOutcome
	PromisedDay day.Day `gorm:"serializer:day"`
	AgainDay    day.Day `gorm:"serializer:day"` // from which on they are called again
	Text        string
}

// CallOutcome is what came of a call.
type CallOutcome string

// What comes of a call: they promised to pay on a day, nobody was there, they look after it, or they say that something is wrong.
const (
	Promised  CallOutcome = "promised"
	Unreached CallOutcome = "unreached"
	Asked     CallOutcome = "asked"
	Disputes  CallOutcome = "disputes"
)

// LateCharge is what paying an invoice late came to up to a day, in minor units: less what was charged or waived before.
type LateCharge struct {
	Row
	InvoiceID, ClientID, EntityID int64
	Day                           day.Day `gorm:"serializer:day"`
	Amount                        int64
	Currency                      money.Currency
	Steps                         string // how the whole came about, JSON
	ChargeID                      *int64 // nil: it was waived before it was charged
	Waived                        string // why; nothing: it was not
	ActID                         int64
}

// ReferenceRate is a yearly percentage of a currency, from a day on.
type ReferenceRate struct {
	Row
	Currency money.Currency
	Day      day.Day `gorm:"serializer:day"`
	Percent  money.Percent
	Source   string
}
