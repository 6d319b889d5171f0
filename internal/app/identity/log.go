package identity

import (
	"context"
	"time"

	"dorvet/internal/app"
	"dorvet/internal/store"
)

// The kinds of lines in the security log.
const (
	SignedIn       = "signed in"
	SignedOut      = "signed out"
	WrongPassword  = "wrong password or code"
	AccountChanged = "account changed"
	Refused        = "refused"
	Exported       = "exported"
	ReadBank       = "read bank details"
	GuardedChange  = "guarded change"
)

// Kinds are all kinds of lines.
var Kinds = []string{SignedIn, SignedOut, WrongPassword, AccountChanged, Refused, Exported, ReadBank, GuardedChange}

// Entry is what is written in the security log.
type Entry struct {
	Kind     string
	PersonID int64 // 0: nobody who is known
	Account  string
	Whence   Whence
	Said     string
}

// Log writes a line of the security log, which is never changed.
func Log(ctx context.Context, a *app.App, e Entry) error {
	return a.Store.Write(ctx, store.Everything, func(tx *store.DB) error { return logIn(tx, a.Clock.Now(), e) })
}

func logIn(tx *store.DB, at time.Time, e Entry) error {
	row := &store.SecurityEntry{At: at, Kind: e.Kind, Account: e.Account, Address: e.Whence.Address, Browser: e.Whence.Browser,
		Said: e.Said}
	if e.PersonID != 0 {
		row.PersonID = &e.PersonID
	}
	return store.Insert(tx, row)
}

// LogChange logs a change of what is guarded, by who makes it.
func LogChange(tx *app.Tx, what string) error {
	return logIn(tx.DB, tx.Now, Entry{Kind: GuardedChange, PersonID: tx.Actor.PersonID, Said: what})
}

// SecurityLine is a line of the security log as administrators read it.
type SecurityLine struct {
	ID      int64     `json:"id"`
	At      time.Time `json:"at"`
	Kind    string    `json:"kind"`
	Person  string    `json:"person" doc:"nothing: nobody who is known"`
	Account string    `json:"account" doc:"the mail address that was typed"`
	Address string    `json:"address"`
	Browser string    `json:"browser"`
	Said    string    `json:"said"`
}

// linesOfPage are how many lines are read at once.
const linesOfPage = 200

// ReadLog reads the security log, latest first; it is of the whole firm, and so for
// administrators who are not limited.
func ReadLog(ctx context.Context, a *app.App, actor app.Actor, before int64, kind string) ([]SecurityLine, error) {
	if err := ofWholeFirm(actor); err != nil {
		return nil, err
	}
	rows, err := store.SecurityLog(a.Read(ctx, actor), before, kind, linesOfPage)
	lines := make([]SecurityLine, 0, len(rows))
	for _, r := range rows {
		lines = append(lines, SecurityLine{r.ID, r.At, r.Kind, r.Person, r.Account, r.Address, r.Browser, r.Said})
	}
	return lines, err
}

// ofWholeFirm refuses what concerns all issuing entities to who is limited to some.
func ofWholeFirm(actor app.Actor) error {
	if actor.Entities == nil {
		return nil
	}
	return app.Refuse(app.Forbidden, "You are limited to some issuing entities, and this is of all of them: ask an administrator "+
		"who is not limited.")
}
