package identity

import (
	"context"
	"errors"
	"slices"
	"time"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
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
	SeesCosts      bool                   `json:"seesCosts" doc:"what work costs the firm, and margins"`
	Limited        []string               `json:"limited" doc:"the issuing entities to which they are limited; none: to no one"`
	Decimals       map[money.Currency]int `json:"decimals" doc:"of the currencies that are not of two"`
	HoursAs        HoursAs                `json:"hoursAs" enum:"decimal,clock,tenth,quarter" doc:"4.2 or 4:12, or rounded in lists"`
	NoticeMails    string                 `json:"noticeMails" enum:",once,daily" doc:"what one is told goes by mail, too: at once, or as one letter a day"`
	Lists          map[string]ListShape   `json:"lists" doc:"what they made of lists, by the names of the lists"`
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
	limited := []string{}
	for _, id := range actor.Entities {
		entity, err := store.Get[store.IssuingEntity](tx, id)
		if err != nil {
			return nil, err
		}
		limited = append(limited, entity.Name)
	}
	lists, err := listsOf(tx, person.ID)
	if err != nil {
		return nil, err
	}
	return &Session{SeesCosts: actor.SeesCosts(), Limited: limited, EngagementWord: firm.EngagementWord, PhaseWord: firm.PhaseWord,
		SeesValues: actor.SeesValues(), PersonID: person.ID, Name: person.Name, Initials: person.Initials, Role: actor.Role,
		Firm:     firm.Name,
		Currency: firm.Currency, Mark: firm.DecimalMark, Today: a.Clock.Today(), Decimals: money.UnusualDecimals(), Lists: lists,
		HoursAs: hoursAs(person), NoticeMails: person.NoticeMails}, nil
}

// TheFirm is the name of the firm; nothing while there is none.
func TheFirm(ctx context.Context, a *app.App) (name string, begun bool, err error) {
	firm, err := store.TheFirm(a.Store.Read(ctx, store.Everything))
	if err != nil {
		return "", false, app.Unless(err, nil, func() bool { return true })
	}
	return firm.Name, true, nil
}

// Lasts is how long a session lasts at most, whatever is done in it; the firm says after how
// long without use it ends.
const Lasts = 12 * time.Hour

// proofLasts is how long a password that was typed again counts.
const proofLasts = 5 * time.Minute

// Begin keeps that a session of a person has begun, and gives its number, and the secret
// of the device if it was not known: its cookie.
func Begin(ctx context.Context, a *app.App, personID int64, from Whence) (number int64, device string, err error) {
	_, err = app.Do(ctx, a, app.Request{Actor: app.Actor{PersonID: personID}}, "sign in", nil, func(tx *app.Tx) (struct{}, error) {
		person, err := store.Get[store.Person](tx.DB, personID)
		if err != nil {
			return struct{}{}, err
		}
		s := store.SignedIn{PersonID: personID, BeganAt: tx.Now, ExpiresAt: tx.Now.Add(Lasts), Address: from.Address, Browser: from.Browser,
			AskedAt: &tx.Now}
		if err := store.Insert(tx.DB, &s); err != nil {
			return struct{}{}, err
		}
		number = s.ID
		tx.Describe(nil, nil, "Signed in")
		if device, err = remember(tx, person, from); err != nil {
			return struct{}{}, err
		}
		return struct{}{}, logIn(tx.DB, tx.Now, Entry{Kind: SignedIn, PersonID: personID, Account: person.Mail, Whence: from})
	})
	return number, device, err
}

// remember makes a device known that is not, and tells the person of one that is new.
func remember(tx *app.Tx, p *store.Person, from Whence) (device string, err error) {
	if from.Device != "" {
		if owner, err := store.DeviceOf(tx.DB, correspondence.Digest(from.Device)); err != nil || owner == p.ID {
			return "", err
		}
	}
	before, err := store.DevicesOf(tx.DB, p.ID)
	if err != nil {
		return "", err
	}
	device, digest := correspondence.NewSecret()
	if err := store.Insert(tx.DB, &store.KnownDevice{Digest: digest, PersonID: p.ID, MadeAt: tx.Now}); err != nil || before == 0 {
		return device, err
	}
	return device, tellPerson(tx, p, "A sign-in from a new browser",
		"Somebody signed in to your account in a browser that was not used for it before, from "+
			from.Address+". If it was not you, change your password now: that ends all other sessions.")
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
	row, err := store.SessionByID(tx, session)
	if err != nil {
		return app.Actor{}, app.Unless(err, ErrNobody, func() bool { return true })
	}
	if !person.Active || row.PersonID != person.ID {
		return app.Actor{}, ErrNobody
	}
	if err := stillUsed(ctx, a, tx, row); err != nil {
		return app.Actor{}, err
	}
	away, err := store.StandsInFor(tx, personID, a.Clock.Today())
	if err != nil {
		return app.Actor{}, err
	}
	entities, err := store.EntitiesOf(tx, personID)
	actor := app.Actor{Entities: entities, PersonID: person.ID, Role: app.Role(person.Role), SeesRates: person.SeesRates,
		SeesTimes: person.SeesTimes, StandsInFor: away,
		Proved: row.ProvedAt != nil && a.Clock.Now().Sub(*row.ProvedAt) < proofLasts}
	if len(away) > 0 && actor.Role == app.Staff {
		actor.Role = app.Lead
	}
	return actor, err
}

// stillUsed ends a session that was not used for long, and notes that it is used, to a
// minute.
func stillUsed(ctx context.Context, a *app.App, tx *store.DB, s *store.SignedIn) error {
	firm, err := store.TheFirm(tx)
	if err != nil {
		return err
	}
	now, last := a.Clock.Now(), s.BeganAt
	if s.AskedAt != nil {
		last = *s.AskedAt
	}
	switch idle := now.Sub(last); {
	case idle > time.Duration(firm.IdleMinutes)*time.Minute || now.After(s.ExpiresAt):
		err := a.Store.Write(ctx, store.Everything, func(tx *store.DB) error { return store.EndSession(tx, s.ID, now) })
		return errors.Join(err, ErrNobody)
	case idle > time.Minute && !app.IsUnattended(ctx):
		return a.Store.Aside(ctx, store.Everything, func(tx *store.DB) error { return store.NoteAsked(tx, s.ID, now) })
	}
	return nil
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
	_, err := own(ctx, a, r, "Ended a session", func(tx *app.Tx, p *store.Person) (struct{}, error) {
		rows, err := store.SessionsOf(tx.DB, p.ID, tx.Now)
		if err == nil && !slices.ContainsFunc(rows, func(s store.SignedIn) bool { return s.ID == session }) {
			err = app.Missing(store.ErrNotFound, "session")
		}
		if err != nil {
			return struct{}{}, err
		}
		return struct{}{}, store.EndSession(tx.DB, session, tx.Now)
	})
	return err
}

// SignOut ends the session in which somebody asks.
func SignOut(ctx context.Context, a *app.App, actor app.Actor, from Whence) error {
	return a.Store.Write(ctx, store.Everything, func(tx *store.DB) error {
		now := a.Clock.Now()
		return errors.Join(store.EndSession(tx, from.Session, now),
			logIn(tx, now, Entry{Kind: SignedOut, PersonID: actor.PersonID, Whence: from}))
	})
}

// EndAllOf ends all sessions of somebody else and makes their devices unknown: an
// administrator's help for an account that is not in the right hands.
func EndAllOf(ctx context.Context, a *app.App, r app.Request, personID int64) error {
	if err := r.Actor.Prove(); err != nil {
		return err
	}
	_, err := app.Do(ctx, a, r, "end sessions", personID, func(tx *app.Tx) (struct{}, error) {
		person, err := store.Get[store.Person](tx.DB, personID)
		if err != nil {
			return struct{}{}, app.Missing(err, "person")
		}
		tx.Describe(nil, nil, "Ended all sessions of %s", person.Name)
		tx.LinkTo("people", personID)
		if err := errors.Join(store.EndSessions(tx.DB, personID, 0, tx.Now), store.ForgetDevices(tx.DB, personID),
			logIn(tx.DB, tx.Now, Entry{Kind: AccountChanged, PersonID: personID,
				Said: "all sessions ended by an administrator"})); err != nil {
			return struct{}{}, err
		}
		return struct{}{}, tellPerson(tx, person, "Your sessions were ended",
			"An administrator ended all your sessions. Sign in again; if you do not know why, ask.")
	})
	return err
}
