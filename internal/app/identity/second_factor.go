package identity

import (
	"context"
	"crypto/rand"

	"dorvet/internal/app"
	"dorvet/internal/store"
)

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
	person, err := store.Get[store.Person](a.Read(ctx, r.Actor), personID)
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

// SecondFactor is whether somebody has a second factor, and a secret to begin one with.
type SecondFactor struct {
	Set    bool   `json:"set"`
	Secret string `json:"secret" doc:"base32, for an app on a phone; nothing if one is set"`
	URI    string `json:"uri" doc:"the same as an otpauth address"`
}

// SecondFactorOf is the actor's second factor, or a secret for one.
func SecondFactorOf(ctx context.Context, a *app.App, actor app.Actor) (*SecondFactor, error) {
	tx := a.Read(ctx, actor)
	person, err := store.Get[store.Person](tx, actor.PersonID)
	if err != nil || person.SecondFactor != "" {
		return &SecondFactor{Set: err == nil}, err
	}
	firm, err := store.TheFirm(tx)
	if err != nil {
		return nil, err
	}
	secret, err := NewSecret()
	return &SecondFactor{Secret: secret, URI: SecretURI(firm.Name, person.Mail, secret)}, err
}
