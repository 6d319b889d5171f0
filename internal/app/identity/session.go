package identity

import (
	"context"
	"errors"
	"slices"
	"time"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Session is who is signed in, and what every page needs to know.
type Session struct {
	PersonID       int64                  `json:"personId"`
	Name           string                 `json:"name"`
	Initials       string                 `json:"initials"`
	Role           app.Role               `json:"role" enum:"administrator,lead,staff,owner"`
	Firm           string                 `json:"firm"`
	Currency       money.Currency         `json:"currency"`
	Mark           string                 `json:"mark" doc:"decimal mark in what people type"`
	Today          day.Day                `json:"today" doc:"the business date"`
	EngagementWord string                 `json:"engagementWord" doc:"the firm's own"`
	PhaseWord      string                 `json:"phaseWord"`
	SeesValues     bool                   `json:"seesValues" doc:"rates, and what time is worth"`
	Decimals       map[money.Currency]int `json:"decimals" doc:"of the currencies that are not of two"`
}

// SessionOf is what the pages of somebody signed in need to know.
func SessionOf(ctx context.Context, a *app.App, actor app.Actor) (*Session, error) {
	tx := a.Read(ctx, actor)
	firm, err := store.TheFirm(tx)
	if err != nil {
		return nil, err
	}
	person, err := store.Get[store.Person](tx, actor.PersonID)
	if err != nil {
		return nil, err
	}
	return &Session{EngagementWord: firm.EngagementWord, PhaseWord: firm.PhaseWord, SeesValues: actor.SeesValues(), PersonID: person.ID, Name: person.Name, Initials: person.Initials, Role: actor.Role, Firm: firm.Name,
		Currency: firm.Currency, Mark: firm.DecimalMark, Today: a.Clock.Today(), Decimals: money.UnusualDecimals()}, nil
}

// TheFirm is the name of the firm; nothing while there is none.
func TheFirm(ctx context.Context, a *app.App) (name string, begun bool, err error) {
	firm, err := store.TheFirm(a.Store.Read(ctx, store.Everything))
	if err != nil {
		return "", false, app.Unless(err, nil, func() bool { return true })
	}
	return firm.Name, true, nil
}

// Began is where a session begins.
type Began struct {
	Address, Browser string
	Lasts            time.Duration
}

// Begin keeps that a session of a person has begun, and gives its number.
func Begin(ctx context.Context, a *app.App, personID int64, began Began) (int64, error) {
	now := a.Clock.Now()
	s := store.SignedIn{PersonID: personID, BeganAt: now, ExpiresAt: now.Add(began.Lasts), Address: began.Address, Browser: began.Browser}
	err := a.Store.Write(ctx, store.Everything, func(tx *store.DB) error { return store.Insert(tx, &s) })
	return s.ID, err
}

// ErrNobody says that nobody is signed in under a session.
var ErrNobody = errors.New("nobody is signed in")

// Actor is who a signed-in person is now, with those for whom they stand in
// today; people who left, and ended sessions, are [ErrNobody].
func Actor(ctx context.Context, a *app.App, personID, session int64) (app.Actor, error) {
	tx := a.Store.Read(ctx, store.Everything)
	person, err := store.Get[store.Person](tx, personID)
	if err != nil {
		return app.Actor{}, app.Unless(err, ErrNobody, func() bool { return true })
	}
	ended, err := store.SessionEnded(tx, session)
	if err != nil {
		return app.Actor{}, err
	}
	if ended || !person.Active {
		return app.Actor{}, ErrNobody
	}
	away, err := store.StandsInFor(tx, personID, a.Clock.Today())
	if err != nil {
		return app.Actor{}, err
	}
	entities, err := store.EntitiesOf(tx, personID)
	actor := app.Actor{Entities: entities, PersonID: person.ID, Role: app.Role(person.Role), SeesRates: person.SeesRates, SeesTimes: person.SeesTimes, StandsInFor: away}
	if len(away) > 0 && actor.Role == app.Staff {
		actor.Role = app.Lead
	}
	return actor, err
}

// AppearsAs is a session as its person sees it.
type AppearsAs struct {
	ID      int64     `json:"id"`
	Began   time.Time `json:"began"`
	Address string    `json:"address"`
	Browser string    `json:"browser"`
	This    bool      `json:"this" doc:"whether it is the one that asks"`
}

// Sessions lists one's open sessions, newest first.
func Sessions(ctx context.Context, a *app.App, actor app.Actor, session int64) ([]AppearsAs, error) {
	rows, err := store.SessionsOf(a.Read(ctx, actor), actor.PersonID, a.Clock.Now())
	list := make([]AppearsAs, 0, len(rows))
	for _, s := range rows {
		list = append(list, AppearsAs{s.ID, s.BeganAt, s.Address, s.Browser, s.ID == session})
	}
	return list, err
}

// EndSession ends one of one's sessions.
func EndSession(ctx context.Context, a *app.App, r app.Request, session int64) error {
	return own(ctx, a, r, "Ended a session", func(tx *app.Tx, p *store.Person) error {
		rows, err := store.SessionsOf(tx.DB, p.ID, tx.Now)
		if err == nil && !slices.ContainsFunc(rows, func(s store.SignedIn) bool { return s.ID == session }) {
			err = app.Missing(store.ErrNotFound, "session")
		}
		if err != nil {
			return err
		}
		return store.EndSession(tx.DB, session, tx.Now)
	})
}
