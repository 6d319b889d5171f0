// Package app is what people do. Its rooms follow the flow of money: setup,
// timekeeping, wip, billing, reports; each may use those before it. An act is
// one function, one transaction and one row of history ([Do]), and asks the
// core for every figure.
package app

import (
	"time"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/internal/store"
)

// App is what every act works with.
type App struct {
	Store *store.Store
	Clock Clock
	// Render makes the file of a finished invoice.
	Render func(invoice.Document) ([]byte, error)
}

// Clock tells both times: the instant at which the machine does something, and
// the business date of the work, which a demo pins.
type Clock interface {
	Now() time.Time
	Today() day.Day
}

// WallClock is real time; the zone says what day it is.
type WallClock struct{ Zone *time.Location }

// Now is the instant, in UTC and microseconds.
func (WallClock) Now() time.Time { return time.Now().UTC().Truncate(time.Microsecond) }

// Today is the day in the firm's zone.
func (c WallClock) Today() day.Day { return day.In(time.Now(), c.Zone) }

// PinnedClock has a business date that stands still; instants go on, in real
// time or, if At is set, from that instant.
type PinnedClock struct {
	Date day.Day
	At   time.Time
}

// Now is At, or the real instant.
func (c PinnedClock) Now() time.Time {
	if c.At.IsZero() {
		return WallClock{}.Now()
	}
	return c.At
}

// Today is the pinned date.
func (c PinnedClock) Today() day.Day { return c.Date }

// Role says what a person may see and do.
type Role string

// The roles. A lead prices and approves their own engagements; an owner reads.
const (
	Administrator Role = "administrator"
	Lead          Role = "lead"
	Staff         Role = "staff"
	Owner         Role = "owner"
)

// Actor is who asks.
type Actor struct {
	PersonID int64
	Role     Role
}

// SeesPerson reports whether the actor may see another's time.
func (a Actor) SeesPerson(personID int64) bool {
	return a.Role == Administrator || a.Role == Owner || a.PersonID == personID
}

// OnlyLeadOf is the person whose engagements alone the actor may see, or 0 if
// the actor sees all.
func (a Actor) OnlyLeadOf() int64 {
	if a.Role == Lead {
		return a.PersonID
	}
	return 0
}
