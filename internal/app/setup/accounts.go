package setup

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"errors"
	"slices"
	"time"

	"dorvet/internal/app"
	"dorvet/internal/store"

	"gorm.io/gorm"
)

const (
	linkBits = 256
	linkLife = 7 * 24 * time.Hour
	// MinPassword is the least length of a password, in characters.
	MinPassword = 10
)

// Invitation is a link by which a person chooses a password, shown once.
type Invitation struct {
	Secret  string    `json:"secret"`
	Person  string    `json:"person"`
	Expires time.Time `json:"expires"`
}

// Invite makes a link for a person who has no password yet, or has lost it.
// Earlier links of that person stop working.
func Invite(ctx context.Context, a *app.App, r app.Request, personID int64) (Invitation, error) {
	secret := make([]byte, linkBits/8)
	if _, err := rand.Read(secret); err != nil {
		return Invitation{}, err
	}
	text := base64.RawURLEncoding.EncodeToString(secret)
	return app.Do(ctx, a, r, "invite", personID, func(tx *app.Tx) (Invitation, error) {
		person, err := store.Get[store.Person](tx.DB, personID)
		if err != nil {
			return Invitation{}, app.Missing(err, "person")
		}
		if !person.Active {
			return Invitation{}, app.Refuse(app.Invalid, "%s is inactive: take them back first.", person.Name)
		}
		link := store.AccountLink{Digest: digest(text), PersonID: personID, MadeAt: tx.Now, ExpiresAt: tx.Now.Add(linkLife)}
		if err := errors.Join(store.DeleteWhere(tx.DB, "account_links.person_id", personID), store.Insert(tx.DB, &link)); err != nil {
			return Invitation{}, err
		}
		tx.Tell(nil, nil, "Made a link with which %s can choose a password", person.Name)
		tx.Concerns("people", personID)
		return Invitation{Secret: text, Person: person.Name, Expires: link.ExpiresAt}, nil
	})
}

func digest(secret string) string {
	sum := sha256.Sum256([]byte(secret))
	return hex.EncodeToString(sum[:])
}

// Invited finds whom a link is for, if it still works.
func Invited(ctx context.Context, a *app.App, secret string) (*store.Person, error) {
	link, err := store.LinkByDigest(a.Store.Read(ctx), digest(secret))
	if err := app.Unless(err, app.Refuse(app.NotFound, "This link does not work any more. Ask an administrator for a new one."),
		func() bool { return link.UsedAt == nil && !a.Clock.Now().After(link.ExpiresAt) }); err != nil {
		return nil, err
	}
	return store.Get[store.Person](a.Store.Read(ctx), link.PersonID)
}

// Accept sets the password of whoever has the link, once, and ends the person's
// sessions.
func Accept(ctx context.Context, a *app.App, secret, password string) (*store.Person, error) {
	if _, err := Invited(ctx, a, secret); err != nil {
		return nil, err
	}
	hash, err := newPassword(password)
	if err != nil {
		return nil, err
	}
	return app.Do(ctx, a, app.Request{}, "accept an invitation", nil, func(tx *app.Tx) (*store.Person, error) {
		link, err := store.LinkByDigest(tx.DB, digest(secret))
		if err := app.Unless(err, app.Refuse(app.NotFound, "This link does not work any more. Ask an administrator for a new one."),
			func() bool { return link.UsedAt == nil }); err != nil {
			return nil, err
		}
		person, err := store.Get[store.Person](tx.DB, link.PersonID)
		if err := app.Unless(err, app.Missing(store.ErrNotFound, "person"), func() bool { return person.Active }); err != nil {
			return nil, err
		}
		tx.Tell(nil, nil, "%s chose a password", person.Name)
		tx.Concerns("people", person.ID)
		person.PasswordHash = hash
		return person, errors.Join(store.UseLink(tx.DB, link.Digest, tx.Now), store.EndSessions(tx.DB, person.ID, 0, tx.Now), store.Save(tx.DB, person))
	})
}

func newPassword(password string) (string, error) {
	if len([]rune(password)) < MinPassword {
		return "", app.RefuseField("password", "This password is too short: take at least %d characters. Four words in a row are good.", MinPassword)
	}
	return HashPassword(password)
}

// ChangePassword sets one's own password, which needs the old one, and ends
// one's other sessions.
func ChangePassword(ctx context.Context, a *app.App, r app.Request, old, password string, session int64) error {
	person, err := store.Get[store.Person](a.Store.Read(ctx), r.Actor.PersonID)
	if err != nil {
		return err
	}
	if !matches(person.PasswordHash, old) {
		return app.RefuseField("old", "This is not your present password. Type it again.")
	}
	hash, err := newPassword(password)
	if err != nil {
		return err
	}
	return own(ctx, a, r, "Changed the password", func(tx *app.Tx, p *store.Person) error {
		p.PasswordHash = hash
		return store.EndSessions(tx.DB, p.ID, session, tx.Now)
	})
}

// own is an act on one's own account.
func own(ctx context.Context, a *app.App, r app.Request, said string, act func(*app.Tx, *store.Person) error) error {
	_, err := app.Do(ctx, a, r, "change the account", nil, func(tx *app.Tx) (struct{}, error) {
		person, err := store.Get[store.Person](tx.DB, r.Actor.PersonID)
		if err != nil {
			return struct{}{}, err
		}
		tx.Tell(nil, nil, "%s", said)
		tx.Concerns("people", person.ID)
		if err := act(tx, person); err != nil {
			return struct{}{}, err
		}
		return struct{}{}, store.Save(tx.DB, person)
	})
	return err
}

// NewSecret proposes a secret for a second factor; it counts once a code made
// with it was given to [SetSecondFactor].
func NewSecret() (string, error) {
	secret := make([]byte, 20)
	_, err := rand.Read(secret)
	return encodeSecret(secret), err
}

// SetSecondFactor asks for a code at every sign-in from now on; the code proves
// that the device works.
func SetSecondFactor(ctx context.Context, a *app.App, r app.Request, secret, code string) error {
	step, ok := checkCode6(secret, code, a.Clock.Now(), 0)
	if !ok {
		return app.RefuseField("code", "This code does not belong to the secret. Check the clock of your device, then type the code that it shows now.")
	}
	return own(ctx, a, r, "Added a second factor", func(_ *app.Tx, p *store.Person) error {
		p.SecondFactor, p.SecondFactorStep = secret, step
		return nil
	})
}

// RemoveSecondFactor takes the second factor away: one's own with the password,
// anybody's by an administrator, for a device that was lost.
func RemoveSecondFactor(ctx context.Context, a *app.App, r app.Request, personID int64, password string) error {
	person, err := store.Get[store.Person](a.Store.Read(ctx), personID)
	if err != nil {
		return app.Missing(err, "person")
	}
	if personID == r.Actor.PersonID && !matches(person.PasswordHash, password) {
		return app.RefuseField("password", "This is not your password. Type it again.")
	}
	_, err = app.Do(ctx, a, r, "remove the second factor", personID, func(tx *app.Tx) (struct{}, error) {
		person, err := store.Get[store.Person](tx.DB, personID)
		if err != nil {
			return struct{}{}, err
		}
		person.SecondFactor, person.SecondFactorStep = "", 0
		tx.Tell(nil, nil, "Removed the second factor of %s", person.Name)
		tx.Concerns("people", personID)
		return struct{}{}, store.Save(tx.DB, person)
	})
	return err
}

// Actor is who a signed-in person is now, with those for whom they stand in
// today; people who left, and ended sessions, are nobody.
func Actor(ctx context.Context, a *app.App, personID, session int64) (app.Actor, *store.Person, error) {
	tx := a.Store.Read(ctx)
	person, err := store.Get[store.Person](tx, personID)
	if err != nil {
		return app.Actor{}, nil, err
	}
	ended, err := store.SessionEnded(tx, session)
	if err != nil {
		return app.Actor{}, nil, err
	}
	if ended || !person.Active {
		return app.Actor{}, nil, store.ErrNotFound
	}
	away, err := store.StandsInFor(tx, personID, a.Clock.Today())
	if err != nil {
		return app.Actor{}, nil, err
	}
	entities, err := store.EntitiesOf(tx, personID)
	actor := app.Actor{Entities: entities, PersonID: person.ID, Role: app.Role(person.Role), SeesRates: person.SeesRates, SeesTimes: person.SeesTimes, StandsInFor: away}
	if len(away) > 0 && actor.Role == app.Staff {
		actor.Role = app.Lead
	}
	return actor, person, err
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
	rows, err := store.SessionsOf(a.Store.Read(ctx), actor.PersonID, a.Clock.Now())
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

// PutAway marks one of the actor's notices as seen.
func PutAway(ctx context.Context, a *app.App, actor app.Actor, id int64) error {
	return a.Store.Write(ctx, func(tx *gorm.DB) error { return store.PutAway(tx, actor.PersonID, id) })
}
