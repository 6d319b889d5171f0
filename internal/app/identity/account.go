package identity

import (
	"context"
	"strconv"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// ChangePassword sets one's own password, which needs the old one, and ends
// one's other sessions.
func ChangePassword(ctx context.Context, a *app.App, r app.Request, from Whence, old, password string) error {
	person, err := store.Get[store.Person](a.Read(ctx, r.Actor), r.Actor.PersonID)
	if err != nil {
		return err
	}
	if err := guarded(ctx, a, person.Mail, from, func() error {
		if !matches(person.PasswordHash, old) {
			return errWrong{app.RefuseField("old", "This is not your present password. Type it again.")}
		}
		return nil
	}); err != nil {
		return err
	}
	hash, err := NewPassword(password, person.Name, person.Mail)
	if err != nil {
		return err
	}
	_, err = own(ctx, a, r, "Changed the password", func(tx *app.Tx, p *store.Person) (struct{}, error) {
		p.PasswordHash = hash
		if err := store.EndSessions(tx.DB, p.ID, from.Session, tx.Now); err != nil {
			return struct{}{}, err
		}
		return struct{}{}, tellPerson(tx, p, "Your password was changed",
			"The password of your account was changed, and your other sessions were ended. If it was not you, tell an administrator now.")
	})
	return err
}

// own is an act on one's own account.
func own[T any](ctx context.Context, a *app.App, r app.Request, said string, act func(*app.Tx, *store.Person) (T, error)) (T, error) {
	return app.Do(ctx, a, r, "change the account", said, func(tx *app.Tx) (done T, err error) {
		person, err := store.Get[store.Person](tx.DB, r.Actor.PersonID)
		if err != nil {
			return done, err
		}
		tx.Describe(nil, nil, "%s", said)
		tx.LinkTo("people", person.ID)
		if done, err = act(tx, person); err != nil {
			return done, err
		}
		if err := logIn(tx.DB, tx.Now, Entry{Kind: AccountChanged, PersonID: person.ID, Said: said}); err != nil {
			return done, err
		}
		return done, store.Save(tx.DB, person)
	})
}

// Notice is something that a person is told.
type Notice struct {
	ID           int64   `json:"id"`
	Day          day.Day `json:"day"`
	Sentence     string  `json:"sentence"`
	EngagementID int64   `json:"engagementId" doc:"or 0"`
}

// Notices lists what the actor was told and has not put away, newest first.
func Notices(ctx context.Context, a *app.App, actor app.Actor) ([]Notice, error) {
	rows, err := store.NoticesOf(a.Read(ctx, actor), actor.PersonID)
	notices := make([]Notice, 0, len(rows))
	for _, n := range rows {
		notice := Notice{ID: n.ID, Day: n.BusinessDay, Sentence: n.Sentence}
		if n.EngagementID != nil {
			notice.EngagementID = *n.EngagementID
		}
		notices = append(notices, notice)
	}
	return notices, err
}

// PutAway marks one of the actor's notices as seen.
func PutAway(ctx context.Context, a *app.App, actor app.Actor, id int64) error {
	return a.Store.Write(ctx, store.Everything, func(tx *store.DB) error { return store.PutAway(tx, actor.PersonID, id) })
}

func itoa(n int64) string { return strconv.FormatInt(n, 10) }
