package identity

import (
	"context"
	"errors"
	"time"

	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/store"
)

const linkLife = 7 * 24 * time.Hour

// Invitation is a link by which a person chooses a password, shown once.
type Invitation struct {
	Secret  string    `json:"secret"`
	Person  string    `json:"person"`
	Expires time.Time `json:"expires"`
}

// HasSecret implements app.Secretive.
func (Invitation) HasSecret() bool { return true }

// Invite makes a link for a person who has no password yet, or has lost it.
// Earlier links of that person stop working.
func Invite(ctx context.Context, a *app.App, r app.Request, personID int64) (Invitation, error) {
	if err := r.Actor.Prove(); err != nil {
		return Invitation{}, err
	}
	text, kept := correspondence.NewSecret()
	return app.Do(ctx, a, r, "invite", personID, func(tx *app.Tx) (Invitation, error) {
		person, err := store.Get[store.Person](tx.DB, personID)
		if err != nil {
			return Invitation{}, app.Missing(err, "person")
		}
		if !person.Active {
			return Invitation{}, app.Refuse(app.Invalid, "%s is inactive: take them back first.", person.Name)
		}
		link := store.AccountLink{Digest: kept, PersonID: personID, MadeAt: tx.Now, ExpiresAt: tx.Now.Add(linkLife)}
		if err := errors.Join(store.DropInvitations(tx.DB, personID), store.Insert(tx.DB, &link)); err != nil {
			return Invitation{}, err
		}
		tx.Describe(nil, nil, "Made a link with which %s can choose a password", person.Name)
		if person.PasswordHash != "" {
			if err := tellPerson(tx, person, "A link to choose a password",
				"An administrator made a link with which a new password can be chosen for your account. If you did not ask "+
					"for it, ask them now."); err != nil {
				return Invitation{}, err
			}
		}
		tx.LinkTo("people", personID)
		return Invitation{Secret: text, Person: person.Name, Expires: link.ExpiresAt}, nil
	})
}

// Invited is whom a link is for.
type Invited struct {
	Name string `json:"name"`
	Mail string `json:"mail"`
	Firm string `json:"firm"`
}

// ReadInvitation says whom a link is for, if it still works.
func ReadInvitation(ctx context.Context, a *app.App, secret string) (Invited, error) {
	person, err := invited(ctx, a, secret)
	if err != nil {
		return Invited{}, err
	}
	firm, err := store.TheFirm(a.Store.Read(ctx, store.Everything))
	return Invited{person.Name, person.Mail, firm.Name}, err
}

func invited(ctx context.Context, a *app.App, secret string) (*store.Person, error) {
	link, err := store.LinkByDigest(a.Store.Read(ctx, store.Everything), correspondence.Digest(secret))
	if err := app.Unless(err, app.Refuse(app.NotFound, "This link does not work any more. Ask an administrator for a new one."),
		func() bool { return link.UsedAt == nil && !a.Clock.Now().After(link.ExpiresAt) }); err != nil {
		return nil, err
	}
	return store.Get[store.Person](a.Store.Read(ctx, store.Everything), link.PersonID)
}

// Accepted is who chose a password, and whether a code is still asked of them.
type Accepted struct {
	PersonID  int64
	NeedsCode bool
}

// Accept sets the password of whoever has the link, once, and ends the person's
// sessions.
func Accept(ctx context.Context, a *app.App, secret, password string) (Accepted, error) {
	invitee, err := invited(ctx, a, secret)
	if err != nil {
		return Accepted{}, err
	}
	hash, err := NewPassword(password, invitee.Name, invitee.Mail)
	if err != nil {
		return Accepted{}, err
	}
	return app.Do(ctx, a, app.Request{}, "accept an invitation", nil, func(tx *app.Tx) (Accepted, error) {
		link, err := store.LinkByDigest(tx.DB, correspondence.Digest(secret))
		if err := app.Unless(err, app.Refuse(app.NotFound, "This link does not work any more. Ask an administrator for a new one."),
			func() bool { return link.UsedAt == nil }); err != nil {
			return Accepted{}, err
		}
		person, err := store.Get[store.Person](tx.DB, link.PersonID)
		if err := app.Unless(err, app.Missing(store.ErrNotFound, "person"), func() bool { return person.Active }); err != nil {
			return Accepted{}, err
		}
		tx.Describe(nil, nil, "%s chose a password", person.Name)
		tx.LinkTo("people", person.ID)
		known := person.PasswordHash != ""
		person.PasswordHash = hash
		if err := logIn(tx.DB, tx.Now, Entry{Kind: AccountChanged, PersonID: person.ID,
			Said: "password chosen through a link"}); err != nil {
			return Accepted{}, err
		}
		if !known { // nobody was let in before, and nobody is shut out
			return Accepted{person.ID, false}, errors.Join(store.UseLink(tx.DB, link.Digest, tx.Now), store.Save(tx.DB, person))
		}
		if err := tellPerson(tx, person, "A password was chosen for your account",
			"A password was chosen for your account through the link that an administrator made, and all sessions were ended. "+
				"If it was not you, "+
				"tell an administrator now."); err != nil {
			return Accepted{}, err
		}
		return Accepted{person.ID, person.SecondFactor != ""},
			errors.Join(store.UseLink(tx.DB, link.Digest, tx.Now), store.EndSessions(tx.DB, person.ID, 0, tx.Now),
				store.Save(tx.DB, person))
	})
}
