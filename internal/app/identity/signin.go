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
func SignIn(ctx context.Context, a *app.App, mail, password, code string) (personID int64, err error) {
	person, err := store.PersonByMail(a.Store.Read(ctx, store.Everything), strings.TrimSpace(mail))
	hash := nobody
	switch {
	case err == nil && person.PasswordHash != "":
		hash = person.PasswordHash
	case err != nil && !errors.Is(err, store.ErrNotFound):
		return 0, err
	}
	if !matches(hash, password) {
		return 0, app.Refuse(app.Forbidden, "This mail address and password do not belong together. Check both, then try again.")
	}
	if person.SecondFactor == "" {
		return person.ID, nil
	}
	if strings.TrimSpace(code) == "" {
		return 0, ErrCodeNeeded
	}
	return person.ID, useCode(ctx, a, person, code)
}

// useCode takes a code once: the step it belongs to is written down.
func useCode(ctx context.Context, a *app.App, person *store.Person, code string) error {
	return a.Store.Write(ctx, store.Everything, func(tx *store.DB) error {
		fresh, err := store.Get[store.Person](tx, person.ID)
		if err != nil {
			return err
		}
		step, ok := checkCode6(fresh.SecondFactor, code, a.Clock.Now(), fresh.SecondFactorStep)
		if !ok {
			return app.RefuseField("code", "This code is wrong, or was used already. Wait for the next one, then type that.")
		}
		return store.UseSecondFactor(tx, person.ID, step)
	})
}
