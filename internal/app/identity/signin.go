package identity

import (
	"context"
	"errors"
	"strings"

	"dorvet/internal/app"
	"dorvet/internal/store"
)

// ErrCodeNeeded says that mail address and password are right and that a code
// of the second factor is asked for now.
var ErrCodeNeeded = &app.Refusal{Kind: app.Invalid, Field: "code", Sentence: "Type the code that your device shows."}

// SignIn finds the person of a mail address and password, and of a code if they
// have a second factor. Which of mail and password was wrong is not said.
func SignIn(ctx context.Context, a *app.App, from Whence, mail, password, code string) (personID int64, err error) {
	err = guarded(ctx, a, mail, from, func() error {
		person, err := store.PersonByMail(a.Store.Read(ctx, store.Everything), strings.TrimSpace(mail))
		hash := nobody
		switch {
		case err == nil && person.PasswordHash != "":
			hash = person.PasswordHash
		case err != nil && !errors.Is(err, store.ErrNotFound):
			return err
		}
		if !matches(hash, password) {
			return errWrong{app.Refuse(app.Forbidden, "This mail address and password do not belong together. Check both, then try again.")}
		}
		personID = person.ID
		if person.SecondFactor == "" {
			return nil
		}
		if strings.TrimSpace(code) == "" {
			return ErrCodeNeeded
		}
		return useCode(ctx, a, person, code)
	})
	return personID, err
}

// useCode takes a code once: the step it belongs to is written down. In place of the
// device's a recovery code is taken.
func useCode(ctx context.Context, a *app.App, person *store.Person, code string) error {
	wrong := errWrong{app.RefuseField("code", "This code is wrong, or was used already. Wait for the next one, then type that.")}
	if typed := plainCode(code); len(typed) == recoveryLength {
		return useRecovery(ctx, a, person, typed, wrong)
	}
	return a.Store.Write(ctx, store.Everything, func(tx *store.DB) error {
		fresh, err := store.Get[store.Person](tx, person.ID)
		if err != nil {
			return err
		}
		step, ok := checkCode6(fresh.SecondFactor, code, a.Clock.Now(), fresh.SecondFactorStep)
		if !ok {
			return wrong
		}
		return store.UseSecondFactor(tx, person.ID, step)
	})
}

// Confirm takes the password again, for what asks for it: for some minutes the session
// may do that.
func Confirm(ctx context.Context, a *app.App, actor app.Actor, from Whence, password string) error {
	person, err := store.Get[store.Person](a.Store.Read(ctx, store.Everything), actor.PersonID)
	if err != nil {
		return err
	}
	if err := guarded(ctx, a, person.Mail, from, func() error {
		if !matches(person.PasswordHash, password) {
			return errWrong{app.RefuseField("password", "This is not your password. Type it again.")}
		}
		return nil
	}); err != nil {
		return err
	}
	return a.Store.Write(ctx, store.Everything, func(tx *store.DB) error { return store.NoteProved(tx, from.Session, a.Clock.Now()) })
}
